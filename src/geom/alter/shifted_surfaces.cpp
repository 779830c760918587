#include "geom/alter/shifted_surfaces.h"

#include "geom/kernel/face_foot.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRepOffset.hxx>
#include <BRep_Tool.hxx>
#include <TopoDS.hxx>

namespace kervo::geom::shifting {

void refuse(Finding finding, const gp_Pnt& place) {
    add_place(finding, place);
    throw Refusal{std::move(finding)};
}
Finding apart() {
    return error_finding("shift.apart", "Faces that meet here would not meet any more.",
                         "Shift it less far, or pick the neighbouring faces too.");
}
Finding runs_past() {
    return error_finding("shift.runs_past", "The face would run into others, or past its neighbours.",
                         "Shift it less far, or pick the faces in its way too.");
}

namespace {

Handle(Geom_Surface) surface_of(const TopoDS_Face& face) {
    return BRep_Tool::Surface(face);
}

// The normal out of the material at the place of the face that is nearest.
gp_Vec normal_at(const TopoDS_Face& face, const gp_Pnt& place) {
    const auto foot = foot_on(face, place);
    if (!foot || !foot->normal) {
        refuse(apart(), place);
    }
    return *foot->normal;
}

} // namespace

gp_Pnt follow(const gp_Pnt& place, const std::vector<Way>& wanted) {
    gp_Vec move;
    for (int round = 0; round < 200; ++round) { // Kaczmarz: onto one plane after the other
        for (const auto& [normal, way] : wanted) {
            move += normal * (way - move.Dot(normal));
        }
    }
    return place.Translated(move);
}

ShiftedSurfaces::ShiftedSurfaces(const TopoDS_Shape& solid, const std::vector<TopoDS_Face>& faces, const Shift& shift)
    : shift_(shift) {
    for (const TopoDS_Face& face : faces) {
        for (const TopoDS_Shape& own : faces_of(solid)) { // as it looks in the solid
            if (own.IsSame(face)) {
                surfaces_.Bind(own, shifted(TopoDS::Face(own)));
            }
        }
    }
}

Handle(Geom_Surface) ShiftedSurfaces::now(const TopoDS_Face& face) const {
    const auto* surface = surfaces_.Seek(face);
    return surface != nullptr ? *surface : surface_of(face);
}

Handle(Geom_Surface) ShiftedSurfaces::shifted(const TopoDS_Face& face) const {
    const Finding impossible = error_finding("shift.surface", "This face cannot be shifted so.",
                                             "Flat, round and conical faces can, until nothing is left of them.");
    const BRepAdaptor_Surface kind(face);
    if (kind.GetType() == GeomAbs_BSplineSurface || kind.GetType() == GeomAbs_BezierSurface ||
        kind.GetType() == GeomAbs_OffsetSurface || kind.GetType() == GeomAbs_OtherSurface) {
        refuse(impossible, center_of(face));
    }
    if (shift_.motion) {
        return Handle(Geom_Surface)::DownCast(surface_of(face)->Transformed(*shift_.motion));
    }
    const double way = face.Orientation() == TopAbs_REVERSED ? -shift_.outwards : shift_.outwards;
    BRepOffset_Status status = BRepOffset_Good;
    const Handle(Geom_Surface) offset = BRepOffset::Surface(surface_of(face), way, status);
    if (offset.IsNull() || status != BRepOffset_Good) {
        refuse(impossible, center_of(face));
    }
    return offset;
}

Way ShiftedSurfaces::wanted(const TopoDS_Face& face, const gp_Pnt& place) const {
    const gp_Vec normal = normal_at(face, place);
    if (!moves(face)) {
        return {normal, 0};
    }
    return {normal, shift_.motion ? gp_Vec(place, place.Transformed(*shift_.motion)).Dot(normal) : shift_.outwards};
}

} // namespace kervo::geom::shifting
