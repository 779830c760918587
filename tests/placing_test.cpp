// Bodies brought into place, made larger or smaller, scored and deleted: against where they must be.
#include "cutters_fixture.h"
#include "model/steps/blade/blade.h"
#include "model/steps/body_cut/body_cut.h"
#include "model/steps/copy_bodies/copy_bodies.h"
#include "model/steps/curves/curves.h"
#include "model/steps/meeting/meeting.h"
#include "model/steps/place/place.h"
#include "model/steps/remove/remove.h"
#include "model/steps/resize/resize.h"
#include "model/steps/score/score.h"
#include "model/steps/stock/stock.h"

namespace kervo::model::test {

namespace {

// A box of 40 x 30 x 20 (id 10) on the origin, a smaller one of 10 x 8 x 6 (20) at x 100, turned about z, and a rod
// (30) of diameter 10 and height 50 that lies along x at y 60.
struct Placing : testing::Test {
    CutterBuilder builder;
    Placing() {
        builder.box("40", "30", "20");
        Stock small;
        small.width.text = "10";
        small.depth.text = "8";
        small.height.text = "6";
        small.x.text = "100";
        small.turn_z.text = "30 deg";
        builder.step(small);
        Stock rod;
        rod.shape.value = "cylinder";
        rod.diameter.text = "10";
        rod.height.text = "50";
        rod.turn_y.text = "90 deg";
        rod.y.text = "60";
        builder.step(rod);
    }
    int place(const std::vector<BodyId>& bodies, const std::string& way,
              const std::function<void(PlaceBodies&)>& edit) {
        PlaceBodies definition;
        definition.bodies = wholes(bodies);
        definition.way.value = way;
        edit(definition);
        return builder.step(definition);
    }
    std::array<double, 6> box_after(int step, const BodyId& id) {
        const Evaluation evaluation = builder.evaluate();
        EXPECT_FALSE(evaluation.failed()) << said(evaluation, step);
        sound_volume(evaluation, id);
        return geom::box_of(body_of(evaluation, id)->shape);
    }
    static void expect_box(const std::array<double, 6>& box, const std::array<double, 6>& wanted) {
        for (size_t k = 0; k < 6; ++k) {
            EXPECT_NEAR(box[k], wanted[k], 1e-6) << k;
        }
    }
};

TEST_F(Placing, MovesAndTurnsByAmounts) {
    const int step = place({"10"}, "amounts", [](PlaceBodies& p) {
        p.x.text = "100";
        p.z.text = "-5";
        p.angle.text = "90 deg";
    });
    expect_box(box_after(step, "10"), {85, -20, -5, 115, 20, 15});
    builder.change<PlaceBodies>(step, [](PlaceBodies& p) { p.pivot.value = "origin"; });
    expect_box(box_after(step, "10"), {85, -20, -5, 115, 20, 15});
    builder.change<PlaceBodies>(step, [](PlaceBodies& p) {
        p.pivot.value = "point";
        p.pivot_element = {vertex_at("10", 20, 15, 20)};
    });
    expect_box(box_after(step, "10"), {120, -25, -5, 150, 15, 15});
    builder.change<PlaceBodies>(step, [](PlaceBodies& p) {
        p.axis.value = "element";
        p.axis_element = {edge_at("10", 20, 0, 20)};
        p.x.text = p.z.text = "0";
        p.angle.text = "180 deg";
    });
    expect_box(box_after(step, "10"), {20, -15, 20, 60, 15, 40});
    // the names of its faces went along
    const auto body = body_of(builder.evaluate(), "10");
    EXPECT_EQ(body->names.Find(face_near(body, 40, 0, 20)).text(), "10:top");
}

TEST_F(Placing, CarriesAPointToAPoint) {
    const int step = place({"10", "30"}, "to_point", [](PlaceBodies& p) {
        p.carried = {vertex_at("10", -20, -15, 0)};
        p.target = {vertex_at("20", 102.3, 6, 6)};
    });
    const double a = pi / 6;
    const gp_Pnt corner(100 + 5 * std::cos(a) - 4 * std::sin(a), 5 * std::sin(a) + 4 * std::cos(a), 6);
    const auto box = box_after(step, "10");
    EXPECT_NEAR(box[0], corner.X(), 1e-6);
    EXPECT_NEAR(box[1], corner.Y(), 1e-6);
    EXPECT_NEAR(box[2], corner.Z(), 1e-6);
    EXPECT_NEAR(geom::centroid_of(body_of(builder.evaluate(), "30")->shape).Y(), 75 + corner.Y(), 1e-6); // goes along
}

TEST_F(Placing, BringsFacesFlushAndFollows) {
    // the small box's side onto the top of the large one
    const int step = place({"20"}, "flush", [](PlaceBodies& p) {
        const double a = pi / 6;
        p.carried = {face_at("20", 100 + 5 * std::cos(a), 5 * std::sin(a), 3)};
        p.target = {face_at("10", 0, 0, 20)};
        p.gap.text = "2";
    });
    auto box = box_after(step, "20");
    EXPECT_NEAR(box[2], 22, 1e-9);
    EXPECT_NEAR(box[5], 32, 1e-9); // it stands on what was its width of 10
    builder.change<Stock>(10, [](Stock& s) { s.height.text = "35"; });
    box = box_after(step, "20");
    EXPECT_NEAR(box[2], 37, 1e-9);
    builder.change<PlaceBodies>(step, [](PlaceBodies& p) {
        p.facing.value = "along";
        p.gap.text = "0";
    });
    box = box_after(step, "20");
    EXPECT_NEAR(box[5], 35, 1e-9); // below the face, looking up
}

TEST_F(Placing, TurnsParallelAndFlips) {
    const int step = place({"20"}, "parallel", [](PlaceBodies& p) {
        const double a = pi / 6;
        p.carried = {face_at("20", 100 + 5 * std::cos(a), 5 * std::sin(a), 3)};
        p.target = {face_at("10", 20, 0, 10)};
    });
    auto box = box_after(step, "20");
    EXPECT_NEAR(box[3] - box[0], 10, 1e-9);
    EXPECT_NEAR(box[4] - box[1], 8, 1e-9);
    const auto body = body_of(builder.evaluate(), "20");
    EXPECT_EQ(body->names.Find(face_near(body, box[3], (box[1] + box[4]) / 2, 3)).text(), "20:right");
    builder.change<PlaceBodies>(step, [](PlaceBodies& p) { p.turned.value = "flipped"; });
    box = box_after(step, "20");
    const auto flipped = body_of(builder.evaluate(), "20");
    EXPECT_EQ(flipped->names.Find(face_near(flipped, box[0], (box[1] + box[4]) / 2, 3)).text(), "20:right");
    EXPECT_NEAR(box[5], 6, 1e-9); // it stays upright
}

TEST_F(Placing, MakesAxesConcentric) {
    builder.pin("20", "40", {"-80", "10", "0"});
    const int step = place({"30"}, "concentric", [](PlaceBodies& p) {
        p.carried = {face_at("30", 25, 60, 5)};
        p.target = {face_at("40", -70, 10, 20)};
        p.shift.text = "7";
    });
    const auto box = box_after(step, "30");
    EXPECT_NEAR((box[0] + box[3]) / 2, -80, 1e-9);
    EXPECT_NEAR((box[1] + box[4]) / 2, 10, 1e-9);
    EXPECT_NEAR(box[5] - box[2], 50, 1e-9);
    EXPECT_NEAR((box[2] + box[5]) / 2, 7, 1e-9); // its middle was at height 0
}

TEST_F(Placing, BringsBetweenAndAligns) {
    const int between = place({"30"}, "between", [](PlaceBodies& p) {
        p.carried = {face_at("30", 50, 60, 0)};
        p.target = {face_at("10", 20, 0, 10)};
        p.second = {face_at("10", -20, 0, 10)};
    });
    auto box = box_after(between, "30");
    EXPECT_NEAR(box[3], 0, 1e-9);                 // the carried end lies in the middle plane
    EXPECT_NEAR((box[1] + box[4]) / 2, 60, 1e-9); // and went nowhere else
    const int align = place({"10", "20", "30"}, "align", [](PlaceBodies& p) { p.along.value = "y"; });
    box = box_after(align, "30");
    EXPECT_NEAR(box[1], -15, 1e-9);
    EXPECT_NEAR(box_after(align, "20")[1], -15, 1e-9);
    builder.change<PlaceBodies>(align, [](PlaceBodies& p) { p.side.value = "high"; });
    EXPECT_NEAR(box_after(align, "20")[4], 15, 1e-9);
    builder.change<PlaceBodies>(align, [](PlaceBodies& p) { p.side.value = "middle"; });
    box = box_after(align, "30");
    EXPECT_NEAR(box[1] + box[4], 0, 1e-9);
}

TEST_F(Placing, LeavesCopiesThatFollow) {
    const int step = place({"10"}, "amounts", [](PlaceBodies& p) {
        p.copies.value = "copies";
        p.x.text = "60";
    });
    const BodyId copy = std::to_string(step) + ":10";
    expect_box(box_after(step, "10"), {-20, -15, 0, 20, 15, 20});
    expect_box(box_after(step, copy), {40, -15, 0, 80, 15, 20});
    builder.change<Stock>(10, [](Stock& s) { s.width.text = "20"; });
    expect_box(box_after(step, copy), {50, -15, 0, 70, 15, 20});
}

TEST_F(Placing, SaysWhatCannotBeCarried) {
    const int no_face = place({"30"}, "flush", [](PlaceBodies& p) {
        p.carried = {face_at("30", 25, 60, 5)}; // the round side
        p.target = {face_at("10", 0, 0, 20)};
    });
    EXPECT_TRUE(has_code(builder.evaluate(), no_face, "place.no_direction"));
    const int other = place({"30"}, "to_point", [](PlaceBodies& p) {
        p.carried = {vertex_at("10", 20, 15, 20)};
        p.target = {vertex_at("10", 20, 15, 0)};
    });
    EXPECT_TRUE(has_code(builder.evaluate(), other, "place.other_body"));
}

TEST_F(Placing, BladesArePlacedToo) {
    const int blade = builder.blade({}, [](BladeStep& b) { b.plane.principal.value = "yz"; });
    place({std::to_string(blade)}, "amounts", [](PlaceBodies& p) {
        p.x.text = "10";
        p.angle.text = "90 deg";
    });
    const int cut = builder.body_cut({"10"}, {std::to_string(blade)}, [](BodyCut& c) { c.blades_keep.value = "back"; });
    expect_box(box_after(cut, "10"), {-20, -15, 0, 20, 0, 20}); // it looks along y now
}

TEST_F(Placing, ResizesByFactorAxesAndSize) {
    Resize resize;
    resize.bodies = wholes({"10", "30"});
    resize.factor.text = "1.5";
    const int step = builder.step(resize);
    expect_box(box_after(step, "10"), {-30, -22.5, -5, 30, 22.5, 25});
    EXPECT_NEAR(sound_volume(builder.evaluate(), "30") / (25 * pi * 50 * 3.375), 1, 1e-12);
    builder.change<Resize>(step, [](Resize& r) {
        r.by.value = "axes";
        r.factor_x.text = "2";
        r.factor_z.text = "0.5";
        r.about.value = "foot";
    });
    expect_box(box_after(step, "10"), {-40, -15, 0, 40, 15, 10});
    EXPECT_NEAR(sound_volume(builder.evaluate(), "30") / (25 * pi * 50), 1, 1e-9); // an elliptic rod
    const auto counts = geom::count(body_of(builder.evaluate(), "10")->shape);
    EXPECT_EQ(counts.faces_by_surface.at("plane"), 6); // flat stays flat, and straight
    EXPECT_TRUE(geom::direction_of(geom::edges_of(body_of(builder.evaluate(), "10")->shape).front()));
    builder.change<Resize>(step, [](Resize& r) {
        r.by.value = "size";
        r.size.text = "10";
        r.along.value = "z";
        r.about.value = "origin";
    });
    expect_box(box_after(step, "10"), {-10, -7.5, 0, 10, 7.5, 10});
    builder.change<Resize>(step, [](Resize& r) { r.others.value = "kept"; });
    expect_box(box_after(step, "10"), {-20, -15, 0, 20, 15, 10});
    builder.change<Resize>(step, [](Resize& r) { r.size.text = "0"; });
    EXPECT_TRUE(has_code(builder.evaluate(), step, "step.size"));
}

} // namespace

TEST(Scoring, ContactFacesMatchVertexOnVertex) {
    CutterBuilder builder;
    builder.box("40", "30", "20");
    builder.box("10", "50", "10", "20", "5"); // lies across its top
    builder.pin("8", "10", {"-12", "0", "20"});
    Score definition;
    definition.workpieces = wholes({"10"});
    definition.by = wholes({"20", "30"});
    const int score = builder.step(definition);
    const Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, score);
    EXPECT_NEAR(sound_volume(evaluation, "10"), 24000, 1e-9);
    EXPECT_NEAR(sound_volume(evaluation, "20"), 5000, 1e-9);
    EXPECT_NEAR(sound_volume(evaluation, "30"), 160 * pi, 1e-9);
    EXPECT_EQ(evaluation.report(score)->output->facts.at("contacts"), "2");
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).faces, 6 + 3); // two strips beside the bar, and the disc
    EXPECT_EQ(geom::count(body_of(evaluation, "20")->shape).faces, 6 + 2); // its foot is in three
    std::map<double, int> areas;
    for (const auto& face : geom::faces_of(body_of(evaluation, "10")->shape)) {
        for (const char* other : {"20", "30"}) {
            for (const auto& theirs : geom::faces_of(body_of(evaluation, other)->shape)) {
                areas[std::round(geom::area_of(face) * 1e6) / 1e6] += face.IsSame(theirs) ? 1 : 0;
            }
        }
    }
    EXPECT_EQ(areas[300], 1);
    EXPECT_EQ(areas[std::round(16 * pi * 1e6) / 1e6], 1);
    builder.change<Score>(score, [](Score& s) { s.ways.value = "one"; });
    EXPECT_EQ(geom::count(body_of(builder.evaluate(), "20")->shape).faces, 6);
}

