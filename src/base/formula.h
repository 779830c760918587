// Formulas with units and parameters: "ring_od / 2 + 2 mm", "36 deg", "max(plate, 1 in)".
//
// Evaluation is muParser's. Dimensions are worked out from how a formula is built: sums and comparisons want like
// things, products add powers, roots halve them. "16 mm + 3" adds unlike things and is refused, whatever the values
// are; only a zero that is written as one is a zero of everything.
#pragma once

#include "base/finding.h"
#include "base/units.h"

#include <map>
#include <set>
#include <string>

namespace kervo {

/// Values of parameters by name, in mm and rad.
using ParameterValues = std::map<std::string, Quantity>;

/// A formula as the user wrote it. Part of step definitions.
struct Expression {
    std::string text;
    friend bool operator==(const Expression&, const Expression&) = default;
};

/// No length of a model may be larger (100 km): beyond it doubles no longer tell apart what the kernel must.
inline constexpr double largest_length = 1e8;  // mm
inline constexpr double largest_number = 1e12; // plain, rad, or another power of mm

/// Value and dimension of `text`. Findings: formula.empty, formula.syntax, formula.unknown_name, formula.unlike,
/// formula.comma, formula.deep, formula.long, formula.not_finite.
Result<Quantity> evaluate_formula(const std::string& text, const ParameterValues& values);

/// The same, as a number of the wanted dimension in mm or rad. A plain number where a length is wanted is taken as
/// `plain_unit` (millimetres, for angles degrees, unless said otherwise). Findings: also those of as_dimension.
Result<double> evaluate_as(const std::string& text, const ParameterValues& values, const Dimension& wanted,
                           std::string_view plain_unit = {});

/// What evaluate_as makes of a value that is known already; `text` is the formula that it comes from. Findings:
/// formula.dimension, formula.too_large.
Result<double> as_dimension(const std::string& text, const Quantity& quantity, const Dimension& wanted,
                            std::string_view plain_unit = {});

/// Names of the parameters that `text` reads (not of functions, units or constants). Empty for text that does not lex.
std::set<std::string> names_read(const std::string& text);

/// A legal parameter name: a letter or underscore, then letters, digits, underscores; not a unit, function or constant.
bool is_parameter_name(const std::string& name);

/// `text` with parameter `from` renamed to `to`, everything else to the letter.
std::string rename_in_formula(const std::string& text, const std::string& from, const std::string& to);

} // namespace kervo
