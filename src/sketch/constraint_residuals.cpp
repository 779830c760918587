#include "sketch/constraint_residuals.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::sketch {

UnknownIndex index_unknowns(const Sketch& sketch) {
    UnknownIndex index;
    for (const Point& point : sketch.points) {
        index.of_point[point.id] = index.count;
        index.count += 2;
    }
    for (const Curve& curve : sketch.curves) {
        if (curve.kind == CurveKind::circle) {
            index.of_circle[curve.id] = index.count++;
        }
    }
    return index;
}

namespace {

void append_operand(Equation& equation, const Sketch& sketch, const UnknownIndex& index, int id) {
    const auto append_point = [&](int point) {
        const int at = index.of_point.at(point);
        equation.unknowns.push_back(at);
        equation.unknowns.push_back(at + 1);
    };
    if (const Curve* curve = sketch.curve(id)) {
        equation.pattern += curve->kind == CurveKind::line ? 'l' : curve->kind == CurveKind::circle ? 'c' : 'a';
        for (const int point : curve->points) {
            append_point(point);
        }
        if (curve->kind == CurveKind::circle) {
            equation.unknowns.push_back(index.of_circle.at(id));
        }
    } else {
        equation.pattern += 'p';
        append_point(id);
    }
}

// Points that are one: by being used twice, or by a constraint.
class Joints {
public:
    explicit Joints(const Sketch& sketch) {
        for (const Constraint& constraint : sketch.constraints) {
            const bool points = constraint.on.size() == 2 && sketch.point(constraint.on[0]) != nullptr &&
                                sketch.point(constraint.on[1]) != nullptr;
            if (constraint.kind == ConstraintKind::coincident && points) {
                same_as_[top(constraint.on[0])] = top(constraint.on[1]);
            }
        }
    }

    // The end of the first curve that is an end of the second too; 0: none.
    [[nodiscard]] int shared_end(const Curve& first, const Curve& second) const {
        for (const int a : ends(first)) {
            for (const int b : ends(second)) {
                if (top(a) == top(b)) {
                    return a;
                }
            }
        }
        return 0;
    }

private:
    static std::vector<int> ends(const Curve& curve) {
        return curve.kind == CurveKind::line  ? curve.points
               : curve.kind == CurveKind::arc ? std::vector<int>{curve.points[1], curve.points[2]}
                                              : std::vector<int>{};
    }
    [[nodiscard]] int top(int point) const {
        for (auto next = same_as_.find(point); next != same_as_.end() && next->second != point;
             next = same_as_.find(point)) {
            point = next->second;
        }
        return point;
    }
    std::map<int, int> same_as_;
};

void finish(Equation& equation, const std::vector<double>& drawn) {
    for (const int unknown : equation.unknowns) {
        equation.drawn.push_back(drawn[static_cast<size_t>(unknown)]);
    }
    const bool point_on_point = equation.kind == ConstraintKind::coincident && equation.pattern == "pp";
    if (equation.kind == ConstraintKind::fixed) {
        equation.residuals = static_cast<int>(equation.unknowns.size());
    } else if (!equation.arc_law && (point_on_point || equation.kind == ConstraintKind::concentric)) {
        equation.residuals = 2;
    }
}

} // namespace

std::vector<Equation> make_equations(const Sketch& sketch, const UnknownIndex& index, const std::vector<double>& drawn,
                                     const std::map<int, double>& values) {
    std::vector<Equation> equations;
    for (const Curve& curve : sketch.curves) {
        if (curve.kind == CurveKind::arc) {
            Equation law;
            law.arc_law = true;
            append_operand(law, sketch, index, curve.id);
            finish(law, drawn);
            equations.push_back(std::move(law));
        }
    }
    const Joints joints(sketch);
    for (const Constraint& constraint : sketch.constraints) {
        Equation equation;
        equation.constraint = constraint.id;
        equation.kind = constraint.kind;
        if (const auto value = values.find(constraint.id); value != values.end()) {
            equation.value = value->second;
        } else if (is_dimension(constraint.kind)) {
            continue; // its formula has no value; the finding says so
        }
        for (const int on : constraint.on) {
            append_operand(equation, sketch, index, on);
        }
        if (constraint.kind == ConstraintKind::tangent) {
            const int end = joints.shared_end(*sketch.curve(constraint.on[0]), *sketch.curve(constraint.on[1]));
            const auto at = end == 0
                                ? equation.unknowns.end()
                                : std::find(equation.unknowns.begin(), equation.unknowns.end(), index.of_point.at(end));
            equation.joint = at == equation.unknowns.end() ? -1 : static_cast<int>(at - equation.unknowns.begin());
        }
        finish(equation, drawn);
        equations.push_back(std::move(equation));
    }
    return equations;
}

