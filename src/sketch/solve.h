// Solving a sketch: the nearest place to what is drawn at which all constraints hold.
//
// The equations fall apart into clusters that share no unknown (cluster.h), and each is solved alone. What is drawn is
// led to what is wanted without a jump (lead.h); where no way leads, Levenberg-Marquardt (Ceres Solver) goes from the
// drawn values into the neighbourhood of a solution, and a finding says that it may be another one. Newton steps with
// the least movement (Tikhonov, sparse Cholesky of Eigen) reach machine precision. The rank of the Jacobian tells the
// degrees of freedom, the projection of a random movement onto its null space tells what can still move. A conflict is
// made minimal by deletion: a constraint without which the others hold takes part in it (Chinneck, Feasibility and
// Infeasibility in Optimization, 2008, the deletion filter).
#pragma once

#include "sketch/sketch.h"

#include <map>
#include <set>

namespace kervo::sketch {

struct Solution {
    Sketch sketch;                   ///< the sketch with solved coordinates and radii
    int degrees_of_freedom = 0;      ///< unknowns less the rank of the constraints
    int redundant = 0;               ///< equations that say nothing new
    double residual = 0;             ///< largest violation, mm
    std::map<int, double> dimension; ///< value of each dimension by constraint id, mm or rad; measured ones too
    std::set<int> free;              ///< points, circles and ellipses (their radius) that can still move
    std::vector<int> in_conflict;    ///< constraint ids that cannot hold together; without any of them the others can
    Findings findings; ///< sketch.conflict, sketch.jump, sketch.structure, sketch.collapsed, and those of formulas
};

/// Largest violation (mm) at which a constraint counts as held.
inline constexpr double solve_tolerance = 1e-9;

/// `laid`: the same sketch with its taken curves where their sources are now. They are held there, while everything
/// else starts from where it is drawn, on the sides where it is drawn.
Solution solve(const Sketch& sketch, const ParameterValues& parameters, const Sketch* laid = nullptr);

/// The solved sketch with points pulled to other places as far as the constraints let them, everything else following.
/// A pull goes in steps along what can move, so that nothing flips over. `solved` must hold its constraints.
Sketch drag(const Sketch& solved, const ParameterValues& parameters, const std::map<int, Point2>& targets);

} // namespace kervo::sketch
