// How far the kernel takes edges and vertices to be from where they are.
#pragma once

#include <TopoDS_Shape.hxx>

namespace kervo::geom {

/// Makes the tolerance of each edge and vertex as large as its curves are apart, and no larger: an operation that is
/// content with a thousandth of a millimetre says so of all that it makes, and a later cut then pulls together what
/// lies apart. Writes to the shape, which nobody else may hold. mm.
void tighten_tolerances(const TopoDS_Shape& own);

/// Of its edges and vertices, mm.
double largest_tolerance(const TopoDS_Shape& shape);

} // namespace kervo::geom
