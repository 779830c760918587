// Bodies without some of their faces.
#pragma once

#include "base/finding.h"
#include "geom/alter/altered.h"

namespace kervo::geom {

/// The neighbours are extended until they close the place where the faces were (the kernel's defeaturing). Finding:
/// remove.not_healed, where they do not meet.
Result<Altered> heal_without(const TopoDS_Shape& body, const std::vector<TopoDS_Face>& faces);

/// A surface that is open where the faces were. Finding: remove.nothing_left.
Result<Altered> open_without(const TopoDS_Shape& body, const std::vector<TopoDS_Face>& faces);

} // namespace kervo::geom
