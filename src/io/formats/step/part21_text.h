// Text in STEP files: ISO 10303-21, where all but the plain characters is written by number.
#pragma once

#include <map>
#include <set>
#include <string>

namespace kervo::io {

/// UTF-8 with every character beyond ASCII as `\X2\....\X0\`, or `\X4\........\X0\` beyond the 16-bit ones.
std::string as_part21(const std::string& utf8);

/// The file with the exponents of its numbers after a capital E, as the standard wants it: the kernel's reader takes
/// what is written after a small one for another number.
std::string with_capital_exponents(std::string file);

/// How often each kind of entity stands in the file, of those asked for.
std::map<std::string, size_t> count_entities(const std::string& file, const std::set<std::string>& kinds);

} // namespace kervo::io
