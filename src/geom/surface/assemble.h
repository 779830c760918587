// Faces put together to surfaces: what hangs together looks to one side.
#pragma once

#include "geom/kernel/shape.h"

#include <TopoDS_Shell.hxx>

namespace kervo::geom {

struct Assembled {
    TopoDS_Shape shape;     ///< a face, a shell of what hangs together over edges, or several of these in a compound
    bool one_sided = false; ///< a band that comes back turned over: it has no two sides
};

/// All faces of some shapes. Those that share an edge look to the same side of it: what was the first one's side is
/// that of all that hang together with it. Over edges that more than two faces share nothing is said. Shells without
/// free borders are marked closed. Linear in the number of edges.
Assembled assembled(const std::vector<TopoDS_Shape>& parts);

/// A face or shell that is closed, as a shell.
TopoDS_Shell closed_shell(const TopoDS_Shape& part);

} // namespace kervo::geom
