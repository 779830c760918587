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

struct CurveOnFace {
    TopoDS_Edge edge;
    double brought = 0; ///< mm, the farthest that a point was beside the face
    gp_Pnt from;        ///< that one
};
/// Through the places on the face nearest to some points, smooth in the face's parameters (cubic). It lies on the face
/// within 1e-6 mm. Findings: space.no_curve, space.leaves (it runs beyond the face's borders, with the place).
Result<CurveOnFace> curve_on_face(const TopoDS_Face& face, const std::vector<gp_Pnt>& points, bool closed);

/// The line on which one parameter of the face stays the same, at a share (0 to 1) of its range: in as many parts as
/// the face's borders leave, in order. `first`: the first parameter stays. Findings: space.no_line, space.failed (the
/// parts and single places on it do not agree).
Result<std::vector<TopoDS_Edge>> line_of_parameter(const TopoDS_Face& face, bool first, double share,
                                                   Progress& progress);

/// Half-way between two curves, place by place at the same share of their lengths, gone the way in which their ends are
/// nearer to each other; of closed ones from where they are closed. Straight between two straight ones, else a cubic
/// within 1e-6 mm. Findings: space.unlike (one is closed, the other open), space.no_curve.
Result<TopoDS_Edge> curve_halfway(const TopoDS_Edge& one, const TopoDS_Edge& other);

} // namespace kervo::geom
