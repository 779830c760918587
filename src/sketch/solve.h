// Solving a sketch: the nearest place to what is drawn at which all constraints hold.
//
// Levenberg-Marquardt (Ceres Solver) from the drawn values, then minimum-norm Newton steps over the pseudo-inverse of
// the Jacobian to reach machine precision. The rank of that Jacobian also tells the degrees of freedom left.
#pragma once

#include "sketch/sketch.h"

#include <map>

namespace kervo::sketch {

struct Solution {
    Sketch sketch;                   ///< the sketch with solved coordinates and radii
    int degrees_of_freedom = 0;      ///< unknowns less the rank of the constraints
    int redundant = 0;               ///< equations that say nothing new
    double residual = 0;             ///< largest violation, mm
    std::map<int, double> dimension; ///< evaluated value of each dimension by constraint id, mm or rad
    std::vector<int> in_conflict;    ///< constraint ids that do not hold
    Findings findings;               ///< sketch.conflict, sketch.structure, sketch.collapsed, and those of formulas
};

/// Largest violation (mm) at which a constraint counts as held.
inline constexpr double solve_tolerance = 1e-9;

Solution solve(const Sketch& sketch, const ParameterValues& parameters);

} // namespace kervo::sketch
