// Faces of a body on new surfaces, and their neighbours cut anew.
#pragma once

#include "base/finding.h"
#include "geom/alter/altered.h"

#include <Geom_Surface.hxx>
#include <gp_Trsf.hxx>

#include <optional>

namespace kervo::geom {

/// How faces shift: all by one motion, or else each along its own normal.
struct Shift {
    std::optional<gp_Trsf> motion; ///< rigid
    double outwards = 0;           ///< mm, signed; out of the material
};

/// The body with these faces shifted. Every edge between a shifted face and another is where their surfaces meet now,
/// and every vertex where its edges do; faces, edges and vertices stay as many as they were. Flat faces stay flat,
/// round ones round. The result is closed and valid. Findings, with their places: shift.surface (free-form, or nothing
/// left of a round one), shift.smooth (it runs smoothly into a neighbour that stays), shift.apart (neighbours do not
/// meet there any more), shift.runs_past (an edge would turn over, or the face runs into another).
Result<Altered> shift_faces(const TopoDS_Shape& body, const std::vector<TopoDS_Face>& faces, const Shift& shift);

} // namespace kervo::geom
