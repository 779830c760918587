// Corners, copies and offsets: edits that add curves which follow those that are there.
#include "base/text.h"
#include "sketch/edit.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::sketch {

namespace {

Point2 towards(const Point2& from, const Point2& to, double by) {
    const double length = distance(from, to);
    return {from[0] + (to[0] - from[0]) / length * by, from[1] + (to[1] - from[1]) / length * by};
}

// The two lines that end in a point, with the place of that end in each.
struct Corner {
    std::array<int, 2> line{};
    std::array<size_t, 2> end{};
    std::array<int, 2> far{}; ///< the other end of each
    double half_angle = 0;    ///< half of the angle between them, rad
};

std::optional<Corner> corner_at(const Sketch& sketch, int point) {
    Corner corner;
    size_t found = 0;
    const SharedEnds shared(sketch);
    for (const Curve& curve : sketch.curves) {
        for (size_t end = 0; end < 2 && curve.kind == CurveKind::line; ++end) {
            if (shared.same(curve.points[end], point)) {
                if (found == 2) {
                    return std::nullopt;
                }
                corner.line[found] = curve.id;
                corner.end[found] = end;
                corner.far[found] = curve.points[1 - end];
                ++found;
            }
        }
    }
    if (found != 2) {
        return std::nullopt;
    }
    const Point2 p = place_of(sketch, point);
    const Point2 a = place_of(sketch, corner.far[0]);
    const Point2 b = place_of(sketch, corner.far[1]);
    const double cross = (a[0] - p[0]) * (b[1] - p[1]) - (a[1] - p[1]) * (b[0] - p[0]);
    const double dot = (a[0] - p[0]) * (b[0] - p[0]) + (a[1] - p[1]) * (b[1] - p[1]);
    corner.half_angle = std::fabs(std::atan2(cross, dot)) / 2;
    const bool straight = corner.half_angle < 1e-6 || corner.half_angle > std::numbers::pi / 2 - 1e-6;
    return straight ? std::nullopt : std::optional(corner);
}

Edited no_corner(const Sketch& sketch) {
    return refuse(sketch, "edit.no_corner", "There is no corner of two lines here.",
                  "Point at a point where two lines end.");
}

// Takes the lines back from the corner by `back` mm; the corner itself stays as a point on both, so that dimensions to
// it still hold. Returns the new ends.
std::array<int, 2> draw_back(Sketch& s, int point, const Corner& corner, double back) {
    std::array<int, 2> ends{};
    const Point2 p = place_of(s, point);
    for (size_t i = 0; i < 2; ++i) {
        const Point2 place = towards(p, place_of(s, corner.far[i]), back);
        ends[i] = s.add_point(place[0], place[1]);
        s.curve(corner.line[i])->points[corner.end[i]] = ends[i];
        for (Constraint& c : s.constraints) { // a length was the one up to the corner
            if (c.kind == ConstraintKind::distance && c.on == std::vector<int>{corner.line[i]}) {
                c.on = {corner.far[i], point};
            }
        }
    }
    for (const int line : corner.line) {
        s.add_constraint(ConstraintKind::coincident, {point, line});
    }
    return ends;
}

std::optional<Edited> too_large(const Sketch& sketch, int point, const Corner& corner, double back) {
    const double room = std::min(distance(place_of(sketch, point), place_of(sketch, corner.far[0])),
                                 distance(place_of(sketch, point), place_of(sketch, corner.far[1])));
    if (back < room - joining_tolerance) {
        return std::nullopt;
    }
    return refuse(sketch, "edit.no_room",
                  "The corner has no room for that: the shorter line is " + format_quantity(room, "mm", 3) +
                      " mm long.",
                  "The most that fits takes " + format_quantity(room, "mm", 3) + " mm of it.");
}

} // namespace

