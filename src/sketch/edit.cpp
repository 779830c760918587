// Trim and split: edits that cut curves into parts.
#include "sketch/edit.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::sketch {

bool rests_on_length(const Constraint& constraint, CurveKind kind) {
    return constraint.kind == ConstraintKind::midpoint || constraint.kind == ConstraintKind::arc_length ||
           (constraint.kind == ConstraintKind::distance && constraint.on.size() == 1) ||
           (constraint.kind == ConstraintKind::equal && kind == CurveKind::line);
}

Edited refuse(const Sketch& sketch, const char* code, const std::string& cause, const std::string& mend) {
    return {sketch, {}, error_finding(code, cause, mend)};
}

namespace {

// Where a curve is met, and by which.
struct Cut {
    double at = 0; ///< parameter on the curve
    int by = 0;
};

std::vector<Cut> cuts_on(const Sketch& sketch, const Stretch& stretch, const std::vector<int>& cutters) {
    std::vector<Cut> cuts;
    for (const Stretch& other : stretches_of(sketch, true)) {
        const bool asked = cutters.empty() || std::find(cutters.begin(), cutters.end(), other.curve) != cutters.end();
        if (other.curve != stretch.curve && asked) {
            for (const auto& [t, u] : meetings(stretch, other, joining_tolerance)) {
                cuts.push_back({t, other.curve});
            }
        }
    }
    if (cutters.empty()) {
        for (const auto& [t, u] : self_meetings(stretch, joining_tolerance)) {
            cuts.push_back({t, stretch.curve});
            cuts.push_back({u, stretch.curve});
        }
    }
    std::sort(cuts.begin(), cuts.end(), [](const Cut& a, const Cut& b) { return a.at < b.at; });
    // Ends of an open curve cut nothing, and several curves through one place cut once.
    std::vector<Cut> kept;
    const bool closed = stretch.closed(joining_tolerance);
    for (const Cut& cut : cuts) {
        const Point2 place = stretch.at(cut.at);
        const bool at_end =
            distance(place, stretch.start) <= joining_tolerance || distance(place, stretch.end) <= joining_tolerance;
        const bool again = !kept.empty() && distance(place, stretch.at(kept.back().at)) <= joining_tolerance &&
                           cut.at - kept.back().at < 0.5;
        if (!again && (closed || !at_end)) {
            kept.push_back(cut);
        }
    }
    if (closed && kept.size() > 1 &&
        distance(stretch.at(kept.front().at), stretch.at(kept.back().at)) <= joining_tolerance) {
        kept.pop_back(); // the seam, met at both its ends
    }
    return kept;
}

// Which part of the curve a place points at: from the cut before it to the cut after it. On a closed curve the part may
// run over the seam: then `to` is beyond 1. -1 for `first` or `last` says: its own end.
struct Pointed {
    double from = 0, to = 1;
    int first = -1, last = -1; ///< into the cuts
};

Pointed pointed_at(const Stretch& stretch, const std::vector<Cut>& cuts, const Point2& near) {
    const double t = nearest_on(stretch, near).first;
    Pointed part;
    for (int i = 0; i < static_cast<int>(cuts.size()); ++i) {
        const double at = cuts[static_cast<size_t>(i)].at;
        if (at <= t) {
            part.from = at;
            part.first = i;
        } else if (part.last < 0) {
            part.to = at;
            part.last = i;
        }
    }
    if (stretch.closed(joining_tolerance) && !cuts.empty()) {
        if (part.first < 0) {
            part.first = static_cast<int>(cuts.size()) - 1;
            part.from = cuts.back().at - 1;
        }
        if (part.last < 0) {
            part.last = 0;
            part.to = cuts.front().at + 1;
        }
    }
    return part;
}

// Makes curves of parts of one: the first keeps its id. Constraints that no longer make sense go.
class Parts {
public:
    Parts(Sketch& sketch, int curve)
        : sketch_(sketch), whole_(*sketch.curve(curve)), stretch_(stretch_of(sketch, whole_)) {}

