#include "io/formats/svg/svg_style.h"

#include "base/text.h"
#include "io/formats/svg/svg_text.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <cstring>
#include <numbers>
#include <optional>
#include <sstream>

namespace kervo::io::svg {

namespace {

// What says where outlines run and whether they are seen; other properties are none of our business.
const std::set<std::string>& properties_of_outlines() {
    static const std::set<std::string> all{
        "fill", "fill-rule", "display", "visibility", "clip-path", "mask", "overflow", "transform", "transform-origin",
        "cx",   "cy",        "r",       "rx",         "ry",        "x",    "y",        "width",     "height",
        "d"};
    return all;
}

std::string trimmed(const std::string& text) {
    const size_t from = text.find_first_not_of(" \t\r\n\f");
    return from == std::string::npos ? std::string() : text.substr(from, text.find_last_not_of(" \t\r\n\f") - from + 1);
}

std::string without_comments(const std::string& css) {
    std::string plain;
    for (size_t at = 0; at < css.size();) {
        if (css.compare(at, 2, "/*") == 0) {
            const size_t end = css.find("*/", at + 2);
            at = end == std::string::npos ? css.size() : end + 2;
            plain += ' ';
        } else if (css.compare(at, 4, "<!--") == 0 || css.compare(at, 3, "-->") == 0) {
            at += css[at] == '<' ? 4 : 3;
        } else {
            plain += css[at++];
        }
    }
    return plain;
}

// Parts at `mark`, but not within brackets or quotes.
std::vector<std::string> parted(const std::string& text, char mark) {
    std::vector<std::string> parts(1);
    int depth = 0;
    char quote = 0;
    for (const char c : text) {
        if (quote != 0) {
            quote = c == quote ? '\0' : quote;
        } else if (c == '"' || c == '\'') {
            quote = c;
        } else if (c == '(' || c == ')') {
            depth += c == '(' ? 1 : -1;
        }
        if (c == mark && depth == 0 && quote == 0) {
            parts.emplace_back();
        } else {
            parts.back() += c;
        }
    }
    return parts;
}

const char* local_name(const pugi::xml_node& node) {
    const char* colon = std::strchr(node.name(), ':');
    return colon == nullptr ? node.name() : colon + 1;
}

bool has_class(const pugi::xml_node& node, const std::string& wanted) {
    std::istringstream all(node.attribute("class").value());
    std::string one;
    while (all >> one) {
        if (one == wanted) {
            return true;
        }
    }
    return false;
}

bool is_important(const std::string& value) {
    return value.ends_with("!important");
}
std::string bare(const std::string& value) {
    return is_important(value) ? trimmed(value.substr(0, value.size() - std::strlen("!important"))) : value;
}

} // namespace

std::map<std::string, std::string> declarations(const std::string& block) {
    std::map<std::string, std::string> declared;
    for (const std::string& one : parted(without_comments(block), ';')) {
        const size_t colon = one.find(':');
        if (colon == std::string::npos) {
            continue;
        }
        std::string value = trimmed(one.substr(colon + 1));
        if (const size_t mark = value.rfind('!');
            mark != std::string::npos && lower_case(trimmed(value.substr(mark + 1))) == "important") {
            value = trimmed(value.substr(0, mark)) + "!important";
        }
        if (!value.empty()) {
            declared[lower_case(trimmed(one.substr(0, colon)))] = value;
        }
    }
    return declared;
}

void StyleSheet::read(const std::string& css) {
    const std::string text = without_comments(css);
    for (size_t at = 0; at < text.size();) {
        const size_t open = text.find('{', at);
        const size_t end = text.find(';', at);
        const std::string head = trimmed(text.substr(at, std::min(open, end) - at));
        if (head.starts_with("@") && end < open) { // @import, @charset
            if (head.starts_with("@import")) {
                left_out_.insert("a style sheet in another file");
            }
            at = end + 1;
            continue;
        }
        if (open == std::string::npos) {
            break;
        }
        size_t close = open + 1;
        for (int depth = 1; close < text.size(); ++close) {
            depth += text[close] == '{' ? 1 : text[close] == '}' ? -1 : 0;
            if (depth == 0) {
                break;
            }
        }
        const std::string block = text.substr(open + 1, close - open - 1);
        const std::string selectors = trimmed(text.substr(at, open - at));
        if (!selectors.starts_with("@")) {
            read_rule(selectors, block);
        } else if (selectors.starts_with("@media") || selectors.starts_with("@supports")) {
            left_out_.insert("styles that hold for some media only");
        }
        at = close + 1;
    }
}

void StyleSheet::read_rule(const std::string& selectors, const std::string& block) {
    auto declared = declarations(block);
    std::erase_if(declared, [](const auto& one) { return !properties_of_outlines().contains(one.first); });
    if (declared.empty()) {
        return;
    }
    constexpr size_t most_rules = 10000;
    for (const std::string& each : parted(selectors, ',')) {
        const std::string selector = trimmed(each);
        if (selector.find_first_of("[:+~\\|") != std::string::npos || selector.empty() || rules_.size() > most_rules) {
            left_out_.insert("styles of \u201c" + selector.substr(0, 40) + "\u201d");
            continue;
        }
        Rule rule{{}, 0, declared};
        std::string spaced; // ">" as a word of its own
        for (const char c : selector) {
            spaced += c == '>' ? std::string(" > ") : std::string(1, c);
        }
        std::istringstream words(spaced);
        std::string word;
        bool child = false;
        while (words >> word) {
            if (word == ">") {
                child = true;
                continue;
            }
            Compound compound;
            for (size_t at = 0; at < word.size();) {
                const size_t next = std::min(word.find_first_of(".#", at + 1), word.size());
                const std::string part = word.substr(at, next - at);
                if (part[0] == '.') {
                    compound.classes.push_back(part.substr(1));
                    rule.weight += 100;
                } else if (part[0] == '#') {
                    compound.id = part.substr(1);
                    rule.weight += 10000;
                } else if (part != "*") {
                    compound.type = part;
                    rule.weight += 1;
                }
                at = next;
            }
            if (!rule.selector.empty()) { // the one before is within this one's sight
                compound.child_of_next = child;
            }
            child = false;
            rule.selector.insert(rule.selector.begin(), compound);
        }
        rules_.push_back(std::move(rule));
    }
}

bool StyleSheet::matches(const Compound& compound, const pugi::xml_node& node) {
    return (compound.type.empty() || compound.type == local_name(node)) &&
           (compound.id.empty() || compound.id == node.attribute("id").value()) &&
           std::all_of(compound.classes.begin(), compound.classes.end(),
                       [&](const std::string& each) { return has_class(node, each); });
}

bool StyleSheet::matches(const std::vector<Compound>& selector, size_t at, // NOLINT(misc-no-recursion): as long as it
                         const pugi::xml_node& node) {
    if (!matches(selector[at], node)) {
        return false;
    }
    if (at + 1 == selector.size()) {
        return true;
    }
    for (pugi::xml_node around = node.parent(); around.type() == pugi::node_element; around = around.parent()) {
        if (matches(selector, at + 1, around)) {
            return true;
        }
        if (selector[at].child_of_next) {
            return false;
        }
    }
    return false;
}

const std::map<std::string, std::string>& StyleSheet::own_of(const pugi::xml_node& node) const {
    if (own_node_ != node.hash_value()) {
        constexpr size_t longest = 1U << 16U; // what is longer is no style of outlines
        const std::string style = node.attribute("style").value();
        own_ = declarations(style.substr(0, longest));
        own_node_ = node.hash_value();
    }
    return own_;
}

std::string StyleSheet::value(const pugi::xml_node& node, const std::string& property) const {
    std::string best = node.attribute(property.c_str()).value();
    int weight = -1;
    bool important = false;
    const auto take = [&](const std::string& value, int as) {
        const bool strong = is_important(value);
        if (strong == important ? as >= weight : strong) {
            best = bare(value);
            weight = as;
            important = strong;
        }
    };
    for (const Rule& rule : rules_) {
        const auto declared = rule.declared.find(property);
        if (declared != rule.declared.end() && matches(rule.selector, 0, node)) {
            take(declared->second, rule.weight);
        }
    }
    if (node.attribute("style")) {
        constexpr int above_all = 1 << 30;
        const auto& own = own_of(node);
        if (const auto declared = own.find(property); declared != own.end()) {
            take(declared->second, above_all);
        }
    }
    return trimmed(best);
}

std::string transform_attribute(const std::string& css) {
    static const std::map<std::string, double> units{
        {"px", 1},  {"mm", 96 / 25.4}, {"cm", 96 / 2.54}, {"in", 96},    {"pt", 96.0 / 72},
        {"pc", 16}, {"deg", 1},        {"grad", 0.9},     {"turn", 360}, {"rad", 180 / std::numbers::pi}};
    std::string text;
    for (size_t at = 0; at < css.size();) {
        const char* from = css.c_str() + at;
        char* end = nullptr;
        const bool begins = std::isdigit(static_cast<unsigned char>(css[at])) != 0 || css[at] == '.' ||
                            ((css[at] == '-' || css[at] == '+') && at + 1 < css.size() &&
                             (std::isdigit(static_cast<unsigned char>(css[at + 1])) != 0 || css[at + 1] == '.'));
        if (!begins) {
            text += css[at++];
            continue;
        }
        const double number = std::strtod(from, &end);
        if (end == from) { // "-.", which is no number
            text += css[at++];
            continue;
        }
        at += static_cast<size_t>(end - from);
        std::string unit;
        while (at < css.size() && std::isalpha(static_cast<unsigned char>(css[at])) != 0) {
            unit += css[at++];
        }
        const auto known = units.find(lower_case(unit));
        std::ostringstream written;
        written.precision(17);
        written << number * (known == units.end() ? 1 : known->second) << (known == units.end() ? unit : "");
        text += written.str();
    }
    return text;
}

} // namespace kervo::io::svg
