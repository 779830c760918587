#include "base/parameters.h"

#include <gtest/gtest.h>

#include <numbers>

using namespace kervo;

TEST(Formula, UnitsBindTighterThanOperators) {
    EXPECT_DOUBLE_EQ(evaluate_formula("16 mm", {})->value, 16);
    EXPECT_DOUBLE_EQ(evaluate_formula("2 cm + 1 in", {})->value, 45.4);
    EXPECT_DOUBLE_EQ(evaluate_formula("10 m / 2 mm", {})->value, 5000);
    EXPECT_DOUBLE_EQ(evaluate_formula("(1 + 2) ft", {})->value, 3 * 304.8);
    EXPECT_NEAR(evaluate_formula("36 deg", {})->value, std::numbers::pi / 5, 1e-15);
    EXPECT_NEAR(evaluate_formula("sin(30 deg)", {})->value, 0.5, 1e-15);
    EXPECT_DOUBLE_EQ(evaluate_formula("1e1 mm", {})->value, 10);
}

TEST(Formula, FindsDimensions) {
    EXPECT_EQ(evaluate_formula("2 mm * 3 cm", {})->dimension, (Dimension{2, 0}));
    EXPECT_EQ(evaluate_formula("sqrt(4 mm * 9 mm)", {})->dimension, length_dimension);
    EXPECT_EQ(evaluate_formula("asin(0.5)", {})->dimension, angle_dimension);
    EXPECT_EQ(evaluate_formula("sin(1 rad) * 3 mm", {})->dimension, length_dimension);
    EXPECT_EQ(evaluate_formula("3 mm / 1 in", {})->dimension, plain_number);
    // Whatever the values are: what cancels is still a length, and only a written zero is a zero of everything.
    for (const char* nothing : {"5 mm - 0.5 cm", "1 ft - 12 in", "30.3 mm - 3 * 10.1 mm", "sqrt(4 mm * 9 mm) - 6 mm"}) {
        const auto found = evaluate_formula(nothing, {});
        ASSERT_TRUE(found.ok()) << found.finding().cause;
        EXPECT_EQ(found->dimension, length_dimension) << nothing;
        EXPECT_FALSE(found->any_dimension) << nothing;
        EXPECT_NEAR(found->value, 0, 1e-12) << nothing;
        EXPECT_FALSE(evaluate_as(nothing, {}, angle_dimension).ok()) << nothing;
    }
    EXPECT_TRUE(evaluate_formula("0", {})->any_dimension);
    EXPECT_EQ(evaluate_formula("max(0, 3 mm)", {})->dimension, length_dimension);
    EXPECT_EQ(evaluate_formula("2 > 1 ? 3 mm : 0", {})->dimension, length_dimension);
    EXPECT_EQ(evaluate_formula("(2 mm) ^ (1 + 2)", {})->dimension, (Dimension{3, 0}));
    EXPECT_EQ(evaluate_formula("sqrt(2 mm) * sqrt(8 mm)", {})->dimension, length_dimension);
    EXPECT_EQ(evaluate_formula("floor(37 mm / 10 mm) * 10 mm", {})->value, 30);
}

TEST(Formula, RefusesWhatMakesNoSense) {
    EXPECT_EQ(evaluate_formula("16 mm + 3", {}).finding().code, "formula.unlike");
    for (const char* unlike : {"max(1 deg, 2)", "3 mm == 3", "2 > 1 ? 3 mm : 2", "floor(3 mm)", "sin(0.5)",
                               "2 ^ (1 mm)", "sqrt(2 mm) * 3", "mod(7 mm, 2)", "exp(1 mm)"}) {
        EXPECT_EQ(evaluate_formula(unlike, {}).finding().code, "formula.unlike") << unlike;
    }
    // A comma is no decimal point.
    for (const char* comma : {"1,5 mm", "(1,5) mm", "2 * 1,5 mm", "1,5", "max(0,5 mm, 2 mm)", "3 mm, 4 mm"}) {
        const auto found = evaluate_formula(comma, {});
        ASSERT_FALSE(found.ok()) << comma;
        EXPECT_EQ(found.finding().code, "formula.comma") << comma;
        EXPECT_NE(found.finding().mend.find("point"), std::string::npos) << comma;
    }
    EXPECT_NE(evaluate_formula("1,5 mm", {}).finding().mend.find("1.5"), std::string::npos);
    EXPECT_EQ(evaluate_formula("max(1, 2, 5)", {})->value, 5);
    EXPECT_EQ(evaluate_formula("atan2(1,1)", {})->dimension, angle_dimension);
    // Too large, too deep, too long.
    EXPECT_EQ(evaluate_as("1e308 mm", {}, length_dimension).finding().code, "formula.too_large");
    EXPECT_EQ(evaluate_as("1e100", {}, length_dimension, "mm").finding().code, "formula.too_large");
    EXPECT_EQ(*evaluate_as("99 m", {}, length_dimension), 99000);
    EXPECT_EQ(evaluate_formula(std::string(3000, '(') + "1" + std::string(3000, ')'), {}).finding().code,
              "formula.deep");
    EXPECT_EQ(evaluate_formula(std::string(20000, ' ') + "1", {}).finding().code, "formula.long");
    EXPECT_EQ(evaluate_formula("3 +", {}).finding().cause.back(), '.');
    EXPECT_EQ(evaluate_formula("plate + 1 mm", {}).finding().code, "formula.unknown_name");
    EXPECT_EQ(evaluate_formula("3 +", {}).finding().code, "formula.syntax");
    EXPECT_EQ(evaluate_formula("1 mm / 0", {}).finding().code, "formula.not_finite");
    EXPECT_EQ(evaluate_formula("  ", {}).finding().code, "formula.empty");
    EXPECT_EQ(evaluate_formula("mm", {}).finding().code, "formula.unknown_name");
    EXPECT_EQ(evaluate_formula("2 3", {}).finding().code, "formula.syntax");
    EXPECT_EQ(evaluate_as("3 deg", {}, length_dimension).finding().code, "formula.dimension");
}

