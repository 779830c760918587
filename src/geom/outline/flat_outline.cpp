#include "geom/outline/flat_outline.h"

#include "geom/outline/walls.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRep_Tool.hxx>
#include <GeomAdaptor_Curve.hxx>
#include <GeomConvert_BSplineCurveToBezierCurve.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_BezierCurve.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <cmath>
#include <set>

namespace kervo::geom {

namespace {

using Place = FlatOutline::Place;
constexpr double turn = 2 * M_PI;
constexpr int chords_per_turn = 64;
constexpr int parts_of_a_span = 4;

double distance(const Place& p, const Place& q) {
    return std::hypot(p[0] - q[0], p[1] - q[1]);
}
double distance(const Place& p, const Chord& chord) {
    const double x = chord.b[0] - chord.a[0];
    const double y = chord.b[1] - chord.a[1];
    const double square = x * x + y * y;
    const double t =
        square > 0 ? std::clamp(((p[0] - chord.a[0]) * x + (p[1] - chord.a[1]) * y) / square, 0.0, 1.0) : 0;
    return std::hypot(chord.a[0] + t * x - p[0], chord.a[1] + t * y - p[1]);
}
double side(const Place& a, const Place& b, const Place& p) {
    return (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]);
}
double distance(const Chord& one, const Chord& other) {
    const bool cross = side(one.a, one.b, other.a) * side(one.a, one.b, other.b) < 0 &&
                       side(other.a, other.b, one.a) * side(other.a, other.b, one.b) < 0;
    return cross ? 0
                 : std::min({distance(one.a, other), distance(one.b, other), distance(other.a, one),
                             distance(other.b, one)});
}

// `at` runs over an arc of a circle of this radius, or of an ellipse no longer than it.
template <class At> void add_round(FlatOutline& out, const At& at, double from, double sweep, double radius) {
    const int count = std::max(1, static_cast<int>(std::ceil(std::fabs(sweep) * chords_per_turn / turn - 1e-9)));
    const double bulge = radius * (1 - std::cos(sweep / count / 2));
    Place last = at(from);
    for (int i = 1; i <= count; ++i) {
        const Place next = at(from + sweep * i / count);
        out.chords.push_back({last, next, bulge});
        last = next;
    }
}

// A Bézier curve lies within the hull of its poles.
template <class Project>
void add_spline(FlatOutline& out, const Handle(Geom_BSplineCurve) & spline, const Project& at) {
    GeomConvert_BSplineCurveToBezierCurve spans(spline);
    for (int i = 1; i <= spans.NbArcs(); ++i) {
        for (int part = 0; part < parts_of_a_span; ++part) {
            const auto piece = Handle(Geom_BezierCurve)::DownCast(spans.Arc(i)->Copy());
            piece->Segment(static_cast<double>(part) / parts_of_a_span,
                           static_cast<double>(part + 1) / parts_of_a_span);
            Chord chord{at(piece->StartPoint()), at(piece->EndPoint()), 0};
            for (int k = 2; k < piece->NbPoles(); ++k) {
                chord.bulge = std::max(chord.bulge, distance(at(piece->Pole(k)), chord));
            }
            out.chords.push_back(chord);
        }
    }
}

// False for curves that have no bounds here.
template <class Project> bool add_curve(FlatOutline& out, const Adaptor3d_Curve& curve, const Project& place) {
    const double first = curve.FirstParameter();
    const double last = curve.LastParameter();
    const auto at = [&](double t) { return place(curve.Value(t)); };
    switch (curve.GetType()) {
    case GeomAbs_Line:
        out.chords.push_back({at(first), at(last), 0});
        return true;
    case GeomAbs_Circle:
        add_round(out, at, first, last - first, curve.Circle().Radius());
        return true;
    case GeomAbs_Ellipse:
        add_round(out, at, first, last - first, curve.Ellipse().MajorRadius());
        return true;
    case GeomAbs_BSplineCurve: {
        const auto spline = Handle(Geom_BSplineCurve)::DownCast(curve.BSpline()->Copy());
        spline->Segment(first, last);
        add_spline(out, spline, place);
        return true;
    }
    default:
        return false;
    }
}

void bound(FlatOutline& out) {
    if (out.circle) {
        return;
    }
    Place low{1e300, 1e300};
    Place high{-1e300, -1e300};
    for (const Chord& chord : out.chords) {
        for (const size_t i : {0U, 1U}) {
            low[i] = std::min({low[i], chord.a[i], chord.b[i]});
            high[i] = std::max({high[i], chord.a[i], chord.b[i]});
        }
    }
    out.center = {(low[0] + high[0]) / 2, (low[1] + high[1]) / 2};
    for (const Chord& chord : out.chords) {
        out.reach = std::max(
            {out.reach, distance(out.center, chord.a) + chord.bulge, distance(out.center, chord.b) + chord.bulge});
    }
}

} // namespace