TEST(Scoring, OutlinesOfBodiesThatPassThroughAreMarked) {
    CutterBuilder builder;
    builder.box("40", "30", "20");
    builder.pin("8", "40", {"0", "0", "-10"});
    Score definition;
    definition.workpieces = wholes({"10"});
    definition.by = wholes({"20"});
    const int score = builder.step(definition);
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, score);
    EXPECT_NEAR(sound_volume(evaluation, "10"), 24000, 1e-9);
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).faces, 8); // a disc in its top, one in its bottom
    EXPECT_EQ(geom::count(body_of(evaluation, "20")->shape).faces, 5); // its side in three
    builder.change<Stock>(20, [](Stock& s) { s.x.text = "100"; });
    evaluation = builder.evaluate();
    EXPECT_TRUE(has_code(evaluation, score, "score.nothing"));
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).faces, 6);
}

TEST(Scores, CurvesAreMarkedIntoFaces) {
    CutterBuilder builder;
    builder.box("100", "60", "20");
    sketch::Sketch drawing;
    circle(drawing, 5, 5, 8);
    Curves curves;
    curves.sketch.step = builder.sketch(drawing, "20");
    builder.step(curves);
    Score score;
    score.workpieces = wholes({"10"});
    score.by = wholes({"30"});
    const int step = builder.step(score);
    const Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, step);
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).faces, 7);
    EXPECT_NEAR(sound_volume(evaluation, "10"), 100 * 60 * 20, 1e-9);
    const auto disc = geom::nearest_element(body_of(evaluation, "10")->shape, TopAbs_FACE, gp_Pnt(5, 5, 20)).element;
    EXPECT_NEAR(geom::area_of(disc), 64 * pi, 1e-9);
}

