// What the library's reader says nothing of: entities that are not to be seen, kinds that it does not know, widths of
// polylines, text in old code pages.
#pragma once

#include <set>
#include <string>

namespace kervo::io {

struct ScannedDxf {
    std::string text;           ///< without what is not to be seen, in UTF-8
    std::set<std::string> told; ///< what is left out or read in part
};

/// The library would look for ever behind a line that is longer than its buffer.
bool has_overlong_line(const std::string& bytes);

/// Goes over the pairs of group codes and values once.
ScannedDxf scan_dxf(const std::string& bytes);

/// By the code in which a drawing names its unit of length ($INSUNITS); 1 where it names none.
double mm_per_dxf_unit(int code);

/// Old text, in which a byte is a character (code page 1252), as UTF-8, characters by number (`\\U+00E4`) too; what is
/// UTF-8 already stays.
std::string dxf_text(const std::string& bytes);

} // namespace kervo::io
