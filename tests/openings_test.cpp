// A wall with a door and two windows, in metres: openings by their own dimensions, moved together, with what stands in
// them, also when the wall gets lower.
#include "model/steps/extrude/extrude.h"
#include "model/steps/opening/opening.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"
#include "model_fixture.h"

#include <gtest/gtest.h>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

// A rectangle whose lower left corner and size are formulas, measured from the point `from`.
void opening(sketch::Sketch& s, int from, const std::array<double, 4>& drawn,
             const std::array<std::string, 4>& formulas) {
    using enum sketch::ConstraintKind;
    const auto& [x, y, w, h] = drawn;
    const int p[] = {s.add_point(x, y), s.add_point(x + w, y), s.add_point(x + w, y + h), s.add_point(x, y + h)};
    int lines[4];
    for (int i = 0; i < 4; ++i) {
        lines[i] = s.add_line(p[i], p[(i + 1) % 4]);
        s.add_constraint(i % 2 == 0 ? horizontal : vertical, {lines[i]});
    }
    s.add_constraint(horizontal_distance, {from, p[0]}, formulas[0]);
    s.add_constraint(vertical_distance, {from, p[0]}, formulas[1]);
    s.add_constraint(distance, {lines[0]}, formulas[2]);
    s.add_constraint(distance, {lines[3]}, formulas[3]);
}

TEST(Openings, AWallWithADoorAndTwoWindows) {
    Builder b;
    b.set("top", "3 m");
    b.set("door", "1 m");
    b.set("sill", "0.9 m");
    b.set("windows", "4 m");
    const int wall = b.box("10 m", "0.3 m", "top");
    sketch::Sketch s;
    const int corner = s.add_point(-5000, 0);
    s.add_constraint(sketch::ConstraintKind::fixed, {corner});
    opening(s, corner, {-4000, 0, 1000, 2100}, {"1 m", "0", "door", "2.1 m"});
    opening(s, corner, {-1000, 900, 1200, 1200}, {"windows", "sill", "1.2 m", "1.2 m"});
    opening(s, corner, {2000, 900, 1200, 1200}, {"windows + 3 m", "sill", "1.2 m", "1.2 m"});
    SketchStep front;
    front.plane.value = "xz";
    front.offset.text = "0.15 m"; // the plane looks forward, along -y
    front.drawing = s;
    const int drawn = b.step(front);
    const std::vector<sketch::Point2> both{{-400, 1500}, {2600, 1500}};
    const int cut = b.cut(drawn, {{-3500, 1000}, both[0], both[1]}, {std::to_string(wall)}, "walls");
    b.change<Extrude>(cut, [](Extrude& e) { e.extent.way.value = "back"; });
    // What stands in the windows: panes of 60 mm, in the middle of the wall, from the same regions.
    std::vector<BodyId> panes;
    for (const auto& near : both) {
        Extrude pane;
        pane.sketch.step = drawn;
        pane.regions = {{{}, near}};
        pane.extent.from.value = "offset";
        pane.extent.from_offset.text = "-120 mm";
        pane.extent.distance.text = "60 mm";
        pane.extent.way.value = "back";
        panes.push_back(std::to_string(b.step(pane)));
    }
    const auto cubic_metres = [&](const Evaluation& evaluation) {
        return volume_of(evaluation, std::to_string(wall)) / 1e9;
    };
    const auto check = [&](double wanted) {
        const auto evaluation = b.evaluate();
        ASSERT_FALSE(evaluation.failed());
        EXPECT_NEAR(cubic_metres(evaluation), wanted, 1e-9);
        EXPECT_EQ(geom::count(body_of(evaluation, std::to_string(wall))->shape).faces, 18);
        for (const BodyId& pane : panes) { // fills its window, and touches nothing of the wall
            const auto body = body_of(evaluation, pane);
            EXPECT_NEAR(geom::volume_of(body->shape), 1200 * 1200 * 60, 1e-3);
            EXPECT_EQ(geom::overlap(body->shape, body_of(evaluation, std::to_string(wall))->shape),
                      std::optional(false));
            EXPECT_LT(geom::gap_between(body->shape, body_of(evaluation, std::to_string(wall))->shape).width, 1e-6);
        }
    };
    check(7.506);
    b.set("door", "1.2 m");
    check(7.380);
    b.set("windows", "4.5 m");
    check(7.380);
    b.set("top", "2.7 m");
    check(6.480);
    b.set("sill", "1.1 m");
    check(6.480);
}

