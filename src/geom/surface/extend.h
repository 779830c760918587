// Surfaces that go on beyond their borders.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/alter/altered.h"

#include <TopoDS_Edge.hxx>

namespace kervo::geom {

struct BorderExtension {
    TopoDS_Edge edge;  ///< a free border of the surface
    double amount = 0; ///< mm, above 0: along the surface that is added, square to the border
};

/// `straight`: tangent to the face at its border. `as_it_bends`: on the face's own surface where that is a cylinder,
/// cone, sphere or torus whose border goes round its axis, or a cylinder's that runs along it; others go on straight.
enum class Continuation { straight, as_it_bends };

/// The surface with what is added, which is one with the face where both are one surface. Flat parts beside straight
/// borders go on along the lines of the borders beside them, or to the common line of both where both go on; others end
/// square to their border. Origins also say of edges that end what is added which border they are now. The area added
/// is compared with a formula for each part; nothing may cross. Findings: extend.too_far (with the place), extend.clash
/// (with the place), extend.failed.
Result<Altered> extended_borders(const TopoDS_Shape& surface, const std::vector<BorderExtension>& borders,
                                 Continuation continuation, Progress& progress);

} // namespace kervo::geom
