#include "geom/make/joined_curves.h"

#include "base/units.h"
#include "geom/kernel/join_ends.h"
#include "geom/make/curve_flaws.h"
#include "geom/measure/along_edge.h"
#include "geom/measure/arc_length.h"
#include "geom/measure/measure.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRep_Tool.hxx>
#include <GeomAdaptor_Curve.hxx>
#include <Geom_BezierCurve.hxx>
#include <Geom_Circle.hxx>
#include <Geom_Line.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <TopoDS.hxx>
#include <gp_Circ.hxx>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::geom {

namespace {

constexpr double one_place = 1e-5;  // mm
constexpr double one_way_on = 1e-6; // rad

// A curve between two of its parameters, gone forwards or backwards.
struct Part {
    Handle(Geom_Curve) curve;
    double from = 0, to = 0;

    [[nodiscard]] gp_Pnt start() const { return curve->Value(from); }
    [[nodiscard]] gp_Pnt end() const { return curve->Value(to); }
    [[nodiscard]] gp_Vec way(double at) const { return (curve->DN(at, 1) * (to > from ? 1 : -1)).Normalized(); }
    [[nodiscard]] bool straight() const { return !Handle(Geom_Line)::DownCast(curve).IsNull(); }
    [[nodiscard]] double length() const {
        return arc_length(GeomAdaptor_Curve(curve), std::min(from, to), std::max(from, to));
    }
    [[nodiscard]] double along(double from_there, double by) const {
        return parameter_after(GeomAdaptor_Curve(curve), from_there, to > from ? by : -by);
    }
    [[nodiscard]] TopoDS_Edge edge() const {
        const TopoDS_Edge made = BRepBuilderAPI_MakeEdge(curve, std::min(from, to), std::max(from, to)).Edge();
        return to > from ? made : TopoDS::Edge(made.Reversed());
    }
    [[nodiscard]] Part turned() const { return {curve, to, from}; }
};

Part part_of(const TopoDS_Edge& edge) {
    Part part;
    part.curve = BRep_Tool::Curve(edge, part.from, part.to);
    return part;
}

Part line_between(const gp_Pnt& from, const gp_Pnt& to) {
    return {new Geom_Line(from, gp_Dir(gp_Vec(from, to))), 0, from.Distance(to)};
}

Part cubic(const gp_Pnt& from, const gp_Vec& leaves, const gp_Vec& arrives, const gp_Pnt& to) {
    TColgp_Array1OfPnt poles(1, 4);
    poles.SetValue(1, from);
    poles.SetValue(2, from.Translated(leaves));
    poles.SetValue(3, to.Translated(arrives.Reversed()));
    poles.SetValue(4, to);
    return {new Geom_BezierCurve(poles), 0, 1};
}

// One after the other, turned so that each runs on from the one before.
Result<std::vector<Part>> in_order(const std::vector<TopoDS_Edge>& edges) {
    std::vector<Part> left;
    for (const TopoDS_Edge& edge : edges) {
        left.push_back(part_of(edge));
    }
    std::vector<Part> chain{left.front()};
    left.erase(left.begin());
    const auto meets = [](const gp_Pnt& one, const gp_Pnt& other) { return one.Distance(other) < one_place; };
    const auto take = [&](const gp_Pnt& at) -> Result<std::optional<Part>> {
        std::vector<size_t> here;
        for (size_t i = 0; i < left.size(); ++i) {
            if (meets(left[i].start(), at) || meets(left[i].end(), at)) {
                here.push_back(i);
            }
        }
        if (here.size() > 1) {
            return curve_flaw("space.branches", "More than two of the curves meet here.",
                              "Take one of them off the list.", at);
        }
        if (here.empty()) {
            return std::optional<Part>();
        }
        const Part found = left[here.front()];
        left.erase(left.begin() + static_cast<std::ptrdiff_t>(here.front()));
        return std::optional(found);
    };
    for (const bool onward : {true, false}) {
        while (!meets(chain.front().start(), chain.back().end())) {
            const gp_Pnt at = onward ? chain.back().end() : chain.front().start();
            const auto next = take(at);
            if (!next) {
                return next.finding();
            }
            if (!*next) {
                break;
            }
            const Part& part = **next;
            if (onward) {
                chain.push_back(meets(part.start(), at) ? part : part.turned());
            } else {
                chain.insert(chain.begin(), meets(part.end(), at) ? part : part.turned());
            }
        }
    }
    if (left.empty()) {
        return chain;
    }
    double gap = std::numeric_limits<double>::infinity();
    gp_Pnt where;
    for (const Part& part : left) {
        for (const gp_Pnt& end : {chain.front().start(), chain.back().end()}) {
            for (const gp_Pnt& other : {part.start(), part.end()}) {
                if (end.Distance(other) < gap) {
                    gap = end.Distance(other);
                    where = end;
                }
            }
        }
    }
    return curve_flaw("space.apart",
                      "The curves do not join end to end: " + format_fixed(gap, "mm") + " mm are missing here.",
                      "Make one of them longer, or take off what does not belong to it.", where);
}

// What is tangent to both where so much of each has given way.
Result<Part> rounded(Part& before, Part& after, double reach) {
    const gp_Pnt corner = before.end();
    const double turn = before.way(before.to).Angle(after.way(after.from));
    constexpr double back = std::numbers::pi * 179 / 180;
    if (turn > back) {
        return curve_flaw("space.turns_back", "Here the curve turns right back, and cannot be rounded.",
                          "Take one of the two off the list.", corner);
    }
    before.to = before.along(before.to, -reach);
    after.from = after.along(after.from, reach);
    const gp_Vec leaves = before.way(before.to);
    const gp_Vec arrives = after.way(after.from);
    if (before.straight() && after.straight()) {
        const gp_Vec square = leaves.Crossed(arrives);
        const double radius = reach / std::tan(turn / 2);
        const gp_Vec inward = square.Crossed(leaves).Normalized();
        const gp_Pnt middle = before.end().Translated(inward * radius);
        const Handle(Geom_Circle) circle =
            new Geom_Circle(gp_Ax2(middle, gp_Dir(square), gp_Dir(inward.Reversed())), radius);
        return Part{Handle(Geom_Curve)(circle), 0, turn};
    }
    const double now = leaves.Angle(arrives);
    const double chord = before.end().Distance(after.start());
    // As long as those of the cubic nearest to an arc over this chord.
    const double handle = now < one_way_on ? chord / 3 : 2.0 / 3 * std::tan(now / 4) * chord / std::sin(now / 2);
    return cubic(before.end(), leaves * handle, arrives * handle, after.start());
}

Result<std::vector<TopoDS_Edge>> edges_of_parts(const std::vector<Part>& parts) {
    std::vector<TopoDS_Edge> edges;
    for (const Part& part : parts) {
        edges.push_back(part.edge());
    }
    return join_ends(edges, 10 * one_place);
}

// What of each part is left between rounded corners must be something.
std::optional<Finding> too_short(const std::vector<Part>& parts, const std::vector<bool>& corner_after, double reach) {
    for (size_t i = 0; i < parts.size(); ++i) {
        const bool before = corner_after[(i + parts.size() - 1) % parts.size()];
        const double taken = reach * ((before ? 1 : 0) + (corner_after[i] ? 1 : 0));
        if (taken > 0 && parts[i].length() - taken < one_place) {
            return curve_flaw("space.reach",
                              "This piece is only " + format_fixed(parts[i].length(), "mm") +
                                  " mm long; the rounded corners take more than that.",
                              "Take a smaller reach.", parts[i].curve->Value((parts[i].from + parts[i].to) / 2));
        }
    }
    return std::nullopt;
}

} // namespace

