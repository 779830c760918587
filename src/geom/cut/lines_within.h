// Lines that end within a face: they bound nothing, and divide nothing.
#pragma once

#include <TopoDS_Face.hxx>
#include <gp_Pnt.hxx>

#include <vector>

namespace kervo::geom {

std::vector<TopoDS_Shape> lines_within(const TopoDS_Face& face);

/// The face without them; the same face where it has none.
TopoDS_Face without_lines_within(const TopoDS_Face& face);

/// Where a line within a face ends, or the middle of one that has no end of its own.
gp_Pnt loose_end(const TopoDS_Shape& line, const TopoDS_Face& face);

} // namespace kervo::geom
