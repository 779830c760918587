#include "base/text.h"

#include <algorithm>
#include <cctype>

namespace kervo {

std::string lower_case(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(), [](unsigned char c) {
        return c < 0x80 ? static_cast<char>(std::tolower(c)) : static_cast<char>(c);
    });
    return text;
}

std::string listed(const std::vector<std::string>& items) {
    std::string list;
    for (const std::string& item : items) {
        list.append(list.empty() ? "" : ", ").append(item);
    }
    return list;
}

std::string counted(size_t count, const std::string& one, const std::string& many) {
    return std::to_string(count) + ' ' + (count == 1 ? one : many);
}

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

void put_character(std::string& text, char32_t code) {
    const auto more = [&](unsigned shift) { text += static_cast<char>(0x80U | ((code >> shift) & 0x3fU)); };
    if (code < 0x80) {
        text += static_cast<char>(code);
    } else if (code < 0x800) {
        text += static_cast<char>(0xc0U | (code >> 6U));
        more(0);
    } else if (code < 0x10000) {
        text += static_cast<char>(0xe0U | (code >> 12U));
        more(6);
        more(0);
    } else {
        text += static_cast<char>(0xf0U | (code >> 18U));
        more(12);
        more(6);
        more(0);
    }
}

} // namespace kervo
