// BREP, the kernel's own text: bodies to the last digit, without names and colours.
#pragma once

#include "io/formats/format.h"

namespace kervo::io {

Format brep_format();

std::string brep_text(const std::vector<NamedBody>& bodies);
/// Of one body.
std::string brep_of(const std::string& name, const std::string& color, const model::Body& body);

} // namespace kervo::io
