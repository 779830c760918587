// A body whose faces were worked on one by one, and what became of them.
#pragma once

#include "geom/kernel/shape.h"

namespace kervo::geom {

struct Altered {
    TopoDS_Shape shape;
    std::vector<FaceOrigin> origins; ///< of faces that are still there, as they were or changed
    struct Made {
        TopoDS_Shape face;
        TopoDS_Shape source; ///< the face, edge or vertex of the body that it takes the place of, or was made from
    };
    std::vector<Made> made;
    /// mm: how far made faces are from what was asked for, as measured; 0 where that is as good as none.
    double off = 0;
};

} // namespace kervo::geom