Edited round_corner(const Sketch& sketch, int point, const std::string& size, double value) {
    const auto corner = corner_at(sketch, point);
    if (!corner || value <= 0) {
        return no_corner(sketch);
    }
    const double back = value / std::tan(corner->half_angle);
    if (auto refusal = too_large(sketch, point, *corner, back)) {
        return *refusal;
    }
    Edited edited{sketch, {}, {}};
    Sketch& s = edited.sketch;
    const Point2 p = place_of(s, point);
    const auto ends = draw_back(s, point, *corner, back);
    const Point2 a = place_of(s, ends[0]);
    const Point2 b = place_of(s, ends[1]);
    const Point2 middle{(a[0] + b[0]) / 2, (a[1] + b[1]) / 2};
    const Point2 center = towards(p, middle, value / std::sin(corner->half_angle));
    const int c = s.add_point(center[0], center[1]);
    const double turn = (a[0] - center[0]) * (b[1] - center[1]) - (a[1] - center[1]) * (b[0] - center[0]);
    const int arc = turn > 0 ? s.add_arc(c, ends[0], ends[1]) : s.add_arc(c, ends[1], ends[0]);
    s.add_constraint(ConstraintKind::tangent, {corner->line[0], arc});
    s.add_constraint(ConstraintKind::tangent, {corner->line[1], arc});
    s.add_constraint(ConstraintKind::radius, {arc}, size);
    edited.told = "1 corner became an arc.";
    return edited;
}

Edited bevel_corner(const Sketch& sketch, int point, const std::string& size, double value) {
    const auto corner = corner_at(sketch, point);
    if (!corner || value <= 0) {
        return no_corner(sketch);
    }
    if (auto refusal = too_large(sketch, point, *corner, value)) {
        return *refusal;
    }
    Edited edited{sketch, {}, {}};
    Sketch& s = edited.sketch;
    const auto ends = draw_back(s, point, *corner, value);
    s.add_line(ends[0], ends[1]);
    s.add_constraint(ConstraintKind::distance, {point, ends[0]}, size);
    s.add_constraint(ConstraintKind::distance, {point, ends[1]}, size);
    edited.told = "1 corner became a bevel.";
    return edited;
}

namespace {

// Copies curves (with their points) and single points; `to` moves a place.
class Copier {
public:
    template <class To> Copier(Sketch& sketch, const std::set<int>& ids, const To& to) : sketch_(sketch) {
        std::vector<Curve> curves;
        for (const int id : ids) {
            if (const Curve* curve = sketch.curve(id)) {
                curves.push_back(*curve);
            } else if (sketch.point(id) != nullptr) {
                copy_point(id, to);
            }
        }
        for (Curve copy : curves) {
            const int source = copy.id;
            for (int& point : copy.points) {
                point = copy_point(point, to);
            }
            copy.id = ++sketch_.last_id;
            copy.source = {}; // a copy is drawn here
            copies[source] = copy.id;
            sketch_.curves.push_back(std::move(copy));
        }
    }

    std::map<int, int> copies; ///< id of each curve and point -> id of its copy

private:
    template <class To> int copy_point(int id, const To& to) {
        if (const auto known = copies.find(id); known != copies.end()) {
            return known->second;
        }
        const Point2 place = to(place_of(sketch_, id));
        return copies[id] = sketch_.add_point(place[0], place[1]);
    }

    Sketch& sketch_;
};

std::string copies_made(size_t curves, int count) {
    return counted(curves, "curve", "curves") + " became " + std::to_string(curves * static_cast<size_t>(count)) + ".";
}

size_t count_curves(const Sketch& sketch, const std::set<int>& ids) {
    return static_cast<size_t>(
        std::count_if(ids.begin(), ids.end(), [&](int id) { return sketch.curve(id) != nullptr; }));
}

} // namespace

