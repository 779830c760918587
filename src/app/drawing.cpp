#include "app/drawing.h"

#include "sketch/solve.h"

#include <QObject>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::app {

using sketch::ConstraintKind;
using sketch::CurveKind;
using sketch::Point2;

namespace {

Point2 place_of(const sketch::Sketch& sketch, int point) {
    const auto* p = sketch.point(point);
    return p == nullptr ? Point2{} : Point2{p->x, p->y};
}

} // namespace

int nearest_in_sketch(const sketch::Sketch& sketch, const Point2& place, double reach) {
    int best = 0;
    double least = reach;
    for (const auto& point : sketch.points) {
        const double d = sketch::distance({point.x, point.y}, place);
        if (d <= least) {
            least = d;
            best = point.id;
        }
    }
    if (best != 0) {
        return best;
    }
    for (const auto& stretch : sketch::stretches_of(sketch, true)) {
        const double t = std::clamp(sketch::nearest_parameter(stretch, place), 0.0, 1.0);
        const double d = sketch::distance(stretch.at(t), place);
        if (d <= least) {
            least = d;
            best = stretch.curve;
        }
    }
    return best;
}

void Drawing::begin(const sketch::Sketch& solved, Commit commit) {
    sketch_ = solved;
    commit_ = std::move(commit);
    placed_.clear();
    selected_.clear();
    tool_ = DrawTool::select;
}

void Drawing::refresh(const sketch::Sketch& solved) {
    sketch_ = solved;
    std::erase_if(selected_, [&](int id) { return solved.point(id) == nullptr && solved.curve(id) == nullptr; });
    for (Snap& snap : placed_) {
        if (snap.point != 0 && solved.point(snap.point) != nullptr) {
            snap.at = place_of(solved, snap.point);
        }
    }
}

void Drawing::set_tool(DrawTool tool) {
    tool_ = tool;
    placed_.clear();
    if (tool != DrawTool::select && tool != DrawTool::dimension) {
        selected_.clear();
    }
}

Snap Drawing::snap(const Point2& place, double reach) const {
    Snap best{place, 0, 0, {}, false, false};
    double least = reach;
    const auto offer = [&](const Point2& at, int point, const QString& what, double weight) {
        const double d = sketch::distance(at, place) * weight;
        if (d < least) {
            least = d;
            best = {at, point, 0, what, false, false};
        }
    };
    for (const auto& point : sketch_.points) {
        const bool center = std::any_of(sketch_.curves.begin(), sketch_.curves.end(), [&](const auto& c) {
            return c.kind != CurveKind::line && c.points[0] == point.id;
        });
        offer({point.x, point.y}, point.id, center ? QObject::tr("centre") : QObject::tr("end"), 1);
    }
    offer({0, 0}, 0, QObject::tr("origin"), 1.1);
    for (const auto& stretch : sketch::stretches_of(sketch_, true)) {
        if (!stretch.round()) {
            offer(stretch.at(0.5), 0, QObject::tr("middle"), 1.3);
        }
    }
    if (best.what.isEmpty()) {
        for (const auto& stretch : sketch::stretches_of(sketch_, true)) {
            const double before = least;
            offer(stretch.at(std::clamp(sketch::nearest_parameter(stretch, place), 0.0, 1.0)), 0,
                  QObject::tr("on curve"), 1.6);
            best.curve = least < before ? stretch.curve : best.curve;
        }
    }
    if (best.point == 0 && !placed_.empty() && tool_ == DrawTool::line) {
        const Point2& last = placed_.back().at;
        if (std::fabs(place[1] - last[1]) < reach * 0.7) {
            best = {{best.at[0], last[1]}, 0, 0, QObject::tr("level"), true, false};
        } else if (std::fabs(place[0] - last[0]) < reach * 0.7) {
            best = {{last[0], best.at[1]}, 0, 0, QObject::tr("plumb"), false, true};
        }
    }
    return best;
}

void Drawing::hover(const Point2& place, double reach) {
    pointer_ = snap(place, reach);
}

