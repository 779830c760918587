// Curves as workpieces: their parts have names of their own before it is said which of them stay.
#pragma once

#include "geom/cut/divide.h"
#include "model/cutting/named_cutters.h"

namespace kervo::model {

struct DividedCurves {
    geom::Division division;             ///< with origins that say which part is at which face of a cutter
    std::vector<geom::FaceOrigin> parts; ///< of the edges of the body, all of them
    FaceNames names;                     ///< of the body, of what cuts, and of the parts: the edge's, told apart by
                                         ///< what each comes from ("50:front>") and what it goes to (">50:front")
};
/// Findings as of `geom::divide_curves`.
Result<DividedCurves> divide_curves(const Body& body, const NamedCutters& cutters, const std::vector<int>& by,
                                    Progress& progress);

/// What stays as a body; `whole`: parts of one edge that follow each other are one again.
BodyPtr curves_of_parts(const std::vector<TopoDS_Shape>& staying, const std::vector<geom::FaceOrigin>& parts,
                        const FaceNames& names, bool whole);

} // namespace kervo::model
