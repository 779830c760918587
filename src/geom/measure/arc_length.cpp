#include "geom/measure/arc_length.h"

#include "geom/measure/spans.h"

#include <gp_Circ.hxx>

#include <boost/math/quadrature/gauss_kronrod.hpp>

#include <algorithm>
#include <cmath>
#include <vector>

namespace kervo::geom {

double arc_length(const Adaptor3d_Curve& curve, double from, double to) {
    const double low = std::min(from, to);
    const double high = std::max(from, to);
    if (curve.GetType() == GeomAbs_Line) {
        return high - low;
    }
    if (curve.GetType() == GeomAbs_Circle) {
        return curve.Circle().Radius() * (high - low);
    }
    std::vector<double> ends{low};
    for (const double knot : smooth_spans_of(curve)) {
        if (knot > low && knot < high) {
            ends.push_back(knot);
        }
    }
    ends.push_back(high);
    const auto speed = [&](double t) {
        gp_Pnt place;
        gp_Vec way;
        curve.D1(t, place, way);
        return way.Magnitude();
    };
    constexpr int halvings = 12;
    constexpr double relative = 1e-11;
    double sum = 0;
    for (size_t i = 1; i < ends.size(); ++i) {
        sum += boost::math::quadrature::gauss_kronrod<double, 15>::integrate(speed, ends[i - 1], ends[i], halvings,
                                                                             relative);
    }
    return sum;
}

double parameter_after(const Adaptor3d_Curve& curve, double from, double length) {
    if (curve.GetType() == GeomAbs_Line) {
        return from + length;
    }
    if (curve.GetType() == GeomAbs_Circle) {
        return from + length / curve.Circle().Radius();
    }
    const double sign = length < 0 ? -1 : 1;
    const double wanted = std::fabs(length);
    double low = from; // so far it is too short
    double high = sign < 0 ? curve.FirstParameter() : curve.LastParameter();
    double done = 0; // as far as `low`
    double at = high;
    const double whole = arc_length(curve, from, high);
    if (wanted >= whole) {
        return high;
    }
    at = from + (high - from) * (wanted / whole);
    constexpr int most = 100;
    constexpr double enough = 1e-10; // mm
    for (int i = 0; i < most; ++i) {
        const double there = done + arc_length(curve, low, at);
        const double missing = wanted - there;
        if (std::fabs(missing) < enough) {
            break;
        }
        gp_Pnt place;
        gp_Vec way;
        curve.D1(at, place, way);
        double next = at + sign * missing / std::max(way.Magnitude(), 1e-12);
        if (missing > 0) {
            low = at;
            done = there;
        } else {
            high = at;
        }
        if ((next - low) * (next - high) >= 0) {
            next = (low + high) / 2;
        }
        if (next == at) {
            break;
        }
        at = next;
    }
    return at;
}

} // namespace kervo::geom
