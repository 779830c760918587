// Bodies cut by bodies: pins through plates, overlapping and spared ones, verdicts that survive changes.
#include "cutters_fixture.h"
#include "geom/make/stock.h"
#include "model/steps/blade/blade.h"
#include "model/steps/body_cut/body_cut.h"
#include "model/steps/copy_bodies/copy_bodies.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/holes/holes.h"
#include "model/steps/hollow/hollow.h"
#include "model/steps/join/join.h"
#include "model/steps/opening/opening.h"
#include "model/steps/round_edges/round_edges.h"
#include "model/steps/separate/separate.h"
#include "model/steps/stock/stock.h"

namespace kervo::model::test {

namespace {

// A plate of 200 x 100 x 20 (id 10) and eight pins of radius 5 (ids 20 to 90) in two rows through it.
struct PlateWithPins : testing::Test {
    CutterBuilder builder;
    std::vector<BodyId> pins;
    int cut = 0;
    static constexpr double hole = 500; // times pi: the volume of one

    PlateWithPins() {
        builder.box("200", "100", "20");
        builder.set("short_pin", "16 mm");
        for (int i = 0; i < 8; ++i) {
            const std::string x = std::to_string(-75 + 50 * (i % 4));
            const std::string y = i < 4 ? "-30" : "30";
            // the sixth enters from above and ends inside
            pins.push_back(std::to_string(i == 5 ? builder.pin("10", "short_pin + 20 mm", {x, y, "20 mm - short_pin"})
                                                 : builder.pin("10", "40", {x, y, "-10"})));
        }
        cut = builder.body_cut({"10"}, pins);
    }
};

TEST_F(PlateWithPins, SaysWhichPinIsTooShortAndByHowMuch) {
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_EQ(pieces_of(evaluation, cut), 9U);
    EXPECT_TRUE(has_code(evaluation, cut, "cut.short"));
    EXPECT_NE(said(evaluation, cut).find("4.000 mm short"), std::string::npos) << said(evaluation, cut);
    EXPECT_EQ(evaluation.report(cut)->findings.size(), 1U);
    const auto& place = evaluation.report(cut)->findings.front().places.front();
    EXPECT_NEAR(place[0], -25, 1e-9);
    EXPECT_NEAR(place[1], 30, 1e-9);
    EXPECT_NEAR(place[2], 4, 1e-9);
    EXPECT_NEAR(removed_by(evaluation, cut), (7 * hole + 400) * pi, 1e-9 * 400000);
    for (const Piece& piece : evaluation.report(cut)->output->pieces) {
        const double closed = piece.identity.inside.empty()              ? 400000 - (7 * hole + 400) * pi
                              : piece.identity.inside.front() == pins[5] ? 400 * pi
                                                                         : hole * pi;
        EXPECT_NEAR(piece.volume / closed, 1, 1e-9);
    }
    builder.set("short_pin", "20 mm + 1 mm");
    evaluation = builder.evaluate();
    EXPECT_EQ(said(evaluation, cut), "");
    EXPECT_EQ(pieces_of(evaluation, cut), 9U);
    EXPECT_NEAR(removed_by(evaluation, cut) / (4000 * pi), 1, 1e-9);
    EXPECT_NEAR(sound_volume(evaluation, "10") / (400000 - 4000 * pi), 1, 1e-9);
    EXPECT_EQ(evaluation.bodies_as_of().size(), 1U); // the pins are used up
    builder.set("short_pin", "16 mm");
    builder.change<BodyCut>(cut, [](BodyCut& b) { b.short_ends.value = "meant"; });
    EXPECT_EQ(said(builder.evaluate(), cut), "");
}

TEST_F(PlateWithPins, HalfOfItMirroredUnitedAndCleanedIsTheWholeAgain) {
    builder.set("short_pin", "21 mm");
    const int half = builder.blade({"10"}, [](BladeStep& b) { b.keeps.value = "front"; });
    CopyBodies mirrored;
    mirrored.bodies = wholes({"10"});
    mirrored.pattern.arrange.value = "mirror";
    mirrored.pattern.plane.value = "yz";
    const int copy = builder.step(mirrored);
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, half) << said(evaluation, copy);
    EXPECT_NEAR(sound_volume(evaluation, "10") / (200000 - 2000 * pi), 1, 1e-9);
    const BodyId other = evaluation.report(copy)->output->births.front().id;
    const int join = builder.join({"10", other}, "unite");
    evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, join);
    EXPECT_NEAR(sound_volume(evaluation, "10") / (400000 - 4000 * pi), 1, 1e-9);
    const auto counts = geom::count(body_of(evaluation, "10")->shape);
    EXPECT_EQ(counts.faces, 14);
    EXPECT_EQ(counts.lumps, 1);
    builder.change<Join>(join, [](Join& j) { j.seams.value = "kept"; });
    evaluation = builder.evaluate();
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).faces, 14 + 4); // top, bottom, front and back in two
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).lumps, 1);
}

