// The unknowns of a sketch, and what its constraints ask of them.
#include "sketch/constraint_residuals.h"

#include "sketch/arrangement.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::sketch {

namespace {

// A point that slides on a spline has a place on it of its own.
const Curve* slides_on(const Sketch& sketch, const Constraint& constraint) {
    if (constraint.kind != ConstraintKind::coincident || constraint.measured || constraint.on.size() != 2) {
        return nullptr;
    }
    const Curve* curve = sketch.curve(constraint.on[1]);
    return curve != nullptr && curve->kind == CurveKind::spline ? curve : nullptr;
}

} // namespace

UnknownIndex index_unknowns(const Sketch& sketch) {
    UnknownIndex index;
    for (const Point& point : sketch.points) {
        index.of_point[point.id] = index.count;
        index.count += 2;
    }
    for (const Curve& curve : sketch.curves) {
        if (has_radius(curve.kind)) {
            index.of_radius[curve.id] = index.count++;
        }
    }
    for (const Constraint& constraint : sketch.constraints) {
        if (slides_on(sketch, constraint) != nullptr) {
            index.of_slide[constraint.id] = index.count++;
        }
    }
    return index;
}

std::vector<double> unknowns_of(const Sketch& sketch, const UnknownIndex& index) {
    std::vector<double> x(static_cast<size_t>(index.count));
    for (const Point& point : sketch.points) {
        const auto at = static_cast<size_t>(index.of_point.at(point.id));
        x[at] = point.x;
        x[at + 1] = point.y;
    }
    for (const Curve& curve : sketch.curves) {
        if (has_radius(curve.kind)) {
            x[static_cast<size_t>(index.of_radius.at(curve.id))] = curve.radius;
        }
    }
    for (const Constraint& constraint : sketch.constraints) {
        if (const auto slide = index.of_slide.find(constraint.id); slide != index.of_slide.end()) {
            const Stretch curve = stretch_of(sketch, *sketch.curve(constraint.on[1]));
            const Point* point = sketch.point(constraint.on[0]);
            x[static_cast<size_t>(slide->second)] = nearest_on(curve, {point->x, point->y}).first * curve.length();
        }
    }
    return x;
}

std::string Equation::pattern() const {
    std::string text;
    for (const Operand& operand : on) {
        text += operand.kind;
    }
    return text;
}

namespace {

void read_spline(Operand& operand, const Sketch& sketch, const Curve& curve) {
    std::vector<Point2> points;
    for (const int id : curve.points) {
        points.push_back({sketch.point(id)->x, sketch.point(id)->y});
    }
    const SplinePlan plan = plan_spline(curve, points);
    operand.degree = plan.degree;
    operand.knots = plan.knots;
    operand.weights = plan.weights;
}

void append_operand(Equation& equation, const Sketch& sketch, const UnknownIndex& index, int id) {
    const auto append_point = [&](int point) {
        const int at = index.of_point.at(point);
        equation.unknowns.push_back(at);
        equation.unknowns.push_back(at + 1);
    };
    Operand operand;
    if (const Curve* curve = sketch.curve(id)) {
        operand.kind = "lcaes"[static_cast<size_t>(curve->kind)];
        operand.points = curve->points.size();
        for (const int point : curve->points) {
            append_point(point);
        }
        if (has_radius(curve->kind)) {
            operand.radius = true;
            equation.unknowns.push_back(index.of_radius.at(id));
        }
        if (curve->kind == CurveKind::spline && equation.kind != ConstraintKind::fixed) {
            read_spline(operand, sketch, *curve);
        }
    } else {
        append_point(id);
    }
    equation.on.push_back(std::move(operand));
}

// The end of a line that is held on a circle or arc; -1: none is.
int end_held_on(const Sketch& sketch, const SharedEnds& shared, const Curve& line, int round) {
    for (const Constraint& constraint : sketch.constraints) {
        if (constraint.kind != ConstraintKind::coincident || constraint.on.size() != 2 || constraint.on[1] != round) {
            continue;
        }
        for (size_t end = 0; end < 2; ++end) {
            if (shared.same(constraint.on[0], line.points[end])) {
                return static_cast<int>(end);
            }
        }
    }
    return -1;
}

int residuals_of(const Equation& equation) {
    const std::string pattern = equation.pattern();
    if (equation.law) {
        return pattern == "e" ? 2 : 1;
    }
    switch (equation.kind) {
    case ConstraintKind::fixed:
        return static_cast<int>(equation.unknowns.size());
    case ConstraintKind::coincident:
        return pattern == "pp" || pattern == "ps" ? 2 : 1;
    case ConstraintKind::symmetric:
        return pattern == "ppl" ? 2 : 3;
    case ConstraintKind::concentric:
    case ConstraintKind::midpoint:
    case ConstraintKind::collinear:
    case ConstraintKind::smooth:
        return 2;
    case ConstraintKind::pattern:
        return 2 * (static_cast<int>(equation.on.size()) - 2);
    default:
        return 1;
    }
}

void finish(Equation& equation, const std::vector<double>& drawn) {
    for (const int unknown : equation.unknowns) {
        equation.drawn.push_back(drawn[static_cast<size_t>(unknown)]);
    }
    equation.residuals = residuals_of(equation);
}

} // namespace

