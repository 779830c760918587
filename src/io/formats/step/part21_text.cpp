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

// Calls for every character that is neither in a text nor in a comment, by its index.
template <class Visit> void each_plain_character(const std::string& file, const Visit& visit) {
    for (size_t at = 0; at < file.size(); ++at) {
        if (file[at] == '\'') {
            at = std::min(file.find('\'', at + 1), file.size());
        } else if (file.compare(at, 2, "/*") == 0) {
            at = std::min(file.find("*/", at + 2), file.size());
        } else {
            visit(at);
        }
    }
}

bool is_digit(char c) {
    return c >= '0' && c <= '9';
}
bool is_of_a_keyword(char c) {
    return (c >= 'A' && c <= 'Z') || is_digit(c) || c == '_';
}

} // namespace

std::string with_capital_exponents(std::string file) {
    each_plain_character(file, [&](size_t at) {
        if (file[at] == 'e' && at > 0 && (is_digit(file[at - 1]) || file[at - 1] == '.')) {
            file[at] = 'E';
        }
    });
    return file;
}

std::map<std::string, size_t> count_entities(const std::string& file, const std::set<std::string>& kinds) {
    std::map<std::string, size_t> counts;
    std::string word;
    bool ended = false; // by a space, after which its bracket may still come
    each_plain_character(file, [&](size_t at) {
        const char c = file[at];
        if (is_of_a_keyword(c)) {
            word = ended ? std::string(1, c) : word + c;
            ended = false;
        } else if (static_cast<unsigned char>(c) <= ' ') {
            ended = true;
        } else {
            if (c == '(' && kinds.contains(word)) {
                ++counts[word];
            }
            word.clear();
            ended = false;
        }
    });
    return counts;
}

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