TEST_F(PlateWithPins, AnyOrderOfTheListsGivesTheSame) {
    const Evaluation one = builder.evaluate();
    builder.change<BodyCut>(cut, [](BodyCut& b) { std::reverse(b.cutter_bodies.begin(), b.cutter_bodies.end()); });
    const Evaluation other = builder.evaluate();
    EXPECT_NEAR(volume_of(one, "10"), volume_of(other, "10"), 1e-6);
    std::set<std::string> ids[2];
    for (const Piece& piece : one.report(cut)->output->pieces) {
        ids[0].insert(piece.identity.text());
    }
    for (const Piece& piece : other.report(cut)->output->pieces) {
        ids[1].insert(piece.identity.text());
    }
    EXPECT_EQ(ids[0], ids[1]);
}

TEST(BodyCut, OverlappingCuttersGiveEachPartItsPiece) {
    CutterBuilder builder;
    builder.box("100", "60", "10");
    const int a = builder.pin("30", "30", {"-10", "0", "-10"});
    const int b = builder.pin("30", "30", {"10", "0", "-10"});
    const int cut =
        builder.body_cut({"10"}, {std::to_string(a), std::to_string(b)}, [](BodyCut& c) { c.keeps.value = "all"; });
    const Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    const double lens = 2 * 225 * std::acos(10.0 / 15) - 20 * std::sqrt(225 - 100.0); // of two discs 20 apart
    EXPECT_EQ(pieces_of(evaluation, cut), 4U);
    EXPECT_NEAR(sound_volume(evaluation, "40:10/20,30"), lens * 10, 1e-6);
    EXPECT_NEAR(sound_volume(evaluation, "40:10/20"), (225 * pi - lens) * 10, 1e-6);
    EXPECT_NEAR(sound_volume(evaluation, "40:10/outside"), (6000 - 450 * pi + lens) * 10, 1e-6);
    EXPECT_EQ(body_of(evaluation, "10"), nullptr);
}

TEST(BodyCut, PassesAroundSparedBodiesAndUnitesThem) {
    CutterBuilder builder;
    builder.box("60", "60", "20");
    const int drill = builder.pin("30", "60", {"0", "0", "-20"});
    const int rod = builder.pin("10", "60", {"0", "0", "-20"});
    const int cut = builder.body_cut({"10"}, {std::to_string(drill)},
                                     [&](BodyCut& c) { c.spared.bodies = wholes({std::to_string(rod)}); });
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_NEAR(sound_volume(evaluation, "10"), 72000 - 200 * pi * 20, 1e-6); // the plug in the rod is left
    EXPECT_NEAR(sound_volume(evaluation, std::to_string(rod)), 25 * pi * 60, 1e-6);
    builder.change<BodyCut>(cut, [](BodyCut& c) { c.spared.are.value = "united"; });
    evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_NEAR(sound_volume(evaluation, "10"), 72000 - 200 * pi * 20 + 25 * pi * 40, 1e-6);
    EXPECT_EQ(body_of(evaluation, std::to_string(rod)), nullptr);
}

TEST(BodyCut, SurfacesCutSolids) {
    CutterBuilder builder;
    builder.box("40", "30", "20");
    Progress progress;
    const auto box = body_of(builder.evaluate(), "10")->shape;
    // a wall of a large cylinder through the box: its right part is a known lens
    const auto tube = geom::make_cylinder(200, 60, gp_Ax3(gp_Pnt(-95, 0, -20), gp_Dir(0, 0, 1)));
    TopoDS_Shape wall;
    for (const auto& role : tube.roles) {
        wall = role.role == "side" ? role.face : wall;
    }
    const auto division = geom::divide(box, {wall}, progress);
    ASSERT_TRUE(division);
    ASSERT_EQ(division->pieces.size(), 2U);
    EXPECT_TRUE(division->hanging.empty());
    const double half = 15;
    const double under_arc = half * std::sqrt(10000 - half * half) + 10000 * std::asin(half / 100); // of x over y
    const double behind = (under_arc - 2 * half * 75) * 20; // from the box's left side to the wall
    for (const auto& piece : division->pieces) {
        const bool in_front = !piece.inside.empty(); // the wall's normal looks away from its axis
        EXPECT_NEAR(piece.volume, in_front ? 24000 - behind : behind, 1e-6);
        EXPECT_EQ(piece.center.X() > 0, in_front);
    }
    const auto low = geom::make_cylinder(200, 10, gp_Ax3(gp_Pnt(-95, 0, 0), gp_Dir(0, 0, 1)));
    for (const auto& role : low.roles) {
        wall = role.role == "side" ? role.face : wall;
    }
    const auto hanging = geom::divide(box, {wall}, progress);
    ASSERT_TRUE(hanging);
    EXPECT_EQ(hanging->pieces.size(), 1U);
    ASSERT_EQ(hanging->hanging.size(), 1U);
    EXPECT_NEAR(hanging->pieces.front().volume, 24000, 1e-9);
}

