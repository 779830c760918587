// Measured parameters: what the model says, in the formulas of later steps.
#include "model/steps/measure/measure.h"
#include "model/steps/stock/stock.h"
#include "model_fixture.h"

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

Reference body_reference(int id) {
    return {ElementKind::body, std::to_string(id), {}, {}, {}};
}
Reference near(ElementKind kind, int body, double x, double y, double z) {
    return {kind, std::to_string(body), {}, {}, Place{x, y, z}};
}

int measure(Builder& b, const std::string& what, const std::string& name, const std::function<void(Measure&)>& fill) {
    Measure step;
    step.what.value = what;
    step.parameter.text = name;
    fill(step);
    return b.step(step, "Measure " + name);
}
int measure_volume(Builder& b, int body, const std::string& name) {
    return measure(b, "volume", name, [&](Measure& m) { m.body = {body_reference(body)}; });
}

} // namespace

TEST(Measured, LengthsAnglesAreasVolumesAndMasses) {
    Builder b;
    const int box = b.box("60", "40", "10");
    Stock turned;
    turned.width.text = turned.depth.text = turned.height.text = "20";
    turned.turn_x.text = "30 deg";
    turned.z.text = "100";
    const int tilted = b.step(turned);
    measure(b, "length", "edge", [&](Measure& m) { m.edge = {near(ElementKind::edge, box, 0, 20, 10)}; });
    measure(b, "distance", "gap", [&](Measure& m) {
        m.from = {near(ElementKind::face, box, 0, 0, 10)};
        m.to = {near(ElementKind::vertex, tilted, 10, -10, 100)};
    });
    measure(b, "angle", "slope", [&](Measure& m) {
        m.first = {near(ElementKind::face, box, 0, 0, 10)};
        m.second = {near(ElementKind::face, tilted, 0, -10, 100 + 20 * std::cos(pi / 6))};
    });
    measure(b, "angle", "corner", [&](Measure& m) {
        m.first = {near(ElementKind::face, box, 0, 0, 10)};
        m.second = {near(ElementKind::edge, tilted, 0, 10 * std::cos(pi / 6), 100 + 10 * std::sin(pi / 6))};
    });
    measure(b, "area", "top", [&](Measure& m) { m.face = {near(ElementKind::face, box, 0, 0, 10)}; });
    measure_volume(b, box, "content");
    measure(b, "mass", "weight", [&](Measure& m) {
        m.body = {body_reference(box)};
        m.density.text = "2.7";
    });
    const auto evaluation = b.evaluate();
    EXPECT_FALSE(evaluation.failed());
    const auto& values = evaluation.measured;
    ASSERT_EQ(values.size(), 7U);
    EXPECT_NEAR(values.at("edge").value, 60, 1e-9);
    EXPECT_EQ(values.at("edge").dimension, length_dimension);
    EXPECT_NEAR(values.at("gap").value, 100 - 10 - 10 * std::sin(pi / 6), 1e-9);
    EXPECT_NEAR(values.at("slope").value, pi - pi / 6, 1e-9); // between the outward normals, from inside
    EXPECT_NEAR(values.at("corner").value, 0, 1e-9);          // the edge runs along x, in the plane's direction
    EXPECT_EQ(values.at("slope").dimension, angle_dimension);
    EXPECT_NEAR(values.at("top").value, 2400, 1e-9);
    EXPECT_EQ(values.at("top").dimension, (Dimension{2, 0}));
    EXPECT_NEAR(values.at("content").value, 24000, 1e-9);
    EXPECT_NEAR(values.at("weight").value, 24 * 2.7, 1e-9);
}

