#include "base/formula.h"

#include "base/formula_parts.h"

#include <muParser.h>

#include <cctype>
#include <cmath>
#include <numbers>
#include <optional>
#include <vector>

namespace kervo {

using formula::comma_finding;
using formula::dimension_of;
using formula::Powers;
using formula::starts_number;
using formula::Token;
using formula::tokens_of;
using formula::value_of;

namespace {

const std::set<std::string> function_names{"sin",   "cos",  "tan", "asin", "acos", "atan",  "atan2", "sqrt",
                                           "abs",   "min",  "max", "exp",  "ln",   "log10", "floor", "ceil",
                                           "round", "sign", "mod", "sum",  "avg",  "log2"};

// "2 mm" becomes "(2*unit_mm)", ") mm" becomes ")*unit_mm": a unit binds tighter than any operator.
std::string with_units_spelled_out(const std::vector<Token>& tokens) {
    std::string out;
    std::string previous;
    size_t previous_start = 0;
    for (const Token& token : tokens) {
        if (token.kind == Token::Kind::space) {
            continue;
        }
        const bool after_number =
            !previous.empty() &&
            (std::isdigit(static_cast<unsigned char>(previous.back())) || previous.back() == '.') &&
            starts_number(previous, 0);
        if (token.kind == Token::Kind::name && find_unit(token.text) && after_number) {
            out.insert(previous_start, "(");
            out += "*unit_" + token.text + ")";
        } else if (token.kind == Token::Kind::name && find_unit(token.text) && previous == ")") {
            out += "*unit_" + token.text;
        } else {
            previous_start = out.size();
            // Two numbers or names in a row must not melt into one token once the space between them is gone.
            if (token.kind != Token::Kind::symbol && !previous.empty() &&
                (std::isalnum(static_cast<unsigned char>(previous.back())) || previous.back() == '_')) {
                out += ' ';
                ++previous_start;
            }
            out += token.text;
        }
        previous = token.text;
    }
    return out;
}

void define_vocabulary(mu::Parser& parser) {
    parser.ClearFun();
    parser.ClearConst();
    for (const Unit& unit : all_units()) {
        parser.DefineConst("unit_" + std::string(unit.name), unit.factor);
    }
    parser.DefineFun("sin", static_cast<double (*)(double)>([](double x) { return std::sin(x); }));
    parser.DefineFun("cos", static_cast<double (*)(double)>([](double x) { return std::cos(x); }));
    parser.DefineFun("tan", static_cast<double (*)(double)>([](double x) { return std::tan(x); }));
    parser.DefineFun("asin", static_cast<double (*)(double)>([](double x) { return std::asin(x); }));
    parser.DefineFun("acos", static_cast<double (*)(double)>([](double x) { return std::acos(x); }));
    parser.DefineFun("atan", static_cast<double (*)(double)>([](double x) { return std::atan(x); }));
    parser.DefineFun("atan2",
                     static_cast<double (*)(double, double)>([](double y, double x) { return std::atan2(y, x); }));
    parser.DefineFun("floor", static_cast<double (*)(double)>([](double x) { return std::floor(x); }));
    parser.DefineFun("ceil", static_cast<double (*)(double)>([](double x) { return std::ceil(x); }));
    parser.DefineFun("round", static_cast<double (*)(double)>([](double x) { return std::round(x); }));
    parser.DefineFun("mod",
                     static_cast<double (*)(double, double)>([](double x, double y) { return std::fmod(x, y); }));
    parser.DefineFun("sqrt", static_cast<double (*)(double)>([](double x) { return std::sqrt(x); }));
    parser.DefineFun("abs", static_cast<double (*)(double)>([](double x) { return std::fabs(x); }));
    parser.DefineFun("exp", static_cast<double (*)(double)>([](double x) { return std::exp(x); }));
    parser.DefineFun("ln", static_cast<double (*)(double)>([](double x) { return std::log(x); }));
    parser.DefineFun("log10", static_cast<double (*)(double)>([](double x) { return std::log10(x); }));
    parser.DefineFun("log2", static_cast<double (*)(double)>([](double x) { return std::log2(x); }));
    parser.DefineFun("sign", static_cast<double (*)(double)>([](double x) {
                         return x < 0 ? -1.0 : x > 0 ? 1.0 : 0.0;
                     }));
    const auto smallest = [](const double* values, int count) {
        double result = values[0];
        for (int i = 1; i < count; ++i) {
            result = std::fmin(result, values[i]);
        }
        return result;
    };
    const auto largest = [](const double* values, int count) {
        double result = values[0];
        for (int i = 1; i < count; ++i) {
            result = std::fmax(result, values[i]);
        }
        return result;
    };
    const auto total = [](const double* values, int count) {
        double result = 0;
        for (int i = 0; i < count; ++i) {
            result += values[i];
        }
        return result;
    };
    const auto mean = [](const double* values, int count) {
        double result = 0;
        for (int i = 0; i < count; ++i) {
            result += values[i];
        }
        return result / count;
    };
    using Many = double (*)(const double*, int);
    parser.DefineFun("min", static_cast<Many>(smallest));
    parser.DefineFun("max", static_cast<Many>(largest));
    parser.DefineFun("sum", static_cast<Many>(total));
    parser.DefineFun("avg", static_cast<Many>(mean));
    parser.DefineConst("pi", std::numbers::pi);
}

// Whether the comma may be meant as a decimal one though it separates arguments, as in "max(0,5 mm, a)".
bool is_decimal_comma(const std::vector<Token>& tokens, size_t comma) {
    if (comma == 0 || comma + 1 >= tokens.size() || tokens[comma - 1].kind != Token::Kind::number ||
        tokens[comma + 1].kind != Token::Kind::number || tokens[comma - 1].text.find('.') != std::string::npos) {
        return false;
    }
    size_t behind = comma + 2;
    while (behind < tokens.size() && tokens[behind].kind == Token::Kind::space) {
        ++behind;
    }
    return behind < tokens.size() && tokens[behind].kind == Token::Kind::name && find_unit(tokens[behind].text);
}

// A parser with all functions and units; names are told to it before each formula.
mu::Parser& vocabulary() {
    thread_local mu::Parser parser = [] {
        mu::Parser fresh;
        define_vocabulary(fresh);
        return fresh;
    }();
    return parser;
}

} // namespace

bool formula::is_function(const std::string& name) {
    return function_names.contains(name);
}

double formula::value_of(const std::string& spelled, const ParameterValues& values,
                         const std::set<std::string>& reads) {
    mu::Parser& parser = vocabulary();
    std::vector<double> numbers;
    numbers.reserve(reads.size());
    parser.ClearVar();
    for (const std::string& name : reads) {
        if (const auto value = values.find(name); value != values.end()) {
            numbers.push_back(value->second.value);
            parser.DefineVar(name, &numbers.back());
        }
    }
    parser.SetExpr(spelled);
    const double result = parser.Eval();
    parser.ClearVar();
    return result;
}

std::set<std::string> names_read(const std::string& text) {
    std::set<std::string> names;
    const auto tokens = tokens_of(text);
    std::string previous;
    for (const Token& token : tokens) {
        if (token.kind == Token::Kind::space) {
            continue;
        }
        const bool unit_place = !previous.empty() && (starts_number(previous, 0) || previous == ")");
        if (token.kind == Token::Kind::name && !formula::is_function(token.text) && token.text != "pi" &&
            !(unit_place && find_unit(token.text))) {
            names.insert(token.text);
        }
        previous = token.text;
    }
    return names;
}

bool is_parameter_name(const std::string& name) {
    const auto tokens = tokens_of(name);
    return tokens.size() == 1 && tokens[0].kind == Token::Kind::name && !find_unit(name) &&
           !formula::is_function(name) && name != "pi" && name.rfind("unit_", 0) != 0;
}

std::string rename_in_formula(const std::string& text, const std::string& from, const std::string& to) {
    std::string out;
    for (const Token& token : tokens_of(text)) {
        out += token.kind == Token::Kind::name && token.text == from ? to : token.text;
    }
    return out;
}

Result<Quantity> evaluate_formula(const std::string& text, const ParameterValues& values) {
    constexpr size_t longest = 10000;
    if (text.size() > longest) {
        return error_finding("formula.long", "The formula has more than 10000 characters.",
                             "Give parts of it names as parameters of their own.");
    }
    if (text.find_first_not_of(" \t") == std::string::npos) {
        return error_finding("formula.empty", "There is no formula here.", "Type a number, a unit or a formula.");
    }
    const auto tokens = tokens_of(text);
    const auto reads = names_read(text);
    for (size_t i = 0; i < tokens.size(); ++i) {
        if (tokens[i].text == "," && is_decimal_comma(tokens, i)) {
            return comma_finding(text);
        }
    }
    for (const std::string& name : reads) {
        if (!values.contains(name)) {
            const bool unit = find_unit(name).has_value();
            return error_finding("formula.unknown_name",
                                 unit ? "The unit \u201c" + name + "\u201d stands without a number before it."
                                      : "\u201c" + name + "\u201d is not a parameter.",
                                 unit ? "Write a number before the unit."
                                      : "Add a parameter of that name, or correct it.");
        }
    }
    try {
        const std::string spelled = with_units_spelled_out(tokens);
        const auto powers = dimension_of(text, spelled, values, reads);
        if (!powers && powers.finding().code == "formula.comma") {
            return powers.finding();
        }
        const double value = value_of(spelled, values, reads); // which says best what cannot be read
        if (!powers) {
            return powers.finding();
        }
        if (!std::isfinite(value)) {
            return error_finding("formula.not_finite", "\u201c" + text + "\u201d has no finite value.",
                                 "Look for a division by zero, a root of a negative number, or a number that is far "
                                 "too large.");
        }
        if (powers->any) {
            return Quantity{value, plain_number, value == 0};
        }
        const Dimension dimension{static_cast<int>(std::lround(powers->length)),
                                  static_cast<int>(std::lround(powers->angle))};
        if (!Powers::is_whole(powers->length, dimension.length) || !Powers::is_whole(powers->angle, dimension.angle)) {
            return error_finding("formula.unlike",
                                 "\u201c" + text +
                                     "\u201d is a root or power of a length or angle "
                                     "that is neither of them.",
                                 "Take the root of an area, or of a plain number.");
        }
        return Quantity{value, dimension, false};
    } catch (const mu::Parser::exception_type& error) {
        std::string complaint = error.GetMsg();
        complaint += complaint.empty() || complaint.back() != '.' ? "." : "";
        return error_finding("formula.syntax", "\u201c" + text + "\u201d cannot be read: " + complaint,
                             "Correct the formula.");
    }
}

Result<double> as_dimension(const std::string& text, const Quantity& quantity, const Dimension& wanted,
                            std::string_view plain_unit) {
    double value = quantity.value;
    if (!quantity.any_dimension && quantity.dimension != wanted) {
        if (quantity.dimension != plain_number) {
            return error_finding("formula.dimension",
                                 "\u201c" + text + "\u201d is " + describe(quantity.dimension) + ", but " +
                                     describe(wanted) + " is wanted.",
                                 "Correct the formula or its units.");
        }
        if (const auto unit = find_unit(plain_unit); unit && unit->dimension == wanted) {
            value *= unit->factor;
        } else if (wanted == angle_dimension) {
            value *= find_unit("deg")->factor;
        }
    }
    const bool length = wanted == length_dimension;
    if (const double most = length ? largest_length : largest_number; !(std::fabs(value) <= most)) {
        return error_finding("formula.too_large",
                             "\u201c" + text + "\u201d is beyond " + (length ? "100 km" : "a million million") +
                                 ", too large for " + describe(wanted) + " here.",
                             "Look for a unit or a power of ten that was not meant.");
    }
    return value;
}

Result<double> evaluate_as(const std::string& text, const ParameterValues& values, const Dimension& wanted,
                           std::string_view plain_unit) {
    const auto quantity = evaluate_formula(text, values);
    if (!quantity) {
        return quantity.finding();
    }
    return as_dimension(text, *quantity, wanted, plain_unit);
}

} // namespace kervo