Edited mirror(const Sketch& sketch, const std::set<int>& ids, int line) {
    const Curve* axis = sketch.curve(line);
    if (axis == nullptr || axis->kind != CurveKind::line || ids.contains(line) || count_curves(sketch, ids) == 0) {
        return refuse(sketch, "edit.no_axis", "Mirroring wants curves and a line to mirror them about.",
                      "Select the curves, then click the line.");
    }
    Edited edited{sketch, {}, {}};
    Sketch& s = edited.sketch;
    const Stretch about = stretch_of(sketch, *axis);
    const auto image = [&](const Point2& p) {
        const Point2 foot = about.at(nearest_parameter(about, p));
        return Point2{2 * foot[0] - p[0], 2 * foot[1] - p[1]};
    };
    const Copier copier(s, ids, image);
    std::map<int, int> joined; // copies of points on the line are those points
    for (const auto& [source, copy] : copier.copies) {
        Curve* curve = s.curve(copy);
        if (curve != nullptr) {
            if (curve->kind == CurveKind::arc) { // counterclockwise again
                std::swap(curve->points[1], curve->points[2]);
            } else if (curve->kind == CurveKind::ellipse && curve->points.size() == 4) {
                std::swap(curve->points[2], curve->points[3]);
            } else if (curve->kind == CurveKind::circle) {
                s.add_constraint(ConstraintKind::symmetric, {source, copy, line});
            }
            continue;
        }
        const Point2 place = place_of(s, source);
        if (distance(place, image(place)) <= joining_tolerance) {
            joined[copy] = source;
            continue;
        }
        const bool center_of_circle = std::any_of(s.curves.begin(), s.curves.end(), [source = source](const Curve& c) {
            return c.kind == CurveKind::circle && c.points[0] == source;
        });
        if (!center_of_circle) {
            s.add_constraint(ConstraintKind::symmetric, {source, copy, line});
        }
    }
    for (Curve& curve : s.curves) {
        for (int& point : curve.points) {
            const auto at = joined.find(point);
            point = at == joined.end() ? point : at->second;
        }
    }
    std::erase_if(s.points, [&](const Point& p) { return joined.contains(p.id); });
    edited.told = copies_made(count_curves(sketch, ids), 2);
    return edited;
}

namespace {

Edited repeat(const Sketch& sketch, const std::set<int>& ids, Figure figure, double count) {
    for (const int id : ids) {
        if (sketch.curve(id) != nullptr || sketch.figure(id) != nullptr) {
            figure.of.push_back(id);
        }
    }
    if (figure.of.empty() || !(count >= 1)) {
        return refuse(sketch, "edit.no_repeat", "Repeating wants curves and a number from 1 up.",
                      "Select the curves and say how many there should be.");
    }
    Edited edited{sketch, copies_made(figure.of.size(), static_cast<int>(std::lround(count))), {}};
    figure.size.value = count;
    edited.sketch.add_figure(std::move(figure));
    return edited;
}

} // namespace

Edited repeat_in_line(const Sketch& sketch, const std::set<int>& ids, const std::string& count, double value, int from,
                      int to) {
    Figure row;
    row.kind = FigureKind::row;
    row.points = {from, to};
    row.size.formula.text = count;
    return repeat(sketch, ids, std::move(row), value);
}

Edited repeat_in_ring(const Sketch& sketch, const std::set<int>& ids, const std::string& count, double value,
                      int center) {
    Figure ring;
    ring.kind = FigureKind::ring;
    ring.points = {center};
    ring.size.formula.text = count;
    return repeat(sketch, ids, std::move(ring), value);
}

