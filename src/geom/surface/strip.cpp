#include "geom/surface/strip.h"

#include "geom/kernel/finding_place.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakePolygon.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_Interpolate.hxx>
#include <GeomConvert.hxx>
#include <GeomFill.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_BSplineSurface.hxx>
#include <Geom_ConicalSurface.hxx>
#include <Geom_CylindricalSurface.hxx>
#include <Geom_Plane.hxx>
#include <Geom_SphericalSurface.hxx>
#include <Geom_ToroidalSurface.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <Precision.hxx>
#include <TColStd_HArray1OfReal.hxx>
#include <TColgp_HArray1OfPnt.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Circ.hxx>
#include <gp_Lin.hxx>

#include <boost/math/quadrature/gauss.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::geom {

namespace {

constexpr double alike = 1e-9; // directions

Finding failed(const BorderSide& side) {
    Finding finding = error_finding("extend.failed", "The surface could not go on beyond this border.",
                                    "Choose another amount, or another border.");
    if (const auto place = side.place(side.first())) {
        add_place(finding, place->at);
    }
    return finding;
}

Finding too_far(const BorderSide& side) {
    Finding finding = error_finding("extend.too_far", "The surface comes back to itself before it has gone on so far.",
                                    "Choose a smaller amount here.");
    if (const auto place = side.place(side.first())) {
        add_place(finding, place->at);
    }
    return finding;
}

// The way off the face seen about the axis of a round border: away from the axis, and along it. Nothing where it is not
// the same all along.
struct AboutAxis {
    double away = 0, along = 0;
};
std::optional<AboutAxis> turns_with(const BorderSide& side, const gp_Circ& circle) {
    std::optional<AboutAxis> all;
    for (int i = 0; i <= 8; ++i) {
        const auto place = side.place(side.first() + (side.last() - side.first()) * i / 8);
        if (!place) {
            return std::nullopt;
        }
        gp_Vec out(circle.Location(), place->at);
        out.Normalize();
        const AboutAxis here{place->off.Dot(out), place->off.Dot(gp_Vec(circle.Axis().Direction()))};
        if (all && (std::fabs(all->away - here.away) > alike || std::fabs(all->along - here.along) > alike)) {
            return std::nullopt;
        }
        all = here;
    }
    return all;
}

// A frame at the middle of the circle, z along its axis (turned over where it is to look back), x to where the edge
// begins about it, and how far round the edge goes.
struct RoundFrame {
    gp_Ax3 frame;
    double turn = 0;
};
RoundFrame round_frame(const BorderSide& side, const gp_Circ& circle, bool turned_over) {
    const double turn = side.last() - side.first();
    gp_Ax3 frame(circle.Position());
    frame.Rotate(circle.Axis(), turned_over ? side.last() : side.first());
    if (turned_over) {
        frame = gp_Ax3(frame.Location(), frame.Direction().Reversed(), frame.XDirection());
    }
    return {frame, std::min(turn, 2 * std::numbers::pi)};
}

bool is_whole(double turn) {
    return turn > 2 * std::numbers::pi - 1e-9;
}

// The part of a turned surface from its v = `low` to `high`, of a whole turn closed.
Result<Strip> turned_strip(const BorderSide& side, const Handle(Geom_Surface) & surface, double turn, double low,
                           double high, double area) {
    const BRepBuilderAPI_MakeFace face(surface, 0, is_whole(turn) ? 2 * std::numbers::pi : turn, std::min(low, high),
                                       std::max(low, high), Precision::Confusion());
    return face.IsDone() ? Result<Strip>(Strip{face.Face(), side.edge, area}) : failed(side);
}

Result<Strip> flat_ring(const BorderSide& side, const gp_Circ& circle, double turn, double outer, double area) {
    const gp_Ax3 frame = round_frame(side, circle, false).frame;
    const gp_Circ inner_circle(frame.Ax2(), std::min(circle.Radius(), outer));
    const gp_Circ outer_circle(frame.Ax2(), std::max(circle.Radius(), outer));
    if (is_whole(turn)) {
        BRepBuilderAPI_MakeFace face(gp_Pln(frame),
                                     BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(outer_circle).Edge()).Wire());
        face.Add(TopoDS::Wire(BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(inner_circle).Edge()).Wire().Reversed()));
        return Strip{face.Face(), side.edge, area};
    }
    const TopoDS_Edge in = BRepBuilderAPI_MakeEdge(inner_circle, 0, turn).Edge();
    const TopoDS_Edge out = BRepBuilderAPI_MakeEdge(outer_circle, 0, turn).Edge();
    BRepBuilderAPI_MakeWire wire(in, BRepBuilderAPI_MakeEdge(TopExp::LastVertex(in), TopExp::LastVertex(out)).Edge(),
                                 out,
                                 BRepBuilderAPI_MakeEdge(TopExp::FirstVertex(out), TopExp::FirstVertex(in)).Edge());
    const BRepBuilderAPI_MakeFace face(gp_Pln(frame), wire.Wire());
    return Strip{face.Face(), side.edge, area};
}

