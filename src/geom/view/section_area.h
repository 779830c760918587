// The area of a section, worked out without the kernel's Booleans: an independent word on what these make.
#pragma once

#include "geom/view/section_border.h"

namespace kervo::geom {

/// In mm^2: the sum of the integrals along the pieces of the border (Green).
double area_within(const std::vector<BorderPiece>& border, const gp_Ax3& plane);

/// Of the section of a solid in the plane of x and y of the frame; nothing where its border is not traced.
std::optional<double> section_area(const TopoDS_Shape& solid, const gp_Ax3& plane);

} // namespace kervo::geom