struct Wall : ::testing::Test {
    Builder b;
    int wall = 0, step = 0;

    Wall() {
        b.set("top", "3 m");
        wall = b.box("10 m", "0.3 m", "top");
    }
    int open(const Place& face, const std::function<void(Opening&)>& edit = {}) {
        Opening definition;
        definition.wall = {{ElementKind::face, std::to_string(wall), {}, {}, face}};
        if (edit) {
            edit(definition);
        }
        return step = b.step(definition);
    }
    void change(const std::function<void(Opening&)>& edit) { b.change<Opening>(step, edit); }
    double removed(int of = 0) { return b.evaluate().report(of == 0 ? step : of)->output->removed / 1e9; }
    std::string says() {
        const auto evaluation = b.evaluate();
        const auto& findings = evaluation.report(step)->findings;
        return findings.empty() ? "" : findings.front().code;
    }
    const Place front{0, -150, 1500};
};

TEST_F(Wall, OpeningsHaveDimensionsFromItsBorders) {
    const int door = open(front, [](Opening& o) {
        o.up.text = "0";
        o.height.text = "2.1 m";
        o.width.text = "door";
    });
    b.set("door", "1 m");
    EXPECT_NEAR(removed(), 1 * 2.1 * 0.3, 1e-9);
    const int windows = open({2000, -150, 1500}, [](Opening& o) {
        o.width.text = "1.2 m";
        o.across.text = "windows";
        o.count.text = "2";
        o.spacing.text = "3 m";
    });
    b.set("windows", "4 m");
    const auto volume = [&] { return volume_of(b.evaluate(), std::to_string(wall)) / 1e9; };
    EXPECT_NEAR(volume(), 7.506, 1e-9);
    EXPECT_EQ(geom::count(body_of(b.evaluate(), std::to_string(wall))->shape).faces, 18);
    b.set("door", "1.2 m");
    EXPECT_NEAR(volume(), 7.380, 1e-9);
    b.set("windows", "4.5 m");
    EXPECT_NEAR(volume(), 7.380, 1e-9);
    const auto body = body_of(b.evaluate(), std::to_string(wall));
    EXPECT_EQ(body->names.Find(face_near(body, -500, 0, 1500)).text(), std::to_string(windows) + ":side/co1.left");
    EXPECT_EQ(describe_face(body->names.Find(face_near(body, 2500, 0, 1500))), "opening 2, left");
    EXPECT_EQ(body->names.Find(face_near(body, -3500, 0, 2100)).text(), std::to_string(door) + ":side/co1.head");
    b.set("top", "2.7 m");
    EXPECT_NEAR(volume(), 6.480, 1e-9);
}

TEST_F(Wall, MeasuredFromAnyBorderAndSide) {
    open(front, [](Opening& o) {
        o.across_from.value = "right";
        o.up_from.value = "above";
        o.across.text = "0.5 m";
        o.up.text = "0.2 m";
    });
    const auto middle = [&] {
        const auto evaluation = b.evaluate();
        const auto body = body_of(evaluation, std::to_string(wall));
        const auto& pieces = evaluation.report(step)->output->pieces;
        const auto plug =
            std::find_if(pieces.begin(), pieces.end(), [](const Piece& p) { return p.identity.inside.size() == 1; });
        return geom::centroid_of(plug->shape);
    };
    EXPECT_LT(middle().Distance(gp_Pnt(5000 - 500 - 500, 0, 3000 - 200 - 600)), 1e-6);
    change([](Opening& o) {
        o.across_from.value = "middle";
        o.up_from.value = "middle";
    });
    EXPECT_LT(middle().Distance(gp_Pnt(500, 0, 1500 + 200)), 1e-6);
    // From behind, left is right.
    change([&](Opening& o) {
        o.wall = {{ElementKind::face, std::to_string(wall), {}, {}, Place{0, 150, 1500}}};
        o.across_from.value = "left";
        o.up_from.value = "below";
    });
    EXPECT_LT(middle().Distance(gp_Pnt(5000 - 500 - 500, 0, 200 + 600)), 1e-6);
    // The dimensions that stand on the wall say how far it is.
    const auto dimensions = b.evaluate().report(step)->output->dimensions;
    ASSERT_EQ(dimensions.size(), 4U);
    EXPECT_EQ(dimensions[0].field, "across");
    EXPECT_NEAR(gp_Vec(gp_Pnt(dimensions[0].start[0], dimensions[0].start[1], dimensions[0].start[2]),
                       gp_Pnt(dimensions[0].end[0], dimensions[0].end[1], dimensions[0].end[2]))
                    .Magnitude(),
                500, 1e-6);
}

