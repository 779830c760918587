#include "geom/view/section_border.h"

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
#include <Geom_Circle.hxx>
#include <Geom_Ellipse.hxx>
#include <IntAna_QuadQuadGeo.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <gp_Cone.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Pln.hxx>
#include <gp_Sphere.hxx>

#include <algorithm>
#include <cmath>

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

std::optional<SectionConic> conic_of(const gp_Cylinder& cylinder, const Plane& plane) {
    const gp_Ax3 position = cylinder.Position();
    const gp_Vec axis(position.Direction());
    const double rise = axis.Dot(plane.n);
    if (std::fabs(rise) < 1e-7) {
        return std::nullopt;
    }
    const double r = cylinder.Radius();
    SectionConic conic;
    conic.at = [=](double u) {
        const gp_Pnt p = position.Location().Translated(out_at(position, u) * r);
        return p.Translated(axis * (-plane.height(p) / rise));
    };
    conic.way = [=](double u) {
        const gp_Vec d = along_at(position, u) * r;
        return d - axis * (d.Dot(plane.n) / rise);
    };
    conic.angle = [=](const gp_Pnt& p) { return angle_about(position, p); };
    const gp_Pnt middle = position.Location().Translated(axis * (-plane.height(position.Location()) / rise));
    const gp_Vec across = axis - plane.n * rise;
    if (across.Magnitude() < 1e-9) {
        conic.curve = new Geom_Circle(gp_Ax2(middle, plane.n), r);
    } else {
        conic.curve = new Geom_Ellipse(gp_Ax2(middle, plane.n, across), r / std::fabs(rise), r);
    }
    return conic;
}

std::optional<SectionConic> conic_of(const gp_Cone& cone, const Plane& plane) {
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
    SectionConic conic;
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
    const IntAna_QuadQuadGeo meeting(gp_Pln(plane.origin, plane.n), cone, 1e-9, 1e-9);
    if (meeting.IsDone() && meeting.TypeInter() == IntAna_Circle) {
        conic.curve = new Geom_Circle(meeting.Circle(1));
    } else if (meeting.IsDone() && meeting.TypeInter() == IntAna_Ellipse) {
        conic.curve = new Geom_Ellipse(meeting.Ellipse(1));
    }
    return conic;
}

std::optional<SectionConic> conic_of(const gp_Sphere& sphere, const Plane& plane) {
    const double height = plane.height(sphere.Location());
    const double square = sphere.Radius() * sphere.Radius() - height * height;
    if (square < near_vertex * sphere.Radius()) {
        return std::nullopt;
    }
    const double r = std::sqrt(square);
    const gp_Pnt middle = sphere.Location().Translated(plane.n * -height);
    const gp_Vec x = plane.x;
    const gp_Vec y = plane.y;
    SectionConic conic;
    conic.at = [=](double u) { return middle.Translated(x * (r * std::cos(u)) + y * (r * std::sin(u))); };
    conic.way = [=](double u) { return x * (-r * std::sin(u)) + y * (r * std::cos(u)); };
    conic.angle = [=](const gp_Pnt& p) {
        const gp_Vec from(middle, p);
        return std::atan2(from.Dot(y), from.Dot(x));
    };
    conic.curve = new Geom_Circle(gp_Ax2(middle, plane.n, x), r);
    return conic;
}

// --- Faces ----------------------------------------------------------------------------------------------------------

// Where the section's curve runs into a face, or out of it.
struct Gate {
    gp_Pnt place;
    gp_Vec way; ///< of the curve, with the inside of the solid to its left as seen along the normal
    bool in = false;
    int crossing = 0; ///< its number
};

class Trace {
public:
    Trace(const TopoDS_Shape& solid, const gp_Ax3& frame) : plane_(frame) {
        for (const TopoDS_Shape& face : faces_of(solid)) {
            ok_ = ok_ && add(TopoDS::Face(face));
            ++face_;
        }
    }

