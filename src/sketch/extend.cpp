// Extend and close: edits that lengthen curves to others, and add the line that is missing.
#include "base/text.h"
#include "sketch/edit.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::sketch {

namespace {

// The end of a line or arc nearest to a place, lengthened as far as it may go.
struct Reach {
    Stretch ahead; ///< from the end on
    bool at_start = false;
};

std::optional<Reach> reach_of(const Sketch& sketch, const Curve& curve, const Point2& near) {
    const Stretch s = stretch_of(sketch, curve);
    if (curve.kind != CurveKind::line && curve.kind != CurveKind::arc) {
        return std::nullopt;
    }
    const bool at_start = distance(near, s.start) < distance(near, s.end);
    if (curve.kind == CurveKind::arc) {
        const double rest = 2 * std::numbers::pi - s.sweep;
        return Reach{at_start ? arc_about(s.center, s.radius, s.from, -rest, curve.id)
                              : arc_about(s.center, s.radius, s.from + s.sweep, rest, curve.id),
                     at_start};
    }
    double far = 0;
    for (const Stretch& other : stretches_of(sketch, true)) {
        const auto box = other.box();
        far = std::max({far, distance(s.start, {box[0], box[1]}), distance(s.start, {box[2], box[3]}),
                        distance(s.start, {box[0], box[3]}), distance(s.start, {box[2], box[1]})});
    }
    const Point2& from = at_start ? s.start : s.end;
    const Point2& back = at_start ? s.end : s.start;
    const double stretch = far / s.length() + 1;
    return Reach{line_between(from, {from[0] + (from[0] - back[0]) * stretch, from[1] + (from[1] - back[1]) * stretch},
                              curve.id),
                 at_start};
}

// The curve that is met first, and where.
struct Ahead {
    double at = 0; ///< parameter on the stretch ahead
    int by = 0;
};

std::optional<Ahead> next_ahead(const Sketch& sketch, const Reach& reach) {
    std::optional<Ahead> next;
    for (const Stretch& other : stretches_of(sketch, true)) {
        if (other.curve == reach.ahead.curve) {
            continue;
        }
        for (const auto& [t, u] : meetings(reach.ahead, other, joining_tolerance)) {
            if (distance(reach.ahead.at(t), reach.ahead.start) > joining_tolerance && (!next || t < next->at)) {
                next = Ahead{t, other.curve};
            }
        }
    }
    return next;
}

} // namespace

Preview extend_preview(const Sketch& sketch, int curve, const Point2& near) {
    const Curve* whole = sketch.curve(curve);
    const auto reach = whole == nullptr ? std::nullopt : reach_of(sketch, *whole, near);
    const auto next = reach ? next_ahead(sketch, *reach) : std::nullopt;
    return next ? Preview{reach->ahead.part(0, next->at), {}, {next->by}} : Preview{};
}

Edited extend(const Sketch& sketch, int curve, const Point2& near) {
    const Curve* whole = sketch.curve(curve);
    const auto reach = whole == nullptr ? std::nullopt : reach_of(sketch, *whole, near);
    if (!reach) {
        return refuse(sketch, "edit.no_extension", "Only lines and arcs can be extended.", "Point at the end of one.");
    }
    const auto next = next_ahead(sketch, *reach);
    if (!next) {
        return refuse(sketch, "edit.nothing_ahead", "There is no curve ahead of this end.",
                      "Draw the curve that it should reach, or drag the end.");
    }
    Edited edited{sketch, {}, {}};
    Sketch& s = edited.sketch;
    const Point2 place = reach->ahead.at(next->at);
    const int fresh = s.add_point(place[0], place[1]);
    Curve& extended = *s.curve(curve);
    const size_t end = (extended.kind == CurveKind::line ? 0 : 1) + (reach->at_start ? 0 : 1);
    const int old = extended.points[end];
    extended.points[end] = fresh;
    const bool still_used = std::any_of(s.curves.begin(), s.curves.end(), [old](const Curve& c) {
        return std::find(c.points.begin(), c.points.end(), old) != c.points.end();
    });
    std::erase_if(s.constraints, [&](const Constraint& c) {
        const bool length = c.kind == ConstraintKind::distance && c.on == std::vector<int>{curve};
        return length || c.kind == ConstraintKind::arc_length ||
               (!still_used && std::find(c.on.begin(), c.on.end(), old) != c.on.end());
    });
    if (!still_used) {
        std::erase_if(s.points, [old](const Point& p) { return p.id == old; });
    }
    s.add_constraint(ConstraintKind::coincident, {fresh, next->by});
    edited.told =
        "The curve is longer by " + format_quantity(reach->ahead.part(0, next->at).length(), "mm", 3) + " mm.";
    return edited;
}

Edited close_chain(const Sketch& sketch, const std::set<int>& curves) {
    const SharedEnds shared(sketch);
    std::vector<int> ends;
    for (const int id : curves) {
        const Curve* curve = sketch.curve(id);
        if (curve == nullptr) {
            continue;
        }
        const Stretch s = stretch_of(sketch, *curve);
        if (s.closed(joining_tolerance)) {
            continue;
        }
        for (const int point : end_points(*curve)) {
            const auto twin =
                std::find_if(ends.begin(), ends.end(), [&](int known) { return shared.same(known, point); });
            twin == ends.end() ? ends.push_back(point) : (void)ends.erase(twin);
        }
    }
    if (ends.size() != 2) {
        return refuse(sketch, "edit.no_chain",
                      ends.empty() ? "This chain is closed already." : "What is selected is no single chain of curves.",
                      "Select curves that hang together and have two loose ends.");
    }
    Edited edited{sketch, {}, {}};
    edited.sketch.add_line(ends[0], ends[1]);
    edited.told = counted(curves.size(), "open curve", "open curves") + " became 1 closed chain.";
    return edited;
}

} // namespace kervo::sketch
