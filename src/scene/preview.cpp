#include "scene/preview.h"

#include "geom/measure/measure.h"
#include "geom/outline/profile.h"
#include "geom/view/tessellate.h"

#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Poly_PolygonOnTriangulation.hxx>
#include <Poly_Triangulation.hxx>
#include <StdPrs_ShadedShape.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <tuple>

namespace kervo::scene {

namespace {

double diagonal(const std::array<double, 6>& box) {
    return std::hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
}

bool nothing_is_open(const TopoDS_Shape& shape) {
    const BRep_Builder builder;
    TopoDS_Compound closed;
    TopoDS_Compound open;
    builder.MakeCompound(closed);
    builder.MakeCompound(open);
    StdPrs_ShadedShape::ExploreSolids(shape, builder, closed, open, Standard_True);
    return open.NbChildren() == 0;
}

double size_of(const TopoDS_Shape& shape) {
    return diagonal(geom::box_of(shape));
}

} // namespace

double size_of(const model::Body& body) {
    return diagonal(model::box_of(body));
}

std::vector<Polyline3> lines_of(const TopoDS_Shape& shape, double deflection) {
    std::vector<Polyline3> lines;
    for (const TopoDS_Shape& edge : geom::visible_edges_of(shape)) {
        auto line = geom::polyline_of(edge, deflection);
        if (line.size() > 1) {
            lines.push_back(std::move(line));
        }
    }
    return lines;
}

PieceLines lines_of_piece(const TopoDS_Shape& solid, double spacing) {
    PieceLines lines;
    lines.box = geom::bounds_of(solid);
    const double deflection = std::max(size_of(solid) * 2e-3, 1e-3);
    lines.edges = lines_of(solid, deflection);
    for (const TopoDS_Shape& face : geom::faces_of(solid)) {
        if (const auto plane = geom::plane_of(face)) {
            const auto hatch =
                geom::hatch_lines(face, geom::frame_on_plane(*plane), spacing, std::numbers::pi / 4, deflection);
            lines.hatch.insert(lines.hatch.end(), hatch.begin(), hatch.end());
        }
    }
    return lines;
}

std::vector<Cap> caps_of(const model::Cutaway& cutaway,
                         const std::vector<std::pair<model::BodyId, model::BodyPtr>>& bodies) {
    std::vector<Cap> caps;
    double size = 0;
    for (const auto& [id, body] : bodies) {
        size = std::max(size, size_of(*body));
    }
    const gp_Pln plane(gp_Pnt(cutaway.origin[0], cutaway.origin[1], cutaway.origin[2]),
                       gp_Dir(cutaway.normal[0], cutaway.normal[1], cutaway.normal[2]));
    const gp_Ax3 frame = geom::frame_on_plane(plane);
    int turn = 0;
    for (const auto& [id, body] : bodies) {
        ++turn;
        if (std::find(cutaway.left_whole.begin(), cutaway.left_whole.end(), id) != cutaway.left_whole.end()) {
            continue;
        }
        // A cap that cannot be made leaves the cutaway open; it does not stop the picture.
        for (const TopoDS_Shape& face : geom::section_faces(body->shape, plane).value_or(std::vector<TopoDS_Shape>{})) {
            Cap cap{id, face, {}, {}};
            const double angle = turn % 2 == 0 ? std::numbers::pi / 4 : 3 * std::numbers::pi / 4;
            const double spacing = size / (turn % 4 < 2 ? 75 : 55);
            cap.hatch = geom::hatch_lines(face, frame, spacing, angle, size * 1e-3);
            for (const Polyline3& line : lines_of(face, size * 1e-3)) {
                for (size_t i = 1; i < line.size(); ++i) {
                    cap.outline.push_back({line[i - 1], line[i]});
                }
            }
            geom::tessellate(face, {size * 1e-3, 0.3});
            caps.push_back(std::move(cap));
        }
    }
    return caps;
}

namespace {

using Segments = Handle(Graphic3d_ArrayOfSegments);

Segments segments_of(const std::vector<gp_Pnt>& ends) {
    if (ends.empty()) {
        return {};
    }
    Segments array = new Graphic3d_ArrayOfSegments(static_cast<int>(ends.size()));
    for (const gp_Pnt& end : ends) {
        array->AddVertex(end);
    }
    return array;
}

// The sharp edges and the smooth ones, by the nodes that the triangles beside have on them; no seams.
std::pair<Segments, Segments> edges_to_draw(const TopoDS_Shape& shape) {
    TopTools_IndexedDataMapOfShapeListOfShape faces_at_edge;
    TopExp::MapShapesAndAncestors(shape, TopAbs_EDGE, TopAbs_FACE, faces_at_edge);
    std::vector<gp_Pnt> sharp;
    std::vector<gp_Pnt> smooth;
    for (int i = 1; i <= faces_at_edge.Extent(); ++i) {
        const auto& faces = faces_at_edge(i);
        const TopoDS_Edge edge = TopoDS::Edge(faces_at_edge.FindKey(i));
        const bool seam = faces.Extent() == 2 && faces.First().IsSame(faces.Last());
        if (faces.IsEmpty() || seam || BRep_Tool::Degenerated(edge)) {
            continue;
        }
        TopLoc_Location place;
        const Handle(Poly_Triangulation) triangles = BRep_Tool::Triangulation(TopoDS::Face(faces.First()), place);
        const Handle(Poly_PolygonOnTriangulation) line =
            triangles.IsNull() ? Handle(Poly_PolygonOnTriangulation)()
                               : BRep_Tool::PolygonOnTriangulation(edge, triangles, place);
        if (line.IsNull()) {
            continue;
        }
        const bool runs_on = faces.Extent() == 2 && geom::is_smooth(edge, faces.First(), faces.Last());
        std::vector<gp_Pnt>& ends = runs_on ? smooth : sharp;
        for (int k = 1; k < line->NbNodes(); ++k) {
            ends.push_back(triangles->Node(line->Node(k)).Transformed(place));
            ends.push_back(triangles->Node(line->Node(k + 1)).Transformed(place));
        }
    }
    return {segments_of(sharp), segments_of(smooth)};
}

} // namespace

DrawnBodies prepare_bodies(const std::vector<std::pair<model::BodyId, model::BodyPtr>>& bodies,
                           const DrawnBodies& known) {
    DrawnBodies all;
    for (const auto& [id, body] : bodies) {
        if (all.contains(body)) {
            continue;
        }
        if (const auto same = known.find(body); same != known.end()) {
            all.insert(*same);
            continue;
        }
        geom::tessellate(body->shape, {std::max(size_of(*body) * 5e-4, 1e-4), 0.2});
        auto drawn = std::make_shared<Drawn>();
        std::map<model::BodyId, std::vector<TopoDS_Shape>> by_owner;
        for (const TopoDS_Shape& face : geom::faces_of(body->shape)) {
            const model::FaceName* name = body->names.Seek(face);
            by_owner[name != nullptr ? name->owner : model::BodyId()].push_back(face);
        }
        for (const auto& [owner, faces] : by_owner) {
            const auto triangles =
                StdPrs_ShadedShape::FillTriangles(by_owner.size() == 1 ? body->shape : geom::gather(faces));
            if (owner.empty()) {
                drawn->triangles = triangles;
            } else {
                drawn->foreign.emplace_back(owner, triangles);
            }
        }
        std::tie(drawn->edges, drawn->smooth) = edges_to_draw(body->shape);
        drawn->closed = nothing_is_open(body->shape);
        all[body] = std::move(drawn);
    }
    return all;
}

} // namespace kervo::scene