// Straight on from a round border: a ring, a cylinder, a cone. Its area by Pappus.
Result<Strip> straight_about(const BorderSide& side, const gp_Circ& circle, const AboutAxis& way, double amount) {
    const double radius = circle.Radius();
    const double far = radius + amount * way.away;
    if (far < Precision::Confusion()) {
        return too_far(side);
    }
    const auto [frame, turn] = round_frame(side, circle, way.along < 0);
    const double area = turn * amount * (radius + far) / 2;
    if (std::fabs(way.along) < alike) {
        return flat_ring(side, circle, turn, far, area);
    }
    if (std::fabs(way.away) < alike) {
        return turned_strip(side, new Geom_CylindricalSurface(frame, radius), turn, 0, amount, area);
    }
    const double lean = std::atan2(way.away, std::fabs(way.along));
    return turned_strip(side, new Geom_ConicalSurface(frame, lean, radius), turn, 0, amount, area);
}

// On a sphere from any of its circles, on a torus from one about its axis; nothing for others.
std::optional<Result<Strip>> bent_about(const BorderSide& side, const gp_Circ& circle, const AboutAxis& way,
                                        double amount) {
    const BRepAdaptor_Surface surface(side.face, Standard_False);
    const auto [frame, turn] = round_frame(side, circle, way.along < 0);
    const gp_Vec up(frame.Direction());
    if (surface.GetType() == GeomAbs_Sphere) {
        const double radius = surface.Sphere().Radius();
        const gp_Pnt middle = surface.Sphere().Location();
        const double low = std::asin(std::clamp(gp_Vec(middle, circle.Location()).Dot(up) / radius, -1.0, 1.0));
        const double high = low + amount / radius;
        if (high > std::numbers::pi / 2) {
            return too_far(side);
        }
        return turned_strip(side,
                            new Geom_SphericalSurface(gp_Ax3(middle, frame.Direction(), frame.XDirection()), radius),
                            turn, low, high, turn * radius * radius * (std::sin(high) - std::sin(low)));
    }
    if (surface.GetType() == GeomAbs_Torus &&
        surface.Torus().Axis().Direction().IsParallel(circle.Axis().Direction(), 1e-9)) {
        const gp_Torus torus = surface.Torus();
        const double ring = torus.MajorRadius();
        const double radius = torus.MinorRadius();
        const gp_Pnt middle = torus.Location();
        // From where the border lies about the tube, the way that it leads on.
        const double low = std::atan2(gp_Vec(middle, circle.Location()).Dot(up), circle.Radius() - ring);
        const double towards = -std::sin(low) * way.away + std::cos(low) * std::fabs(way.along);
        const double high = low + (towards > 0 ? 1 : -1) * amount / radius;
        if (amount / radius > 2 * std::numbers::pi) {
            return too_far(side);
        }
        const double area = turn * radius * std::fabs(ring * (high - low) + radius * (std::sin(high) - std::sin(low)));
        return turned_strip(
            side, new Geom_ToroidalSurface(gp_Ax3(middle, frame.Direction(), frame.XDirection()), ring, radius), turn,
            low, high, area);
    }
    return std::nullopt;
}

// On a cylinder from a line along it.
Result<Strip> round_a_cylinder(const BorderSide& side, const gp_Cylinder& cylinder, double amount) {
    const double radius = cylinder.Radius();
    if (amount > 2 * std::numbers::pi * radius) {
        return too_far(side);
    }
    const auto from = side.place(side.first());
    const auto to = side.place(side.last());
    const gp_Dir axis = cylinder.Axis().Direction();
    const gp_Pnt middle =
        gp_Pnt(cylinder.Location().XYZ() + axis.XYZ() * gp_Vec(cylinder.Location(), from->at).Dot(gp_Vec(axis)));
    const gp_Dir out(gp_Vec(middle, from->at));
    const bool left = from->off.Dot(gp_Vec(axis.Crossed(out))) > 0;
    const gp_Ax3 frame(middle, left ? axis : axis.Reversed(), out);
    const double length = gp_Vec(from->at, to->at).Dot(gp_Vec(frame.Direction()));
    return turned_strip(side, new Geom_CylindricalSurface(frame, radius), amount / radius, 0, length,
                        amount * std::fabs(length));
}