namespace {

// The curves in the order in which they hang together, each run through from start to end.
struct Link {
    Stretch run;
    bool turned = false; ///< it runs against its curve
};

std::vector<Link> chain_of(const Sketch& sketch, const std::set<int>& curves) {
    std::vector<Stretch> left;
    for (const int id : curves) {
        const Curve* curve = sketch.curve(id);
        if (curve == nullptr || (curve->kind != CurveKind::line && curve->kind != CurveKind::arc)) {
            return {};
        }
        left.push_back(stretch_of(sketch, *curve));
    }
    std::vector<Link> chain{{left.back(), false}};
    left.pop_back();
    for (bool grown = true; grown && !left.empty();) {
        grown = false;
        for (size_t i = 0; i < left.size() && !grown; ++i) {
            for (const bool turned : {false, true}) {
                const Stretch run = turned ? left[i].reversed() : left[i];
                if (distance(chain.back().run.end, run.start) <= joining_tolerance) {
                    chain.push_back({run, turned});
                    grown = true;
                } else if (distance(run.end, chain.front().run.start) <= joining_tolerance) {
                    chain.insert(chain.begin(), {run, turned});
                    grown = true;
                }
                if (grown) {
                    left.erase(left.begin() + static_cast<long>(i));
                    break;
                }
            }
        }
    }
    return left.empty() ? chain : std::vector<Link>{};
}

// A stretch shifted to its left; nothing where an arc has no room.
std::optional<Stretch> beside(const Stretch& run, double left) {
    if (run.kind == StretchKind::line) {
        const double angle = run.heading(true) + std::numbers::pi / 2;
        const Point2 shift{std::cos(angle) * left, std::sin(angle) * left};
        return line_between({run.start[0] + shift[0], run.start[1] + shift[1]},
                            {run.end[0] + shift[0], run.end[1] + shift[1]}, run.curve);
    }
    const double radius = run.radius - (run.sweep > 0 ? left : -left);
    return radius <= joining_tolerance ? std::nullopt
                                       : std::optional(arc_about(run.center, radius, run.from, run.sweep, run.curve));
}

// Where two shifted neighbours meet: their carriers' crossing nearest to where the corner would be.
Point2 meeting_of(const Stretch& a, const Stretch& b) {
    const Point2 middle{(a.end[0] + b.start[0]) / 2, (a.end[1] + b.start[1]) / 2};
    if (distance(a.end, b.start) <= joining_tolerance) {
        return middle;
    }
    const auto whole = [](const Stretch& s) {
        if (s.round()) {
            return arc_about(s.center, s.radius, 0, 2 * std::numbers::pi);
        }
        const double far = 1e3;
        return line_between(s.at(-far), s.at(1 + far));
    };
    const Stretch first = whole(a);
    Point2 best = middle;
    double least = 1e300;
    for (const auto& [t, u] : meetings(first, whole(b), joining_tolerance)) {
        const Point2 p = first.at(t);
        if (distance(p, middle) < least && distance(p, first.start) > 1e-3) {
            least = distance(p, middle);
            best = p;
        }
    }
    return best;
}

Edited offset_circle(const Sketch& sketch, const Curve& circle, const std::string& text, double value,
                     const Point2& side) {
    const Point2 center = place_of(sketch, circle.points[0]);
    const bool outside = distance(side, center) > circle.radius;
    const double radius = circle.radius + (outside ? value : -value);
    if (radius <= joining_tolerance) {
        return refuse(sketch, "edit.no_room", "The circle is too small for that.", "Choose a smaller distance.");
    }
    Edited edited{sketch, {}, {}};
    Sketch& s = edited.sketch;
    const int fresh = s.add_circle(circle.points[0], radius);
    // Between the two circles along a line from the centre: a point on each, the distance between them.
    const int inner = s.add_point(center[0] + circle.radius, center[1]);
    const int outer = s.add_point(center[0] + radius, center[1]);
    s.add_constraint(ConstraintKind::coincident, {inner, circle.id});
    s.add_constraint(ConstraintKind::coincident, {outer, fresh});
    s.add_constraint(ConstraintKind::horizontal, {circle.points[0], inner});
    s.add_constraint(ConstraintKind::horizontal, {circle.points[0], outer});
    s.add_constraint(ConstraintKind::horizontal_distance,
                     outside ? std::vector<int>{inner, outer} : std::vector<int>{outer, inner}, text);
    edited.told = "1 closed curve has another beside it.";
    return edited;
}

} // namespace

