#include "sketch/spline.h"

#include <Eigen/Dense>

#include <algorithm>
#include <array>
#include <cmath>

namespace kervo::sketch {

namespace {

using LocalPoles = std::array<Point2, max_spline_degree + 1>;

// The value at u of what has these poles on the span (de Boor). Derivatives have the same knots, the outermost aside,
// so that one span serves them all.
Point2 value(const std::vector<double>& knots, size_t span, size_t degree, double u, LocalPoles poles) {
    for (size_t r = 1; r <= degree; ++r) {
        for (size_t j = degree; j >= r; --j) {
            const double low = knots[span - degree + j];
            const double t = (u - low) / (knots[span + j - r + 1] - low);
            poles[j] = {poles[j - 1][0] + (poles[j][0] - poles[j - 1][0]) * t,
                        poles[j - 1][1] + (poles[j][1] - poles[j - 1][1]) * t};
        }
    }
    return poles[degree];
}

// The poles of the derivative, from those on the span; of a degree less.
LocalPoles derivative(const std::vector<double>& knots, size_t span, size_t degree, const LocalPoles& poles) {
    LocalPoles slopes{};
    for (size_t i = 0; i < degree; ++i) {
        const double run = knots[span + i + 1] - knots[span - degree + i + 1];
        const double factor = run > 0 ? static_cast<double>(degree) / run : 0;
        slopes[i] = {(poles[i + 1][0] - poles[i][0]) * factor, (poles[i + 1][1] - poles[i][1]) * factor};
    }
    return slopes;
}

// One knot more at u, without a change of the curve (Boehm).
void insert_knot(Spline& s, double u) {
    const size_t span = span_of(s.knots, s.degree, u);
    const auto p = static_cast<size_t>(s.degree);
    std::vector<Point2> poles;
    for (size_t i = 0; i <= s.poles.size(); ++i) {
        if (i + p <= span) {
            poles.push_back(s.poles[i]);
        } else if (i > span) {
            poles.push_back(s.poles[i - 1]);
        } else {
            const double run = s.knots[i + p] - s.knots[i];
            const double t = run > 0 ? (u - s.knots[i]) / run : 0;
            poles.push_back({s.poles[i - 1][0] + (s.poles[i][0] - s.poles[i - 1][0]) * t,
                             s.poles[i - 1][1] + (s.poles[i][1] - s.poles[i - 1][1]) * t});
        }
    }
    s.poles = std::move(poles);
    s.knots.insert(s.knots.begin() + static_cast<long>(span) + 1, u);
}

size_t count_of(const std::vector<double>& knots, double u) {
    return static_cast<size_t>(std::count(knots.begin(), knots.end(), u));
}

// Centripetal parameters: the square roots of the chords, so that uneven points make no loops.
std::vector<double> parameters_of(const std::vector<Point2>& points, bool closed) {
    std::vector<double> u{0};
    const size_t chords = closed ? points.size() : points.size() - 1;
    for (size_t i = 0; i < chords; ++i) {
        const Point2& a = points[i];
        const Point2& b = points[(i + 1) % points.size()];
        u.push_back(u.back() + std::max(std::sqrt(std::hypot(b[0] - a[0], b[1] - a[1])), 1e-9));
    }
    for (double& each : u) {
        each /= u.back() > 0 ? u.back() : 1;
    }
    u.back() = 1;
    return u;
}

std::vector<Point2> solve_for_poles(const Eigen::MatrixXd& basis, const std::vector<Point2>& points) {
    Eigen::MatrixXd wanted(static_cast<int>(points.size()), 2);
    for (size_t i = 0; i < points.size(); ++i) {
        wanted(static_cast<int>(i), 0) = points[i][0];
        wanted(static_cast<int>(i), 1) = points[i][1];
    }
    const Eigen::MatrixXd found = basis.partialPivLu().solve(wanted);
    std::vector<Point2> poles;
    for (int i = 0; i < found.rows(); ++i) {
        poles.push_back({found(i, 0), found(i, 1)});
    }
    return poles;
}

Spline open_through(const std::vector<Point2>& points, const std::vector<double>& u, int degree) {
    const auto p = static_cast<size_t>(degree);
    const size_t n = points.size();
    Spline s;
    s.degree = degree;
    s.knots.assign(p + 1, 0.0);
    for (size_t j = 1; j + p < n; ++j) { // averages of p parameters each
        double sum = 0;
        for (size_t i = j; i < j + p; ++i) {
            sum += u[i];
        }
        s.knots.push_back(sum / degree);
    }
    s.knots.insert(s.knots.end(), p + 1, 1.0);
    Eigen::MatrixXd basis = Eigen::MatrixXd::Zero(static_cast<int>(n), static_cast<int>(n));
    for (size_t row = 0; row < n; ++row) {
        const size_t span = span_of(s.knots, degree, u[row]);
        const auto values = basis_functions(s.knots, degree, span, u[row]);
        for (size_t k = 0; k <= p; ++k) {
            basis(static_cast<int>(row), static_cast<int>(span - p + k)) = values[k];
        }
    }
    s.poles = solve_for_poles(basis, points);
    return s;
}

// Knots of a closed spline: `round` laid end to end, from `degree` before the start to `degree` after the end.
std::vector<double> periodic_knots(const std::vector<double>& round, int degree) {
    const long n = static_cast<long>(round.size()) - 1;
    std::vector<double> knots;
    for (long i = -degree; i <= n + degree; ++i) {
        const long turns = i >= 0 ? i / n : -((n - 1 - i) / n);
        knots.push_back(round[static_cast<size_t>(i - turns * n)] +
                        static_cast<double>(turns) * (round.back() - round.front()));
    }
    return knots;
}

Spline closed_by_poles(std::vector<Point2> points, int degree, const std::vector<double>& round) {
    Spline s;
    s.degree = degree;
    for (int i = 0; i < degree; ++i) {
        points.push_back(points[static_cast<size_t>(i)]);
    }
    s.poles = std::move(points);
    s.knots = periodic_knots(round, degree);
    return s.segment(s.first(), s.last());
}

Spline closed_through(const std::vector<Point2>& points, const std::vector<double>& u, int degree) {
    const size_t n = points.size();
    // Of odd degree the points lie at the knots, of even degree between them: else the equations are singular.
    std::vector<double> round = u;
    if (degree % 2 == 0) {
        for (size_t i = 0; i <= n; ++i) {
            round[i] = ((i == 0 ? u[n - 1] - 1 : u[i - 1]) + u[i]) / 2;
        }
    }
    const auto knots = periodic_knots(round, degree);
    Eigen::MatrixXd basis = Eigen::MatrixXd::Zero(static_cast<int>(n), static_cast<int>(n));
    for (size_t row = 0; row < n; ++row) {
        const size_t span = span_of(knots, degree, u[row]);
        const auto values = basis_functions(knots, degree, span, u[row]);
        for (size_t k = 0; k < values.size(); ++k) {
            basis(static_cast<int>(row), static_cast<int>((span - static_cast<size_t>(degree) + k) % n)) += values[k];
        }
    }
    return closed_by_poles(solve_for_poles(basis, points), degree, round);
}

} // namespace

Motion Spline::at(double u) const {
    u = std::clamp(u, first(), last());
    const auto p = static_cast<size_t>(degree);
    const size_t span = span_of(knots, degree, u);
    LocalPoles around{};
    std::copy_n(poles.begin() + static_cast<std::ptrdiff_t>(span - p), p + 1, around.begin());
    Motion motion;
    motion.place = value(knots, span, p, u, around);
    if (degree >= 1) {
        const LocalPoles slopes = derivative(knots, span, p, around);
        motion.first = value(knots, span, p - 1, u, slopes);
        if (degree >= 2) {
            motion.second = value(knots, span, p - 2, u, derivative(knots, span, p - 1, slopes));
        }
    }
    return motion;
}

std::vector<double> Spline::breaks() const {
    std::vector<double> found;
    for (size_t i = static_cast<size_t>(degree); i <= poles.size(); ++i) {
        if (found.empty() || knots[i] > found.back()) {
            found.push_back(knots[i]);
        }
    }
    return found;
}

Spline Spline::segment(double u0, double u1) const {
    Spline s;
    s.degree = degree;
    const auto p = static_cast<size_t>(degree);
    // An end that all but hits a knot is meant to: two knots that close would be one for the kernel.
    for (double* u : {&u0, &u1}) {
        for (const double knot : knots) {
            *u = std::fabs(*u - knot) < 1e-10 * (last() - first()) ? knot : *u;
        }
    }
    // What lies farther off has no say.
    const size_t low = span_of(knots, degree, u0) - p;
    const size_t high = span_of(knots, degree, u1);
    s.poles.assign(poles.begin() + static_cast<std::ptrdiff_t>(low),
                   poles.begin() + static_cast<std::ptrdiff_t>(high) + 1);
    s.knots.assign(knots.begin() + static_cast<std::ptrdiff_t>(low),
                   knots.begin() + static_cast<std::ptrdiff_t>(high + p) + 2);
    for (const double u : {u0, u1}) {
        while (count_of(s.knots, u) < p) {
            insert_knot(s, u);
        }
    }
    // The poles that the part uses: from the one that lies at u0 to the one that lies at u1.
    const auto begin = static_cast<size_t>(std::upper_bound(s.knots.begin(), s.knots.end(), u0) - s.knots.begin()) - 1;
    const auto end = static_cast<size_t>(std::lower_bound(s.knots.begin(), s.knots.end(), u1) - s.knots.begin());
    Spline part;
    part.degree = degree;
    part.knots.assign(s.knots.begin() + static_cast<long>(begin - p) + 1, s.knots.begin() + static_cast<long>(end + p));
    part.knots.insert(part.knots.begin(), u0);
    part.knots.push_back(u1);
    part.poles.assign(s.poles.begin() + static_cast<long>(begin - p), s.poles.begin() + static_cast<long>(end));
    return part;
}

Spline Spline::with_knot(double u) const {
    Spline finer = *this;
    insert_knot(finer, u);
    return finer;
}

int possible_degree(size_t points, int degree) {
    return std::clamp(degree, 1, std::clamp(static_cast<int>(points) - 1, 1, max_spline_degree));
}

Spline spline_by_poles(const std::vector<Point2>& points, int degree, bool closed) {
    degree = possible_degree(points.size(), degree);
    const size_t n = points.size();
    if (closed) {
        std::vector<double> round;
        for (size_t i = 0; i <= n; ++i) {
            round.push_back(static_cast<double>(i) / static_cast<double>(n));
        }
        return closed_by_poles(points, degree, round);
    }
    const auto p = static_cast<size_t>(degree);
    Spline s;
    s.degree = degree;
    s.poles = points;
    s.knots.assign(p + 1, 0.0);
    for (size_t i = 1; i + p < n; ++i) {
        s.knots.push_back(static_cast<double>(i) / static_cast<double>(n - p));
    }
    s.knots.insert(s.knots.end(), p + 1, 1.0);
    return s;
}

namespace {

Spline through_at(const std::vector<Point2>& points, const std::vector<double>& parameters, int degree, bool closed) {
    degree = possible_degree(points.size(), degree);
    return closed ? closed_through(points, parameters, degree) : open_through(points, parameters, degree);
}

} // namespace

Spline spline_through(const std::vector<Point2>& points, int degree, bool closed) {
    return through_at(points, parameters_of(points, closed), degree, closed);
}

Spline spline_over(const std::vector<Point2>& points, int degree, const std::vector<double>& knots) {
    Spline s;
    s.degree = degree;
    s.poles = points;
    s.knots = knots;
    return s;
}

bool are_knots(const std::vector<double>& knots, size_t points, int degree) {
    const auto p = static_cast<size_t>(degree);
    return points > p && knots.size() == points + p + 1 && std::is_sorted(knots.begin(), knots.end()) &&
           knots[0] == knots[p] && knots[points] == knots[points + p] && knots[p] < knots[points];
}

Spline spline_of(const Curve& curve, const std::vector<Point2>& points) {
    if (!curve.knots.empty()) {
        return spline_over(points, curve.degree, curve.knots);
    }
    return curve.through ? spline_through(points, curve.degree, curve.closed)
                         : spline_by_poles(points, curve.degree, curve.closed);
}

SplinePlan plan_spline(const Curve& curve, const std::vector<Point2>& points) {
    const auto parameters = parameters_of(points, curve.closed);
    SplinePlan plan;
    for (size_t i = 0; i < points.size(); i += 2) { // two points a go: one along x, one along y
        std::vector<Point2> unit(points.size(), Point2{});
        unit[i][0] = 1;
        if (i + 1 < points.size()) {
            unit[i + 1][1] = 1;
        }
        const Spline s =
            curve.through ? through_at(unit, parameters, curve.degree, curve.closed) : spline_of(curve, unit);
        plan.degree = s.degree;
        plan.knots = s.knots;
        plan.weights.resize(s.poles.size(), std::vector<double>(points.size()));
        for (size_t pole = 0; pole < s.poles.size(); ++pole) {
            plan.weights[pole][i] = s.poles[pole][0];
            if (i + 1 < points.size()) {
                plan.weights[pole][i + 1] = s.poles[pole][1];
            }
        }
    }
    return plan;
}

} // namespace kervo::sketch