TEST(Meetings, AreCurvesOfTheirOwn) {
    CutterBuilder builder;
    builder.box("40", "30", "20");
    builder.pin("8", "40", {"0", "0", "-10"});
    const int blade = builder.blade({}, [](BladeStep& b) { b.plane.principal.value = "yz"; });
    Meeting definition;
    definition.bodies = wholes({"10"});
    definition.others = wholes({"20"});
    const int round = builder.step(definition);
    definition.others = wholes({std::to_string(blade)});
    const int flat = builder.step(definition);
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, round) << said(evaluation, flat);
    const auto length = [&](int step) {
        double sum = 0;
        for (const auto& edge : geom::edges_of(body_of(evaluation, std::to_string(step))->shape)) {
            sum += geom::length_of(edge);
        }
        return sum;
    };
    EXPECT_NEAR(length(round), 2 * 8 * pi, 1e-9);
    EXPECT_NEAR(length(flat), 2 * (30 + 20), 1e-9);
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).faces, 6); // nothing happened to it
    builder.change<Stock>(20, [](Stock& s) { s.diameter.text = "12"; });
    evaluation = builder.evaluate();
    EXPECT_NEAR(length(round), 2 * 12 * pi, 1e-9);
    builder.change<Stock>(20, [](Stock& s) { s.x.text = "100"; });
    EXPECT_TRUE(has_code(builder.evaluate(), round, "meeting.none"));
}

