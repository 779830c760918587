#include "geom/measure/alike.h"

#include "geom/kernel/hanging_together.h"
#include "geom/measure/measure.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Vertex.hxx>
#include <gp_Circ.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Sphere.hxx>
#include <gp_Torus.hxx>

#include <algorithm>
#include <cmath>
#include <functional>

namespace kervo::geom {

namespace {

constexpr double same_radius = 1e-6; // mm
constexpr double same_way = 1e-4;    // rad

std::string kind_of(const TopoDS_Shape& element) {
    return element.ShapeType() == TopAbs_FACE ? surface_kind(element) : curve_kind(element);
}

// What hangs together with the element over elements of a kind that count.
std::vector<TopoDS_Shape> reached(const std::vector<TopoDS_Shape>& all, const TopoDS_Shape& element,
                                  TopAbs_ShapeEnum over, const std::function<bool(const TopoDS_Shape&)>& counts) {
    for (auto& together : hanging_together(all, over, counts)) {
        if (std::any_of(together.begin(), together.end(),
                        [&](const TopoDS_Shape& each) { return each.IsSame(element); })) {
            return std::move(together);
        }
    }
    return {};
}

// Where an edge goes, out of its vertex.
std::optional<gp_Dir> way_out(const TopoDS_Edge& edge, const TopoDS_Vertex& vertex) {
    const BRepAdaptor_Curve curve(edge);
    const bool first = TopExp::FirstVertex(edge).IsSame(vertex);
    gp_Pnt place;
    gp_Vec way;
    curve.D1(first ? curve.FirstParameter() : curve.LastParameter(), place, way);
    return way.Magnitude() < 1e-12 ? std::nullopt : std::optional(gp_Dir(first ? way : way.Reversed()));
}

std::vector<TopoDS_Shape> edge_chain(const TopoDS_Shape& body, const TopoDS_Shape& start) {
    TopTools_IndexedDataMapOfShapeListOfShape at_vertex;
    TopExp::MapShapesAndUniqueAncestors(body, TopAbs_VERTEX, TopAbs_EDGE, at_vertex);
    TopTools_MapOfShape left;
    for (const TopoDS_Shape& edge : visible_edges_of(body)) {
        left.Add(edge);
    }
    left.Remove(start);
    std::vector<TopoDS_Shape> chain{start};
    for (size_t k = 0; k < chain.size(); ++k) {
        const TopoDS_Edge edge = TopoDS::Edge(chain[k]);
        for (const TopoDS_Vertex& vertex : {TopExp::FirstVertex(edge), TopExp::LastVertex(edge)}) {
            const auto way = vertex.IsNull() ? std::nullopt : way_out(edge, vertex);
            if (!way || !at_vertex.Contains(vertex)) {
                continue;
            }
            for (const TopoDS_Shape& other : at_vertex.FindFromKey(vertex)) {
                const auto on = left.Contains(other) ? way_out(TopoDS::Edge(other), vertex) : std::nullopt;
                if (on && on->IsOpposite(*way, same_way)) {
                    left.Remove(other);
                    chain.push_back(other);
                }
            }
        }
    }
    return chain;
}

} // namespace

std::optional<std::pair<double, double>> radii_of(const TopoDS_Shape& element) {
    if (element.ShapeType() == TopAbs_EDGE) {
        const BRepAdaptor_Curve curve(TopoDS::Edge(element));
        return curve.GetType() == GeomAbs_Circle ? std::optional(std::pair(curve.Circle().Radius(), 0.0))
                                                 : std::nullopt;
    }
    if (element.ShapeType() != TopAbs_FACE) {
        return std::nullopt;
    }
    const BRepAdaptor_Surface surface(TopoDS::Face(element), Standard_False);
    switch (surface.GetType()) {
    case GeomAbs_Cylinder:
        return std::pair(surface.Cylinder().Radius(), 0.0);
    case GeomAbs_Sphere:
        return std::pair(surface.Sphere().Radius(), 0.0);
    case GeomAbs_Torus:
        return std::pair(surface.Torus().MajorRadius(), surface.Torus().MinorRadius());
    default:
        return std::nullopt;
    }
}

std::vector<TopoDS_Shape> alike(const TopoDS_Shape& body, const TopoDS_Shape& element, Likeness how) {
    const bool face = element.ShapeType() == TopAbs_FACE;
    if (!face && element.ShapeType() != TopAbs_EDGE) {
        return {};
    }
    auto all = face ? faces_of(body) : visible_edges_of(body);
    if (how == Likeness::connected) {
        return reached(all, element, face ? TopAbs_EDGE : TopAbs_VERTEX, nullptr);
    }
    if (how == Likeness::chain && !face) {
        return edge_chain(body, element);
    }
    if (how == Likeness::chain) {
        TopTools_IndexedDataMapOfShapeListOfShape beside;
        TopExp::MapShapesAndUniqueAncestors(body, TopAbs_EDGE, TopAbs_FACE, beside);
        return reached(all, element, TopAbs_EDGE, [&](const TopoDS_Shape& edge) {
            const auto& sides = beside.FindFromKey(edge);
            return sides.Extent() == 2 && is_smooth(edge, sides.First(), sides.Last());
        });
    }
    const auto radii = radii_of(element);
    const std::string kind = kind_of(element);
    const auto unlike = [&](const TopoDS_Shape& other) {
        if (kind_of(other) != kind) {
            return true;
        }
        const auto own = how == Likeness::radius ? radii_of(other) : radii;
        return how == Likeness::radius && (!radii || !own || std::fabs(own->first - radii->first) > same_radius ||
                                           std::fabs(own->second - radii->second) > same_radius);
    };
    std::erase_if(all, unlike);
    return all;
}

} // namespace kervo::geom
