#include "geom/kernel/box_pairs.h"

#include "geom/make/flat_loops.h"

#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/measure/spans.h"
#include "geom/outline/flat_outline.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRep_Builder.hxx>
#include <Geom_Plane.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Pln.hxx>

#include <boost/math/quadrature/gauss.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <set>

namespace kervo::geom {

namespace {

constexpr double in_plane = 1e-6; // mm
constexpr int shares = 16;        // of a bent edge, where it is looked at

using Flat = FlatOutline::Place;

// A few places along an edge that tell where it lies: of a straight one its ends.
std::vector<gp_Pnt> places_along(const TopoDS_Edge& edge) {
    const BRepAdaptor_Curve curve(edge);
    const int steps = curve.GetType() == GeomAbs_Line ? 1 : shares;
    std::vector<gp_Pnt> places;
    for (int i = 0; i <= steps; ++i) {
        places.push_back(
            curve.Value(curve.FirstParameter() + (curve.LastParameter() - curve.FirstParameter()) * i / steps));
    }
    return places;
}

bool lies_in(const gp_Pln& plane, const std::vector<gp_Pnt>& places) {
    return std::all_of(places.begin(), places.end(), [&](const gp_Pnt& p) { return plane.Distance(p) < in_plane; });
}

// Through the place that is farthest from the first one, and the one that is farthest from the line to it.
std::optional<gp_Pln> plane_through(const std::vector<gp_Pnt>& places) {
    const gp_Pnt& from = places.front();
    gp_Vec along;
    for (const gp_Pnt& place : places) {
        const gp_Vec way(from, place);
        along = way.SquareMagnitude() > along.SquareMagnitude() ? way : along;
    }
    gp_Vec normal;
    for (const gp_Pnt& place : places) {
        const gp_Vec square = along.Crossed(gp_Vec(from, place));
        normal = square.SquareMagnitude() > normal.SquareMagnitude() ? square : normal;
    }
    if (normal.Magnitude() < in_plane * std::max(along.Magnitude(), in_plane)) {
        return std::nullopt;
    }
    return gp_Pln(from, gp_Dir(normal));
}

// An edge as one runs along it, one way or the other.
struct Half {
    size_t edge;
    bool forward;
};

// One plane, and the edges in it.
class PlaneLoops {
public:
    PlaneLoops(const EdgeNet& net, const gp_Pln& plane, std::vector<size_t> edges)
        : net_(net), plane_(plane), edges_(std::move(edges)) {}

    [[nodiscard]] std::optional<Finding> crossing() const;
    Result<std::vector<LoopFace>> faces();

private:
    struct Cycle {
        std::vector<Half> halves;
        double area = 0;    // of those that run counterclockwise; others have a negative one
        FlatOutline around; // a polygon near it
        size_t part = 0;    // of what hangs together
    };

    [[nodiscard]] Flat flat(const gp_Pnt& place) const;
    [[nodiscard]] size_t start(const Half& half) const { return net_.ends(half.edge)[half.forward ? 0 : 1]; }
    [[nodiscard]] size_t end(const Half& half) const { return net_.ends(half.edge)[half.forward ? 1 : 0]; }
    [[nodiscard]] double direction(const Half& half, double near) const;
    [[nodiscard]] double swept(const Half& half) const;
    void drop_loose_ends();
    void trace();
    bool drop_bridges();
    [[nodiscard]] Result<LoopFace> face_of(const Cycle& outer, const std::vector<const Cycle*>& holes) const;