bool FlatOutline::apart_from(const FlatOutline& other) const {
    const double between = distance(center, other.center);
    if (between > reach + other.reach + gap) {
        return true;
    }
    if (circle && other.circle) {
        return between + std::min(reach, other.reach) + gap < std::max(reach, other.reach);
    }
    if (other.circle) {
        return other.apart_from(*this);
    }
    for (const Chord& chord : other.chords) {
        if (distance(center, chord) > reach + chord.bulge + gap) {
            continue;
        }
        if (circle) {
            if (std::max(distance(center, chord.a), distance(center, chord.b)) + chord.bulge + gap >= reach) {
                return false;
            }
            continue;
        }
        for (const Chord& own : chords) {
            if (distance(own, chord) <= own.bulge + chord.bulge + gap) {
                return false;
            }
        }
    }
    return true;
}

bool FlatOutline::contains(const Place& place) const {
    if (circle) {
        return distance(center, place) < reach;
    }
    bool inside = false;
    for (const Chord& chord : chords) {
        if ((chord.a[1] > place[1]) != (chord.b[1] > place[1]) &&
            place[0] < chord.a[0] + (place[1] - chord.a[1]) * (chord.b[0] - chord.a[0]) / (chord.b[1] - chord.a[1])) {
            inside = !inside;
        }
    }
    return inside;
}

std::optional<FlatOutline> flatten(const OutlineLoop& loop) {
    FlatOutline out;
    std::set<int> vertices;
    for (const OutlinePiece& piece : loop) {
        if (!vertices.insert(piece.start_vertex).second) {
            return std::nullopt;
        }
        if (loop.size() == 1 && piece.poles.empty() && piece.radius > 0 && piece.other_half <= 0) {
            out.circle = true;
            out.center = piece.center;
            out.reach = piece.radius;
            continue;
        }
        double first = 0;
        double last = 0;
        const Handle(Geom_Curve) curve = curve_on(gp_Ax3(gp::XOY()), piece, {}, first, last);
        add_curve(out, GeomAdaptor_Curve(curve, first, last), [](const gp_Pnt& p) { return Place{p.X(), p.Y()}; });
    }
    out.start = loop.front().start;
    bound(out);
    return out;
}

std::optional<FlatOutline> flatten(const TopoDS_Shape& wire, const gp_Ax3& frame) {
    FlatOutline out;
    const auto place = [&](const gp_Pnt& p) {
        const gp_XYZ from = p.XYZ() - frame.Location().XYZ();
        return Place{from * frame.XDirection().XYZ(), from * frame.YDirection().XYZ()};
    };
    double tolerance = 0;
    for (TopoDS_Iterator it(wire); it.More(); it.Next()) {
        const TopoDS_Edge& edge = TopoDS::Edge(it.Value());
        if (BRep_Tool::Degenerated(edge)) {
            continue;
        }
        tolerance = std::max(tolerance, BRep_Tool::Tolerance(edge));
        const BRepAdaptor_Curve curve(edge);
        const bool whole = curve.LastParameter() - curve.FirstParameter() > turn - 1e-9;
        if (curve.GetType() == GeomAbs_Circle && whole && wire.NbChildren() == 1 && tolerance <= coincidence &&
            curve.Circle().Axis().Direction().IsParallel(frame.Direction(), 1e-12)) {
            out.circle = true;
            out.start = place(curve.Value(curve.FirstParameter()));
            out.center = place(curve.Circle().Location());
            out.reach = curve.Circle().Radius();
            return out;
        }
        if (!add_curve(out, curve, place)) {
            return std::nullopt;
        }
    }
    if (out.chords.empty()) {
        return std::nullopt;
    }
    out.start = out.chords.front().a;
    for (Chord& chord : out.chords) {
        chord.bulge += tolerance;
    }
    bound(out);
    return out;
}

} // namespace kervo::geom
