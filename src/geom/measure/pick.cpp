#include "geom/measure/pick.h"

#include "geom/kernel/by_shape.h"
#include "geom/measure/measure.h"

#include <BOPTools_AlgoTools3D.hxx>
#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRep_Tool.hxx>
#include <IntCurvesFace_ShapeIntersector.hxx>
#include <IntTools_Context.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <limits>
#include <utility>

namespace kervo::geom {

Gap gap_between(const TopoDS_Shape& first, const TopoDS_Shape& second) {
    const BRepExtrema_DistShapeShape distance(first, second);
    if (!distance.IsDone() || distance.NbSolution() == 0) {
        return {std::numeric_limits<double>::infinity(), {}, {}};
    }
    return {distance.Value(), distance.PointOnShape1(1), distance.PointOnShape2(1)};
}

double distance_to(const TopoDS_Shape& shape, const gp_Pnt& point) {
    BRepExtrema_DistShapeShape distance(shape, BRepBuilderAPI_MakeVertex(point).Vertex());
    return distance.IsDone() ? distance.Value() : std::numeric_limits<double>::infinity();
}

NearElement nearest_element(const TopoDS_Shape& shape, TopAbs_ShapeEnum kind, const gp_Pnt& point) {
    const auto elements = kind == TopAbs_FACE   ? faces_of(shape)
                          : kind == TopAbs_EDGE ? edges_of(shape)
                                                : vertices_of(shape);
    NearElement best;
    best.distance = std::numeric_limits<double>::infinity();
    double second = best.distance; // of what is not the best
    for (const TopoDS_Shape& element : elements) {
        const double distance = distance_to(element, point);
        if (distance < best.distance) {
            second = std::exchange(best.distance, distance);
            best.element = element;
        } else {
            second = std::min(second, distance);
        }
    }
    best.ambiguous = second < best.distance + 1e-6;
    return best;
}

std::vector<RayHit> hits_along(const TopoDS_Shape& body, const gp_Lin& line) {
    IntCurvesFace_ShapeIntersector intersector;
    intersector.Load(body, coincidence);
    intersector.Perform(line, -1e7, 1e7);
    std::vector<RayHit> hits;
    for (int i = 1; i <= intersector.NbPnt(); ++i) {
        hits.push_back(
            {intersector.WParameter(i), intersector.Face(i), intersector.Transition(i) == IntCurveSurface_Out});
    }
    std::sort(hits.begin(), hits.end(), [](const RayHit& a, const RayHit& b) { return a.at < b.at; });
    return hits;
}

std::vector<std::vector<TopoDS_Shape>> faces_beside(const TopoDS_Shape& body, const std::vector<TopoDS_Shape>& faces) {
    ByShape<std::vector<size_t>> at_edge;
    for (size_t i = 0; i < faces.size(); ++i) {
        for (TopExp_Explorer it(faces[i], TopAbs_EDGE); it.More(); it.Next()) {
            entry(at_edge, it.Current()).push_back(i);
        }
    }
    std::vector<std::vector<TopoDS_Shape>> beside(faces.size());
    for (TopExp_Explorer face(body, TopAbs_FACE); face.More(); face.Next()) {
        for (TopoDS_Iterator wire(face.Current(), Standard_False); wire.More(); wire.Next()) { // faster than to explore
            for (TopoDS_Iterator edge(wire.Value(), Standard_False); edge.More(); edge.Next()) {
                const auto* members = at_edge.Seek(edge.Value());
                for (size_t k = 0; members != nullptr && k < members->size(); ++k) {
                    const size_t i = (*members)[k];
                    if (!faces[i].IsSame(face.Current()) &&
                        (beside[i].empty() || !beside[i].back().IsSame(face.Current()))) {
                        beside[i].push_back(face.Current());
                    }
                }
            }
        }
    }
    return beside;
}

Neighbours::Neighbours(const TopoDS_Shape& shape) : faces_(faces_of(shape)) {
    TopTools_IndexedMapOfShape index;
    for (const TopoDS_Shape& face : faces_) {
        index.Add(face);
    }
    for (const TopAbs_ShapeEnum kind : {TopAbs_EDGE, TopAbs_VERTEX}) {
        TopTools_IndexedDataMapOfShapeListOfShape faces_at_element;
        TopExp::MapShapesAndAncestors(shape, kind, TopAbs_FACE, faces_at_element);
        for (int i = 1; i <= faces_at_element.Extent(); ++i) {
            std::set<int> around;
            for (const TopoDS_Shape& face : faces_at_element(i)) {
                around.insert(index.FindIndex(face) - 1);
            }
            const TopoDS_Shape& element = faces_at_element.FindKey(i);
            at_element_[element.TShape().get()].emplace_back(element, std::move(around));
        }
    }
}

std::set<int> Neighbours::faces_at(const TopoDS_Shape& element) const {
    const auto bucket = at_element_.find(element.TShape().get());
    if (bucket != at_element_.end()) {
        for (const auto& [known, around] : bucket->second) {
            if (known.IsSame(element)) {
                return around;
            }
        }
    }
    return {};
}

std::vector<gp_Pnt> places_on(const TopoDS_Face& face) {
    std::vector<gp_Pnt> places;
    gp_Pnt inside;
    gp_Pnt2d in_face;
    const Handle(IntTools_Context) context = new IntTools_Context;
    if (BOPTools_AlgoTools3D::PointInFace(face, inside, in_face, context) == 0) {
        places.push_back(inside);
    }
    for (const TopoDS_Shape& edge : edges_of(face)) {
        if (!BRep_Tool::Degenerated(TopoDS::Edge(edge))) {
            const BRepAdaptor_Curve curve(TopoDS::Edge(edge));
            places.push_back(curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2));
        }
    }
    return places;
}

} // namespace kervo::geom
