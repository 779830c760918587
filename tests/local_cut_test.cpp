// A cut that is done the fast way leaves the same names, pieces and numbers as the general way.
#include "model_fixture.h"

#include "geom/measure.h"
#include "geom/stock.h"
#include "model/cutting.h"

#include <spdlog/sinks/ostream_sink.h>
#include <spdlog/spdlog.h>

#include <random>
#include <sstream>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

struct Outcome {
    std::multiset<std::string> names;
    std::multiset<std::string> pieces;
    double removed = 0;
    double volume = 0;
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

// What the steps say of the ways they took.
class Ways {
public:
    Ways() : before_(spdlog::default_logger()) {
        auto logger = std::make_shared<spdlog::logger>("", std::make_shared<spdlog::sinks::ostream_sink_st>(text_));
        logger->set_level(spdlog::level::debug);
        spdlog::set_default_logger(logger);
    }
    ~Ways() { spdlog::set_default_logger(before_); }
    Ways(const Ways&) = delete;
    Ways& operator=(const Ways&) = delete;
    [[nodiscard]] int count(const std::string& words) const {
        const std::string text = text_.str();
        int times = 0;
        for (size_t at = text.find(words); at != std::string::npos; at = text.find(words, at + 1)) {
            ++times;
        }
        return times;
    }

private:
    std::ostringstream text_;
    std::shared_ptr<spdlog::logger> before_;
};

// The same step once as it is and once with a body of whose parts nothing is known.
std::pair<Outcome, Outcome> both_ways(const ExtrudeCut& cut, const StepInputs& inputs) {
    const Outcome fast = outcome_of(cut.evaluate(inputs));
    auto unknown = std::make_shared<Body>(*inputs.bodies.at("10"));
    unknown->index = std::make_shared<geom::LazyIndex>(TopoDS_Shape(geom::gather({})));
    StepInputs whole = inputs;
    whole.bodies["10"] = unknown;
    return {fast, outcome_of(cut.evaluate(whole))};
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
    const Ways ways;
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
            if (round % 2 == 0) { // some that are not straight
                circle(drawing, pick(-50, 50), 40, pick(1, 5));
                drawing.add_line(drawing.add_point(-60, 20), drawing.add_point(60, 22)); // may divide the others
                drawing.add_rectangle({-62, pick(-30, 20)}, {-55, pick(22, 30)});
            }
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
    EXPECT_GT(ways.count("of 4 cutters do not"), 0);
    EXPECT_GT(ways.count("do not cut body"), 90 + 20) << "and the judge never does";
}

// Slots and holes across what a plate with many holes has, so that a general algorithm is needed, but not everywhere.
TEST(LocalCut, NamesAndPiecesOfReachedFacesAreThoseOfTheWholeBody) {
    std::mt19937 source(9);
    const auto pick = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(source);
    };
    Progress progress;
    Services services;
    ParameterValues parameters;
    const auto draw = [](const sketch::Sketch& drawing, StepInputs& inputs, ExtrudeCut& cut) {
        auto drawn = std::make_shared<SketchResult>();
        drawn->frame = gp_Ax3(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
        drawn->regions = sketch::find_regions(drawing);
        drawn->solution.sketch = drawing;
        cut.regions.clear();
        for (const auto& region : drawn->regions) {
            cut.regions.push_back({region.bounds, region.inside, 0});
        }
        inputs.sketches[20] = drawn;
        inputs.step += 10;
    };
    StepInputs plate;
    plate.step = 30;
    plate.parameters = &parameters;
    plate.services = &services;
    plate.progress = &progress;
    plate.bodies["10"] = name_fresh(10, geom::make_box(120, 120, 10, gp_Ax3()));
    ExtrudeCut cut;
    cut.sketch.step = 20;
    cut.workpieces = {{ElementKind::body, "10", {}, {}, {}}};
    cut.extent.to.value = "everything_both";
    sketch::Sketch holes;
    for (int i = 0; i < 64; ++i) {
        circle(holes, 14.0 * (i % 8) - 49, 14.0 * (i / 8) - 49, 4);
    }
    draw(holes, plate, cut);
    plate.bodies["10"] = cut.evaluate(plate).bodies.at("10");
    const Ways ways;
    for (int round = 0; round < 12; ++round) {
        StepInputs inputs = plate;
        for (int again = 0; again < 3; ++again) { // into what the cut before left
            sketch::Sketch drawing;
            const double x = pick(-62, 50);
            const double y = pick(-50, 50);
            drawing.add_rectangle({x, y}, {x + pick(2, 20), y + pick(1, 4)});
            circle(drawing, pick(-50, 50), pick(-50, 50), pick(1, 6));
            draw(drawing, inputs, cut);
            cut.extent.to.value = again == 1 ? "distance" : "everything_both";
            cut.extent.way.value = "ahead";
            cut.extent.distance.text = "4 mm";
            const auto [fast, general] = both_ways(cut, inputs);
            EXPECT_EQ(fast.names, general.names) << round << " " << again;
            EXPECT_EQ(fast.pieces, general.pieces) << round << " " << again;
            EXPECT_NEAR(fast.removed, general.removed, 1e-6) << round;
            EXPECT_NEAR(fast.volume, general.volume, 1e-6) << round;
            EXPECT_TRUE(geom::is_valid(fast.body->shape)) << round;
            inputs.bodies["10"] = fast.body;
            if (HasFailure()) {
                return;
            }
        }
    }
    EXPECT_EQ(ways.count("cut as a whole: the body is no solid"), 36) << "the judge";
    EXPECT_LT(ways.count("cut as a whole"), 36 + 4);
    EXPECT_GT(ways.count("do not cut body"), 36 + 20);
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
