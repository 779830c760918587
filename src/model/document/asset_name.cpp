#include "model/document/asset_name.h"

#include <algorithm>
#include <filesystem>

namespace kervo::model {

namespace {

bool is_allowed(char c) {
    const auto code = static_cast<unsigned char>(c);
    return c != '/' && c != '\\' && code >= 0x20 && code != 0x7f;
}

// Bytes of the character that begins there; 0 where none does (UTF-8, RFC 3629).
size_t character_length(const std::string& text, size_t at) {
    const auto byte = [&](size_t i) { return i < text.size() ? static_cast<unsigned char>(text[i]) : 0U; };
    const unsigned first = byte(at);
    const size_t length = first < 0x80                    ? 1
                          : first >= 0xc2 && first < 0xe0 ? 2
                          : first >= 0xe0 && first < 0xf0 ? 3
                          : first >= 0xf0 && first < 0xf5 ? 4
                                                          : 0;
    for (size_t i = 1; i < length; ++i) {
        if ((byte(at + i) & 0xc0U) != 0x80) {
            return 0;
        }
    }
    const unsigned second = byte(at + 1);
    const bool outside = (first == 0xe0 && second < 0xa0) || (first == 0xed && second >= 0xa0) ||
                         (first == 0xf0 && second < 0x90) || (first == 0xf4 && second >= 0x90);
    return outside ? 0 : length;
}

std::string cleaned(const std::string& text) {
    std::string clean;
    for (size_t at = 0; at < text.size();) {
        const size_t length = character_length(text, at);
        clean += length > 0 && is_allowed(text[at]) ? text.substr(at, length) : "-";
        at += std::max<size_t>(length, 1);
    }
    return clean;
}

// No part of a character is left at the end.
void shorten(std::string& text, size_t most) {
    if (text.size() > most) {
        while (most > 0 && (static_cast<unsigned char>(text[most]) & 0xc0) == 0x80) {
            --most;
        }
        text.resize(most);
    }
}

} // namespace

std::optional<AssetName> AssetName::from(const std::string& text) {
    const bool good = !text.empty() && text.size() <= longest && text.front() != '.' && cleaned(text) == text;
    return good ? std::optional(AssetName(text)) : std::nullopt;
}

AssetName AssetName::like(const std::string& text) {
    std::string stem = cleaned(text);
    stem.erase(0, stem.find_first_not_of('.'));
    std::string extension = std::filesystem::path(stem).extension().string();
    shorten(extension, longest / 4);
    stem = std::filesystem::path(stem).stem().string();
    shorten(stem, longest - extension.size());
    return AssetName((stem.empty() ? "file" : stem) + extension);
}

} // namespace kervo::model
