// Every kind of step hands out what a formula says, or a finding: sketches that are led to other dimensions, copies and
// their frames.
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

// --- Sketches are led, not thrown, to other dimensions --------------------------------------------------------------

TEST(SketchesAreLed, AChainGrowsAlongALine) {
    for (const bool upright : {false, true}) {
        for (const double reach : {5.0, 10.0, 31.0, 40.0, 200.0, 5000.0}) {
            Route route;
            route.parameter("reach", "10 mm");
            Drawing d;
            const auto at = [&](double along) { return upright ? d.point(0, along) : d.point(along, 0); };
            const int origin = at(0);
            const int first = at(10);
            const int second = at(14);
            const int link = d.line(first, second, true);
            d.circle_about(second, 1);
            d.hold("fixed", {origin});
            d.hold(upright ? "vertical" : "horizontal", {link});
            d.hold(upright ? "vertical" : "horizontal", {origin, first});
            d.hold(upright ? "vertical_distance" : "horizontal_distance", {origin, first}, "reach");
            d.hold("distance", {link}, "4 mm");
            const int body = route.extrude(route.sketch(d), region(upright ? 0 : 14, upright ? 14 : 0), "10 mm");
            const auto outcome = route.run({{"reach", mm(reach)}});
            ASSERT_FALSE(outcome.told()) << outcome.codes();
            EXPECT_NEAR(middle(outcome, body)[upright ? 1 : 0], reach + 4, 1e-6) << reach;
        }
    }
}

TEST(SketchesAreLed, ARectangleKeepsItsSide) {
    for (const double place : {-50.0, 40.0, 200.0, 900.0}) {
        for (const double height : {3.0, 10.0, 120.0}) {
            Route route;
            route.parameter("place", "10 mm");
            route.parameter("height", "10 mm");
            Drawing d;
            const int origin = d.point(0, 0);
            const auto sides = d.rectangle(10, 0, 50, 10); // corners 2 to 5
            d.hold("fixed", {origin});
            d.hold("horizontal", {sides[0]});
            d.hold("vertical", {sides[1]});
            d.hold("horizontal", {sides[2]});
            d.hold("vertical", {sides[3]});
            d.hold("horizontal", {origin, 2});
            d.hold("horizontal_distance", {origin, 2}, "place");
            d.hold("distance", {sides[0]}, "40 mm");
            d.hold("distance", {sides[1]}, "height");
            const int body = route.extrude(route.sketch(d), region(30, 5), "10 mm");
            const auto outcome = route.run({{"place", mm(place)}, {"height", mm(height)}});
            ASSERT_FALSE(outcome.told()) << outcome.codes();
            EXPECT_NEAR(middle(outcome, body)[0], place + 20, 1e-6);
            EXPECT_NEAR(middle(outcome, body)[1], height / 2, 1e-6);
        }
    }
}

TEST(SketchesAreLed, ATriangleStaysOnItsSide) {
    // Two sides of given lengths over a base: the tip may lie above it or below.
    for (const double base : {8.0, 20.0, 55.0}) {
        for (const double side : {6.0 + base / 2, 30.0, 300.0}) {
            Route route;
            route.parameter("base", "20 mm");
            route.parameter("side", "20 mm");
            Drawing d;
            const auto sides = d.polygon({{0, 0}, {20, 0}, {10, std::sqrt(300.0)}});
            d.hold("fixed", {1});
            d.hold("horizontal", {sides[0]});
            d.hold("distance", {sides[0]}, "base");
            d.hold("distance", {sides[1]}, "side");
            d.hold("distance", {sides[2]}, "side");
            const int body = route.extrude(route.sketch(d), region(10, 5), "1 mm");
            const auto outcome = route.run({{"base", mm(base)}, {"side", mm(side)}});
            ASSERT_FALSE(outcome.told()) << outcome.codes();
            const double height = std::sqrt(side * side - base * base / 4);
            EXPECT_NEAR(outcome.volume(body), base * height / 2, 1e-6 * base * height);
            EXPECT_NEAR(middle(outcome, body)[0], base / 2, 1e-6);
            EXPECT_NEAR(middle(outcome, body)[1], height / 2, 1e-6);
        }
    }
}

TEST(SketchesAreLed, ATangentLineKeepsItsSide) {
    for (const double radius : {2.0, 10.0, 60.0}) { // the circle stays under the line that touches it
        Route route;
        route.parameter("radius", "10 mm");
        Drawing d;
        const int circle = d.circle(0, 0, 10);
        const int left = d.point(-100, 10);
        const int right = d.point(100, 10);
        const int top = d.line(left, right);
        d.hold("fixed", {left});
        d.hold("fixed", {right});
        d.hold("tangent", {top, circle});
        d.hold("radius", {circle}, "radius");
        const int body = route.extrude(route.sketch(d), region(0, 0), "1 mm");
        const auto outcome = route.run({{"radius", mm(radius)}});
        ASSERT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(outcome.volume(body), pi * radius * radius, 1e-6 * radius * radius);
        EXPECT_NEAR(middle(outcome, body)[1], 10 - radius, 1e-6);
    }
}

