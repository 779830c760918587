// Which shapes hang together: those that share an element, directly or through others.
#pragma once

#include "geom/shape.h"

#include <TopAbs_ShapeEnum.hxx>

namespace kervo::geom {

/// `over`: the kind of element that they share.
std::vector<std::vector<TopoDS_Shape>> hanging_together(const std::vector<TopoDS_Shape>& shapes,
                                                        TopAbs_ShapeEnum over = TopAbs_FACE);

} // namespace kervo::geom
