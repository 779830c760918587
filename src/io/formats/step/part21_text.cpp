#include "io/formats/step/part21_text.h"

#include "base/text.h"

#include <algorithm>
#include <cstdio>

namespace kervo::io {

namespace {

// The character that begins at `at`, which goes behind it; a byte that begins none is taken as it is in Latin-1.
char32_t next_character(const std::string& utf8, size_t& at) {
    const size_t length = character_length(utf8, at);
    const auto byte = [&](size_t i) { return static_cast<unsigned char>(utf8[i]); };
    char32_t code = length < 2 ? byte(at) : byte(at) & (0x7fU >> length);
    for (size_t i = 1; i < length; ++i) {
        code = (code << 6U) | (byte(at + i) & 0x3fU);
    }
    at += std::max<size_t>(length, 1);
    return code;
}

} // namespace

std::string as_part21(const std::string& utf8) {
    std::string text;
    int width = 0; // of the run that is open, in hexadecimal digits
    const auto run = [&](int wanted) {
        if (width != wanted) {
            text += width != 0 ? "\\X0\\" : "";
            text += wanted == 4 ? "\\X2\\" : wanted == 8 ? "\\X4\\" : "";
            width = wanted;
        }
    };
    for (size_t at = 0; at < utf8.size();) {
        if (static_cast<signed char>(utf8[at]) >= 0) {
            run(0);
            text += utf8[at++];
            continue;
        }
        const char32_t code = next_character(utf8, at);
        run(code > 0xffff ? 8 : 4);
        char digits[9];
        std::snprintf(digits, sizeof digits, "%0*X", width, static_cast<unsigned>(code));
        text += digits;
    }
    run(0);
    return text;
}

} // namespace kervo::io
