// Formulas against an evaluator of its own that is too simple to share a mistake: random trees are written out as text,
// with units and parameters, and computed beside.
#include "base/assignment.h"
#include "base/parameters.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

using namespace kervo;

namespace {

// A formula as text, with the value and the power of length that it must have.
struct Grown {
    std::string text;
    double value = 0;
    int length = 0;
};

class Grower {
public:
    explicit Grower(unsigned seed) : random_(seed) {}

    Grown grow(int length, int depth) {
        const auto choice = random_() % 6;
        if (depth == 0 || choice == 0) {
            return leaf(length);
        }
        if (choice == 1) { // a product: the powers add up
            const int left = static_cast<int>(random_() % 3) - 1;
            const Grown a = grow(left, depth - 1);
            const Grown b = grow(length - left, depth - 1);
            return {"(" + a.text + ") * (" + b.text + ")", a.value * b.value, length};
        }
        if (choice == 2) {
            const Grown a = grow(length + 1, depth - 1);
            const Grown b = leaf(1);
            return {"(" + a.text + ") / (" + b.text + ")", a.value / b.value, length};
        }
        const Grown a = grow(length, depth - 1);
        const Grown b = grow(length, depth - 1);
        if (choice == 3) {
            return {a.text + " + " + b.text, a.value + b.value, length};
        }
        if (choice == 4) {
            return {"max(" + a.text + ", " + b.text + ")", std::max(a.value, b.value), length};
        }
        return {a.text + " - (" + b.text + ")", a.value - b.value, length};
    }

    ParameterValues parameters{
        {"width", {37.5, length_dimension}}, {"count", {3, plain_number}}, {"lap", {0.25, length_dimension}}};

private:
    Grown leaf(int length) {
        if (length == 0) {
            return random_() % 2 == 0 ? Grown{"count", 3, 0} : Grown{"2.5", 2.5, 0};
        }
        if (length < 0) {
            const Grown under = leaf(-length);
            return {"1 / (" + under.text + ")", 1 / under.value, length};
        }
        Grown one;
        switch (random_() % 5) {
        case 0:
            one = {"width", 37.5, 1};
            break;
        case 1:
            one = {"lap", 0.25, 1};
            break;
        case 2:
            one = {"4 mm", 4, 1};
            break;
        case 3:
            one = {"0.5 in", 12.7, 1};
            break;
        default:
            one = {"1.5 cm", 15, 1};
        }
        if (length == 1) {
            return one;
        }
        const Grown rest = leaf(length - 1);
        return {one.text + " * (" + rest.text + ")", one.value * rest.value, length};
    }

    std::mt19937 random_;
};

} // namespace

TEST(FormulaLaws, RandomTreesHaveTheirValueAndDimension) {
    Grower grower(61);
    int tested = 0;
    for (int round = 0; round < 600; ++round) {
        const Grown grown = grower.grow(round % 4 - 1, 1 + round % 4);
        if (!std::isfinite(grown.value) || std::fabs(grown.value) < 1e-6 || std::fabs(grown.value) > 1e9) {
            continue; // a difference that cancels has every dimension
        }
        const auto found = evaluate_formula(grown.text, grower.parameters);
        ASSERT_TRUE(found.ok()) << grown.text << ": " << found.finding().cause;
        EXPECT_NEAR(found->value / grown.value, 1, 1e-9) << grown.text;
        if (!found->any_dimension) {
            EXPECT_EQ(found->dimension, (Dimension{grown.length, 0})) << grown.text;
        }
        ++tested;
    }
    EXPECT_GT(tested, 300);
}

TEST(FormulaLaws, UnlikeThingsAreNeverAdded) {
    Grower grower(62);
    for (int round = 0; round < 200; ++round) {
        const Grown a = grower.grow(round % 3, 2);
        const Grown b = grower.grow((round + 1) % 3, 2);
        const bool small = std::fabs(a.value) < 1e-3 || std::fabs(b.value) < 1e-3;
        if (small || !std::isfinite(a.value) || !std::isfinite(b.value) || std::fabs(a.value + b.value) < 1e-3 ||
            std::fabs(std::log10(std::fabs(a.value / b.value))) > 4) {
            continue;
        }
        const std::string text = "(" + a.text + ") + (" + b.text + ")";
        const auto found = evaluate_formula(text, grower.parameters);
        ASSERT_FALSE(found.ok()) << text;
        EXPECT_EQ(found.finding().code, "formula.unlike") << text;
    }
}

TEST(FormulaLaws, NoTextBringsTheReaderDown) {
    std::mt19937 random(63);
    const std::string letters = "0123456789.+-*/^()[]{}, eEmcdgraintfw_ab?:<>=!&|%$#\"'\\\n\t\xc3\xa4";
    for (int round = 0; round < 5000; ++round) {
        std::string text;
        const size_t length = random() % 24;
        for (size_t i = 0; i < length; ++i) {
            text += letters[random() % letters.size()];
        }
        const auto found = evaluate_formula(text, {{"a", {2, length_dimension}}});
        if (found.ok()) {
            EXPECT_TRUE(std::isfinite(found->value)) << text;
        } else {
            EXPECT_FALSE(found.finding().cause.empty()) << text;
            EXPECT_FALSE(found.finding().mend.empty()) << text;
        }
        names_read(text);
        rename_in_formula(text, "a", "b");
    }
}

