// Smooth spans of curves, and sums over them, for integrals along borders.
#pragma once

#include <Adaptor3d_Curve.hxx>
#include <Geom2d_BSplineCurve.hxx>
#include <Geom_BSplineCurve.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <gp_Vec.hxx>

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace kervo::geom {

// Gauss-Legendre with eight points: exact for polynomials up to the fifteenth degree.
template <class Function> void each_gauss_point(double low, double high, const Function& visit) {
    constexpr std::array<double, 4> at{0.1834346424956498, 0.5255324099163290, 0.7966664774136267, 0.9602898564975363};
    constexpr std::array<double, 4> weight{0.3626837833783620, 0.3137066458778873, 0.2223810344533745,
                                           0.1012285362903763};
    const double middle = (low + high) / 2;
    const double half = (high - low) / 2;
    for (size_t i = 0; i < at.size(); ++i) {
        visit(middle - half * at[i], weight[i] * half);
        visit(middle + half * at[i], weight[i] * half);
    }
}

inline constexpr int exact_degree = 5; // of a profile, whose cone is three times that

// Where knots lie from one end of a curve or of a parameter of a surface to the other, these included. `period`: after
// which they come again; 0: they do not.
inline std::vector<double> knots_within(const TColStd_Array1OfReal& knots, double period, double from, double to) {
    std::vector<double> ends{from};
    const double close = (to - from) * 1e-12;
    const double rounds = period > 0 ? std::floor((from - knots.First()) / period) : 0;
    for (double shift = rounds * period;; shift += period) {
        for (const double knot : knots) {
            if (knot + shift > ends.back() + close && knot + shift < to - close) {
                ends.push_back(knot + shift);
            }
        }
        if (period <= 0 || knots.Last() + shift >= to) {
            break;
        }
    }
    ends.push_back(to);
    return ends;
}

// Ends of the polynomials of a curve, or of what else is smooth in it. The kernel takes splines that are four times
// differentiable for one piece: their knots are asked for.
template <class Curve> std::vector<double> smooth_spans_of(const Curve& curve) {
    if (curve.GetType() == GeomAbs_BSplineCurve && curve.Degree() > 4) {
        const auto spline = curve.BSpline();
        return knots_within(spline->Knots(), spline->IsPeriodic() ? spline->Period() : 0, curve.FirstParameter(),
                            curve.LastParameter());
    }
    TColStd_Array1OfReal ends(1, curve.NbIntervals(GeomAbs_CN) + 1);
    curve.Intervals(ends, GeomAbs_CN);
    return {ends.begin(), ends.end()};
}

// Ends of the smooth spans of a curve; turns of circles and ellipses are divided, since they are no polynomials.
template <class Curve> std::vector<double> spans_of(const Curve& curve) {
    std::vector<double> spans = smooth_spans_of(curve);
    const auto kind = curve.GetType();
    const bool polynomial = kind == GeomAbs_Line || kind == GeomAbs_BSplineCurve || kind == GeomAbs_BezierCurve;
    if (polynomial && (kind == GeomAbs_Line || curve.Degree() <= exact_degree)) {
        return spans;
    }
    std::vector<double> finer;
    for (size_t i = 0; i + 1 < spans.size(); ++i) {
        const int pieces =
            polynomial ? 3 // where eight points are close to what they are not exact for
                       : std::clamp(static_cast<int>(std::ceil(std::fabs(spans[i + 1] - spans[i]) * 3 / M_PI)), 1, 64);
        for (int k = 0; k < pieces; ++k) {
            finer.push_back(spans[i] + (spans[i + 1] - spans[i]) * k / pieces);
        }
    }
    finer.push_back(spans.back());
    return finer;
}

// Into how many pieces a span of a profile is divided: its length is no polynomial, and eight points are close to it
// where it turns by little.
inline int pieces_by_turn(const Adaptor3d_Curve& profile, double from, double to) {
    constexpr double little = 0.5; // rad
    constexpr int looks = 4;
    double turn = 0;
    gp_Vec before;
    for (int i = 0; i <= looks; ++i) {
        gp_Pnt at;
        gp_Vec way;
        profile.D1(from + (to - from) * i / looks, at, way);
        if (i > 0 && before.Magnitude() > 1e-12 && way.Magnitude() > 1e-12) {
            turn += before.Angle(way);
        }
        before = way;
    }
    return std::clamp(static_cast<int>(std::ceil(turn / little)), 1, 16);
}

} // namespace kervo::geom
