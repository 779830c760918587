#include "geom/surface/columns.h"

#include <GeomAPI_Interpolate.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Precision.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColStd_HArray1OfReal.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <TColgp_HArray1OfPnt.hxx>

#include <algorithm>
#include <cmath>
#include <vector>

namespace kervo::geom {

namespace {

// Of a row along the ends, from places close to one of them.
gp_Vec derivative(const ColumnAt& column, size_t row, double from, double to, bool at_start) {
    const double h = (to - from) * 1e-3 * (at_start ? 1 : -1);
    const double end = at_start ? from : to;
    gp_XYZ sum(0, 0, 0);
    constexpr std::array<double, 5> weights{-25.0 / 12, 4, -3, 4.0 / 3, -0.25};
    for (size_t i = 0; i < weights.size(); ++i) {
        sum += column(end + h * static_cast<double>(i))[row].XYZ() * weights[i];
    }
    return {sum / h};
}

Handle(Geom_BSplineSurface) through(const ColumnAt& column, double from, double to, int columns) {
    std::array<Handle(TColgp_HArray1OfPnt), 4> rows;
    for (auto& row : rows) {
        row = new TColgp_HArray1OfPnt(1, columns + 1);
    }
    Handle(TColStd_HArray1OfReal) at = new TColStd_HArray1OfReal(1, columns + 1);
    for (int i = 0; i <= columns; ++i) {
        const double share = from + (to - from) * i / columns;
        const Column here = column(share);
        at->SetValue(i + 1, share);
        for (size_t k = 0; k < rows.size(); ++k) {
            rows[k]->SetValue(i + 1, here[k]);
        }
    }
    std::array<Handle(Geom_BSplineCurve), 4> curves;
    const auto is_a_point = [&](size_t k) {
        return std::all_of(rows[k]->begin(), rows[k]->end(), [&](const gp_Pnt& place) {
            return place.Distance(rows[k]->First()) < Precision::Confusion();
        });
    };
    for (size_t k = 0; k < rows.size(); ++k) {
        if (is_a_point(k)) {
            continue;
        }
        GeomAPI_Interpolate spline(rows[k], at, Standard_False, Precision::Confusion() / 100);
        spline.Load(derivative(column, k, from, to, true), derivative(column, k, from, to, false), Standard_False);
        spline.Perform();
        if (!spline.IsDone()) {
            return {};
        }
        curves[k] = spline.Curve();
    }
    const int poles = curves[0]->NbPoles();
    TColgp_Array2OfPnt net(1, poles, 1, 4);
    for (int i = 1; i <= poles; ++i) {
        for (int k = 1; k <= 4; ++k) {
            const auto& curve = curves[static_cast<size_t>(k - 1)];
            net(i, k) = curve.IsNull() ? rows[static_cast<size_t>(k - 1)]->First() : curve->Pole(i);
        }
    }
    TColStd_Array1OfReal across(1, 2);
    across(1) = 0;
    across(2) = 1;
    TColStd_Array1OfInteger counts(1, 2);
    counts.Init(4);
    return new Geom_BSplineSurface(net, curves[0]->Knots(), across, curves[0]->Multiplicities(), counts, 3, 3);
}

// The most by which its ends miss the columns between two that it has.
double gap_of(const ColumnAt& column, const Geom_BSplineSurface& surface, double from, double to, int columns) {
    double most = 0;
    for (int i = 0; i < columns; ++i) {
        const double share = from + (to - from) * (i + 0.5) / columns;
        const Column here = column(share);
        most = std::max({most, surface.Value(share, 0).Distance(here[0]), surface.Value(share, 1).Distance(here[3])});
    }
    return most;
}

} // namespace

ColumnSurface surface_of_columns(const ColumnAt& column, double from, double to) {
    constexpr double close_enough = 1e-6; // mm
    constexpr int most_columns = 512;
    ColumnSurface made;
    for (int columns = 16; columns <= most_columns; columns *= 2) {
        made.surface = through(column, from, to, columns);
        if (made.surface.IsNull()) {
            return made;
        }
        made.gap = gap_of(column, *made.surface, from, to, columns);
        if (made.gap < close_enough) {
            break;
        }
    }
    return made;
}

std::optional<gp_Pnt> turned_over(const Geom_BSplineSurface& surface, double from, double to, bool to_a_point) {
    constexpr int along = 48;
    constexpr int across = 24;
    std::vector<gp_Vec> before;
    for (int i = 0; i <= along; ++i) {
        std::vector<gp_Vec> here;
        for (int k = 0; k <= across - (to_a_point ? 1 : 0); ++k) {
            gp_Pnt on;
            gp_Vec du;
            gp_Vec dv;
            surface.D1(from + (to - from) * i / along, k / double(across), on, du, dv);
            const gp_Vec normal = du.Crossed(dv);
            if (normal.Magnitude() < 1e-12 || (k > 0 && normal.Dot(here.back()) <= 0) ||
                (i > 0 && normal.Dot(before[static_cast<size_t>(k)]) <= 0)) {
                return on;
            }
            here.push_back(normal);
        }
        before = std::move(here);
    }
    return std::nullopt;
}

double lean_at_end(const Geom_BSplineSurface& surface, double share, double end, const gp_Vec& normal) {
    gp_Pnt on;
    gp_Vec du;
    gp_Vec dv;
    surface.D1(share, end, on, du, dv);
    return std::asin(std::min(1.0, std::fabs(dv.Normalized().Dot(normal.Normalized()))));
}

} // namespace kervo::geom