Edited offset(const Sketch& sketch, const std::set<int>& curves, const std::string& text, double value,
              const Point2& side, bool rounded) {
    const Curve* only = curves.size() == 1 ? sketch.curve(*curves.begin()) : nullptr;
    if (only != nullptr && only->kind == CurveKind::circle) {
        return offset_circle(sketch, *only, text, value, side);
    }
    const auto chain = curves.empty() ? std::vector<Link>{} : chain_of(sketch, curves);
    if (chain.empty() || value <= 0) {
        return refuse(sketch, "edit.no_chain", "Lines and arcs that hang together, or one circle, can be offset.",
                      "Select one chain or loop.");
    }
    const bool closed =
        chain.size() > 1 && distance(chain.back().run.end, chain.front().run.start) <= joining_tolerance;
    // The side of the nearest link decides for all.
    const auto nearest = std::min_element(chain.begin(), chain.end(), [&](const Link& a, const Link& b) {
        return nearest_on(a.run, side).second < nearest_on(b.run, side).second;
    });
    const double t = nearest_on(nearest->run, side).first;
    const Motion m = nearest->run.motion(t);
    const double left = m.first[0] * (side[1] - m.place[1]) - m.first[1] * (side[0] - m.place[0]) > 0 ? value : -value;
    std::vector<Stretch> shifted;
    for (const Link& link : chain) {
        const auto one = beside(link.run, left);
        if (!one) {
            return refuse(sketch, "edit.no_room", "An arc is too small for that on this side.",
                          "Choose a smaller distance.");
        }
        shifted.push_back(*one);
    }
    Edited edited{sketch, {}, {}};
    Sketch& s = edited.sketch;
    const size_t n = chain.size();
    std::vector<int> starts(n);
    std::vector<int> ends(n);
    const auto add = [&](const Point2& p) { return s.add_point(p[0], p[1]); };
    std::vector<std::array<int, 3>> arcs; // centre on a source corner: corner, from link, to link
    const size_t corners = closed ? n : n - 1;
    for (size_t i = 0; i < corners; ++i) {
        const size_t next = (i + 1) % n;
        const double turn =
            std::remainder(chain[next].run.heading(true) - chain[i].run.heading(false), 2 * std::numbers::pi);
        if (rounded && turn * left < -1e-9) {
            ends[i] = add(shifted[i].end);
            starts[next] = add(shifted[next].start);
            arcs.push_back({static_cast<int>(i), ends[i], starts[next]});
        } else {
            ends[i] = starts[next] = add(meeting_of(shifted[i], shifted[next]));
        }
    }
    if (!closed) {
        starts.front() = add(shifted.front().start);
        ends.back() = add(shifted.back().end);
    }
    std::vector<int> made(n);
    for (size_t i = 0; i < n; ++i) {
        const Curve source = *s.curve(chain[i].run.curve);
        const int a = starts[i];
        const int b = ends[i];
        if (source.kind == CurveKind::line) {
            made[i] = s.add_line(a, b);
            s.add_constraint(ConstraintKind::parallel, {source.id, made[i]});
            s.add_constraint(ConstraintKind::distance, {a, source.id}, text);
        } else {
            made[i] = chain[i].run.sweep > 0 ? s.add_arc(source.points[0], a, b) : s.add_arc(source.points[0], b, a);
        }
    }
    for (const auto& [link, from, to] : arcs) {
        const Curve source = *s.curve(chain[static_cast<size_t>(link)].run.curve);
        const auto ends_here = end_points(source);
        const int corner = chain[static_cast<size_t>(link)].turned ? ends_here.front() : ends_here.back();
        const int arc = left < 0 ? s.add_arc(corner, from, to) : s.add_arc(corner, to, from);
        s.add_constraint(ConstraintKind::tangent, {made[static_cast<size_t>(link)], arc});
        s.add_constraint(ConstraintKind::tangent, {made[(static_cast<size_t>(link) + 1) % n], arc});
    }
    edited.told = closed ? "1 loop has another beside it." : "1 chain has another beside it.";
    return edited;
}

} // namespace kervo::sketch
