#include "geom/view/section_area.h"

#include "geom/kernel/by_shape.h"
#include "geom/measure/spans.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepClass_FaceClassifier.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <ElSLib.hxx>
#include <Geom2d_Curve.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <gp_Cone.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Sphere.hxx>

#include <algorithm>
#include <cmath>
#include <functional>

namespace kervo::geom {

namespace {

constexpr double near_vertex = 1e-6; // mm
constexpr double whole_turn = 2 * M_PI;

// Where the plane lies, and what lengths in it are counted from.
struct Plane {
    explicit Plane(const gp_Ax3& frame)
        : origin(frame.Location()), x(frame.XDirection()), y(frame.YDirection()), n(frame.Direction()) {}
    [[nodiscard]] double height(const gp_Pnt& p) const { return gp_Vec(origin, p).Dot(n); }
    gp_Pnt origin;
    gp_Vec x, y, n;
};

// --- Edges ----------------------------------------------------------------------------------------------------------

using Parameters = std::vector<double>;

// Of a cos t + b sin t = c between two parameters; nothing where it nearly touches.
std::optional<Parameters> roots_on_circle(double a, double b, double c, double from, double to) {
    const double size = std::hypot(a, b);
    if (std::fabs(std::fabs(c) - size) < near_vertex) {
        return std::nullopt;
    }
    Parameters roots;
    if (std::fabs(c) > size) {
        return roots;
    }
    const double middle = std::atan2(b, a);
    const double half = std::acos(c / size);
    for (const double root : {middle - half, middle + half}) {
        for (double t = root - whole_turn * std::ceil((root - from) / whole_turn); t <= to; t += whole_turn) {
            if (t >= from) {
                roots.push_back(t);
            }
        }
    }
    std::sort(roots.begin(), roots.end());
    return roots;
}

// Where the height changes its sign, span by span; nothing where it comes near to none without passing.
std::optional<Parameters> roots_by_halving(const BRepAdaptor_Curve& curve, const Plane& plane) {
    constexpr int looks = 24;
    Parameters roots;
    const auto spans = spans_of(curve);
    const auto height = [&](double t) { return plane.height(curve.Value(t)); };
    for (size_t i = 0; i + 1 < spans.size(); ++i) {
        const double step = (spans[i + 1] - spans[i]) / looks;
        double before = height(spans[i]);
        for (int k = 1; k <= looks; ++k) {
            double low = spans[i] + step * (k - 1);
            double high = low + step;
            const double now = height(high);
            const double length = curve.Value(low).Distance(curve.Value(high));
            if ((before < 0) != (now < 0)) {
                for (int halves = 0; halves < 60 && high - low > 1e-15 * std::max(1.0, std::fabs(high)); ++halves) {
                    const double middle = (low + high) / 2;
                    ((height(middle) < 0) == (before < 0) ? low : high) = middle;
                }
                roots.push_back((low + high) / 2);
            } else if (std::min(std::fabs(before), std::fabs(now)) < 0.1 * length) {
                return std::nullopt; // it may pass twice in between
            }
            before = now;
        }
    }
    return roots;
}

std::optional<Parameters> crossings_of(const TopoDS_Edge& edge, const Plane& plane) {
    const BRepAdaptor_Curve curve(edge);
    const double from = curve.FirstParameter();
    const double to = curve.LastParameter();
    const double first = plane.height(curve.Value(from));
    const double last = plane.height(curve.Value(to));
    if (std::min(std::fabs(first), std::fabs(last)) < near_vertex) {
        return std::nullopt;
    }
    if (curve.GetType() == GeomAbs_Line) {
        return (first < 0) == (last < 0) ? Parameters{} : Parameters{from + (to - from) * first / (first - last)};
    }
    if (curve.GetType() == GeomAbs_Circle) {
        const gp_Circ circle = curve.Circle();
        const double r = circle.Radius();
        return roots_on_circle(r * gp_Vec(circle.XAxis().Direction()).Dot(plane.n),
                               r * gp_Vec(circle.YAxis().Direction()).Dot(plane.n), -plane.height(circle.Location()),
                               from, to);
    }
    return roots_by_halving(curve, plane);
}

// --- Curves of sections ---------------------------------------------------------------------------------------------

// The curve in which a round face's surface meets the plane, by an angle.
struct Conic {
    std::function<gp_Pnt(double)> at;
    std::function<gp_Vec(double)> way; ///< its derivative
    std::function<double(const gp_Pnt&)> angle;
    bool closed = true;
    /// Above or below 0, but never both along what is one branch of an open one.
    std::function<double(double)> branch = [](double) { return 1.0; };
};

double angle_about(const gp_Ax3& position, const gp_Pnt& p) {
    const gp_Vec r(position.Location(), p);
    return std::atan2(r.Dot(gp_Vec(position.YDirection())), r.Dot(gp_Vec(position.XDirection())));
}

gp_Vec out_at(const gp_Ax3& position, double angle) {
    return gp_Vec(position.XDirection()) * std::cos(angle) + gp_Vec(position.YDirection()) * std::sin(angle);
}

gp_Vec along_at(const gp_Ax3& position, double angle) {
    return gp_Vec(position.XDirection()) * -std::sin(angle) + gp_Vec(position.YDirection()) * std::cos(angle);
}

std::optional<Conic> conic_of(const gp_Cylinder& cylinder, const Plane& plane) {
    const gp_Ax3 position = cylinder.Position();
    const gp_Vec axis(position.Direction());
    const double rise = axis.Dot(plane.n);
    if (std::fabs(rise) < 1e-7) {
        return std::nullopt;
    }
    const double r = cylinder.Radius();
    Conic conic;
    conic.at = [=](double u) {
        const gp_Pnt p = position.Location().Translated(out_at(position, u) * r);
        return p.Translated(axis * (-plane.height(p) / rise));
    };
    conic.way = [=](double u) {
        const gp_Vec d = along_at(position, u) * r;
        return d - axis * (d.Dot(plane.n) / rise);
    };
    conic.angle = [=](const gp_Pnt& p) { return angle_about(position, p); };
    return conic;
}

std::optional<Conic> conic_of(const gp_Cone& cone, const Plane& plane) {
    const gp_Ax3 position = cone.Position();
    const gp_Vec axis(position.Direction());
    const gp_Pnt apex = cone.Apex();
    const double depth = -plane.height(apex);
    if (std::fabs(depth) < near_vertex) {
        return std::nullopt;
    }
    const double cosine = std::cos(cone.SemiAngle());
    const double sine = std::sin(cone.SemiAngle());
    const auto ruling = [=](double u) { return axis * cosine + out_at(position, u) * sine; };
    Conic conic;
    conic.branch = [=](double u) { return ruling(u).Dot(plane.n); };
    conic.way = [=, branch = conic.branch](double u) {
        const gp_Vec turning = along_at(position, u) * sine;
        const double slope = branch(u);
        return turning * (depth / slope) - ruling(u) * (depth * turning.Dot(plane.n) / (slope * slope));
    };
    conic.at = [=, branch = conic.branch](double u) { return apex.Translated(ruling(u) * (depth / branch(u))); };
    conic.angle = [=](const gp_Pnt& p) { return angle_about(position, p); }; // faces lie on one side of the apex
    const double upright = std::fabs(axis.Dot(plane.n)) * cosine;
    const double level = (plane.n - axis * axis.Dot(plane.n)).Magnitude() * std::fabs(sine);
    conic.closed = upright > level;
    return conic;
}

std::optional<Conic> conic_of(const gp_Sphere& sphere, const Plane& plane) {
    const double height = plane.height(sphere.Location());
    const double square = sphere.Radius() * sphere.Radius() - height * height;
    if (square < near_vertex * sphere.Radius()) {
        return std::nullopt;
    }
    const double r = std::sqrt(square);
    const gp_Pnt middle = sphere.Location().Translated(plane.n * -height);
    const gp_Vec x = plane.x;
    const gp_Vec y = plane.y;
    Conic conic;
    conic.at = [=](double u) { return middle.Translated(x * (r * std::cos(u)) + y * (r * std::sin(u))); };
    conic.way = [=](double u) { return x * (-r * std::sin(u)) + y * (r * std::cos(u)); };
    conic.angle = [=](const gp_Pnt& p) {
        const gp_Vec from(middle, p);
        return std::atan2(from.Dot(y), from.Dot(x));
    };
    return conic;
}

// --- Faces ----------------------------------------------------------------------------------------------------------

// Where the section's curve runs into a face, or out of it.
struct Gate {
    gp_Pnt place;
    gp_Vec way; ///< of the curve, with the inside of the solid to its left as seen along the normal
    bool in = false;
};

class Sum {
public:
    Sum(const TopoDS_Shape& solid, const gp_Ax3& frame) : plane_(frame) {
        for (TopExp_Explorer it(solid, TopAbs_FACE); it.More() && ok_; it.Next()) {
            ok_ = add(TopoDS::Face(it.Current()));
        }
    }