void Drawing::click(const Point2& place, double reach) {
    if (tool_ == DrawTool::select || tool_ == DrawTool::dimension) {
        const int hit = nearest_in_sketch(sketch_, place, reach);
        if (hit == 0) {
            selected_.clear();
        } else if (!selected_.erase(hit)) {
            selected_.insert(hit);
        }
        return;
    }
    pointer_ = snap(place, reach);
    if (placed_.empty()) {
        placed_.push_back(pointer_);
        return;
    }
    if (sketch::distance(placed_.back().at, pointer_.at) < 1e-6) {
        return;
    }
    switch (tool_) {
    case DrawTool::line:
        add_line(pointer_, {});
        break;
    case DrawTool::rectangle:
        add_rectangle(pointer_, {});
        break;
    case DrawTool::circle:
        add_circle(sketch::distance(placed_[0].at, pointer_.at), {});
        break;
    case DrawTool::arc:
        if (placed_.size() == 1) {
            placed_.push_back(pointer_);
        } else {
            add_arc(pointer_);
        }
        break;
    default:
        break;
    }
}

bool Drawing::escape() {
    if (!placed_.empty()) {
        placed_.clear();
        return true;
    }
    if (tool_ != DrawTool::select) {
        tool_ = DrawTool::select;
        return true;
    }
    if (!selected_.empty()) {
        selected_.clear();
        return true;
    }
    return false;
}

bool Drawing::remove_selected() {
    if (selected_.empty()) {
        return false;
    }
    auto next = sketch_;
    for (const int id : selected_) {
        next.remove(id);
    }
    selected_.clear();
    take(std::move(next));
    return true;
}

void Drawing::take(sketch::Sketch next) {
    sketch_ = std::move(next);
    if (commit_) {
        commit_(sketch_);
    }
}

int Drawing::point_for(sketch::Sketch& next, const Snap& snap) const {
    if (snap.point != 0 && next.point(snap.point) != nullptr) {
        return snap.point;
    }
    const int id = next.add_point(snap.at[0], snap.at[1]);
    if (snap.what == QObject::tr("origin")) {
        next.add_constraint(ConstraintKind::fixed, {id}); // what is put on the origin stays there
    } else if (snap.curve != 0) {
        next.add_constraint(ConstraintKind::coincident, {id, snap.curve});
    }
    return id;
}

void Drawing::add_line(const Snap& end, const std::string& length) {
    auto next = sketch_;
    const int a = point_for(next, placed_.back());
    Snap start = placed_.back();
    start.point = a;
    const int b = point_for(next, end);
    const int line = next.add_line(a, b);
    if (end.level || end.plumb) {
        next.add_constraint(end.level ? ConstraintKind::horizontal : ConstraintKind::vertical, {line});
    }
    if (!length.empty()) {
        next.add_constraint(ConstraintKind::distance, {line}, length);
    }
    // The chain goes on from here, unless it has come back to a point that was there.
    const bool closed = end.point != 0;
    Snap tail = end;
    tail.point = b;
    placed_.clear();
    if (!closed) {
        placed_.push_back(tail);
    }
    take(std::move(next));
}

void Drawing::add_rectangle(const Snap& corner, const std::vector<std::string>& sizes) {
    auto next = sketch_;
    const auto sides = next.add_rectangle(placed_[0].at, corner.at);
    // Corners that were snapped to points that exist lie on them.
    const int first = next.curve(sides[0])->points[0];
    const int opposite = next.curve(sides[2])->points[0];
    for (const auto& [fresh, snap] : {std::pair(first, placed_[0]), std::pair(opposite, corner)}) {
        if (snap.point != 0) {
            next.add_constraint(ConstraintKind::coincident, {fresh, snap.point});
        } else if (snap.what == QObject::tr("origin")) {
            next.add_constraint(ConstraintKind::fixed, {fresh});
        }
    }
    for (size_t i = 0; i < sizes.size() && i < 2; ++i) {
        if (!sizes[i].empty()) {
            next.add_constraint(ConstraintKind::distance, {sides[i]}, sizes[i]);
        }
    }
    placed_.clear();
    take(std::move(next));
}

void Drawing::add_circle(double radius, const std::string& diameter) {
    auto next = sketch_;
    const int circle = next.add_circle(point_for(next, placed_[0]), radius);
    if (!diameter.empty()) {
        next.add_constraint(ConstraintKind::diameter, {circle}, diameter);
    }
    placed_.clear();
    take(std::move(next));
}