namespace {

template <class T> struct V { T x, y; };
template <class T> V<T> operator-(const V<T>& a, const V<T>& b) {
    return {a.x - b.x, a.y - b.y};
}
template <class T> T dot(const V<T>& a, const V<T>& b) {
    return a.x * b.x + a.y * b.y;
}
template <class T> T cross(const V<T>& a, const V<T>& b) {
    return a.x * b.y - a.y * b.x;
}
// The small term keeps the derivative finite where two points coincide; it is far below every tolerance.
template <class T> T norm(const V<T>& a) {
    using std::sqrt;
    return sqrt(dot(a, a) + T(1e-30));
}

// An operand read from the front of the equation's unknowns.
template <class T> struct Operand {
    char kind;
    V<T> a, b, c; // point: a; line: a, b; circle: centre a; arc: centre a, start b, end c
    T r;          // circle
    [[nodiscard]] T radius() const { return kind == 'c' ? r : norm(b - a); }
    [[nodiscard]] V<T> direction() const { return b - a; }
};

template <class T> Operand<T> read_operand(char kind, const T*& x) {
    const auto point = [&] {
        const V<T> p{x[0], x[1]};
        x += 2;
        return p;
    };
    Operand<T> operand{kind, point(), {T(0), T(0)}, {T(0), T(0)}, T(0)};
    if (kind == 'l') {
        operand.b = point();
    } else if (kind == 'a') {
        operand.b = point();
        operand.c = point();
    } else if (kind == 'c') {
        operand.r = *x++;
    }
    return operand;
}

template <class T> std::vector<Operand<T>> read_operands(const std::string& pattern, const T* x) {
    std::vector<Operand<T>> operands;
    for (const char kind : pattern) {
        operands.push_back(read_operand(kind, x));
    }
    return operands;
}

// Signed distance of a point from a line, positive on its left.
template <class T> T height_over(const Operand<T>& line, const V<T>& point) {
    return cross(line.direction(), point - line.a) / norm(line.direction());
}

// Curves that share an end touch there: each radius stands square on the other curve. (That the distance of the line
// equals the radius says the same, but it is at its extreme there, so that its slope vanishes and no solver gets
// close.)
template <class T> T tangency_at(const V<T>& joint, const Operand<T>& first, const Operand<T>& second) {
    if (first.kind == 'l' || second.kind == 'l') {
        const Operand<T>& line = first.kind == 'l' ? first : second;
        const Operand<T>& round = first.kind == 'l' ? second : first;
        return dot(line.direction(), joint - round.a) / norm(line.direction());
    }
    const V<T> to_first = first.a - joint;
    const V<T> to_second = second.a - joint;
    return cross(to_first, to_second) / norm(to_first);
}

template <class T>
T tangency(const Operand<T>& first, const Operand<T>& second, const std::vector<Operand<double>>& drawn) {
    if (first.kind == 'l' || second.kind == 'l') {
        const bool line_first = first.kind == 'l';
        const Operand<T>& line = line_first ? first : second;
        const Operand<T>& round = line_first ? second : first;
        const double side = height_over(drawn[line_first ? 0 : 1], drawn[line_first ? 1 : 0].a) < 0 ? -1.0 : 1.0;
        return height_over(line, round.a) * T(side) - round.radius();
    }
    const double centres = norm(drawn[1].a - drawn[0].a);
    const double outside = drawn[0].radius() + drawn[1].radius();
    const double inside = std::fabs(drawn[0].radius() - drawn[1].radius());
    if (std::fabs(centres - outside) <= std::fabs(centres - inside)) {
        return norm(second.a - first.a) - first.radius() - second.radius();
    }
    const double sign = drawn[0].radius() > drawn[1].radius() ? 1.0 : -1.0;
    return norm(second.a - first.a) - (first.radius() - second.radius()) * T(sign);
}

template <class T>
T distance_residual(const Equation& equation, const std::vector<Operand<T>>& on,
                    const std::vector<Operand<double>>& drawn) {
    if (equation.pattern == "l") {
        return norm(on[0].direction()) - T(equation.value);
    }
    if (equation.pattern == "pp") {
        return norm(on[1].a - on[0].a) - T(equation.value);
    }
    const double side = height_over(drawn[1], drawn[0].a) < 0 ? -1.0 : 1.0;
    return height_over(on[1], on[0].a) * T(side) - T(equation.value);
}

} // namespace

