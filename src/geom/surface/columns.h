// Surfaces through columns of poles: cubic across, from one end to the other, and cubic splines along.
#pragma once

#include "geom/kernel/shape.h"

#include <Geom_BSplineSurface.hxx>

#include <array>
#include <functional>
#include <optional>

namespace kervo::geom {

/// From the first end to the second.
using Column = std::array<gp_Pnt, 4>;
using ColumnAt = std::function<Column(double share)>;

struct ColumnSurface {
    Handle(Geom_BSplineSurface) surface; ///< u from `from` to `to`, v from 0 to 1; null where the kernel failed
    double gap = 0;                      ///< mm, the most by which its ends miss those of columns between its own
};
/// Columns are doubled until the gap is below 1e-6 mm, or there are 512.
ColumnSurface surface_of_columns(const ColumnAt& column, double from, double to);

/// A place where it turns over. `to_a_point`: its second end is one.
std::optional<gp_Pnt> turned_over(const Geom_BSplineSurface& surface, double from, double to, bool to_a_point);

/// How far it leans out of a plane at its first (0) or second (1) end, across (rad).
double lean_at_end(const Geom_BSplineSurface& surface, double share, double end, const gp_Vec& normal);

} // namespace kervo::geom
