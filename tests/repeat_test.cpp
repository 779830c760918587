// Repeated sweeps and copied bodies: places and sizes by formula, names that stay, and what cannot be placed.
#include "model/steps/copy_bodies/copy_bodies.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/holes/holes.h"
#include "model/steps/repeat/repeat.h"
#include "model/steps/resize/resize.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"
#include "model_fixture.h"

#include <gtest/gtest.h>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

Reference body_ref(int body) {
    return {ElementKind::body, std::to_string(body), {}, {}, {}};
}
Reference at(ElementKind kind, int body, double x, double y, double z) {
    return {kind, std::to_string(body), {}, {}, Place{x, y, z}};
}

// A plate of 200 x 100 x 10 with a round hole of 6 at (-80, -30), and a step that repeats it.
struct Holed : ::testing::Test {
    Builder b;
    int plate = 0, drawn = 0, hole = 0, step = 0;

    Holed() {
        b.set("n", "5");
        b.document.parameters.back().unit = "";
        b.set("gap", "12 mm");
        plate = b.box("200", "100", "10");
        sketch::Sketch s;
        circle(s, -80, -30, 3);
        drawn = b.sketch(s);
        hole = b.cut(drawn, {{-80, -30}}, {std::to_string(plate)});
        Repeat repeat;
        repeat.result.value = "cut";
        repeat.workpieces = {body_ref(plate)};
        repeat.of.step = hole;
        repeat.pattern.count.text = "n";
        repeat.pattern.spacing.text = "gap";
        step = b.step(repeat);
    }
    void change(const std::function<void(Repeat&)>& edit) { b.change<Repeat>(step, edit); }
    double removed() {
        const auto evaluation = b.evaluate();
        EXPECT_FALSE(evaluation.failed());
        for (const Finding& finding : evaluation.report(step)->findings) {
            ADD_FAILURE() << finding.cause;
        }
        return evaluation.report(step)->output->removed;
    }
    std::string code(const std::function<void(Repeat&)>& edit) {
        const Document before = b.document;
        change(edit);
        const auto evaluation = b.evaluate();
        b.document = before;
        const auto& findings = evaluation.report(step)->findings;
        return findings.empty() ? "" : findings.front().code;
    }
    bool open_at(double x, double y) { // whether the plate has a hole there
        return geom::hits_along(body_of(b.evaluate(), std::to_string(plate))->shape,
                                gp_Lin(gp_Pnt(x, y, -5), gp_Dir(0, 0, 1)))
            .empty();
    }
};
const double one = pi * 9 * 10;

TEST_F(Holed, LinesByCountAndSpacing) {
    EXPECT_NEAR(removed(), 4 * one, 1e-8);
    EXPECT_TRUE(open_at(-80 + 4 * 12, -30));
    b.set("n", "9");
    b.set("gap", "9 mm");
    EXPECT_NEAR(removed(), 8 * one, 1e-8);
    change([](Repeat& r) { r.pattern.spacing_is.value = "whole"; });
    b.set("gap", "160 mm");
    EXPECT_NEAR(removed(), 8 * one, 1e-8);
    EXPECT_TRUE(open_at(80, -30));
    EXPECT_TRUE(open_at(-60, -30));
}

TEST_F(Holed, CopiesAreLeftOutByName) {
    change([](Repeat& r) { r.pattern.left_out.all = {"3", "5", "17"}; });
    EXPECT_NEAR(removed(), 2 * one, 1e-8);
    EXPECT_FALSE(open_at(-80 + 2 * 12, -30));
    EXPECT_TRUE(open_at(-80 + 3 * 12, -30));
    const auto copies = b.evaluate().report(step)->output->copies;
    ASSERT_EQ(copies.size(), 4U); // also where those would stand that are left out
    EXPECT_EQ(copies[1].name, "3");
    EXPECT_TRUE(copies[1].left_out);
    EXPECT_NEAR(copies[1].at[0], -80 + 2 * 12, 1e-9);
    EXPECT_FALSE(copies[2].left_out);
    b.set("n", "6"); // the others keep their numbers
    EXPECT_NEAR(removed(), 3 * one, 1e-8);
    EXPECT_EQ(code([](Repeat& r) { r.pattern.left_out.all = {"2", "3", "4", "5", "6"}; }), "pattern.nothing");
}