    // Every crossing is the end of one piece and the beginning of another.
    [[nodiscard]] std::optional<std::vector<BorderPiece>> pieces() && {
        std::vector<int> ends(static_cast<size_t>(count_), 0);
        std::vector<int> starts(static_cast<size_t>(count_), 0);
        for (const BorderPiece& piece : pieces_) {
            if (piece.start >= 0) {
                ++starts[static_cast<size_t>(piece.start)];
                ++ends[static_cast<size_t>(piece.end)];
            }
        }
        for (size_t i = 0; i < ends.size(); ++i) {
            ok_ = ok_ && starts[i] == ends[i] && starts[i] <= 1;
        }
        return ok_ ? std::optional(std::move(pieces_)) : std::nullopt;
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
            const Crossings& known = crossings_on(edge);
            const std::optional<Parameters>& crossings = known.at;
            if (!crossings) {
                return false;
            }
            any_edge = any_edge || !crossings->empty();
            if (BRep_Tool::IsClosed(edge, forward)) {
                continue; // a seam: the curve goes on beyond it
            }
            for (size_t i = 0; i < crossings->size(); ++i) {
                if (!add_gate(edge, (*crossings)[i], face, surface, gates)) {
                    return false;
                }
                gates.back().crossing = known.first + static_cast<int>(i);
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

    struct Crossings {
        std::optional<Parameters> at;
        int first = -1; ///< number of the first; -1: not looked for yet
    };

    const Crossings& crossings_on(const TopoDS_Edge& edge) {
        Crossings& known = entry(crossings_, edge);
        if (known.first < 0) {
            known.first = count_;
            known.at = crossings_of(edge, plane_);
            count_ += known.at ? static_cast<int>(known.at->size()) : 0;
        }
        return known;
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
            pieces_.push_back(
                {face_, gates[i].place, gates[i + 1].place, gates[i].crossing, gates[i + 1].crossing, {}, 0, 0});
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

    bool add_round(const TopoDS_Face& face, const BRepAdaptor_Surface& surface,
                   const std::optional<SectionConic>& conic, const std::vector<Gate>& gates, bool any_edge) {
        if (!conic) { // lines, or it touches, or it passes by
            const bool cylinder = surface.GetType() == GeomAbs_Cylinder;
            const bool sphere = surface.GetType() == GeomAbs_Sphere;
            return cylinder ? add_rulings(surface.Cylinder().Position(), gates) : sphere && gates.empty();
        }
        if (gates.empty()) {
            return !any_edge || !conic->closed || add_closed(face, surface, *conic);
        }
        const double hand = gates.front().way.Dot(conic->way(conic->angle(gates.front().place))) > 0 ? 1 : -1;
        std::vector<std::pair<double, const Gate*>> order; // by the angle, the way it runs
        for (const Gate& gate : gates) {
            const double angle = conic->angle(gate.place);
            if (gate.way.Dot(conic->way(angle)) * hand <= 0) {
                return false;
            }
            order.emplace_back(hand * angle - whole_turn * std::floor(hand * angle / whole_turn), &gate);
        }
        std::sort(order.begin(), order.end());
        const size_t count = order.size();
        for (size_t i = 0; i < count; ++i) {
            const auto& [from, gate] = order[i];
            const auto& [to, next] = order[(i + 1) % count];
            if (gate->in == next->in) {
                return false;
            }
            if (gate->in) {
                const double sweep = to > from ? to - from : to - from + whole_turn;
                for (const double share : {0.0, 0.25, 0.5, 0.75, 1.0}) {
                    if (conic->branch(hand * from) * conic->branch(hand * (from + sweep * share)) <= 0) {
                        return false;
                    }
                }
                pieces_.push_back({face_, gate->place, next->place, gate->crossing, next->crossing, conic, hand * from,
                                   hand * sweep});
            }
        }
        return true;
    }

    // No border is crossed: all of it lies in the face, or nothing.
    bool add_closed(const TopoDS_Face& face, const BRepAdaptor_Surface& surface, const SectionConic& conic) {
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
        pieces_.push_back({face_, place, place, -1, -1, conic, angle, hand * whole_turn});
        return true;
    }

    Plane plane_;
    ByShape<Crossings> crossings_; ///< of edges, however they are oriented
    int count_ = 0;                ///< of crossings
    int face_ = 0;                 ///< that is being looked at
    bool ok_ = true;
    std::vector<BorderPiece> pieces_;
};

} // namespace

std::optional<std::vector<BorderPiece>> section_border(const TopoDS_Shape& solid, const gp_Ax3& plane) {
    return Trace(solid, plane).pieces();
}

} // namespace kervo::geom
