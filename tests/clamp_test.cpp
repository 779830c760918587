// The demo of cuts by bodies: every body of the finder clamp by its closed formula, also with other parameters.
#include "io_fixture.h"

#include "geom/measure/measure.h"
#include "io/document/document_file.h"
#include "model/route/evaluate.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

using namespace kervo;
using namespace kervo::model;

namespace {

const double pi = std::numbers::pi;

struct Clamp {
    double length = 140, width = 40, height = 90, finder = 60, kerf = 1.5, lug = 22, lug_t = 9, rod = 8, play = 0.5,
           pin = 6, missing = 4;

    // What the bore takes from one half: the disc above a chord that lies half a kerf beyond its middle.
    [[nodiscard]] double bore() const {
        const double r = finder / 2;
        const double d = kerf / 2;
        return (r * r * std::acos(d / r) - d * std::sqrt(r * r - d * d)) * width;
    }
    [[nodiscard]] double half() const { return height / 2 - kerf / 2; }
    [[nodiscard]] double pin_area() const { return pi * pin * pin / 4; }
    [[nodiscard]] double lower() const {
        return length * width * half() - bore() - pin_area() * (6 * half() - missing);
    }
    [[nodiscard]] double upper() const {
        const double hole = pi * std::pow(rod / 2 + play, 2);
        return length * width * half() - bore() - pin_area() * 6 * half() + 2 * lug_t * (lug * 24 - hole);
    }
};

class FinderClamp : public testing::Test {
protected:
    Document document = *io::open_document(KERVO_SOURCE "/demo/finder-clamp/document.json");
    EvaluationCache cache;
    Services services;

    void set(const std::string& name, const std::string& formula) {
        for (Parameter& parameter : document.parameters) {
            if (parameter.name == name) {
                parameter.formula = formula;
            }
        }
    }
    Evaluation evaluate() {
        Progress progress;
        return model::evaluate(document, cache, services, progress);
    }
    static double volume(const Evaluation& evaluation, const std::string& name) {
        for (const auto& [id, body] : evaluation.bodies_as_of()) {
            if (evaluation.traits.at(id).name == name) {
                EXPECT_TRUE(geom::is_closed(body->shape)) << name;
                EXPECT_TRUE(geom::is_valid(body->shape)) << name;
                return geom::volume_of(body->shape);
            }
        }
        ADD_FAILURE() << "no body " << name;
        return 0;
    }
    static std::string findings(const Evaluation& evaluation) {
        std::string all;
        for (const StepReport& step : evaluation.steps) {
            for (const Finding& finding : step.findings) {
                all += finding.severity == Severity::note ? "" : finding.cause;
            }
        }
        return all;
    }
    static void expect_clamp(const Evaluation& evaluation, const Clamp& clamp) {
        EXPECT_FALSE(evaluation.failed());
        EXPECT_NEAR(volume(evaluation, "Lower half") / clamp.lower(), 1, 1e-9);
        EXPECT_NEAR(volume(evaluation, "Upper half") / clamp.upper(), 1, 1e-9);
        EXPECT_NEAR(volume(evaluation, "Spring rod") / (pi * clamp.rod * clamp.rod / 4 * (clamp.width + 30)), 1, 1e-9);
    }
};

TEST_F(FinderClamp, SaysWhichPinIsTooShortUntilItIsMended) {
    Evaluation evaluation = evaluate();
    expect_clamp(evaluation, {});
    EXPECT_EQ(findings(evaluation), "A cutter ends inside the material, 4.000 mm short of passing through.");
    const auto* score = evaluation.report(180);
    EXPECT_EQ(score->output->facts.at("contacts"), "13"); // twelve walls of holes, and the end of the short pin
    set("last_pin", "pin_l");
    evaluation = evaluate();
    EXPECT_EQ(findings(evaluation), "");
    Clamp mended;
    mended.missing = 0;
    expect_clamp(evaluation, mended);
    EXPECT_EQ(evaluation.report(180)->output->facts.at("contacts"), "12");
    EXPECT_NEAR(volume(evaluation, "Half for analysis") / (mended.lower() / 2), 1,
                1e-9); // pins lie even about its plane
}

TEST_F(FinderClamp, FollowsItsParameters) {
    set("kerf", "0 mm");
    set("finder_d", "50 mm");
    set("clamp_w", "48 mm");
    Clamp changed;
    changed.kerf = 0;
    changed.finder = 50;
    changed.width = 48;
    expect_clamp(evaluate(), changed);
    set("kerf", "3 mm");
    set("pin_d", "8 mm");
    set("lug_t", "12 mm");
    set("rod_play", "1 mm");
    changed.kerf = 3;
    changed.pin = 8;
    changed.lug_t = 12;
    changed.play = 1;
    expect_clamp(evaluate(), changed);
}

} // namespace
