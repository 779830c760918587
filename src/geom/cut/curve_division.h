// Dividing curves, that is edges that bound no face, by bodies, surfaces, other curves and points.
#pragma once

#include "geom/cut/divide.h"

#include <optional>

namespace kervo::geom {

struct CurveDivision {
    Division division; ///< volumes are lengths, mm; the origins are those of the parts, which run as their edges do
    struct Cut {
        TopoDS_Shape part;
        int cutter = 0;
        TopoDS_Shape element; ///< of the cutter, which meets the part there: a face, or where it has none an edge, or a
                              ///< vertex
        bool at_start = false; ///< of the part, as it runs; else at its end
    };
    std::vector<Cut> cuts;
};

/// The pieces are chains of parts that hang together over vertices at which no cutter is. What lies within a solid, or
/// begins in front of a surface, is inside. Promises: the lengths add up; between its ends no part meets a cutter,
/// unless it lies on it. Finding: divide.failed (after the ladder: plain, fuzzy 1e-6 and 1e-5).
Result<CurveDivision> divide_curves(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                    Progress& progress);

/// Parts that stay, of which those of one edge that follow each other become one again: the edge itself where all of
/// its parts are there. `all`: every part and the edge that it is of.
std::vector<FaceOrigin> parts_joined(const std::vector<TopoDS_Shape>& staying, const std::vector<FaceOrigin>& all);

} // namespace kervo::geom
