#include "base/formula.h"

#include <muParser.h>

#include <array>
#include <cctype>
#include <cmath>
#include <numbers>
#include <vector>

namespace kervo {

namespace {

// The scale of angles during one probe; muParser's callbacks take plain numbers only, so it cannot be handed in.
thread_local double angle_scale = 1.0;

double sine(double x) {
    return std::sin(x / angle_scale);
}
double cosine(double x) {
    return std::cos(x / angle_scale);
}
double tangent(double x) {
    return std::tan(x / angle_scale);
}
double arcsine(double x) {
    return std::asin(x) * angle_scale;
}
double arccosine(double x) {
    return std::acos(x) * angle_scale;
}
double arctangent(double x) {
    return std::atan(x) * angle_scale;
}
double arctangent2(double y, double x) {
    return std::atan2(y, x) * angle_scale;
}
double round_down(double x) {
    return std::floor(x);
}
double round_up(double x) {
    return std::ceil(x);
}
double round_half_up(double x) {
    return std::round(x);
}
double remainder_of(double x, double y) {
    return std::fmod(x, y);
}

const std::set<std::string> function_names{"sin",   "cos",  "tan", "asin", "acos", "atan",  "atan2", "sqrt",
                                           "abs",   "min",  "max", "exp",  "ln",   "log10", "floor", "ceil",
                                           "round", "sign", "mod", "sum",  "avg",  "log2"};

struct Token {
    enum class Kind { number, name, symbol, space } kind;
    std::string text;
};

bool starts_number(const std::string& text, size_t at) {
    const auto digit = [&](size_t i) { return i < text.size() && std::isdigit(static_cast<unsigned char>(text[i])); };
    return digit(at) || (text[at] == '.' && digit(at + 1));
}

size_t end_of_number(const std::string& text, size_t at) {
    const auto digit = [&](size_t i) { return i < text.size() && std::isdigit(static_cast<unsigned char>(text[i])); };
    while (digit(at) || (at < text.size() && text[at] == '.')) {
        ++at;
    }
    if (at < text.size() && (text[at] == 'e' || text[at] == 'E')) {
        const size_t sign = at + 1 < text.size() && (text[at + 1] == '-' || text[at + 1] == '+') ? 1 : 0;
        if (digit(at + 1 + sign)) {
            at += 1 + sign;
            while (digit(at)) {
                ++at;
            }
        }
    }
    return at;
}

std::vector<Token> tokens_of(const std::string& text) {
    std::vector<Token> tokens;
    const auto letter = [](char c) { return std::isalpha(static_cast<unsigned char>(c)) || c == '_'; };
    size_t at = 0;
    while (at < text.size()) {
        size_t end = at + 1;
        Token::Kind kind = Token::Kind::symbol;
        if (starts_number(text, at)) {
            kind = Token::Kind::number;
            end = end_of_number(text, at);
        } else if (letter(text[at])) {
            kind = Token::Kind::name;
            while (end < text.size() && (letter(text[end]) || std::isdigit(static_cast<unsigned char>(text[end])))) {
                ++end;
            }
        } else if (std::isspace(static_cast<unsigned char>(text[at]))) {
            kind = Token::Kind::space;
        }
        tokens.push_back({kind, text.substr(at, end - at)});
        at = end;
    }
    return tokens;
}

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
    parser.DefineFun("sin", sine);
    parser.DefineFun("cos", cosine);
    parser.DefineFun("tan", tangent);
    parser.DefineFun("asin", arcsine);
    parser.DefineFun("acos", arccosine);
    parser.DefineFun("atan", arctangent);
    parser.DefineFun("atan2", arctangent2);
    parser.DefineFun("floor", round_down);
    parser.DefineFun("ceil", round_up);
    parser.DefineFun("round", round_half_up);
    parser.DefineFun("mod", remainder_of);
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

// Evaluates with every length scaled by `lengths` and every angle by `angles`.
double probe(const std::string& spelled, const ParameterValues& values, const std::set<std::string>& reads,
             double lengths, double angles) {
    mu::Parser parser;
    define_vocabulary(parser);
    const auto scale = [&](const Dimension& d) { return std::pow(lengths, d.length) * std::pow(angles, d.angle); };
    for (const Unit& unit : all_units()) {
        parser.DefineConst("unit_" + std::string(unit.name), unit.factor * scale(unit.dimension));
    }
    for (const std::string& name : reads) {
        const Quantity& value = values.at(name);
        parser.DefineConst(name, value.value * scale(value.dimension));
    }
    parser.SetExpr(spelled);
    angle_scale = angles;
    const double result = parser.Eval();
    angle_scale = 1.0;
    return result;
}

// The power by which the value grows, from two probes at factors 2 and 3; nullopt when there is none.
std::optional<int> power_of_growth(double base, double doubled, double tripled) {
    const double exponent = std::log2(doubled / base);
    const double rounded = std::round(exponent);
    const bool whole = std::fabs(exponent - rounded) < 1e-7;
    const bool consistent = std::fabs(tripled / base / std::pow(3.0, rounded) - 1.0) < 1e-7;
    if (!whole || !consistent) {
        return std::nullopt;
    }
    return static_cast<int>(rounded);
}

} // namespace

std::set<std::string> names_read(const std::string& text) {
    std::set<std::string> names;
    const auto tokens = tokens_of(text);
    std::string previous;
    for (const Token& token : tokens) {
        if (token.kind == Token::Kind::space) {
            continue;
        }
        const bool unit_place = !previous.empty() && (starts_number(previous, 0) || previous == ")");
        if (token.kind == Token::Kind::name && !function_names.contains(token.text) && token.text != "pi" &&
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
           !function_names.contains(name) && name != "pi" && name.rfind("unit_", 0) != 0;
}

std::string rename_in_formula(const std::string& text, const std::string& from, const std::string& to) {
    std::string out;
    for (const Token& token : tokens_of(text)) {
        out += token.kind == Token::Kind::name && token.text == from ? to : token.text;
    }
    return out;
}

Result<Quantity> evaluate_formula(const std::string& text, const ParameterValues& values) {
    const auto tokens = tokens_of(text);
    const auto reads = names_read(text);
    if (text.find_first_not_of(" \t") == std::string::npos) {
        return error_finding("formula.empty", "There is no formula here.", "Type a number, a unit or a formula.");
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
        const double base = probe(spelled, values, reads, 1, 1);
        if (!std::isfinite(base)) {
            return error_finding("formula.not_finite", "\u201c" + text + "\u201d has no finite value.",
                                 "Look for a division by zero or a root of a negative number.");
        }
        if (base == 0.0) {
            return Quantity{0, plain_number, true};
        }
        const auto by_length =
            power_of_growth(base, probe(spelled, values, reads, 2, 1), probe(spelled, values, reads, 3, 1));
        const auto by_angle =
            power_of_growth(base, probe(spelled, values, reads, 1, 2), probe(spelled, values, reads, 1, 3));
        if (!by_length || !by_angle) {
            return error_finding("formula.unlike", "\u201c" + text + "\u201d adds or compares unlike things.",
                                 "Give every number in it its unit, as in 3 mm.");
        }
        return Quantity{base, {*by_length, *by_angle}, false};
    } catch (const mu::Parser::exception_type& error) {
        angle_scale = 1.0;
        return error_finding("formula.syntax", "\u201c" + text + "\u201d cannot be read: " + error.GetMsg(),
                             "Correct the formula.");
    }
}

Result<double> evaluate_as(const std::string& text, const ParameterValues& values, const Dimension& wanted,
                           std::string_view plain_unit) {
    const auto quantity = evaluate_formula(text, values);
    if (!quantity) {
        return quantity.finding();
    }
    if (quantity->any_dimension || quantity->dimension == wanted) {
        return quantity->value;
    }
    if (quantity->dimension == plain_number) {
        if (const auto unit = find_unit(plain_unit); unit && unit->dimension == wanted) {
            return quantity->value * unit->factor;
        }
        return wanted == angle_dimension ? quantity->value * find_unit("deg")->factor : quantity->value;
    }
    return error_finding("formula.dimension",
                         "\u201c" + text + "\u201d is " + describe(quantity->dimension) + ", but " + describe(wanted) +
                             " is wanted.",
                         "Correct the formula or its units.");
}

} // namespace kervo