    /// The part from `from` to `to` (beyond 1: over the seam of a closed curve), cut there by those curves; 0: its own
    /// end. Returns the curve's id.
    int add(double from, double to, int from_cutter, int to_cutter) {
        const int start = end_point(from, from_cutter);
        const int end = end_point(to, to_cutter);
        Curve part = whole_;
        part.id = first_ ? whole_.id : ++sketch_.last_id;
        part.source = {}; // a part is drawn here
        switch (whole_.kind) {
        case CurveKind::line:
            part.points = {start, end};
            break;
        case CurveKind::circle:
        case CurveKind::arc:
            part.kind = CurveKind::arc;
            part.radius = 0;
            part.points = {whole_.points[0], start, end};
            break;
        case CurveKind::ellipse:
            part.points = {whole_.points[0], whole_.points[1], start, end};
            break;
        case CurveKind::spline:
            make_spline(part, from, to, start, end);
            break;
        }
        if (first_) {
            *sketch_.curve(whole_.id) = part;
            first_ = false;
        } else {
            sketch_.curves.push_back(part);
            // Two parts of one circle stay on one circle.
            if (part.kind == CurveKind::arc) {
                sketch_.add_constraint(ConstraintKind::equal, {whole_.id, part.id});
            } else if (part.kind == CurveKind::line) {
                sketch_.add_constraint(ConstraintKind::collinear, {whole_.id, part.id});
            }
        }
        return part.id;
    }

    /// Drops what only the whole curve had.
    void finish() {
        std::set<int> used;
        for (const Curve& curve : sketch_.curves) {
            used.insert(curve.points.begin(), curve.points.end());
        }
        std::set<int> gone;
        for (const int point : whole_.points) {
            if (!used.contains(point)) {
                gone.insert(point);
            }
        }
        std::erase_if(sketch_.points, [&](const Point& p) { return gone.contains(p.id); });
        std::erase_if(sketch_.constraints, [&](const Constraint& c) {
            const bool lost = std::any_of(c.on.begin(), c.on.end(), [&](int id) { return gone.contains(id); });
            const bool of_whole = std::find(c.on.begin(), c.on.end(), whole_.id) != c.on.end();
            const bool by_length = rests_on_length(c, whole_.kind) || c.kind == ConstraintKind::smooth;
            return lost || (of_whole && by_length && !fresh_.contains(c.id));
        });
        std::erase_if(sketch_.constraints, [&](const Constraint& c) {
            Sketch probe = sketch_;
            probe.constraints = {c};
            return has_error(check_structure(probe));
        });
    }

private:
    int end_point(double t, int cutter) {
        const bool own = cutter == 0;
        const double at = t < 0 ? t + 1 : t > 1 ? t - 1 : t;
        if (own && (at == 0 || at == 1) && whole_.kind != CurveKind::circle) {
            if (const int known = own_end(at == 0); known != 0) {
                return known;
            }
        }
        const Point2 place = stretch_.at(at);
        for (const auto& [where, point] : made_) { // both sides of a split share it
            if (distance(where, place) <= joining_tolerance) {
                return point;
            }
        }
        const int point = sketch_.add_point(place[0], place[1]);
        made_.emplace_back(place, point);
        if (!own && cutter != whole_.id) {
            tie(point, cutter);
        }
        return point;
    }

    [[nodiscard]] int own_end(bool start) const {
        switch (whole_.kind) {
        case CurveKind::line:
            return whole_.points[start ? 0 : 1];
        case CurveKind::arc:
            return whole_.points[start ? 1 : 2];
        case CurveKind::ellipse:
            return whole_.points.size() == 4 ? whole_.points[start ? 2 : 3] : 0;
        case CurveKind::spline:
            return whole_.closed ? 0 : start ? whole_.points.front() : whole_.points.back();
        case CurveKind::circle:
            break;
        }
        return 0;
    }

