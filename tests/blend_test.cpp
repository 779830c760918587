// Rounded and bevelled edges: volumes by closed formulas, rules that follow, names, and what is refused.
#include "model/steps/bevel_edges/bevel_edges.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/round_edges/round_edges.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"
#include "model_fixture.h"

#include <gtest/gtest.h>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

Reference at(ElementKind kind, int body, double x, double y, double z) {
    return {kind, std::to_string(body), {}, {}, Place{x, y, z}};
}
Reference edge_at(int body, double x, double y, double z) {
    return at(ElementKind::edge, body, x, y, z);
}
Reference face_at(int body, double x, double y, double z) {
    return at(ElementKind::face, body, x, y, z);
}

double quarter_gone(double radius) { // of a square's corner, when it is rounded
    return radius * radius * (1 - pi / 4);
}

std::set<std::string> names_of(const BodyPtr& body) {
    std::set<std::string> names;
    for (const TopoDS_Shape& face : geom::faces_of(body->shape)) {
        names.insert(body->names.Find(face).text());
    }
    return names;
}

struct Block : ::testing::Test {
    Builder b;
    int block = b.box("40", "30", "20");

    int round(const References& edges, const std::string& radius) {
        RoundEdges step;
        step.choice.edges = edges;
        step.radius.text = radius;
        return b.step(step);
    }
    double left() { return volume_of(b.evaluate(), std::to_string(block)); }
};

TEST_F(Block, OneEdgeIsRoundedAndItsFaceIsCalledAfterIt) {
    b.set("r", "5 mm");
    const int step = round({edge_at(block, -20, -15, 10)}, "r");
    auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    EXPECT_NEAR(volume_of(evaluation, "10"), 24000 - quarter_gone(5) * 20, 1e-8);
    EXPECT_NEAR(evaluation.report(step)->output->removed, quarter_gone(5) * 20, 1e-8);
    EXPECT_TRUE(names_of(body_of(evaluation, "10")).contains("20:round/10:front&10:left"));
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).faces, 7);
    // The pick has learned its name, and follows when the block grows.
    b.change<Stock>(block, [](Stock& stock) { stock.width.text = "60"; });
    b.set("r", "8 mm");
    evaluation = b.evaluate();
    EXPECT_NEAR(volume_of(evaluation, "10"), 36000 - quarter_gone(8) * 20, 1e-8);
}

TEST_F(Block, AFaceMeansAllItsEdges) {
    const double r = 2;
    round({face_at(block, 0, 0, 20)}, "2");
    // Each level of the round is a rectangle, smaller by d on every side: d = r - sqrt(r^2 - t^2).
    const double gone = 2 * (40 + 30) * quarter_gone(r) - 4 * r * r * r * (5.0 / 3 - pi / 2);
    EXPECT_NEAR(left(), 24000 - gone, 1e-6);
}

TEST_F(Block, AllEdgesLeaveTheSumOfABoxAndABall) {
    RoundEdges step;
    step.choice.by.value = "between";
    for (const auto& [x, y, z] : {std::array{0.0, 0.0, 20.0}, {0.0, 0.0, 0.0}, {20.0, 0.0, 10.0}, {-20.0, 0.0, 10.0}}) {
        step.choice.first.push_back(face_at(block, x, y, z));
    }
    step.radius.text = "3";
    b.step(step);
    const double a = 34, c = 24, h = 14, r = 3;
    const double steiner =
        a * c * h + 2 * r * (a * c + c * h + a * h) + pi * r * r * (a + c + h) + 4 * pi / 3 * r * r * r;
    EXPECT_NEAR(left(), steiner, 1e-6);
    EXPECT_EQ(geom::count(body_of(b.evaluate(), "10")->shape).faces, 26);
    const auto names = names_of(body_of(b.evaluate(), "10"));
    EXPECT_TRUE(names.contains("20:round-corner/10:back&10:left&10:top"));
    EXPECT_EQ(names.size(), 26u);
}

TEST_F(Block, ARadiusMayGrowAlongTheEdge) {
    RoundEdges step;
    step.choice.edges = {edge_at(block, 20, 15, 10)};
    step.size.value = "growing";
    step.radius.text = "2";
    step.end_radius.text = "6";
    step.from_vertex = {at(ElementKind::vertex, block, 20, 15, 20)};
    b.step(step);
    const auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    const double mean_square = (4 + 12 + 36) / 3.0;
    EXPECT_NEAR(volume_of(evaluation, "10"), 24000 - (1 - pi / 4) * mean_square * 20, 0.02);
    // Small at the top, where it was to begin.
    const auto body = body_of(evaluation, "10");
    for (const auto& p : {gp_Pnt(18, 15, 20), gp_Pnt(20, 13, 20), gp_Pnt(14, 15, 0), gp_Pnt(20, 9, 0)}) {
        EXPECT_LT(geom::nearest_element(body->shape, TopAbs_VERTEX, p).distance, 1e-5);
    }
}

