// The surfaces that faces of a body lie on once some of them have shifted.
#pragma once

#include "geom/alter/shift.h"
#include "geom/kernel/by_shape.h"

#include <Geom_Surface.hxx>

namespace kervo::geom::shifting {

/// A reason to give up, and where; thrown within shifting alone, which hands it out as a finding.
struct Refusal {
    Finding finding;
};
[[noreturn]] void refuse(Finding finding, const gp_Pnt& place);
Finding apart();     ///< shift.apart
Finding runs_past(); ///< shift.runs_past

/// How far a surface shifts at a place, mm along its normal there.
using Way = std::pair<gp_Vec, double>;
/// Where a place goes that these ways take along, and nothing else moves.
gp_Pnt follow(const gp_Pnt& place, const std::vector<Way>& wanted);

class ShiftedSurfaces {
public:
    /// Throws a refusal where one of the faces cannot be shifted.
    ShiftedSurfaces(const TopoDS_Shape& solid, const std::vector<TopoDS_Face>& faces, const Shift& shift);

    [[nodiscard]] bool moves(const TopoDS_Shape& face) const { return surfaces_.IsBound(face); }
    [[nodiscard]] Handle(Geom_Surface) now(const TopoDS_Face& face) const;
    /// How far the face's surface shifts there. Throws a refusal where it has no normal.
    [[nodiscard]] Way wanted(const TopoDS_Face& face, const gp_Pnt& place) const;
    [[nodiscard]] const std::optional<gp_Trsf>& motion() const { return shift_.motion; }

private:
    [[nodiscard]] Handle(Geom_Surface) shifted(const TopoDS_Face& face) const;

    const Shift& shift_;
    ByShape<Handle(Geom_Surface)> surfaces_; ///< of faces that shift
};

} // namespace kervo::geom::shifting
