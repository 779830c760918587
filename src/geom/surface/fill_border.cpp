#include "geom/surface/fill_border.h"

#include "geom/kernel/finding_place.h"
#include "geom/measure/folded_face.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/surface/cap.h"

#include "base/units.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRep_Tool.hxx>
#include <GeomConvert.hxx>
#include <GeomFill_BSplineCurves.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_BSplineSurface.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <Precision.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::geom {

namespace {

constexpr double most_apart = 1e-4; // mm
constexpr int places = 32;          // along each edge, where the gap is measured

Handle(Geom_BSplineCurve) spline_of(const TopoDS_Edge& edge) {
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, first, last);
    return GeomConvert::CurveToBSplineCurve(new Geom_TrimmedCurve(curve, first, last));
}

// Exactly between two, three or four.
TopoDS_Face patch(const std::vector<BorderSide>& chain) {
    std::vector<Handle(Geom_BSplineCurve)> sides;
    std::transform(chain.begin(), chain.end(), std::back_inserter(sides),
                   [](const BorderSide& each) { return spline_of(each.edge); });
    GeomFill_BSplineCurves filled;
    if (sides.size() == 2) {
        filled.Init(sides[0], sides[1], GeomFill_StretchStyle);
    } else if (sides.size() == 3) {
        filled.Init(sides[0], sides[1], sides[2], GeomFill_StretchStyle);
    } else {
        filled.Init(sides[0], sides[1], sides[2], sides[3], GeomFill_StretchStyle);
    }
    return BRepBuilderAPI_MakeFace(filled.Surface(), Precision::Confusion()).Face();
}

// How far the edges are from the border of the face.
void measure_gap(const std::vector<BorderSide>& chain, Filled& filled) {
    std::vector<TopoDS_Shape> border;
    for (const Filled::Part& part : filled.parts) {
        for (const TopoDS_Shape& edge : edges_of(part.face)) {
            if (!BRep_Tool::Degenerated(TopoDS::Edge(edge))) {
                border.push_back(edge);
            }
        }
    }
    const TopoDS_Shape all = gather(border);
    for (const BorderSide& each : chain) {
        const BRepAdaptor_Curve curve(each.edge);
        for (int i = 0; i <= places; ++i) {
            const gp_Pnt at =
                curve.Value(curve.FirstParameter() + (curve.LastParameter() - curve.FirstParameter()) * i / places);
            if (const double gap = distance_to(all, at); gap > filled.gap) {
                filled.gap = gap;
                filled.gap_at = at;
            }
        }
    }
}

Finding failed(const std::vector<BorderSide>& border) {
    Finding finding = error_finding("fill.failed", "No surface could be spanned in this border.",
                                    "Divide it by an edge, and span each part.");
    add_place(finding, center_of(border.front().edge));
    return finding;
}

} // namespace

Result<Filled> fill_border(const std::vector<BorderSide>& border, double firmness) {
    const bool touches =
        std::all_of(border.begin(), border.end(), [](const BorderSide& each) { return each.face.IsNull(); });
    Filled filled;
    if (touches && border.size() > 1 && border.size() < 5) {
        try {
            filled.parts.push_back({patch(border), {}});
        } catch (const Standard_Failure&) {
            return failed(border);
        }
        for (size_t i = 0; i < border.size(); ++i) {
            filled.parts.front().edges.push_back(i);
        }
    } else {
        const auto made = cap(BorderWay::around(border), firmness);
        if (!made) {
            return made.finding();
        }
        for (size_t i = 0; i < made->faces.size(); ++i) {
            filled.parts.push_back({made->faces[i], {i}});
        }
        filled.lean = made->lean;
        filled.lean_at = made->lean_at;
    }
    measure_gap(border, filled);
    for (const Filled::Part& part : filled.parts) {
        if (!is_valid(part.face)) {
            return failed(border);
        }
        if (const auto place = folded_at(part.face)) {
            Finding finding = error_finding("fill.folds", "What spans this border runs through itself.",
                                            "Divide it by an edge, and span each part.");
            add_place(finding, *place);
            return finding;
        }
    }
    if (filled.gap > most_apart) {
        Finding finding = error_finding(
            "fill.gap", "What spans this border stays off it by up to " + format_quantity(filled.gap, "mm", 3) + " mm.",
            "Divide it by an edge, and span each part.");
        add_place(finding, filled.gap_at);
        return finding;
    }
    return filled;
}

} // namespace kervo::geom
