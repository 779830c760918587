// Reading JSON that strangers wrote.
#pragma once

#include "base/finding.h"

#include <nlohmann/json.hpp>

namespace kervo::io {

/// `text` as a value. Refused, with what and where (file.json): what is no JSON, is nested deeper than 200 levels, or
/// holds a number beyond 1e12 (a whole one beyond what 32 bits hold). Never throws.
Result<nlohmann::ordered_json> parse_json(const std::string& text);

/// What the library says of a text that is no JSON, or of a value of another type, as a person would.
std::string in_plain_words(const std::exception& error);

} // namespace kervo::io
