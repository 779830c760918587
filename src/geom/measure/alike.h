// Elements of bodies that are like one that was picked.
#pragma once

#include "geom/kernel/shape.h"

#include <optional>

namespace kervo::geom {

enum class Likeness {
    kind,     ///< the same kind of surface or curve
    radius,   ///< the same kind and radius (of rings: both), within a millionth of a millimetre
    chain,    ///< what continues it smoothly, and what continues that
    connected ///< what it hangs together with, over edges (faces) or vertices (edges)
};

/// The faces or edges of `body`, as `element` is one, that are like it; itself too where it is one of them. None for a
/// vertex, nor by radius for what has none.
std::vector<TopoDS_Shape> alike(const TopoDS_Shape& body, const TopoDS_Shape& element, Likeness how);

/// Radii in mm: of a round edge, cylinder or sphere; of a ring the larger one and that of its tube. Nothing for others.
std::optional<std::pair<double, double>> radii_of(const TopoDS_Shape& element);

} // namespace kervo::geom
