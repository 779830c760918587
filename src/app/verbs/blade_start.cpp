#include "app/verbs/blade_start.h"

namespace kervo::app {

void take_plane(model::BladePlane& plane, const model::References& selected, const ShownModel& shown) {
    if (plane.plane.value == "numbers") {
        return;
    }
    model::References flat;
    model::References round;
    model::References edges;
    model::References vertices;
    for (const model::Reference& reference : selected) {
        if (reference.kind == model::ElementKind::body || !shown.find(reference)) {
            continue;
        }
        (reference.kind == model::ElementKind::vertex ? vertices
         : reference.kind == model::ElementKind::edge ? edges
         : shown.plane_of(reference)                  ? flat
                                                      : round)
            .push_back(reference);
    }
    if (vertices.size() == 3) {
        plane.plane.value = "points";
        plane.points = vertices;
    } else if (flat.size() == 2) {
        plane.plane.value = "midway";
        plane.first = {flat[0]};
        plane.second = {flat[1]};
    } else if (flat.size() == 1 && edges.size() == 1) {
        plane.plane.value = "edge_angle";
        plane.edge = edges;
        plane.from_face = flat;
    } else if (flat.size() == 1 && vertices.size() == 1) {
        plane.plane.value = "parallel";
        plane.parallel.value = "face";
        plane.parallel_face = flat;
        plane.through = vertices;
    } else if (flat.size() == 1) {
        plane.plane.value = "face";
        plane.face = flat;
    } else if (round.size() == 1) {
        plane.plane.value = "tangent";
        plane.round_face = round;
        if (vertices.size() == 1) {
            plane.touches.value = "point";
            plane.touching = vertices;
        }
    } else if (edges.size() == 1) {
        plane.plane.value = "curve";
        plane.curve = edges;
    }
}

} // namespace kervo::app