// A slot that moves over two legs of a comb: pieces split in two and vanish, and verdicts are right or said to be lost.
TEST(BodyCut, VerdictsNeverSwapWhenPiecesSplitOrVanish) {
    CutterBuilder builder;
    builder.set("at", "0 mm");
    builder.box("100", "20", "40");
    const int gap = builder.box("20", "40", "30", "10", "0");
    builder.body_cut({"10"}, {std::to_string(gap)}); // a fork: two legs up to z 40, from x -50 to -10 and 10 to 50
    const int bar = builder.step([] {
        Stock stock;
        stock.width.text = "140";
        stock.depth.text = "40";
        stock.height.text = "5";
        stock.z.text = "at + 20 mm";
        return stock;
    }());
    const int cut = builder.body_cut({"10"}, {std::to_string(bar)});
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    const auto& pieces = evaluation.report(cut)->output->pieces;
    ASSERT_EQ(pieces.size(), 5U); // foot, two plugs, two tips
    const auto tip =
        std::find_if(pieces.begin(), pieces.end(), [](const Piece& p) { return p.center[2] > 25 && p.center[0] > 0; });
    ASSERT_NE(tip, pieces.end());
    builder.change<BodyCut>(cut, [&](BodyCut& b) { b.verdicts = {{tip->identity, Verdict::apart, tip->center}}; });
    evaluation = builder.evaluate();
    ASSERT_EQ(evaluation.report(cut)->output->births.size(), 1U);
    const BodyId apart = evaluation.report(cut)->output->births.front().id;
    for (const int at : {0, 5, -8, 10, 14, 20, -25, 0}) {
        builder.set("at", std::to_string(at) + " mm");
        evaluation = builder.evaluate();
        const bool has_tip = at + 25 < 40 && at + 20 > 10;
        if (has_tip) {
            ASSERT_FALSE(evaluation.failed()) << at << said(evaluation, cut);
            EXPECT_NEAR(sound_volume(evaluation, apart), 40 * 20 * (40 - 25 - at), 1e-6) << at;
            EXPECT_GT(geom::centroid_of(body_of(evaluation, apart)->shape).X(), 0) << at;
        } else { // no such piece, or one that is more than the tip: never silently another one
            const BodyPtr body = body_of(evaluation, apart);
            EXPECT_TRUE(evaluation.failed() || !body) << at << said(evaluation, cut);
            EXPECT_FALSE(evaluation.report(cut)->findings.empty()) << at;
        }
    }
}

TEST(BodyCut, NumberOfCuttersFollowsAParameter) {
    CutterBuilder builder;
    builder.set("n", "3");
    builder.document.parameters.back().unit = "";
    builder.box("200", "60", "10");
    const int pin = builder.pin("10", "30", {"-80", "0", "-10"});
    CopyBodies copies;
    copies.bodies = wholes({std::to_string(pin)});
    copies.pattern.count.text = "n";
    copies.pattern.spacing.text = "25";
    copies.result.value = "together";
    const int copy = builder.step(copies);
    const BodyId others = std::to_string(copy) + ":" + std::to_string(pin);
    const int cut = builder.body_cut({"10"}, {std::to_string(pin), others});
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_NEAR(removed_by(evaluation, cut), 3 * 250 * pi, 1e-6);
    // the plug of the second copy stays
    const auto& pieces = evaluation.report(cut)->output->pieces;
    const auto second = std::find_if(pieces.begin(), pieces.end(), [](const Piece& p) {
        return std::fabs(p.center[0] - -30) < 1 && !p.identity.inside.empty();
    });
    ASSERT_NE(second, pieces.end());
    builder.change<BodyCut>(cut, [&](BodyCut& b) {
        b.verdicts = {{second->identity, Verdict::apart, second->center}};
    });
    evaluation = builder.evaluate();
    const BodyId apart = evaluation.report(cut)->output->births.front().id;
    for (const int n : {4, 6, 3, 5}) {
        builder.set("n", std::to_string(n));
        evaluation = builder.evaluate();
        ASSERT_FALSE(evaluation.failed()) << n << said(evaluation, cut);
        EXPECT_NEAR(removed_by(evaluation, cut), (n - 1) * 250 * pi, 1e-6) << n;
        EXPECT_NEAR(geom::centroid_of(body_of(evaluation, apart)->shape).X(), -30, 1e-6) << n;
    }
    builder.set("n", "2");
    EXPECT_TRUE(has_code(builder.evaluate(), cut, "piece.lost"));
}

