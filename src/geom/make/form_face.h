// Free-form surfaces as faces: whole, or with the outline of another face.
#pragma once

#include "geom/kernel/by_shape.h"
#include "geom/make/free_form.h"

#include <gp_Pnt.hxx>

#include <optional>

namespace kervo::geom {

struct FormFace {
    TopoDS_Face face;
    std::optional<gp_Pnt> turns; ///< it turns over here, within a quarter of a patch
    // Of its free borders:
    ByShape<TopoDS_Shape> source_of_edge; ///< of a face with another's outline: the edge that each stands for
    ByShape<int> side_of_edge; ///< of a whole one: along the first or last row (0, 1), the first or last column (2, 3)
};
/// The whole surface as a face. Findings: form.failed, form.crosses (it runs through itself, with the place).
Result<FormFace> whole_face(const FreeForm& form);
/// The part of it that has the outline of `face` in its parameters. The same findings.
Result<FormFace> face_with_outline(const FreeForm& form, const TopoDS_Face& face);

} // namespace kervo::geom
