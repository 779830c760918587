// A cut that is done the fast way leaves the same names, pieces and numbers as the general way.
#include "model_fixture.h"
#include "one_cut.h"

#include "geom/make/stock.h"
#include "geom/measure/measure.h"
#include "model/cutting/cutting.h"

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

// The same step once as it is and once with a body of whose parts nothing is known: they must agree. What it left.
BodyPtr both_ways(const OneCut& one, const std::string& what) {
    const Outcome fast = outcome_of(one.cut.evaluate(one.inputs));
    auto unknown = std::make_shared<Body>(*one.inputs.bodies.at("10"));
    unknown->index = std::make_shared<geom::LazyIndex>(TopoDS_Shape(geom::gather({})));
    StepInputs whole = one.inputs;
    whole.bodies["10"] = unknown;
    const Outcome general = outcome_of(one.cut.evaluate(whole));
    EXPECT_EQ(fast.names, general.names) << what;
    EXPECT_EQ(fast.pieces, general.pieces) << what;
    EXPECT_NEAR(fast.removed, general.removed, 1e-6) << what;
    EXPECT_NEAR(fast.volume, general.volume, 1e-6) << what;
    return fast.body;
}

struct Dice {
    std::mt19937 source;
    double operator()(double low, double high) { return std::uniform_real_distribution<double>(low, high)(source); }
};

} // namespace

TEST(LocalCut, NamesAndPiecesAreThoseOfTheGeneralWay) {
    Dice pick{std::mt19937(3)};
    int compared = 0;
    const Ways ways;
    for (int round = 0; round < 30; ++round) {
        OneCut one(geom::make_box(120, 80, 10, gp_Ax3()));
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
            if (round % 2 == 0) { // some that are not straight
                circle(drawing, pick(-50, 50), 40, pick(1, 5));
                drawing.add_line(drawing.add_point(-60, 20), drawing.add_point(60, 22)); // may divide the others
                drawing.add_rectangle({-62, pick(-30, 20)}, {-55, pick(22, 30)});
            }
            one.draw(drawing, again == 2 ? 10 : 0);
            one.cut.extent.to.value = again == 2 ? "distance" : "everything_both";
            one.cut.extent.distance.text = "4 mm";
            one.cut.extent.way.value = "back";
            one.go_on_with(both_ways(one, std::to_string(round) + " " + std::to_string(again)));
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
    Dice pick{std::mt19937(9)};
    OneCut one(geom::make_box(120, 120, 10, gp_Ax3()));
    sketch::Sketch holes;
    for (int i = 0; i < 64; ++i) {
        circle(holes, 14.0 * (i % 8) - 49, 14.0 * (i / 8) - 49, 4);
    }
    one.draw(holes);
    one.go_on();
    one.cut.extent.distance.text = "4 mm";
    one.cut.extent.way.value = "ahead";
    const StepInputs plate = one.inputs;
    const Ways ways;
    for (int round = 0; round < 12; ++round) {
        one.inputs = plate;
        for (int again = 0; again < 3; ++again) { // into what the cut before left
            sketch::Sketch drawing;
            const double x = pick(-62, 50);
            const double y = pick(-50, 50);
            drawing.add_rectangle({x, y}, {x + pick(2, 20), y + pick(1, 4)});
            circle(drawing, pick(-50, 50), pick(-50, 50), pick(1, 6));
            one.draw(drawing);
            one.cut.extent.to.value = again == 1 ? "distance" : "everything_both";
            const BodyPtr left = both_ways(one, std::to_string(round) + " " + std::to_string(again));
            EXPECT_TRUE(geom::is_valid(left->shape)) << round;
            one.go_on_with(left);
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
