// Flat faces within the border of a section, as it was traced.
#pragma once

#include "geom/view/section_border.h"

namespace kervo::geom {

struct SectionFace {
    TopoDS_Shape face; ///< looks along the plane's normal
    /// Each edge, and the face of the solid in which it lies: its place among `faces_of` the solid; -1: not known.
    std::vector<std::pair<TopoDS_Shape, int>> cut;
};

/// Each outer loop with the holes in it is a face. Nothing where a piece is part of a parabola or a hyperbola, where
/// loops do not close, or where the faces are not as large as what the border encloses.
std::optional<std::vector<SectionFace>> faces_within(const std::vector<BorderPiece>& border, const gp_Ax3& plane);

} // namespace kervo::geom
