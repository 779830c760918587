// Free-form curves of the kernel from points.
#pragma once

#include <Geom_BSplineCurve.hxx>
#include <gp_Pnt.hxx>

#include <vector>

namespace kervo::geom {

inline constexpr int max_curve_degree = 5;

/// Through points that follow each other and differ: at least three. Of the degree that so many points allow, 2 to 5;
/// with parameters by the length of the chords and averaged knots (Piegl and Tiller, The NURBS Book, A9.1), where it
/// is cubic with knots at the points. Closed it is cubic, and as smooth at its seam. Null where the kernel fails, and
/// for other degrees of closed ones.
Handle(Geom_BSplineCurve) spline_through(const std::vector<gp_Pnt>& points, int degree, bool closed);

/// By control points; open ones begin and end at the first and the last. Knots are evenly apart; closed ones have no
/// corner at their seam.
Handle(Geom_BSplineCurve) spline_by_poles(const std::vector<gp_Pnt>& points, int degree, bool closed);

} // namespace kervo::geom
