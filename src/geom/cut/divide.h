// Dividing a workpiece by cutters into pieces: the operation behind every cut.
//
// The kernel's general fuse splits all shapes by each other; here its result is read as a division of the workpiece:
// each piece knows inside which cutters it lies, and each face of a piece which input face it lies on. The volumes (or
// areas, of surfaces) of the pieces add up to that of the workpiece, or the result is refused.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/kernel/shape.h"

#include <optional>

namespace kervo::geom {

struct DividedPiece {
    TopoDS_Shape shape;      ///< a solid; of a surface, a face or a shell
    std::vector<int> inside; ///< indices of the solids among the cutters that contain it, and of the surfaces in front
                             ///< of which it lies, ascending
    double volume = 0;       ///< mm^3; of a surface its area, mm^2
    gp_Pnt center;           ///< of mass
};

/// A surface that ends inside the material, and so divides nothing.
struct Hanging {
    int cutter = 0;
    gp_Pnt place; ///< where it ends
};

struct Division {
    std::vector<DividedPiece> pieces;
    std::vector<FaceOrigin> origins; ///< of the faces of the pieces; workpiece faces come before cutter faces
    std::vector<Hanging> hanging;    ///< these cutters were left out; of a surface, their lines there
    double workpiece_volume = 0;     ///< mm^3; of a surface its area, mm^2
    double imbalance = 0;            ///< |sum of pieces - workpiece| / workpiece
    bool free_form = false;          ///< round faces of the pieces have become B-splines
};

/// Largest accepted imbalance (relative).
inline constexpr double balance_tolerance = 1e-7;

/// Accepts: a workpiece of one or more solids, or of faces alone; cutters that are solids or surfaces; they may touch,
/// overlap, or miss the workpiece (then there is one piece). Promises: closed and valid pieces of solids, balanced
/// volumes or areas; inputs are not changed.
/// Findings: divide.cancelled, divide.failed (after the ladder: plain, fuzzy 1e-6 and 1e-5, closed faces in halves,
/// healed inputs, fuzzy 1e-4, round faces as B-splines, plain and fuzzy 1e-5; several cutters one after the other).
Result<Division> divide(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters, Progress& progress);

/// The solids of a body as pieces inside of nothing; of a surface, what hangs together over edges. They may touch.
Division lumps_of(const TopoDS_Shape& body);

/// Solids divided by each other: every part that lies inside one or several of them, `inside` by index. The volumes of
/// the parts, each as often as bodies hold it, add up to theirs. Findings as of `divide`.
Result<Division> cells_of(const std::vector<TopoDS_Shape>& bodies, Progress& progress);

/// Whether the two bodies share volume (not only a face, an edge or a point). Nothing where the kernel cannot tell.
std::optional<bool> overlap(const TopoDS_Shape& first, const TopoDS_Shape& second);

} // namespace kervo::geom
