// What formulas are made of: tokens, and the dimension that follows from how they are put together.
#pragma once

#include "base/formula.h"

#include <cmath>
#include <vector>

namespace kervo::formula {

struct Token {
    enum class Kind { number, name, symbol, space } kind;
    std::string text;
};

/// All of the text, blanks too.
std::vector<Token> tokens_of(const std::string& text);
/// Whether a number starts at that place of the text.
bool starts_number(const std::string& text, size_t at);

bool is_function(const std::string& name);
/// What muParser makes of a text with its units as factors; throws its exception where it cannot be read.
double value_of(const std::string& spelled, const ParameterValues& values, const std::set<std::string>& reads);

/// formula.comma; says how the first decimal comma is to be written.
Finding comma_finding(const std::string& text);

/// Powers of length and angle; a literal zero is a zero of everything. Powers may be broken on the way (a root).
struct Powers {
    double length = 0;
    double angle = 0;
    bool any = false;

    [[nodiscard]] bool plain() const { return any || (is_whole(length, 0) && is_whole(angle, 0)); }
    static bool is_whole(double power, double wanted) { return std::fabs(power - wanted) < 1e-9; }
};

/// Works out a formula's dimension from how it is built, by recursive descent over muParser's grammar; what is met and
/// not expected is refused. `spelled`: the text with its units as factors; `reads`: the names in it. Findings:
/// formula.unlike, formula.comma, formula.syntax, formula.deep.
Result<Powers> dimension_of(const std::string& text, const std::string& spelled, const ParameterValues& values,
                            const std::set<std::string>& reads);

} // namespace kervo::formula
