// Surfaces joined along their borders, and solids from surfaces that close.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/cut/merge_faces.h"
#include "geom/surface/borders.h"

namespace kervo::geom {

struct Sewn {
    TopoDS_Shape shape;              ///< as `assembled` makes it
    std::vector<FaceOrigin> origins; ///< of every face
    struct Gap {
        double width = 0; ///< mm
        gp_Pnt place;
    };
    std::vector<Gap> gaps; ///< what was apart by more than 1e-6 mm and is joined now, the widest first
    std::vector<Border> open;
};

/// Borders that are no farther apart than `tolerance` (mm) become one edge; no face moves. What was joined already
/// stays so. Faces look to one side afterwards. The area is what it was. Findings: sew.failed; sew.doubled (a face lies
/// on another, with places); sew.branches (three faces and more at an edge, with places); sew.one_sided.
Result<Sewn> sew(const std::vector<TopoDS_Shape>& surfaces, double tolerance, Progress& progress);

/// Where borders of the two come nearer to each other than `reach` (mm) without being one, widest first: why they are
/// not sewn, and how far they are apart.
std::vector<Sewn::Gap> gaps_between(const std::vector<Border>& open, double reach);

/// Parts of one surface that share edges, as a surface again: faces that continue each other become one.
Merged side_by_side(const std::vector<TopoDS_Shape>& parts);

/// Solids of surfaces that are closed, each shell looking out of its material: one within another is a void of it, one
/// within that a lump again. Finding: sew.no_solid (a border is open, with places).
Result<TopoDS_Shape> solids_within(const TopoDS_Shape& closed);

} // namespace kervo::geom