TEST(SketchesAreLed, WhatHasNoWayIsTold) {
    Route route; // sides that do not reach each other
    route.parameter("side", "20 mm");
    Drawing d;
    const auto sides = d.polygon({{0, 0}, {20, 0}, {10, std::sqrt(300.0)}});
    d.hold("fixed", {1});
    d.hold("fixed", {2});
    d.hold("distance", {sides[1]}, "side");
    d.hold("distance", {sides[2]}, "side");
    route.extrude(route.sketch(d), region(10, 5), "1 mm");
    EXPECT_FALSE(route.run({{"side", "11 mm"}}).told());
    EXPECT_TRUE(route.run({{"side", "9 mm"}}).told("sketch.conflict"));
}

// --- Frames are carried along paths
// -----------------------------------------------------------------------------------

TEST(FramesAreCarried, CopiesRoundACircleStandUpright) {
    for (const int count : {2, 3, 4, 6, 8, 12}) {
        Route route;
        Drawing d;
        d.circle(0, 0, 50);
        const int path = route.add("curves", {{"sketch", route.sketch(d)}});
        const int body = route.box(4, 2, 10, 50);
        route.add("copy_bodies", {{"bodies", {std::to_string(body)}},
                                  {"arrange", "path"},
                                  {"path", Json::array({pick("edge", path, {50, 0, 0})})},
                                  {"count", std::to_string(count)},
                                  {"orientation", "following"},
                                  {"result", "apart"}});
        const auto outcome = route.run();
        ASSERT_FALSE(outcome.told()) << outcome.codes();
        int solids = 0;
        double around = 0; // the sum of the distances from the middle
        for (const auto& [id, found] : outcome.evaluation.bodies_as_of()) {
            if (geom::volume_of(found->shape) > 0) {
                const auto box = geom::box_of(found->shape);
                EXPECT_NEAR(box[2], 0, 1e-9);
                EXPECT_NEAR(box[5], 10, 1e-9);
                const gp_Pnt center = geom::centroid_of(found->shape);
                around += std::hypot(center.X(), center.Y());
                ++solids;
            }
        }
        EXPECT_EQ(solids, count);
        EXPECT_NEAR(around, 50.0 * count, 1e-6);
    }
}

TEST(FramesAreCarried, PocketsRoundACircleAreAllCut) {
    for (const int count : {2, 4, 5, 8}) {
        Route route;
        const int plate = route.cylinder(140, 20);
        Drawing ring;
        ring.circle(0, 0, 50);
        const int path = route.add("curves", {{"sketch", route.sketch(ring, "xy", 20)}});
        Drawing d;
        d.rectangle(47, -2, 53, 2);
        const int first = route.cut(plate, route.sketch(d, "xy", 20), region(50, 0),
                                    {{"to", "distance"}, {"distance", "5 mm"}, {"way", "back"}});
        route.add("repeat", {{"result", "cut"},
                             {"workpieces", {std::to_string(plate)}},
                             {"of", first},
                             {"arrange", "path"},
                             {"path", Json::array({pick("edge", path, {50, 0, 20})})},
                             {"count", std::to_string(count)},
                             {"orientation", "following"}});
        const auto outcome = route.run();
        expect_volume(outcome, outcome.volume(plate), pi * 70 * 70 * 20 - count * 6 * 4 * 5);
    }
}

TEST(FramesAreCarried, OnUprightAndCorneredPaths) {
    for (const std::string plane : {"xy", "xz", "yz"}) {
        Route route;
        Drawing d;
        d.rectangle(-30, -20, 30, 20);
        const int path = route.add("curves", {{"sketch", route.sketch(d, plane)}});
        const int body = route.box(1, 1, 1, 0, 0, 50);
        Json edges = Json::array();
        for (const auto& [x, y] : {std::pair(0, -20), std::pair(30, 0), std::pair(0, 20), std::pair(-30, 0)}) {
            edges.push_back(pick("edge", path,
                                 plane == "xy"   ? std::array<double, 3>{double(x), double(y), 0}
                                 : plane == "xz" ? std::array<double, 3>{double(x), 0, double(y)}
                                                 : std::array<double, 3>{0, double(x), double(y)}));
        }
        route.add("copy_bodies", {{"bodies", {std::to_string(body)}},
                                  {"arrange", "path"},
                                  {"path", edges},
                                  {"count", "8"},
                                  {"orientation", "following"},
                                  {"result", "apart"}});
        const auto outcome = route.run();
        ASSERT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(outcome.volume(), 8, 1e-9); // rigid, whatever the turns
    }
}