TEST(Formula, PlainNumbersTakeTheUnitOfTheirPlace) {
    EXPECT_DOUBLE_EQ(*evaluate_as("3", {}, length_dimension), 3);
    EXPECT_DOUBLE_EQ(*evaluate_as("3", {}, length_dimension, "in"), 76.2);
    EXPECT_DOUBLE_EQ(*evaluate_as("180", {}, angle_dimension), std::numbers::pi);
}

TEST(Formula, NamesReadAndRenamed) {
    EXPECT_EQ(names_read("ring_od / 2 + 2 mm * sin(tilt)"), (std::set<std::string>{"ring_od", "tilt"}));
    EXPECT_EQ(rename_in_formula("a + ab * a", "a", "width"), "width + ab * width");
    EXPECT_TRUE(is_parameter_name("spindle_d"));
    for (const char* bad : {"", "2a", "mm", "sin", "pi", "a b", "unit_mm"}) {
        EXPECT_FALSE(is_parameter_name(bad)) << bad;
    }
}

TEST(Parameters, FollowEachOtherInAnyOrder) {
    const auto result = evaluate_parameters({{"slot_r", "ring_od / 2 + 2 mm", "mm", ""},
                                             {"ring_od", "200", "mm", ""},
                                             {"turn", "36", "deg", ""},
                                             {"count", "4", "", ""},
                                             {"inch", "2", "in", ""}});
    EXPECT_TRUE(result.findings.empty());
    EXPECT_DOUBLE_EQ(result.values.at("slot_r").value, 102);
    EXPECT_NEAR(result.values.at("turn").value, std::numbers::pi / 5, 1e-15);
    EXPECT_DOUBLE_EQ(result.values.at("inch").value, 50.8);
    EXPECT_EQ(result.values.at("count").dimension, plain_number);
}

TEST(Parameters, ChainsMayBeLong) {
    std::vector<Parameter> chain;
    constexpr int length = 100000;
    for (int i = 0; i < length; ++i) { // each reads the one behind it
        const std::string next = "p" + std::to_string(i + 1);
        chain.push_back({"p" + std::to_string(i), i + 1 == length ? "1 mm" : next + " + 1 mm", "mm", ""});
    }
    const auto result = evaluate_parameters(chain);
    EXPECT_TRUE(result.findings.empty());
    EXPECT_DOUBLE_EQ(result.values.at("p0").value, length);
    chain.back().formula = "p0";
    EXPECT_EQ(evaluate_parameters(chain).findings.size(), chain.size());
}

TEST(Parameters, HaveUnitsThatExist) {
    const auto result = evaluate_parameters({{"a", "2", "furlong", ""}, {"b", "a * 2", "mm", ""}, {"c", "3", "", ""}});
    EXPECT_EQ(result.findings.at("a").code, "parameter.unit");
    EXPECT_EQ(result.findings.at("b").code, "parameter.source");
    EXPECT_DOUBLE_EQ(result.values.at("c").value, 3);
}

TEST(Parameters, CyclesNameTheLoop) {
    const auto result = evaluate_parameters({{"a", "b + 1 mm", "mm", ""},
                                             {"b", "c", "mm", ""},
                                             {"c", "a", "mm", ""},
                                             {"d", "a * 2", "mm", ""},
                                             {"e", "5", "mm", ""}});
    for (const char* name : {"a", "b", "c"}) {
        EXPECT_EQ(result.findings.at(name).code, "parameter.cycle") << name;
    }
    EXPECT_NE(result.findings.at("a").cause.find("b"), std::string::npos);
    EXPECT_EQ(result.findings.at("d").code, "parameter.source");
    EXPECT_DOUBLE_EQ(result.values.at("e").value, 5);
}

TEST(Parameters, DoublesAndBadNamesAreFindings) {
    const auto result = evaluate_parameters({{"a", "1", "mm", ""}, {"a", "2", "mm", ""}, {"sin", "2", "mm", ""}});
    EXPECT_EQ(result.findings.at("a").code, "parameter.double_name");
    EXPECT_EQ(result.findings.at("sin").code, "parameter.name");
}

TEST(Units, Format) {
    EXPECT_EQ(format_quantity(25.4, "in"), "1");
    EXPECT_EQ(format_quantity(16, "mm"), "16");
    EXPECT_EQ(format_quantity(-0.0000001, "mm", 3), "0");
    EXPECT_EQ(format_quantity(std::numbers::pi, "deg"), "180");
}