std::vector<Equation> make_equations(const Sketch& sketch, const UnknownIndex& index, const std::vector<double>& drawn,
                                     const std::map<int, double>& values, const std::vector<double>& held) {
    std::vector<Equation> equations;
    for (const Curve& curve : sketch.curves) {
        if (curve.kind == CurveKind::arc || (curve.kind == CurveKind::ellipse && curve.points.size() == 4)) {
            Equation law;
            law.law = true;
            append_operand(law, sketch, index, curve.id);
            finish(law, drawn);
            equations.push_back(std::move(law));
        }
    }
    for (const Curve& curve : sketch.curves) {
        if (curve.source) { // it lies where it was taken from
            Equation kept;
            kept.kind = ConstraintKind::fixed;
            append_operand(kept, sketch, index, curve.id);
            finish(kept, held);
            equations.push_back(std::move(kept));
        }
    }
    const SharedEnds shared(sketch);
    for (const Constraint& constraint : sketch.constraints) {
        Equation equation;
        equation.constraint = constraint.id;
        equation.kind = constraint.kind;
        if (const auto value = values.find(constraint.id); value != values.end()) {
            equation.value = value->second;
        } else if (is_dimension(constraint.kind)) {
            continue; // its formula has no value; the finding says so
        }
        if (constraint.measured) {
            continue;
        }
        for (const int on : constraint.on) {
            append_operand(equation, sketch, index, on);
        }
        if (const auto slide = index.of_slide.find(constraint.id); slide != index.of_slide.end()) {
            equation.unknowns.push_back(slide->second);
            equation.scale = stretch_of(sketch, *sketch.curve(constraint.on[1])).length();
        }
        if (constraint.kind == ConstraintKind::tangent || constraint.kind == ConstraintKind::smooth) {
            const Curve& first = *sketch.curve(constraint.on[0]);
            const Curve& second = *sketch.curve(constraint.on[1]);
            if (const auto ends = shared.between(first, second)) {
                equation.joint = *ends;
            } else if (first.kind == CurveKind::line || second.kind == CurveKind::line) {
                const bool line_first = first.kind == CurveKind::line;
                equation.foot =
                    end_held_on(sketch, shared, line_first ? first : second, (line_first ? second : first).id);
            }
            equation.scale = std::min(stretch_of(sketch, first).length(), stretch_of(sketch, second).length());
        }
        finish(equation, drawn);
        equations.push_back(std::move(equation));
    }
    return equations;
}

} // namespace kervo::sketch
