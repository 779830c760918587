#include "base/formula.h"

#include <muParser.h>

#include <cctype>
#include <cmath>
#include <numbers>
#include <optional>
#include <vector>

namespace kervo {

namespace {

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

// Says how the first decimal comma is to be written.
Finding comma_finding(const std::string& text) {
    const auto tokens = tokens_of(text);
    std::string example = "1.5 mm.";
    for (size_t i = 1; i + 1 < tokens.size(); ++i) {
        if (tokens[i].text == "," && tokens[i - 1].kind == Token::Kind::number &&
            tokens[i + 1].kind == Token::Kind::number) {
            example = tokens[i - 1].text + "." + tokens[i + 1].text + ".";
            break;
        }
    }
    return error_finding("formula.comma",
                         "\u201c" + text + "\u201d has a comma that separates no arguments of a function.",
                         "Write decimals with a point: " + example);
}

Finding unlike_finding(const std::string& text, const std::string& why = {}) {
    return error_finding("formula.unlike",
                         "\u201c" + text + "\u201d adds or compares unlike things" + (why.empty() ? "." : ": " + why),
                         "Give every number in it its unit, as in 3 mm.");
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

double value_of(const std::string& spelled, const ParameterValues& values, const std::set<std::string>& reads) {
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

// Powers of length and angle; a literal zero is a zero of everything. Powers may be broken on the way (a root).
struct Powers {
    double length = 0;
    double angle = 0;
    bool any = false;

    [[nodiscard]] bool plain() const { return any || (is_whole(length, 0) && is_whole(angle, 0)); }
    static bool is_whole(double power, double wanted) { return std::fabs(power - wanted) < 1e-9; }
};

bool alike(const Powers& a, const Powers& b) {
    return a.any || b.any || (Powers::is_whole(a.length, b.length) && Powers::is_whole(a.angle, b.angle));
}

// Works out a formula's dimension from how it is built: recursive descent over muParser's grammar. What is met and not
// expected is refused.
class DimensionWalk {
public:
    DimensionWalk(const std::string& text, const std::string& spelled, const ParameterValues& values,
                  const std::set<std::string>& reads)
        : text_(text), values_(values), reads_(reads) {
        for (const Token& token : tokens_of(spelled)) {
            if (token.kind != Token::Kind::space) {
                tokens_.push_back(token);
            }
        }
    }

    Result<Powers> walk() {
        const Powers powers = choice();
        if (!finding_ && at_ < tokens_.size()) {
            refuse(peek(",") ? comma_finding(text_) : unread());
        }
        if (finding_) {
            return *finding_;
        }
        return powers;
    }

private:
    static constexpr int deepest = 200;

    [[nodiscard]] bool peek(const char* symbol, size_t ahead = 0) const {
        return at_ + ahead < tokens_.size() && tokens_[at_ + ahead].kind == Token::Kind::symbol &&
               tokens_[at_ + ahead].text == symbol;
    }
    bool take(const char* symbol) {
        const bool there = peek(symbol);
        at_ += there ? 1 : 0;
        return there;
    }
    bool take(const char* first, const char* second) {
        const bool there = peek(first) && peek(second, 1);
        at_ += there ? 2 : 0;
        return there;
    }
    void refuse(Finding finding) {
        if (!finding_) {
            finding_ = std::move(finding);
        }
        at_ = tokens_.size();
    }
    [[nodiscard]] Finding unread() const {
        return error_finding("formula.syntax", "\u201c" + text_ + "\u201d cannot be read.", "Correct the formula.");
    }
    // What is added or compared must be alike.
    Powers merged(const Powers& a, const Powers& b) {
        if (!alike(a, b)) {
            refuse(unlike_finding(text_));
        }
        return a.any ? b : a;
    }
    void want_plain(const Powers& powers, const std::string& why) {
        if (!powers.plain()) {
            refuse(unlike_finding(text_, why));
        }
    }

    void go_deeper() {
        if (++depth_ > deepest) {
            refuse(error_finding("formula.deep", "The formula is nested more than 200 deep.",
                                 "Give parts of it names as parameters of their own."));
        }
    }

    Powers choice() {
        go_deeper();
        Powers powers = disjunction();
        if (take("?")) {
            const Powers first = choice();
            if (!take(":")) {
                refuse(unread());
            }
            powers = merged(first, choice());
        }
        --depth_;
        return powers;
    }
    Powers disjunction() {
        Powers powers = comparison();
        while (take("&", "&") || take("|", "|")) {
            comparison();
            powers = {};
        }
        return powers;
    }
    Powers comparison() {
        Powers powers = total();
        while (take("<", "=") || take(">", "=") || take("=", "=") || take("!", "=") || take("<") || take(">")) {
            merged(powers, total());
            powers = {};
        }
        return powers;
    }
    Powers total() {
        Powers powers = product();
        while (take("+") || take("-")) {
            powers = merged(powers, product());
        }
        return powers;
    }
    Powers product() {
        Powers powers = signed_power();
        while (peek("*") || peek("/")) {
            const double sense = take("*") ? 1 : (take("/"), -1);
            const Powers factor = signed_power();
            powers = {powers.length + sense * factor.length, powers.angle + sense * factor.angle,
                      powers.any || (factor.any && sense > 0)};
        }
        return powers;
    }
    Powers signed_power() {
        while (take("-") || take("+")) {
        }
        return power();
    }
    Powers power() {
        const Powers base = atom();
        if (!take("^")) {
            return base;
        }
        go_deeper();
        const size_t from = at_;
        const Powers exponent = signed_power();
        --depth_;
        want_plain(exponent, "an exponent must be a plain number.");
        if (finding_ || base.plain()) {
            return base;
        }
        std::string part;
        for (size_t i = from; i < at_; ++i) {
            part += tokens_[i].text + (i + 1 < at_ ? " " : "");
        }
        const double times = value_of(part, values_, reads_);
        return {base.length * times, base.angle * times, false};
    }
    Powers atom() {
        if (at_ >= tokens_.size()) {
            refuse(unread());
            return {};
        }
        if (take("(")) {
            const Powers inside = choice();
            if (peek(",")) {
                refuse(comma_finding(text_));
            } else if (!take(")")) {
                refuse(unread());
            }
            return inside;
        }
        const Token token = tokens_[at_++];
        if (token.kind == Token::Kind::number) {
            const bool zero = token.text.find_first_of("123456789") >= token.text.find_first_of("eE");
            return {0, 0, zero};
        }
        if (token.kind != Token::Kind::name) {
            refuse(unread());
            return {};
        }
        if (function_names.contains(token.text)) {
            return call(token.text);
        }
        if (token.text.rfind("unit_", 0) == 0) {
            const auto unit = find_unit(std::string_view(token.text).substr(5));
            return unit ? Powers{double(unit->dimension.length), double(unit->dimension.angle), false} : Powers{};
        }
        const auto value = values_.find(token.text);
        if (value == values_.end()) { // pi
            return {};
        }
        return {double(value->second.dimension.length), double(value->second.dimension.angle),
                value->second.any_dimension};
    }
    Powers call(const std::string& name) {
        std::vector<Powers> given;
        if (!take("(")) {
            refuse(unread());
            return {};
        }
        do {
            given.push_back(choice());
        } while (take(","));
        if (!take(")")) {
            refuse(unread());
        }
        if (finding_) {
            return {};
        }
        return result_of(name, given);
    }
    Powers result_of(const std::string& name, const std::vector<Powers>& given) {
        const Powers& first = given.front();
        if (name == "sin" || name == "cos" || name == "tan") {
            if (!alike(first, {0, 1, false})) {
                refuse(unlike_finding(text_, name + " wants an angle, as in " + name + "(30 deg)."));
            }
            return {};
        }
        if (name == "sqrt") {
            return {first.length / 2, first.angle / 2, first.any};
        }
        if (name == "abs") {
            return first;
        }
        if (name == "sign") {
            return {};
        }
        static const std::set<std::string> of_many{"min", "max", "sum", "avg", "mod", "atan2"};
        if (of_many.contains(name)) {
            Powers all = first;
            for (const Powers& each : given) {
                all = merged(all, each);
            }
            return name == "atan2" ? Powers{0, 1, false} : all;
        }
        const bool rounds = name == "floor" || name == "ceil" || name == "round";
        want_plain(first, rounds ? name + " wants a plain number; round in a unit, as in " + name + "(a / 1 mm) * 1 mm."
                                 : name + " wants a plain number.");
        return name == "asin" || name == "acos" || name == "atan" ? Powers{0, 1, false} : Powers{};
    }

    const std::string& text_;
    const ParameterValues& values_;
    const std::set<std::string>& reads_;
    std::vector<Token> tokens_;
    size_t at_ = 0;
    int depth_ = 0;
    std::optional<Finding> finding_;
};

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
        const auto powers = DimensionWalk(text, spelled, values, reads).walk();
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
