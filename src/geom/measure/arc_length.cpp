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

} // namespace kervo::geom
