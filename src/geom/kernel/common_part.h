// What two shapes have in common, with failure as a value.
#pragma once

#include "geom/kernel/near_origin.h"
#include "geom/kernel/shape.h"

#include <BRepAlgoAPI_Common.hxx>

#include <optional>

namespace kervo::geom {

/// The kernel's common part of two shapes, neither of which is changed. Nothing where the kernel cannot tell; it may
/// also throw.
inline std::optional<TopoDS_Shape> common_part(const TopoDS_Shape& first, const TopoDS_Shape& second) {
    BRepAlgoAPI_Common common;
    TopTools_ListOfShape arguments;
    const NearOrigin near({first, second});
    arguments.Append(near.bring(first));
    TopTools_ListOfShape tools;
    tools.Append(near.bring(second));
    common.SetArguments(arguments);
    common.SetTools(tools);
    common.SetNonDestructive(Standard_True);
    common.Build();
    return common.IsDone() && !common.HasErrors() ? std::optional(near.take_back(common.Shape())) : std::nullopt;
}

} // namespace kervo::geom
