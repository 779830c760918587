#include "geom/kernel/splines.h"

#include "geom/kernel/knots.h"

#include <BSplCLib.hxx>
#include <GeomAPI_Interpolate.hxx>
#include <Precision.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <TColgp_HArray1OfPnt.hxx>

#include <algorithm>

namespace kervo::geom {

namespace {

int allowed(size_t points, int degree) {
    return std::clamp(degree, 1, std::min<int>(max_curve_degree, static_cast<int>(points) - 1));
}

TColgp_Array1OfPnt array_of(const std::vector<gp_Pnt>& points) {
    TColgp_Array1OfPnt array(1, static_cast<int>(points.size()));
    for (size_t i = 0; i < points.size(); ++i) {
        array.SetValue(static_cast<int>(i) + 1, points[i]);
    }
    return array;
}

// Cubic, with a continuous second derivative, closed over its seam too.
Handle(Geom_BSplineCurve) cubic(const std::vector<gp_Pnt>& points, bool closed) {
    Handle(TColgp_HArray1OfPnt) places = new TColgp_HArray1OfPnt(array_of(points));
    GeomAPI_Interpolate spline(places, closed, Precision::Confusion());
    spline.Perform();
    return spline.IsDone() ? spline.Curve() : Handle(Geom_BSplineCurve)();
}

} // namespace

Handle(Geom_BSplineCurve) spline_through(const std::vector<gp_Pnt>& points, int degree, bool closed) {
    const int p = closed ? degree : allowed(points.size(), degree);
    if (p == 3 || closed) {
        return p == 3 ? cubic(points, closed) : Handle(Geom_BSplineCurve)();
    }
    const int count = static_cast<int>(points.size());
    TColStd_Array1OfReal at(1, count);
    at.SetValue(1, 0);
    for (int i = 2; i <= count; ++i) {
        at.SetValue(i,
                    at.Value(i - 1) + points[static_cast<size_t>(i) - 1].Distance(points[static_cast<size_t>(i) - 2]));
    }
    std::vector<double> knots(static_cast<size_t>(p) + 1, 0.0);
    for (int j = 1; j < count - p; ++j) {
        double sum = 0;
        for (int i = j; i < j + p; ++i) {
            sum += at.Value(i + 1);
        }
        knots.push_back(sum / p);
    }
    knots.insert(knots.end(), static_cast<size_t>(p) + 1, at.Value(count));
    TColStd_Array1OfReal flat(1, static_cast<int>(knots.size()));
    for (size_t i = 0; i < knots.size(); ++i) {
        flat.SetValue(static_cast<int>(i) + 1, knots[i]);
    }
    TColStd_Array1OfInteger values(1, count); // no derivatives
    values.Init(0);
    TColgp_Array1OfPnt poles = array_of(points);
    int trouble = 0;
    BSplCLib::Interpolate(p, flat, at, values, poles, trouble);
    return trouble == 0 ? spline_over(poles, knots, p) : Handle(Geom_BSplineCurve)();
}

Handle(Geom_BSplineCurve) spline_by_poles(const std::vector<gp_Pnt>& points, int degree, bool closed) {
    const int p = allowed(points.size(), degree);
    const int count = static_cast<int>(points.size());
    if (closed) {
        TColStd_Array1OfReal knots(1, count + 1);
        for (int i = 0; i <= count; ++i) {
            knots.SetValue(i + 1, i);
        }
        TColStd_Array1OfInteger once(1, count + 1);
        once.Init(1);
        const Handle(Geom_BSplineCurve) around = new Geom_BSplineCurve(array_of(points), knots, once, p, Standard_True);
        around->SetNotPeriodic();
        return around;
    }
    std::vector<double> knots(static_cast<size_t>(p), 0.0);
    for (int i = 0; i <= count - p; ++i) {
        knots.push_back(i);
    }
    knots.insert(knots.end(), static_cast<size_t>(p), count - p);
    return spline_over(array_of(points), knots, p);
}

} // namespace kervo::geom
