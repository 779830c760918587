#include "base/formula_parts.h"

#include <cctype>
#include <optional>

namespace kervo::formula {

bool starts_number(const std::string& text, size_t at) {
    const auto digit = [&](size_t i) { return i < text.size() && std::isdigit(static_cast<unsigned char>(text[i])); };
    return digit(at) || (text[at] == '.' && digit(at + 1));
}

namespace {

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

} // namespace

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

namespace {

Finding unlike_finding(const std::string& text, const std::string& why = {}) {
    return error_finding("formula.unlike",
                         "\u201c" + text + "\u201d adds or compares unlike things" + (why.empty() ? "." : ": " + why),
                         "Give every number in it its unit, as in 3 mm.");
}

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
        if (is_function(token.text)) {
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

Result<Powers> dimension_of(const std::string& text, const std::string& spelled, const ParameterValues& values,
                            const std::set<std::string>& reads) {
    return DimensionWalk(text, spelled, values, reads).walk();
}

} // namespace kervo::formula
