// Text in STEP files: ISO 10303-21, where all but the plain characters is written by number.
#pragma once

#include <string>

namespace kervo::io {

/// UTF-8 with every character beyond ASCII as `\X2\....\X0\`, or `\X4\........\X0\` beyond the 16-bit ones.
std::string as_part21(const std::string& utf8);

} // namespace kervo::io
