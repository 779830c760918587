// "clearance = 1 mm": a formula that gives itself a name, as one types it where a number is asked for.
#pragma once

#include "base/formula.h"

#include <optional>
#include <string>

namespace kervo {

struct Assignment {
    std::string name;
    std::string formula;
};

/// Nothing where the text is no name, an equals sign and something behind it.
std::optional<Assignment> split_assignment(const std::string& text);

/// What of a text has a value: behind the equals sign, or all of it.
std::string formula_in(const std::string& text);

} // namespace kervo
