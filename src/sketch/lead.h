// Leads a cluster from what is drawn to what is wanted, without a jump: every residual that it has as drawn is taken
// down to nothing together, as a dimension that is typed anew grows from its drawn value to the new one. The way is
// followed by predictor and corrector (Allgower and Georg, Introduction to Numerical Continuation Methods, 1990, Newton
// homotopy); a step counts only if the corrector leaves every side of every figure nearly where the predictor saw it,
// so that nothing turns over on the way. Equations that say the same twice are met in the sense of least squares on the
// way and exactly at its end.
#pragma once

#include "sketch/cluster.h"

namespace kervo::sketch {

/// `x`: held unknowns where they are wanted; becomes the solution. `drawn`: all unknowns as drawn. False, and `x` as it
/// was, where no way leads there: the constraints conflict, or two solutions meet on the way.
bool lead(Values& x, const Values& drawn, const Cluster& cluster);

} // namespace kervo::sketch