TEST(Removing, BodiesAndFacesGo) {
    CutterBuilder builder;
    builder.box("40", "30", "20");
    const int pin = builder.pin("8", "40", {"0", "0", "10"});
    builder.body_cut({"10"}, {std::to_string(pin)}, [](BodyCut& c) {
        c.short_ends.value = "meant";
        c.cutters_are.value = "kept";
    });
    Remove definition;
    definition.bodies = wholes({std::to_string(pin)});
    const int gone = builder.step(definition);
    Evaluation evaluation = builder.evaluate();
    EXPECT_EQ(body_of(evaluation, std::to_string(pin)), nullptr);
    EXPECT_NEAR(removed_by(evaluation, gone), 16 * pi * 40, 1e-6);
    definition.what.value = "faces";
    definition.faces = {face_at("10", 4, 0, 15), face_at("10", 0, 0, 10)};
    const int healed = builder.step(definition);
    evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, healed);
    EXPECT_NEAR(sound_volume(evaluation, "10"), 24000, 1e-9);
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).faces, 6);
    builder.change<Remove>(healed, [](Remove& r) { r.place.value = "open"; });
    evaluation = builder.evaluate();
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).faces, 6);
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).lumps, 0); // a surface now
    builder.change<Remove>(healed, [](Remove& r) {
        r.place.value = "healed";
        r.faces = {face_at("10", 20, 0, 10)}; // nothing beside it would close
    });
    EXPECT_TRUE(has_code(builder.evaluate(), healed, "remove.not_healed"));
}

