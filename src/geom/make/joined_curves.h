// Curves made of others: joined end to end, rounded where they meet, closed; made longer and shorter.
#pragma once

#include "base/finding.h"
#include "geom/kernel/shape.h"

#include <TopoDS_Edge.hxx>

namespace kervo::geom {

enum class Closing { none, straight, smooth };

/// Edges that join end to end (within 1e-5 mm, in any order and running either way) as copies that share their ends, in
/// their order. `reach` above zero: where two meet at an angle, so much of each (mm along it) gives way to what is
/// tangent to both: an arc between straight ones, else a cubic with the handles that come nearest to one. Findings:
/// space.apart (a gap, with its size), space.branches, space.reach (longer than what there is), space.turns_back,
/// space.closed (it is), space.failed (it is not tangent after all).
Result<std::vector<TopoDS_Edge>> joined_curves(const std::vector<TopoDS_Edge>& edges, double reach, Closing closing);

/// Longer by so much at its ends (mm; shorter where it is below zero): the first of which has the smaller x, or y, or
/// z. `round`: it goes on with the bend that it has there, else straight. Findings: space.no_length, space.closed (it
/// has no ends, or would have none).
Result<std::vector<TopoDS_Edge>> longer_curve(const TopoDS_Edge& edge, double at_first, double at_last, bool round);

} // namespace kervo::geom
