// The equations of a sketch fall apart into clusters that share no unknown. What is done to one: linearised, led near
// to a solution, taken to machine precision, asked for its rank and for what can still move.
#pragma once

#include "sketch/constraint_residuals.h"

#include <Eigen/Dense>
#include <Eigen/Sparse>

#include <optional>
#include <vector>

namespace kervo::sketch {

using Values = std::vector<double>; ///< one for each unknown, as in UnknownIndex; mm
using Matrix = Eigen::SparseMatrix<double>;
using Equations = std::vector<const Equation*>;

/// Equations that share unknowns, with the unknowns that may move.
struct Cluster {
    Equations equations;
    std::vector<int> unknowns; ///< indices into all values, ascending
    std::vector<int> column;   ///< of each of all values: its place among the unknowns; -1: held
};

/// Whether it is the constraint that keeps things where they are drawn.
bool fixes(const Equation& equation);
/// Unknowns that a constraint holds where they are drawn are no unknowns, and tie nothing together. One for each of
/// `count`.
std::vector<bool> held_unknowns(const Equations& equations, size_t count);
std::vector<Cluster> clusters_of(const Equations& equations, size_t count);

struct Linearised {
    Matrix jacobian;
    Eigen::VectorXd residual;
    std::vector<int> row_of; ///< first row of each equation

    [[nodiscard]] double worst() const { return residual.size() == 0 ? 0 : residual.lpNorm<Eigen::Infinity>(); }
};

/// Residuals (mm) and their slopes at `x`: a row for each residual, a column for each unknown of the cluster.
Linearised linearise(const Values& x, const Cluster& cluster);

/// Normal equations with a weight on every movement, so small that it decides only where the constraints leave freedom.
inline constexpr double movement_weight = 1e-10;
/// Solves (J^T J + weights) step = right_side; nothing where that cannot be factored.
std::optional<Eigen::VectorXd> weighted_step(const Matrix& jacobian, const Eigen::VectorXd& weights,
                                             const Eigen::VectorXd& right_side);
/// `x` with the cluster's unknowns moved by `step`.
Values moved(const Values& x, const Cluster& cluster, const Eigen::VectorXd& step);

/// Newton steps with the least movement; false where they get no nearer while something is still violated.
bool polish(Values& x, const Cluster& cluster);
/// Levenberg-Marquardt from where `x` is, then to machine precision; false where the constraints do not hold there. It
/// may reach another branch than the one that `x` lies on.
bool solve_cluster(Values& x, const Cluster& cluster);

int rank_of(const Matrix& jacobian);
/// Which unknowns take part in a random movement that violates nothing.
std::vector<int> free_unknowns(const Cluster& cluster, const Matrix& jacobian);

} // namespace kervo::sketch