Result<std::vector<TopoDS_Edge>> joined_curves(const std::vector<TopoDS_Edge>& edges, double reach,
                                               Closing closing) try {
    auto ordered = in_order(edges);
    if (!ordered) {
        return ordered.finding();
    }
    std::vector<Part>& parts = *ordered;
    const gp_Pnt start = parts.front().start();
    const gp_Pnt end = parts.back().end();
    bool closed = start.Distance(end) < one_place;
    if (closing != Closing::none) {
        if (closed) {
            return curve_flaw("space.closed", "The curve is closed already.", "Leave it as it is.", start);
        }
        if (closing == Closing::straight) {
            parts.push_back(line_between(end, start));
        } else {
            const double third = start.Distance(end) / 3;
            const gp_Vec leaves = parts.back().way(parts.back().to);
            const gp_Vec arrives = parts.front().way(parts.front().from);
            parts.push_back(cubic(end, leaves * third, arrives * third, start));
        }
        closed = true;
    }
    if (reach <= 0) {
        return edges_of_parts(parts);
    }
    std::vector<bool> corner_after;
    for (size_t i = 0; i < parts.size(); ++i) {
        const Part& next = parts[(i + 1) % parts.size()];
        corner_after.push_back((closed || i + 1 < parts.size()) &&
                               parts[i].way(parts[i].to).Angle(next.way(next.from)) > one_way_on);
    }
    if (auto flaw = too_short(parts, corner_after, reach)) {
        return std::move(*flaw);
    }
    std::vector<std::optional<Part>> round(parts.size());
    for (size_t i = 0; i < parts.size(); ++i) {
        if (corner_after[i]) {
            auto made = rounded(parts[i], parts[(i + 1) % parts.size()], reach);
            if (!made) {
                return made.finding();
            }
            round[i] = *made;
        }
    }
    std::vector<Part> all;
    for (size_t i = 0; i < parts.size(); ++i) {
        all.push_back(parts[i]);
        if (round[i]) {
            all.push_back(*round[i]);
        }
    }
    for (size_t i = 0; i + (closed ? 0 : 1) < all.size(); ++i) {
        const Part& next = all[(i + 1) % all.size()];
        if (all[i].end().Distance(next.start()) > one_place ||
            all[i].way(all[i].to).Angle(next.way(next.from)) > 1e-5) {
            return curve_flaw("space.failed", "Here the curve did not become smooth.", "Take another reach.",
                              next.start());
        }
    }
    return edges_of_parts(all);
} catch (const Standard_Failure&) {
    return curve_flaw("space.failed", "The curves could not be joined.", "Take them one by one to find out which.",
                      center_of(edges.front()));
}

