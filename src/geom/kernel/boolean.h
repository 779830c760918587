// The one door to the kernel's Boolean operations on two groups of shapes (splits of all by all: fuse.h): none of the
// shapes is changed, and failure is a value.
#pragma once

#include "geom/kernel/kernel_progress.h"
#include "geom/kernel/shape.h"

#include <BRepAlgoAPI_BooleanOperation.hxx>
#include <Standard_Failure.hxx>
#include <TopTools_ListOfShape.hxx>

namespace kervo::geom {

/// Runs one of BRepAlgoAPI's operations, to be asked for its shape and history then. False where the kernel gave up,
/// threw, or was told to stop.
inline bool run_boolean(BRepAlgoAPI_BooleanOperation& operation, const TopTools_ListOfShape& arguments,
                        const TopTools_ListOfShape& tools, Progress& progress) {
    try {
        operation.SetArguments(arguments);
        operation.SetTools(tools);
        operation.SetNonDestructive(Standard_True);
        operation.SetRunParallel(Standard_True);
        Handle(KernelProgress) watch = new KernelProgress(progress);
        operation.Build(watch->Start());
        return operation.IsDone() && !operation.HasErrors() && !progress.cancelled();
    } catch (const Standard_Failure&) {
        return false;
    }
}

inline bool run_boolean(BRepAlgoAPI_BooleanOperation& operation, const TopoDS_Shape& one, const TopoDS_Shape& other) {
    TopTools_ListOfShape arguments;
    arguments.Append(one);
    TopTools_ListOfShape tools;
    tools.Append(other);
    Progress nobody_listens;
    return run_boolean(operation, arguments, tools, nobody_listens);
}

} // namespace kervo::geom
