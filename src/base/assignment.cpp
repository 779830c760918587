#include "base/assignment.h"

namespace kervo {

namespace {

std::string trimmed(const std::string& text) {
    const auto first = text.find_first_not_of(" \t");
    return first == std::string::npos ? std::string() : text.substr(first, text.find_last_not_of(" \t") - first + 1);
}

} // namespace

std::optional<Assignment> split_assignment(const std::string& text) {
    const auto equals = text.find('=');
    if (equals == std::string::npos || text.find('=', equals + 1) != std::string::npos) {
        return std::nullopt;
    }
    Assignment found{trimmed(text.substr(0, equals)), trimmed(text.substr(equals + 1))};
    return is_parameter_name(found.name) && !found.formula.empty() ? std::optional(found) : std::nullopt;
}

std::string formula_in(const std::string& text) {
    const auto assignment = split_assignment(text);
    return assignment ? assignment->formula : text;
}

} // namespace kervo
