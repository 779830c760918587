#include "geom/view/project.h"

#include "geom/kernel/boolean.h"
#include "geom/outline/conjugate.h"
#include "geom/view/turning.h"

#include <Adaptor3d_Curve.hxx>
#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepAlgoAPI_Section.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_Interpolate.hxx>
#include <GeomAdaptor.hxx>
#include <GeomConvert.hxx>
#include <GeomConvert_ApproxCurve.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <TColStd_HArray1OfReal.hxx>
#include <TColgp_HArray1OfPnt.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>

namespace kervo::geom {

namespace {

constexpr double nothing = 1e-7; // mm
constexpr double approximation = 1e-6;
constexpr int highest_degree = 5;

using Flat = std::array<double, 2>;

// Sees points and directions along the normal of a frame.
class View {
public:
    explicit View(const gp_Ax3& frame)
        : origin_(frame.Location()), x_(frame.XDirection()), y_(frame.YDirection()), normal_(frame.Direction()) {}
    [[nodiscard]] Flat place(const gp_Pnt& p) const {
        const gp_Vec from(origin_, p);
        return {from.Dot(x_), from.Dot(y_)};
    }
    [[nodiscard]] Flat way(const gp_Vec& v) const { return {v.Dot(x_), v.Dot(y_)}; }
    [[nodiscard]] const gp_Vec& normal() const { return normal_; }

private:
    gp_Pnt origin_;
    gp_Vec x_, y_, normal_;
};

std::optional<OutlinePiece> line_from(const Flat& a, const Flat& b) {
    if (std::hypot(a[0] - b[0], a[1] - b[1]) < nothing) {
        return std::nullopt;
    }
    OutlinePiece line;
    line.start = a;
    line.end = b;
    return line;
}

// A circle or ellipse, given by its centre and two half diameters at right angles in space.
std::optional<OutlinePiece> round_from(const View& view, const gp_Pnt& center, const gp_Vec& u, const gp_Vec& v,
                                       double from, double to) {
    const Flat middle = view.place(center);
    const Flat a = view.way(u);
    const Flat b = view.way(v);
    const auto at = [&](double t) {
        return Flat{middle[0] + a[0] * std::cos(t) + b[0] * std::sin(t),
                    middle[1] + a[1] * std::cos(t) + b[1] * std::sin(t)};
    };
    const EllipseAxes axes = axes_from(a, b);
    const double half = std::hypot(axes.major[0], axes.major[1]);
    if (axes.other < 1e-9 * half) { // seen from its edge: from where it reaches farthest to one side, to the other
        double low = 1e300;
        double high = -1e300;
        const auto reach = [&](double t) {
            const double r = std::cos(t - axes.phase);
            low = std::min(low, r);
            high = std::max(high, r);
        };
        reach(from);
        reach(to);
        for (double t = axes.phase + std::numbers::pi * std::ceil((from - axes.phase) / std::numbers::pi); t < to;
             t += std::numbers::pi) {
            reach(t);
        }
        return line_from({middle[0] + low * axes.major[0], middle[1] + low * axes.major[1]},
                         {middle[0] + high * axes.major[0], middle[1] + high * axes.major[1]});
    }
    OutlinePiece piece;
    piece.center = middle;
    piece.start = at(from);
    piece.end = at(to);
    piece.from = axes.angle(from);
    piece.sweep = axes.turned ? from - to : to - from;
    if (half - axes.other <= 1e-9 * half) {
        piece.radius = half;
        piece.from += std::atan2(axes.major[1], axes.major[0]);
    } else {
        piece.axis = axes.major;
        piece.other_half = axes.other;
    }
    return piece;
}

std::optional<OutlinePiece> spline_from(const View& view, const Handle(Geom_Curve) & curve) {
    Handle(Geom_BSplineCurve) spline = GeomConvert::CurveToBSplineCurve(curve);
    if (spline->IsRational() || spline->Degree() > highest_degree || spline->IsPeriodic()) {
        GeomConvert_ApproxCurve approximate(curve, approximation, GeomAbs_C2, 200, highest_degree);
        if (!approximate.HasResult()) {
            return std::nullopt;
        }
        spline = approximate.Curve();
    }
    OutlinePiece piece;
    piece.degree = spline->Degree();
    for (int i = 1; i <= spline->NbPoles(); ++i) {
        piece.poles.push_back(view.place(spline->Pole(i)));
    }
    for (int i = 1; i <= spline->NbKnots(); ++i) {
        piece.knots.insert(piece.knots.end(), static_cast<size_t>(spline->Multiplicity(i)), spline->Knot(i));
    }
    piece.start = piece.poles.front();
    piece.end = piece.poles.back();
    piece.from = piece.knots.front();
    piece.sweep = piece.knots.back() - piece.knots.front();
    const bool runs = std::any_of(piece.poles.begin(), piece.poles.end(), [&](const Flat& p) {
        return std::hypot(p[0] - piece.start[0], p[1] - piece.start[1]) > nothing;
    });
    return runs ? std::optional(piece) : std::nullopt;
}

std::optional<std::vector<OutlinePiece>> seen_of(const View& view,
                                                 const std::optional<std::vector<Handle(Geom_BSplineCurve)>>& curves) {
    if (!curves) {
        return std::nullopt;
    }
    std::vector<OutlinePiece> seen;
    for (const Handle(Geom_BSplineCurve) & curve : *curves) {
        if (const auto piece = spline_from(view, curve)) {
            seen.push_back(*piece);
        }
    }
    return seen;
}

// Where the function changes its sign between `low` and `high`, looked at in 400 steps.
std::vector<double> sign_changes(const std::function<double(double)>& of, double low, double high) {
    constexpr int steps = 400;
    std::vector<double> found;
    for (int i = 0; i < steps; ++i) {
        double one = low + (high - low) * i / steps;
        double other = low + (high - low) * (i + 1) / steps;
        const bool negative = of(one) < 0;
        if (negative == (of(other) < 0)) {
            continue;
        }
        for (int halving = 0; halving < 60; ++halving) {
            const double middle = (one + other) / 2;
            ((of(middle) < 0) == negative ? one : other) = middle;
        }
        found.push_back(one);
    }
    return found;
}

// A curve given place by place over one turn, as a spline within `approximation` of it; null where none is found.
Handle(Geom_BSplineCurve) once_round(const std::function<gp_Pnt(double)>& at) {
    constexpr double turn = 2 * std::numbers::pi;
    constexpr double small = 1e-5;
    const gp_Vec along(at(-small), at(small));
    for (int count = 64; count <= 4096; count *= 2) {
        Handle(TColgp_HArray1OfPnt) places = new TColgp_HArray1OfPnt(1, count + 1);
        Handle(TColStd_HArray1OfReal) angles = new TColStd_HArray1OfReal(1, count + 1);
        for (int i = 0; i <= count; ++i) {
            angles->SetValue(i + 1, turn * i / count);
            places->SetValue(i + 1, at(turn * (i % count) / count));
        }
        GeomAPI_Interpolate interpolate(places, angles, Standard_False, nothing);
        interpolate.Load(along / (2 * small), along / (2 * small), Standard_False);
        interpolate.Perform();
        if (!interpolate.IsDone()) {
            continue;
        }
        double off = 0;
        for (int i = 0; i < count; ++i) {
            const double middle = turn * (i + 0.5) / count;
            off = std::max(off, interpolate.Curve()->Value(middle).Distance(at(middle)));
        }
        if (off < approximation) {
            return interpolate.Curve();
        }
    }
    return nullptr;
}

// The turning curves of a whole torus. At the angle u about its axis A, its normal is cos(v) E(u) + sin(v) A; it lies
// across the line of sight d where tan(v) = -E.d / A.d: once on the outer side, once on the inner.
std::optional<std::vector<OutlinePiece>> turning_on_torus(const View& view, const gp_Torus& torus) {
    constexpr double turn = 2 * std::numbers::pi;
    const gp_Ax3 axes = torus.Position();
    const gp_Vec x(axes.XDirection());
    const gp_Vec y(axes.YDirection());
    const gp_Vec axis(axes.Direction());
    const double a = view.normal().Dot(x);
    const double b = view.normal().Dot(y);
    const double c = view.normal().Dot(axis);
    std::vector<OutlinePiece> curves;
    const auto circle = [&](const gp_Pnt& center, const gp_Vec& u, const gp_Vec& v) {
        if (const auto piece = round_from(view, center, u, v, 0, turn)) {
            curves.push_back(*piece);
        }
    };
    if (std::hypot(a, b) < 1e-9) { // seen along its axis
        for (const double radius :
             {torus.MajorRadius() - torus.MinorRadius(), torus.MajorRadius() + torus.MinorRadius()}) {
            circle(axes.Location(), x * radius, y * radius);
        }
        return curves;
    }
    if (std::fabs(c) < 1e-9) { // from the side: where it is highest and lowest, and where it turns away left and right
        const gp_Vec across = (x * -b + y * a).Normalized();
        for (const double side : {-1.0, 1.0}) {
            circle(axes.Location().Translated(axis * (side * torus.MinorRadius())), x * torus.MajorRadius(),
                   y * torus.MajorRadius());
            circle(axes.Location().Translated(across * (side * torus.MajorRadius())), across * torus.MinorRadius(),
                   axis * torus.MinorRadius());
        }
        return curves;
    }
    for (const double side : {-1.0, 1.0}) {
        const auto at = [&](double u) {
            const gp_Vec out = x * std::cos(u) + y * std::sin(u);
            const double v = std::atan2(-side * out.Dot(view.normal()), side * c);
            return axes.Location().Translated(out * (torus.MajorRadius() + torus.MinorRadius() * std::cos(v)) +
                                              axis * (torus.MinorRadius() * std::sin(v)));
        };
        const Handle(Geom_BSplineCurve) curve = once_round(at);
        const auto piece = curve.IsNull() ? std::nullopt : spline_from(view, curve);
        if (!piece) {
            return std::nullopt;
        }
        curves.push_back(*piece);
    }
    return curves;
}

// A surface of revolution whose normal at the profile point (r, z) and the angle u is z' E(u) - r' A. Seen along its
// axis it turns where r' = 0, seen square to it, in two meridians and where z' = 0.
std::optional<std::vector<OutlinePiece>> turning_on_revolution(const View& view, const BRepAdaptor_Surface& surface,
                                                               const SurfaceBounds& bounds) {
    const gp_Ax1 axis = surface.AxeOfRevolution();
    const double along = view.normal().Dot(gp_Vec(axis.Direction()));
    const bool from_the_end = std::fabs(along) > 1 - 1e-14;
    const bool from_the_side = std::fabs(along) < 1e-9;
    std::vector<OutlinePiece> curves;
    if (!from_the_end && !from_the_side) {
        return seen_of(view, turning_splines(surface, bounds, view.normal()));
    }
    const auto outward = [&](const gp_Pnt& p) { // from the axis to the point
        const gp_Vec from(axis.Location(), p);
        return from - gp_Vec(axis.Direction()) * from.Dot(gp_Vec(axis.Direction()));
    };
    const auto turn = [&](double v) { // r' or z'
        gp_Pnt p;
        gp_Vec du;
        gp_Vec dv;
        surface.D1(bounds.u0, v, p, du, dv);
        return from_the_end ? dv.Dot(outward(p)) : dv.Dot(gp_Vec(axis.Direction()));
    };
    for (const double v : sign_changes(turn, bounds.v0, bounds.v1)) {
        const gp_Pnt p = surface.Value(bounds.u0, v);
        const gp_Vec out = outward(p);
        const auto circle =
            round_from(view, p.Translated(-out), out, gp_Vec(axis.Direction()).Crossed(out), 0, 2 * std::numbers::pi);
        if (circle) {
            curves.push_back(*circle);
        }
    }
    if (from_the_side) {
        const auto profile = surface.BasisCurve();
        const Handle(Geom_Curve) meridian = GeomAdaptor::MakeCurve(*profile);
        const gp_Pnt p = profile->Value((bounds.v0 + bounds.v1) / 2);
        const double angle = outward(p).AngleWithRef(view.normal(), gp_Vec(axis.Direction()));
        for (const double side : {-1.0, 1.0}) {
            gp_Trsf turned;
            turned.SetRotation(axis, angle + side * std::numbers::pi / 2);
            const Handle(Geom_Curve) seen = Handle(Geom_Curve)::DownCast(meridian->Transformed(turned));
            if (const auto piece = spline_from(view, new Geom_TrimmedCurve(seen, bounds.v0, bounds.v1))) {
                curves.push_back(*piece);
            }
        }
    }
    return curves;
}

// Generators of a face along `along`, over `v0` to `v1` from their foot.
std::optional<OutlinePiece> generator(const View& view, const gp_Pnt& foot, const gp_Vec& along, double v0, double v1) {
    return line_from(view.place(foot.Translated(along * v0)), view.place(foot.Translated(along * v1)));
}

} // namespace

std::optional<OutlinePiece> project_edge(const TopoDS_Shape& shape, const gp_Ax3& frame) {
    const TopoDS_Edge& edge = TopoDS::Edge(shape);
    if (BRep_Tool::Degenerated(edge)) {
        return std::nullopt;
    }
    const View view(frame);
    const BRepAdaptor_Curve curve(edge);
    const double from = curve.FirstParameter();
    const double to = curve.LastParameter();
    switch (curve.GetType()) {
    case GeomAbs_Line:
        return line_from(view.place(curve.Value(from)), view.place(curve.Value(to)));
    case GeomAbs_Circle: {
        const gp_Circ c = curve.Circle();
        return round_from(view, c.Location(), gp_Vec(c.XAxis().Direction()) * c.Radius(),
                          gp_Vec(c.YAxis().Direction()) * c.Radius(), from, to);
    }
    case GeomAbs_Ellipse: {
        const gp_Elips e = curve.Ellipse();
        return round_from(view, e.Location(), gp_Vec(e.XAxis().Direction()) * e.MajorRadius(),
                          gp_Vec(e.YAxis().Direction()) * e.MinorRadius(), from, to);
    }
    default: {
        double first = 0;
        double last = 0;
        const Handle(Geom_Curve) whole = BRep_Tool::Curve(edge, first, last);
        return whole.IsNull() ? std::nullopt : spline_from(view, new Geom_TrimmedCurve(whole, first, last));
    }
    }
}

Result<std::vector<SectionEdge>> section_edges(const TopoDS_Shape& body, const gp_Pln& plane) {
    BRepAlgoAPI_Section section;
    section.Approximation(Standard_True);
    section.ComputePCurveOn1(Standard_False);
    if (!run_boolean(section, body, BRepBuilderAPI_MakeFace(plane).Face())) {
        return error_finding("section.failed", "The kernel cannot tell where the plane cuts this body.",
                             "Move the plane a little, or take edges of the body.");
    }
    std::vector<SectionEdge> edges;
    for (TopExp_Explorer it(section.Shape(), TopAbs_EDGE); it.More(); it.Next()) {
        TopoDS_Shape face;
        section.HasAncestorFaceOn1(it.Current(), face);
        edges.push_back({it.Current(), face});
    }
    return edges;
}

std::optional<std::vector<OutlinePiece>> turning_curves(const TopoDS_Shape& shape, const gp_Ax3& frame) {
    const TopoDS_Face& face = TopoDS::Face(shape);
    const View view(frame);
    const BRepAdaptor_Surface surface(face);
    double u0 = 0;
    double u1 = 0;
    double v0 = 0;
    double v1 = 0;
    BRepTools::UVBounds(face, u0, u1, v0, v1);
    std::vector<OutlinePiece> curves;
    const auto add = [&](const std::optional<OutlinePiece>& piece) {
        if (piece) {
            curves.push_back(*piece);
        }
    };
    const auto around = [](const gp_Ax3& axes, double angle) {
        return gp_Vec(axes.XDirection()) * std::cos(angle) + gp_Vec(axes.YDirection()) * std::sin(angle);
    };
    switch (surface.GetType()) {
    case GeomAbs_Plane:
        break;
    case GeomAbs_Cylinder:
    case GeomAbs_Cone: {
        // The face's normal at the angle u is cos(a) (X cos u + Y sin u) - sin(a) Z, a the half angle of the cone.
        const bool cone = surface.GetType() == GeomAbs_Cone;
        const gp_Ax3 axes = cone ? surface.Cone().Position() : surface.Cylinder().Position();
        const double slope = cone ? surface.Cone().SemiAngle() : 0;
        const double radius = cone ? surface.Cone().RefRadius() : surface.Cylinder().Radius();
        const double a = view.normal().Dot(gp_Vec(axes.XDirection()));
        const double b = view.normal().Dot(gp_Vec(axes.YDirection()));
        const double c = view.normal().Dot(gp_Vec(axes.Direction())) * std::tan(slope);
        const double r = std::hypot(a, b);
        if (r < 1e-12 || std::fabs(c) > r) {
            break; // seen along its axis, or from within the cone
        }
        for (const double side : {-1.0, 1.0}) {
            const gp_Vec out = around(axes, std::atan2(b, a) + side * std::acos(c / r));
            add(generator(view, axes.Location().Translated(out * radius),
                          out * std::sin(slope) + gp_Vec(axes.Direction()) * std::cos(slope), v0, v1));
        }
        break;
    }
    case GeomAbs_Sphere: {
        const gp_Sphere sphere = surface.Sphere();
        OutlinePiece circle;
        circle.center = view.place(sphere.Location());
        circle.radius = sphere.Radius();
        circle.sweep = 2 * std::numbers::pi;
        circle.start = circle.end = {circle.center[0] + circle.radius, circle.center[1]};
        curves.push_back(circle);
        break;
    }
    case GeomAbs_Torus:
        return turning_on_torus(view, surface.Torus());
    case GeomAbs_SurfaceOfExtrusion: {
        const gp_Vec along(surface.Direction());
        if (along.Crossed(view.normal()).Magnitude() < 1e-12) {
            break;
        }
        const auto curve = surface.BasisCurve();
        // It turns away where its normal, tangent x direction, lies across the line of sight.
        const auto turn = [&](double u) {
            gp_Pnt p;
            gp_Vec tangent;
            curve->D1(u, p, tangent);
            return tangent.Crossed(along).Dot(view.normal());
        };
        for (const double u : sign_changes(turn, u0, u1)) {
            add(generator(view, curve->Value(u), along, v0, v1));
        }
        break;
    }
    case GeomAbs_SurfaceOfRevolution:
        return turning_on_revolution(view, surface, {u0, u1, v0, v1});
    default:
        return seen_of(view, turning_splines(surface, {u0, u1, v0, v1}, view.normal()));
    }
    return curves;
}

} // namespace kervo::geom
