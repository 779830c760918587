#include "geom/outline/walls.h"

#include "geom/kernel/knots.h"

#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Geom2d_BSplineCurve.hxx>
#include <Geom2d_Circle.hxx>
#include <Geom2d_Ellipse.hxx>
#include <Geom2d_Line.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_Circle.hxx>
#include <Geom_CylindricalSurface.hxx>
#include <Geom_Ellipse.hxx>
#include <Geom_Line.hxx>
#include <Geom_SurfaceOfLinearExtrusion.hxx>
#include <Precision.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <TColgp_Array1OfPnt2d.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr double tolerance = coincidence;

gp_Pnt place(const gp_Ax3& frame, double x, double y, double height) {
    return gp_Pnt(frame.Location().XYZ() + frame.XDirection().XYZ() * x + frame.YDirection().XYZ() * y +
                  frame.Direction().XYZ() * height);
}

bool is_conic(const OutlinePiece& piece) {
    return piece.poles.empty() && (piece.radius > 0 || piece.other_half > 0);
}
// On the wall over a spline the edge at parameter t lies at (t, height): its poles are the means of the knots.
Handle(Geom2d_Curve) sloping_spline(const OutlinePiece& piece, const Level& level) {
    TColgp_Array1OfPnt2d poles(1, static_cast<int>(piece.poles.size()));
    for (size_t i = 0; i < piece.poles.size(); ++i) {
        double mean = 0;
        for (int k = 1; k <= piece.degree; ++k) {
            mean += piece.knots[i + static_cast<size_t>(k)] / piece.degree;
        }
        poles.SetValue(static_cast<int>(i) + 1, gp_Pnt2d(mean, level.at(piece.poles[i][0], piece.poles[i][1])));
    }
    const CountedKnots knots(piece.knots);
    return new Geom2d_BSplineCurve(poles, knots.places, knots.counts, piece.degree);
}

// (t + shift, middle + size cos t) for t from `first` to `last`, by pieces of degree 5 that share place, first and
// second derivative with it: within size * 1e-9.
Handle(Geom2d_Curve) cosine(double first, double last, double shift, double middle, double size) {
    const int pieces = std::max(2, static_cast<int>(std::ceil((last - first) * 48 / (2 * M_PI))));
    const double step = (last - first) / pieces;
    TColgp_Array1OfPnt2d poles(1, 3 * pieces + 3);
    TColStd_Array1OfReal knots(1, pieces + 1);
    const auto counts = counts_of_pieces(pieces, 5, 3);
    // Bézier points of a piece from the derivatives at its ends; of two that meet with a continuous second derivative
    // and equal steps, the three about the knot are two on the spline: those at the two neighbours of the knot.
    for (int i = 0; i <= pieces; ++i) {
        const double t = first + step * i;
        knots.SetValue(i + 1, t);
        const double f = middle + size * std::cos(t);
        const double d = -size * std::sin(t) * step / 5;
        const double dd = -size * std::cos(t) * step * step / 20;
        const double u = t + shift;
        if (i == 0) {
            poles.SetValue(1, gp_Pnt2d(u, f));
            poles.SetValue(2, gp_Pnt2d(u + step / 5, f + d));
            poles.SetValue(3, gp_Pnt2d(u + 2 * step / 5, f + 2 * d + dd));
        } else if (i == pieces) {
            poles.SetValue(3 * i + 1, gp_Pnt2d(u - 2 * step / 5, f - 2 * d + dd));
            poles.SetValue(3 * i + 2, gp_Pnt2d(u - step / 5, f - d));
            poles.SetValue(3 * i + 3, gp_Pnt2d(u, f));
        } else { // a knot that counts three of six: blossoms at it, with two, one and none of the neighbour behind
            poles.SetValue(3 * i + 1, gp_Pnt2d(u - 2 * step / 5, f - 2 * d + dd));
            poles.SetValue(3 * i + 2, gp_Pnt2d(u, f - dd));
            poles.SetValue(3 * i + 3, gp_Pnt2d(u + 2 * step / 5, f + 2 * d + dd));
        }
    }
    return new Geom2d_BSplineCurve(poles, knots, counts, 5);
}