void Drawing::add_arc(const Snap& end) {
    auto next = sketch_;
    const int center = point_for(next, placed_[0]);
    const int start = point_for(next, placed_[1]);
    // The end lies on the circle through the start, in the direction of the pointer.
    const double radius = sketch::distance(placed_[0].at, placed_[1].at);
    const double angle = std::atan2(end.at[1] - placed_[0].at[1], end.at[0] - placed_[0].at[0]);
    Snap last = end;
    if (end.point == 0) {
        last.at = {placed_[0].at[0] + radius * std::cos(angle), placed_[0].at[1] + radius * std::sin(angle)};
    }
    next.add_arc(center, start, point_for(next, last));
    placed_.clear();
    take(std::move(next));
}

std::vector<QString> Drawing::asks_for() const {
    if (placed_.empty()) {
        return {};
    }
    switch (tool_) {
    case DrawTool::line:
        return {QObject::tr("length")};
    case DrawTool::rectangle:
        return {QObject::tr("width"), QObject::tr("height")};
    case DrawTool::circle:
        return {QObject::tr("diameter")};
    default:
        return {};
    }
}

void Drawing::finish_typed(const std::vector<std::string>& formulas, const ParameterValues& parameters) {
    if (placed_.empty() || formulas.empty()) {
        return;
    }
    const auto value = [&](size_t i, double otherwise) {
        const auto number = i < formulas.size() && !formulas[i].empty()
                                ? evaluate_as(formulas[i], parameters, length_dimension)
                                : Result<double>(otherwise);
        return number ? *number : otherwise;
    };
    const Point2 from = placed_.back().at;
    const double dx = pointer_.at[0] - from[0];
    const double dy = pointer_.at[1] - from[1];
    if (tool_ == DrawTool::line) {
        const double drawn = std::max(std::hypot(dx, dy), 1e-9);
        const double length = value(0, drawn);
        Snap end = pointer_;
        end.point = end.curve = 0;
        end.at = {from[0] + (drawn > 1e-6 ? dx / drawn : 1) * length,
                  from[1] + (drawn > 1e-6 ? dy / drawn : 0) * length};
        add_line(end, formulas[0]);
    } else if (tool_ == DrawTool::rectangle) {
        Snap corner = pointer_;
        corner.point = corner.curve = 0;
        corner.what.clear();
        corner.at = {from[0] + std::copysign(value(0, std::fabs(dx)), dx),
                     from[1] + std::copysign(value(1, std::fabs(dy)), dy)};
        add_rectangle(corner, formulas);
    } else if (tool_ == DrawTool::circle) {
        const double radius = value(0, 2 * std::hypot(dx, dy)) / 2;
        if (radius > 1e-6) {
            add_circle(radius, formulas[0]);
        }
    }
}

QString Drawing::constrain(ConstraintKind kind, const std::string& formula) {
    auto next = sketch_;
    const std::vector<int> chosen(selected_.begin(), selected_.end());
    // Points and curves may have to stand in either order; what the structure accepts is taken.
    auto order = chosen;
    constexpr size_t most_operands = 3; // a frame may have selected hundreds
    do {
        if (order.size() > most_operands) {
            break;
        }
        auto attempt = next;
        attempt.add_constraint(kind, order, formula);
        if (!has_error(sketch::check_structure(attempt))) {
            selected_.clear();
            take(std::move(attempt));
            return {};
        }
    } while (std::next_permutation(order.begin(), order.end()));
    // A constraint that takes one thing goes on each of several.
    size_t fitting = 0;
    for (const int one : chosen) {
        auto attempt = next;
        attempt.add_constraint(kind, {one}, formula);
        if (!has_error(sketch::check_structure(attempt))) {
            next = std::move(attempt);
            ++fitting;
        }
    }
    if (fitting > 0 && fitting == chosen.size()) {
        selected_.clear();
        take(std::move(next));
        return {};
    }
    return chosen.empty() ? QObject::tr("Select points or curves first.")
                          : QObject::tr("This constraint does not fit what is selected.");
}

