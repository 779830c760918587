#include "sketch/constraint_residuals.h"

#include "sketch/spline.h"

#include <cmath>
#include <numbers>

namespace kervo::sketch {

namespace {

template <class T> struct V { T x, y; };
template <class T> V<T> operator-(const V<T>& a, const V<T>& b) {
    return {a.x - b.x, a.y - b.y};
}
template <class T> V<T> operator+(const V<T>& a, const V<T>& b) {
    return {a.x + b.x, a.y + b.y};
}
template <class T> V<T> operator*(const V<T>& a, const T& f) {
    return {a.x * f, a.y * f};
}
template <class T> T dot(const V<T>& a, const V<T>& b) {
    return a.x * b.x + a.y * b.y;
}
template <class T> T cross(const V<T>& a, const V<T>& b) {
    return a.x * b.y - a.y * b.x;
}
template <class T> V<T> turned(const V<T>& a) {
    return {-a.y, a.x};
}
// The small term keeps the derivative finite where two points coincide; it is far below every tolerance.
template <class T> T norm(const V<T>& a) {
    using std::sqrt;
    return sqrt(dot(a, a) + T(1e-30));
}

// An operand with its values.
template <class T> struct Thing {
    const Operand* plan;
    std::vector<V<T>> p; // point; line: ends; circle: centre; arc: centre, start, end; ellipse, spline: as in Curve
    T r = T(0);          // circle, ellipse

    [[nodiscard]] bool is(char kind) const { return plan->kind == kind; }
    [[nodiscard]] bool round() const { return is('c') || is('a'); }
    [[nodiscard]] const V<T>& place() const { return p[0]; } // of points and centres
    [[nodiscard]] T radius() const { return is('c') ? r : norm(p[1] - p[0]); }
    [[nodiscard]] V<T> direction() const { return p[1] - p[0]; }
    [[nodiscard]] V<T> pole(size_t i) const {
        V<T> sum{T(0), T(0)};
        for (size_t k = 0; k < p.size(); ++k) {
            sum = sum + p[k] * T(plan->weights[i][k]);
        }
        return sum;
    }
};

template <class T> std::vector<Thing<T>> read_things(const Equation& equation, const T*& x) {
    std::vector<Thing<T>> things;
    for (const Operand& operand : equation.on) {
        Thing<T> thing{&operand, {}, T(0)};
        for (size_t i = 0; i < operand.points; ++i) {
            thing.p.push_back({x[0], x[1]});
            x += 2;
        }
        if (operand.radius) {
            thing.r = *x++;
        }
        things.push_back(std::move(thing));
    }
    return things;
}

// Signed distance of a point from a line, positive on its left.
template <class T> T height_over(const Thing<T>& line, const V<T>& point) {
    return cross(line.direction(), point - line.p[0]) / norm(line.direction());
}

// How far a point is from an ellipse, to first order.
template <class T> T off_ellipse(const Thing<T>& ellipse, const V<T>& point) {
    using std::sqrt;
    const V<T> d = point - ellipse.p[0];
    const V<T> axis = ellipse.direction();
    const T a = norm(axis);
    const T along = dot(d, axis) / (a * a);
    const T across = cross(axis, d) / (a * ellipse.r);
    return (sqrt(along * along + across * across + T(1e-30)) - T(1)) * ellipse.r;
}

// Which way the curve runs at one of its ends, and its curvature there; `end` counts the curve's points.
template <class T> struct Run {
    V<T> way;
    T bend;
};

template <class T> Run<T> run_at(const Thing<T>& curve, int end) {
    if (curve.is('l')) {
        return {curve.direction(), T(0)};
    }
    const V<T>& at = curve.p[static_cast<size_t>(end)];
    if (curve.is('a')) {
        return {turned(at - curve.p[0]), T(1) / curve.radius()};
    }
    if (curve.is('e')) { // along the gradient turned
        const V<T> axis = curve.direction();
        const T a = norm(axis);
        const T b = curve.r;
        const V<T> d = at - curve.p[0];
        const V<T> u = axis * (T(1) / a);
        const T x = dot(d, u);
        const T y = cross(u, d);
        const V<T> gradient = u * (x / (a * a)) + turned(u) * (y / (b * b));
        const T g = norm(gradient);
        return {turned(gradient) * (T(1) / g), T(1) / (a * a * b * b * g * g * g)};
    }
    // A clamped spline: its first poles say all; at the last end, its last ones, seen from there.
    const auto& knots = curve.plan->knots;
    const auto p = static_cast<size_t>(curve.plan->degree);
    const size_t count = curve.plan->weights.size();
    const bool first = end == 0;
    const auto pole = [&](size_t i) { return curve.pole(first ? i : count - 1 - i); };
    const auto knot = [&](size_t i) { return first ? knots[i] : knots.back() - knots[knots.size() - 1 - i]; };
    const auto slope = [&](size_t i) {
        return (pole(i + 1) - pole(i)) * T(static_cast<double>(p) / (knot(i + p + 1) - knot(i + 1)));
    };
    const V<T> d1 = slope(0);
    V<T> d2{T(0), T(0)};
    if (p >= 2 && count >= 3) {
        d2 = (slope(1) - slope(0)) * T(static_cast<double>(p - 1) / (knot(p + 1) - knot(2)));
    }
    const T speed = norm(d1);
    const T bend = cross(d1, d2) / (speed * speed * speed);
    return first ? Run<T>{d1, bend} : Run<T>{d1 * T(-1), bend * T(-1)};
}

// Curves that share an end touch there: they run the same way. (That the distance of a line equals the radius says the
// same of it and a circle, but it is at its extreme there, so that its slope vanishes and no solver gets close.)
template <class T>
void touching_at_joint(const Equation& equation, const std::vector<Thing<T>>& on,
                       const std::vector<Thing<double>>& drawn, T* residual) {
    const Run<T> a = run_at(on[0], equation.joint[0]);
    const Run<T> b = run_at(on[1], equation.joint[1]);
    residual[0] = cross(a.way, b.way) / (norm(a.way) * norm(b.way)) * T(equation.scale);
    if (equation.kind == ConstraintKind::smooth) {
        const double same = dot(run_at(drawn[0], equation.joint[0]).way, run_at(drawn[1], equation.joint[1]).way);
        residual[1] = (a.bend - b.bend * T(same < 0 ? -1.0 : 1.0)) * T(equation.scale * equation.scale);
    }
}

// A line that ends on the circle it touches stands square on the radius there; the distance from the centre would be at
// its extreme, as above.
template <class T> T tangency_at_foot(const Equation& equation, const std::vector<Thing<T>>& on) {
    const Thing<T>& line = on[0].is('l') ? on[0] : on[1];
    const Thing<T>& round = on[0].is('l') ? on[1] : on[0];
    return dot(line.direction(), line.p[static_cast<size_t>(equation.foot)] - round.place()) / norm(line.direction());
}

template <class T> T tangency(const std::vector<Thing<T>>& on, const std::vector<Thing<double>>& drawn) {
    const size_t line = on[0].is('l') ? 0 : 1;
    const size_t other = 1 - line;
    if (on[line].is('l')) {
        const double side = height_over(drawn[line], drawn[other].place()) < 0 ? -1.0 : 1.0;
        const T height = height_over(on[line], on[other].place()) * T(side);
        if (on[other].round()) {
            return height - on[other].radius();
        }
        // An ellipse reaches as far across the line as both its half axes together do.
        using std::sqrt;
        const V<T> across = turned(on[line].direction()) * (T(1) / norm(on[line].direction()));
        const V<T> axis = on[other].direction();
        const V<T> second = turned(axis) * (on[other].r / norm(axis));
        const T one = dot(across, axis);
        const T two = dot(across, second);
        return height - sqrt(one * one + two * two);
    }
    const double centres = norm(drawn[1].place() - drawn[0].place());
    const double outside = drawn[0].radius() + drawn[1].radius();
    const double inside = std::fabs(drawn[0].radius() - drawn[1].radius());
    const T apart = norm(on[1].place() - on[0].place());
    if (std::fabs(centres - outside) <= std::fabs(centres - inside)) {
        return apart - on[0].radius() - on[1].radius();
    }
    const double sign = drawn[0].radius() > drawn[1].radius() ? 1.0 : -1.0;
    return apart - (on[0].radius() - on[1].radius()) * T(sign);
}

template <class T>
T distance_residual(const Equation& equation, const std::vector<Thing<T>>& on,
                    const std::vector<Thing<double>>& drawn) {
    if (on.size() == 1) {
        return norm(on[0].direction()) - T(equation.value);
    }
    if (on[1].is('p')) {
        return norm(on[1].place() - on[0].place()) - T(equation.value);
    }
    const double side = height_over(drawn[1], drawn[0].place()) < 0 ? -1.0 : 1.0;
    return height_over(on[1], on[0].place()) * T(side) - T(equation.value);
}

template <class T>
void coincidence(const Equation& equation, const std::vector<Thing<T>>& on, const T& slide, T* residual) {
    const V<T>& point = on[0].place();
    switch (on[1].plan->kind) {
    case 'p':
        residual[0] = on[1].place().x - point.x;
        residual[1] = on[1].place().y - point.y;
        break;
    case 'l':
        residual[0] = height_over(on[1], point);
        break;
    case 'e':
        residual[0] = off_ellipse(on[1], point);
        break;
    case 's': {
        const Operand& plan = *on[1].plan;
        const double first = plan.knots.front();
        const T u = T(first) + slide * T((plan.knots.back() - first) / equation.scale);
        const size_t span = span_of(plan.knots, plan.degree, u);
        const auto values = basis_functions(plan.knots, plan.degree, span, u);
        V<T> place{T(0), T(0)};
        for (size_t k = 0; k < values.size(); ++k) {
            place = place + on[1].pole(span - static_cast<size_t>(plan.degree) + k) * values[k];
        }
        residual[0] = place.x - point.x;
        residual[1] = place.y - point.y;
        break;
    }
    default:
        residual[0] = norm(point - on[1].place()) - on[1].radius();
    }
}

template <class T> void symmetry(const std::vector<Thing<T>>& on, T* residual) {
    const V<T> between = on[1].place() - on[0].place();
    const V<T> middle = (on[0].place() + on[1].place()) * T(0.5);
    const V<T> line = on[2].direction();
    residual[0] = height_over(on[2], middle);
    residual[1] = dot(between, line) / norm(line);
    if (!on[0].is('p')) {
        residual[2] = on[0].radius() - on[1].radius();
    }
}

template <class T> T angle_residual(const Equation& equation, const std::vector<Thing<T>>& on, double length) {
    // The first line turned by the angle must be parallel to the second and point the same way.
    using std::atan2;
    const V<T> d = on[0].direction();
    const T c(std::cos(equation.value));
    const T s(std::sin(equation.value));
    const V<T> aim{d.x * c - d.y * s, d.x * s + d.y * c};
    const V<T> e = on[1].direction();
    return atan2(cross(aim, e), dot(aim, e)) * T(length);
}

template <class T> T arc_length_residual(const Equation& equation, const Thing<T>& on) {
    constexpr double full_turn = 2 * std::numbers::pi;
    if (on.is('c')) {
        return on.radius() * T(full_turn) - T(equation.value);
    }
    using std::atan2;
    const V<T> a = on.p[1] - on.p[0];
    const V<T> b = on.p[2] - on.p[0];
    T sweep = atan2(cross(a, b), dot(a, b));
    if (sweep <= T(0)) {
        sweep += T(full_turn);
    }
    return on.radius() * sweep - T(equation.value);
}

template <class T> void law_residual(const std::vector<Thing<T>>& on, T* residual) {
    if (on[0].is('e')) {
        residual[0] = off_ellipse(on[0], on[0].p[2]);
        residual[1] = off_ellipse(on[0], on[0].p[3]);
    } else {
        residual[0] = norm(on[0].p[1] - on[0].p[0]) - norm(on[0].p[2] - on[0].p[0]);
    }
}

template <class T> void midpoint(const std::vector<Thing<T>>& on, T* residual) {
    const V<T>& a = on.size() == 2 ? on[1].p[0] : on[1].place();
    const V<T>& b = on.size() == 2 ? on[1].p[1] : on[2].place();
    const V<T> off = (a + b) * T(0.5) - on[0].place();
    residual[0] = off.x;
    residual[1] = off.y;
}

template <class T>
T dimension_residual(const Equation& equation, const std::vector<Thing<T>>& on,
                     const std::vector<Thing<double>>& drawn) {
    switch (equation.kind) {
    case ConstraintKind::distance:
        return distance_residual(equation, on, drawn);
    case ConstraintKind::horizontal_distance:
        return on[1].place().x - on[0].place().x - T(equation.value);
    case ConstraintKind::vertical_distance:
        return on[1].place().y - on[0].place().y - T(equation.value);
    case ConstraintKind::radius:
        return on[0].radius() - T(equation.value);
    case ConstraintKind::diameter:
        return on[0].radius() - T(equation.value / 2);
    case ConstraintKind::angle:
        return angle_residual(equation, on, norm(drawn[0].direction()));
    default: // arc length
        return arc_length_residual(equation, on[0]);
    }
}

} // namespace

template <class T> void evaluate_equation(const Equation& equation, const T* x, T* residual) {
    const T* after = x;
    const auto on = read_things(equation, after);
    if (equation.law) {
        law_residual(on, residual);
        return;
    }
    const double* drawn_after = equation.drawn.data();
    const auto drawn = read_things(equation, drawn_after);
    const auto between = [&] { return on.size() == 1 ? on[0].direction() : on[1].place() - on[0].place(); };
    // Divided by both lengths, so that shrinking a line to nothing is no way out; the drawn length makes it mm again.
    const auto per_length = [&](const T& product) {
        return product * T(norm(drawn[1].direction())) / (norm(on[0].direction()) * norm(on[1].direction()));
    };
    switch (equation.kind) {
    case ConstraintKind::coincident:
        coincidence(equation, on, on[1].is('s') ? *after : T(0), residual);
        break;
    case ConstraintKind::horizontal:
        residual[0] = between().y;
        break;
    case ConstraintKind::vertical:
        residual[0] = between().x;
        break;
    case ConstraintKind::parallel:
        residual[0] = per_length(cross(on[0].direction(), on[1].direction()));
        break;
    case ConstraintKind::perpendicular:
        residual[0] = per_length(dot(on[0].direction(), on[1].direction()));
        break;
    case ConstraintKind::collinear:
        residual[0] = height_over(on[0], on[1].p[0]);
        residual[1] = height_over(on[0], on[1].p[1]);
        break;
    case ConstraintKind::tangent:
    case ConstraintKind::smooth:
        if (equation.joint[0] >= 0) {
            touching_at_joint(equation, on, drawn, residual);
        } else {
            const bool on_round = equation.foot >= 0 && (on[0].round() || on[1].round());
            residual[0] = on_round ? tangency_at_foot(equation, on) : tangency(on, drawn);
        }
        break;
    case ConstraintKind::equal:
        residual[0] =
            on[0].is('l') ? norm(on[0].direction()) - norm(on[1].direction()) : on[0].radius() - on[1].radius();
        break;
    case ConstraintKind::concentric:
        residual[0] = on[1].place().x - on[0].place().x;
        residual[1] = on[1].place().y - on[0].place().y;
        break;
    case ConstraintKind::fixed:
        for (size_t i = 0; i < equation.drawn.size(); ++i) {
            residual[i] = x[i] - T(equation.drawn[i]);
        }
        break;
    case ConstraintKind::symmetric:
        symmetry(on, residual);
        break;
    case ConstraintKind::midpoint:
        midpoint(on, residual);
        break;
    case ConstraintKind::pattern:
        for (size_t i = 2; i < on.size(); ++i) {
            const V<T> off = (on[i].place() - on[i - 1].place()) - (on[1].place() - on[0].place());
            residual[2 * i - 4] = off.x;
            residual[2 * i - 3] = off.y;
        }
        break;
    default:
        residual[0] = dimension_residual(equation, on, drawn);
    }
}

using Jet4 = ceres::Jet<double, 4>;
template void evaluate_equation<double>(const Equation&, const double*, double*);
template void evaluate_equation<Jet4>(const Equation&, const Jet4*, Jet4*);

} // namespace kervo::sketch