    const EdgeNet& net_;
    gp_Pln plane_;
    std::vector<size_t> edges_;
    std::vector<Cycle> cycles_;
};

Flat PlaneLoops::flat(const gp_Pnt& place) const {
    const gp_Vec from(plane_.Location(), place);
    return {from.Dot(gp_Vec(plane_.XAxis().Direction())), from.Dot(gp_Vec(plane_.YAxis().Direction()))};
}

// Edges may meet in points that both end in, and nowhere else.
std::optional<Finding> PlaneLoops::crossing() const {
    std::vector<Box> boxes;
    for (const size_t edge : edges_) {
        boxes.push_back(box_within(bounds_of(net_.edge(edge))));
    }
    std::optional<Finding> found;
    each_meeting_pair(boxes, [&](size_t i, size_t k) {
        BRepExtrema_DistShapeShape near(net_.edge(edges_[i]), net_.edge(edges_[k]));
        if (found || !near.IsDone() || near.Value() > EdgeNet::same_place) {
            return;
        }
        for (int at = 1; at <= near.NbSolution(); ++at) {
            const gp_Pnt place = near.PointOnShape1(at);
            const auto& mine = net_.ends(edges_[i]);
            const auto& other = net_.ends(edges_[k]);
            const bool in_point = std::any_of(mine.begin(), mine.end(), [&](size_t point) {
                constexpr double beside = 1e-4; // mm: how well a tangential meeting is known
                return std::find(other.begin(), other.end(), point) != other.end() &&
                       net_.place(point).Distance(place) < beside;
            });
            if (!in_point) {
                found = error_finding("build.crossing", "Edges meet here, where neither of them has a point.",
                                      "Make a point there, and edges up to it.");
                add_place(*found, place);
                return;
            }
        }
    });
    return found;
}

// What ends in nothing bounds nothing.
void PlaneLoops::drop_loose_ends() {
    for (bool changed = true; changed;) {
        std::map<size_t, int> times;
        for (const size_t edge : edges_) {
            ++times[net_.ends(edge)[0]];
            ++times[net_.ends(edge)[1]];
        }
        changed = std::erase_if(edges_, [&](size_t edge) {
                      return times[net_.ends(edge)[0]] == 1 || times[net_.ends(edge)[1]] == 1;
                  }) > 0;
    }
}

// Where an edge leads to from its start, as an angle, looked at about `near` mm along it.
double PlaneLoops::direction(const Half& half, double near) const {
    const BRepAdaptor_Curve curve(net_.edge(half.edge));
    const double from = half.forward ? curve.FirstParameter() : curve.LastParameter();
    gp_Pnt here;
    gp_Vec along;
    curve.D1(from, here, along);
    const double step = along.Magnitude() > 0 ? near / along.Magnitude() : 0;
    const Flat a = flat(here);
    const Flat b = flat(curve.Value(from + (half.forward ? step : -step)));
    return std::atan2(b[1] - a[1], b[0] - a[0]);
}

// Half of the integral of x dy - y dx along it.
double PlaneLoops::swept(const Half& half) const {
    const BRepAdaptor_Curve curve(net_.edge(half.edge));
    const gp_Vec x(plane_.XAxis().Direction());
    const gp_Vec y(plane_.YAxis().Direction());
    const int parts =
        curve.GetType() == GeomAbs_Line ? 1 : shares * static_cast<int>(smooth_spans_of(curve).size() - 1);
    double sum = 0;
    for (int i = 0; i < parts; ++i) {
        const double length = (curve.LastParameter() - curve.FirstParameter()) / parts;
        const double from = curve.FirstParameter() + length * i;
        sum += boost::math::quadrature::gauss<double, 7>::integrate(
            [&](double t) {
                gp_Pnt place;
                gp_Vec way;
                curve.D1(t, place, way);
                const Flat at = flat(place);
                return (at[0] * way.Dot(y) - at[1] * way.Dot(x)) / 2;
            },
            from, from + length);
    }
    return half.forward ? sum : -sum;
}

// From each edge on along the next one to the right of where it came from: so every part is run around once.
void PlaneLoops::trace() {
    double shortest = 1e300;
    for (const size_t edge : edges_) {
        shortest = std::min(shortest, length_of(net_.edge(edge)));
    }
    std::map<size_t, std::vector<std::pair<double, size_t>>> leaving; // point -> angle, half
    std::vector<Half> halves;
    for (const size_t edge : edges_) {
        for (const bool forward : {true, false}) {
            halves.push_back({edge, forward});
            leaving[start(halves.back())].emplace_back(direction(halves.back(), 1e-3 * shortest), halves.size() - 1);
        }
    }
    for (auto& [point, around] : leaving) {
        std::sort(around.begin(), around.end());
    }
    const auto next = [&](size_t half) {
        const auto& around = leaving.at(end(halves[half]));
        const size_t back = half ^ 1U;
        const auto at =
            std::find_if(around.begin(), around.end(), [&](const auto& each) { return each.second == back; });
        return at == around.begin() ? around.back().second : std::prev(at)->second;
    };
    std::map<size_t, size_t> part_of; // point -> any other point that it hangs together with
    const auto root = [&](size_t point) {
        while (part_of.try_emplace(point, point).first->second != point) {
            point = part_of[point];
        }
        return point;
    };
    for (const size_t edge : edges_) {
        part_of[root(net_.ends(edge)[0])] = root(net_.ends(edge)[1]);
    }
    std::vector<bool> gone(halves.size(), false);
    for (size_t first = 0; first < halves.size(); ++first) {
        if (gone[first]) {
            continue;
        }
        Cycle cycle;
        for (size_t half = first; !gone[half]; half = next(half)) {
            gone[half] = true;
            cycle.halves.push_back(halves[half]);
            cycle.area += swept(halves[half]);
            auto places = places_along(net_.edge(halves[half].edge));
            if (!halves[half].forward) {
                std::reverse(places.begin(), places.end());
            }
            for (size_t i = 1; i < places.size(); ++i) {
                cycle.around.chords.push_back({flat(places[i - 1]), flat(places[i])});
            }
        }
        cycle.part = root(start(cycle.halves.front()));
        cycles_.push_back(std::move(cycle));
    }
}

// What is run along both ways by one cycle parts nothing. Whether there was any.
bool PlaneLoops::drop_bridges() {
    std::set<size_t> bridges;
    for (const Cycle& cycle : cycles_) {
        std::set<size_t> seen;
        for (const Half& half : cycle.halves) {
            if (!seen.insert(half.edge).second) {
                bridges.insert(half.edge);
            }
        }
    }
    return std::erase_if(edges_, [&](size_t edge) { return bridges.contains(edge); }) > 0;
}

Result<LoopFace> PlaneLoops::face_of(const Cycle& outer, const std::vector<const Cycle*>& holes) const {
    const BRep_Builder builder;
    LoopFace made;
    builder.MakeFace(made.face, new Geom_Plane(plane_), Precision::Confusion());
    double area = 0;
    std::vector<const Cycle*> loops{&outer};
    loops.insert(loops.end(), holes.begin(), holes.end());
    for (const Cycle* loop : loops) {
        TopoDS_Wire wire;
        builder.MakeWire(wire);
        for (const Half& half : loop->halves) {
            builder.Add(wire, net_.edge(half.edge).Oriented(half.forward ? TopAbs_FORWARD : TopAbs_REVERSED));
            made.edges.push_back(half.edge);
        }
        wire.Closed(Standard_True);
        builder.Add(made.face, wire);
        area += loop->area;
    }
    std::sort(made.edges.begin(), made.edges.end());
    constexpr double agrees = 1e-6; // relative
    if (std::fabs(area_of(made.face) - area) > agrees * std::fabs(area) || !is_valid(made.face)) {
        Finding finding = error_finding("build.no_face", "No flat face could be made within these edges.",
                                        "Look whether they touch each other between their ends.");
        add_place(finding, net_.place(start(outer.halves.front())));
        return finding;
    }
    return made;
}

Result<std::vector<LoopFace>> PlaneLoops::faces() {
    if (const auto found = crossing()) {
        return *found;
    }
    do {
        cycles_.clear();
        drop_loose_ends();
        trace();
    } while (drop_bridges());
    std::map<const Cycle*, std::vector<const Cycle*>> holes;
    for (const Cycle& cycle : cycles_) {
        if (cycle.area > 0) {
            holes[&cycle];
        }
    }
    for (const Cycle& inner : cycles_) {
        const Cycle* around = nullptr; // the smallest that it lies in
        for (const auto& [outer, known] : holes) {
            if (inner.area < 0 && outer->part != inner.part && outer->around.contains(inner.around.chords.front().a) &&
                (around == nullptr || outer->area < around->area)) {
                around = outer;
            }
        }
        if (around != nullptr) {
            holes[around].push_back(&inner);
        }
    }
    std::vector<LoopFace> made;
    for (const Cycle& cycle : cycles_) { // in the order of the edges
        if (cycle.area > 0) {
            auto face = face_of(cycle, holes[&cycle]);
            if (!face) {
                return face.finding();
            }
            made.push_back(std::move(*face));
        }
    }
    return made;
}

// The planes in which edges may enclose something: of every bent edge, and of every two that meet.
std::vector<std::pair<gp_Pln, std::vector<size_t>>> planes_of(const EdgeNet& net, const std::vector<size_t>& edges) {
    std::vector<std::vector<gp_Pnt>> along;
    std::map<size_t, std::vector<size_t>> at; // point -> places in `edges`
    for (size_t i = 0; i < edges.size(); ++i) {
        along.push_back(places_along(net.edge(edges[i])));
        at[net.ends(edges[i])[0]].push_back(i);
        at[net.ends(edges[i])[1]].push_back(i);
    }
    std::vector<std::pair<gp_Pln, std::vector<size_t>>> planes;
    std::vector<std::set<size_t>> planes_at(edges.size()); // in which each edge lies
    const auto look = [&](size_t one, size_t other) {
        const auto& mine = planes_at[one];
        if (std::any_of(mine.begin(), mine.end(), [&](size_t known) { return planes_at[other].contains(known); })) {
            return;
        }
        std::vector<gp_Pnt> places = along[one];
        places.insert(places.end(), along[other].begin(), along[other].end());
        const auto plane = plane_through(places);
        if (!plane || !lies_in(*plane, places)) {
            return;
        }
        std::vector<size_t> inside;
        for (size_t i = 0; i < edges.size(); ++i) {
            if (lies_in(*plane, along[i])) {
                inside.push_back(i);
            }
        }
        for (const size_t i : inside) {
            planes_at[i].insert(planes.size());
        }
        planes.emplace_back(*plane, std::vector<size_t>());
        std::transform(inside.begin(), inside.end(), std::back_inserter(planes.back().second),
                       [&](size_t i) { return edges[i]; });
    };
    for (size_t i = 0; i < edges.size(); ++i) {
        look(i, i);
        for (const size_t point : net.ends(edges[i])) {
            for (const size_t other : at[point]) {
                look(i, other);
            }
        }
    }
    return planes;
}

} // namespace

Result<std::vector<LoopFace>> flat_faces(const EdgeNet& net, const std::vector<size_t>& edges) {
    std::vector<LoopFace> all;
    for (auto& [plane, inside] : planes_of(net, edges)) {
        auto made = PlaneLoops(net, plane, inside).faces();
        if (!made) {
            return made.finding();
        }
        std::move(made->begin(), made->end(), std::back_inserter(all));
    }
    return all;
}

bool are_flat(const EdgeNet& net, const std::vector<size_t>& edges) {
    std::vector<gp_Pnt> places;
    for (const size_t edge : edges) {
        const auto own = places_along(net.edge(edge));
        places.insert(places.end(), own.begin(), own.end());
    }
    const auto plane = plane_through(places);
    return plane && lies_in(*plane, places);
}

} // namespace kervo::geom
