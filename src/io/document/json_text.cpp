#include "io/document/json_text.h"

#include <cmath>
#include <limits>
#include <string_view>

namespace kervo::io {

namespace {

using Json = nlohmann::ordered_json;

constexpr int deepest = 200;
constexpr double largest = 1e12;

Finding refused(const std::string& cause) {
    return error_finding("file.json", "The document cannot be read: " + cause + ".",
                         "Correct the file, or take an older copy. It was not changed.");
}

// Before anything is built: what is nested too deeply would overflow the stack of whoever walks over it.
bool too_deep(std::string_view text) {
    int depth = 0;
    bool quoted = false;
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (quoted) {
            i += c == '\\' ? 1 : 0;
            quoted = c != '"';
        } else if (c == '"') {
            quoted = true;
        } else if (c == '[' || c == '{') {
            if (++depth > deepest) {
                return true;
            }
        } else if (c == ']' || c == '}') {
            --depth;
        }
    }
    return false;
}

// The first number that is too large, as text; empty where there is none.
std::string too_large(const Json& json) {
    if (json.is_number_float()) {
        return std::fabs(json.get<double>()) <= largest ? "" : json.dump();
    }
    if (json.is_number_integer()) {
        const bool fits = json.is_number_unsigned()
                              ? json.get<std::uint64_t>() <= std::numeric_limits<std::int32_t>::max()
                              : std::llabs(json.get<std::int64_t>()) <= std::numeric_limits<std::int32_t>::max();
        return fits ? "" : json.dump();
    }
    for (const Json& item : json) {
        if (item.is_number() || item.is_structured()) {
            if (std::string found = too_large(item); !found.empty()) {
                return found;
            }
        }
    }
    return {};
}

} // namespace

Result<Json> parse_json(const std::string& text) {
    if (too_deep(text)) {
        return refused("it is nested deeper than " + std::to_string(deepest) + " levels");
    }
    try {
        Json json = Json::parse(text);
        if (const std::string number = json.is_primitive() ? "" : too_large(json); !number.empty()) {
            return refused("the number " + number + " is too large");
        }
        return json;
    } catch (const Json::exception& error) {
        return refused(in_plain_words(error));
    }
}

std::string in_plain_words(const std::exception& error) {
    std::string text = error.what();
    if (text.starts_with("[json.exception")) {
        text = text.substr(text.find("] ") + 2);
    }
    const auto between = [&](const std::string& from, const std::string& to) {
        const size_t start = text.find(from);
        const size_t end = start == std::string::npos ? start : text.find(to, start + from.size());
        return end == std::string::npos ? std::string() : text.substr(start + from.size(), end - start - from.size());
    };
    if (const std::string place = between("parse error at ", ":"); !place.empty()) {
        const std::string read = between("last read: '", "'");
        return "at " + place + " it is no JSON" + (read.empty() ? "" : ": \u201c" + read + "\u201d");
    }
    if (const std::string wanted = between("type must be ", ", but is "); !wanted.empty()) {
        return "a " + wanted + " is expected, not a " + text.substr(text.rfind(' ') + 1);
    }
    if (const std::string key = between("key '", "'"); !key.empty()) {
        return "\u201c" + key + "\u201d is missing";
    }
    return text;
}

} // namespace kervo::io
