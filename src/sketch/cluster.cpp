#include "sketch/cluster.h"

#include "sketch/solve.h"

#include <ceres/ceres.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <memory>
#include <numeric>
#include <random>

namespace kervo::sketch {

bool fixes(const Equation& equation) {
    return !equation.law && equation.kind == ConstraintKind::fixed;
}

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

namespace {

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

} // namespace

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

namespace {

constexpr size_t dense_enough = 300; // unknowns up to which dense algebra is quick

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

} // namespace

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

} // namespace kervo::sketch