template <class T> void evaluate_equation(const Equation& equation, const T* x, T* residual) {
    const auto on = read_operands(equation.pattern, x);
    if (equation.arc_law) {
        residual[0] = norm(on[0].b - on[0].a) - norm(on[0].c - on[0].a);
        return;
    }
    const auto drawn = read_operands(equation.pattern, equation.drawn.data());
    const auto between = [&] { return equation.pattern == "l" ? on[0].direction() : on[1].a - on[0].a; };
    switch (equation.kind) {
    case ConstraintKind::coincident:
        if (equation.pattern == "pp") {
            residual[0] = on[1].a.x - on[0].a.x;
            residual[1] = on[1].a.y - on[0].a.y;
        } else if (equation.pattern == "pl") {
            residual[0] = height_over(on[1], on[0].a);
        } else {
            residual[0] = norm(on[0].a - on[1].a) - on[1].radius();
        }
        break;
    case ConstraintKind::horizontal:
        residual[0] = between().y;
        break;
    case ConstraintKind::vertical:
        residual[0] = between().x;
        break;
    case ConstraintKind::parallel:
        // Divided by both lengths, so that shrinking a line to nothing is no way out; the drawn length makes it mm
        // again.
        residual[0] = cross(on[0].direction(), on[1].direction()) * T(norm(drawn[1].direction())) /
                      (norm(on[0].direction()) * norm(on[1].direction()));
        break;
    case ConstraintKind::perpendicular:
        residual[0] = dot(on[0].direction(), on[1].direction()) * T(norm(drawn[1].direction())) /
                      (norm(on[0].direction()) * norm(on[1].direction()));
        break;
    case ConstraintKind::tangent:
        residual[0] = equation.joint < 0 ? tangency(on[0], on[1], drawn)
                                         : tangency_at(V<T>{x[equation.joint], x[equation.joint + 1]}, on[0], on[1]);
        break;
    case ConstraintKind::equal:
        residual[0] =
            on[0].kind == 'l' ? norm(on[0].direction()) - norm(on[1].direction()) : on[0].radius() - on[1].radius();
        break;
    case ConstraintKind::concentric:
        residual[0] = on[1].a.x - on[0].a.x;
        residual[1] = on[1].a.y - on[0].a.y;
        break;
    case ConstraintKind::fixed:
        for (size_t i = 0; i < equation.drawn.size(); ++i) {
            residual[i] = x[i] - T(equation.drawn[i]);
        }
        break;
    case ConstraintKind::distance:
        residual[0] = distance_residual(equation, on, drawn);
        break;
    case ConstraintKind::horizontal_distance:
        residual[0] = on[1].a.x - on[0].a.x - T(equation.value);
        break;
    case ConstraintKind::vertical_distance:
        residual[0] = on[1].a.y - on[0].a.y - T(equation.value);
        break;
    case ConstraintKind::radius:
        residual[0] = on[0].radius() - T(equation.value);
        break;
    case ConstraintKind::diameter:
        residual[0] = on[0].radius() - T(equation.value / 2);
        break;
    case ConstraintKind::angle: {
        // The first line turned by the angle must be parallel to the second and point the same way.
        const V<T> d = on[0].direction();
        const double c = std::cos(equation.value);
        const double s = std::sin(equation.value);
        const V<T> turned{d.x * T(c) - d.y * T(s), d.x * T(s) + d.y * T(c)};
        const V<T> e = on[1].direction();
        using std::atan2;
        residual[0] = atan2(cross(turned, e), dot(turned, e)) * T(norm(drawn[0].direction()));
        break;
    }
    }
}

using Jet4 = ceres::Jet<double, 4>;
template void evaluate_equation<double>(const Equation&, const double*, double*);
template void evaluate_equation<Jet4>(const Equation&, const Jet4*, Jet4*);

} // namespace kervo::sketch