TEST(Measured, LaterStepsReadThemThroughFormulasToo) {
    Builder b;
    b.set("w", "60 mm");
    const int box = b.box("w", "40", "10");
    measure_volume(b, box, "content");
    b.set("height", "content / (400 mm * 1 mm) / 4"); // hangs on what is measured
    const int post = b.box("5", "5", "height");
    const int direct = b.box("content / (100 mm * 100 mm)", "5", "5");
    const auto volume = [&](int id) { return volume_of(b.evaluate(), std::to_string(id)); };
    EXPECT_NEAR(volume(post), 25 * 15, 1e-9);
    EXPECT_NEAR(volume(direct), 2.4 * 25, 1e-9);
    b.set("w", "80 mm");
    EXPECT_NEAR(volume(post), 25 * 20, 1e-9);
    EXPECT_NEAR(volume(direct), 3.2 * 25, 1e-9);
    const auto evaluation = b.evaluate();
    EXPECT_NEAR(evaluation.parameters.values.at("height").value, 20, 1e-9);
    EXPECT_EQ(evaluation.steps_run, 0); // all from the cache
    // As of the box alone nothing is measured, and nothing is wrong.
    Progress progress;
    const auto early = model::evaluate(b.document, *b.cache, b.services, progress, box);
    EXPECT_FALSE(early.failed());
    EXPECT_FALSE(early.parameters.values.contains("height"));
    // One name for all.
    b.document = rename_parameter(b.document, "content", "plate_volume");
    EXPECT_EQ(uses_of_parameter(b.document, "plate_volume").size(), 2U);
    EXPECT_NEAR(volume(post), 25 * 20, 1e-9);
}

TEST(Measured, AUseThatComesTooEarlyShowsTheLoop) {
    Builder b;
    const int box = b.box("content / (100 mm * 100 mm)", "40", "10");
    const int other = b.box("20", "20", "20");
    measure_volume(b, box, "content");
    const int reader = b.box("5", "5", "content / (100 mm * 100 mm)");
    auto evaluation = b.evaluate();
    ASSERT_TRUE(has_code(evaluation, box, "parameter.loop"));
    const std::string cause = evaluation.report(box)->findings[0].cause;
    EXPECT_NE(cause.find("10 "), std::string::npos);
    EXPECT_NE(cause.find("content \u2192 30 Measure content \u2192 10"), std::string::npos) << cause;
    EXPECT_TRUE(has_code(evaluation, reader, "parameter.not_measured"));
    EXPECT_EQ(evaluation.report(other)->state, StepState::ok);
    // The same, where the measure does not hang on the reader: too early, but no loop.
    b.change<Stock>(box, [](Stock& s) { s.width.text = "30"; });
    b.change<Stock>(other, [](Stock& s) { s.height.text = "content / (100 mm * 100 mm)"; });
    evaluation = b.evaluate();
    ASSERT_TRUE(has_code(evaluation, other, "parameter.loop"));
    EXPECT_TRUE(evaluation.report(other)->findings[0].cause.ends_with("content \u2192 30 Measure content."));
    EXPECT_FALSE(has_code(evaluation, reader, "parameter.not_measured"));
}

TEST(Measured, NamesMustBeFreeAndPicksMustHold) {
    Builder b;
    b.set("w", "60 mm");
    const int box = b.box("w", "40", "10");
    Stock round;
    round.shape.value = "cylinder";
    const int cylinder = b.step(round);
    const int taken = measure_volume(b, box, "w");
    const int first = measure_volume(b, box, "twice");
    const int second = measure_volume(b, box, "twice");
    const int unit = measure_volume(b, box, "mm");
    const int nothing = measure(b, "area", "nothing", [](Measure&) {});
    const int curved = measure(b, "angle", "curved", [&](Measure& m) {
        m.first = {near(ElementKind::face, box, 0, 0, 10)};
        m.second = {near(ElementKind::face, cylinder, 20, 0, 10)};
    });
    const auto evaluation = b.evaluate();
    EXPECT_TRUE(has_code(evaluation, taken, "parameter.double_name"));
    EXPECT_EQ(evaluation.report(first)->state, StepState::ok);
    EXPECT_TRUE(has_code(evaluation, second, "parameter.double_name"));
    EXPECT_TRUE(has_code(evaluation, unit, "parameter.name"));
    EXPECT_TRUE(has_code(evaluation, nothing, "step.unanswered"));
    EXPECT_TRUE(has_code(evaluation, curved, "measure.curved"));
    EXPECT_NEAR(evaluation.parameters.values.at("w").value, 60, 1e-12);
}
