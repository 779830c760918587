#include "geom/measure/face_integrals.h"

#include "geom/kernel/straight_edge.h"
#include "geom/measure/spans.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Curve2d.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <Geom_BSplineSurface.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Iterator.hxx>
#include <gp_Pln.hxx>
#include <gp_Pnt2d.hxx>
#include <gp_Vec2d.hxx>

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <vector>

namespace kervo::geom {

namespace {

template <class Visit> void each_border_edge(const TopoDS_Face& face, const Visit& visit) {
    for (TopoDS_Iterator loop(face); loop.More(); loop.Next()) { // faster than to explore
        if (loop.Value().ShapeType() != TopAbs_WIRE) {
            continue;
        }
        for (TopoDS_Iterator it(loop.Value()); it.More(); it.Next()) {
            const TopoDS_Edge& edge = TopoDS::Edge(it.Value());
            if (edge.Orientation() == TopAbs_FORWARD || edge.Orientation() == TopAbs_REVERSED) {
                visit(edge, edge.Orientation() == TopAbs_FORWARD ? 1.0 : -1.0);
            }
        }
    }
}

// Ends of a border's curves meet within the tolerance only. Where lengths are counted from far away, what such a gap
// encloses with the origin is an area of its own: they are counted from a place on the border.
gp_Pnt place_on_border(const TopoDS_Face& face) {
    for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
        if (!BRep_Tool::Degenerated(TopoDS::Edge(it.Current()))) {
            const BRepAdaptor_Curve curve(TopoDS::Edge(it.Current()));
            return curve.Value(curve.FirstParameter());
        }
    }
    return {};
}

double height_on_border(const TopoDS_Face& face) { // its second parameter
    const TopExp_Explorer first(face, TopAbs_EDGE);
    if (!first.More()) {
        return 0;
    }
    const BRepAdaptor_Curve2d curve(TopoDS::Edge(first.Current()), face);
    return curve.Value(curve.FirstParameter()).Y();
}

FaceIntegral over_flat(const TopoDS_Face& face, const gp_Pln& plane, const gp_Pnt& apex) {
    const gp_Vec up(plane.Axis().Direction());
    const gp_Pnt on_border = place_on_border(face);
    const gp_Pnt origin = on_border.Translated(up * -gp_Vec(plane.Location(), on_border).Dot(up));
    const gp_Vec along(plane.Position().XDirection());
    const gp_Vec across(plane.Position().YDirection());
    double area = 0;
    double first_x = 0;
    double first_y = 0;
    each_border_edge(face, [&](const TopoDS_Edge& edge, double sign) {
        if (BRep_Tool::Degenerated(edge)) {
            return;
        }
        if (const auto ends = straight_ends(edge)) {
            const gp_Vec r0(origin, ends->first);
            const gp_Vec r1(origin, ends->second);
            const double x0 = r0.Dot(along);
            const double y0 = r0.Dot(across);
            const double x1 = r1.Dot(along);
            const double y1 = r1.Dot(across);
            area += sign * (x0 * y1 - x1 * y0) / 2;
            first_x += sign * (y1 - y0) * (x0 * x0 + x0 * x1 + x1 * x1) / 6;
            first_y -= sign * (x1 - x0) * (y0 * y0 + y0 * y1 + y1 * y1) / 6;
            return;
        }
        const BRepAdaptor_Curve curve(edge);
        if (curve.GetType() == GeomAbs_Circle && curve.LastParameter() - curve.FirstParameter() > 2 * M_PI - 1e-12) {
            const gp_Circ circle = curve.Circle();
            const gp_Vec r(origin, circle.Location());
            const bool left = gp_Vec(circle.Axis().Direction()).Dot(along.Crossed(across)) > 0;
            const double disc = (left ? sign : -sign) * M_PI * circle.Radius() * circle.Radius();
            area += disc;
            first_x += disc * r.Dot(along);
            first_y += disc * r.Dot(across);
            return;
        }
        const auto spans = spans_of(curve);
        for (size_t i = 0; i + 1 < spans.size(); ++i) {
            each_gauss_point(spans[i], spans[i + 1], [&](double t, double weight) {
                gp_Pnt p;
                gp_Vec d;
                curve.D1(t, p, d);
                const gp_Vec r(origin, p);
                const double x = r.Dot(along);
                const double y = r.Dot(across);
                const double dx = d.Dot(along);
                const double dy = d.Dot(across);
                area += sign * weight * (x * dy - y * dx) / 2;
                first_x += sign * weight * x * x * dy / 2;
                first_y -= sign * weight * y * y * dx / 2;
            });
        }
    });
    FaceIntegral out;
    out.area = std::fabs(area);
    if (area != 0) {
        out.center = origin.Translated(along * (first_x / area) + across * (first_y / area));
    }
    const double height = gp_Vec(apex, origin).Dot(along.Crossed(across));
    out.cone = area * height / 3;
    out.moment = (out.center.XYZ() * 0.75 + apex.XYZ() * 0.25) * out.cone;
    return out;
}

// As below, with C(u) a circle: along a border that runs around, all integrals are known.
FaceIntegral over_cylinder(const TopoDS_Face& face, const gp_Cylinder& cylinder, const gp_Pnt& apex) {
    const gp_XYZ x = cylinder.Position().XDirection().XYZ();
    const gp_XYZ y = cylinder.Position().YDirection().XYZ();
    const gp_XYZ d = cylinder.Position().Direction().XYZ();
    const double base = height_on_border(face);
    const gp_XYZ from = cylinder.Location().XYZ() + d * base - apex.XYZ();
    const double r = cylinder.Radius();
    const double a = from * x;
    const double b = from * y;
    const double hand = cylinder.Direct() ? 1 : -1;
    double volume = 0;
    double area = 0;
    gp_XYZ moment(0, 0, 0); // of the cone, about the apex
    // g, g cos and g sin over a part of the border, g = hand r (r + a cos u + b sin u), at the height v.
    const auto add = [&](double g, double g_cos, double g_sin, double v) {
        volume -= g * v / 3;
        moment -= (from * g + (x * g_cos + y * g_sin) * r) * (v / 4) + d * (g * v * v / 8);
    };
    each_border_edge(face, [&](const TopoDS_Edge& edge, double sign) {
        const BRepAdaptor_Curve2d curve(edge, face);
        const double first = curve.FirstParameter();
        const double last = curve.LastParameter();
        if (curve.GetType() == GeomAbs_Line && std::fabs(curve.Line().Direction().X()) < 1e-15) {
            return;
        }
        if (curve.GetType() == GeomAbs_Line && std::fabs(curve.Line().Direction().Y()) < 1e-15) {
            const double u0 = curve.Value(first).X();
            const double u1 = curve.Value(last).X();
            const double c = std::sin(u1) - std::sin(u0);
            const double s = std::cos(u0) - std::cos(u1);
            const double twice = (std::sin(2 * u1) - std::sin(2 * u0)) / 4;
            const double cc = (u1 - u0) / 2 + twice;
            const double ss = (u1 - u0) / 2 - twice;
            const double cs = (std::sin(u1) * std::sin(u1) - std::sin(u0) * std::sin(u0)) / 2;
            const double k = sign * hand * r;
            const double v = curve.Value(first).Y() - base;
            area -= sign * r * (u1 - u0) * v;
            add(k * (r * (u1 - u0) + a * c + b * s), k * (r * c + a * cc + b * cs), k * (r * s + a * cs + b * ss), v);
            return;
        }
        constexpr int pieces = 16;
        const auto spans = spans_of(curve);
        for (size_t i = 0; i + 1 < spans.size(); ++i) {
            for (int k = 0; k < pieces; ++k) {
                const double step = (spans[i + 1] - spans[i]) / pieces;
                each_gauss_point(spans[i] + step * k, spans[i] + step * (k + 1), [&](double t, double weight) {
                    gp_Pnt2d uv;
                    gp_Vec2d run;
                    curve.D1(t, uv, run);
                    const double c = std::cos(uv.X());
                    const double s = std::sin(uv.X());
                    const double v = uv.Y() - base;
                    area -= sign * weight * run.X() * r * v;
                    const double g = sign * weight * run.X() * hand * r * (r + a * c + b * s);
                    add(g, g * c, g * s, v);
                });
            }
        }
    });
    FaceIntegral out;
    out.area = std::fabs(area);
    out.cone = volume;
    out.moment = moment + apex.XYZ() * volume;
    return out;
}

// On S(u, v) = C(u) + v d the integrand (S - apex) * (C' x d) does not depend on v, so that Green's theorem turns the
// integral over the parameters into one along the border.
FaceIntegral over_extruded(const TopoDS_Face& face, const BRepAdaptor_Surface& surface, const gp_Pnt& apex) {
    const Handle(Adaptor3d_Curve) profile = surface.BasisCurve();
    const std::vector<double> knots = spans_of(*profile);
    const double height = height_on_border(face);
    double volume = 0;
    double area = 0;
    gp_XYZ moment(0, 0, 0); // of the cone, about the apex
    each_border_edge(face, [&](const TopoDS_Edge& edge, double sign) {
        const BRepAdaptor_Curve2d curve(edge, face);
        std::vector<double> spans = spans_of(curve);
        std::vector<double> finer;
        for (size_t i = 0; i + 1 < spans.size(); ++i) { // and where the border passes a knot of the profile
            finer.push_back(spans[i]);
            const double from = curve.Value(spans[i]).X();
            const double to = curve.Value(spans[i + 1]).X();
            if (curve.GetType() == GeomAbs_Line) {
                const auto add = [&](double at) {
                    if (std::fabs(to - from) > 1e-12 && (at - from) * (at - to) < 0) {
                        finer.push_back(spans[i] + (spans[i + 1] - spans[i]) * (at - from) / (to - from));
                    }
                };
                for (size_t k = 0; k < knots.size(); ++k) {
                    add(knots[k]);
                    const int pieces = k + 1 < knots.size() ? pieces_by_turn(*profile, knots[k], knots[k + 1]) : 1;
                    for (int piece = 1; piece < pieces; ++piece) {
                        add(knots[k] + (knots[k + 1] - knots[k]) * piece / pieces);
                    }
                }
            } else {
                constexpr int pieces = 8;
                for (int k = 1; k < pieces; ++k) {
                    finer.push_back(spans[i] + (spans[i + 1] - spans[i]) * k / pieces);
                }
            }
        }
        finer.push_back(spans.back());
        std::sort(finer.begin(), finer.end());
        for (size_t i = 0; i + 1 < finer.size(); ++i) {
            each_gauss_point(finer[i], finer[i + 1], [&](double t, double weight) {
                gp_Pnt2d uv;
                gp_Vec2d run;
                curve.D1(t, uv, run);
                gp_Pnt base;
                gp_Vec du;
                gp_Vec dv;
                surface.D1(uv.X(), height, base, du, dv);
                const double v = uv.Y() - height;
                area -= sign * weight * run.X() * du.Crossed(dv).Magnitude() * v;
                const double g = gp_Vec(apex, base).Dot(du.Crossed(dv));
                const double strip = -sign * weight * g * run.X();
                volume += strip * v / 3;
                moment += (base.XYZ() - apex.XYZ()) * (strip * v / 4) + dv.XYZ() * (strip * v * v / 8);
            });
        }
    });
    FaceIntegral out;
    out.area = std::fabs(area);
    out.cone = volume;
    out.moment = moment + apex.XYZ() * volume;
    return out;
}

// A profile that turns about an axis: how far from it and how high it is at v, and how both change.
struct Profile {
    double out = 0, up = 0, d_out = 0, d_up = 0;
};

// The integrand (S - apex) * (S_u x S_v) is a sum of cos u, sin u and a constant; its integral over u is known, also
// where it is times cos u or sin u. By Green's theorem these go along the border over v.
template <class At>
FaceIntegral over_turned(const TopoDS_Face& face, const gp_Ax3& axes, const gp_Pnt& apex, const At& at) {
    const gp_XYZ x = axes.XDirection().XYZ();
    const gp_XYZ y = axes.YDirection().XYZ();
    const gp_XYZ z = axes.Direction().XYZ();
    const gp_XYZ from = axes.Location().XYZ() - apex.XYZ();
    const double a = from * x;
    const double b = from * y;
    const double h = from * z;
    const double hand = axes.Direct() ? 1 : -1;
    double volume = 0;
    double area = 0;
    gp_XYZ moment(0, 0, 0); // of the cone, about the apex
    const auto add = [&](double u, double v, double dv) {
        const Profile p = at(v);
        area += u * dv * p.out * std::hypot(p.d_out, p.d_up);
        const double c = std::cos(u);
        const double s = std::sin(u);
        const double k = dv * hand * p.out;
        const double k_cos = k * p.d_up * a;
        const double k_sin = k * p.d_up * b;
        const double k_one = k * (p.d_up * p.out - p.d_out * (h + p.up));
        const double f = k_cos * s - k_sin * c + k_one * u;
        const double f_cos = k_cos * (u + s * c) / 2 + k_sin * s * s / 2 + k_one * s;
        const double f_sin = k_cos * s * s / 2 + k_sin * (u - s * c) / 2 - k_one * c;
        volume += f / 3;
        moment += (x * (a * f + p.out * f_cos) + y * (b * f + p.out * f_sin) + z * ((h + p.up) * f)) / 4;
    };
    each_border_edge(face, [&](const TopoDS_Edge& edge, double sign) {
        const BRepAdaptor_Curve2d curve(edge, face);
        if (curve.GetType() == GeomAbs_Line && std::fabs(curve.Line().Direction().Y()) < 1e-15) {
            return;
        }
        const auto spans = spans_of(curve);
        for (size_t i = 0; i + 1 < spans.size(); ++i) {
            const gp_Vec2d across(curve.Value(spans[i]), curve.Value(spans[i + 1]));
            const int pieces =
                std::clamp(2 + static_cast<int>(3 * (std::fabs(across.X()) + std::fabs(across.Y()))), 2, 32);
            const double step = (spans[i + 1] - spans[i]) / pieces;
            for (int k = 0; k < pieces; ++k) {
                each_gauss_point(spans[i] + step * k, spans[i] + step * (k + 1), [&](double t, double weight) {
                    gp_Pnt2d uv;
                    gp_Vec2d run;
                    curve.D1(t, uv, run);
                    add(uv.X(), uv.Y(), sign * weight * run.Y());
                });
            }
        }
    });
    FaceIntegral out;
    out.area = std::fabs(area);
    out.cone = volume;
    out.moment = moment + apex.XYZ() * volume;
    return out;
}

// Where the spans of a surface end along one of its parameters; they are divided by three where they are rational, or
// of a high degree.
std::vector<double> divided(const std::vector<double>& ends) {
    std::vector<double> finer{ends.front()};
    for (size_t i = 0; i + 1 < ends.size(); ++i) {
        finer.push_back((2 * ends[i] + ends[i + 1]) / 3);
        finer.push_back((ends[i] + 2 * ends[i + 1]) / 3);
        finer.push_back(ends[i + 1]);
    }
    return finer;
}

// Where a border passes one of these values of a parameter, between two places on it; it is taken to pass it once.
template <class At>
void add_passing(const std::vector<double>& ends, double from, double to, const At& at, std::vector<double>& places) {
    const double low = std::min(at(from), at(to));
    const double high = std::max(at(from), at(to));
    for (auto end = std::upper_bound(ends.begin(), ends.end(), low); end != ends.end() && *end < high; ++end) {
        double before = from;
        double behind = to;
        const bool rises = at(to) > at(from);
        constexpr int halvings = 50;
        for (int i = 0; i < halvings; ++i) {
            const double middle = (before + behind) / 2;
            ((at(middle) < *end) == rises ? before : behind) = middle;
        }
        places.push_back((before + behind) / 2);
    }
}

// A border is divided where it bends, and where it passes from one span of the surface to the next.
std::vector<double> smooth_pieces(const BRepAdaptor_Curve2d& curve, const std::vector<double>& u_ends,
                                  const std::vector<double>& v_ends) {
    const int pieces = curve.GetType() == GeomAbs_Line ? 1 : 4;
    const std::vector<double> spans = spans_of(curve);
    std::vector<double> places{spans.front()};
    for (size_t i = 0; i + 1 < spans.size(); ++i) {
        for (int k = 0; k < pieces; ++k) {
            const double from = spans[i] + (spans[i + 1] - spans[i]) * k / pieces;
            const double to = k + 1 == pieces ? spans[i + 1] : spans[i] + (spans[i + 1] - spans[i]) * (k + 1) / pieces;
            add_passing(
                u_ends, from, to, [&](double t) { return curve.Value(t).X(); }, places);
            add_passing(
                v_ends, from, to, [&](double t) { return curve.Value(t).Y(); }, places);
            places.push_back(to);
        }
    }
    std::sort(places.begin(), places.end());
    return places;
}

// By Green's theorem along the border over v; at each place the integrand is summed up over u, span by span.
FaceIntegral over_spline(const TopoDS_Face& face, const BRepAdaptor_Surface& surface, const gp_Pnt& apex) {
    double u0 = 0; // the sum over u begins here
    double u1 = 0;
    double v0 = 0;
    double v1 = 0;
    BRepTools::UVBounds(face, u0, u1, v0, v1);
    std::vector<double> u_ends{u0, u1};
    std::vector<double> v_ends{v0, v1};
    if (surface.GetType() == GeomAbs_BSplineSurface) { // round ones are repeated as far as the face goes
        const Handle(Geom_BSplineSurface) spline = surface.BSpline();
        u_ends = knots_within(spline->UKnots(), spline->IsUPeriodic() ? spline->UPeriod() : 0, u0, u1);
        v_ends = knots_within(spline->VKnots(), spline->IsVPeriodic() ? spline->VPeriod() : 0, v0, v1);
    }
    if (surface.IsURational() || surface.IsVRational() ||
        std::max(surface.UDegree(), surface.VDegree()) > exact_degree) {
        u_ends = divided(u_ends);
        v_ends = divided(v_ends);
    }
    double volume = 0;
    double area = 0;        // no polynomial: close to it where the surface turns by little within a span
    gp_XYZ moment(0, 0, 0); // of the cone, about the apex
    const auto add = [&](double from, double to, double v, double weight) {
        each_gauss_point(from, to, [&](double u, double inner) {
            gp_Pnt p;
            gp_Vec du;
            gp_Vec dv;
            surface.D1(u, v, p, du, dv);
            const gp_XYZ r = p.XYZ() - apex.XYZ();
            const gp_Vec normal = du.Crossed(dv);
            const double g = weight * inner * gp_Vec(r).Dot(normal);
            area += weight * inner * normal.Magnitude();
            volume += g / 3;
            moment += r * (g / 4);
        });
    };
    each_border_edge(face, [&](const TopoDS_Edge& edge, double sign) {
        const BRepAdaptor_Curve2d curve(edge, face);
        if (curve.GetType() == GeomAbs_Line && std::fabs(curve.Line().Direction().Y()) < 1e-15) {
            return;
        }
        const std::vector<double> finer = smooth_pieces(curve, u_ends, v_ends);
        for (size_t i = 0; i + 1 < finer.size(); ++i) {
            each_gauss_point(finer[i], finer[i + 1], [&](double t, double weight) {
                gp_Pnt2d uv;
                gp_Vec2d run;
                curve.D1(t, uv, run);
                for (size_t k = 0; k + 1 < u_ends.size() && u_ends[k] < uv.X(); ++k) {
                    add(u_ends[k], std::min(u_ends[k + 1], uv.X()), uv.Y(), sign * weight * run.Y());
                }
            });
        }
    });
    FaceIntegral out;
    out.area = std::fabs(area);
    out.cone = volume;
    out.moment = moment + apex.XYZ() * volume;
    return out;
}

} // namespace