TEST(Separate, TakesBodiesApartAndDropsLumps) {
    CutterBuilder builder;
    builder.box("100", "20", "10");
    const int bar = builder.box("10", "40", "40", "-10");
    builder.body_cut({"10"}, {std::to_string(bar)});
    Separate definition;
    definition.workpieces = wholes({"10"});
    const int separate = builder.step(definition);
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, separate);
    EXPECT_EQ(evaluation.bodies_as_of().size(), 2U);
    const Piece lump = evaluation.report(separate)->output->pieces.front();
    builder.change<Separate>(separate, [&](Separate& s) {
        s.lumps.value = "stays";
        s.verdicts = {{lump.identity, Verdict::goes, lump.center}};
    });
    evaluation = builder.evaluate();
    EXPECT_NEAR(sound_volume(evaluation, "10"), 45 * 20 * 10, 1e-9);
    EXPECT_LT(geom::centroid_of(body_of(evaluation, "10")->shape).X() * lump.center[0], 0);
    EXPECT_NEAR(removed_by(evaluation, separate), 9000, 1e-9);
}

} // namespace

TEST(Spared, AnyCutPassesAroundThem) {
    // A plate 60 x 40 x 10 with a round slug of diameter 8 in it: a bore and a blade go around the slug.
    CutterBuilder builder;
    builder.box("60", "40", "10");
    builder.pin("8", "10", {"0", "0", "0"});
    sketch::Sketch drawing;
    circle(drawing, 0, 0, 15);
    const int sketch = builder.sketch(drawing);
    const int cut = builder.cut(sketch, {{0, 0}}, {"10"});
    const double plain = sound_volume(builder.evaluate(), "10");
    EXPECT_NEAR(plain, (60 * 40 - 225 * pi) * 10, 1e-6);
    builder.change<Extrude>(cut, [](Extrude& e) { e.spared.bodies = wholes({"20"}); });
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_NEAR(sound_volume(evaluation, "10"), plain + pi * 16 * 10, 1e-6);
    EXPECT_NEAR(sound_volume(evaluation, "20"), pi * 16 * 10, 1e-6);
    EXPECT_EQ(evaluation.report(cut)->output->swept->size(), 1U); // what is repeated is the bore alone
    // A blade: what is in the slug stays on both of its sides.
    const int blade = builder.blade({"10"}, [](BladeStep& b) {
        b.plane.principal.value = "yz";
        b.keeps.value = "back";
        b.spared.bodies = wholes({"20"});
    });
    evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, blade);
    EXPECT_NEAR(sound_volume(evaluation, "10"), plain / 2 + pi * 16 * 10, 1e-6);
    builder.change<BladeStep>(blade, [](BladeStep& b) { b.spared.bodies = wholes({"10"}); });
    EXPECT_TRUE(has_code(builder.evaluate(), blade, "cut.itself"));
    // What a bore spares can be united with the plate at once.
    builder.document = remove_step(builder.document, blade);
    builder.change<Extrude>(cut, [](Extrude& e) { e.spared.are.value = "united"; });
    evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_EQ(body_of(evaluation, "20"), nullptr);
    EXPECT_NEAR(sound_volume(evaluation, "10"), plain + pi * 16 * 10, 1e-6);
    EXPECT_EQ(geom::solids_of(body_of(evaluation, "10")->shape).size(), 2U); // a plate and a slug that float
    EXPECT_TRUE(dependencies_of(builder.document.step(cut)->definition).writes.contains("20"));
}