    // What began must have come back.
    [[nodiscard]] std::optional<double> area() const {
        return ok_ && moved_.Magnitude() < 1e-6 * (1 + length_) ? std::optional(area_) : std::nullopt;
    }

private:
    bool add(const TopoDS_Face& face) {
        const TopoDS_Face forward = TopoDS::Face(face.Oriented(TopAbs_FORWARD));
        const BRepAdaptor_Surface surface(forward);
        std::vector<Gate> gates;
        bool any_edge = false;
        for (TopExp_Explorer it(forward, TopAbs_EDGE); it.More(); it.Next()) {
            const TopoDS_Edge& edge = TopoDS::Edge(it.Current());
            const bool bounds = edge.Orientation() == TopAbs_FORWARD || edge.Orientation() == TopAbs_REVERSED;
            if (BRep_Tool::Degenerated(edge) || !bounds) {
                continue;
            }
            const std::optional<Parameters>& crossings = crossings_on(edge);
            if (!crossings) {
                return false;
            }
            any_edge = any_edge || !crossings->empty();
            if (BRep_Tool::IsClosed(edge, forward)) {
                continue; // a seam: the curve goes on beyond it
            }
            for (const double t : *crossings) {
                if (!add_gate(edge, t, face, surface, gates)) {
                    return false;
                }
            }
        }
        switch (surface.GetType()) {
        case GeomAbs_Plane:
            return add_straight(gates);
        case GeomAbs_Cylinder:
            return add_round(face, surface, conic_of(surface.Cylinder(), plane_), gates, any_edge);
        case GeomAbs_Cone:
            return add_round(face, surface, conic_of(surface.Cone(), plane_), gates, any_edge);
        case GeomAbs_Sphere:
            return add_round(face, surface, conic_of(surface.Sphere(), plane_), gates, true);
        default:
            return gates.empty() && passes_by(face);
        }
    }

