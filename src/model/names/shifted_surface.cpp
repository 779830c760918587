#include "model/names/shifted_surface.h"

#include "geom/kernel/by_shape.h"
#include "geom/surface/thicken.h"
#include "model/names/altering.h"

#include <algorithm>

namespace kervo::model {

namespace {

// The side of it that lies away from the surface, whose names it keeps.
BodyPtr far_side(const Body& surface, const geom::Thickened& thick, bool behind) {
    std::vector<TopoDS_Shape> faces;
    FaceNames names;
    geom::ByShape<bool> on_side; // edges
    for (const auto& [face, source, side] : thick.made) {
        const bool wanted = side == (behind ? geom::Thickened::Side::back : geom::Thickened::Side::front);
        const FaceName* name = wanted && !source.IsNull() ? surface.names.Seek(source) : nullptr;
        if (name != nullptr) {
            faces.push_back(behind ? face.Reversed() : face); // it looks as the surface does
            names.Bind(face, *name);
            for (const TopoDS_Shape& edge : geom::edges_of(face)) {
                on_side.Bind(edge, true);
            }
        }
    }
    for (const auto& [face, source, side] : thick.made) { // a rim keeps the border that it stands on
        const FaceName* name =
            source.IsNull() || source.ShapeType() != TopAbs_EDGE ? nullptr : surface.names.Seek(source);
        for (const TopoDS_Shape& edge : name != nullptr ? geom::edges_of(face) : std::vector<TopoDS_Shape>{}) {
            if (on_side.IsBound(edge)) {
                names.Bind(edge, *name);
            }
        }
    }
    return body_of_faces(faces, names);
}

} // namespace

Result<BodyPtr> shifted_surface(const Body& surface, double by, Progress& progress) {
    const auto thick = geom::thickened(surface.shape, std::max(by, 0.0), std::max(-by, 0.0), progress);
    if (!thick) {
        return thick.finding();
    }
    return far_side(surface, *thick, by < 0);
}

} // namespace kervo::model