Handle(Geom2d_Curve) seen_on(const Handle(Geom_Curve) & curve, const gp_Ax3& plane) {
    const gp_XYZ x = plane.XDirection().XYZ();
    const gp_XYZ y = plane.YDirection().XYZ();
    const auto place = [&](const gp_Pnt& p) {
        const gp_XYZ from = p.XYZ() - plane.Location().XYZ();
        return gp_Pnt2d(from * x, from * y);
    };
    const auto way = [&](const gp_Dir& d) { return gp_Dir2d(d.XYZ() * x, d.XYZ() * y); };
    if (const auto line = Handle(Geom_Line)::DownCast(curve); !line.IsNull()) {
        return new Geom2d_Line(place(line->Position().Location()), way(line->Position().Direction()));
    }
    if (const auto conic = Handle(Geom_Conic)::DownCast(curve); !conic.IsNull()) {
        const gp_Ax22d axes(place(conic->Location()), way(conic->XAxis().Direction()), way(conic->YAxis().Direction()));
        if (const auto ellipse = Handle(Geom_Ellipse)::DownCast(curve); !ellipse.IsNull()) {
            return new Geom2d_Ellipse(axes, ellipse->MajorRadius(), ellipse->MinorRadius());
        }
        return new Geom2d_Circle(axes, Handle(Geom_Circle)::DownCast(curve)->Radius());
    }
    const auto spline = Handle(Geom_BSplineCurve)::DownCast(curve);
    TColgp_Array1OfPnt2d poles(1, spline->NbPoles());
    for (int i = 1; i <= spline->NbPoles(); ++i) {
        poles.SetValue(i, place(spline->Pole(i)));
    }
    return new Geom2d_BSplineCurve(poles, spline->Knots(), spline->Multiplicities(), spline->Degree());
}

} // namespace

bool is_line(const OutlinePiece& piece) {
    return piece.poles.empty() && !is_conic(piece);
}
bool is_arc(const OutlinePiece& piece) {
    return is_conic(piece) && piece.other_half <= 0;
}

bool runs_forward(const OutlinePiece& piece) {
    return is_line(piece) || piece.sweep > 0;
}

std::optional<Level> level_of(const gp_Pln& plane, const gp_Ax3& frame) {
    const gp_XYZ normal = plane.Axis().Direction().XYZ();
    const double along = normal * frame.Direction().XYZ();
    if (std::fabs(along) < 1e-6) {
        return std::nullopt;
    }
    Level level;
    level.height = (plane.Location().XYZ() - frame.Location().XYZ()) * normal / along;
    level.slope_x = -(normal * frame.XDirection().XYZ()) / along;
    level.slope_y = -(normal * frame.YDirection().XYZ()) / along;
    if (std::hypot(level.slope_x, level.slope_y) < 1e-11) {
        level.slope_x = level.slope_y = 0;
    }
    return level;
}

bool Walls::can_meet(const Level& level) const {
    return level.flat() ||
           std::none_of(loop_.begin(), loop_.end(), [](const auto& p) { return is_conic(p) && !is_arc(p); });
}

Handle(Geom_Curve)
    curve_on(const gp_Ax3& frame, const OutlinePiece& piece, const Level& level, double& first, double& last) {
    const auto lifted = [&](const std::array<double, 2>& p) { return place(frame, p[0], p[1], level.at(p[0], p[1])); };
    if (!piece.poles.empty()) {
        TColgp_Array1OfPnt poles(1, static_cast<int>(piece.poles.size()));
        for (int i = 1; i <= poles.Upper(); ++i) {
            poles.SetValue(i, lifted(piece.poles[static_cast<size_t>(i) - 1]));
        }
        first = piece.knots.front();
        last = piece.knots.back();
        return spline_over(poles, piece.knots, piece.degree);
    }
    if (!is_conic(piece)) {
        const gp_Pnt start = lifted(piece.start);
        const gp_Vec run(start, lifted(piece.end));
        first = 0;
        last = run.Magnitude();
        return new Geom_Line(start, gp_Dir(run));
    }
    first = piece.sweep > 0 ? piece.from : piece.from + piece.sweep;
    last = first + std::fabs(piece.sweep);
    const gp_Pnt center = lifted(piece.center);
    if (is_arc(piece) && level.flat()) {
        return new Geom_Circle(gp_Ax2(center, frame.Direction(), frame.XDirection()), piece.radius);
    }
    const auto across = [&](double x, double y, double up) {
        return gp_Vec(frame.XDirection()) * x + gp_Vec(frame.YDirection()) * y + gp_Vec(frame.Direction()) * up;
    };
    if (is_arc(piece)) { // longest along the slope
        const double slope = std::hypot(level.slope_x, level.slope_y);
        const double turn = std::atan2(level.slope_y, level.slope_x);
        first -= turn;
        last -= turn;
        const gp_Ax2 axes(center, gp_Dir(across(-level.slope_x, -level.slope_y, 1)),
                          gp_Dir(across(level.slope_x / slope, level.slope_y / slope, slope)));
        return new Geom_Ellipse(axes, piece.radius * std::sqrt(1 + slope * slope), piece.radius);
    }
    // The kernel wants the longer axis first; from the other one the eccentric angle is a quarter turn behind.
    const double half = std::hypot(piece.axis[0], piece.axis[1]);
    const bool longer = half >= piece.other_half;
    const gp_Vec x = across(piece.axis[0], piece.axis[1], 0);
    const gp_Vec major = longer ? x : gp_Vec(frame.Direction()).Crossed(x);
    first += longer ? 0 : -M_PI / 2;
    last += longer ? 0 : -M_PI / 2;
    return new Geom_Ellipse(gp_Ax2(center, frame.Direction(), gp_Dir(major)), std::max(half, piece.other_half),
                            std::min(half, piece.other_half));
}

