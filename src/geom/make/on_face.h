// What curves on faces are made with: places in the face's parameters, curves over them, and what of these is on the
// face.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/kernel/shape.h"

#include <BRepAdaptor_Curve.hxx>
#include <Geom2d_BSplineCurve.hxx>
#include <Geom_Surface.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <gp_Pnt2d.hxx>

#include <optional>
#include <vector>

namespace kervo::geom {

/// The parameter of the `i`-th of `of` even steps along a curve.
inline double share_of(const BRepAdaptor_Curve& curve, int i, int of) {
    return curve.FirstParameter() + (curve.LastParameter() - curve.FirstParameter()) * i / of;
}

/// Where points are nearest to the surface, in its parameters; around a closed surface the short way from each to the
/// next.
struct Feet {
    std::vector<gp_Pnt2d> at;
    double brought = 0; ///< mm, the farthest that a point was beside it
    gp_Pnt from;        ///< that one
};
std::optional<Feet> feet_of(const TopoDS_Face& face, const std::vector<gp_Pnt>& points);

/// Cubic, through these; null where the kernel fails.
Handle(Geom2d_BSplineCurve) flat_spline(const std::vector<gp_Pnt2d>& points, bool closed);
/// Of degree five, through exact places that are evenly apart by length: so its parameter goes by length as well.
Handle(Geom2d_BSplineCurve) fine_flat_spline(const std::vector<gp_Pnt2d>& points, double length);

/// On the surface as its parameters say; a curve of its own is made and looked at. Finding: space.no_curve.
Result<TopoDS_Edge> lifted(const Handle(Geom2d_Curve) & flat, const Handle(Geom_Surface) & surface);

/// The surface of a face, with the same parameters, which goes on over its seam where it is closed; null where that
/// cannot be had.
Handle(Geom_Surface) all_round(const TopoDS_Face& face);

/// The first place of a curve on the face's surface that lies beyond the face: space.leaves.
std::optional<Finding> leaves(const TopoDS_Edge& edge, const TopoDS_Face& face);

/// What of a curve on the face's surface lies within the face, in order. Findings: space.failed (places on it do not
/// agree), space.no_line, with this advice.
Result<std::vector<TopoDS_Edge>> parts_within(const TopoDS_Edge& whole, const TopoDS_Face& face, const char* mend,
                                              Progress& progress);

} // namespace kervo::geom
