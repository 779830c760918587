// Whether a surface passes through a solid, and how much of it is missing where it does not.
#pragma once

#include "geom/surface/border_side.h"

namespace kervo::geom {

struct ShortBorder {
    TopoDS_Edge edge;
    double missing = 0; ///< mm, straight on from the border: the most that is missing anywhere on the edge
    gp_Pnt place;       ///< where that is
};

/// Border edges of the surface that lie inside the solid, in the order of its faces. The way out is straight, tangent
/// to the face and square to the border; it is looked for at places along the edge and then between the best of them,
/// so it is exact for flat faces of a solid.
std::vector<ShortBorder> short_borders(const TopoDS_Shape& surface, const TopoDS_Shape& solid);

} // namespace kervo::geom