TEST(Spared, HolesPassAroundThem) {
    CutterBuilder builder;
    builder.box("60", "40", "10");
    builder.pin("8", "10", {"0", "0", "0"});
    sketch::Sketch drawing;
    drawing.points = {{1, 0, 0}, {2, 20, 0}};
    const int sketch = builder.sketch(drawing);
    Holes holes;
    holes.workpieces = wholes({"10"});
    holes.sketch.step = sketch;
    holes.diameter.text = "10";
    holes.way.value = "ahead";
    holes.spared.bodies = wholes({"20"});
    const int cut = builder.step(holes);
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_NEAR(sound_volume(evaluation, "10"), 24000 - 2 * 25 * pi * 10 + 16 * pi * 10, 1e-6);
    EXPECT_NEAR(removed_by(evaluation, cut), 2 * 25 * pi * 10 - 16 * pi * 10, 1e-6);
    // The wrong way: there is nothing, and the mend is offered.
    builder.change<Holes>(cut, [](Holes& h) { h.way.value = "back"; });
    evaluation = builder.evaluate();
    ASSERT_TRUE(has_code(evaluation, cut, "holes.behind")) << said(evaluation, cut);
    builder.document = take_offer(builder.document, evaluation.report(cut)->findings.front().offers.front());
    EXPECT_FALSE(builder.evaluate().failed());
}

TEST(Spared, AreLeftStandingInWhatIsHollow) {
    // A box of 60 x 40 x 20, walls of 2, round a post: the post stays a part of it, from floor to lid.
    CutterBuilder builder;
    builder.box("60", "40", "20");
    builder.pin("8", "30", {"0", "0", "-5"});
    Hollow hollow;
    hollow.workpiece = wholes({"10"});
    hollow.thickness.text = "2";
    hollow.spared.bodies = wholes({"20"});
    const int cut = builder.step(hollow);
    const Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_NEAR(sound_volume(evaluation, "10"), 48000 - 56 * 36 * 16 + 16 * pi * 16, 1e-6);
    EXPECT_NEAR(sound_volume(evaluation, "20"), 16 * pi * 30, 1e-6);
}

TEST(Spared, StandInTheWayOfAnOpening) {
    // A wall 4000 x 200 x 2500 with a post of diameter 100 in the middle of a window of 1000 x 1200.
    CutterBuilder builder;
    builder.box("4000", "200", "2500");
    builder.pin("100", "2500", {"0", "0", "0"});
    Opening window;
    window.wall = {face_at("10", 0, -100, 1000)};
    window.across_from.value = "middle";
    window.across.text = "0";
    window.up.text = "900";
    window.width.text = "1000";
    window.height.text = "1200";
    window.spared.bodies = wholes({"20"});
    const int cut = builder.step(window);
    const Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_NEAR(sound_volume(evaluation, "10"), 4000.0 * 200 * 2500 - 1000.0 * 200 * 1200 + 2500 * pi * 1200, 1e-1);
}

TEST(Offers, TakenUpDoWhatTheySay) {
    CutterBuilder builder;
    builder.box("60", "40", "20");
    const int pin = builder.pin("10", "12", {"0", "0", "0"});
    const auto first_offer = [&](int step) {
        const Evaluation evaluation = builder.evaluate();
        for (const Finding& finding : evaluation.report(step)->findings) {
            if (!finding.offers.empty()) {
                return finding.offers.front();
            }
        }
        ADD_FAILURE() << said(evaluation, step);
        return Offer{};
    };
    const int cut = builder.body_cut({"10"}, {std::to_string(pin)}, [](BodyCut&) {});
    ASSERT_TRUE(has_code(builder.evaluate(), cut, "cut.short"));
    builder.document = take_offer(builder.document, first_offer(cut));
    EXPECT_FALSE(has_code(builder.evaluate(), cut, "cut.short"));
    EXPECT_EQ(builder.document.step(cut)->definition.as<BodyCut>()->short_ends.value, "meant");
    builder.document = remove_step(builder.document, cut);

    Hollow hollow;
    hollow.workpiece = wholes({"10"});
    hollow.thickness.text = "12"; // of 20
    const int shell = builder.step(hollow);
    ASSERT_TRUE(has_code(builder.evaluate(), shell, "hollow.too_thick")) << said(builder.evaluate(), shell);
    const Offer thinner = first_offer(shell);
    EXPECT_EQ(thinner.answers.begin()->first, "thickness");
    builder.document = take_offer(builder.document, thinner);
    EXPECT_FALSE(builder.evaluate().failed()) << said(builder.evaluate(), shell);
    builder.document = remove_step(builder.document, shell);

    RoundEdges round;
    round.choice.edges = {edge_at("10", 30, 20, 10), edge_at("10", 30, -20, 10)};
    round.radius.text = "22"; // of 40 in all
    const int rounded = builder.step(round);
    ASSERT_TRUE(has_code(builder.evaluate(), rounded, "blend.failed")) << said(builder.evaluate(), rounded);
    builder.document = take_offer(builder.document, first_offer(rounded));
    EXPECT_FALSE(builder.evaluate().failed()) << said(builder.evaluate(), rounded);
}

} // namespace kervo::model::test