    // The new end stays on the curve that cut there.
    void tie(int point, int cutter) {
        const Curve& by = *sketch_.curve(cutter);
        const Point2 place{sketch_.point(point)->x, sketch_.point(point)->y};
        for (const int corner : by.points) {
            const Point* p = sketch_.point(corner);
            const bool center = by.kind != CurveKind::line && by.kind != CurveKind::spline && corner == by.points[0];
            if (!center && distance({p->x, p->y}, place) <= joining_tolerance) {
                fresh_.insert(sketch_.add_constraint(ConstraintKind::coincident, {point, corner}));
                return;
            }
        }
        fresh_.insert(sketch_.add_constraint(ConstraintKind::coincident, {point, cutter}));
    }

    void make_spline(Curve& part, double from, double to, int start, int end) {
        const Spline& whole = *stretch_.spline;
        const auto parameter = [&](double t) { return stretch_.from + stretch_.sweep * t; };
        Spline segment;
        if (to > 1 || from < 0) { // over the seam of a closed one: two parts, laid end to end
            const double a = from < 0 ? from + 1 : from;
            const double b = to > 1 ? to - 1 : to;
            segment = whole.segment(parameter(a), whole.last());
            const Spline rest = whole.segment(whole.first(), parameter(b));
            const double shift = segment.knots.back() - rest.knots.front();
            segment.knots.pop_back();
            for (size_t i = static_cast<size_t>(rest.degree) + 1; i < rest.knots.size(); ++i) {
                segment.knots.push_back(rest.knots[i] + shift);
            }
            segment.poles.insert(segment.poles.end(), rest.poles.begin() + 1, rest.poles.end());
        } else {
            segment = whole.segment(parameter(from), parameter(to));
        }
        part.through = false;
        part.closed = false;
        part.degree = segment.degree;
        part.knots = segment.knots;
        part.points = {start};
        for (size_t i = 1; i + 1 < segment.poles.size(); ++i) {
            part.points.push_back(sketch_.add_point(segment.poles[i][0], segment.poles[i][1]));
        }
        part.points.push_back(end);
    }

    Sketch& sketch_;
    Curve whole_;
    Stretch stretch_;
    bool first_ = true;
    std::vector<std::pair<Point2, int>> made_;
    std::set<int> fresh_;
};

std::string count_words(size_t count, bool closed, bool again) {
    const std::string kind = closed ? "closed" : "open";
    return std::to_string(count) + " " + kind +
           (again        ? (count == 1 ? " one" : " ones")
            : count == 1 ? " curve"
                         : " curves");
}

std::string became(bool was_closed, size_t parts) {
    return parts == 0 ? "1 " + std::string(was_closed ? "closed" : "open") + " curve is gone."
                      : count_words(1, was_closed, false) + " became " + count_words(parts, false, true) + ".";
}

} // namespace

Preview trim_preview(const Sketch& sketch, int curve, const Point2& near) {
    Preview preview;
    const Curve* whole = sketch.curve(curve);
    if (whole == nullptr) {
        return preview;
    }
    const Stretch stretch = stretch_of(sketch, *whole);
    const auto cuts = cuts_on(sketch, stretch, {});
    const Pointed part = pointed_at(stretch, cuts, near);
    const bool seam = stretch.kind == StretchKind::spline && (part.from < 0 || part.to > 1);
    preview.part =
        seam ? stretch.part(std::max(part.from, 0.0), std::min(part.to, 1.0)) : stretch.part(part.from, part.to);
    for (const int cut : {part.first, part.last}) {
        if (cut >= 0) {
            preview.cut_by.push_back(cuts[static_cast<size_t>(cut)].by);
        }
    }
    return preview;
}

