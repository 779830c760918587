#include "geom/view/turning.h"

#include "geom/kernel/knots.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace kervo::geom {

namespace {

constexpr double closeness = 1e-7; // mm
constexpr int samples = 24;        // a knot span
constexpr int most_nodes = 4096;

struct Uv {
    double u = 0, v = 0;
};

// A smooth patch of the surface.
class Patch {
public:
    Patch(const Adaptor3d_Surface& surface, const SurfaceBounds& bounds, const gp_Vec& sight)
        : surface_(surface), bounds_(bounds), sight_(sight) {}

    [[nodiscard]] const SurfaceBounds& bounds() const { return bounds_; }
    [[nodiscard]] gp_Pnt point(const Uv& at) const { return surface_.Value(at.u, at.v); }

    // The cosine between normal and sight. At a pole, where there is no normal, that of a place beside it.
    [[nodiscard]] double facing(const Uv& at) const {
        gp_Pnt p;
        gp_Vec du;
        gp_Vec dv;
        surface_.D1(at.u, at.v, p, du, dv);
        const gp_Vec normal = du.Crossed(dv);
        const double length = normal.Magnitude();
        if (length < 1e-9 * (du.SquareMagnitude() + dv.SquareMagnitude())) {
            return facing(inward(at));
        }
        return normal.Dot(sight_) / length;
    }

    struct Local {
        gp_Pnt p;
        gp_Vec du, dv;
        double value = 0, value_u = 0, value_v = 0; // of normal x sight, not of unit length
    };
    [[nodiscard]] Local local(const Uv& at) const {
        Local l;
        gp_Vec duu;
        gp_Vec dvv;
        gp_Vec duv;
        surface_.D2(at.u, at.v, l.p, l.du, l.dv, duu, dvv, duv);
        l.value = l.du.Crossed(l.dv).Dot(sight_);
        l.value_u = (duu.Crossed(l.dv) + l.du.Crossed(duv)).Dot(sight_);
        l.value_v = (duv.Crossed(l.dv) + l.du.Crossed(dvv)).Dot(sight_);
        if (l.du.Crossed(l.dv).Magnitude() < 1e-9 * (l.du.SquareMagnitude() + l.dv.SquareMagnitude())) {
            const gp_Pnt here = l.p;
            l = local(inward(at));
            l.p = here;
        }
        return l;
    }

    // Along the turning curve; zero where it crosses another.
    [[nodiscard]] gp_Vec tangent(const Uv& at) const {
        const Local l = local(at);
        const gp_Vec t = l.dv * l.value_u - l.du * l.value_v;
        const double scale = l.du.SquareMagnitude() * l.dv.Magnitude() + l.dv.SquareMagnitude() * l.du.Magnitude();
        return t.Magnitude() < 1e-9 * scale ? gp_Vec() : t.Normalized();
    }

    // The point of the turning curve in the plane through `p` across `along`, looked for from `at`.
    [[nodiscard]] std::optional<Uv> nearest(Uv at, const gp_Pnt& p, const gp_Vec& along) const {
        for (int i = 0; i < 30; ++i) {
            const Local l = local(at);
            const double off = gp_Vec(p, l.p).Dot(along);
            const double a = l.du.Dot(along);
            const double b = l.dv.Dot(along);
            const double det = a * l.value_v - b * l.value_u;
            if (det == 0) {
                return std::nullopt;
            }
            const double step_u = (off * l.value_v - b * l.value) / det;
            const double step_v = (a * l.value - off * l.value_u) / det;
            at.u = std::clamp(at.u - step_u, bounds_.u0, bounds_.u1);
            at.v = std::clamp(at.v - step_v, bounds_.v0, bounds_.v1);
            if (l.du.Magnitude() * std::fabs(step_u) + l.dv.Magnitude() * std::fabs(step_v) < 1e-11) {
                return at;
            }
        }
        return std::nullopt;
    }

