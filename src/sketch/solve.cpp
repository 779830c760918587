#include "sketch/solve.h"

#include "sketch/arrangement.h"
#include "sketch/constraint_residuals.h"
#include "sketch/figures.h"

#include <Eigen/Dense>
#include <Eigen/Sparse>
#include <ceres/ceres.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <random>

namespace kervo::sketch {

namespace {

using Values = std::vector<double>;
using Matrix = Eigen::SparseMatrix<double>;
using Equations = std::vector<const Equation*>;

void write_back(Sketch& sketch, const UnknownIndex& index, const Values& x) {
    for (Point& point : sketch.points) {
        const auto at = static_cast<size_t>(index.of_point.at(point.id));
        point.x = x[at];
        point.y = x[at + 1];
    }
    for (Curve& curve : sketch.curves) {
        if (has_radius(curve.kind)) {
            curve.radius = x[static_cast<size_t>(index.of_radius.at(curve.id))];
        }
    }
}

// Equations that share unknowns, with the unknowns that may move.
struct Cluster {
    Equations equations;
    std::vector<int> unknowns; ///< indices into all values, ascending
    std::vector<int> column;   ///< of each of all values: its place among the unknowns; -1: held
};

// The constraint that keeps things where they are drawn.
bool fixes(const Equation& equation) {
    return !equation.law && equation.kind == ConstraintKind::fixed;
}

// Unknowns that a constraint holds where they are drawn are no unknowns, and tie nothing together.
std::vector<bool> held_unknowns(const Equations& equations, size_t count) {
    std::vector<bool> held(count);
    for (const Equation* equation : equations) {
        if (fixes(*equation)) {
            for (const int unknown : equation->unknowns) {
                held[static_cast<size_t>(unknown)] = true;
            }
        }
    }
    return held;
}

std::vector<Cluster> clusters_of(const Equations& equations, size_t count) {
    const auto held = held_unknowns(equations, count);
    std::vector<int> root(count);
    std::iota(root.begin(), root.end(), 0);
    const auto top = [&](int i) {
        while (root[static_cast<size_t>(i)] != i) {
            i = root[static_cast<size_t>(i)] = root[static_cast<size_t>(root[static_cast<size_t>(i)])];
        }
        return i;
    };
    const auto first_free = [&](const Equation* equation) {
        const auto at = std::find_if(equation->unknowns.begin(), equation->unknowns.end(),
                                     [&](int unknown) { return !held[static_cast<size_t>(unknown)]; });
        return at == equation->unknowns.end() ? -1 : *at;
    };
    for (const Equation* equation : equations) {
        const int first = first_free(equation);
        for (const int unknown : equation->unknowns) {
            if (first >= 0 && !held[static_cast<size_t>(unknown)]) {
                root[static_cast<size_t>(top(unknown))] = top(first);
            }
        }
    }
    std::map<int, Cluster> by_root;
    for (const Equation* equation : equations) {
        if (!fixes(*equation)) {
            const int first = first_free(equation);
            by_root[first < 0 ? -1 : top(first)].equations.push_back(equation); // -1: nothing in it can move
        }
    }
    for (size_t unknown = 0; unknown < count; ++unknown) {
        if (!held[unknown]) {
            if (const auto at = by_root.find(top(static_cast<int>(unknown))); at != by_root.end()) {
                at->second.unknowns.push_back(static_cast<int>(unknown));
            }
        }
    }
    std::vector<Cluster> clusters;
    for (auto& [first, cluster] : by_root) {
        cluster.column.assign(count, -1);
        for (size_t i = 0; i < cluster.unknowns.size(); ++i) {
            cluster.column[static_cast<size_t>(cluster.unknowns[i])] = static_cast<int>(i);
        }
        clusters.push_back(std::move(cluster));
    }
    return clusters;
}

// Hands an equation to Ceres: every unknown is a parameter block of its own, given once, though the equation may read
// it twice (a line and an arc that share an end).
struct EquationCost {
    const Equation* equation;
    std::vector<size_t> block; ///< of each of the equation's unknowns
    template <class T> bool operator()(T const* const* blocks, T* residual) const {
        std::vector<T> x;
        x.reserve(block.size());
        for (const size_t at : block) {
            x.push_back(blocks[at][0]);
        }
        evaluate_equation(*equation, x.data(), residual);
        return true;
    }
};

void approach(Values& x, const Cluster& cluster) {
    ceres::Problem problem;
    for (const Equation* equation : cluster.equations) {
        std::vector<double*> blocks;
        std::vector<size_t> block;
        for (const int unknown : equation->unknowns) {
            double* place = &x[static_cast<size_t>(unknown)];
            const auto known = std::find(blocks.begin(), blocks.end(), place);
            block.push_back(static_cast<size_t>(known - blocks.begin()));
            if (known == blocks.end()) {
                blocks.push_back(place);
            }
        }
        auto cost = std::make_unique<ceres::DynamicAutoDiffCostFunction<EquationCost, 4>>(
            new EquationCost{equation, std::move(block)});
        for (size_t i = 0; i < blocks.size(); ++i) {
            cost->AddParameterBlock(1);
        }
        cost->SetNumResiduals(equation->residuals);
        problem.AddResidualBlock(cost.release(), nullptr, blocks);
        for (const int unknown : equation->unknowns) {
            if (cluster.column[static_cast<size_t>(unknown)] < 0) {
                problem.SetParameterBlockConstant(&x[static_cast<size_t>(unknown)]);
            }
        }
    }
    ceres::Solver::Options options;
    constexpr size_t dense_up_to = 80;
    options.linear_solver_type =
        cluster.unknowns.size() <= dense_up_to ? ceres::DENSE_QR : ceres::SPARSE_NORMAL_CHOLESKY;
    // Short steps at first: what has freedom left stays near to where it is drawn, and no branch is jumped over.
    options.initial_trust_region_radius = 1.0;
    options.max_num_iterations = 500;
    options.function_tolerance = 1e-24;
    options.gradient_tolerance = 1e-18;
    options.parameter_tolerance = 1e-16;
    options.logging_type = ceres::SILENT;
    options.num_threads = 1;
    ceres::Solver::Summary summary;
    ceres::Solve(options, &problem, &summary);
}

struct Linearised {
    Matrix jacobian;
    Eigen::VectorXd residual;
    std::vector<int> row_of; ///< first row of each equation

