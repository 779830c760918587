// What steps share that span a surface between borders of bodies.
#pragma once

#include "geom/make/form_face.h"
#include "model/route/step_context.h"

namespace kervo::model {

/// Hands the faces out, all in the role `role`, which are up to `gap` mm off those borders: sewn to the bodies whose
/// borders they span between, under the name of the first, or as a surface of their own. Findings of sewing, on
/// `field`.
void hand_out_spanned(int step, const TopoDS_Shape& spanned, double gap, const std::string& role,
                      const std::vector<BodyId>& between, bool sewn, const char* field, Answers& answers,
                      StepOutput& output);

/// Warns on `field` where it leans out of the tangent planes beside it by more than 0.1 degrees (rad).
void tell_lean(double lean, const gp_Pnt& at, const char* code, const char* mend, const char* field, Answers& answers);

/// Calls the borders of a whole free-form surface after its sides (`geom::FormFace::side_of_edge`), by these roles.
void name_sides(int step, const geom::FormFace& made, const std::array<const char*, 4>& roles, FaceNames& names);

/// Warns on `field` where a surface turns over as sharply as an edge; says nothing where it does not.
void tell_turn(const std::optional<gp_Pnt>& at, const char* mend, const char* field, Answers& answers);

} // namespace kervo::model
