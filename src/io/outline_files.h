// Outlines from files and to files: SVG and DXF, in mm, the y-axis upwards. These functions trust their input with the
// process they run in; for files from outside use import_child.h.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "sketch/figures.h"

namespace kervo::io {

/// SVG 1.1 and 2: paths, shapes, transforms, groups, uses, view boxes and units; curves stay what they are. Source:
/// the W3C's recommendation. Finding: import.unreadable.
Result<sketch::Artwork> read_svg(const std::string& bytes, const std::string& name);

/// DXF: lines, arcs, circles, ellipses, polylines with bulges, splines, blocks, layers, units ($INSUNITS). Finding:
/// import.unreadable.
Result<sketch::Artwork> read_dxf(const std::string& bytes, const std::string& name, Progress& progress);

/// The curves of a sketch as it is solved, and what its figures draw, as DXF (AC1015), in mm; guides on a layer of
/// their own. Finding: file.write. Writes in one move.
std::optional<Finding> write_dxf(const sketch::Sketch& drawing, const std::string& path);
/// The same as SVG at scale: one user unit is 1 mm. Splines of a degree above 3 become cubic pieces within 1e-4 mm.
std::optional<Finding> write_svg(const sketch::Sketch& drawing, const std::string& path);

} // namespace kervo::io
