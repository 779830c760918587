#include "scene/preview.h"

#include "geom/kernel/is_curves.h"
#include "geom/kernel/space.h"
#include "geom/measure/measure.h"
#include "geom/outline/profile.h"
#include "geom/view/section.h"
#include "geom/view/tessellate.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::scene {

namespace {

double diagonal(const std::array<double, 6>& box) {
    return std::hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
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
        Polyline3 line;
        for (const gp_Pnt& p : geom::polyline_of(edge, deflection)) {
            line.push_back(geom::plain(p));
        }
        if (line.size() > 1) {
            lines.push_back(std::move(line));
        }
    }
    return lines;
}

namespace {

std::vector<Segment3> hatch_of(const TopoDS_Shape& face, const gp_Ax3& frame, double spacing, double angle,
                               double deflection) {
    std::vector<Segment3> hatch;
    for (const auto& [from, to] : geom::hatch_lines(face, frame, spacing, angle, deflection)) {
        hatch.push_back({geom::plain(from), geom::plain(to)});
    }
    return hatch;
}

} // namespace

PieceLines lines_of_piece(const TopoDS_Shape& solid, double spacing) {
    PieceLines lines;
    lines.box = geom::plain(geom::bounds_of(solid));
    const double deflection = std::max(size_of(solid) * 2e-3, 1e-3);
    lines.edges = lines_of(solid, deflection);
    for (const TopoDS_Shape& face : geom::faces_of(solid)) {
        if (const auto plane = geom::plane_of(face)) {
            const auto hatch = hatch_of(face, geom::frame_on_plane(*plane), spacing, std::numbers::pi / 4, deflection);
            lines.hatch.insert(lines.hatch.end(), hatch.begin(), hatch.end());
        }
    }
    lines.curves = geom::is_curves(solid);
    if (lines.curves) {
        auto mesh = std::make_shared<Mesh>();
        mesh->edges = lines.edges;
        mesh->box = lines.box;
        lines.tree = std::make_shared<const PickTree>(std::move(mesh));
        return lines;
    }
    geom::tessellate(solid, {spacing * 0.03, 0.3}); // as bodies are, which share its faces
    lines.tree = std::make_shared<const PickTree>(mesh_of(solid, deflection, nullptr));
    return lines;
}

} // namespace kervo::scene
