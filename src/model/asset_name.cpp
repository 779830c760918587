#include "model/asset_name.h"

#include <algorithm>
#include <filesystem>

namespace kervo::model {

namespace {

bool is_allowed(char c) {
    const auto code = static_cast<unsigned char>(c);
    return c != '/' && c != '\\' && code >= 0x20 && code != 0x7f;
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
    const bool good = !text.empty() && text.size() <= longest && text.front() != '.' &&
                      std::all_of(text.begin(), text.end(), is_allowed);
    return good ? std::optional(AssetName(text)) : std::nullopt;
}

AssetName AssetName::like(const std::string& text) {
    std::string stem = text;
    std::replace_if(
        stem.begin(), stem.end(), [](char c) { return !is_allowed(c); }, '-');
    stem.erase(0, stem.find_first_not_of('.'));
    std::string extension = std::filesystem::path(stem).extension().string();
    shorten(extension, longest / 4);
    stem = std::filesystem::path(stem).stem().string();
    shorten(stem, longest - extension.size());
    return AssetName((stem.empty() ? "file" : stem) + extension);
}

} // namespace kervo::model
