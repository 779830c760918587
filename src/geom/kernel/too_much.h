// Whether shapes overlap so much that the kernel would not end in any reasonable time.
#pragma once

#include "base/finding.h"

#include <TopoDS_Shape.hxx>

#include <optional>
#include <vector>

namespace kervo::geom {

/// The kernel's work grows with the pairs of faces of different shapes whose boxes meet, and what a pair costs with the
/// kind of its faces. It hears of Stop seldom, so what is hopeless is not begun. Finding: geom.too_much.
std::optional<Finding> too_much_overlaps(const std::vector<TopoDS_Shape>& shapes);

} // namespace kervo::geom
