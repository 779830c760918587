// Curves in space: through points and by control points, on faces, half-way between others.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/kernel/shape.h"

#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>

namespace kervo::geom {

enum class PointsAre { passed, control };

/// One edge; of degree 1 one from point to point, which share their ends. Finding: space.no_curve, with the place where
/// two points in a row are the same, or where there are too few.
Result<std::vector<TopoDS_Edge>> curve_of_points(const std::vector<gp_Pnt>& points, PointsAre are, int degree,
                                                 bool closed);

/// Half-way between two curves, place by place at the same share of their lengths, gone the way in which their ends are
/// nearer to each other; of closed ones from where they are closed. Straight between two straight ones, else a cubic
/// within 1e-6 mm. Findings: space.unlike (one is closed, the other open), space.no_curve.
Result<TopoDS_Edge> curve_halfway(const TopoDS_Edge& one, const TopoDS_Edge& other);

} // namespace kervo::geom