    [[nodiscard]] double worst() const { return residual.size() == 0 ? 0 : residual.lpNorm<Eigen::Infinity>(); }
};

Linearised linearise(const Values& x, const Cluster& cluster) {
    int rows = 0;
    Linearised out;
    for (const Equation* equation : cluster.equations) {
        out.row_of.push_back(rows);
        rows += equation->residuals;
    }
    out.residual = Eigen::VectorXd::Zero(rows);
    std::vector<Eigen::Triplet<double>> slopes;
    constexpr size_t stride = 4;
    using Jet = ceres::Jet<double, stride>;
    for (size_t e = 0; e < cluster.equations.size(); ++e) {
        const Equation& equation = *cluster.equations[e];
        const size_t count = equation.unknowns.size();
        std::vector<Jet> jets(count);
        std::vector<Jet> residual(static_cast<size_t>(equation.residuals));
        for (size_t chunk = 0; chunk < count; chunk += stride) {
            for (size_t i = 0; i < count; ++i) {
                const double value = x[static_cast<size_t>(equation.unknowns[i])];
                jets[i] = i >= chunk && i < chunk + stride ? Jet(value, static_cast<int>(i - chunk)) : Jet(value);
            }
            evaluate_equation(equation, jets.data(), residual.data());
            for (int r = 0; r < equation.residuals; ++r) {
                const Jet& each = residual[static_cast<size_t>(r)];
                out.residual[out.row_of[e] + r] = each.a;
                for (size_t i = chunk; i < std::min(count, chunk + stride); ++i) {
                    const int column = cluster.column[static_cast<size_t>(equation.unknowns[i])];
                    const double slope = each.v[static_cast<int>(i - chunk)];
                    if (column >= 0 && slope != 0) {
                        slopes.emplace_back(out.row_of[e] + r, column, slope);
                    }
                }
            }
        }
    }
    out.jacobian.resize(rows, static_cast<int>(cluster.unknowns.size()));
    out.jacobian.setFromTriplets(slopes.begin(), slopes.end());
    return out;
}

// Normal equations with a weight on every movement, so small that it decides only where the constraints leave freedom.
constexpr double movement_weight = 1e-10;

std::optional<Eigen::VectorXd> weighted_step(const Matrix& jacobian, const Eigen::VectorXd& weights,
                                             const Eigen::VectorXd& right_side) {
    Matrix normal = jacobian.transpose() * jacobian;
    Matrix diagonal(normal.rows(), normal.cols());
    diagonal.reserve(Eigen::VectorXi::Constant(normal.cols(), 1));
    for (int i = 0; i < normal.rows(); ++i) {
        diagonal.insert(i, i) = weights[i];
    }
    normal += diagonal;
    const Eigen::SimplicialLDLT<Matrix> solver(normal);
    if (solver.info() != Eigen::Success) {
        return std::nullopt;
    }
    return solver.solve(right_side);
}

Values moved(const Values& x, const Cluster& cluster, const Eigen::VectorXd& step) {
    Values next = x;
    for (size_t i = 0; i < cluster.unknowns.size(); ++i) {
        next[static_cast<size_t>(cluster.unknowns[i])] += step[static_cast<int>(i)];
    }
    return next;
}

// Newton steps with the least movement; false where they get no nearer while something is still violated.
bool polish(Values& x, const Cluster& cluster) {
    Linearised at = linearise(x, cluster);
    constexpr int most_steps = 25;
    for (int step = 0; step < most_steps && at.worst() >= 1e-14; ++step) {
        const Eigen::VectorXd weights = Eigen::VectorXd::Constant(at.jacobian.cols(), movement_weight);
        auto move = weighted_step(at.jacobian, weights, -(at.jacobian.transpose() * at.residual));
        if (!move) {
            return false;
        }
        Values next = moved(x, cluster, *move);
        Linearised there = linearise(next, cluster);
        if (!(there.residual.norm() < at.residual.norm())) {
            break; // at the limit of precision, or in conflict
        }
        x = std::move(next);
        at = std::move(there);
    }
    return at.worst() <= solve_tolerance;
}

// The same over the pseudo-inverse: slower, but sure where directions are nearly lost.
void polish_densely(Values& x, const Cluster& cluster) {
    for (int step = 0; step < 8; ++step) {
        const Linearised at = linearise(x, cluster);
        if (at.worst() < 1e-14) {
            return;
        }
        Eigen::CompleteOrthogonalDecomposition<Eigen::MatrixXd> solver;
        solver.setThreshold(1e-9);
        solver.compute(Eigen::MatrixXd(at.jacobian));
        Values next = moved(x, cluster, solver.solve(-at.residual));
        if (!(linearise(next, cluster).residual.norm() < at.residual.norm())) {
            return;
        }
        x = std::move(next);
    }
}

constexpr size_t dense_enough = 300; // unknowns up to which dense algebra is quick

bool solve_cluster(Values& x, const Cluster& cluster) {
    if (linearise(x, cluster).worst() <= 1e-12) {
        return true;
    }
    if (cluster.unknowns.empty()) {
        return false;
    }
    approach(x, cluster);
    if (!polish(x, cluster) && cluster.unknowns.size() <= dense_enough) {
        polish_densely(x, cluster);
    }
    return linearise(x, cluster).worst() <= solve_tolerance;
}

int rank_of(const Matrix& jacobian) {
    if (jacobian.rows() == 0 || jacobian.cols() == 0) {
        return 0;
    }
    if (static_cast<size_t>(jacobian.cols()) <= dense_enough) {
        Eigen::ColPivHouseholderQR<Eigen::MatrixXd> decomposition;
        decomposition.setThreshold(1e-9);
        decomposition.compute(Eigen::MatrixXd(jacobian));
        return static_cast<int>(decomposition.rank());
    }
    Matrix packed = jacobian;
    packed.makeCompressed();
    Eigen::SparseQR<Matrix, Eigen::COLAMDOrdering<int>> decomposition;
    decomposition.setPivotThreshold(1e-9);
    decomposition.compute(packed);
    return static_cast<int>(decomposition.rank());
}

// Which unknowns take part in a random movement that violates nothing.
std::vector<int> free_unknowns(const Cluster& cluster, const Matrix& jacobian) {
    std::mt19937 random(1);
    std::uniform_real_distribution<double> any(0.5, 1.5);
    Eigen::VectorXd wish(jacobian.cols());
    for (double& each : wish) {
        each = any(random);
    }
    const Eigen::VectorXd weights = Eigen::VectorXd::Constant(jacobian.cols(), movement_weight);
    const auto still = weighted_step(jacobian, weights, wish * movement_weight);
    std::vector<int> found;
    for (int i = 0; still && i < still->size(); ++i) {
        if (std::fabs((*still)[i]) > 1e-5) {
            found.push_back(cluster.unknowns[static_cast<size_t>(i)]);
        }
    }
    return found;
}

std::map<int, double> evaluate_dimensions(const Sketch& sketch, const ParameterValues& parameters, Findings& findings) {
    std::map<int, double> values;
    for (const Constraint& constraint : sketch.constraints) {
        if (!is_dimension(constraint.kind) || constraint.measured) {
            continue;
        }
        const auto value = evaluate_as(constraint.value.text, parameters, dimension_of(constraint.kind));
        if (!value) {
            findings.push_back(value.finding());
            continue;
        }
        const bool size = constraint.kind == ConstraintKind::radius || constraint.kind == ConstraintKind::diameter ||
                          constraint.kind == ConstraintKind::arc_length;
        if (size && *value <= 0) {
            findings.push_back(error_finding("sketch.size",
                                             "\u201c" + constraint.value.text + "\u201d gives a size of " +
                                                 format_quantity(*value, "mm") + " mm.",
                                             "A radius, diameter or arc length must be above zero."));
            continue;
        }
        values[constraint.id] = *value;
    }
    return values;
}

// Whether these equations can hold together, tried from the drawn values and from where the search has led.
bool can_hold(const Equations& equations, const Values& drawn, const Values& reached) {
    for (const Values* start : {&reached, &drawn}) {
        Values x = *start;
        const auto clusters = clusters_of(equations, x.size());
        if (std::all_of(clusters.begin(), clusters.end(), [&](const Cluster& c) { return solve_cluster(x, c); })) {
            return true;
        }
    }
    return false;
}

// A smallest set of constraints that cannot hold together. At the end of a least-squares search the residual itself is
// a dependency among the equations, so only those with a part in it are asked; each without which the others hold
// stays.
std::vector<int> minimal_conflict(const Equations& all, const Cluster& cluster, const Linearised& at,
                                  const Values& drawn, const Values& reached) {
    std::set<int> suspects;
    std::set<int> touched;
    for (size_t e = 0; e < cluster.equations.size(); ++e) {
        const Equation& equation = *cluster.equations[e];
        if (at.residual.segment(at.row_of[e], equation.residuals).lpNorm<Eigen::Infinity>() > 1e-6 * at.worst()) {
            suspects.insert(equation.constraint);
            touched.insert(equation.unknowns.begin(), equation.unknowns.end());
        }
    }
    Equations kept;
    for (const Equation* equation : all) {
        const bool fix = fixes(*equation) && std::any_of(equation->unknowns.begin(), equation->unknowns.end(),
                                                         [&](int unknown) { return touched.contains(unknown); });
        if (equation->law || fix || suspects.contains(equation->constraint)) {
            kept.push_back(equation);
        }
    }
    if (can_hold(kept, drawn, reached)) { // the search stopped short of the dependency: all of the cluster are asked
        kept = cluster.equations;
        for (const Equation* equation : all) {
            if (fixes(*equation)) {
                kept.push_back(equation);
            }
        }
    }
    constexpr size_t most_asked = 120; // beyond that the answer would take longer than it is worth
    for (size_t i = 0; i < kept.size() && kept.size() <= most_asked;) {
        Equations without = kept;
        without.erase(without.begin() + static_cast<long>(i));
        if (!kept[i]->law && !can_hold(without, drawn, reached)) {
            kept = std::move(without);
        } else {
            ++i;
        }
    }
    std::vector<int> ids;
    for (const Equation* equation : kept) {
        if (!equation->law) {
            ids.push_back(equation->constraint);
        }
    }
    return ids;
}

void tell_conflict(const Sketch& sketch, const std::vector<int>& ids, Solution& solution) {
    std::string names;
    for (const int id : ids) {
        const auto at = std::find_if(sketch.constraints.begin(), sketch.constraints.end(),
                                     [id](const Constraint& c) { return c.id == id; });
        std::string name = constraint_names()[static_cast<size_t>(at->kind)].second;
        std::replace(name.begin(), name.end(), '_', ' ');
        names += (names.empty() ? "" : ", ") + name + (at->value.text.empty() ? "" : " " + at->value.text);
        solution.in_conflict.push_back(id);
    }
    solution.findings.push_back(
        error_finding("sketch.conflict", "These constraints cannot hold together: " + names + ".",
                      "Delete one of them, change its value, or let a dimension only measure."));
}

void find_collapsed(Solution& solution) {
    for (const Curve& curve : solution.sketch.curves) {
        if (stretch_of(solution.sketch, curve).length() < 1e-6) {
            solution.findings.push_back(error_finding("sketch.collapsed",
                                                      "Curve " + std::to_string(curve.id) + " shrank to a point.",
                                                      "Change the dimension that leaves it no room."));
        }
    }
}

// What measured dimensions show: the value at which the same dimension would hold.
void measure(const Sketch& sketch, std::map<int, double>& dimension) {
    Sketch probe = sketch;
    std::erase_if(probe.constraints, [](const Constraint& c) { return !c.measured; });
    std::map<int, double> nothing; // each asked for 0, so that it is violated by its value
    for (Constraint& constraint : probe.constraints) {
        constraint.measured = false;
        nothing[constraint.id] = 0;
    }
    if (nothing.empty()) {
        return;
    }
    const UnknownIndex index = index_unknowns(probe);
    for (const Equation& equation :
         make_equations(probe, index, unknowns_of(probe, index), nothing, unknowns_of(probe, index))) {
        if (equation.law) {
            continue;
        }
        double value = 0;
        evaluate_equation(equation, equation.drawn.data(), &value);
        if (equation.kind == ConstraintKind::diameter) {
            value *= 2;
        } else if (equation.kind == ConstraintKind::angle) {
            const Constraint& angle = *std::find_if(probe.constraints.begin(), probe.constraints.end(),
                                                    [&](const Constraint& c) { return c.id == equation.constraint; });
            value /= stretch_of(probe, *probe.curve(angle.on[0])).length();
        }
        dimension[equation.constraint] = value;
    }
}

Equations pointers_to(const std::vector<Equation>& equations) {
    Equations all;
    for (const Equation& equation : equations) {
        all.push_back(&equation);
    }
    return all;
}

} // namespace

Solution solve(const Sketch& sketch, const ParameterValues& parameters, const Sketch* laid) {
    Solution solution;
    solution.sketch = sketch;
    solution.findings = check_structure(sketch);
    if (has_error(solution.findings)) {
        return solution;
    }
    solution.dimension = evaluate_dimensions(sketch, parameters, solution.findings);
    size_figures(solution.sketch, parameters, solution.findings);
    const UnknownIndex index = index_unknowns(sketch);
    const Values drawn = unknowns_of(sketch, index);
    Values x = drawn;
    const Values held = laid == nullptr ? drawn : unknowns_of(*laid, index);
    const auto equations = make_equations(sketch, index, drawn, solution.dimension, held);
    const Equations all = pointers_to(equations);
    std::vector<bool> settled = held_unknowns(all, x.size());
    for (size_t i = 0; i < x.size(); ++i) {
        x[i] = settled[i] ? held[i] : x[i];
    }
    for (const Cluster& cluster : clusters_of(all, x.size())) {
        const bool holds = solve_cluster(x, cluster);
        const Linearised at = linearise(x, cluster);
        const int rank = rank_of(at.jacobian);
        solution.residual = std::max(solution.residual, at.worst());
        solution.degrees_of_freedom += static_cast<int>(cluster.unknowns.size()) - rank;
        solution.redundant += static_cast<int>(at.residual.size()) - rank;
        for (const int unknown : cluster.unknowns) {
            settled[static_cast<size_t>(unknown)] = true;
        }
        if (rank < static_cast<int>(cluster.unknowns.size())) {
            for (const int unknown : free_unknowns(cluster, at.jacobian)) {
                settled[static_cast<size_t>(unknown)] = false;
            }
        }
        if (!holds) {
            tell_conflict(sketch, minimal_conflict(all, cluster, at, drawn, x), solution);
        }
    }
    // What no equation reads is free.
    std::vector<bool> read(x.size());
    for (const Equation& equation : equations) {
        for (const int unknown : equation.unknowns) {
            read[static_cast<size_t>(unknown)] = true;
        }
    }
    solution.degrees_of_freedom += static_cast<int>(std::count(read.begin(), read.end(), false));
    write_back(solution.sketch, index, x);
    for (Curve& curve : solution.sketch.curves) {
        if (laid != nullptr && curve.source) {
            curve.knots = laid->curve(curve.id)->knots;
        }
    }
    for (const auto& [point, at] : index.of_point) {
        const auto i = static_cast<size_t>(at);
        if (!settled[i] || !settled[i + 1]) {
            solution.free.insert(point);
        }
    }
    for (const auto& [curve, at] : index.of_radius) {
        if (!settled[static_cast<size_t>(at)]) {
            solution.free.insert(curve);
        }
    }
    measure(solution.sketch, solution.dimension);
    find_collapsed(solution);
    return solution;
}

Sketch drag(const Sketch& solved, const ParameterValues& parameters, const std::map<int, Point2>& targets) {
    Findings findings = check_structure(solved);
    if (has_error(findings)) {
        return solved;
    }
    const auto values = evaluate_dimensions(solved, parameters, findings);
    const UnknownIndex index = index_unknowns(solved);
    Values x = unknowns_of(solved, index);
    const auto equations = make_equations(solved, index, x, values, x);
    const Equations all = pointers_to(equations);
    const auto held = held_unknowns(all, x.size());
    std::map<size_t, double> wished; ///< unknown -> value
    for (const auto& [point, place] : targets) {
        if (const auto at = index.of_point.find(point); at != index.of_point.end()) {
            for (size_t axis = 0; axis < 2; ++axis) {
                const size_t unknown = static_cast<size_t>(at->second) + axis;
                if (!held[unknown]) {
                    wished[unknown] = place[axis];
                }
            }
        }
    }
    std::vector<bool> clustered(x.size());
    for (const Cluster& cluster : clusters_of(all, x.size())) {
        double far = 0;
        for (const int unknown : cluster.unknowns) {
            clustered[static_cast<size_t>(unknown)] = true;
            if (const auto wish = wished.find(static_cast<size_t>(unknown)); wish != wished.end()) {
                far = std::max(far, std::fabs(wish->second - x[static_cast<size_t>(unknown)]));
            }
        }
        if (far == 0) {
            continue;
        }
        // Along the null space towards the wish, everything else as lazy as the pulled points are eager.
        constexpr double eager = 1e6;
        constexpr int steps = 6;
        for (int step = 0; step < steps; ++step) {
            const Linearised at = linearise(x, cluster);
            Eigen::VectorXd weights = Eigen::VectorXd::Constant(at.jacobian.cols(), movement_weight);
            Eigen::VectorXd pull = Eigen::VectorXd::Zero(at.jacobian.cols());
            for (size_t i = 0; i < cluster.unknowns.size(); ++i) {
                const auto unknown = static_cast<size_t>(cluster.unknowns[i]);
                if (const auto wish = wished.find(unknown); wish != wished.end()) {
                    const auto column = static_cast<int>(i);
                    weights[column] *= eager;
                    pull[column] = weights[column] * (wish->second - x[unknown]) / (steps - step);
                }
            }
            const auto move = weighted_step(at.jacobian, weights, pull);
            if (!move) {
                break;
            }
            Values next = moved(x, cluster, *move);
            if (!polish(next, cluster)) {
                break; // it goes no farther
            }
            x = std::move(next);
        }
    }
    for (const auto& [unknown, value] : wished) {
        if (!clustered[unknown]) {
            x[unknown] = value;
        }
    }
    Sketch result = solved;
    write_back(result, index, x);
    return result;
}

} // namespace kervo::sketch