    // Where it turns between two places that face differently.
    [[nodiscard]] Uv root(Uv one, Uv other) const {
        const bool front = facing(one) > 0;
        for (int halving = 0; halving < 60; ++halving) {
            const Uv middle{(one.u + other.u) / 2, (one.v + other.v) / 2};
            ((facing(middle) > 0) == front ? one : other) = middle;
        }
        return one;
    }

private:
    [[nodiscard]] Uv inward(const Uv& at) const {
        constexpr double step = 1e-6;
        return {at.u + step * ((bounds_.u0 + bounds_.u1) / 2 - at.u),
                at.v + step * ((bounds_.v0 + bounds_.v1) / 2 - at.v)};
    }

    const Adaptor3d_Surface& surface_;
    SurfaceBounds bounds_;
    gp_Vec sight_;
};

// Marching squares: the places where the grid's lines cross the turning curves, strung together.
std::vector<std::vector<Uv>> strings_of(const Patch& patch, const std::vector<double>& us,
                                        const std::vector<double>& vs) {
    const int across = static_cast<int>(us.size()) - 1;
    const int up = static_cast<int>(vs.size()) - 1;
    const auto at = [&](int i, int j) { return Uv{us[static_cast<size_t>(i)], vs[static_cast<size_t>(j)]}; };
    std::vector<double> facing(us.size() * vs.size());
    const auto value = [&](int i, int j) -> double& { return facing[static_cast<size_t>(j * (across + 1) + i)]; };
    for (int j = 0; j <= up; ++j) {
        for (int i = 0; i <= across; ++i) {
            value(i, j) = patch.facing(at(i, j));
        }
    }
    // A side of a cell: its lower corner, and whether it runs along u.
    using Side = std::array<int, 3>;
    std::map<Side, std::vector<Side>> links;
    std::map<Side, Uv> places;
    const auto crossing = [&](const Side& side) {
        const auto [i, j, along_u] = side;
        const int i2 = i + along_u;
        const int j2 = j + 1 - along_u;
        if ((value(i, j) > 0) == (value(i2, j2) > 0)) {
            return false;
        }
        if (!places.contains(side)) {
            places[side] = patch.root(at(i, j), at(i2, j2));
        }
        return true;
    };
    const auto link = [&](const Side& one, const Side& other) {
        links[one].push_back(other);
        links[other].push_back(one);
    };
    for (int j = 0; j < up; ++j) {
        for (int i = 0; i < across; ++i) {
            std::vector<Side> met; // in their order round the cell
            for (const Side& side : {Side{i, j, 1}, Side{i + 1, j, 0}, Side{i, j + 1, 1}, Side{i, j, 0}}) {
                if (crossing(side)) {
                    met.push_back(side);
                }
            }
            if (met.size() == 2) {
                link(met[0], met[1]);
            } else if (met.size() == 4) { // what the middle shows tells which corners are cut off
                const Uv low = at(i, j);
                const Uv high = at(i + 1, j + 1);
                const bool same = (patch.facing({(low.u + high.u) / 2, (low.v + high.v) / 2}) > 0) == (value(i, j) > 0);
                link(met[0], met[same ? 1 : 3]);
                link(met[2], met[same ? 3 : 1]);
            }
        }
    }
    std::vector<std::vector<Uv>> strings;
    const auto follow = [&](Side side) {
        std::vector<Uv> string{places[side]};
        while (!links[side].empty()) {
            const Side next = links[side].back();
            links[side].pop_back();
            std::erase(links[next], side);
            side = next;
            string.push_back(places[side]);
        }
        strings.push_back(std::move(string));
    };
    for (const auto& [side, neighbours] : links) {
        if (neighbours.size() == 1) {
            follow(side);
        }
    }
    for (const auto& [side, neighbours] : links) {
        if (!neighbours.empty()) {
            follow(side);
        }
    }
    return strings;
}

struct Node {
    Uv at;
    gp_Pnt p;
    gp_Vec along;
};

struct Arc { // between two nodes, as a cubic with its control points a third of `length` from them
    double length = 0;
    gp_Pnt control_1, control_2, middle;
    gp_Vec along; // at its middle
};

Arc arc_between(const Node& one, const Node& other) {
    Arc arc;
    const double angle = one.along.Angle(other.along);
    const double cosine = std::cos(angle / 4);
    arc.length = one.p.Distance(other.p) / (cosine * cosine);
    arc.control_1 = one.p.Translated(one.along * (arc.length / 3));
    arc.control_2 = other.p.Translated(other.along * (-arc.length / 3));
    arc.middle = gp_Pnt((one.p.XYZ() + arc.control_1.XYZ() * 3 + arc.control_2.XYZ() * 3 + other.p.XYZ()) / 8);
    arc.along = gp_Vec(other.p.XYZ() + arc.control_2.XYZ() - arc.control_1.XYZ() - one.p.XYZ());
    return arc;
}

std::optional<std::vector<Node>> nodes_along(const Patch& patch, const std::vector<Uv>& string) {
    std::vector<Node> nodes;
    for (const Uv& at : string) {
        const Node node{at, patch.point(at), patch.tangent(at)};
        if (node.along.Magnitude() == 0) {
            return std::nullopt;
        }
        if (nodes.empty() || nodes.back().p.Distance(node.p) > 1e-6) {
            nodes.push_back(node);
        }
    }
    if (nodes.size() < 2) {
        return std::vector<Node>{};
    }
    for (size_t i = 0; i < nodes.size(); ++i) { // the way the string runs
        const gp_Vec chord(nodes[i == 0 ? 0 : i - 1].p, nodes[i == 0 ? 1 : i].p);
        if (nodes[i].along.Dot(chord) < 0) {
            nodes[i].along.Reverse();
        }
    }
    for (size_t i = 0; i + 1 < nodes.size();) {
        const Node& one = nodes[i];
        const Node& other = nodes[i + 1];
        const Arc arc = arc_between(one, other);
        const auto at = patch.nearest({(one.at.u + other.at.u) / 2, (one.at.v + other.at.v) / 2}, arc.middle,
                                      arc.along.Normalized());
        if (!at || one.p.Distance(other.p) < 1e-6) {
            return std::nullopt;
        }
        Node between{*at, patch.point(*at), patch.tangent(*at)};
        if (between.along.Dot(arc.along) < 0) {
            between.along.Reverse();
        }
        if (between.p.Distance(arc.middle) < closeness / 2 && between.along.IsParallel(arc.along, 1e-4)) {
            ++i;
            continue;
        }
        if (between.along.Magnitude() == 0 || nodes.size() == most_nodes) {
            return std::nullopt;
        }
        nodes.insert(nodes.begin() + static_cast<std::ptrdiff_t>(i) + 1, between);
    }
    return nodes;
}

Handle(Geom_BSplineCurve) spline_through(const std::vector<Node>& nodes) {
    const int arcs = static_cast<int>(nodes.size()) - 1;
    TColgp_Array1OfPnt poles(1, 2 * arcs + 2);
    TColStd_Array1OfReal knots(1, arcs + 1);
    const auto counts = counts_of_pieces(arcs, 3, 2);
    knots.SetValue(1, 0);
    poles.SetValue(1, nodes.front().p);
    for (int i = 0; i < arcs; ++i) {
        const Arc arc = arc_between(nodes[static_cast<size_t>(i)], nodes[static_cast<size_t>(i) + 1]);
        poles.SetValue(2 * i + 2, arc.control_1);
        poles.SetValue(2 * i + 3, arc.control_2);
        knots.SetValue(i + 2, knots.Value(i + 1) + arc.length);
    }
    poles.SetValue(2 * arcs + 2, nodes.back().p);
    return new Geom_BSplineCurve(poles, knots, counts, 3);
}

// Places from `low` to `high`, `samples` between two ends of smooth spans.
std::vector<double> grid(double low, double high, const TColStd_Array1OfReal& spans) {
    std::vector<double> ends{low};
    for (const double end : spans) {
        if (end > low + 1e-9 * (high - low) && end < high - 1e-9 * (high - low)) {
            ends.push_back(end);
        }
    }
    ends.push_back(high);
    std::vector<double> places{low};
    for (size_t i = 0; i + 1 < ends.size(); ++i) {
        for (int k = 1; k <= samples; ++k) {
            places.push_back(ends[i] + (ends[i + 1] - ends[i]) * k / samples);
        }
    }
    return places;
}

// Whether the normal jumps. Where only the parameters do, as on a circle made of splines, there is no crease.
bool has_crease(const Adaptor3d_Surface& surface, const SurfaceBounds& b) {
    const auto normal = [&](double u, double v) {
        gp_Pnt p;
        gp_Vec du;
        gp_Vec dv;
        surface.D1(u, v, p, du, dv);
        return du.Crossed(dv);
    };
    const auto jumps = [&](bool along_v, double at, double low, double high, double size) {
        for (int i = 1; i < samples; ++i) {
            const double other = low + (high - low) * i / samples;
            const double beside = 1e-8 * size;
            const gp_Vec one = along_v ? normal(at - beside, other) : normal(other, at - beside);
            const gp_Vec two = along_v ? normal(at + beside, other) : normal(other, at + beside);
            if (!one.IsParallel(two, 1e-5) || one.Dot(two) < 0) {
                return true;
            }
        }
        return false;
    };
    TColStd_Array1OfReal us(1, surface.NbUIntervals(GeomAbs_C1) + 1);
    TColStd_Array1OfReal vs(1, surface.NbVIntervals(GeomAbs_C1) + 1);
    surface.UIntervals(us, GeomAbs_C1);
    surface.VIntervals(vs, GeomAbs_C1);
    const auto within = [](double at, double low, double high) {
        return at > low + 1e-9 * (high - low) && at < high - 1e-9 * (high - low);
    };
    return std::any_of(us.begin(), us.end(),
                       [&](double u) { return within(u, b.u0, b.u1) && jumps(true, u, b.v0, b.v1, b.u1 - b.u0); }) ||
           std::any_of(vs.begin(), vs.end(),
                       [&](double v) { return within(v, b.v0, b.v1) && jumps(false, v, b.u0, b.u1, b.v1 - b.v0); });
}

// Such a string is an edge of the face, and known as one.
bool runs_along_the_border(const std::vector<Uv>& string, const SurfaceBounds& b) {
    const auto all_at = [&](double Uv::*coordinate, double border, double size) {
        return std::all_of(string.begin(), string.end(),
                           [&](const Uv& at) { return std::fabs(at.*coordinate - border) < 1e-9 * size; });
    };
    return all_at(&Uv::u, b.u0, b.u1 - b.u0) || all_at(&Uv::u, b.u1, b.u1 - b.u0) ||
           all_at(&Uv::v, b.v0, b.v1 - b.v0) || all_at(&Uv::v, b.v1, b.v1 - b.v0);
}

} // namespace

std::optional<std::vector<Handle(Geom_BSplineCurve)>>
turning_splines(const Adaptor3d_Surface& surface, const SurfaceBounds& bounds, const gp_Vec& sight) {
    if (has_crease(surface, bounds)) {
        return std::nullopt; // it may turn away there, too
    }
    TColStd_Array1OfReal u_spans(1, surface.NbUIntervals(GeomAbs_C3) + 1);
    TColStd_Array1OfReal v_spans(1, surface.NbVIntervals(GeomAbs_C3) + 1);
    surface.UIntervals(u_spans, GeomAbs_C3);
    surface.VIntervals(v_spans, GeomAbs_C3);
    const Patch patch(surface, bounds, sight);
    std::vector<Handle(Geom_BSplineCurve)> curves;
    for (const auto& string :
         strings_of(patch, grid(bounds.u0, bounds.u1, u_spans), grid(bounds.v0, bounds.v1, v_spans))) {
        if (runs_along_the_border(string, bounds)) {
            continue;
        }
        const auto nodes = nodes_along(patch, string);
        if (!nodes) {
            return std::nullopt;
        }
        if (nodes->size() > 1) {
            curves.push_back(spline_through(*nodes));
        }
    }
    return curves;
}

} // namespace kervo::geom