TEST_F(Holed, GridsLeaveOutWhatAFormulaSays) {
    change([](Repeat& r) {
        r.pattern.arrange.value = "grid";
        r.pattern.second_count.text = "4";
        r.pattern.second_spacing.text = "15 mm";
    });
    EXPECT_NEAR(removed(), 19 * one, 1e-8);
    change([](Repeat& r) { r.pattern.only_where.text = "index != 2 || row != 1"; });
    EXPECT_NEAR(removed(), 18 * one, 1e-8);
    EXPECT_FALSE(open_at(-80 + 24, -15));
    EXPECT_TRUE(open_at(-80 + 24, 0));
    // The names of the others do not hang on the count.
    const auto name_at = [&](double x, double y) {
        const auto body = body_of(b.evaluate(), std::to_string(plate));
        return body->names.Find(face_near(body, x + 3, y, 5)).text();
    };
    const std::string name = name_at(-80 + 36, 0);
    EXPECT_EQ(name.rfind(std::to_string(step) + ":side/c", 0), 0u);
    EXPECT_EQ(name.substr(name.size() - 4), "@4.3");
    b.set("n", "8");
    change([](Repeat& r) { r.pattern.only_where.text = "1"; });
    EXPECT_EQ(name_at(-80 + 36, 0), name);
}

TEST_F(Holed, SizesFollowAFormula) {
    b.set("n", "10");
    b.set("gap", "16 mm");
    change([](Repeat& r) { r.pattern.scale.text = "1 + away / 100 mm"; });
    double sum = 0;
    for (int i = 1; i < 10; ++i) {
        const double scale = 1 + i * 16 / 100.0;
        sum += one * scale * scale;
    }
    EXPECT_NEAR(removed(), sum, 1e-7);
    change([](Repeat& r) { r.pattern.scale.text = "2 - index / 10"; });
    sum = 0;
    for (int i = 1; i < 10; ++i) {
        sum += one * (2 - i / 10.0) * (2 - i / 10.0);
    }
    EXPECT_NEAR(removed(), sum, 1e-7);
}

TEST_F(Holed, RingsMirrorsEdgesAndPoints) {
    change([](Repeat& r) { r.pattern.arrange.value = "mirror"; });
    EXPECT_NEAR(removed(), one, 1e-7);
    EXPECT_TRUE(open_at(80, -30));
    change([&](Repeat& r) {
        r.pattern.plane.value = "face";
        r.pattern.mirror_face = {at(ElementKind::face, plate, -100, 0, 5)}; // the copy lies beyond it
    });
    EXPECT_TRUE(has_code(b.evaluate(), step, "cut.misses"));
    change([&](Repeat& r) {
        r.pattern.arrange.value = "path";
        r.pattern.path = {at(ElementKind::edge, plate, 0, -50, 10)};
        r.pattern.count.text = "6";
    });
    // From one end of the plate's edge to the other: 200 long, five steps of 40, the last is beyond its end.
    EXPECT_NEAR(removed(), 4 * one, 1e-8);
    sketch::Sketch places;
    for (const auto& [x, y] : {std::pair(0.0, 0.0), std::pair(30.0, 40.0), std::pair(50.0, 20.0)}) {
        places.add_constraint(sketch::ConstraintKind::fixed, {places.add_point(x, y)});
    }
    const int points = b.sketch(places);
    std::rotate(b.document.steps.begin(), b.document.steps.end() - 1, b.document.steps.end());
    change([&](Repeat& r) {
        r.pattern.arrange.value = "points";
        r.pattern.points.step = points;
    });
    EXPECT_NEAR(removed(), 2 * one, 1e-8);
    EXPECT_TRUE(open_at(-50, 10));
    EXPECT_TRUE(open_at(-30, -10));
}