TEST_F(Block, ARoundMayBeAskedForByItsWidth) {
    RoundEdges step;
    step.choice.edges = {edge_at(block, 20, 15, 10)};
    step.size.value = "width";
    step.width.text = "4";
    b.step(step);
    EXPECT_NEAR(left(), 24000 - quarter_gone(4 / std::sqrt(2)) * 20, 1e-8);
}

TEST_F(Block, BevelsByDistancesAndAngle) {
    BevelEdges step;
    step.choice.edges = {face_at(block, 0, 0, 20)};
    step.distance.text = "2";
    const int bevel = b.step(step);
    // Frustum: rectangles from 40 x 30 to 36 x 26 over 2 mm.
    const auto frustum = [](double a, double c, double h, double inset) {
        const double top = (a - 2 * inset) * (c - 2 * inset);
        const double middle = (a - inset) * (c - inset);
        return h / 6 * (a * c + 4 * middle + top);
    };
    EXPECT_NEAR(left(), 40 * 30 * 18 + frustum(40, 30, 2, 2), 1e-8);
    // The distance lies on the face that was picked, the other on the sides; or the other way round.
    b.change<BevelEdges>(bevel, [](BevelEdges& s) {
        s.size.value = "two_distances";
        s.other_distance.text = "5";
    });
    EXPECT_NEAR(left(), 40 * 30 * 15 + frustum(40, 30, 5, 2), 1e-8);
    b.change<BevelEdges>(bevel, [](BevelEdges& s) { s.on.value = "second"; });
    EXPECT_NEAR(left(), 40 * 30 * 18 + frustum(40, 30, 2, 5), 1e-8);
    b.change<BevelEdges>(bevel, [](BevelEdges& s) {
        s.size.value = "angle";
        s.on.value = "first";
        s.angle.text = "30 deg";
    });
    const double down = 2 * std::tan(pi / 6);
    EXPECT_NEAR(left(), 40 * 30 * (20 - down) + frustum(40, 30, down, 2), 1e-8);
    EXPECT_TRUE(names_of(body_of(b.evaluate(), "10")).contains("20:bevel/10:right&10:top"));
}

TEST_F(Block, TheLargestRadiusThatFitsIsTold) {
    const int step = round({edge_at(block, -20, -15, 10)}, "45");
    const auto evaluation = b.evaluate();
    ASSERT_TRUE(has_code(evaluation, step, "blend.failed"));
    const Finding& finding = evaluation.report(step)->findings.front();
    const size_t at = finding.cause.find("about ");
    ASSERT_NE(at, std::string::npos) << finding.cause;
    const double fits = std::stod(finding.cause.substr(at + 6));
    EXPECT_GT(fits, 29);
    EXPECT_LE(fits, 30.2);
    EXPECT_NEAR(volume_of(evaluation, "10"), 24000, 1e-9); // handed on as it was
    b.change<RoundEdges>(step, [&](RoundEdges& s) { s.radius.text = std::to_string(fits * 0.98); });
    EXPECT_FALSE(b.evaluate().failed());
}

TEST_F(Block, WhatCannotBeRoundedIsSaid) {
    const int first = round({edge_at(block, -20, -15, 10)}, "5");
    const int smooth = round({edge_at(block, -15, -15, 10)}, "1"); // where the round meets the flat
    const int none = round({}, "1");
    const int zero = round({edge_at(block, 20, 15, 10)}, "0");
    RoundEdges closed;
    closed.choice.edges = {face_at(block, 0, 0, 20)};
    closed.size.value = "growing";
    closed.from_vertex = {at(ElementKind::vertex, block, 20, -15, 0)};
    const int away = b.step(closed);
    RoundEdges apart;
    apart.choice.by.value = "between";
    apart.choice.first = {face_at(block, 0, 0, 20)};
    apart.choice.second = {face_at(block, 0, 0, 0)};
    const int never = b.step(apart);
    const auto evaluation = b.evaluate();
    EXPECT_FALSE(has_error(evaluation.report(first)->findings));
    EXPECT_TRUE(has_code(evaluation, smooth, "blend.smooth"));
    EXPECT_TRUE(has_code(evaluation, none, "step.unanswered"));
    EXPECT_TRUE(has_code(evaluation, zero, "step.size"));
    EXPECT_TRUE(has_code(evaluation, away, "blend.open_end"));
    EXPECT_TRUE(has_code(evaluation, never, "edges.none"));
}

