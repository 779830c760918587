// Evaluation by its laws: whatever is edited in whatever order, the cached result is the fresh one, and only what
// depends on the edit is run again.
#include "model/document/new_names.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"
#include "model_fixture.h"

#include <atomic>
#include <random>
#include <thread>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

// Plates with a parameter each for height and for the bore that all cuts through them share one by one.
struct Rack {
    Builder builder;
    std::vector<int> plates, sketches, cuts;
};

Rack rack_of(int count) {
    Rack rack;
    Builder& b = rack.builder;
    for (int i = 0; i < count; ++i) {
        const std::string index = std::to_string(i);
        b.set("height" + index, std::to_string(5 + i));
        b.set("bore" + index, "6");
        rack.plates.push_back(b.box("40", "30", "height" + index, std::to_string(30 * i)));
        sketch::Sketch s;
        circle(s, 0, 0, 3, "bore" + index);
        rack.sketches.push_back(b.sketch(s));
        rack.cuts.push_back(b.cut(rack.sketches.back(), {{0, 0}}, {std::to_string(rack.plates.back())}));
    }
    return rack;
}

void expect_same(const Evaluation& cached, const Evaluation& fresh) {
    ASSERT_EQ(cached.steps.size(), fresh.steps.size());
    for (size_t i = 0; i < cached.steps.size(); ++i) {
        EXPECT_EQ(cached.steps[i].state, fresh.steps[i].state) << cached.steps[i].id;
        ASSERT_EQ(cached.steps[i].findings.size(), fresh.steps[i].findings.size()) << cached.steps[i].id;
        for (size_t f = 0; f < cached.steps[i].findings.size(); ++f) {
            EXPECT_EQ(cached.steps[i].findings[f].code, fresh.steps[i].findings[f].code);
        }
    }
    const auto a = cached.bodies_as_of();
    const auto b = fresh.bodies_as_of();
    ASSERT_EQ(a.size(), b.size());
    for (size_t i = 0; i < a.size(); ++i) {
        EXPECT_EQ(a[i].first, b[i].first);
        EXPECT_NEAR(geom::volume_of(a[i].second->shape), geom::volume_of(b[i].second->shape), 1e-9);
        EXPECT_EQ(geom::count(a[i].second->shape).faces, geom::count(b[i].second->shape).faces);
    }
}

} // namespace

TEST(Evaluation, ManyEditsGiveWhatAFreshStartGives) {
    std::mt19937 random(51);
    Rack rack = rack_of(4);
    Builder& b = rack.builder;
    b.evaluate();
    for (int round = 0; round < 40; ++round) {
        const size_t i = random() % 4;
        const std::string index = std::to_string(i);
        switch (random() % 6) {
        case 0:
            b.set("height" + index, std::to_string(4 + random() % 20));
            break;
        case 1:
            b.set("bore" + index, std::to_string(2 + random() % 35));
            break; // also wider than the plate
        case 2:
            b.document = change_step(b.document, rack.cuts[i], [](Step& s) { s.suspended = !s.suspended; });
            break;
        case 3:
            b.document = move_step(b.document, rack.plates[i], static_cast<int>(random() % b.document.steps.size()));
            break; // maybe behind the cut that needs it
        case 4:
            b.set("bore" + index, "height" + index + " * 2");
            break;
        default:
            b.set("height" + index, "no_such_name");
            break;
        }
        const auto cached = b.evaluate();
        EvaluationCache empty;
        Progress progress;
        const auto fresh = evaluate(b.document, empty, b.services, progress);
        expect_same(cached, fresh);
        EXPECT_LE(cached.steps_run, fresh.steps_run);
        if (HasFatalFailure()) {
            return;
        }
    }
}

