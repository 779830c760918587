// A surface that spans from one border to another, and leaves each as the surface there does.
#pragma once

#include "geom/surface/border_way.h"

namespace kervo::geom {

struct Blending {
    bool tangent[2] = {true, true}; ///< at the first and the second border; else it only touches
    double firmness[2] = {1, 1};    ///< how long it keeps the direction, in gaps between the borders; above 0
    double shift = 0;               ///< mm along the second border, from where it is twisted least
    bool turned_over = false;       ///< the second border is gone the other way
};

struct Blended {
    TopoDS_Shape shape; ///< a face for each stretch between vertices of the borders
    double gap = 0;     ///< mm, the most between its ends and the borders
    double angle = 0;   ///< rad, the most between its tangent planes and those of the surfaces, where it is tangent
    gp_Pnt worst;       ///< where the angle is that
};

/// Cubic from border to border (Hermite: the way off each face, as long as the firmness times the gap), matched by
/// length, with the least twist (sum of squared distances); along the borders cubic splines with their measured error:
/// columns are doubled until the gap is below 1e-6 mm. Measured between the columns; normals that turn over are
/// refused. Findings: span.unlike (one border is closed, the other open), span.folds (with the place), span.failed.
Result<Blended> blend_borders(const BorderWay& one, const BorderWay& other, const Blending& blending);

} // namespace kervo::geom
