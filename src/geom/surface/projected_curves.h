// Curves projected along a direction onto faces: they meet these as often as they do.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/surface/projection_source.h"

#include <TopoDS_Face.hxx>

namespace kervo::geom {

struct ProjectedPart {
    TopoDS_Edge edge; ///< runs so that what is left of the curve is left of it too, as one looks at the face's front
    size_t curve = 0; ///< which one it is of
    int hit = 0;      ///< from 1: how many faces a line from the curve meets until there
    double far = 0;   ///< mm from the curve, along the direction, half-way along it
    TopoDS_Face on;
};

/// `curves` run as they are oriented; their left is `up` times their way on. `onto`: faces, surfaces and solids; faces
/// that run along the direction are passed by. Where the number of a hit changes (at limbs, behind borders of what is
/// nearer) the part ends.
/// The curves in which walls over the curves meet the faces are the kernel's; which hit they are is told by rays,
/// places on them lie on the face and under their curve within 1e-5 mm, and no place that rays meet is left out, else
/// the finding project.failed (with the place). project.misses: nothing is met.
Result<std::vector<ProjectedPart>> projected_curves(const std::vector<TopoDS_Edge>& curves, const gp_Dir& up,
                                                    const std::vector<TopoDS_Shape>& onto, const gp_Dir& along,
                                                    HitOrder order, Progress& progress);

} // namespace kervo::geom