    // Whether all of a face is on one side, by its box.
    [[nodiscard]] bool passes_by(const TopoDS_Face& face) const {
        Bnd_Box box;
        BRepBndLib::Add(face, box);
        const gp_Pnt low = box.CornerMin();
        const gp_Pnt high = box.CornerMax();
        const gp_Pnt middle((low.XYZ() + high.XYZ()) / 2);
        const gp_XYZ half = (high.XYZ() - low.XYZ()) / 2;
        const double reach = std::fabs(plane_.n.X()) * half.X() + std::fabs(plane_.n.Y()) * half.Y() +
                             std::fabs(plane_.n.Z()) * half.Z();
        return std::fabs(plane_.height(middle)) > reach;
    }

    const std::optional<Parameters>& crossings_on(const TopoDS_Edge& edge) {
        std::optional<std::optional<Parameters>>& known = entry(crossings_, edge);
        if (!known) {
            known = crossings_of(edge, plane_);
        }
        return *known;
    }

    bool add_gate(const TopoDS_Edge& edge, double t, const TopoDS_Face& face, const BRepAdaptor_Surface& surface,
                  std::vector<Gate>& gates) const {
        double from = 0;
        double to = 0;
        const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(edge, surface.Face(), from, to);
        if (flat.IsNull()) {
            return false;
        }
        const gp_Pnt2d uv = flat->Value(t);
        gp_Pnt on_face;
        gp_Vec du;
        gp_Vec dv;
        surface.D1(uv.X(), uv.Y(), on_face, du, dv);
        const gp_Vec natural = du.Crossed(dv);
        gp_Pnt place;
        gp_Vec along;
        BRepAdaptor_Curve(edge).D1(t, place, along);
        if (natural.Magnitude() < 1e-12 || along.Magnitude() < 1e-12 || place.Distance(on_face) > 1e-5) {
            return false;
        }
        const double side = face.Orientation() == TopAbs_REVERSED ? -1 : 1;
        const gp_Vec way = plane_.n.Crossed(natural.Normalized() * side);
        const double hand = edge.Orientation() == TopAbs_REVERSED ? -1 : 1;
        const gp_Vec inwards = natural.Normalized().Crossed(along.Normalized() * hand);
        if (way.Magnitude() < 1e-4) {
            return false; // it touches the face there
        }
        const double enters = way.Normalized().Dot(inwards);
        if (std::fabs(enters) < 1e-6) {
            return false;
        }
        gates.push_back({place, way.Normalized(), enters > 0});
        return true;
    }