TEST(Evaluation, OnlyWhatDependsOnAnEditRuns) {
    Rack rack = rack_of(5);
    Builder& b = rack.builder;
    EXPECT_EQ(b.evaluate().steps_run, 15);
    b.evaluate(); // the places by which the regions were given have become names
    b.set("height2", "9");
    EXPECT_EQ(b.evaluate().steps_run, 2); // the plate and its cut, not the sketch
    b.set("bore2", "9");
    EXPECT_EQ(b.evaluate().steps_run, 2); // the sketch and the cut
    b.set("unused", "9");
    EXPECT_EQ(b.evaluate().steps_run, 0);
    b.document = change_step(b.document, rack.plates[0], [](Step& s) {
        s.name = "Renamed";
        s.note = "A note changes nothing.";
    });
    EXPECT_EQ(b.evaluate().steps_run, 0);
    b.document = remove_step(b.document, rack.cuts[4]);
    EXPECT_EQ(b.evaluate().steps_run, 0);
    b.set("height2", "height3"); // the same value by another way
    b.set("height3", "9");
    EXPECT_EQ(b.evaluate().steps_run, 2);
}

TEST(Evaluation, AsOfAStepRunsNothingBelow) {
    Rack rack = rack_of(3);
    Builder& b = rack.builder;
    Progress progress;
    const auto early = evaluate(b.document, *b.cache, b.services, progress, rack.cuts[0]);
    EXPECT_EQ(early.steps_run, 3);
    EXPECT_EQ(early.bodies_as_of().size(), 1u);
    EXPECT_EQ(early.report(rack.plates[2]), nullptr);
    EXPECT_EQ(b.evaluate().steps_run, 6);
    const auto all = b.evaluate();
    EXPECT_EQ(all.bodies_as_of(rack.plates[0]).size(), 1u);
    EXPECT_NEAR(geom::volume_of(all.bodies_as_of(rack.plates[0])[0].second->shape), 40 * 30 * 5, 1e-9);
    EXPECT_NEAR(geom::volume_of(all.bodies_as_of(rack.cuts[0])[0].second->shape), 40 * 30 * 5 - pi * 9 * 5, 1e-7);
    EXPECT_TRUE(all.bodies_as_of(999).empty());
}

TEST(Evaluation, StaleReachesAllThatReadsAndNothingElse) {
    Rack rack = rack_of(2);
    Builder& b = rack.builder;
    const BodyId first = std::to_string(rack.plates[0]);
    const int second_cut = b.cut(rack.sketches[1], {{0, 0}}, {first});
    b.set("bore0", "100"); // cuts the whole plate away: it is used up
    b.set("bore1", "oops");
    const auto evaluation = b.evaluate();
    EXPECT_EQ(evaluation.report(rack.sketches[1])->state, StepState::failed);
    for (const int reads : {rack.cuts[1], second_cut}) {
        EXPECT_TRUE(evaluation.report(reads)->state == StepState::failed ||
                    evaluation.report(reads)->state == StepState::stale);
    }
    EXPECT_TRUE(evaluation.traits.at(std::to_string(rack.plates[1])).stale);
    EXPECT_EQ(evaluation.report(rack.plates[0])->state, StepState::ok);
    EXPECT_EQ(evaluation.report(rack.cuts[0])->state, StepState::warning);
    EXPECT_TRUE(has_code(evaluation, rack.cuts[0], "cut.all_gone"));
    b.set("bore0", "6");
    b.set("bore1", "8"); // wider, so that the second cut through the first plate finds something
    EXPECT_FALSE(b.evaluate().failed());
}

TEST(Evaluation, CancelledAtAnyMomentItLeavesNothingWrong) {
    for (const int delay : {0, 1, 3, 8, 20, 50}) {
        Rack rack = rack_of(6);
        Builder& b = rack.builder;
        Progress progress;
        std::jthread stopper([&] {
            std::this_thread::sleep_for(std::chrono::milliseconds(delay));
            progress.cancel();
        });
        const auto stopped = evaluate(b.document, *b.cache, b.services, progress);
        stopper.join();
        const auto again = b.evaluate();
        ASSERT_FALSE(again.cancelled);
        EXPECT_EQ(again.bodies_as_of().size(), 6u);
        for (size_t i = 0; i < 6; ++i) {
            const double h = 5 + static_cast<double>(i);
            EXPECT_NEAR(volume_of(again, std::to_string(rack.plates[i])), 1200 * h - pi * 9 * h, 1e-7) << delay;
        }
        EXPECT_LE(stopped.steps_run + again.steps_run,
                  18 + 12); // what was finished is not done twice, save what was under way
    }
}