std::array<double, 2> place_on(const OutlinePiece& piece, double t) {
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) curve = curve_on(gp_Ax3(), piece, {}, first, last);
    const gp_Pnt place = curve->Value(runs_forward(piece) ? first + (last - first) * t : last - (last - first) * t);
    return {place.X(), place.Y()};
}

Handle(Geom_Surface) Walls::surface(const OutlinePiece& piece) const {
    if (is_arc(piece)) {
        return new Geom_CylindricalSurface(
            gp_Ax3(place(frame_, piece.center[0], piece.center[1], 0), frame_.Direction(), frame_.XDirection()),
            piece.radius);
    }
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) base = curve_on(frame_, piece, {}, first, last);
    if (const auto line = Handle(Geom_Line)::DownCast(base); !line.IsNull()) {
        const gp_Dir along = line->Position().Direction();
        return new Geom_Plane(gp_Ax3(line->Position().Location(), along.Crossed(frame_.Direction()), along));
    }
    return new Geom_SurfaceOfLinearExtrusion(base, frame_.Direction());
}

TopoDS_Edge edge_on(const Handle(Geom_Curve) & curve, double first, double last, const TopoDS_Vertex& start,
                    const TopoDS_Vertex& end) {
    const BRep_Builder builder;
    for (const auto& [vertex, u] : {std::pair(&start, first), std::pair(&end, last)}) {
        const double off = BRep_Tool::Pnt(*vertex).Distance(curve->Value(u));
        if (off > tolerance / 2) {
            builder.UpdateVertex(*vertex, 1.01 * off + tolerance);
        }
    }
    TopoDS_Edge edge;
    builder.MakeEdge(edge, curve, tolerance);
    builder.Add(edge, start.Oriented(TopAbs_FORWARD));
    builder.Add(edge, end.Oriented(TopAbs_REVERSED));
    builder.Range(edge, first, last, Standard_True);
    return edge;
}

Rim Walls::rim(const Level& level) const {
    const BRep_Builder builder;
    Rim rim;
    rim.level = level;
    const size_t count = loop_.size();
    for (const OutlinePiece& piece : loop_) {
        TopoDS_Vertex vertex;
        builder.MakeVertex(
            vertex, place(frame_, piece.start[0], piece.start[1], level.at(piece.start[0], piece.start[1])), tolerance);
        rim.vertices.push_back(vertex);
    }
    builder.MakeWire(rim.wire);
    for (size_t i = 0; i < count; ++i) {
        const OutlinePiece& piece = loop_[i];
        double first = 0;
        double last = 0;
        const Handle(Geom_Curve) on = curve_on(frame_, piece, level, first, last);
        const bool forward = runs_forward(piece);
        const TopoDS_Edge edge = edge_on(on, first, last, rim.vertices[forward ? i : (i + 1) % count],
                                         rim.vertices[forward ? (i + 1) % count : i]);
        rim.edges.push_back(edge);
        rim.curves.push_back(on);
        builder.Add(rim.wire, edge.Oriented(forward ? TopAbs_FORWARD : TopAbs_REVERSED));
    }
    rim.wire.Closed(Standard_True);
    return rim;
}

