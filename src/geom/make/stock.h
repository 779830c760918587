// Simple bodies by number. Each stands on the xy plane of `place`, centred on its z axis; all lengths in mm, all > 0.
#pragma once

#include "geom/kernel/shape.h"

namespace kervo::geom {

/// Roles: bottom, top, left, right, front, back (-z +z -x +x -y +y).
ShapeWithRoles make_box(double width, double depth, double height, const gp_Ax3& place);
/// Roles: bottom, top, side.
ShapeWithRoles make_cylinder(double diameter, double height, const gp_Ax3& place);
/// The sphere's centre lies one radius above `place`. Role: side.
ShapeWithRoles make_sphere(double diameter, const gp_Ax3& place);
/// A zero top or bottom diameter makes a tip there; equal diameters make a cylinder. Roles: bottom, top, side.
ShapeWithRoles make_cone(double bottom_diameter, double top_diameter, double height, const gp_Ax3& place);
/// `diameter` is that of the circle in the middle of the tube, which must be larger than the tube's. Role: side.
ShapeWithRoles make_ring(double diameter, double tube_diameter, const gp_Ax3& place);
/// A flat surface, looking up. Role: face.
ShapeWithRoles make_rectangle(double width, double depth, const gp_Ax3& place);

} // namespace kervo::geom
