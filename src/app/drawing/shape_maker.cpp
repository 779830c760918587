#include "app/drawing/shape_maker.h"

#include "app/drawing/drawing.h"
#include "base/assignment.h"
#include "sketch/touching.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::app {

using sketch::ConstraintKind;
using sketch::Point2;
using sketch::Sketch;

namespace {

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

// A fresh point stays on what it was snapped to; what is put on the origin stays there.
void hold_where_snapped(Sketch& s, int point, const Snap& snap) {
    if (snap.fixed || snap.kind == SnapKind::origin) {
        s.add_constraint(ConstraintKind::fixed, {point});
    } else if (snap.curve != 0) {
        s.add_constraint(snap.kind == SnapKind::middle ? ConstraintKind::midpoint : ConstraintKind::coincident,
                         {point, snap.curve});
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

} // namespace

int point_for(Sketch& sketch, const Snap& snap) {
    if (snap.point != 0 && sketch.point(snap.point) != nullptr) {
        return snap.point;
    }
    const int id = sketch.add_point(snap.at[0], snap.at[1]);
    hold_where_snapped(sketch, id, snap);
    return id;
}

double Typed::value(size_t i, double otherwise, const Dimension& dimension) const {
    if (!said(i)) {
        return otherwise;
    }
    const auto number = evaluate_as(formula_in(text(i)), parameters_, dimension);
    return number && *number > 0 ? *number : otherwise;
}

double Typed::length(size_t i, double otherwise) const {
    return value(i, otherwise, length_dimension);
}

int Typed::count(size_t i, int otherwise) const {
    return static_cast<int>(std::lround(value(i, otherwise, plain_number)));
}

std::optional<Sketch> ShapeMaker::make(DrawTool tool) {
    const auto added = [&] {
        switch (tool) {
        case DrawTool::point:
            return point();
        case DrawTool::line:
            return line();
        case DrawTool::rectangle:
        case DrawTool::center_rectangle:
            return rectangle(tool == DrawTool::center_rectangle);
        case DrawTool::slanted_rectangle:
            return slanted_rectangle();
        case DrawTool::circle:
            return circle();
        case DrawTool::circle_by_three:
            return circle_by_three();
        case DrawTool::circle_touching:
            return circle_touching();
        case DrawTool::arc:
            return arc();
        case DrawTool::arc_by_three:
            return arc_by_three();
        case DrawTool::tangent_arc:
            return tangent_arc();
        case DrawTool::ellipse:
            return ellipse();
        case DrawTool::slot:
            return slot();
        case DrawTool::polygon:
            return polygon();
        case DrawTool::text:
            return text();
        case DrawTool::spline:
        case DrawTool::control_spline:
            return spline(tool == DrawTool::spline);
        default:
            return false;
        }
    };
    return added() ? std::optional(std::move(s_)) : std::nullopt;
}

// A corner that was snapped to something lies on it.
void ShapeMaker::tie(int fresh, const Snap& snap) {
    if (snap.point != 0) {
        s_.add_constraint(ConstraintKind::coincident, {fresh, snap.point});
    } else {
        hold_where_snapped(s_, fresh, snap);
    }
}

bool ShapeMaker::point() {
    point_for(s_, places_[0]);
    return true;
}

bool ShapeMaker::line() {
    Snap end = places_[1];
    if (typed_.said(0)) {
        const double way = apart_ > 1e-6 ? std::atan2(to_[1] - from_[1], to_[0] - from_[0]) : 0;
        const Snap meant = end;
        end = {};
        end.at = shifted(from_, way, typed_.length(0, apart_));
        end.level = meant.level;
        end.plumb = meant.plumb;
    }
    if (sketch::distance(from_, end.at) < 1e-9) {
        return false;
    }
    const int start = point_for(s_, places_[0]);
    const int line = s_.add_line(start, point_for(s_, end));
    if (end.level || end.plumb) {
        s_.add_constraint(end.level ? ConstraintKind::horizontal : ConstraintKind::vertical, {line});
    }
    if (end.curve != 0 && end.kind == SnapKind::tangent) {
        s_.add_constraint(ConstraintKind::tangent, {line, end.curve});
    } else if (end.curve != 0 && end.kind == SnapKind::square) {
        s_.add_constraint(ConstraintKind::perpendicular, {line, end.curve});
    }
    if (typed_.said(0)) {
        s_.add_constraint(ConstraintKind::distance, {line}, typed_.text(0));
    }
    return true;
}

bool ShapeMaker::rectangle(bool centred) {
    const double share = centred ? 0.5 : 1;
    const bool sized = typed_.said(0) || typed_.said(1);
    const Point2 corner = sized
                              ? sized_corner(from_, to_, share * typed_.length(0, std::fabs(to_[0] - from_[0]) / share),
                                             share * typed_.length(1, std::fabs(to_[1] - from_[1]) / share))
                              : to_;
    if (std::fabs(corner[0] - from_[0]) < 1e-9 || std::fabs(corner[1] - from_[1]) < 1e-9) {
        return false;
    }
    const Point2 opposite = centred ? Point2{2 * from_[0] - corner[0], 2 * from_[1] - corner[1]} : from_;
    const auto sides = s_.add_rectangle(opposite, corner);
    const int first = s_.curve(sides[0])->points[0];
    const int last = s_.curve(sides[2])->points[0];
    if (centred) {
        s_.add_constraint(ConstraintKind::midpoint, {point_for(s_, places_[0]), first, last});
    } else {
        tie(first, places_[0]);
    }
    if (!sized) {
        tie(last, places_[1]);
    }
    for (size_t i = 0; i < 2; ++i) {
        if (typed_.said(i)) {
            s_.add_constraint(ConstraintKind::distance, {sides[i]}, typed_.text(i));
        }
    }
    return true;
}

bool ShapeMaker::slanted_rectangle() {
    const Point2 side = places_[1].at;
    const double length = sketch::distance(from_, side);
    if (length < 1e-6) {
        return false;
    }
    const Point2 across{(from_[1] - side[1]) / length, (side[0] - from_[0]) / length};
    const double drawn = (to_[0] - side[0]) * across[0] + (to_[1] - side[1]) * across[1];
    const double height = std::copysign(typed_.length(0, std::fabs(drawn)), drawn);
    if (std::fabs(height) < 1e-6) {
        return false;
    }
    const int first = point_for(s_, places_[0]);
    const int second = point_for(s_, places_[1]);
    const int third = s_.add_point(side[0] + height * across[0], side[1] + height * across[1]);
    const int fourth = s_.add_point(from_[0] + height * across[0], from_[1] + height * across[1]);
    const int base = s_.add_line(first, second);
    const int right = s_.add_line(second, third);
    const int top = s_.add_line(third, fourth);
    const int left = s_.add_line(fourth, first);
    s_.add_constraint(ConstraintKind::perpendicular, {base, right});
    s_.add_constraint(ConstraintKind::parallel, {base, top});
    s_.add_constraint(ConstraintKind::parallel, {right, left});
    if (places_[1].level || places_[1].plumb) {
        s_.add_constraint(places_[1].level ? ConstraintKind::horizontal : ConstraintKind::vertical, {base});
    }
    if (typed_.said(0)) {
        s_.add_constraint(ConstraintKind::distance, {right}, typed_.text(0));
    } else if (sketch::distance(to_, sketch::place_of(s_, third)) < 1e-9) {
        tie(third, places_[2]);
    }
    return true;
}

bool ShapeMaker::circle() {
    const double radius = typed_.length(0, 2 * apart_) / 2;
    if (radius < 1e-6) {
        return false;
    }
    const int circle = s_.add_circle(point_for(s_, places_[0]), radius);
    if (typed_.said(0)) {
        s_.add_constraint(ConstraintKind::diameter, {circle}, typed_.text(0));
    } else if (places_[1].point != 0) {
        s_.add_constraint(ConstraintKind::coincident, {places_[1].point, circle});
    }
    return true;
}

bool ShapeMaker::circle_by_three() {
    const auto through = sketch::circle_through(from_, places_[1].at, to_);
    if (!through) {
        return false;
    }
    const int circle = s_.add_circle(s_.add_point(through->center[0], through->center[1]), through->radius);
    for (const Snap& snap : places_) {
        if (snap.point != 0 || snap.curve != 0 || snap.kind == SnapKind::origin) {
            s_.add_constraint(ConstraintKind::coincident, {point_for(s_, snap), circle});
        }
    }
    return true;
}

bool ShapeMaker::circle_touching() {
    std::array<sketch::Stretch, 3> touched;
    std::array<Point2, 3> picked;
    std::array<int, 3> ids{};
    for (size_t i = 0; i < touched.size(); ++i) {
        const int curve = places_[i].curve != 0   ? places_[i].curve
                          : places_[i].point == 0 ? nearest_curve(s_, places_[i].at, reach_)
                                                  : 0;
        picked[i] = places_[i].at;
        if (const auto* found = s_.curve(curve)) {
            ids[i] = curve;
            touched[i] = sketch::stretch_of(s_, *found);
        } else if (places_[i].point != 0) {
            ids[i] = places_[i].point;
            touched[i] = sketch::arc_about(places_[i].at, 0, 0, 2 * std::numbers::pi);
        } else {
            return false;
        }
    }
    const auto circle = sketch::circle_touching(touched, picked);
    if (!circle) {
        return false;
    }
    const int fresh = s_.add_circle(s_.add_point(circle->center[0], circle->center[1]), circle->radius);
    for (const int id : ids) {
        s_.add_constraint(s_.point(id) != nullptr ? ConstraintKind::coincident : ConstraintKind::tangent, {id, fresh});
    }
    return true;
}

bool ShapeMaker::arc() {
    const double radius = sketch::distance(from_, places_[1].at);
    Snap last = places_[2];
    if (last.point == 0) { // on the circle through the start, in the direction of the pointer
        last = {};
        last.at = shifted(from_, std::atan2(to_[1] - from_[1], to_[0] - from_[0]), radius);
    }
    if (radius < 1e-6 || sketch::distance(last.at, places_[1].at) < 1e-9) {
        return false;
    }
    const int center = point_for(s_, places_[0]);
    const int start = point_for(s_, places_[1]);
    s_.add_arc(center, start, point_for(s_, last));
    return true;
}

bool ShapeMaker::arc_by_three() {
    const auto through = sketch::circle_through(from_, places_[1].at, to_);
    if (!through) {
        return false;
    }
    const Point2& e = places_[1].at;
    const double turn = (e[0] - from_[0]) * (to_[1] - from_[1]) - (e[1] - from_[1]) * (to_[0] - from_[0]);
    const int start = point_for(s_, places_[0]);
    const int end = point_for(s_, places_[1]);
    const int middle = s_.add_point(through->center[0], through->center[1]);
    turn < 0 ? s_.add_arc(middle, start, end) : s_.add_arc(middle, end, start);
    return true;
}

bool ShapeMaker::tangent_arc() {
    const Snap& from = places_[0];
    const Snap& to = places_[1];
    const auto before = std::find_if(s_.curves.rbegin(), s_.curves.rend(), [&](const sketch::Curve& curve) {
        return !curve.construction && heading_out(s_, curve, from.point).has_value();
    });
    if (from.point == 0 || before == s_.curves.rend()) {
        return false;
    }
    const int curve = before->id;
    const double way = *heading_out(s_, *before, from.point);
    const Point2 p = sketch::place_of(s_, from.point);
    const Point2 across{-std::sin(way), std::cos(way)};
    const Point2 leap{to.at[0] - p[0], to.at[1] - p[1]};
    const double side = across[0] * leap[0] + across[1] * leap[1];
    const double apart = std::hypot(leap[0], leap[1]);
    if (std::fabs(side) < 1e-6 * (apart + 1e-9)) {
        return false; // straight ahead there is no arc
    }
    const bool sized = typed_.said(0);
    const double radius = sized ? typed_.length(0, 1) : apart * apart / (2 * std::fabs(side));
    const Point2 center{p[0] + std::copysign(radius, side) * across[0], p[1] + std::copysign(radius, side) * across[1]};
    Snap last = to;
    if (sized) {
        last = {};
        last.at = shifted(center, std::atan2(to.at[1] - center[1], to.at[0] - center[0]), radius);
    }
    const int middle = s_.add_point(center[0], center[1]);
    const int end = point_for(s_, last);
    const int arc = side > 0 ? s_.add_arc(middle, from.point, end) : s_.add_arc(middle, end, from.point);
    s_.add_constraint(ConstraintKind::tangent, {curve, arc});
    if (sized) {
        s_.add_constraint(ConstraintKind::radius, {arc}, typed_.text(0));
    }
    return true;
}

bool ShapeMaker::ellipse() {
    const sketch::Stretch axis = sketch::line_between(from_, places_[1].at);
    const double half = axis.length() < 1e-6 ? 0 : sketch::distance(axis.at(sketch::nearest_parameter(axis, to_)), to_);
    if (half < 1e-6) {
        return false;
    }
    const int center = point_for(s_, places_[0]);
    s_.add_ellipse(center, point_for(s_, places_[1]), half);
    return true;
}

bool ShapeMaker::slot() {
    const sketch::Stretch axis = sketch::line_between(from_, places_[1].at);
    const double half = axis.length() < 1e-6 ? 0 : typed_.length(0, 2 * sketch::nearest_on(axis, to_).second) / 2;
    if (half < 1e-6) {
        return false;
    }
    const int first = point_for(s_, places_[0]);
    add_slot(s_, first, point_for(s_, places_[1]), half, typed_.text(0));
    return true;
}

bool ShapeMaker::polygon() {
    const int sides = std::clamp(typed_.count(0, wish_.sides), 3, 200);
    const double radius = typed_.length(1, 2 * apart_) / 2;
    if (radius < 1e-6) {
        return false;
    }
    add_polygon(s_, point_for(s_, places_[0]), to_, sides, radius, typed_.text(1));
    return true;
}

bool ShapeMaker::text() {
    sketch::Figure text;
    text.kind = sketch::FigureKind::text;
    text.text = wish_.words;
    text.size = {{wish_.letter_height}, wish_.letter_size};
    text.along = places_[0].curve; // words that start on a curve follow it
    const int start = point_for(s_, places_[0]);
    const int end = point_for(s_, places_[1]);
    if (start == end) {
        return false;
    }
    if (places_[1].level || places_[1].plumb) {
        s_.add_constraint(places_[1].level ? ConstraintKind::horizontal : ConstraintKind::vertical, {start, end});
    }
    text.points = {start, end};
    s_.add_figure(std::move(text));
    return true;
}

bool ShapeMaker::spline(bool through) {
    const bool closed = places_.size() > 3 && sketch::distance(from_, to_) < 1e-9;
    std::vector<int> points;
    for (size_t i = 0; i + (closed ? 1 : 0) < places_.size(); ++i) {
        points.push_back(point_for(s_, places_[i]));
    }
    if (points.size() < 2) {
        return false;
    }
    s_.add_spline(points, 3, closed, through);
    return true;
}

} // namespace kervo::app