Result<std::vector<TopoDS_Edge>> longer_curve(const TopoDS_Edge& edge, double at_first, double at_last,
                                              bool round) try {
    Part part = part_of(edge);
    const gp_Pnt start = part.start();
    const gp_Pnt end = part.end();
    if (start.Distance(end) < one_place) {
        return curve_flaw("space.closed", "The curve is closed: it has no ends.", "Trim it first.", start);
    }
    if (!runs_from_its_first_end(edge)) {
        part = part.turned();
    }
    if (part.length() + std::min(at_first, 0.0) + std::min(at_last, 0.0) < one_place) {
        return curve_flaw("space.no_length", "Nothing of the curve would be left.", "Take less off.", start);
    }
    const auto beyond = [&](double from, double by) -> Part { // from an end of the part on, outwards
        const bool onward = from == part.to;
        const gp_Pnt place = part.curve->Value(from);
        const gp_Vec way = part.way(from) * (onward ? 1 : -1);
        const gp_Vec first = part.curve->DN(from, 1);
        const gp_Vec bend = first.Crossed(part.curve->DN(from, 2)).Crossed(first);
        const double curvature = bend.Magnitude() / std::pow(first.Magnitude(), 4);
        if (!round || curvature * by < 1e-9) {
            return line_between(place, place.Translated(way * by));
        }
        const gp_Vec inward = bend.Normalized();
        const gp_Ax2 frame(place.Translated(inward / curvature), gp_Dir(inward.Reversed().Crossed(way)),
                           gp_Dir(inward.Reversed()));
        return {new Geom_Circle(frame, 1 / curvature), 0, by* curvature};
    };
    const auto add = [&](double by, bool onward) -> std::optional<Part> {
        double& own = onward ? part.to : part.from;
        const bool same_curve = part.straight() || (round && !Handle(Geom_Circle)::DownCast(part.curve).IsNull());
        if (by <= 0 || same_curve) {
            own = by == 0 ? own : part.along(own, onward ? by : -by);
            return std::nullopt;
        }
        return beyond(own, by);
    };
    const auto before = add(at_first, false);
    const auto after = add(at_last, true);
    for (const auto& each : {std::optional(part), before, after}) {
        if (each && !Handle(Geom_Circle)::DownCast(each->curve).IsNull() &&
            std::fabs(each->to - each->from) > 2 * std::numbers::pi - 1e-9) {
            return curve_flaw("space.closed", "So long, the curve would go all the way round.", "Make it shorter.",
                              start);
        }
    }
    std::vector<Part> all;
    if (before) {
        all.push_back(before->turned());
    }
    all.push_back(part);
    if (after) {
        all.push_back(*after);
    }
    return edges_of_parts(all);
} catch (const Standard_Failure&) {
    return curve_flaw("space.failed", "The curve could not be made longer.", "Take another length.", center_of(edge));
}

} // namespace kervo::geom
