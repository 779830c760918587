// Small things that are done to text in several places.
#pragma once

#include <string>
#include <vector>

namespace kervo {

/// Of the letters of ASCII; others stay as they are.
std::string lower_case(std::string text);
/// "a, b, c".
std::string listed(const std::vector<std::string>& items);

/// "1 curve", "3 curves".
std::string counted(size_t count, const std::string& one, const std::string& many);

/// Bytes of the character that begins there; 0 where none does (UTF-8, RFC 3629).
size_t character_length(const std::string& text, size_t at);
/// Adds the character of that number, as UTF-8.
void put_character(std::string& text, char32_t code);

} // namespace kervo