TEST(FramesAreCarried, ARepeatOfARepeatMeansTheWholeChain) {
    Route route;
    const int plate = route.box(200, 200, 10);
    Drawing d;
    d.circle(-80, -80, 3);
    const int hole = route.cut(plate, route.sketch(d), region(-80, -80));
    const int row = route.add("repeat", {{"result", "cut"},
                                         {"workpieces", {std::to_string(plate)}},
                                         {"of", hole},
                                         {"arrange", "line"},
                                         {"direction", "x"},
                                         {"count", "4"},
                                         {"spacing", "40 mm"}});
    route.add("repeat", {{"result", "cut"},
                         {"workpieces", {std::to_string(plate)}},
                         {"of", row},
                         {"arrange", "line"},
                         {"direction", "y"},
                         {"count", "5"},
                         {"spacing", "30 mm"}});
    const auto outcome = route.run();
    expect_volume(outcome, outcome.volume(plate), 400000 - 20 * pi * 9 * 10);
}

// --- Copies of another size
// ---------------------------------------------------------------------------------------------

namespace {

// A plate with one cut and a copy of another size, 60 mm on.
Outcome resized_cut(const Drawing& drawing, std::array<double, 2> inside, double scale, const Json& extent,
                    const std::string& kind = "extrude") {
    Route route;
    const int plate = route.box(200, 100, 10);
    const int sketch = route.sketch(drawing);
    const int first = route.add(kind, Route::with({{"result", "cut"},
                                                   {"workpieces", {std::to_string(plate)}},
                                                   {"sketch", sketch},
                                                   {"regions", region(inside[0], inside[1])}},
                                                  extent));
    route.add("repeat", {{"result", "cut"},
                         {"workpieces", {std::to_string(plate)}},
                         {"of", first},
                         {"arrange", "line"},
                         {"direction", "x"},
                         {"count", "2"},
                         {"spacing", "80 mm"},
                         {"scale", mm(scale).substr(0, mm(scale).size() - 3)}});
    return route.run();
}

} // namespace

TEST(CopiesOfAnotherSize, ProfilesGrowInTheirPlane) {
    Drawing circle;
    circle.circle(-50, 0, 10);
    Drawing half; // its middle is that of its area
    {
        const int a = half.point(-50, -10);
        const int b = half.point(-50, 10);
        const int c = half.point(-50, 0);
        half.line(b, a);
        half.arc(c, a, b);
    }
    for (const double scale : {0.25, 0.5, 0.8, 1.0, 1.5}) {
        const double both = 1 + scale * scale;
        for (const Json& extent : {Json{{"to", "everything"}, {"direction", "leaning"}, {"lean", "5 deg"}},
                                   Json{{"to", "everything_both"}}, Json{{"to", "everything"}}}) {
            const auto round = resized_cut(circle, {-50, 0}, scale, extent);
            expect_volume(round, round.volume(10), 200000 - pi * 100 * 10 * both);
            const auto halved = resized_cut(half, {-45, 0}, scale, extent);
            expect_volume(halved, halved.volume(10), 200000 - pi * 50 * 10 * both);
        }
        const auto pocket = resized_cut(circle, {-50, 0}, scale, {{"to", "distance"}, {"distance", "4 mm"}});
        expect_volume(pocket, pocket.volume(10), 200000 - pi * 100 * 4 * both);
        // A taper leans as much over as much height: frusta.
        const double lost = std::tan(10 * pi / 180) * 4;
        const auto frustum = [&](double r) {
            const double end = r - lost;
            return pi * 4 / 3 * (r * r + r * end + end * end);
        };
        const auto tapered =
            resized_cut(circle, {-50, 0}, scale, {{"to", "distance"}, {"distance", "4 mm"}, {"taper", "10 deg"}});
        expect_volume(tapered, tapered.volume(10), 200000 - frustum(10) - frustum(10 * scale));
    }
}

TEST(CopiesOfAnotherSize, StandAboutTheMiddleOfTheArea) {
    for (const double scale : {0.5, 0.9}) {
        Route route;
        Drawing half;
        const int a = half.point(0, -30);
        const int b = half.point(0, 30);
        const int c = half.point(0, 0);
        half.line(b, a);
        half.arc(c, a, b);
        const int first = route.extrude(route.sketch(half), region(10, 0), "10 mm");
        const int copy = route.add("repeat", {{"result", "new_body"},
                                              {"of", first},
                                              {"arrange", "line"},
                                              {"direction", "z"},
                                              {"count", "2"},
                                              {"spacing", "20 mm"},
                                              {"scale", format_quantity(scale, "", 6)}});
        const auto outcome = route.run();
        ASSERT_FALSE(outcome.told()) << outcome.codes();
        const gp_Pnt center = geom::centroid_of(outcome.body(std::to_string(copy))->shape);
        EXPECT_NEAR(center.X(), 4 * 30 / (3 * pi), 1e-6);
        EXPECT_NEAR(outcome.volume(copy), scale * scale * pi * 450 * 10, 1e-5);
    }
}
