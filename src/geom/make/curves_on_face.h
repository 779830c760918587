// Curves that lie on a face: through points, straightest, beside others, of equal parameter.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/kernel/shape.h"

#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>

namespace kervo::geom {

/// Edges on a face, within 1e-6 mm.
struct CurveOnFace {
    std::vector<TopoDS_Edge> edges;
    double brought = 0; ///< mm, the farthest that a point was beside the face
    gp_Pnt from;        ///< that one
};

/// Through the places on the face nearest to some points, smooth in the face's parameters (cubic). Findings:
/// space.no_curve, space.leaves (it runs beyond the face's borders, with the place).
Result<CurveOnFace> curve_on_face(const TopoDS_Face& face, const std::vector<gp_Pnt>& points, bool closed);

/// The shortest lines on the face from each of these places to the next: straight on a plane, arcs on a sphere, else by
/// `geodesics_between`. Promises: they do not bend sideways. Findings: those of `curve_on_face`; space.two_ways (two
/// are as short); space.no_shortest.
Result<CurveOnFace> shortest_on_face(const TopoDS_Face& face, const std::vector<gp_Pnt>& points, bool closed);

/// Beside curves on the face, `distance` mm away along lines on it that are square to them and straightest: beside
/// borders of the face into it, beside others to their left as they run, seen from its outside; the other way where it
/// is less than zero. In as many parts as the face's borders leave. Promises: places between those that made it are as
/// far away. Findings: space.beside (a curve is not on the face), space.corner (they meet at an angle), space.folds (it
/// runs through itself, or the curve bends too much), space.no_line, space.failed.
Result<CurveOnFace> offset_on_face(const TopoDS_Face& face, const std::vector<TopoDS_Edge>& curves, double distance,
                                   Progress& progress);

/// From a place on the face straight on, in a direction, until the first border. Findings: space.no_line (it goes
/// around the face and comes to none, or has no way to go), space.failed.
Result<TopoDS_Edge> on_to_the_border(const TopoDS_Face& face, const gp_Pnt& from, const gp_Vec& way,
                                     Progress& progress);

/// Where curves end within faces of a body and not at a border: what goes on from there to the border, and the edge
/// that it goes on from. Findings: those of `on_to_the_border`.
struct GoneOn {
    TopoDS_Edge added;
    TopoDS_Shape from;
};
Result<std::vector<GoneOn>> gone_on_to_borders(const TopoDS_Shape& curves, const TopoDS_Shape& body,
                                               Progress& progress);

/// All of the curves' edges, and what goes on from them; they share their ends.
std::vector<TopoDS_Edge> joined_with(const TopoDS_Shape& curves, const std::vector<GoneOn>& added);

/// The line on which one parameter of the face stays the same, at a share (0 to 1) of its range: in as many parts as
/// the face's borders leave, in order. `first`: the first parameter stays. Findings: space.no_line, space.failed (the
/// parts and single places on it do not agree).
Result<std::vector<TopoDS_Edge>> line_of_parameter(const TopoDS_Face& face, bool first, double share,
                                                   Progress& progress);

} // namespace kervo::geom
