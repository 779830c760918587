// The splines of a DXF file, by control points: plain ones as they are, rational ones of the second degree as the arcs
// of ellipses that they are.
#pragma once

#include "io/formats/outline_pen.h"

#include <string>
#include <vector>

namespace kervo::io {

struct DxfSpline {
    size_t degree = 3;
    std::vector<sketch::Point2> poles;
    std::vector<double> weights; ///< as many; of plain ones all the same
    std::vector<double> knots;
};

/// Why it cannot be drawn, for people: "a spline with weights"; empty where it can.
std::string problem_of(const DxfSpline& spline);
/// Of one that can.
void draw(const DxfSpline& spline, Pen& pen);

} // namespace kervo::io
