// Blades: planes that cut. Where they lie, and what they are to a workpiece.
#pragma once

#include "base/finding.h"
#include "geom/kernel/shape.h"

#include <gp_Pln.hxx>

#include <array>
#include <optional>

namespace kervo::geom {

struct Blade {
    gp_Ax3 frame;                     ///< its plane; z looks to its front
    std::vector<TopoDS_Shape> window; ///< flat faces in the plane that bound it; none: it is endless
    double front = 0, back = 0;       ///< the kerf reaches from -back to front along z (mm)

    [[nodiscard]] bool endless() const { return window.empty(); }
    [[nodiscard]] double kerf() const { return front + back; }
};

/// All that lies in front of the plane at `height` over the frame, within and around the box {xmin .. zmax}. Roles:
/// blade (the side on the plane), far.
ShapeWithRoles in_front_of(const gp_Ax3& frame, double height, const std::array<double, 6>& box);
/// The kerf of an endless blade, within and around the box. Roles: front, back, far.
ShapeWithRoles endless_kerf(const Blade& blade, const std::array<double, 6>& box);
/// The kerf of a bounded blade, which has one. Roles: front, back, rim.
ShapeWithRoles bounded_kerf(const Blade& blade);
/// The faces of a bounded blade without a kerf. Role: blade.
ShapeWithRoles bounded_sheet(const Blade& blade);

/// Where a bounded blade ends inside the material of `workpiece`.
struct Crossing {
    gp_Pnt place;                 ///< on the border of the window, in the material
    std::array<double, 4> needed; ///< what would do: {xmin, ymin, xmax, ymax} in the blade's frame, mm
};
/// Nothing where the kernel cannot tell.
std::optional<std::vector<Crossing>> crossings(const Blade& blade, const TopoDS_Shape& workpiece);

/// A rectangle in the blade's frame, {xmin, ymin, xmax, ymax} in mm, that ends nowhere inside the workpieces and holds
/// the blade's window; sides are rounded outwards to 0.01 mm.
std::array<double, 4> window_that_passes(const Blade& blade, const std::vector<TopoDS_Shape>& workpieces);

/// A flat face in the frame's plane: {xmin, ymin, xmax, ymax} in the frame's coordinates (mm).
TopoDS_Shape rectangle(const gp_Ax3& frame, const std::array<double, 4>& sides);

/// The plane between two others: half-way between parallel ones, else the bisector of the angle between their normals
/// (`other`: of the one beside it). Its normal is that of the first, as far as it goes.
gp_Ax3 midway(const gp_Pln& one, const gp_Pln& two, bool other);

/// The plane that touches a round, conical, spherical or ring face where it looks along `towards` most, turned by
/// `turn` (rad) about the face's axis. Nothing for other faces, and where no such place is.
std::optional<gp_Ax3> tangent_plane(const TopoDS_Shape& face, const gp_Dir& towards, double turn);
/// The plane that touches the face at the place on it that is nearest to the point, its normal out of the material.
/// Nothing where the surface has no normal.
std::optional<gp_Ax3> tangent_plane(const TopoDS_Shape& face, const gp_Pnt& at);

/// The plane square to an edge at `along` (mm from its start, 0 to its length), its normal the way the edge runs.
/// Nothing where the edge has no direction, or is not that long.
std::optional<gp_Ax3> square_to(const TopoDS_Shape& edge, double along);

/// A frame of the plane through a point: origin at the point, x level where it can be.
gp_Ax3 plane_at(const gp_Pnt& point, const gp_Dir& normal);

} // namespace kervo::geom
