// A surface through a net of curves that cross each other.
#pragma once

#include "geom/make/form_face.h"

#include <TopoDS_Edge.hxx>

#include <vector>

namespace kervo::geom {

struct NetSurface {
    FormFace made;
    double gap = 0; ///< mm, the most that it was found beside one of the curves
    gp_Pnt gap_at;
    std::array<size_t, 2> curves{}; ///< how many go each way
};

/// Curves that cross belong to different ways: each of one way must meet each of the other once, within 1e-3 mm. It
/// reaches from the first to the last of each way; what sticks out of the curves counts for nothing. Blended both ways,
/// less what is counted twice (Gordon 1969), by cubic splines through the crossings; then one bicubic spline, finer
/// until it is within 1e-5 mm of the curves. Findings: net.few (less than two each way), net.too_many (more than
/// 100), net.apart (a curve misses one
/// that it should meet, by how much and where), net.twice (two meet more than once, with the places), net.order (they
/// do not meet in one order, with the place), net.gap (more than 1e-3 mm), those of `whole_face`.
Result<NetSurface> surface_through_net(const std::vector<TopoDS_Edge>& curves);

} // namespace kervo::geom
