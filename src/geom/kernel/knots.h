// Knots of B-splines, from a list that holds each as often as it counts to what the kernel wants.
#pragma once

#include <Geom_BSplineCurve.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>

#include <vector>

namespace kervo::geom {

/// Each once, with how often it counts.
struct CountedKnots {
    explicit CountedKnots(const std::vector<double>& knots) : places(1, count(knots)), counts(1, places.Upper()) {
        counts.Init(0);
        int at = 0;
        for (size_t i = 0; i < knots.size(); ++i) {
            at += i == 0 || knots[i] > knots[i - 1] ? 1 : 0;
            places.SetValue(at, knots[i]);
            counts.ChangeValue(at) += 1;
        }
    }
    TColStd_Array1OfReal places;
    TColStd_Array1OfInteger counts;

private:
    static int count(const std::vector<double>& knots) {
        int different = 0;
        for (size_t i = 0; i < knots.size(); ++i) {
            different += i == 0 || knots[i] > knots[i - 1] ? 1 : 0;
        }
        return different;
    }
};

/// How often the knots between so many pieces of a clamped spline count: `inner` times, at its ends degree + 1.
inline TColStd_Array1OfInteger counts_of_pieces(int pieces, int degree, int inner) {
    TColStd_Array1OfInteger counts(1, pieces + 1);
    counts.Init(inner);
    counts.SetValue(1, degree + 1);
    counts.SetValue(pieces + 1, degree + 1);
    return counts;
}

inline Handle(Geom_BSplineCurve)
    spline_over(const TColgp_Array1OfPnt& poles, const std::vector<double>& knots, int degree) {
    const CountedKnots counted(knots);
    return new Geom_BSplineCurve(poles, counted.places, counted.counts, degree);
}

} // namespace kervo::geom