namespace {

// The rim's edge in the parameters of the wall.
Handle(Geom2d_Curve) seen_on_wall(const OutlinePiece& piece, const Level& level) {
    if (!piece.poles.empty() && !level.flat()) {
        return sloping_spline(piece, level);
    }
    if (is_conic(piece) && !level.flat()) {
        const double slope = std::hypot(level.slope_x, level.slope_y);
        const double turn = std::atan2(level.slope_y, level.slope_x);
        const double first = (piece.sweep > 0 ? piece.from : piece.from + piece.sweep) - turn;
        return cosine(first, first + std::fabs(piece.sweep), turn, level.at(piece.center[0], piece.center[1]),
                      piece.radius * slope);
    }
    if (is_conic(piece) || !piece.poles.empty()) {
        return new Geom2d_Line(gp_Pnt2d(0, level.height), gp_Dir2d(1, 0));
    }
    const double rise = level.at(piece.end[0], piece.end[1]) - level.at(piece.start[0], piece.start[1]);
    const double length = std::hypot(piece.end[0] - piece.start[0], piece.end[1] - piece.start[1]);
    return new Geom2d_Line(gp_Pnt2d(0, level.at(piece.start[0], piece.start[1])), gp_Dir2d(length, rise));
}

} // namespace

std::vector<TopoDS_Face> Walls::between(const Rim& low, const Rim& high) const {
    const BRep_Builder builder;
    const size_t count = loop_.size();
    std::vector<TopoDS_Edge> uprights; // at the start of each piece
    std::vector<double> feet;
    for (size_t i = 0; i < count; ++i) {
        const auto& place = loop_[i].start;
        feet.push_back(low.level.at(place[0], place[1]));
        uprights.push_back(edge_on(new Geom_Line(BRep_Tool::Pnt(low.vertices[i]), frame_.Direction()), 0,
                                   high.level.at(place[0], place[1]) - feet.back(), low.vertices[i], high.vertices[i]));
    }
    std::vector<TopoDS_Face> faces;
    const TopLoc_Location here;
    for (size_t i = 0; i < count; ++i) {
        const OutlinePiece& piece = loop_[i];
        const Handle(Geom_Surface) on = surface(piece);
        const bool forward = runs_forward(piece);
        const size_t next = (i + 1) % count;
        double first = 0;
        double last = 0;
        BRep_Tool::Range(low.edges[i], first, last);
        if (is_arc(piece)) { // angles of the wall, not of an ellipse on it
            first = piece.sweep > 0 ? piece.from : piece.from + piece.sweep;
            last = first + std::fabs(piece.sweep);
        } else if (is_line(piece)) {
            last = std::hypot(piece.end[0] - piece.start[0], piece.end[1] - piece.start[1]);
        }
        builder.UpdateEdge(low.edges[i], seen_on_wall(piece, low.level), on, here, tolerance);
        builder.UpdateEdge(high.edges[i], seen_on_wall(piece, high.level), on, here, tolerance);
        const size_t left = forward ? i : next;
        const size_t right = forward ? next : i;
        const auto upright = [&](double u, size_t corner) {
            return new Geom2d_Line(gp_Pnt2d(u, feet[corner]), gp_Dir2d(0, 1));
        };
        if (left == right) {
            builder.UpdateEdge(uprights[left], upright(last, left), upright(first, left), on, here, tolerance);
            builder.Continuity(uprights[left], on, on, here, here, GeomAbs_CN);
        } else {
            builder.UpdateEdge(uprights[left], upright(first, left), on, here, tolerance);
            builder.UpdateEdge(uprights[right], upright(last, right), on, here, tolerance);
        }
        TopoDS_Wire wire;
        builder.MakeWire(wire);
        builder.Add(wire, low.edges[i].Oriented(TopAbs_FORWARD));
        builder.Add(wire, uprights[right].Oriented(TopAbs_FORWARD));
        builder.Add(wire, high.edges[i].Oriented(TopAbs_REVERSED));
        builder.Add(wire, uprights[left].Oriented(TopAbs_REVERSED));
        wire.Closed(Standard_True);
        TopoDS_Face face;
        builder.MakeFace(face, on, tolerance);
        builder.Add(face, wire);
        faces.push_back(TopoDS::Face(face.Oriented(forward ? TopAbs_FORWARD : TopAbs_REVERSED)));
    }
    return faces;
}

void Walls::lay_on(const Rim& rim, const Handle(Geom_Plane) & plane, const TopLoc_Location& location) {
    const BRep_Builder builder;
    gp_Ax3 axes = plane->Position();
    if (!location.IsIdentity()) {
        axes.Transform(location.Transformation());
    }
    for (size_t i = 0; i < rim.edges.size(); ++i) {
        builder.UpdateEdge(rim.edges[i], seen_on(rim.curves[i], axes), plane, location, tolerance);
    }
}

} // namespace kervo::geom
