// Whether a division tells the truth about where its pieces lie.
#pragma once

#include "geom/cut/divide.h"
#include "geom/kernel/fuse.h"

namespace kervo::geom {

/// The kernel may miss that two solids overlap, or a part of it. Then a place on a face lies inside a solid, and the
/// piece that has the face is not said to be in it; or a cutter's face lies in the workpiece, and no piece has it.
/// Asked are parts of divided faces, and of small bodies all. `of`: the bodies whose pieces they are; `solids`: what
/// `inside` counts, surfaces among them are left out.
bool sides_agree(const Fuse& fuse, const std::vector<TopoDS_Shape>& of, const std::vector<TopoDS_Shape>& solids,
                 const Division& division);

} // namespace kervo::geom
