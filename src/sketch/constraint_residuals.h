// Each constraint as a handful of residuals over the sketch's unknowns. Adding a constraint kind means adding one case
// here and its operand pattern in sketch.cpp.
//
// Unknowns: two per point (x, y), one per circle (radius) and ellipse (half of its other axis), one per point that
// slides on a spline (how far along), all in mm. Residuals are in mm throughout (angles are multiplied by a length), so
// that one tolerance holds for all.
#pragma once

#include "sketch/sketch.h"

#include <ceres/jet.h>

#include <map>

namespace kervo::sketch {

/// Where each unknown stands in the vector of unknowns.
struct UnknownIndex {
    std::map<int, int> of_point;  ///< point id -> index of x; y follows
    std::map<int, int> of_radius; ///< circle or ellipse id -> index of its radius
    std::map<int, int> of_slide;  ///< constraint id (a point on a spline) -> index of how far along
    int count = 0;
};
UnknownIndex index_unknowns(const Sketch& sketch);
/// Their values as drawn.
std::vector<double> unknowns_of(const Sketch& sketch, const UnknownIndex& index);

/// How one operand of an equation is read from its unknowns.
struct Operand {
    char kind = 'p'; ///< p point, l line, c circle, a arc, e ellipse, s spline
    size_t points = 1;
    bool radius = false;
    int degree = 0;                           ///< of splines
    std::vector<double> knots;                ///< of splines
    std::vector<std::vector<double>> weights; ///< of splines: each pole as a sum of the points
};

/// One constraint (or the inner law of a curve) made ready for the solver.
struct Equation {
    int constraint = 0; ///< id; 0 for the inner law of an arc or a part of an ellipse
    ConstraintKind kind = ConstraintKind::coincident;
    bool law = false;          ///< start and end of an arc, or of a part of an ellipse, lie on it
    std::vector<int> unknowns; ///< indices of the unknowns it reads, in the order of the residual function
    std::vector<Operand> on;
    double value = 0; ///< mm or rad
    std::vector<double>
        drawn; ///< values of the unknowns as drawn: the side on which things are kept, and what `fixed` keeps
    int residuals = 1;
    std::array<int, 2> joint{-1,
                             -1}; ///< of curves that touch where they share an end: which of the points of each it is
    int foot = -1;                ///< of a line that touches where one of its ends lies on the other curve: which end
    double scale = 1;             ///< mm: what angles are multiplied by, and the length of a spline

    [[nodiscard]] std::string pattern() const;
};

/// All equations of the sketch. `values` holds the evaluated dimension of each constraint id that has one; curves that
/// are taken from the model are kept where the unknowns of `held` say.
std::vector<Equation> make_equations(const Sketch& sketch, const UnknownIndex& index, const std::vector<double>& drawn,
                                     const std::map<int, double>& values, const std::vector<double>& held);

/// Evaluates an equation; T is double or a Ceres jet. `x` holds the equation's own unknowns.
template <class T> void evaluate_equation(const Equation& equation, const T* x, T* residual);

} // namespace kervo::sketch