TEST_F(Wall, RoundOnesArchesNichesAndARoofHatch) {
    open(front, [](Opening& o) { o.shape.value = "round"; });
    EXPECT_NEAR(removed(), pi * 0.25 * 0.3, 1e-9);
    change([](Opening& o) { o.shape.value = "arched"; });
    EXPECT_NEAR(removed(), (0.7 + pi * 0.25 / 2) * 0.3, 1e-9);
    change([](Opening& o) {
        o.through.value = "depth";
        o.depth.text = "0.1 m";
    });
    EXPECT_NEAR(removed(), (0.7 + pi * 0.25 / 2) * 0.1, 1e-9);
    change([](Opening& o) { o.height.text = "0.4 m"; });
    EXPECT_EQ(says(), "opening.head");
    change([](Opening& o) {
        o.shape.value = "rectangle";
        o.across.text = "9.5 m";
    });
    EXPECT_EQ(says(), "opening.beyond"); // half a metre past the wall
    EXPECT_NEAR(removed(), 0.5 * 0.4 * 0.1, 1e-9);
    change([](Opening& o) {
        o.count.text = "2";
        o.spacing.text = "0.5 m";
    });
    EXPECT_EQ(says(), "opening.spacing");
    // Level faces have their x along the document's, their y up the sheet.
    const int roof = b.box("4 m", "3 m", "0.2 m", "5 m");
    wall = roof;
    open({0, 0, 5200}, [](Opening& o) {
        o.across.text = "0.25 m";
        o.up.text = "0.5 m";
        o.height.text = "0.8 m";
    });
    EXPECT_NEAR(removed(), 0.8 * 0.2, 1e-9);
    const auto body = body_of(b.evaluate(), std::to_string(roof));
    EXPECT_LT(geom::nearest_element(body->shape, TopAbs_FACE, gp_Pnt(-1750, -800, 5100)).distance, 1e-6);
}

TEST_F(Wall, ThroughThisWallOnly) {
    const int behind = b.box("10 m", "0.3 m", "3 m");
    b.change<Stock>(behind, [](Stock& s) { s.y.text = "2 m"; });
    open(front);
    const auto evaluation = b.evaluate();
    EXPECT_NEAR(evaluation.report(step)->output->removed / 1e9, 1.2 * 0.3, 1e-9);
    EXPECT_NEAR(volume_of(evaluation, std::to_string(behind)) / 1e9, 9, 1e-9);
}

TEST_F(Wall, WhatStandsInThemFollows) {
    Stock pane; // drawn at the origin: x along the wall, y into it, z up from the sill
    pane.width.text = "1 m";
    pane.depth.text = "60 mm";
    pane.height.text = "1.2 m";
    pane.x.text = "0.5 m";
    pane.y.text = "0.15 m";
    const int glass = b.step(pane);
    open(front, [&](Opening& o) {
        o.count.text = "3";
        o.up.text = "sill";
        o.fittings = {{ElementKind::body, std::to_string(glass), {}, {}, {}}};
    });
    b.set("sill", "0.9 m");
    for (const double sill : {0.9, 1.1}) {
        b.set("sill", std::to_string(sill * 1000));
        const auto evaluation = b.evaluate();
        ASSERT_FALSE(evaluation.failed());
        const auto solid = body_of(evaluation, std::to_string(wall));
        for (int i = 0; i < 3; ++i) {
            const auto placed =
                body_of(evaluation, std::to_string(step) + ":" + std::to_string(glass) + "@" + std::to_string(i + 1));
            ASSERT_TRUE(placed);
            EXPECT_LT(
                geom::centroid_of(placed->shape).Distance(gp_Pnt(-5000 + 1000 + 500 + 2000 * i, 0, sill * 1000 + 600)),
                1e-6);
            EXPECT_EQ(geom::overlap(placed->shape, solid->shape), std::optional(false));
        }
    }
}

} // namespace
