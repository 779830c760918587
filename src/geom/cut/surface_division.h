// Dividing a surface, that is faces that bound no solid, by solids, other surfaces, and curves that lie on it.
#pragma once

#include "geom/cut/divide.h"

#include <optional>

namespace kervo::geom {

/// One attempt of `divide`: the pieces are faces that hang together over edges on which no cutter lies. A piece whose
/// place is on the skin of a solid is outside of it; what lies left of curves, as they run, is inside. Nothing where
/// the kernel fails or the areas do not add up; cutters that end within a face are told in `hanging`: their lines there
/// are left out. `fuzziness` in mm.
std::optional<Division> divide_surface(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                       double fuzziness, Progress& progress);

} // namespace kervo::geom