std::optional<FaceIntegral> integrate_face(const TopoDS_Face& given, const gp_Pnt& apex) {
    const TopoDS_Face face = TopoDS::Face(given.Oriented(TopAbs_FORWARD));
    const BRepAdaptor_Surface surface(face, Standard_False);
    switch (surface.GetType()) {
    case GeomAbs_Plane:
        return over_flat(face, surface.Plane(), apex);
    case GeomAbs_Cylinder:
        return over_cylinder(face, surface.Cylinder(), apex);
    case GeomAbs_SurfaceOfExtrusion:
        return over_extruded(face, surface, apex);
    case GeomAbs_Cone: {
        const double radius = surface.Cone().RefRadius();
        const double sine = std::sin(surface.Cone().SemiAngle());
        const double cosine = std::cos(surface.Cone().SemiAngle());
        return over_turned(face, surface.Cone().Position(), apex, [=](double v) {
            return Profile{radius + v * sine, v * cosine, sine, cosine};
        });
    }
    case GeomAbs_Sphere: {
        const double radius = surface.Sphere().Radius();
        return over_turned(face, surface.Sphere().Position(), apex, [=](double v) {
            const double c = radius * std::cos(v);
            const double s = radius * std::sin(v);
            return Profile{c, s, -s, c};
        });
    }
    case GeomAbs_Torus: {
        const double far = surface.Torus().MajorRadius();
        const double radius = surface.Torus().MinorRadius();
        return over_turned(face, surface.Torus().Position(), apex, [=](double v) {
            const double c = radius * std::cos(v);
            const double s = radius * std::sin(v);
            return Profile{far + c, s, -s, c};
        });
    }
    case GeomAbs_BSplineSurface:
    case GeomAbs_BezierSurface:
        return over_spline(face, surface, apex);
    default:
        return std::nullopt;
    }
}

} // namespace kervo::geom
