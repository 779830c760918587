// Which value a property has at an element of a drawing: CSS as far as it says where outlines run and what is seen.
// After CSS 2.2, chapters 5 (selectors) and 6 (cascade), and SVG 2, chapter 6 (styling).
#pragma once

#include <pugixml.hpp>

#include <map>
#include <set>
#include <string>
#include <vector>

namespace kervo::io::svg {

class StyleSheet {
public:
    /// Adds what a style element says. What is not understood, and would say something of outlines, is `left_out`.
    void read(const std::string& css);
    /// The declared value; empty where nothing is declared. Attributes give way to rules, rules to `style`, all to what
    /// is important.
    [[nodiscard]] std::string value(const pugi::xml_node& node, const std::string& property) const;
    [[nodiscard]] const std::set<std::string>& left_out() const { return left_out_; }

private:
    struct Compound { ///< "rect.a#b"
        std::string type, id;
        std::vector<std::string> classes;
        bool child_of_next = false; ///< else anywhere within it
    };
    struct Rule {
        std::vector<Compound> selector; ///< the element itself first, then what it lies in
        int weight = 0;
        std::map<std::string, std::string> declared;
    };

    const std::map<std::string, std::string>& own_of(const pugi::xml_node& node) const;
    void read_rule(const std::string& selectors, const std::string& block);
    static bool matches(const Compound& compound, const pugi::xml_node& node);
    static bool matches(const std::vector<Compound>& selector, size_t at, const pugi::xml_node& node);

    std::vector<Rule> rules_; ///< in their order
    std::set<std::string> left_out_;
    mutable std::size_t own_node_ = 0; ///< whose style attribute was read last: it is asked for many properties in turn
    mutable std::map<std::string, std::string> own_;
};

/// "fill: none; stroke: red" by property, lower case; what is important ends in "!important".
std::map<std::string, std::string> declarations(const std::string& block);
/// The transform property in the words of the attribute: without units.
std::string transform_attribute(const std::string& css);

} // namespace kervo::io::svg