// Straight lines square to the border: between its own curve and one through their other ends.
Result<Strip> ruled(const BorderSide& side, double amount) {
    constexpr int places = 200;
    Handle(TColgp_HArray1OfPnt) outer = new TColgp_HArray1OfPnt(1, places + 1);
    Handle(TColStd_HArray1OfReal) at = new TColStd_HArray1OfReal(1, places + 1);
    for (int i = 0; i <= places; ++i) {
        const double t = side.first() + (side.last() - side.first()) * i / places;
        const auto place = side.place(t);
        if (!place) {
            return failed(side);
        }
        outer->SetValue(i + 1, place->at.Translated(place->off * amount));
        at->SetValue(i + 1, t);
    }
    GeomAPI_Interpolate through(outer, at, Standard_False, Precision::Confusion());
    through.Perform();
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(side.edge, first, last);
    const Handle(Geom_BSplineCurve) inner =
        GeomConvert::CurveToBSplineCurve(new Geom_TrimmedCurve(curve, first, last), Convert_QuasiAngular);
    if (!through.IsDone() || inner.IsNull()) {
        return failed(side);
    }
    const Handle(Geom_Surface) surface = GeomFill::Surface(inner, through.Curve());
    // The area of straight lines of one length: an integral along the border of how long what they sweep is.
    double area = 0;
    constexpr int shares = 32;
    const double h = 1e-6 * (last - first);
    for (int i = 0; i < shares; ++i) {
        const double from = first + (last - first) * i / shares;
        area += boost::math::quadrature::gauss<double, 7>::integrate(
            [&](double t) {
                const double before = std::max(first, t - h);
                const double behind = std::min(last, t + h);
                const auto here = side.place(t);
                const auto one = side.place(before);
                const auto other = side.place(behind);
                if (!here || !one || !other) {
                    return 0.0;
                }
                const gp_Vec inner_way = gp_Vec(one->at, other->at) / (behind - before);
                const gp_Vec change = (other->off - one->off) / (behind - before);
                return boost::math::quadrature::gauss<double, 7>::integrate(
                    [&](double s) { return (inner_way + change * s).CrossMagnitude(here->off); }, 0.0, amount);
            },
            from, from + (last - first) / shares);
    }
    const BRepBuilderAPI_MakeFace face(surface, Precision::Confusion());
    return face.IsDone() ? Result<Strip>(Strip{face.Face(), side.edge, area}) : failed(side);
}

} // namespace

bool bends_beyond(const BorderSide& side, Continuation continuation) {
    return continuation == Continuation::as_it_bends &&
           BRepAdaptor_Surface(side.face, Standard_False).GetType() == GeomAbs_Cylinder;
}

std::optional<FlatSide> flat_side(const BorderSide& side) {
    const BRepAdaptor_Curve curve(side.edge);
    const auto first = side.place(side.first());
    if (curve.GetType() != GeomAbs_Line || !first) {
        return std::nullopt;
    }
    for (int i = 1; i <= 8; ++i) {
        const auto here = side.place(side.first() + (side.last() - side.first()) * i / 8);
        if (!here || !here->off.IsParallel(first->off, alike) || here->off.Dot(first->off) < 0) {
            return std::nullopt;
        }
    }
    FlatSide flat{side.edge, {first->at, side.place(side.last())->at}, first->along, first->off, {}};
    if (gp_Vec(flat.ends[0], flat.ends[1]).Dot(flat.along) < 0) {
        std::swap(flat.ends[0], flat.ends[1]);
    }
    flat.normal = flat.off.Crossed(flat.along);
    return flat;
}

Strip quad(const FlatSide& side, const gp_Pnt& outer_start, const gp_Pnt& outer_end) {
    BRepBuilderAPI_MakePolygon border(side.ends[0], side.ends[1], outer_end, outer_start, Standard_True);
    const BRepBuilderAPI_MakeFace face(gp_Pln(side.ends[0], gp_Dir(side.normal)), border.Wire());
    const double height = gp_Vec(side.ends[0], outer_start).Dot(side.off);
    const double area = height * (side.ends[0].Distance(side.ends[1]) + outer_start.Distance(outer_end)) / 2;
    return {face.Face(), side.edge, area};
}

Result<Strip> round_or_ruled_strip(const BorderSide& side, double amount, Continuation continuation) {
    const BRepAdaptor_Curve curve(side.edge);
    if (curve.GetType() == GeomAbs_Line && bends_beyond(side, continuation)) {
        return round_a_cylinder(side, BRepAdaptor_Surface(side.face, Standard_False).Cylinder(), amount);
    }
    if (curve.GetType() == GeomAbs_Circle) {
        if (const auto way = turns_with(side, curve.Circle())) {
            if (continuation == Continuation::as_it_bends) {
                if (auto bent = bent_about(side, curve.Circle(), *way, amount)) {
                    return *bent;
                }
            }
            return straight_about(side, curve.Circle(), *way, amount);
        }
    }
    return ruled(side, amount);
}

} // namespace kervo::geom