TEST_F(Placing, MakesAPointTheOriginWithUpAndFront) {
    // The rod's far end, whose face looks along +x, looks up then; the box's side at the front stays in front.
    const int step =
        place({"10", "20", "30"}, "to_origin", [](PlaceBodies& p) { p.origin = {face_at("30", 0, 60, 0)}; });
    const auto rod_before = box_after(step, "30");
    EXPECT_NEAR(rod_before[0], 0, 1e-6);
    EXPECT_NEAR(rod_before[4], 5, 1e-6); // its axis goes through the origin now
    expect_box(box_after(step, "10"), {-20, -75, 0, 20, -45, 20});
    builder.change<PlaceBodies>(step, [](PlaceBodies& p) { p.up = {face_at("30", 50, 60, 0)}; });
    expect_box(box_after(step, "30"), {-5, -5, 0, 5, 5, 50});
    // The box's top looks to the front: against y.
    builder.change<PlaceBodies>(step, [](PlaceBodies& p) { p.front = {face_at("10", 0, 0, 20)}; });
    const auto box = box_after(step, "10");
    EXPECT_NEAR(box[1], -20, 1e-6);
    EXPECT_NEAR(box[4], 0, 1e-6);
    EXPECT_NEAR(box[5] - box[2], 40, 1e-6); // its length is upright
    builder.change<PlaceBodies>(step, [](PlaceBodies& p) { p.front = {face_at("30", 50, 60, 0)}; });
    EXPECT_TRUE(has_code(builder.evaluate(), step, "place.no_front"));
    builder.change<PlaceBodies>(step, [](PlaceBodies& p) {
        p.front.clear();
        p.up.clear();
        p.origin.clear();
    });
    expect_box(box_after(step, "10"), {-20, -15, 0, 20, 15, 20});
}

