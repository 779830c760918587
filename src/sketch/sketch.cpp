#include "sketch/sketch.h"

#include "sketch/spline.h"

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
        {ConstraintKind::symmetric, "symmetric"},
        {ConstraintKind::midpoint, "midpoint"},
        {ConstraintKind::collinear, "collinear"},
        {ConstraintKind::smooth, "smooth"},
        {ConstraintKind::pattern, "pattern"},
        {ConstraintKind::distance, "distance"},
        {ConstraintKind::horizontal_distance, "horizontal_distance"},
        {ConstraintKind::vertical_distance, "vertical_distance"},
        {ConstraintKind::radius, "radius"},
        {ConstraintKind::diameter, "diameter"},
        {ConstraintKind::angle, "angle"},
        {ConstraintKind::arc_length, "arc_length"}};
    return names;
}

const std::vector<std::pair<CurveKind, std::string>>& curve_names() {
    static const std::vector<std::pair<CurveKind, std::string>> names{{CurveKind::line, "line"},
                                                                      {CurveKind::circle, "circle"},
                                                                      {CurveKind::arc, "arc"},
                                                                      {CurveKind::ellipse, "ellipse"},
                                                                      {CurveKind::spline, "spline"}};
    return names;
}

const std::vector<std::pair<FigureKind, std::string>>& figure_names() {
    static const std::vector<std::pair<FigureKind, std::string>> names{{FigureKind::text, "text"},
                                                                       {FigureKind::artwork, "artwork"},
                                                                       {FigureKind::ring, "ring"},
                                                                       {FigureKind::row, "row"}};
    return names;
}

const std::vector<std::pair<FillRule, std::string>>& fill_names() {
    static const std::vector<std::pair<FillRule, std::string>> names{{FillRule::own, "own"},
                                                                     {FillRule::nonzero, "nonzero"},
                                                                     {FillRule::even_odd, "even_odd"},
                                                                     {FillRule::none, "none"}};
    return names;
}

const std::vector<std::pair<TextAlign, std::string>>& align_names() {
    static const std::vector<std::pair<TextAlign, std::string>> names{
        {TextAlign::start, "start"}, {TextAlign::middle, "middle"}, {TextAlign::end, "end"}};
    return names;
}

Dimension size_dimension(FigureKind kind) {
    return kind == FigureKind::text || kind == FigureKind::artwork ? length_dimension : plain_number;
}

Dimension spacing_dimension(FigureKind kind) {
    return kind == FigureKind::ring ? angle_dimension : length_dimension;
}

bool is_dimension(ConstraintKind kind) {
    return kind >= ConstraintKind::distance;
}

bool has_radius(CurveKind kind) {
    return kind == CurveKind::circle || kind == CurveKind::ellipse;
}

Dimension dimension_of(ConstraintKind kind) {
    return kind == ConstraintKind::angle ? angle_dimension : length_dimension;
}

int Sketch::add_point(double x, double y) {
    points.push_back({++last_id, x, y});
    return last_id;
}

int Sketch::add_line(int start, int end) {
    return add(CurveKind::line, {start, end}, 0);
}

int Sketch::add_circle(int center, double radius) {
    return add(CurveKind::circle, {center}, radius);
}

int Sketch::add_arc(int center, int start, int end) {
    return add(CurveKind::arc, {center, start, end}, 0);
}

int Sketch::add_ellipse(int center, int axis_end, double other_half) {
    return add(CurveKind::ellipse, {center, axis_end}, other_half);
}

int Sketch::add_ellipse_arc(int center, int axis_end, double other_half, int start, int end) {
    return add(CurveKind::ellipse, {center, axis_end, start, end}, other_half);
}

int Sketch::add_spline(std::vector<int> curve_points, int degree, bool closed, bool through) {
    add(CurveKind::spline, std::move(curve_points), 0);
    curves.back().degree = degree;
    curves.back().closed = closed;
    curves.back().through = through;
    return last_id;
}

int Sketch::add(CurveKind kind, std::vector<int> curve_points, double radius) {
    Curve& fresh = curves.emplace_back();
    fresh.id = ++last_id;
    fresh.kind = kind;
    fresh.points = std::move(curve_points);
    fresh.radius = radius;
    return last_id;
}

int Sketch::add_figure(Figure fresh) {
    fresh.id = ++last_id;
    figures.push_back(std::move(fresh));
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
} // namespace

const Point* Sketch::point(int id) const {
    return find_id(points, id);
}
const Curve* Sketch::curve(int id) const {
    return find_id(curves, id);
}
const Figure* Sketch::figure(int id) const {
    return find_id(figures, id);
}
Point* Sketch::point(int id) {
    return find_id(points, id);
}
Curve* Sketch::curve(int id) {
    return find_id(curves, id);
}
Figure* Sketch::figure(int id) {
    return find_id(figures, id);
}