TEST(Blend, ARuleFollowsTheHolesOfAPlate) {
    Builder b;
    b.set("d", "8 mm");
    b.set("c", "1 mm");
    const int plate = b.box("80", "40", "10");
    sketch::Sketch s;
    for (const double x : {-20.0, 0.0, 20.0}) {
        circle(s, x, 0, 4, "d");
    }
    const int cut = b.cut(b.sketch(s), {{-20, 0}, {0, 0}, {20, 0}}, {std::to_string(plate)});
    BevelEdges bevel;
    bevel.choice.by.value = "between";
    bevel.choice.first = {face_at(plate, 35, 0, 10)};
    bevel.choice.second = {face_at(plate, -16, 0, 5), face_at(plate, 24, 0, 5)}; // two of the three
    bevel.distance.text = "c";
    const int step = b.step(bevel);
    const auto ring = [](double r, double c) { return pi * (r * c * c + c * c * c / 3); }; // over a hole's rim
    for (const auto& [d, c] : {std::pair(8.0, 1.0), std::pair(12.0, 1.0), std::pair(5.0, 2.5), std::pair(8.0, 1.0)}) {
        b.set("d", std::to_string(d) + " mm");
        b.set("c", std::to_string(c) + " mm");
        const auto evaluation = b.evaluate();
        ASSERT_FALSE(evaluation.failed()) << d;
        EXPECT_NEAR(evaluation.report(step)->output->removed, 2 * ring(d / 2, c), 1e-7) << d;
    }
    // Without the second kind: the rims of all holes, and the outer edges of the upper face.
    b.change<BevelEdges>(step, [](BevelEdges& e) { e.choice.second.clear(); });
    const auto all = b.evaluate();
    ASSERT_FALSE(all.failed());
    const double outside = 80 * 40 - (80 * 40 + 4 * 79 * 39 + 78 * 38) / 6.0;
    EXPECT_NEAR(all.report(step)->output->removed, 3 * ring(4, 1) + outside, 1e-7);
    EXPECT_FALSE(has_error(all.report(cut)->findings));
}

TEST(Blend, ChainsComeAlongAndLaterStepsKeepTheirFaces) {
    Builder b;
    b.set("r", "6 mm");
    const int plate = b.box("60", "40", "12");
    RoundEdges corners;
    for (const double x : {-30.0, 30.0}) {
        for (const double y : {-20.0, 20.0}) {
            corners.choice.edges.push_back(edge_at(plate, x, y, 6));
        }
    }
    corners.radius.text = "r";
    b.step(corners);
    RoundEdges rim;
    rim.choice.edges = {edge_at(plate, 0, -20, 12)}; // one edge: all round by smooth neighbours
    rim.radius.text = "2 mm";
    const int second = b.step(rim);
    // A later cut ends at the face that the rim was made of.
    sketch::Sketch s;
    circle(s, 0, 0, 5);
    const int pocket = b.cut(b.sketch(s), {{0, 0}}, {std::to_string(plate)}, "face");
    b.change<Extrude>(pocket, [&](Extrude& e) {
        e.extent.to_face = {face_at(plate, 20, 0, 12)};
        e.extent.to_offset.text = "-3 mm";
    });
    for (const double r : {6.0, 10.0, 3.0}) {
        b.set("r", std::to_string(r) + " mm");
        const auto evaluation = b.evaluate();
        ASSERT_FALSE(evaluation.failed()) << r;
        const double area = 60 * 40 - 4 * quarter_gone(r);
        // By Pappus: the corner's cross-section travels along the border, its centroid inside by e.
        const double section = quarter_gone(2);
        const double e = 2 * (10 - 3 * pi) / (12 - 3 * pi); // from each face
        const double straight = 2 * (60 + 40 - 4 * r);
        const double travelled = straight + 2 * pi * (r - e);
        EXPECT_NEAR(evaluation.report(second)->output->removed, section * travelled, 1e-6 * section * travelled) << r;
        EXPECT_NEAR(volume_of(evaluation, "10"), area * 12 - section * travelled - pi * 25 * 9, 1e-4) << r;
    }
}

