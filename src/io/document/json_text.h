// Reading JSON that strangers wrote.
#pragma once

#include "base/finding.h"

#include <nlohmann/json.hpp>

namespace kervo::io {

/// `text` as a value. Refused, with what and where (file.json): what is no JSON, is nested deeper than 200 levels, or
/// holds a number beyond 1e12 (a whole one beyond what 32 bits hold). Never throws.
Result<nlohmann::ordered_json> parse_json(const std::string& text);

} // namespace kervo::io
