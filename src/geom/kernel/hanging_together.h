// Which shapes hang together: those that share an element, directly or through others.
#pragma once

#include "geom/kernel/shape.h"

#include <TopAbs_ShapeEnum.hxx>

#include <functional>

namespace kervo::geom {

/// `over`: the kind of element that they share; `counts`: which of them do, all where it is not given.
std::vector<std::vector<TopoDS_Shape>>
hanging_together(const std::vector<TopoDS_Shape>& shapes, TopAbs_ShapeEnum over = TopAbs_FACE,
                 const std::function<bool(const TopoDS_Shape&)>& counts = nullptr);

} // namespace kervo::geom
