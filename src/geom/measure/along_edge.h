// Places along edges that do not hang on which way the kernel runs along them.
#pragma once

#include <TopoDS_Edge.hxx>
#include <gp_Pnt.hxx>

#include <array>

namespace kervo::geom {

/// Whether its curve runs from its first end to the other: that with the smaller x; where both have the same, y, then
/// z. True of a ring.
bool runs_from_its_first_end(const TopoDS_Edge& edge);

/// At a share of the length (0 to 1) from its first end. Of a ring from where it is closed, as its curve runs.
gp_Pnt place_along(const TopoDS_Edge& edge, double share);

/// Three places between its ends, the middle of its parameters first.
std::array<gp_Pnt, 3> places_within(const TopoDS_Edge& edge);

} // namespace kervo::geom