std::optional<std::pair<ConstraintKind, double>> Drawing::dimension_of_selection() const {
    std::vector<const sketch::Curve*> curves;
    std::vector<int> points;
    for (const int id : selected_) {
        if (const auto* curve = sketch_.curve(id)) {
            curves.push_back(curve);
        } else {
            points.push_back(id);
        }
    }
    const auto stretch_of = [&](const sketch::Curve& curve) {
        for (const auto& stretch : sketch::stretches_of(sketch_, true)) {
            if (stretch.curve == curve.id) {
                return stretch;
            }
        }
        return sketch::Stretch{};
    };
    if (curves.size() == 1 && points.empty()) {
        const auto stretch = stretch_of(*curves[0]);
        if (curves[0]->kind == CurveKind::line) {
            return std::pair(ConstraintKind::distance, stretch.length());
        }
        return curves[0]->kind == CurveKind::circle ? std::pair(ConstraintKind::diameter, 2 * stretch.radius)
                                                    : std::pair(ConstraintKind::radius, stretch.radius);
    }
    if (points.size() == 2 && curves.empty()) {
        return std::pair(ConstraintKind::distance,
                         sketch::distance(place_of(sketch_, points[0]), place_of(sketch_, points[1])));
    }
    if (points.size() == 1 && curves.size() == 1 && curves[0]->kind == CurveKind::line) {
        const auto stretch = stretch_of(*curves[0]);
        const Point2 place = place_of(sketch_, points[0]);
        return std::pair(ConstraintKind::distance,
                         sketch::distance(place, stretch.at(sketch::nearest_parameter(stretch, place))));
    }
    if (curves.size() == 2 && points.empty() && curves[0]->kind == CurveKind::line &&
        curves[1]->kind == CurveKind::line) {
        double angle = stretch_of(*curves[1]).heading(true) - stretch_of(*curves[0]).heading(true);
        angle = std::remainder(angle, 2 * std::numbers::pi);
        return std::pair(ConstraintKind::angle, angle);
    }
    return std::nullopt;
}

std::vector<sketch::Stretch> Drawing::rubber() const {
    std::vector<sketch::Stretch> out;
    if (placed_.empty()) {
        return out;
    }
    const Point2& a = placed_[0].at;
    const Point2& b = pointer_.at;
    const auto straight = [&](const Point2& from, const Point2& to) {
        sketch::Stretch s;
        s.start = from;
        s.end = to;
        out.push_back(s);
    };
    if (tool_ == DrawTool::line) {
        straight(placed_.back().at, b);
    } else if (tool_ == DrawTool::rectangle) {
        straight(a, {b[0], a[1]});
        straight({b[0], a[1]}, b);
        straight(b, {a[0], b[1]});
        straight({a[0], b[1]}, a);
    } else if (tool_ == DrawTool::circle || tool_ == DrawTool::arc) {
        double from = 0;
        double sweep = 2 * std::numbers::pi;
        const double radius = sketch::distance(a, placed_.size() > 1 ? placed_[1].at : b);
        if (placed_.size() > 1) {
            from = std::atan2(placed_[1].at[1] - a[1], placed_[1].at[0] - a[0]);
            sweep = std::atan2(b[1] - a[1], b[0] - a[0]) - from;
            sweep += sweep <= 0 ? 2 * std::numbers::pi : 0;
        }
        if (radius > 1e-9) {
            out.push_back(sketch::arc_about(a, radius, from, sweep));
        }
    }
    return out;
}

QString Drawing::hint() const {
    switch (tool_) {
    case DrawTool::select:
        return selected_.empty() ? QObject::tr("Next pick: a point or curve of the sketch")
                                 : QObject::tr("%1 selected; choose a constraint, or Delete").arg(selected_.size());
    case DrawTool::line:
        return placed_.empty() ? QObject::tr("Next pick: where the line starts")
                               : QObject::tr("Next pick: where it ends, or type its length");
    case DrawTool::rectangle:
        return placed_.empty() ? QObject::tr("Next pick: a corner")
                               : QObject::tr("Next pick: the opposite corner, or type width and height");
    case DrawTool::circle:
        return placed_.empty() ? QObject::tr("Next pick: the centre")
                               : QObject::tr("Next pick: a point on it, or type the diameter");
    case DrawTool::arc:
        return placed_.empty()       ? QObject::tr("Next pick: the centre of the arc")
               : placed_.size() == 1 ? QObject::tr("Next pick: where it starts")
                                     : QObject::tr("Next pick: where it ends, counterclockwise");
    case DrawTool::dimension:
        break;
    }
    return QObject::tr("Next pick: a line, a circle or two points; then type the dimension");
}

} // namespace kervo::app
