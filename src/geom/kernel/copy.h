// Shapes and outlines elsewhere, turned, mirrored, larger or smaller.
#pragma once

#include "geom/outline/profile.h"

#include <gp_Trsf.hxx>

namespace kervo::geom {

/// The shape moved as a whole; mirrored and scaled ones get geometry of their own. Roles follow.
ShapeWithRoles transformed(const ShapeWithRoles& made, const gp_Trsf& move);

/// The shape larger or smaller by a factor along each axis through `about` (each > 0); with equal factors round things
/// stay round, else they become free-form. Roles follow. Null where the kernel fails.
ShapeWithRoles stretched(const ShapeWithRoles& made, const gp_Pnt& about, const std::array<double, 3>& factors);

/// The same shape with everything that is round as B-splines; what is flat stays flat. Roles follow. Null where the
/// kernel fails.
ShapeWithRoles free_form(const ShapeWithRoles& made);

/// The middle of the area that the loops (the outer one first) enclose, mm.
std::array<double, 2> middle_of(const std::vector<OutlineLoop>& loops);
/// The loops `scale` times (> 0) as large about a place in their plane.
std::vector<OutlineLoop> scaled(const std::vector<OutlineLoop>& loops, double scale,
                                const std::array<double, 2>& middle);

} // namespace kervo::geom
