// What two shapes have in common, with failure as a value.
#pragma once

#include "geom/kernel/boolean.h"
#include "geom/kernel/near_origin.h"

#include <BRepAlgoAPI_Common.hxx>

#include <optional>

namespace kervo::geom {

/// The kernel's common part of two shapes, neither of which is changed. Nothing where the kernel cannot tell.
inline std::optional<TopoDS_Shape> common_part(const TopoDS_Shape& first, const TopoDS_Shape& second) {
    BRepAlgoAPI_Common common;
    const NearOrigin near({first, second});
    return run_boolean(common, near.bring(first), near.bring(second)) ? std::optional(near.take_back(common.Shape()))
                                                                      : std::nullopt;
}

} // namespace kervo::geom
