// Groups and layers: what they mean to steps, what they hand on, and what edits of them do.
#include "cutters_fixture.h"

#include "model/document/groups_and_layers.h"
#include "model/route/dependency_graph.h"
#include "model/steps/blade/blade.h"
#include "model/steps/place/place.h"

namespace kervo::model::test {

namespace {

// Boxes of 10 x 10 x 10 at x = 0, 20, 40 (ids 10, 20, 30); the first two are in the group 1, which lies in 2 with the
// third.
struct Grouped : testing::Test {
    CutterBuilder builder;
    Grouped() {
        for (const char* x : {"0", "20", "40"}) {
            builder.box("10", "10", "10", "0", x);
        }
        builder.document = make_group(builder.document, {"10", "20"}, {}, {}, "Pair", nullptr);
        builder.document = make_group(builder.document, {"30"}, {1}, {}, "All", nullptr);
    }
    int move(const std::string& body, const std::string& by) {
        PlaceBodies definition;
        definition.bodies = {whole(body)};
        definition.z.text = by;
        return builder.step(definition);
    }
    double low(const Evaluation& evaluation, const BodyId& id) {
        return geom::box_of(body_of(evaluation, id)->shape)[2];
    }
};

std::map<BodyId, int> groups_of(const Evaluation& evaluation) {
    std::map<BodyId, int> now;
    for (const auto& [id, traits] : evaluation.traits) {
        now[id] = traits.group;
    }
    return now;
}

} // namespace

TEST_F(Grouped, LieInEachOther) {
    const Document& document = builder.document;
    EXPECT_EQ(find_group(document, 1)->within, 2);
    EXPECT_TRUE(lies_in(document, 1, 2));
    EXPECT_FALSE(lies_in(document, 2, 1));
    EXPECT_EQ(seen_from(document, 1, 0), 2);
    EXPECT_EQ(seen_from(document, 1, 2), 1);
    EXPECT_EQ(group_meant(reference_to_group(12)), 12);
    EXPECT_EQ(group_meant("12"), 0);
    EXPECT_EQ(group_meant("#"), 0);
    EXPECT_EQ(maker_of("#12"), 0);
    // Into itself, or into what it holds, it does not go.
    EXPECT_TRUE(same_content(put_into_group(document, {}, {2}, 1), document));
    EXPECT_TRUE(same_content(put_into_group(document, {}, {2}, 2), document));
}

TEST_F(Grouped, MoveAndAreCutAsOne) {
    const int moved = move("#2", "5");
    const int moved_pair = move("#1", "1");
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, moved);
    EXPECT_NEAR(low(evaluation, "10"), 6, 1e-9);
    EXPECT_NEAR(low(evaluation, "20"), 6, 1e-9);
    EXPECT_NEAR(low(evaluation, "30"), 5, 1e-9);
    // A blade across all of them, whose upper pieces become bodies: these belong to the same groups, and move with
    // them.
    const int blade = builder.blade({"#2"}, [](BladeStep& b) {
        b.keeps.value = "both";
        b.plane.principal.value = "xy";
        b.plane.offset.text = "10";
    });
    const int last = move("#1", "100");
    evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, blade) << said(evaluation, last);
    EXPECT_EQ(evaluation.bodies_as_of().size(), 6U);
    double moved_volume = 0;
    int in_pair = 0;
    for (const auto& [id, body] : evaluation.bodies_as_of()) {
        const bool pair = evaluation.traits.at(id).group == 1;
        in_pair += pair ? 1 : 0;
        EXPECT_EQ(geom::box_of(body->shape)[2] > 50, pair) << id;
        moved_volume += pair ? geom::volume_of(body->shape) : 0;
    }
    EXPECT_EQ(in_pair, 4);
    EXPECT_NEAR(moved_volume, 2000, 1e-6);
    // A step that names such a piece sees it where the group was moved to.
    BodyId piece;
    for (const auto& [id, traits] : evaluation.traits) {
        piece = maker_of(id) == blade && traits.group == 1 ? id : piece;
    }
    move(piece, "1000");
    evaluation = builder.evaluate();
    EXPECT_NEAR(low(evaluation, piece), 1110, 1e-9);
    EXPECT_NEAR(low(evaluation, "20"), 106, 1e-9);
    // The same again comes from the cache.
    EXPECT_EQ(builder.evaluate().steps_run, 0);
    // Another member later changes what the steps do, and nothing else has to.
    builder.document = put_into_group(builder.document, {"20"}, {}, 0);
    evaluation = builder.evaluate();
    EXPECT_NEAR(low(evaluation, "20"), 0, 1e-9);
    EXPECT_NEAR(low(evaluation, "10"), 106, 1e-9);
    EXPECT_GT(evaluation.steps_run, 0);
    EXPECT_EQ(moved_pair, 50);
}

TEST_F(Grouped, TwoWaysOfTheSameChoiceAgree) {
    const int by_group = move("#1", "5");
    const Evaluation grouped = builder.evaluate();
    builder.change<PlaceBodies>(by_group, [](PlaceBodies& p) { p.bodies = wholes({"10", "20"}); });
    const Evaluation named = builder.evaluate();
    for (const BodyId id : {"10", "20", "30"}) {
        EXPECT_EQ(low(grouped, id), low(named, id));
    }
    EXPECT_EQ(named.steps_run, 0); // it is the same step
}

TEST_F(Grouped, AnEmptyGroupIsSaid) {
    const int step = move("#1", "5");
    builder.document = put_into_group(builder.document, {"10", "20"}, {}, 0);
    EXPECT_TRUE(has_code(builder.evaluate(), step, "names.empty_group"));
    builder.change<PlaceBodies>(step, [](PlaceBodies& p) { p.bodies = {whole("#7")}; });
    EXPECT_TRUE(has_code(builder.evaluate(), step, "names.empty_group"));
}

