// Cutters that end inside the material although they enter it: by how much they are too short.
#pragma once

#include "geom/kernel/shape.h"

#include <optional>

namespace kervo::geom {

struct ShortEnd {
    gp_Pnt place;       ///< on the flat end
    double missing = 0; ///< mm, to where the material ends behind it
};

/// Of a plug, the parts of a workpiece inside a cutter that hang together: the flat end of the cutter across which the
/// plug holds on to the material, if all of the workpiece's own faces on the plug look the other way (it came in
/// there). Nothing for plugs that pass through, and for grooves, which are open to other sides. `origins` as a division
/// gives them.
std::optional<ShortEnd> short_end(const TopoDS_Shape& workpiece, const TopoDS_Shape& cutter,
                                  const std::vector<TopoDS_Shape>& plug, const std::vector<FaceOrigin>& origins);

} // namespace kervo::geom
