#include "sketch/solve.h"

#include "sketch/constraint_residuals.h"

#include <Eigen/Dense>
#include <ceres/ceres.h>

#include <algorithm>
#include <cmath>

namespace kervo::sketch {

namespace {

std::vector<double> unknowns_of(const Sketch& sketch, const UnknownIndex& index) {
    std::vector<double> x(static_cast<size_t>(index.count));
    for (const Point& point : sketch.points) {
        const auto at = static_cast<size_t>(index.of_point.at(point.id));
        x[at] = point.x;
        x[at + 1] = point.y;
    }
    for (const auto& [id, at] : index.of_circle) {
        x[static_cast<size_t>(at)] = sketch.curve(id)->radius;
    }
    return x;
}

void write_back(Sketch& sketch, const UnknownIndex& index, const std::vector<double>& x) {
    for (Point& point : sketch.points) {
        const auto at = static_cast<size_t>(index.of_point.at(point.id));
        point.x = x[at];
        point.y = x[at + 1];
    }
    for (const auto& [id, at] : index.of_circle) {
        sketch.curve(id)->radius = x[static_cast<size_t>(at)];
    }
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

void approach(std::vector<double>& x, const std::vector<Equation>& equations) {
    ceres::Problem problem;
    for (const Equation& equation : equations) {
        std::vector<double*> blocks;
        std::vector<size_t> block;
        for (const int unknown : equation.unknowns) {
            double* place = &x[static_cast<size_t>(unknown)];
            const auto known = std::find(blocks.begin(), blocks.end(), place);
            block.push_back(static_cast<size_t>(known - blocks.begin()));
            if (known == blocks.end()) {
                blocks.push_back(place);
            }
        }
        auto cost = std::make_unique<ceres::DynamicAutoDiffCostFunction<EquationCost, 4>>(
            new EquationCost{&equation, std::move(block)});
        for (size_t i = 0; i < blocks.size(); ++i) {
            cost->AddParameterBlock(1);
        }
        cost->SetNumResiduals(equation.residuals);
        problem.AddResidualBlock(cost.release(), nullptr, blocks);
    }
    ceres::Solver::Options options;
    options.linear_solver_type = ceres::DENSE_QR;
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
    Eigen::MatrixXd jacobian;
    Eigen::VectorXd residual;
};

Linearised linearise(const std::vector<double>& x, const std::vector<Equation>& equations) {
    int rows = 0;
    for (const Equation& equation : equations) {
        rows += equation.residuals;
    }
    Linearised out{Eigen::MatrixXd::Zero(rows, static_cast<int>(x.size())), Eigen::VectorXd::Zero(rows)};
    int row = 0;
    using Jet = ceres::Jet<double, 4>;
    for (const Equation& equation : equations) {
        const size_t count = equation.unknowns.size();
        std::vector<Jet> jets(count);
        std::vector<Jet> residual(static_cast<size_t>(equation.residuals));
        for (size_t chunk = 0; chunk < count; chunk += 4) {
            for (size_t i = 0; i < count; ++i) {
                const double value = x[static_cast<size_t>(equation.unknowns[i])];
                jets[i] = i >= chunk && i < chunk + 4 ? Jet(value, static_cast<int>(i - chunk)) : Jet(value);
            }
            evaluate_equation(equation, jets.data(), residual.data());
            for (int r = 0; r < equation.residuals; ++r) {
                out.residual[row + r] = residual[static_cast<size_t>(r)].a;
                for (size_t i = chunk; i < std::min(count, chunk + 4); ++i) {
                    out.jacobian(row + r, equation.unknowns[i]) +=
                        residual[static_cast<size_t>(r)].v[static_cast<int>(i - chunk)];
                }
            }
        }
        row += equation.residuals;
    }
    return out;
}

void polish(std::vector<double>& x, const std::vector<Equation>& equations) {
    for (int step = 0; step < 8; ++step) {
        const Linearised at = linearise(x, equations);
        if (at.residual.size() == 0 || at.residual.lpNorm<Eigen::Infinity>() < 1e-14) {
            return;
        }
        Eigen::CompleteOrthogonalDecomposition<Eigen::MatrixXd> solver;
        solver.setThreshold(1e-9);
        solver.compute(at.jacobian);
        const Eigen::VectorXd move = solver.solve(-at.residual);
        std::vector<double> next = x;
        for (size_t i = 0; i < x.size(); ++i) {
            next[i] += move[static_cast<int>(i)];
        }
        if (linearise(next, equations).residual.norm() >= at.residual.norm()) {
            return; // at the limit of precision, or in conflict
        }
        x = std::move(next);
    }
}

std::map<int, double> evaluate_dimensions(const Sketch& sketch, const ParameterValues& parameters, Findings& findings) {
    std::map<int, double> values;
    for (const Constraint& constraint : sketch.constraints) {
        if (!is_dimension(constraint.kind)) {
            continue;
        }
        const auto value = evaluate_as(constraint.value.text, parameters, dimension_of(constraint.kind));
        if (!value) {
            findings.push_back(value.finding());
            continue;
        }
        const bool size = constraint.kind == ConstraintKind::radius || constraint.kind == ConstraintKind::diameter;
        if (size && *value <= 0) {
            findings.push_back(error_finding("sketch.size",
                                             "\u201c" + constraint.value.text + "\u201d gives a size of " +
                                                 format_quantity(*value, "mm") + " mm.",
                                             "A radius or diameter must be above zero."));
            continue;
        }
        values[constraint.id] = *value;
    }
    return values;
}

void find_conflicts(const std::vector<Equation>& equations, const Linearised& at, Solution& solution) {
    int row = 0;
    std::string names;
    for (const Equation& equation : equations) {
        const double worst = at.residual.segment(row, equation.residuals).lpNorm<Eigen::Infinity>();
        row += equation.residuals;
        if (worst > solve_tolerance && equation.constraint != 0) {
            solution.in_conflict.push_back(equation.constraint);
            names += (names.empty() ? "" : ", ") + constraint_names()[static_cast<size_t>(equation.kind)].second +
                     " (" + std::to_string(equation.constraint) + ")";
        }
    }
    if (!solution.in_conflict.empty()) {
        solution.findings.push_back(error_finding("sketch.conflict",
                                                  "These constraints cannot hold together: " + names + ".",
                                                  "Delete one of them, or change its value."));
    }
}

void find_collapsed(Solution& solution) {
    for (const Curve& curve : solution.sketch.curves) {
        const auto place = [&](size_t i) { return *solution.sketch.point(curve.points[i]); };
        double size = curve.radius;
        if (curve.kind != CurveKind::circle) {
            size = std::hypot(place(1).x - place(0).x, place(1).y - place(0).y);
        }
        if (size < 1e-6) {
            solution.findings.push_back(error_finding("sketch.collapsed",
                                                      "Curve " + std::to_string(curve.id) + " shrank to a point.",
                                                      "Change the dimension that leaves it no room."));
        }
    }
}

} // namespace

Solution solve(const Sketch& sketch, const ParameterValues& parameters) {
    Solution solution;
    solution.sketch = sketch;
    solution.findings = check_structure(sketch);
    if (has_error(solution.findings)) {
        return solution;
    }
    solution.dimension = evaluate_dimensions(sketch, parameters, solution.findings);
    const UnknownIndex index = index_unknowns(sketch);
    std::vector<double> x = unknowns_of(sketch, index);
    const auto equations = make_equations(sketch, index, x, solution.dimension);
    const Linearised drawn = linearise(x, equations);
    if (drawn.residual.size() > 0 && drawn.residual.lpNorm<Eigen::Infinity>() > 1e-12) {
        approach(x, equations);
        polish(x, equations);
    }
    write_back(solution.sketch, index, x);
    const Linearised at = linearise(x, equations);
    int rank = 0;
    if (at.residual.size() > 0 && index.count > 0) {
        Eigen::ColPivHouseholderQR<Eigen::MatrixXd> decomposition;
        decomposition.setThreshold(1e-9);
        decomposition.compute(at.jacobian);
        rank = static_cast<int>(decomposition.rank());
        solution.residual = at.residual.lpNorm<Eigen::Infinity>();
    }
    solution.degrees_of_freedom = index.count - rank;
    solution.redundant = static_cast<int>(at.residual.size()) - rank;
    find_conflicts(equations, at, solution);
    find_collapsed(solution);
    return solution;
}

} // namespace kervo::sketch