TEST_F(Holed, ARingAroundAnAxisOfTheModel) {
    Stock disc;
    disc.shape.value = "cylinder";
    disc.diameter.text = "100";
    disc.height.text = "8";
    disc.x.text = "300";
    const int round = b.step(disc);
    sketch::Sketch s;
    circle(s, 300 + 35, 0, 4);
    const int cut = b.cut(b.sketch(s), {{335, 0}}, {std::to_string(round)});
    Repeat ring;
    ring.result.value = "cut";
    ring.workpieces = {body_ref(round)};
    ring.of.step = cut;
    ring.pattern.arrange.value = "ring";
    ring.pattern.count.text = "n";
    ring.pattern.axis.value = "element";
    ring.pattern.axis_element = {at(ElementKind::face, round, 250, 0, 4)};
    const int around = b.step(ring);
    const double each = pi * 16 * 8;
    for (const int n : {5, 12}) {
        b.set("n", std::to_string(n));
        const auto evaluation = b.evaluate();
        ASSERT_FALSE(has_error(evaluation.report(around)->findings));
        EXPECT_NEAR(evaluation.report(around)->output->removed, (n - 1) * each, 1e-7) << n;
        EXPECT_NEAR(volume_of(evaluation, std::to_string(round)), pi * 2500 * 8 - n * each, 1e-6) << n;
    }
    b.change<Repeat>(around, [](Repeat& r) {
        r.pattern.turn.value = "angle";
        r.pattern.angle.text = "-20 deg";
    });
    EXPECT_NEAR(b.evaluate().report(around)->output->removed, 11 * each, 1e-7);
    b.set("n", "19");
    EXPECT_TRUE(has_code(b.evaluate(), around, "pattern.angle"));
}

TEST_F(Holed, TheRepeatFollowsItsStepAndHasAPurposeOfItsOwn) {
    b.change<SketchStep>(drawn, [](SketchStep& s) { s.drawing.curves.front().radius = 4; });
    EXPECT_NEAR(removed(), 4 * pi * 16 * 10, 1e-8);
    change([](Repeat& r) { r.result.value = "new_body"; }); // pins like the holes, beside them
    const auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    const auto pins = body_of(evaluation, std::to_string(step));
    ASSERT_TRUE(pins);
    EXPECT_EQ(geom::count(pins->shape).lumps, 4);
    b.document = change_step(b.document, hole, [](Step& s) { s.suspended = true; });
    EXPECT_TRUE(has_code(b.evaluate(), step, "repeat.no_step"));
}

TEST_F(Holed, WhatCannotBePlacedIsSaid) {
    EXPECT_EQ(code([](Repeat& r) { r.of.step = 0; }), "repeat.no_step");
    EXPECT_EQ(code([](Repeat& r) { r.pattern.count.text = "2.5"; }), "pattern.count");
    EXPECT_EQ(code([](Repeat& r) { r.pattern.count.text = "1"; }), "pattern.count");
    EXPECT_EQ(code([](Repeat& r) { r.pattern.count.text = "1000000"; }), "pattern.count");
    EXPECT_EQ(code([](Repeat& r) { r.pattern.spacing.text = "0"; }), "pattern.spacing");
    EXPECT_EQ(code([](Repeat& r) { r.pattern.scale.text = "2 - index"; }), "pattern.size");
    EXPECT_EQ(code([](Repeat& r) { r.pattern.only_where.text = "0"; }), "pattern.nothing");
    EXPECT_EQ(code([](Repeat& r) { r.pattern.direction.value = "element"; }), "step.unanswered");
    EXPECT_EQ(code([](Repeat& r) {
                  r.pattern.arrange.value = "grid";
                  r.pattern.second_direction.value = "x";
              }),
              "pattern.one_line");
    EXPECT_EQ(code([&](Repeat& r) {
                  r.pattern.arrange.value = "path";
                  r.pattern.path = {at(ElementKind::edge, plate, 0, -50, 10), at(ElementKind::edge, plate, 0, 50, 10)};
              }),
              "path.broken");
    EXPECT_EQ(code([&](Repeat& r) {
                  r.pattern.arrange.value = "points";
                  r.pattern.points.step = drawn;
              }),
              "pattern.no_points");
}

