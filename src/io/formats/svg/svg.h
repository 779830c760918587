// SVG 1.1 and 2: paths, shapes, transforms, groups, uses, view boxes and units; curves stay what they are. Source: the
// W3C's recommendation. Written at scale: one user unit is 1 mm; splines of a degree above 3 become cubic pieces within
// 1e-4 mm.
#pragma once

#include "io/formats/format.h"

namespace kervo::io {

Format svg_format();

Result<sketch::Artwork> read_svg(const std::string& bytes);
std::string svg_text(const sketch::Sketch& drawing);

} // namespace kervo::io