    void add_line(const gp_Pnt& from, const gp_Pnt& to) {
        const gp_Vec a(plane_.origin, from);
        const gp_Vec b(plane_.origin, to);
        area_ += (a.Dot(plane_.x) * b.Dot(plane_.y) - b.Dot(plane_.x) * a.Dot(plane_.y)) / 2;
        moved_ += gp_Vec(from, to);
        length_ += from.Distance(to);
    }

    // In and out in turn, along a line.
    bool add_straight(std::vector<Gate> gates) {
        if (gates.empty()) {
            return true;
        }
        const gp_Vec way = gates.front().way;
        const gp_Pnt from = gates.front().place;
        const auto at = [&](const Gate& gate) { return gp_Vec(from, gate.place).Dot(way); };
        std::sort(gates.begin(), gates.end(), [&](const Gate& a, const Gate& b) { return at(a) < at(b); });
        for (size_t i = 0; i < gates.size(); i += 2) {
            if (i + 1 >= gates.size() || !gates[i].in || gates[i + 1].in) {
                return false;
            }
            add_line(gates[i].place, gates[i + 1].place);
        }
        return true;
    }

    // Rulings: as many lines as there are angles.
    bool add_rulings(const gp_Ax3& position, std::vector<Gate> gates) {
        while (!gates.empty()) {
            const double angle = angle_about(position, gates.front().place);
            const auto others = std::stable_partition(gates.begin(), gates.end(), [&](const Gate& gate) {
                return std::fabs(std::remainder(angle_about(position, gate.place) - angle, whole_turn)) < 1e-6;
            });
            if (!add_straight({gates.begin(), others})) {
                return false;
            }
            gates.erase(gates.begin(), others);
        }
        return true;
    }

    void add_arc(const Conic& conic, double from, double sweep) {
        const int pieces = std::max(1, static_cast<int>(std::ceil(std::fabs(sweep) * 8 / M_PI)));
        for (int i = 0; i < pieces; ++i) {
            each_gauss_point(from + sweep * i / pieces, from + sweep * (i + 1) / pieces, [&](double u, double weight) {
                const gp_Vec r(plane_.origin, conic.at(u));
                const gp_Vec d = conic.way(u);
                area_ += weight * (r.Dot(plane_.x) * d.Dot(plane_.y) - r.Dot(plane_.y) * d.Dot(plane_.x)) / 2;
                length_ += std::fabs(weight) * d.Magnitude();
            });
        }
        moved_ += gp_Vec(conic.at(from), conic.at(from + sweep));
    }