TEST_F(Placing, CopiesAreUnitedWithTheirSource) {
    CopyBodies mirror;
    mirror.bodies = wholes({"10"});
    mirror.pattern.arrange.value = "mirror";
    mirror.pattern.plane.value = "face";
    mirror.pattern.mirror_face = {face_at("10", 20, 0, 10)};
    mirror.result.value = "united";
    const int step = builder.step(mirror);
    expect_box(box_after(step, "10"), {-20, -15, 0, 60, 15, 20});
    const Evaluation evaluation = builder.evaluate();
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).faces, 6);
    EXPECT_NEAR(evaluation.report(step)->output->added, 40 * 30 * 20, 1e-6);
    EXPECT_EQ(evaluation.bodies_as_of().size(), 3U);
    builder.change<CopyBodies>(step, [](CopyBodies& c) { c.bodies = wholes({"10", "40"}); });
    EXPECT_TRUE(has_code(builder.evaluate(), step, "names.no_body"));
}

TEST(StockOf, RingsAndRectangles) {
    CutterBuilder builder;
    Stock ring;
    ring.shape.value = "ring";
    ring.diameter.text = "40";
    ring.tube.text = "10";
    ring.z.text = "7";
    builder.step(ring);
    Evaluation evaluation = builder.evaluate();
    EXPECT_NEAR(sound_volume(evaluation, "10"), 2 * pi * pi * 20 * 25, 1e-6);
    EXPECT_NEAR(geom::box_of(body_of(evaluation, "10")->shape)[2], 7, 1e-6);
    builder.change<Stock>(10, [](Stock& s) { s.tube.text = "40"; });
    EXPECT_TRUE(has_code(builder.evaluate(), 10, "step.size"));
    builder.change<Stock>(10, [](Stock& s) { s.tube.text = "10"; });
    // A flat rectangle cuts like any surface.
    Stock sheet;
    sheet.shape.value = "rectangle";
    sheet.width.text = "80";
    sheet.depth.text = "90";
    sheet.z.text = "12";
    builder.step(sheet);
    const int cut = builder.body_cut({"10"}, {"20"}, [](BodyCut& c) { c.cutters_are.value = "kept"; });
    evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_NEAR(geom::area_of(body_of(evaluation, "20")->shape), 80 * 90, 1e-9);
    EXPECT_EQ(evaluation.report(cut)->output->pieces.size(), 2U);
    for (const Piece& piece : evaluation.report(cut)->output->pieces) {
        EXPECT_NEAR(piece.volume, pi * pi * 20 * 25, 1e-6);
    }
}

TEST(Colours, OfSourcesStayOnTheirFaces) {
    CutterBuilder builder;
    builder.box("40", "30", "20");
    builder.pin("8", "40", {"0", "0", "10"});
    builder.join({"10", "20"}, "unite");
    const int blade = builder.blade({"10"}, [](BladeStep& b) { b.keeps.value = "front"; });
    const Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, blade);
    const auto body = body_of(evaluation, "10");
    std::map<std::string, int> owners;
    for (const auto& face : geom::faces_of(body->shape)) {
        ++owners[body->names.Find(face).owner];
    }
    EXPECT_GE(owners["20"], 2); // side (where it closes on itself, in two) and top of the pin, also after another cut
    EXPECT_EQ(owners[""], 6);   // five of the box, and what the blade made
}

} // namespace kervo::model::test
