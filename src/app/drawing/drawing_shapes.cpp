// The shapes that the drawing tools make from places and typed numbers, with the constraints that keep what was meant.
#include "app/drawing/drawing.h"
#include "base/assignment.h"
#include "sketch/touching.h"

#include <QObject>

#include <algorithm>
#include <cmath>
#include <functional>
#include <iterator>
#include <numbers>

namespace kervo::app {

using sketch::ConstraintKind;
using sketch::Point2;
using sketch::Sketch;

namespace {

// Reads typed formulas, and takes what is not typed from the places.
class Typed {
public:
    Typed(const std::vector<std::string>& formulas, const ParameterValues& parameters)
        : formulas_(formulas), parameters_(parameters) {}

    [[nodiscard]] std::string text(size_t i) const { return i < formulas_.size() ? formulas_[i] : std::string(); }
    [[nodiscard]] double length(size_t i, double otherwise) const { return value(i, otherwise, length_dimension); }
    [[nodiscard]] int count(size_t i, int otherwise) const {
        return static_cast<int>(std::lround(value(i, otherwise, plain_number)));
    }

private:
    [[nodiscard]] double value(size_t i, double otherwise, const Dimension& dimension) const {
        if (text(i).empty()) {
            return otherwise;
        }
        const auto number = evaluate_as(formula_in(text(i)), parameters_, dimension);
        return number && *number > 0 ? *number : otherwise;
    }
    const std::vector<std::string>& formulas_;
    const ParameterValues& parameters_;
};

Point2 shifted(const Point2& from, double angle, double length) {
    return {from[0] + length * std::cos(angle), from[1] + length * std::sin(angle)};
}

// A corner keeps its place relative to the other one as the numbers say, on the side where the pointer is.
Point2 sized_corner(const Point2& from, const Point2& to, double width, double height) {
    return {from[0] + std::copysign(width, to[0] - from[0]), from[1] + std::copysign(height, to[1] - from[1])};
}

// The heading with which a curve leaves through one of its end points; nothing where it does not end there.
std::optional<double> heading_out(const Sketch& s, const sketch::Curve& curve, int point) {
    const auto ends = sketch::end_points(curve);
    const auto at = std::find(ends.begin(), ends.end(), point);
    if (at == ends.end()) {
        return std::nullopt;
    }
    const auto stretch = sketch::stretch_of(s, curve);
    const Point2 place = sketch::place_of(s, point);
    const bool starts = sketch::distance(stretch.at(0), place) < sketch::distance(stretch.at(1), place);
    return stretch.heading(starts) + (starts ? std::numbers::pi : 0);
}

// An arc that runs on from the end of a curve to `to`, or over there with the typed radius.
bool add_arc_that_runs_on(Sketch& s, const Snap& from, const Snap& to, const Typed& typed,
                          const std::function<int(const Snap&)>& point_of) {
    const auto before = std::find_if(s.curves.rbegin(), s.curves.rend(), [&](const sketch::Curve& curve) {
        return !curve.construction && heading_out(s, curve, from.point).has_value();
    });
    if (from.point == 0 || before == s.curves.rend()) {
        return false;
    }
    const int curve = before->id;
    const double way = *heading_out(s, *before, from.point);
    const Point2 p = sketch::place_of(s, from.point);
    const Point2 across{-std::sin(way), std::cos(way)};
    const Point2 leap{to.at[0] - p[0], to.at[1] - p[1]};
    const double side = across[0] * leap[0] + across[1] * leap[1];
    const double apart = std::hypot(leap[0], leap[1]);
    if (std::fabs(side) < 1e-6 * (apart + 1e-9)) {
        return false; // straight ahead there is no arc
    }
    const bool sized = !typed.text(0).empty();
    const double radius = sized ? typed.length(0, 1) : apart * apart / (2 * std::fabs(side));
    const Point2 center{p[0] + std::copysign(radius, side) * across[0], p[1] + std::copysign(radius, side) * across[1]};
    Snap last = to;
    if (sized) {
        last = {};
        last.at = shifted(center, std::atan2(to.at[1] - center[1], to.at[0] - center[0]), radius);
    }
    const int middle = s.add_point(center[0], center[1]);
    const int end = point_of(last);
    const int arc = side > 0 ? s.add_arc(middle, from.point, end) : s.add_arc(middle, end, from.point);
    s.add_constraint(ConstraintKind::tangent, {curve, arc});
    if (sized) {
        s.add_constraint(ConstraintKind::radius, {arc}, typed.text(0));
    }
    return true;
}

void add_polygon(Sketch& s, int center, const Point2& corner, int sides, double radius, const std::string& diameter) {
    const Point2 middle{s.point(center)->x, s.point(center)->y};
    const double first = std::atan2(corner[1] - middle[1], corner[0] - middle[0]);
    const int guide = s.add_circle(center, radius);
    s.curve(guide)->construction = true;
    std::vector<int> corners;
    for (int i = 0; i < sides; ++i) {
        const Point2 p = shifted(middle, first + 2 * std::numbers::pi * i / sides, radius);
        corners.push_back(s.add_point(p[0], p[1]));
        s.add_constraint(ConstraintKind::coincident, {corners.back(), guide});
    }
    int before = 0;
    for (int i = 0; i < sides; ++i) {
        const int side = s.add_line(corners[static_cast<size_t>(i)], corners[static_cast<size_t>((i + 1) % sides)]);
        if (before != 0) {
            s.add_constraint(ConstraintKind::equal, {before, side});
        }
        before = side;
    }
    if (!diameter.empty()) {
        s.add_constraint(ConstraintKind::diameter, {guide}, diameter);
    }
}

void add_slot(Sketch& s, int first, int second, double half, const std::string& width) {
    const Point2 a{s.point(first)->x, s.point(first)->y};
    const Point2 b{s.point(second)->x, s.point(second)->y};
    const double way = std::atan2(b[1] - a[1], b[0] - a[0]);
    const auto corner = [&](const Point2& from, double side) {
        const Point2 p = shifted(from, way + side * std::numbers::pi / 2, half);
        return s.add_point(p[0], p[1]);
    };
    const int a_left = corner(a, 1);
    const int a_right = corner(a, -1);
    const int b_right = corner(b, -1);
    const int b_left = corner(b, 1);
    const int round_a = s.add_arc(first, a_left, a_right);
    const int right = s.add_line(a_right, b_right);
    const int round_b = s.add_arc(second, b_right, b_left);
    const int left = s.add_line(b_left, a_left);
    for (const auto& [line, arc] :
         {std::pair(right, round_a), std::pair(right, round_b), std::pair(left, round_a), std::pair(left, round_b)}) {
        s.add_constraint(ConstraintKind::tangent, {line, arc});
    }
    if (!width.empty()) {
        s.add_constraint(ConstraintKind::diameter, {round_a}, width);
    }
}

// A fresh point stays on what it was snapped to; what is put on the origin stays there.
void hold_where_snapped(Sketch& s, int point, const Snap& snap) {
    if (snap.fixed || snap.kind == SnapKind::origin) {
        s.add_constraint(ConstraintKind::fixed, {point});
    } else if (snap.curve != 0) {
        s.add_constraint(snap.kind == SnapKind::middle ? ConstraintKind::midpoint : ConstraintKind::coincident,
                         {point, snap.curve});
    }
}

} // namespace

int Drawing::point_for(Sketch& next, const Snap& snap) const {
    if (snap.point != 0 && next.point(snap.point) != nullptr) {
        return snap.point;
    }
    const int id = next.add_point(snap.at[0], snap.at[1]);
    hold_where_snapped(next, id, snap);
    return id;
}

std::optional<Sketch> Drawing::with_shape(const std::vector<Snap>& places, const std::vector<std::string>& formulas,
                                          const ParameterValues& parameters) const {
    Sketch s = sketch_;
    const Typed typed(formulas, parameters);
    const Point2 a = places[0].at;
    const Point2 b = places.back().at;
    const double apart = sketch::distance(a, b);
    const auto tie = [&](int fresh, const Snap& snap) { // a corner that was snapped to something lies on it
        if (snap.point != 0) {
            s.add_constraint(ConstraintKind::coincident, {fresh, snap.point});
        } else {
            hold_where_snapped(s, fresh, snap);
        }
    };
    switch (tool_) {
    case DrawTool::point:
        point_for(s, places[0]);
        return s;
    case DrawTool::line: {
        Snap end = places[1];
        if (!typed.text(0).empty()) {
            const double way = apart > 1e-6 ? std::atan2(b[1] - a[1], b[0] - a[0]) : 0;
            const Snap meant = end;
            end = {};
            end.at = shifted(a, way, typed.length(0, apart));
            end.level = meant.level;
            end.plumb = meant.plumb;
        }
        if (sketch::distance(a, end.at) < 1e-9) {
            return std::nullopt;
        }
        const int start = point_for(s, places[0]);
        const int line = s.add_line(start, point_for(s, end));
        if (end.level || end.plumb) {
            s.add_constraint(end.level ? ConstraintKind::horizontal : ConstraintKind::vertical, {line});
        }
        if (end.curve != 0 && end.kind == SnapKind::tangent) {
            s.add_constraint(ConstraintKind::tangent, {line, end.curve});
        } else if (end.curve != 0 && end.kind == SnapKind::square) {
            s.add_constraint(ConstraintKind::perpendicular, {line, end.curve});
        }
        if (!typed.text(0).empty()) {
            s.add_constraint(ConstraintKind::distance, {line}, typed.text(0));
        }
        return s;
    }
    case DrawTool::rectangle:
    case DrawTool::center_rectangle: {
        const bool centred = tool_ == DrawTool::center_rectangle;
        const double share = centred ? 0.5 : 1;
        const bool sized = !typed.text(0).empty() || !typed.text(1).empty();
        const Point2 corner = sized ? sized_corner(a, b, share * typed.length(0, std::fabs(b[0] - a[0]) / share),
                                                   share * typed.length(1, std::fabs(b[1] - a[1]) / share))
                                    : b;
        if (std::fabs(corner[0] - a[0]) < 1e-9 || std::fabs(corner[1] - a[1]) < 1e-9) {
            return std::nullopt;
        }
        const Point2 opposite = centred ? Point2{2 * a[0] - corner[0], 2 * a[1] - corner[1]} : a;
        const auto sides = s.add_rectangle(opposite, corner);
        const int first = s.curve(sides[0])->points[0];
        const int last = s.curve(sides[2])->points[0];
        if (centred) {
            s.add_constraint(ConstraintKind::midpoint, {point_for(s, places[0]), first, last});
        } else {
            tie(first, places[0]);
        }
        if (!sized) {
            tie(last, places[1]);
        }
        for (size_t i = 0; i < 2; ++i) {
            if (!typed.text(i).empty()) {
                s.add_constraint(ConstraintKind::distance, {sides[i]}, typed.text(i));
            }
        }
        return s;
    }
    case DrawTool::slanted_rectangle: {
        const Point2 side = places[1].at;
        const double length = sketch::distance(a, side);
        if (length < 1e-6) {
            return std::nullopt;
        }
        const Point2 across{(a[1] - side[1]) / length, (side[0] - a[0]) / length};
        const double drawn = (b[0] - side[0]) * across[0] + (b[1] - side[1]) * across[1];
        const double height = std::copysign(typed.length(0, std::fabs(drawn)), drawn);
        if (std::fabs(height) < 1e-6) {
            return std::nullopt;
        }
        const int first = point_for(s, places[0]);
        const int second = point_for(s, places[1]);
        const int third = s.add_point(side[0] + height * across[0], side[1] + height * across[1]);
        const int fourth = s.add_point(a[0] + height * across[0], a[1] + height * across[1]);
        const int base = s.add_line(first, second);
        const int right = s.add_line(second, third);
        const int top = s.add_line(third, fourth);
        const int left = s.add_line(fourth, first);
        s.add_constraint(ConstraintKind::perpendicular, {base, right});
        s.add_constraint(ConstraintKind::parallel, {base, top});
        s.add_constraint(ConstraintKind::parallel, {right, left});
        if (places[1].level || places[1].plumb) {
            s.add_constraint(places[1].level ? ConstraintKind::horizontal : ConstraintKind::vertical, {base});
        }
        if (!typed.text(0).empty()) {
            s.add_constraint(ConstraintKind::distance, {right}, typed.text(0));
        } else if (sketch::distance(b, sketch::place_of(s, third)) < 1e-9) {
            tie(third, places[2]);
        }
        return s;
    }
    case DrawTool::circle: {
        const double radius = typed.length(0, 2 * apart) / 2;
        if (radius < 1e-6) {
            return std::nullopt;
        }
        const int circle = s.add_circle(point_for(s, places[0]), radius);
        if (!typed.text(0).empty()) {
            s.add_constraint(ConstraintKind::diameter, {circle}, typed.text(0));
        } else if (places[1].point != 0) {
            s.add_constraint(ConstraintKind::coincident, {places[1].point, circle});
        }
        return s;
    }
    case DrawTool::circle_by_three: {
        const auto through = sketch::circle_through(a, places[1].at, b);
        if (!through) {
            return std::nullopt;
        }
        const int circle = s.add_circle(s.add_point(through->center[0], through->center[1]), through->radius);
        for (const Snap& snap : places) {
            if (snap.point != 0 || snap.curve != 0 || snap.kind == SnapKind::origin) {
                s.add_constraint(ConstraintKind::coincident, {point_for(s, snap), circle});
            }
        }
        return s;
    }
    case DrawTool::circle_touching:
        return with_touching_circle(places);
    case DrawTool::tangent_arc:
        return add_arc_that_runs_on(s, places[0], places[1], typed,
                                    [&](const Snap& snap) { return point_for(s, snap); })
                   ? std::optional(s)
                   : std::nullopt;
    case DrawTool::arc: {
        const double radius = sketch::distance(a, places[1].at);
        Snap last = places[2];
        if (last.point == 0) { // on the circle through the start, in the direction of the pointer
            last = {};
            last.at = shifted(a, std::atan2(b[1] - a[1], b[0] - a[0]), radius);
        }
        if (radius < 1e-6 || sketch::distance(last.at, places[1].at) < 1e-9) {
            return std::nullopt;
        }
        const int center = point_for(s, places[0]);
        const int start = point_for(s, places[1]);
        s.add_arc(center, start, point_for(s, last));
        return s;
    }
    case DrawTool::arc_by_three: {
        const auto through = sketch::circle_through(a, places[1].at, b);
        if (!through) {
            return std::nullopt;
        }
        const Point2& e = places[1].at;
        const double turn = (e[0] - a[0]) * (b[1] - a[1]) - (e[1] - a[1]) * (b[0] - a[0]);
        const int start = point_for(s, places[0]);
        const int end = point_for(s, places[1]);
        const int middle = s.add_point(through->center[0], through->center[1]);
        turn < 0 ? s.add_arc(middle, start, end) : s.add_arc(middle, end, start);
        return s;
    }
    case DrawTool::ellipse: {
        const sketch::Stretch axis = sketch::line_between(a, places[1].at);
        const double half = axis.length() < 1e-6 ? 0 : sketch::distance(axis.at(sketch::nearest_parameter(axis, b)), b);
        if (half < 1e-6) {
            return std::nullopt;
        }
        const int center = point_for(s, places[0]);
        s.add_ellipse(center, point_for(s, places[1]), half);
        return s;
    }
    case DrawTool::slot: {
        const sketch::Stretch axis = sketch::line_between(a, places[1].at);
        const double half = axis.length() < 1e-6 ? 0 : typed.length(0, 2 * sketch::nearest_on(axis, b).second) / 2;
        if (half < 1e-6) {
            return std::nullopt;
        }
        const int first = point_for(s, places[0]);
        add_slot(s, first, point_for(s, places[1]), half, typed.text(0));
        return s;
    }
    case DrawTool::polygon: {
        const int sides = std::clamp(typed.count(0, sides_), 3, 200);
        const double radius = typed.length(1, 2 * apart) / 2;
        if (radius < 1e-6) {
            return std::nullopt;
        }
        add_polygon(s, point_for(s, places[0]), b, sides, radius, typed.text(1));
        return s;
    }
    case DrawTool::text: {
        sketch::Figure text;
        text.kind = sketch::FigureKind::text;
        text.text = words_;
        text.size = {{letter_height_}, letter_size_};
        text.along = places[0].curve; // words that start on a curve follow it
        const int start = point_for(s, places[0]);
        const int end = point_for(s, places[1]);
        if (start == end) {
            return std::nullopt;
        }
        if (places[1].level || places[1].plumb) {
            s.add_constraint(places[1].level ? ConstraintKind::horizontal : ConstraintKind::vertical, {start, end});
        }
        text.points = {start, end};
        s.add_figure(std::move(text));
        return s;
    }
    case DrawTool::spline:
    case DrawTool::control_spline: {
        const bool closed = places.size() > 3 && sketch::distance(a, b) < 1e-9;
        std::vector<int> points;
        for (size_t i = 0; i + (closed ? 1 : 0) < places.size(); ++i) {
            points.push_back(point_for(s, places[i]));
        }
        if (points.size() < 2) {
            return std::nullopt;
        }
        s.add_spline(points, 3, closed, tool_ == DrawTool::spline);
        return s;
    }
    default:
        return std::nullopt;
    }
}

std::optional<Sketch> Drawing::with_touching_circle(const std::vector<Snap>& places) const {
    std::array<sketch::Stretch, 3> touched;
    std::array<Point2, 3> picked;
    std::array<int, 3> ids{};
    for (size_t i = 0; i < touched.size(); ++i) {
        const int curve = places[i].curve != 0   ? places[i].curve
                          : places[i].point == 0 ? nearest_curve(sketch_, places[i].at, reach_)
                                                 : 0;
        picked[i] = places[i].at;
        if (const auto* found = sketch_.curve(curve)) {
            ids[i] = curve;
            touched[i] = sketch::stretch_of(sketch_, *found);
        } else if (places[i].point != 0) {
            ids[i] = places[i].point;
            touched[i] = sketch::arc_about(places[i].at, 0, 0, 2 * std::numbers::pi);
        } else {
            return std::nullopt;
        }
    }
    const auto circle = sketch::circle_touching(touched, picked);
    if (!circle) {
        return std::nullopt;
    }
    Sketch s = sketch_;
    const int fresh = s.add_circle(s.add_point(circle->center[0], circle->center[1]), circle->radius);
    for (const int id : ids) {
        s.add_constraint(s.point(id) != nullptr ? ConstraintKind::coincident : ConstraintKind::tangent, {id, fresh});
    }
    return s;
}

std::vector<sketch::Stretch> Drawing::added_in(const Sketch& next) const {
    std::vector<sketch::Stretch> added;
    for (const sketch::Curve& curve : next.curves) {
        if (curve.id > sketch_.last_id) {
            added.push_back(sketch::stretch_of(next, curve));
        }
    }
    if (next.figures.size() == sketch_.figures.size()) {
        return added;
    }
    for (const sketch::FilledOutline& outline : sketch::figure_outlines(next)) {
        std::copy_if(outline.stretches.begin(), outline.stretches.end(), std::back_inserter(added),
                     [this](const sketch::Stretch& stretch) { return stretch.curve > sketch_.last_id; });
    }
    return added;
}

std::vector<sketch::Stretch> Drawing::rubber() const {
    std::vector<sketch::Stretch> out;
    if (placed_.empty() || info_of(tool_).changes) {
        return out;
    }
    std::vector<Snap> places = placed_;
    if (sketch::distance(places.back().at, pointer_.at) > 1e-9) {
        places.push_back(pointer_);
    }
    const size_t wanted = info_of(tool_).places;
    if (places.size() >= 2 && (wanted == 0 || places.size() == wanted)) {
        if (const auto next = with_shape(places, {}, {})) {
            out = added_in(*next);
        }
    }
    if (out.empty() && places.size() >= 2) { // the first picks of a shape, or places that make none
        out.push_back(sketch::line_between(places[places.size() - 2].at, places.back().at));
    }
    return out;
}

} // namespace kervo::app