namespace {

// A spline can do with a point less, as long as enough are left.
void leave_out(Curve& spline, int point) {
    const auto at = std::find(spline.points.begin(), spline.points.end(), point);
    const size_t least = spline.closed ? 3 : 2;
    if (spline.kind != CurveKind::spline || at == spline.points.end() || spline.points.size() <= least) {
        return;
    }
    const auto pole = at - spline.points.begin();
    const auto count = static_cast<std::ptrdiff_t>(spline.points.size());
    if (const std::ptrdiff_t first = spline.degree + 1; count > first && !spline.knots.empty()) {
        // The knot goes that lies nearest to where the pole has most to say.
        spline.knots.erase(spline.knots.begin() + std::clamp(pole + (first / 2), first, count - 1));
    } else {
        spline.knots.clear();
    }
    spline.points.erase(at);
}

} // namespace

void Sketch::remove(int id) {
    std::set<int> gone{id};
    std::set<int> loose;
    for (Curve& item : curves) {
        leave_out(item, id);
    }
    const auto any_gone = [&](const std::vector<int>& ids) {
        return std::any_of(ids.begin(), ids.end(), [&](int each) { return gone.contains(each); });
    };
    for (const Curve& item : curves) {
        if (gone.contains(item.id) || any_gone(item.points)) {
            gone.insert(item.id);
            loose.insert(item.points.begin(), item.points.end());
        }
    }
    for (Figure& item : figures) { // each repeats older ones only, so one pass is enough
        std::erase_if(item.of, [&](int each) { return gone.contains(each); });
        const bool repeats = item.kind == FigureKind::ring || item.kind == FigureKind::row;
        if (gone.contains(item.id) || any_gone(item.points) || (repeats && item.of.empty()) ||
            gone.contains(item.along)) {
            gone.insert(item.id);
            loose.insert(item.points.begin(), item.points.end());
        }
    }
    std::erase_if(curves, [&](const Curve& item) { return gone.contains(item.id); });
    std::erase_if(figures, [&](const Figure& item) { return gone.contains(item.id); });
    const auto keep = [&](const std::vector<int>& used) {
        for (const int each : used) {
            loose.erase(each);
        }
    };
    std::for_each(curves.begin(), curves.end(), [&](const Curve& item) { keep(item.points); });
    std::for_each(figures.begin(), figures.end(), [&](const Figure& item) { keep(item.points); });
    gone.insert(loose.begin(), loose.end());
    std::erase_if(points, [&](const Point& item) { return gone.contains(item.id); });
    std::erase_if(constraints, [&](const Constraint& item) { return gone.contains(item.id) || any_gone(item.on); });
}

namespace {

// What may stand in a constraint, one letter an operand: p point, l line, r circle or arc, e ellipse, s spline.
const std::vector<std::string>& operand_patterns(ConstraintKind kind) {
    static const std::map<ConstraintKind, std::vector<std::string>> patterns{
        {ConstraintKind::coincident, {"pp", "pl", "pr", "pe", "ps"}},
        {ConstraintKind::horizontal, {"l", "pp"}},
        {ConstraintKind::vertical, {"l", "pp"}},
        {ConstraintKind::parallel, {"ll"}},
        {ConstraintKind::perpendicular, {"ll"}},
        {ConstraintKind::tangent, {"lr", "rl", "rr", "le", "el"}},
        {ConstraintKind::equal, {"ll", "rr"}},
        {ConstraintKind::concentric, {"rr", "re", "er", "ee"}},
        {ConstraintKind::fixed, {"p", "l", "r", "e", "s"}},
        {ConstraintKind::symmetric, {"ppl", "rrl"}},
        {ConstraintKind::midpoint, {"pl", "ppp"}},
        {ConstraintKind::collinear, {"ll"}},
        {ConstraintKind::smooth, {}},
        {ConstraintKind::pattern, {}},
        {ConstraintKind::distance, {"l", "pp", "pl"}},
        {ConstraintKind::horizontal_distance, {"pp"}},
        {ConstraintKind::vertical_distance, {"pp"}},
        {ConstraintKind::radius, {"r"}},
        {ConstraintKind::diameter, {"r"}},
        {ConstraintKind::angle, {"ll"}},
        {ConstraintKind::arc_length, {"r"}}};
    return patterns.at(kind);
}

// The end points of a curve, as places in its list of points.
std::vector<int> ends_of(const Curve& curve) {
    switch (curve.kind) {
    case CurveKind::line:
        return {0, 1};
    case CurveKind::circle:
        return {};
    case CurveKind::arc:
        return {1, 2};
    case CurveKind::ellipse:
        return curve.points.size() == 4 ? std::vector<int>{2, 3} : std::vector<int>{};
    case CurveKind::spline:
        break;
    }
    return curve.closed ? std::vector<int>{} : std::vector<int>{0, static_cast<int>(curve.points.size()) - 1};
}

bool accepts(const Sketch& sketch, const Constraint& constraint, const std::string& pattern) {
    const auto& allowed = operand_patterns(constraint.kind);
    if (std::find(allowed.begin(), allowed.end(), pattern) != allowed.end()) {
        return true;
    }
    if (constraint.kind == ConstraintKind::pattern) {
        return pattern.size() >= 3 && pattern.find_first_not_of('p') == std::string::npos;
    }
    const bool touching = constraint.kind == ConstraintKind::tangent || constraint.kind == ConstraintKind::smooth;
    return touching && pattern.size() == 2 && pattern.find_first_of("p?") == std::string::npos &&
           SharedEnds(sketch).between(*sketch.curve(constraint.on[0]), *sketch.curve(constraint.on[1])).has_value();
}

// Whether the curve has as many points as its kind wants.
bool fits(const Curve& curve) {
    const size_t count = curve.points.size();
    switch (curve.kind) {
    case CurveKind::line:
        return count == 2;
    case CurveKind::circle:
        return count == 1;
    case CurveKind::arc:
        return count == 3;
    case CurveKind::ellipse:
        return count == 2 || count == 4;
    case CurveKind::spline:
        break;
    }
    return count >= (curve.closed ? 3U : 2U) && curve.degree >= 1 && curve.degree <= max_spline_degree &&
           (curve.knots.empty() || (!curve.closed && !curve.through && are_knots(curve.knots, count, curve.degree)));
}

Finding mistake(const std::string& cause) {
    return error_finding("sketch.structure", cause, "Correct or delete it.");
}

} // namespace

