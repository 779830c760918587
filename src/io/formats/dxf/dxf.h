// DXF: lines, arcs, circles, ellipses, polylines with bulges, splines, blocks, layers, units ($INSUNITS). Written as
// AC1015 in mm, guides on a layer of their own.
#pragma once

#include "io/formats/format.h"

namespace kervo::io {

Format dxf_format();

Result<sketch::Artwork> read_dxf(const std::string& bytes, Progress& progress);
bool write_dxf(const sketch::Sketch& drawing, const std::string& path);

} // namespace kervo::io
