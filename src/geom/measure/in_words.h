// What a face or an edge looks like, in a few words, as a person would say it. Sizes in the unit
// that is asked for ("mm", "m"), to a hundredth of a millimetre or a tenth of one.
#pragma once

#include "geom/kernel/shape.h"

#include <string>

namespace kervo::geom {

/// "flat, front, 30 x 20", "round side, \u00d864", "hole, \u00d822", "hollow side, R11", "ball, \u00d840".
std::string face_in_words(const TopoDS_Shape& face, const std::string& unit);

/// "rim, \u00d822", "straight edge, 120", "arc, R96, 34.2", "curved edge, 34.2".
std::string edge_in_words(const TopoDS_Shape& edge, const std::string& unit);

} // namespace kervo::geom
