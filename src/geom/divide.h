// Dividing a workpiece by cutters into pieces: the operation behind every cut.
//
// The kernel's general fuse splits all shapes by each other; here its result is read as a division of the workpiece:
// each piece knows inside which cutters it lies, and each face of a piece which input face it lies on. The volumes of
// the pieces add up to that of the workpiece, or the result is refused.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/shape.h"

namespace kervo::geom {

struct DividedPiece {
    TopoDS_Shape solid;
    std::vector<int> inside; ///< indices of the cutters that contain it, ascending
    double volume = 0;       ///< mm^3
    gp_Pnt center;           ///< of mass
};

struct Division {
    std::vector<DividedPiece> pieces;
    std::vector<FaceOrigin> origins; ///< of the faces of the pieces; workpiece faces come before cutter faces
    double workpiece_volume = 0;     ///< mm^3
    double imbalance = 0;            ///< |sum of pieces - workpiece| / workpiece
};

/// Largest accepted imbalance (relative).
inline constexpr double balance_tolerance = 1e-7;

/// Accepts: a workpiece of one or more solids, cutters that are solids; they may touch, overlap, or miss the workpiece
/// (then there is one piece). Promises: closed pieces, balanced volumes; inputs are not changed.
/// Findings: divide.cancelled, divide.failed (after the ladder: plain, fuzzy 1e-6, fuzzy 1e-5, healed inputs).
Result<Division> divide(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters, Progress& progress);

/// Whether the two bodies share volume (not only a face, an edge or a point).
bool overlap(const TopoDS_Shape& first, const TopoDS_Shape& second);

} // namespace kervo::geom
