// Two curves become one, or at least meet.
#include "sketch/edit.h"

#include <algorithm>
#include <cmath>

namespace kervo::sketch {

namespace {

// The ends of two open curves that lie nearest to each other, counted as `end_points` counts them.
struct Seam {
    size_t first = 0, second = 0;
    double gap = 1e300;
};

Seam nearest_ends(const Sketch& sketch, const std::vector<int>& first, const std::vector<int>& second) {
    Seam seam;
    for (size_t i = 0; i < 2; ++i) {
        for (size_t j = 0; j < 2; ++j) {
            const double gap = distance(place_of(sketch, first[i]), place_of(sketch, second[j]));
            if (gap < seam.gap) {
                seam = {i, j, gap};
            }
        }
    }
    return seam;
}

// Whether two lines are parts of one: they lie on it, one behind the other.
bool continue_each_other(const Sketch& sketch, const std::vector<int>& first, const std::vector<int>& second,
                         const Seam& seam) {
    const Point2 far = place_of(sketch, first[1 - seam.first]);
    const Point2 near = place_of(sketch, first[seam.first]);
    const Stretch line = line_between(far, near);
    const auto off = [&](const Point2& p) { return distance(p, line.at(nearest_parameter(line, p))); };
    const Point2 other_near = place_of(sketch, second[seam.second]);
    const Point2 other_far = place_of(sketch, second[1 - seam.second]);
    return off(other_near) < joining_tolerance && off(other_far) < joining_tolerance &&
           nearest_parameter(line, other_near) > 1 - joining_tolerance &&
           nearest_parameter(line, other_far) > nearest_parameter(line, other_near);
}

// What the longer curve has no use for: a point that nothing draws with, constraints on the length of a part.
void tidy(Sketch& s, int curve, int point) {
    const auto uses = [&](const auto& item) {
        return std::find(item.points.begin(), item.points.end(), point) != item.points.end();
    };
    const bool used =
        std::any_of(s.curves.begin(), s.curves.end(), uses) || std::any_of(s.figures.begin(), s.figures.end(), uses);
    std::erase_if(s.constraints, [&](const Constraint& c) {
        const bool of_curve = std::find(c.on.begin(), c.on.end(), curve) != c.on.end();
        const bool of_point = !used && std::find(c.on.begin(), c.on.end(), point) != c.on.end();
        return of_point || (of_curve && rests_on_length(c, s.curve(curve)->kind));
    });
    if (!used) {
        std::erase_if(s.points, [&](const Point& p) { return p.id == point; });
    }
}

Edited as_one_line(const Sketch& sketch, const Curve& first, const Curve& second, const Seam& seam) {
    Edited edited{sketch, "2 open curves became 1 open one.", {}};
    const int near = first.points[seam.first];
    edited.sketch.curve(first.id)->points[seam.first] = second.points[1 - seam.second];
    edited.sketch.remove(second.id);
    tidy(edited.sketch, first.id, near);
    return edited;
}

// Arcs of one circle; where both pairs of ends meet, the whole circle.
Edited as_one_arc(const Sketch& sketch, const Curve& first, const Curve& second, const Seam& seam) {
    Edited edited{sketch, "2 open curves became 1 open one.", {}};
    Curve& whole = *edited.sketch.curve(first.id);
    const int near = first.points[1 + seam.first];
    const int far = first.points[2 - seam.first];
    const int other_far = second.points[2 - seam.second];
    const bool closes = distance(place_of(sketch, far), place_of(sketch, other_far)) < joining_tolerance;
    if (closes) {
        whole.kind = CurveKind::circle;
        whole.radius = stretch_of(sketch, first).radius;
        whole.points = {first.points[0]};
        edited.told = "2 open curves became 1 closed one.";
    } else {
        whole.points[1 + seam.first] = other_far;
    }
    edited.sketch.remove(second.id);
    tidy(edited.sketch, first.id, near);
    if (closes) {
        tidy(edited.sketch, first.id, far);
    }
    return edited;
}

bool of_one_circle(const Stretch& a, const Stretch& b, const Seam& seam) {
    return distance(a.center, b.center) < joining_tolerance && std::fabs(a.radius - b.radius) < joining_tolerance &&
           seam.first != seam.second; // both run counterclockwise: an end meets a start
}

} // namespace

Edited join(const Sketch& sketch, int first, int second) {
    const Curve* a = sketch.curve(first);
    const Curve* b = sketch.curve(second);
    if (a == nullptr || b == nullptr || first == second) {
        return refuse(sketch, "edit.no_curve", "There are no two curves to join.", "Point at one, then at another.");
    }
    const auto a_ends = end_points(*a);
    const auto b_ends = end_points(*b);
    if (a_ends.size() != 2 || b_ends.size() != 2) {
        return refuse(sketch, "edit.closed", "A closed curve has no end that could be joined.",
                      "Split it first, or point at open curves.");
    }
    const Seam seam = nearest_ends(sketch, a_ends, b_ends);
    const bool held = static_cast<bool>(a->source) || static_cast<bool>(b->source); // parts of these are drawn nowhere
    if (!held && a->kind == CurveKind::line && b->kind == CurveKind::line &&
        continue_each_other(sketch, a_ends, b_ends, seam)) {
        return as_one_line(sketch, *a, *b, seam);
    }
    if (!held && a->kind == CurveKind::arc && b->kind == CurveKind::arc && seam.gap < joining_tolerance &&
        of_one_circle(stretch_of(sketch, *a), stretch_of(sketch, *b), seam)) {
        return as_one_arc(sketch, *a, *b, seam);
    }
    const int near = a_ends[seam.first];
    const int other = b_ends[seam.second];
    if (SharedEnds(sketch).same(near, other)) {
        return refuse(sketch, "edit.joined", "These curves meet in an end already.",
                      "Lines on one line, or arcs of one circle, can become one curve; others stay two.");
    }
    Edited edited{sketch, {}, {}};
    edited.sketch.add_constraint(ConstraintKind::coincident, {near, other});
    edited.told = seam.gap < joining_tolerance
                      ? std::string("The 2 curves hold together at their ends now.")
                      : "The 2 curves meet now; their ends were " + format_quantity(seam.gap, "mm", 3) + " mm apart.";
    return edited;
}

} // namespace kervo::sketch