TEST(FormulaLaws, RenamingChangesNothingButNames) {
    Grower grower(64);
    for (int round = 0; round < 200; ++round) {
        const Grown grown = grower.grow(1, 3);
        const std::string renamed = rename_in_formula(grown.text, "width", "breadth");
        auto values = grower.parameters;
        values["breadth"] = values.at("width");
        values.erase("width");
        EXPECT_FALSE(names_read(renamed).contains("width"));
        const auto before = evaluate_formula(grown.text, grower.parameters);
        const auto after = evaluate_formula(renamed, values);
        ASSERT_EQ(before.ok(), after.ok()) << grown.text;
        if (before.ok()) {
            EXPECT_EQ(before->value, after->value);
        }
        EXPECT_EQ(rename_in_formula(renamed, "breadth", "width"), grown.text);
    }
}

TEST(FormulaLaws, EveryUnitIsItsFactor) {
    const std::map<std::string, double> in_mm_or_rad{
        {"mm", 1}, {"cm", 10}, {"m", 1000}, {"in", 25.4}, {"ft", 304.8}, {"deg", std::numbers::pi / 180}, {"rad", 1}};
    ASSERT_EQ(all_units().size(), in_mm_or_rad.size());
    for (const Unit& unit : all_units()) {
        const std::string name(unit.name);
        EXPECT_NEAR(evaluate_formula("3 " + name, {})->value, 3 * in_mm_or_rad.at(name), 1e-12);
        EXPECT_NEAR(*evaluate_as("3", {}, unit.dimension, name), 3 * in_mm_or_rad.at(name), 1e-12);
        EXPECT_EQ(format_quantity(7 * unit.factor, name), "7");
        EXPECT_FALSE(is_parameter_name(name));
        // What is written is read back as the same number.
        for (const double value : {0.125, 1234.5678, -17.25, 1e-4}) {
            const std::string text = format_quantity(value * unit.factor, name, 12) + " " + name;
            EXPECT_NEAR(evaluate_formula(text, {})->value, value * unit.factor, 1e-9) << text;
        }
    }
    EXPECT_FALSE(find_unit("furlong").has_value());
}

TEST(Assignments, AreANameAndAFormula) {
    EXPECT_EQ(split_assignment("clearance = 1 mm")->name, "clearance");
    EXPECT_EQ(split_assignment("clearance=1 mm")->formula, "1 mm");
    EXPECT_EQ(formula_in(" gap = a + 2 * (b - 1 mm) "), "a + 2 * (b - 1 mm)");
    EXPECT_EQ(formula_in("a + b"), "a + b");
    for (const char* none : {"", "=", "a =", "= 1", "2a = 1", "mm = 1", "a = b = c", "a + b = 3", "sin = 2"}) {
        EXPECT_FALSE(split_assignment(none).has_value()) << none;
    }
}

TEST(ParameterLaws, OrderNeverMatters) {
    std::vector<Parameter> chain;
    for (int i = 0; i < 30; ++i) {
        const std::string before = "p" + std::to_string(i - 1);
        chain.push_back({"p" + std::to_string(i), i == 0 ? "1 mm" : before + " + p0", "mm", ""});
    }
    std::mt19937 random(65);
    for (int round = 0; round < 20; ++round) {
        std::shuffle(chain.begin(), chain.end(), random);
        const auto result = evaluate_parameters(chain);
        EXPECT_TRUE(result.findings.empty());
        EXPECT_DOUBLE_EQ(result.values.at("p29").value, 30);
    }
}

TEST(ParameterLaws, OneBadFormulaSpoilsOnlyItsReaders) {
    const auto result = evaluate_parameters({{"good", "2 mm", "mm", ""},
                                             {"bad", "2 mm +", "mm", ""},
                                             {"reads_bad", "bad * 2", "mm", ""},
                                             {"far", "reads_bad + good", "mm", ""},
                                             {"reads_good", "good * 2", "mm", ""}});
    EXPECT_EQ(result.values.size(), 2u);
    EXPECT_EQ(result.findings.at("bad").code, "formula.syntax");
    EXPECT_EQ(result.findings.at("reads_bad").code, "parameter.source");
    EXPECT_EQ(result.findings.at("far").code, "parameter.source");
    EXPECT_DOUBLE_EQ(result.values.at("reads_good").value, 4);
}

TEST(ParameterLaws, LoopsOfEveryLengthAreNamed) {
    for (int length = 1; length <= 12; ++length) {
        std::vector<Parameter> ring;
        for (int i = 0; i < length; ++i) {
            ring.push_back({"r" + std::to_string(i), "r" + std::to_string((i + 1) % length) + " + 1 mm", "mm", ""});
        }
        const auto result = evaluate_parameters(ring);
        EXPECT_TRUE(result.values.empty());
        for (const Parameter& parameter : ring) {
            const Finding& finding = result.findings.at(parameter.name);
            EXPECT_EQ(finding.code, "parameter.cycle");
            for (const Parameter& other : ring) {
                EXPECT_NE(finding.cause.find(other.name), std::string::npos) << finding.cause;
            }
        }
    }
}
