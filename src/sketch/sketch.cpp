#include "sketch/sketch.h"

#include <algorithm>
#include <set>

namespace kervo::sketch {

const std::vector<std::pair<ConstraintKind, std::string>>& constraint_names() {
    static const std::vector<std::pair<ConstraintKind, std::string>> names{
        {ConstraintKind::coincident, "coincident"},
        {ConstraintKind::horizontal, "horizontal"},
        {ConstraintKind::vertical, "vertical"},
        {ConstraintKind::parallel, "parallel"},
        {ConstraintKind::perpendicular, "perpendicular"},
        {ConstraintKind::tangent, "tangent"},
        {ConstraintKind::equal, "equal"},
        {ConstraintKind::concentric, "concentric"},
        {ConstraintKind::fixed, "fixed"},
        {ConstraintKind::distance, "distance"},
        {ConstraintKind::horizontal_distance, "horizontal_distance"},
        {ConstraintKind::vertical_distance, "vertical_distance"},
        {ConstraintKind::radius, "radius"},
        {ConstraintKind::diameter, "diameter"},
        {ConstraintKind::angle, "angle"}};
    return names;
}

const std::vector<std::pair<CurveKind, std::string>>& curve_names() {
    static const std::vector<std::pair<CurveKind, std::string>> names{
        {CurveKind::line, "line"}, {CurveKind::circle, "circle"}, {CurveKind::arc, "arc"}};
    return names;
}

bool is_dimension(ConstraintKind kind) {
    return kind >= ConstraintKind::distance;
}

Dimension dimension_of(ConstraintKind kind) {
    return kind == ConstraintKind::angle ? angle_dimension : length_dimension;
}

int Sketch::add_point(double x, double y) {
    points.push_back({++last_id, x, y});
    return last_id;
}

int Sketch::add_line(int start, int end) {
    curves.push_back({++last_id, CurveKind::line, {start, end}, 0, false});
    return last_id;
}

int Sketch::add_circle(int center, double radius) {
    curves.push_back({++last_id, CurveKind::circle, {center}, radius, false});
    return last_id;
}

int Sketch::add_arc(int center, int start, int end) {
    curves.push_back({++last_id, CurveKind::arc, {center, start, end}, 0, false});
    return last_id;
}

int Sketch::add_constraint(ConstraintKind kind, std::vector<int> on, std::string formula) {
    constraints.push_back({++last_id, kind, std::move(on), {std::move(formula)}});
    return last_id;
}

std::array<int, 4> Sketch::add_rectangle(Point2 corner, Point2 opposite) {
    const int a = add_point(corner[0], corner[1]);
    const int b = add_point(opposite[0], corner[1]);
    const int c = add_point(opposite[0], opposite[1]);
    const int d = add_point(corner[0], opposite[1]);
    const std::array<int, 4> sides{add_line(a, b), add_line(b, c), add_line(c, d), add_line(d, a)};
    add_constraint(ConstraintKind::horizontal, {sides[0]});
    add_constraint(ConstraintKind::vertical, {sides[1]});
    add_constraint(ConstraintKind::horizontal, {sides[2]});
    add_constraint(ConstraintKind::vertical, {sides[3]});
    return sides;
}

namespace {
template <class List> auto* find_id(List& list, int id) {
    const auto at = std::find_if(list.begin(), list.end(), [id](const auto& item) { return item.id == id; });
    return at == list.end() ? nullptr : &*at;
}
bool contains(const std::vector<int>& list, int id) {
    return std::find(list.begin(), list.end(), id) != list.end();
}
} // namespace

const Point* Sketch::point(int id) const {
    return find_id(points, id);
}
const Curve* Sketch::curve(int id) const {
    return find_id(curves, id);
}
Point* Sketch::point(int id) {
    return find_id(points, id);
}
Curve* Sketch::curve(int id) {
    return find_id(curves, id);
}

void Sketch::remove(int id) {
    std::set<int> gone{id};
    for (const Curve& item : curves) {
        if (contains(item.points, id)) {
            gone.insert(item.id);
        }
    }
    std::set<int> loose;
    for (const Curve& item : curves) {
        if (gone.contains(item.id)) {
            loose.insert(item.points.begin(), item.points.end());
        }
    }
    std::erase_if(curves, [&](const Curve& item) { return gone.contains(item.id); });
    for (const Curve& item : curves) {
        for (const int used : item.points) {
            loose.erase(used);
        }
    }
    gone.insert(loose.begin(), loose.end());
    std::erase_if(points, [&](const Point& item) { return gone.contains(item.id); });
    std::erase_if(constraints, [&](const Constraint& item) {
        return gone.contains(item.id) ||
               std::any_of(item.on.begin(), item.on.end(), [&](int on) { return gone.contains(on); });
    });
}

namespace {

// What may stand in a constraint, one letter an operand: p point, l line, r circle or arc.
const std::vector<std::string>& operand_patterns(ConstraintKind kind) {
    static const std::vector<std::vector<std::string>> patterns{{"pp", "pl", "pr"},
                                                                {"l", "pp"},
                                                                {"l", "pp"},
                                                                {"ll"},
                                                                {"ll"},
                                                                {"lr", "rl", "rr"},
                                                                {"ll", "rr"},
                                                                {"rr"},
                                                                {"p", "l", "r"},
                                                                {"l", "pp", "pl"},
                                                                {"pp"},
                                                                {"pp"},
                                                                {"r"},
                                                                {"r"},
                                                                {"ll"}};
    return patterns[static_cast<size_t>(kind)];
}

Finding mistake(const std::string& cause) {
    return error_finding("sketch.structure", cause, "Correct or delete it.");
}

} // namespace

Findings check_structure(const Sketch& sketch) {
    Findings findings;
    std::set<int> ids;
    const auto take = [&](int id) {
        if (id <= 0 || !ids.insert(id).second) {
            findings.push_back(
                mistake("The id " + std::to_string(id) + " in the sketch is not a fresh positive number."));
        }
    };
    for (const Point& point : sketch.points) {
        take(point.id);
    }
    for (const Curve& curve : sketch.curves) {
        take(curve.id);
        const size_t wanted = curve.kind == CurveKind::line ? 2 : curve.kind == CurveKind::circle ? 1 : 3;
        const bool known =
            std::all_of(curve.points.begin(), curve.points.end(), [&](int p) { return sketch.point(p) != nullptr; });
        if (curve.points.size() != wanted || !known) {
            findings.push_back(mistake("Curve " + std::to_string(curve.id) + " lacks one of its points."));
        } else if (curve.kind == CurveKind::circle && !(curve.radius > 0)) {
            findings.push_back(mistake("Circle " + std::to_string(curve.id) + " has no radius."));
        }
    }
    for (const Constraint& constraint : sketch.constraints) {
        take(constraint.id);
        std::string pattern;
        for (const int on : constraint.on) {
            const Curve* curve = sketch.curve(on);
            pattern += sketch.point(on) != nullptr      ? 'p'
                       : curve == nullptr               ? '?'
                       : curve->kind == CurveKind::line ? 'l'
                                                        : 'r';
        }
        const auto& allowed = operand_patterns(constraint.kind);
        if (std::find(allowed.begin(), allowed.end(), pattern) == allowed.end()) {
            findings.push_back(mistake("The constraint \u201c" +
                                       constraint_names()[static_cast<size_t>(constraint.kind)].second + "\u201d (" +
                                       std::to_string(constraint.id) + ") stands on the wrong things."));
        }
    }
    return findings;
}

} // namespace kervo::sketch