TEST(Copies, FollowTheirBodyAndKeepItsNames) {
    Builder b;
    const int post = b.box("10", "20", "30");
    Stock rail;
    const int other = b.step(rail, "Rail");
    b.document = change_step(b.document, post, [](Step& s) { s.name = "Post"; });
    CopyBodies copies;
    copies.bodies = {body_ref(post)};
    copies.pattern.count.text = "4";
    copies.pattern.spacing.text = "50";
    copies.pattern.scale.text = "1 + index / 10";
    const int step = b.step(copies);
    auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    EXPECT_EQ(evaluation.bodies_as_of().size(), 5u);
    const BodyId third = std::to_string(step) + ":10@3";
    EXPECT_EQ(evaluation.traits.at(third).name, "Post 3");
    EXPECT_NEAR(volume_of(evaluation, third), 6000 * std::pow(1.2, 3), 1e-7);
    const auto body = body_of(evaluation, third);
    EXPECT_EQ(body->names.Find(geom::nearest_element(body->shape, TopAbs_FACE, gp_Pnt(100, 0, 40)).element).text(),
              "10:top");
    // A cut of a copy, made by its name, follows when the post grows.
    sketch::Sketch s;
    circle(s, 100, 0, 2);
    const int cut = b.cut(b.sketch(s), {{100, 0}}, {third}, "face");
    b.change<Extrude>(cut, [&](Extrude& e) { e.extent.to_face = {{ElementKind::face, third, {"10:top"}, {}, {}}}; });
    for (const double h : {30.0, 44.0}) {
        b.change<Stock>(post, [&](Stock& p) { p.height.text = std::to_string(h); });
        evaluation = b.evaluate();
        ASSERT_FALSE(evaluation.failed());
        // Larger about its middle, so it reaches below the plane where the cut begins.
        EXPECT_NEAR(evaluation.report(cut)->output->removed, pi * 4 * (h / 2 + 1.2 * h / 2), 1e-6);
    }
    b.change<CopyBodies>(step, [](CopyBodies& c) {
        c.pattern.arrange.value = "mirror";
        c.pattern.plane.value = "xy";
        c.result.value = "together";
    });
    b.document = change_step(b.document, cut, [](Step& s2) { s2.suspended = true; });
    evaluation = b.evaluate();
    const BodyId together = std::to_string(step) + ":10";
    EXPECT_NEAR(volume_of(evaluation, together), 200 * 44, 1e-8);
    EXPECT_LT(geom::centroid_of(body_of(evaluation, together)->shape).Z(), -20);
    EXPECT_TRUE(geom::is_valid(body_of(evaluation, together)->shape));
    EXPECT_EQ(evaluation.traits.at(together).name, "Post copies");
    EXPECT_TRUE(evaluation.traits.contains(std::to_string(other)));
}

TEST(Copies, AThousandOpeningsOfTheirOwnSizeAreOneStep) {
    Builder b;
    const int wall = b.box("1000", "600", "10");
    sketch::Sketch s;
    const int corners[] = {s.add_point(-480, -280), s.add_point(-470, -280), s.add_point(-470, -270),
                           s.add_point(-480, -270)};
    for (int i = 0; i < 4; ++i) {
        s.add_line(corners[i], corners[(i + 1) % 4]);
    }
    const int drawn = b.sketch(s);
    const int cut = b.cut(drawn, {{-475, -275}}, {std::to_string(wall)});
    Repeat grid;
    grid.result.value = "cut";
    grid.workpieces = {body_ref(wall)};
    grid.of.step = cut;
    grid.pattern.arrange.value = "grid";
    grid.pattern.count.text = "40";
    grid.pattern.spacing.text = "24";
    grid.pattern.second_count.text = "25";
    grid.pattern.second_spacing.text = "22";
    grid.pattern.scale.text = "0.5 + index / 40";
    const int step = b.step(grid);
    const auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    double sum = 0;
    for (int row = 0; row < 25; ++row) {
        for (int i = row == 0 ? 1 : 0; i < 40; ++i) {
            sum += 1000 * std::pow(0.5 + i / 40.0, 2);
        }
    }
    EXPECT_NEAR(evaluation.report(step)->output->removed / sum, 1, 1e-9);
    EXPECT_EQ(evaluation.report(step)->output->facts.at("copies"), "999");
}

