// A cut that is done the fast way leaves the same names, pieces and numbers as the general way.
#include "model_fixture.h"

#include "geom/measure.h"
#include "geom/stock.h"
#include "model/cutting.h"

#include <random>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

struct Outcome {
    std::multiset<std::string> names;
    std::multiset<std::string> pieces;
    double removed = 0;
    double volume = 0;
    bool fast = false;
    BodyPtr body;
};

Outcome outcome_of(const StepOutput& output) {
    Outcome outcome;
    EXPECT_FALSE(has_error(output.findings)) << output.findings.front().cause;
    outcome.body = output.bodies.at("10");
    for (const TopoDS_Shape& face : geom::faces_of(outcome.body->shape)) {
        outcome.names.insert(outcome.body->names.Find(face).text());
    }
    for (const Piece& piece : output.pieces) {
        outcome.pieces.insert(piece.identity.text());
    }
    outcome.removed = output.removed;
    outcome.volume = geom::volume_of(outcome.body->shape);
    return outcome;
}

// The same step once as it is and once with cutters that are only solids.
std::pair<Outcome, Outcome> both_ways(const ExtrudeCut& cut, const StepInputs& inputs) {
    const Outcome fast = outcome_of(cut.evaluate(inputs));
    StepOutput general;
    Answers answers(inputs, general);
    const std::vector<BodyPtr> bodies{inputs.bodies.at("10")};
    auto cutters = cut.cutters(inputs, bodies, answers, general);
    for (SweptRegion& cutter : cutters) {
        cutter = SweptRegion(cutter.key, cutter.solid());
    }
    cut_bodies(bodies, cutters, cut.verdicts, Keeps::outside, inputs, general, answers);
    return {fast, outcome_of(general)};
}

} // namespace

TEST(LocalCut, NamesAndPiecesAreThoseOfTheGeneralWay) {
    std::mt19937 source(3);
    const auto pick = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(source);
    };
    Progress progress;
    Services services;
    ParameterValues parameters;
    int compared = 0;
    for (int round = 0; round < 30; ++round) {
        StepInputs inputs;
        inputs.step = 30;
        inputs.parameters = &parameters;
        inputs.services = &services;
        inputs.progress = &progress;
        inputs.bodies["10"] = name_fresh(10, geom::make_box(120, 80, 10, gp_Ax3()));
        for (int again = 0; again < 3; ++again) { // into what the cut before left
            sketch::Sketch drawing;
            for (int i = 0; i < 3; ++i) {
                const double x = pick(-50, 40);
                const double y = pick(-30, 25);
                if (i == 0) {
                    drawing.add_rectangle({x, y}, {x + pick(2, 12), y + pick(2, 12)});
                } else {
                    circle(drawing, x, y, pick(1, 5));
                }
            }
            if (again == 1) { // one curve that makes two sides
                circle(drawing, 0, 0, 3);
                drawing.add_line(drawing.add_point(-2, -8), drawing.add_point(-2, 8));
                drawing.add_line(drawing.add_point(2, -8), drawing.add_point(2, 8));
            }
            auto drawn = std::make_shared<SketchResult>();
            drawn->frame = gp_Ax3(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
            drawn->regions = sketch::find_regions(drawing);
            drawn->solution.sketch = drawing;
            ExtrudeCut cut;
            cut.sketch.step = 20;
            cut.workpieces = {{ElementKind::body, "10", {}, {}, {}}};
            for (const auto& region : drawn->regions) {
                cut.regions.push_back({region.bounds, region.inside, 0});
            }
            if (again == 2) {
                cut.extent.to.value = "distance";
                cut.extent.distance.text = "4 mm";
                cut.extent.way.value = "back";
                drawn->frame.SetLocation(gp_Pnt(0, 0, 10));
            } else {
                cut.extent.to.value = "everything_both";
            }
            inputs.sketches[20] = drawn;
            inputs.step += 10;
            const auto [fast, general] = both_ways(cut, inputs);
            EXPECT_EQ(fast.names, general.names) << round << " " << again;
            EXPECT_EQ(fast.pieces, general.pieces) << round << " " << again;
            EXPECT_NEAR(fast.removed, general.removed, 1e-6) << round;
            EXPECT_NEAR(fast.volume, general.volume, 1e-6) << round;
            inputs.bodies["10"] = fast.body;
            ++compared;
            if (HasFailure()) {
                return;
            }
        }
    }
    EXPECT_EQ(compared, 90);
}

// A body shares the names that did not change with the one it was cut from, over many cuts.
TEST(LocalCut, ElementsAreFoundAfterManyCuts) {
    Builder b;
    const int plate = b.box("100", "100", "10");
    for (int i = 0; i < 12; ++i) {
        sketch::Sketch hole;
        circle(hole, -40 + 7.0 * i, 5.0 * (i % 3), 2);
        b.cut(b.sketch(hole), {{-40 + 7.0 * i, 5.0 * (i % 3)}}, {std::to_string(plate)});
    }
    const auto evaluation = b.evaluate();
    const BodyPtr body = body_of(evaluation, std::to_string(plate));
    ASSERT_EQ(geom::faces_of(body->shape).size(), 18U);
    for (const TopoDS_Shape& face : geom::faces_of(body->shape)) {
        const Reference reference = refer_to(std::to_string(plate), *body, face);
        const Resolved found = resolve(reference, body.get());
        EXPECT_TRUE(found.element.IsSame(face)) << reference.faces.front();
        EXPECT_FALSE(found.finding);
    }
    EXPECT_NEAR(body->index->cone().volume, 100 * 100 * 10 - 12 * 4 * pi * 10, 1e-6);
}