Edited trim(const Sketch& sketch, int curve, const Point2& near) {
    const Curve* whole = sketch.curve(curve);
    if (whole == nullptr) {
        return refuse(sketch, "edit.no_curve", "There is no curve to trim.", "Point at a curve.");
    }
    const Stretch stretch = stretch_of(sketch, *whole);
    const bool closed = stretch.closed(joining_tolerance);
    const auto cuts = cuts_on(sketch, stretch, {});
    Edited edited{sketch, {}, {}};
    const Pointed part = pointed_at(stretch, cuts, near);
    const bool from_start = part.first < 0 || (closed && part.first == part.last);
    const bool to_end = part.last < 0;
    if ((from_start && to_end) || (closed && cuts.size() < 2)) {
        edited.sketch.remove(curve); // nothing cuts it in two: all of it goes
        edited.told = became(closed, 0);
        return edited;
    }
    Parts parts(edited.sketch, curve);
    const auto cutter = [&](int cut) { return cut < 0 ? 0 : cuts[static_cast<size_t>(cut)].by; };
    size_t left = 0;
    if (closed) { // what stays runs from the end of the part round to its start
        double from = part.to > 1 ? part.to - 1 : part.to;
        double to = part.from < 0 ? part.from + 1 : part.from;
        to += to <= from ? 1 : 0;
        parts.add(from, to, cutter(part.last), cutter(part.first));
        left = 1;
    } else {
        if (!from_start) {
            parts.add(0, part.from, 0, cutter(part.first));
            ++left;
        }
        if (!to_end) {
            parts.add(part.to, 1, cutter(part.last), 0);
            ++left;
        }
    }
    parts.finish();
    edited.told = became(closed, left);
    return edited;
}

Edited split(const Sketch& sketch, int curve, const std::vector<int>& cutters) {
    const Curve* whole = sketch.curve(curve);
    if (whole == nullptr) {
        return refuse(sketch, "edit.no_curve", "There is no curve to split.", "Point at a curve.");
    }
    const Stretch stretch = stretch_of(sketch, *whole);
    const bool closed = stretch.closed(joining_tolerance);
    const auto cuts = cuts_on(sketch, stretch, cutters);
    if (cuts.empty()) {
        return refuse(sketch, "edit.nothing_cuts", "Nothing meets this curve, so that nothing splits it.",
                      "Draw a curve across it, or split it at a place.");
    }
    Edited edited{sketch, {}, {}};
    Parts parts(edited.sketch, curve);
    size_t made = 0;
    if (!closed) {
        parts.add(0, cuts.front().at, 0, cuts.front().by);
        ++made;
    }
    for (size_t i = 0; i + 1 < cuts.size(); ++i) {
        parts.add(cuts[i].at, cuts[i + 1].at, cuts[i].by, cuts[i + 1].by);
        ++made;
    }
    if (closed) {
        parts.add(cuts.back().at, cuts.front().at + 1, cuts.back().by, cuts.front().by);
    } else {
        parts.add(cuts.back().at, 1, cuts.back().by, 0);
    }
    ++made;
    parts.finish();
    edited.told = became(closed, made);
    return edited;
}

Edited split_at(const Sketch& sketch, int curve, const Point2& near) {
    const Curve* whole = sketch.curve(curve);
    if (whole == nullptr) {
        return refuse(sketch, "edit.no_curve", "There is no curve to split.", "Point at a curve.");
    }
    const Stretch stretch = stretch_of(sketch, *whole);
    const double t = nearest_on(stretch, near).first;
    const bool closed = stretch.closed(joining_tolerance);
    const Point2 place = stretch.at(t);
    if (!closed &&
        (distance(place, stretch.start) <= joining_tolerance || distance(place, stretch.end) <= joining_tolerance)) {
        return refuse(sketch, "edit.at_end", "That is an end of the curve already.",
                      "Point at a place between its ends.");
    }
    Edited edited{sketch, {}, {}};
    Parts parts(edited.sketch, curve);
    if (closed) {
        parts.add(t, t + 1, 0, 0);
    } else {
        parts.add(0, t, 0, 0);
        parts.add(t, 1, 0, 0);
    }
    parts.finish();
    edited.told = became(closed, closed ? 1 : 2);
    return edited;
}

} // namespace kervo::sketch