TEST(Blend, WidthsFollowTheAngleOfTheEdge) {
    // A block that is cut obliquely: the angle at its upper edge is 60 degrees to the outside.
    Builder b;
    const int block = b.box("40", "30", "20");
    sketch::Sketch s;
    const int one = s.add_point(20, 20);
    const int two = s.add_point(20 - 20 / std::tan(pi / 3), 0);
    const int three = s.add_point(40, 0);
    const int four = s.add_point(40, 20);
    for (const auto& [from, to] :
         {std::pair(one, two), std::pair(two, three), std::pair(three, four), std::pair(four, one)}) {
        s.add_line(from, to);
    }
    SketchStep front;
    front.plane.value = "xz";
    front.drawing = s;
    const int drawn = b.step(front);
    const int cut = b.cut(drawn, {{25, 10}}, {std::to_string(block)});
    ASSERT_FALSE(b.evaluate().failed());
    RoundEdges round;
    round.choice.edges = {edge_at(block, 20, 0, 20)};
    round.size.value = "width";
    round.width.text = "3";
    const int step = b.step(round);
    const auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    EXPECT_GT(evaluation.report(cut)->output->removed, 0);
    // The outside turns by 120 degrees there: r = w / (2 sin 60), tangents r tan 60 long.
    const double r = 1.5 / std::sin(pi / 3);
    const double gone = (r * r * std::tan(pi / 3) - r * r * pi / 3) * 30;
    EXPECT_NEAR(evaluation.report(step)->output->removed, gone, 1e-6);
}

// The section of a second bevel, on the obtuse edge that a first one by `first` left on the walls: a triangle with
// sides `second` and 135 degrees between them, whose centroid lies inside of the wall.
struct SecondBevel {
    explicit SecondBevel(double second)
        : area(second * second * std::sqrt(0.5) / 2), inside(second * std::sqrt(0.5) / 3) {}
    double area, inside;
};

TEST(Blend, SecondBevelsRunRoundAsTheyShould) {
    // The kernel itself loses its way along an arc between a cylinder and a cone, by 0.003 mm.
    for (const double gone : {0.0, 10.0, -6.0}) { // a whole rim, and what a cut at x = `gone` leaves of it
        Builder b;
        Stock round;
        round.shape.value = "cylinder";
        round.diameter.text = "30";
        round.height.text = "20";
        const int rod = b.step(round);
        if (gone != 0) {
            sketch::Sketch s;
            s.add_rectangle({gone, -40}, {40, 40});
            b.cut(b.sketch(s), {{20, 0}}, {std::to_string(rod)});
        }
        BevelEdges bevel;
        bevel.choice.edges = {edge_at(rod, -15, 0, 20)};
        bevel.distance.text = "2.4";
        const int first = b.step(bevel);
        bevel.choice.edges = {edge_at(rod, -15, 0, 17.6)};
        bevel.distance.text = "1.8";
        const int second = b.step(bevel);
        const auto evaluation = b.evaluate();
        ASSERT_FALSE(evaluation.failed()) << gone;
        EXPECT_TRUE(evaluation.report(first)->findings.empty());
        EXPECT_TRUE(evaluation.report(second)->findings.empty());
        // Ring by ring: how much of the circle of radius r is left, 2 (pi - acos(gone / r)).
        const auto ring = [&](double r) { return r * (gone == 0 ? 2 * pi : 2 * (pi - std::acos(gone / r))); };
        // Heights of the section at each radius, from the wall inwards.
        const double side = 1.8 * std::sqrt(0.5);
        double removed = 0;
        constexpr int slices = 20000;
        for (int i = 0; i < slices; ++i) {
            const double in = (i + 0.5) / slices * side;
            const double height = 1.8 * (1 - in / side); // a triangle that stands on the wall
            removed += ring(15 - in) * height * side / slices;
        }
        EXPECT_NEAR(evaluation.report(second)->output->removed, removed, 2e-6 * removed) << gone;
    }
}

TEST(Blend, SecondBevelsFollowRoundedCorners) {
    Builder b;
    b.set("c", "1 mm");
    const int plate = b.box("60", "40", "12");
    RoundEdges corners;
    for (const double x : {-30.0, 30.0}) {
        for (const double y : {-20.0, 20.0}) {
            corners.choice.edges.push_back(edge_at(plate, x, y, 6));
        }
    }
    corners.radius.text = "8 mm";
    b.step(corners);
    BevelEdges bevel;
    bevel.choice.edges = {edge_at(plate, 0, -20, 12)};
    bevel.distance.text = "2";
    b.step(bevel);
    bevel.choice.edges = {edge_at(plate, 0, -20, 10)};
    bevel.distance.text = "c";
    const int second = b.step(bevel);
    for (const double c : {1.0, 2.0, 0.3}) {
        b.set("c", std::to_string(c) + " mm");
        const auto evaluation = b.evaluate();
        ASSERT_FALSE(evaluation.failed()) << c;
        const SecondBevel section(c);
        const double travelled = 2 * (60 + 40 - 4 * 8) + 2 * pi * (8 - section.inside); // by Pappus
        EXPECT_NEAR(evaluation.report(second)->output->removed, section.area * travelled,
                    2e-6 * section.area * travelled)
            << c;
    }
}

} // namespace