TEST_F(Grouped, WhatIsUsedUpIsNoMember) {
    builder.join({"10", "20"}, "unite");
    move("#1", "5");
    const Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed());
    EXPECT_NEAR(low(evaluation, "10"), 5, 1e-9);
    EXPECT_EQ(evaluation.bodies_as_of().size(), 2U);
}

TEST_F(Grouped, DissolvedStepsKeepTheirMeaning) {
    const int step = move("#1", "5");
    const Evaluation before = builder.evaluate();
    builder.document = dissolve_group(builder.document, 1, groups_of(before));
    EXPECT_EQ(find_group(builder.document, 1), nullptr);
    const Evaluation after = builder.evaluate();
    ASSERT_FALSE(after.failed()) << said(after, step);
    EXPECT_NEAR(low(after, "20"), 5, 1e-9);
    EXPECT_NEAR(low(after, "30"), 0, 1e-9);
    EXPECT_EQ(after.traits.at("10").group, 2); // that around it
    // Ids are not given again.
    int id = 0;
    builder.document = make_group(builder.document, {"10"}, {}, groups_of(after), {}, &id);
    EXPECT_EQ(id, 3);
    EXPECT_EQ(find_group(builder.document, 3)->within, 2);
    EXPECT_EQ(find_group(builder.document, 3)->name, "Group 3");
}

TEST_F(Grouped, ThePictureOfDependenciesKnowsThem) {
    const int step = move("#2", "5");
    const DependencyGraph graph = dependency_graph(builder.document);
    const auto node = [&](int id) {
        return static_cast<int>(std::find_if(graph.nodes.begin(), graph.nodes.end(),
                                             [id](const GraphNode& each) { return each.step == id; }) -
                                graph.nodes.begin());
    };
    const auto behind = graph.behind(node(step));
    for (const int box : {10, 20, 30}) {
        EXPECT_TRUE(std::find(behind.begin(), behind.end(), node(box)) != behind.end()) << box;
    }
}

TEST(Layers, HoldWhatIsMadeOnThem) {
    CutterBuilder builder;
    std::string name;
    builder.document = add_layer(builder.document, "Frame", &name);
    builder.document.current_layer = name;
    builder.box("40", "40", "20");
    builder.document = add_layer(builder.document, "Frame", &name);
    EXPECT_EQ(name, "Frame 2");
    builder.document.current_layer = name;
    builder.blade({"10"}, [](BladeStep& b) { b.keeps.value = "both"; });
    builder.box("10", "10", "10", "50");
    Evaluation evaluation = builder.evaluate();
    EXPECT_EQ(evaluation.traits.at("10").layer, "Frame");
    EXPECT_EQ(evaluation.traits.at("30").layer, "Frame 2");
    int pieces = 0;
    for (const auto& [id, traits] : evaluation.traits) { // of the body on the first layer, whichever is current
        pieces += maker_of(id) == 20 && traits.layer == "Frame" ? 1 : 0;
    }
    EXPECT_EQ(pieces, 1);
    builder.document = rename_layer(builder.document, "Frame", "Frame 2"); // taken
    EXPECT_NE(find_layer(builder.document, "Frame"), nullptr);
    builder.document = rename_layer(builder.document, "Frame", "Stock");
    builder.document.appearance["30"].layer = "Stock";
    evaluation = builder.evaluate();
    EXPECT_EQ(evaluation.traits.at("10").layer, "Stock");
    EXPECT_EQ(evaluation.traits.at("30").layer, "Stock");
    builder.document = change_layer(builder.document, "Stock", [](Layer& layer) { layer.locked = true; });
    EXPECT_FALSE(can_be_picked(builder.document, "10", "Stock"));
    EXPECT_TRUE(can_be_picked(builder.document, "10", "Frame 2"));
    EXPECT_FALSE(is_hidden(builder.document, "10", "Stock"));
    builder.document = change_layer(builder.document, "Stock", [](Layer& layer) { layer.hidden = true; });
    EXPECT_TRUE(is_hidden(builder.document, "10", "Stock"));
    builder.document.appearance["30"].showing = Showing::aside;
    EXPECT_FALSE(can_be_picked(builder.document, "30", "Frame 2"));
    builder.document = remove_layer(builder.document, "Stock");
    evaluation = builder.evaluate();
    EXPECT_EQ(evaluation.traits.at("10").layer, "");
    EXPECT_EQ(evaluation.traits.at("30").layer, "Frame 2"); // its step's
}

TEST(Sketches, AreShownUntilAStepUsesThem) {
    Builder builder;
    sketch::Sketch drawing;
    circle(drawing, 0, 0, 5);
    const int used = builder.sketch(drawing);
    const int idle = builder.sketch(drawing);
    builder.box("40", "30", "20");
    const int cut = builder.cut(used, {{0, 0}}, {"30"});
    EXPECT_EQ(sketches_shown(builder.document), (std::set<int>{idle}));
    const auto with = [&](int id, const std::function<void(Step&)>& edit) {
        return sketches_shown(change_step(builder.document, id, edit));
    };
    EXPECT_EQ(with(cut, [](Step& s) { s.suspended = true; }), (std::set<int>{used, idle}));
    EXPECT_EQ(with(used, [](Step& s) { s.shown = true; }), (std::set<int>{used, idle}));
    EXPECT_EQ(with(idle, [](Step& s) { s.shown = false; }), std::set<int>{});
    EXPECT_EQ(with(idle, [](Step& s) { s.suspended = true; }), std::set<int>{});
    EXPECT_FALSE(same_content(builder.document, change_step(builder.document, idle, [](Step& s) { s.shown = true; })));
}

} // namespace kervo::model::test