// A bore of 3 mm radius through all of a plate of 200 x 100 x 10, the plate made taller since: copies pass through what
// there is now, wherever they go, and copies of the copies do.
TEST(Repeats, PassThroughWhatThereIsNow) {
    for (const char* way : {"everything", "everything_both", "drilled", "shouldered", "tapered"}) {
        SCOPED_TRACE(way);
        Builder b;
        const int plate = b.box("200", "100", "10");
        sketch::Sketch s;
        const bool drills = std::string(way) == "drilled" || std::string(way) == "shouldered";
        if (drills) {
            s.add_constraint(sketch::ConstraintKind::fixed, {s.add_point(-80, -30)});
        } else {
            circle(s, -80, -30, 3);
        }
        const int drawn = b.sketch(s, drills || std::string(way) == "everything" ? "10" : "5");
        int hole = 0;
        if (drills) {
            Holes holes;
            holes.workpieces = {body_ref(plate)};
            holes.sketch.step = drawn;
            holes.diameter.text = "6";
            holes.shape.value = std::string(way) == "drilled" ? "plain" : "counterbored";
            holes.head_diameter.text = "9";
            holes.head_depth.text = "2";
            hole = b.step(holes);
        } else {
            hole = b.cut(drawn, {{-80, -30}}, {std::to_string(plate)},
                         std::string(way) == "everything" ? "everything" : "everything_both");
            b.change<Extrude>(hole, [&](Extrude& cut) {
                cut.extent.way.value = "back";
                cut.extent.taper.text = std::string(way) == "tapered" ? "1 deg" : "0 deg";
            });
        }
        Resize taller;
        taller.bodies = {body_ref(plate)};
        taller.by.value = "axes";
        taller.factor_z.text = "9"; // about its middle: from -40 to 50
        b.step(taller);
        Repeat repeat;
        repeat.result.value = "cut";
        repeat.workpieces = {body_ref(plate)};
        repeat.of.step = hole;
        repeat.pattern.count.text = "2";
        repeat.pattern.spacing.text = "12";
        const int step = b.step(repeat);
        repeat.of.step = step; // the bore and its copy again
        repeat.pattern.spacing.text = "24";
        const int again = b.step(repeat);
        const auto evaluation = b.evaluate();
        ASSERT_FALSE(evaluation.failed());
        // One way: from the sketch at 10 down to -40. Both ways: from -40 up to 50, from the sketch at 5 on tapered.
        const auto cone = [](double height) { // narrowing by a degree
            const double end = 3 - height * std::tan(pi / 180);
            return pi * height / 3 * (9 + 3 * end + end * end);
        };
        const double both = pi * 9 * 90;
        const double wanted = std::string(way) == "everything"        ? pi * 9 * 50
                              : std::string(way) == "everything_both" ? both
                              : std::string(way) == "drilled"         ? pi * 9 * 50
                              : std::string(way) == "shouldered"      ? pi * (20.25 * 2 + 9 * 48)
                                                                      : pi * 9 * 45 + cone(45);
        EXPECT_NEAR(evaluation.report(step)->output->removed, wanted, 1e-6);
        EXPECT_NEAR(evaluation.report(again)->output->removed, 2 * wanted, 1e-6);
    }
}

} // namespace