TEST(Evaluation, TwoEvaluationsMayShareACache) {
    Rack rack = rack_of(6);
    Builder& b = rack.builder;
    const Document plain = b.document;
    b.set("height3", "17");
    const Document other = b.document;
    std::atomic<int> wrong = 0;
    const auto work = [&](const Document& document, double height) {
        for (int i = 0; i < 5; ++i) {
            Progress progress;
            const auto evaluation = evaluate(document, *b.cache, b.services, progress);
            const double volume = volume_of(evaluation, std::to_string(rack.plates[3]));
            wrong += std::abs(volume - (1200 - pi * 9) * height) > 1e-6 ? 1 : 0;
        }
    };
    {
        std::jthread one(work, plain, 8.0);
        std::jthread two(work, other, 17.0);
    }
    EXPECT_EQ(wrong, 0);
}

TEST(Evaluation, ReportsProgress) {
    Rack rack = rack_of(3);
    Builder& b = rack.builder;
    EvaluationCache cache;
    std::atomic<int> calls = 0;
    std::atomic<bool> outside = false;
    Progress progress([&](double share, const std::string& /*what*/) {
        ++calls;
        outside = outside || share < 0 || share > 1 + 1e-12;
    });
    evaluate(b.document, cache, b.services, progress);
    EXPECT_GT(calls, 0);
    EXPECT_FALSE(outside);
}

TEST(Document, NamesTypedAsAnswersBecomeParameters) {
    Builder b;
    const int plate = b.box("40", "30", "thick = 7 mm");
    sketch::Sketch s;
    circle(s, 0, 0, 3, "bore = thick - 1 mm");
    const int drawn = b.sketch(s);
    b.document = take_new_names(b.document);
    ASSERT_EQ(b.document.parameters.size(), 2u);
    EXPECT_EQ(b.document.step(plate)->definition.as<Stock>()->height.text, "thick");
    EXPECT_EQ(b.document.step(drawn)->definition.as<SketchStep>()->drawing.constraints.back().value.text, "bore");
    EXPECT_EQ(b.document.parameters[1].unit, "mm");
    b.cut(drawn, {{0, 0}}, {std::to_string(plate)});
    EXPECT_NEAR(volume_of(b.evaluate(), std::to_string(plate)), 1200 * 7 - pi * 9 * 7, 1e-7);
    b.document = take_new_names(change_field(b.document, plate, "height", Expression{"thick = 9 mm"}));
    EXPECT_EQ(b.document.parameters.size(), 2u); // the same name, with another formula
    EXPECT_NEAR(volume_of(b.evaluate(), std::to_string(plate)), 1200 * 9 - pi * 16 * 9, 1e-7);
    const Document same = take_new_names(b.document);
    EXPECT_TRUE(same_content(same, b.document));
}

TEST(Document, EditsLeaveTheOldValueAsItWas) {
    Rack rack = rack_of(2);
    const Document before = rack.builder.document;
    const Document copy = before;
    Document after = remove_step(before, rack.cuts[0]);
    after = move_step(after, rack.plates[1], 0);
    after = rename_parameter(after, "bore1", "hole");
    after = change_field(after, rack.plates[0], "width", Expression{"77"});
    EXPECT_TRUE(same_content(before, copy));
    EXPECT_FALSE(same_content(before, after));
    EXPECT_EQ(before.step(rack.plates[0])->definition.as<Stock>()->width.text, "40");
    EXPECT_EQ(after.step(rack.plates[0])->definition.as<Stock>()->width.text, "77");
    EXPECT_EQ(after.index_of(rack.cuts[0]), -1);
    // What two values share is shared in memory: a long history costs little.
    const Document wider = change_field(before, rack.plates[0], "width", Expression{"77"});
    EXPECT_EQ(before.step(rack.cuts[1]), wider.step(rack.cuts[1]));
}
