// The area of a section, worked out without the kernel's Booleans: an independent word on what these make.
#pragma once

#include "geom/kernel/shape.h"

#include <gp_Ax3.hxx>

#include <optional>

namespace kervo::geom {

/// In mm^2, of the section of a solid in the plane of x and y of the frame. Where edges cross the plane is found by
/// formula or by halving; on each face the places are put in order along the section's curve, which runs in at one and
/// out at the next; the area is the sum of the integrals along these curves (Green), which must close. Nothing where
/// the plane passes within 1e-6 mm of a vertex or touches a rim, and for faces that are neither flat nor parts of
/// cylinders, cones and spheres.
std::optional<double> section_area(const TopoDS_Shape& solid, const gp_Ax3& plane);

} // namespace kervo::geom
