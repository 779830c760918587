// A part of a hundred steps: each by its formula, again after every parameter has changed, at the cost of what changed.
#include "io_fixture.h"

#include "io/document/document_file.h"
#include "model/route/evaluate.h"
#include "model/steps/round_edges/round_edges.h"

#include <gtest/gtest.h>

#include <numbers>

using namespace kervo;
using namespace kervo::model;

namespace {

const double pi = std::numbers::pi;

double disc(double diameter) {
    return pi * diameter * diameter / 4;
}
double quarter_gone(double r) {
    return r * r * (1 - pi / 4);
}
// A round in the corner around a post: the section travels with its centre.
double round_at_foot(double post, double r) {
    return quarter_gone(r) * 2 * pi * (post / 2 + r * (10 - 3 * pi) / (12 - 3 * pi));
}
double bevel_inside(double diameter, double c) {
    return pi * (diameter / 2 * c * c + c * c * c / 3);
}
double bevel_outside(double diameter, double c) {
    return pi * (diameter / 2 * c * c - c * c * c / 3);
}

bool ends_with(const std::string& text, const std::string& end) {
    return text.size() >= end.size() && text.compare(text.size() - end.size(), end.size(), end) == 0;
}

// How much a step adds, or with a minus removes, by what it is called; nothing for those that only draw.
std::optional<double> by_formula(const std::string& name, const std::map<std::string, double>& p) {
    const auto v = [&](const char* parameter) { return p.at(parameter); };
    const double inner = std::max(v("corner") - v("wall"), 0.0);
    const double sunk = v("base");
    if (name == "Housing") {
        return v("length") * v("width") * v("height");
    }
    if (name == "Upright edges") {
        return -4 * quarter_gone(v("corner")) * v("height");
    }
    if (name == "Inside") {
        const double area = (v("length") - 2 * v("wall")) * (v("width") - 2 * v("wall")) - 4 * quarter_gone(inner);
        return -area * (v("height") - sunk);
    }
    if (name == "Lid screws") {
        return -6 * disc(2.05) * v("bolt_depth");
    }
    if (name == "Vent, cut" || name == "Vents") {
        return -(name == "Vents" ? 9 : 1) * v("slit") * 30 * sunk;
    }
    if (name == "Foot, raised" || name == "Feet") {
        return (name == "Feet" ? 3 : 1) * disc(v("foot_d")) * v("foot_h");
    }
    if (name == "Rims of the feet") {
        return -4 * bevel_outside(v("foot_d"), v("lead"));
    }
    if (name.rfind("Post", 0) == 0) {
        return ends_with(name, "raised")   ? std::optional(disc(v("post_d")) * v("post_h"))
               : ends_with(name, "tapped") ? std::optional(-disc(3.3) * v("post_h"))
               : ends_with(name, "foot")   ? std::optional(round_at_foot(v("post_d"), 2))
                                           : std::nullopt;
    }
    return ends_with(name, "raised")      ? std::optional(disc(v("boss_d")) * v("boss_h"))
           : ends_with(name, "bored")     ? std::optional(-disc(v("bore")) * (v("wall") + v("boss_h")))
           : ends_with(name, "bolt hole") ? std::optional(-disc(2.5) * v("bolt_depth"))
           : ends_with(name, "bolt ring") ? std::optional(-(v("bolts") - 1) * disc(2.5) * v("bolt_depth"))
           : ends_with(name, "foot")      ? std::optional(round_at_foot(v("boss_d"), v("fillet")))
           : ends_with(name, "lead-in")   ? std::optional(-bevel_inside(v("bore"), v("lead")))
                                          : std::nullopt;
}

struct Housing : ::testing::Test {
    Document document;
    EvaluationCache cache;

    void SetUp() override {
        const auto opened = io::open_document(KERVO_SOURCE "/demo/spectrograph-housing/document.json");
        ASSERT_TRUE(opened) << opened.finding().cause;
        document = *opened;
        ASSERT_GE(document.steps.size(), 100u);
    }
    Evaluation evaluate(const Document& as_it_is) {
        Progress progress;
        return model::evaluate(as_it_is, cache, {}, progress);
    }
    /// Every step either has what its formula gives, or says what is wrong. How many said so.
    int check(const Evaluation& evaluation) {
        std::map<std::string, double> values;
        for (const auto& [name, value] : evaluation.parameters.values) {
            values[name] = value.value;
        }
        int findings = 0;
        for (size_t i = 0; i < evaluation.steps.size(); ++i) {
            const StepReport& report = evaluation.steps[i];
            const std::string& name = document.steps[i]->name;
            if (report.state == StepState::stale) {
                continue; // what it reads has its finding
            }
            if (!report.findings.empty()) {
                ++findings;
                continue;
            }
            if (const auto wanted = by_formula(name, values)) {
                const double change = report.output->added - report.output->removed;
                EXPECT_NEAR(change / *wanted, 1, 1e-6) << name;
            }
        }
        return findings;
    }
};

TEST_F(Housing, EveryStepByItsFormula) {
    const auto evaluation = evaluate(document);
    EXPECT_FALSE(evaluation.failed());
    EXPECT_EQ(check(evaluation), 0);
    const auto bodies = evaluation.bodies_as_of();
    ASSERT_EQ(bodies.size(), 1u);
    EXPECT_TRUE(geom::is_closed(bodies.front().second->shape));
    EXPECT_TRUE(geom::is_valid(bodies.front().second->shape));
    EXPECT_EQ(geom::count(bodies.front().second->shape).lumps, 1);
    double sum = 0;
    for (const StepReport& report : evaluation.steps) {
        sum += report.output->added - report.output->removed;
    }
    EXPECT_NEAR(geom::volume_of(bodies.front().second->shape) / sum, 1, 1e-9);
}

TEST_F(Housing, AChangeNearTheEndRunsOnlyWhatHangsOnIt) {
    evaluate(document);
    Document changed = change_step(document, document.steps[98]->id,
                                   [](Step& step) { step.definition.as<RoundEdges>()->radius.text = "fillet - 1 mm"; });
    EXPECT_EQ(evaluate(changed).steps_run, 2); // it, and the one behind it
    for (Parameter& parameter : changed.parameters) {
        parameter.formula = parameter.name == "slit_pitch" ? "8 mm" : parameter.formula;
    }
    EXPECT_LT(evaluate(changed).steps_run, 96); // not what stands before the vents
    EXPECT_EQ(evaluate(document).steps_run, 0); // all of this is known
}

TEST_F(Housing, NamesSurviveASweepOverEveryParameter) {
    evaluate(document);
    for (const Parameter& parameter : document.parameters) {
        Document changed = document;
        for (Parameter& other : changed.parameters) {
            if (other.name == parameter.name) {
                other.formula = parameter.name == "bolts" ? "6" : "(" + parameter.formula + ") * 1.08";
            }
        }
        const auto evaluation = evaluate(changed);
        EXPECT_EQ(check(evaluation), 0) << parameter.name;
    }
    // Ports so wide that their rounds would run into each other are no longer right, and say so.
    Document wide = document;
    for (Parameter& parameter : wide.parameters) {
        parameter.formula = parameter.name == "boss_d" ? "44 mm" : parameter.formula;
    }
    EXPECT_GT(check(evaluate(wide)), 0);
}

} // namespace
