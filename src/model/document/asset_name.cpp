#include "model/document/asset_name.h"

#include "base/text.h"

#include <algorithm>
#include <filesystem>

namespace kervo::model {

namespace {

bool is_allowed(char c) {
    const auto code = static_cast<unsigned char>(c);
    return c != '/' && c != '\\' && code >= 0x20 && code != 0x7f;
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