    bool add_round(const TopoDS_Face& face, const BRepAdaptor_Surface& surface, const std::optional<Conic>& conic,
                   const std::vector<Gate>& gates, bool any_edge) {
        if (!conic) { // lines, or it touches, or it passes by
            const bool cylinder = surface.GetType() == GeomAbs_Cylinder;
            const bool sphere = surface.GetType() == GeomAbs_Sphere;
            return cylinder ? add_rulings(surface.Cylinder().Position(), gates) : sphere && gates.empty();
        }
        if (gates.empty()) {
            return !any_edge || !conic->closed || add_closed(face, surface, *conic);
        }
        const double hand = gates.front().way.Dot(conic->way(conic->angle(gates.front().place))) > 0 ? 1 : -1;
        std::vector<std::pair<double, bool>> order; // angles the way it runs; whether it comes in
        for (const Gate& gate : gates) {
            const double angle = conic->angle(gate.place);
            if (gate.way.Dot(conic->way(angle)) * hand <= 0) {
                return false;
            }
            order.emplace_back(hand * angle - whole_turn * std::floor(hand * angle / whole_turn), gate.in);
        }
        std::sort(order.begin(), order.end());
        const size_t count = order.size();
        for (size_t i = 0; i < count; ++i) {
            const auto& [from, in] = order[i];
            const auto& [to, next_in] = order[(i + 1) % count];
            if (in == next_in) {
                return false;
            }
            if (in) {
                const double sweep = to > from ? to - from : to - from + whole_turn;
                for (const double share : {0.0, 0.25, 0.5, 0.75, 1.0}) {
                    if (conic->branch(hand * from) * conic->branch(hand * (from + sweep * share)) <= 0) {
                        return false;
                    }
                }
                add_arc(*conic, hand * from, hand * sweep);
            }
        }
        return true;
    }

    // No border is crossed: all of it lies in the face, or nothing.
    bool add_closed(const TopoDS_Face& face, const BRepAdaptor_Surface& surface, const Conic& conic) {
        const double angle = 0.7391; // hardly ever on a seam
        const gp_Pnt place = conic.at(angle);
        double u = 0;
        double v = 0;
        if (surface.GetType() == GeomAbs_Cylinder) {
            ElSLib::Parameters(surface.Cylinder(), place, u, v);
        } else if (surface.GetType() == GeomAbs_Cone) {
            ElSLib::Parameters(surface.Cone(), place, u, v);
        } else {
            ElSLib::Parameters(surface.Sphere(), place, u, v);
        }
        // In the turn that the face has.
        u += whole_turn * std::ceil((surface.FirstUParameter() - u) / whole_turn);
        BRepClass_FaceClassifier where(surface.Face(), gp_Pnt2d(u, v), 1e-7);
        if (where.State() == TopAbs_OUT) {
            return true;
        }
        if (where.State() != TopAbs_IN) {
            return false;
        }
        gp_Pnt on_face;
        gp_Vec du;
        gp_Vec dv;
        surface.D1(u, v, on_face, du, dv);
        const double side = face.Orientation() == TopAbs_REVERSED ? -1 : 1;
        const double hand = plane_.n.Crossed(du.Crossed(dv) * side).Dot(conic.way(angle)) > 0 ? 1 : -1;
        add_arc(conic, angle, hand * whole_turn);
        return true;
    }

    Plane plane_;
    ByShape<std::optional<std::optional<Parameters>>> crossings_; ///< of edges, however they are oriented
    bool ok_ = true;
    double area_ = 0, length_ = 0;
    gp_Vec moved_;
};

} // namespace

std::optional<double> section_area(const TopoDS_Shape& solid, const gp_Ax3& plane) {
    return Sum(solid, plane).area();
}

} // namespace kervo::geom
