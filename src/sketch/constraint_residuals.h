// Each constraint as a handful of residuals over the sketch's unknowns. Adding a constraint kind means adding one case
// here and its operand pattern in sketch.cpp.
//
// Unknowns: two per point (x, y), one per circle (radius), in mm. Residuals are in mm throughout (angles are multiplied
// by a length), so that one tolerance holds for all.
#pragma once

#include "sketch/sketch.h"

#include <ceres/jet.h>

#include <map>

namespace kervo::sketch {

/// Where each unknown stands in the vector of unknowns.
struct UnknownIndex {
    std::map<int, int> of_point;  ///< point id -> index of x; y follows
    std::map<int, int> of_circle; ///< circle id -> index of its radius
    int count = 0;
};
UnknownIndex index_unknowns(const Sketch& sketch);

/// One constraint (or the inner law of an arc) made ready for the solver.
struct Equation {
    int constraint = 0; ///< id; 0 for the inner law of an arc
    ConstraintKind kind = ConstraintKind::coincident;
    bool arc_law = false;      ///< start and end of an arc are equally far from its centre
    std::vector<int> unknowns; ///< indices of the unknowns it reads, in the order of the residual function
    std::string pattern;       ///< p point, l line, c circle, a arc
    double value = 0;          ///< mm or rad
    std::vector<double>
        drawn; ///< values of the unknowns as drawn: the side on which things are kept, and what `fixed` keeps
    int residuals = 1;
    int joint = -1; ///< of tangency: where among `unknowns` the x stands of an end that both curves share; -1: none
};

/// All equations of the sketch. `values` holds the evaluated dimension of each constraint id that has one.
std::vector<Equation> make_equations(const Sketch& sketch, const UnknownIndex& index, const std::vector<double>& drawn,
                                     const std::map<int, double>& values);

/// Evaluates an equation; T is double or a Ceres jet. `x` holds the equation's own unknowns.
template <class T> void evaluate_equation(const Equation& equation, const T* x, T* residual);

} // namespace kervo::sketch
