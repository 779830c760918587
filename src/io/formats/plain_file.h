// What writers of text do last.
#pragma once

#include <fstream>
#include <string>

namespace kervo::io {

/// Whether all of it is in the file.
inline bool write_plain(const std::string& path, const std::string& text) {
    std::ofstream out(path, std::ios::binary);
    out << text;
    out.close();
    return out.good();
}

} // namespace kervo::io