std::vector<int> end_points(const Curve& curve) {
    std::vector<int> points;
    for (const int at : ends_of(curve)) {
        points.push_back(curve.points[static_cast<size_t>(at)]);
    }
    return points;
}

SharedEnds::SharedEnds(const Sketch& sketch) {
    for (const Constraint& constraint : sketch.constraints) {
        const bool points = constraint.on.size() == 2 && sketch.point(constraint.on[0]) != nullptr &&
                            sketch.point(constraint.on[1]) != nullptr;
        if (constraint.kind == ConstraintKind::coincident && points) {
            const int a = top(constraint.on[0]);
            const int b = top(constraint.on[1]);
            if (a != b) {
                same_as_[a] = b;
            }
        }
    }
}

int SharedEnds::top(int point) const {
    for (auto next = same_as_.find(point); next != same_as_.end(); next = same_as_.find(point)) {
        point = next->second;
    }
    return point;
}

std::optional<std::array<int, 2>> SharedEnds::between(const Curve& first, const Curve& second) const {
    for (const int a : ends_of(first)) {
        for (const int b : ends_of(second)) {
            if (same(first.points[static_cast<size_t>(a)], second.points[static_cast<size_t>(b)])) {
                return std::array<int, 2>{a, b};
            }
        }
    }
    return std::nullopt;
}

bool is_sound(const Sketch& sketch, const Curve& curve) {
    return fits(curve) && (!has_radius(curve.kind) || curve.radius > 0) &&
           std::all_of(curve.points.begin(), curve.points.end(), [&](int p) { return sketch.point(p) != nullptr; });
}

namespace {

// Whether the figure has the points of its kind, and hangs on nothing but what is there and older.
bool is_sound(const Sketch& sketch, const Figure& figure) {
    const bool repeats = figure.kind == FigureKind::ring || figure.kind == FigureKind::row;
    const size_t wanted = figure.kind == FigureKind::ring ? 1 : 2;
    return figure.points.size() == wanted && repeats != figure.of.empty() &&
           (figure.along == 0 || sketch.curve(figure.along) != nullptr) &&
           std::all_of(figure.points.begin(), figure.points.end(), [&](int p) { return sketch.point(p) != nullptr; }) &&
           std::all_of(figure.of.begin(), figure.of.end(), [&](int source) {
               return source < figure.id && (sketch.curve(source) != nullptr || sketch.figure(source) != nullptr);
           });
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
        if (is_sound(sketch, curve)) {
            continue;
        }
        findings.push_back(has_radius(curve.kind) && !(curve.radius > 0)
                               ? mistake((curve.kind == CurveKind::circle ? "Circle " : "Ellipse ") +
                                         std::to_string(curve.id) + " has no radius.")
                               : mistake("Curve " + std::to_string(curve.id) + " lacks one of its points."));
    }
    for (const Figure& figure : sketch.figures) {
        take(figure.id);
        if (!is_sound(sketch, figure)) {
            findings.push_back(mistake("The " + figure_names()[static_cast<size_t>(figure.kind)].second + " " +
                                       std::to_string(figure.id) + " lacks something it stands on."));
        }
    }
    for (const Constraint& constraint : sketch.constraints) {
        take(constraint.id);
        std::string pattern;
        for (const int on : constraint.on) {
            const Curve* curve = sketch.curve(on);
            pattern += sketch.point(on) != nullptr ? 'p'
                       : curve == nullptr          ? '?'
                                                   : "lrres"[static_cast<size_t>(curve->kind)];
        }
        if (!accepts(sketch, constraint, pattern)) {
            findings.push_back(mistake("The constraint \u201c" +
                                       constraint_names()[static_cast<size_t>(constraint.kind)].second + "\u201d (" +
                                       std::to_string(constraint.id) + ") stands on the wrong things."));
        }
    }
    return findings;
}

} // namespace kervo::sketch
