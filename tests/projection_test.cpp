// Curves projected onto faces, and surfaces trimmed by them; against formulas.
#include "geom/surface/borders.h"
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

namespace {

// A ball about the origin.
int ball(Route& route, double radius) {
    return route.add("stock", {{"shape", "sphere"}, {"diameter", mm(2 * radius)}, {"z", mm(-radius)}});
}
// Of radius 109 without one of 100.
int hollow_ball(Route& route) {
    const int body = ball(route, 109);
    const int core = ball(route, 100);
    route.add(
        "body_cut",
        {{"workpieces", {std::to_string(body)}}, {"cutters", {std::to_string(core)}}, {"cutters_are", "used_up"}});
    return body;
}
int skin_of(Route& route, int body, std::array<double, 3> near) {
    return route.add("copied_faces", {{"faces", Json::array({pick("face", body, near)})}});
}
// A circle about (x, 0) of radius r, both parameters.
int circle(Route& route, double x, double r, double z) {
    route.parameter("x", mm(x));
    route.parameter("r", mm(r));
    Drawing d;
    const int origin = d.point(0, 0);
    const int middle = d.point(x, 0);
    d.hold("fixed", {origin});
    d.hold("horizontal", {origin, middle});
    d.hold("horizontal_distance", {origin, middle}, "x");
    d.hold("radius", {d.circle_about(middle, r)}, "r");
    return route.sketch(d, "xy", z);
}

int project(Route& route, int sketch, int onto, Json more = Json::object()) {
    return route.add("projected_curves", Route::with({{"sketch", sketch}, {"onto", {std::to_string(onto)}}}, more));
}

} // namespace

TEST(Projected, CircleOntoASphereHitsTwice) {
    Route route;
    const int body = ball(route, 109);
    const int sketch = circle(route, 0, 60, 200);
    const int near = project(route, sketch, body);
    const int far = project(route, sketch, body, {{"hits", "far"}});
    const int both = project(route, sketch, body, {{"hits", "all"}});
    const int second = project(route, sketch, body, {{"hits", "number"}, {"number", "2"}});
    for (const double r : {60.0, 1.0, 108.0}) {
        const auto outcome = route.run({{"r", mm(r)}, {"x", "0 mm"}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        const double z = std::sqrt(109 * 109 - r * r);
        EXPECT_NEAR(length(outcome, near), 2 * pi * r, 1e-7 * r);
        EXPECT_NEAR(length(outcome, both), 4 * pi * r, 1e-7 * r);
        EXPECT_NEAR(middle(outcome, near)[2], z, 1e-6);
        EXPECT_NEAR(middle(outcome, far)[2], -z, 1e-6);
        EXPECT_NEAR(middle(outcome, second)[2], -z, 1e-6);
        EXPECT_EQ(fact(outcome, both, "hits"), "2");
    }
    EXPECT_TRUE(route.run({{"r", "120 mm"}}).told("project.misses"));
}

TEST(Projected, OntoAHollowSphereFourTimes) {
    Route route;
    const int body = hollow_ball(route);
    const int sketch = circle(route, 0, 60, 200);
    const std::array<double, 4> radii{109, 100, 100, 109};
    std::vector<int> hits;
    for (const int number : {1, 2, 3, 4}) {
        hits.push_back(project(route, sketch, body, {{"hits", "number"}, {"number", std::to_string(number)}}));
    }
    const int fifth = project(route, sketch, body, {{"hits", "number"}, {"number", "5"}});
    const auto outcome = route.run({{"x", "0 mm"}});
    for (size_t i = 0; i < 4; ++i) {
        const double z = std::sqrt(radii[i] * radii[i] - 3600) * (i < 2 ? 1 : -1);
        EXPECT_NEAR(middle(outcome, hits[i])[2], z, 1e-6);
    }
    EXPECT_TRUE(outcome.told("project.no_hit"));
    EXPECT_FALSE(outcome.body(std::to_string(fifth)));
    // A circle between both radii misses the hollow: two hits in all.
    const auto wide = route.run({{"r", "105 mm"}, {"x", "0 mm"}});
    EXPECT_NEAR(middle(wide, hits[1])[2], -std::sqrt(109.0 * 109 - 105 * 105), 1e-6);
}

TEST(Projected, BehindTheCurveNothingIsHit) {
    Route route;
    const int body = ball(route, 50);
    const int inside = circle(route, 0, 10, 0); // half-way
    const int below = project(route, inside, body, {{"hits", "all"}});
    const int above = project(route, inside, body, {{"hits", "all"}, {"direction", "before"}});
    const auto outcome = route.run({{"x", "0 mm"}});
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(length(outcome, below), 20 * pi, 1e-6);
    EXPECT_NEAR(middle(outcome, below)[2], -std::sqrt(2400.0), 1e-6);
    EXPECT_NEAR(middle(outcome, above)[2], std::sqrt(2400.0), 1e-6);
    Route away;
    const int low = ball(away, 50);
    project(away, circle(away, 0, 10, -100), low);
    EXPECT_TRUE(away.run({{"x", "0 mm"}}).told("project.misses"));
}

TEST(Projected, OverALimbFrontAndBackAreTwoHits) {
    Route route; // half of the circle passes beside the ball
    const int body = ball(route, 50);
    const int sketch = circle(route, 50, 20, 100);
    const int near = project(route, sketch, body);
    const int far = project(route, sketch, body, {{"hits", "number"}, {"number", "2"}});
    for (const double x : {50.0, 45.0, 60.0}) {
        const auto outcome = route.run({{"x", mm(x)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(length(outcome, near), length(outcome, far), 1e-4);
        const auto top = geom::box_of(outcome.body(std::to_string(near))->shape);
        EXPECT_NEAR(top[2], 0, 1e-2); // both end at the limb
        EXPECT_GT(top[5], 1);
        EXPECT_LT(geom::box_of(outcome.body(std::to_string(far))->shape)[2], -1);
    }
}

TEST(Projected, ALineOverStepsHitsTheNearest) {
    Route route; // a block of 30 on half of one of 10
    const int low = route.box(60, 20, 10);
    const int high = route.box(30, 20, 30, 15);
    Drawing d;
    d.line(d.point(-40, 0), d.point(40, 0));
    const int sketch = route.sketch(d, "xy", 50);
    const int both =
        route.add("projected_curves", {{"sketch", sketch}, {"onto", {std::to_string(low), std::to_string(high)}}});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(length(outcome, both), 60, 1e-5);
    const auto box = geom::box_of(outcome.body(std::to_string(both))->shape);
    EXPECT_NEAR(box[2], 10, 1e-6);
    EXPECT_NEAR(box[5], 30, 1e-6);
}

TEST(Projected, WhatIsThinHidesWhatIsBelow) {
    Route route; // a wall of 0.5 over a plate of 400
    const int plate = route.box(400, 20, 10);
    route.parameter("x", "3.3 mm");
    const int wall = route.add(
        "stock",
        {{"shape", "box"}, {"width", "0.5 mm"}, {"depth", "20 mm"}, {"height", "5 mm"}, {"x", "x"}, {"z", "20 mm"}});
    Drawing d;
    d.line(d.point(-300, 0), d.point(300, 0));
    const int sketch = route.sketch(d, "xy", 50);
    const Json onto{std::to_string(plate), std::to_string(wall)};
    const int near = route.add("projected_curves", {{"sketch", sketch}, {"onto", onto}});
    const int third =
        route.add("projected_curves", {{"sketch", sketch}, {"onto", onto}, {"hits", "number"}, {"number", "3"}});
    for (const double x : {3.3, -177.7, 60.0}) {
        const auto outcome = route.run({{"x", mm(x)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(length(outcome, near), 400, 1e-5); // on the plate up to the wall, and on the wall
        EXPECT_NEAR(geom::box_of(outcome.body(std::to_string(near))->shape)[5], 25, 1e-6);
        EXPECT_NEAR(length(outcome, third), 0.5, 1e-5); // of the plate's upper face below the wall
    }
}

TEST(Projected, ByNumbersAndAlongElements) {
    Route route;
    const int body = route.box(200, 200, 10);
    const int sketch = circle(route, 0, 10, 50);
    const int slanting = project(route, sketch, body, {{"direction", "numbers"}, {"along_x", "1"}, {"along_z", "-2"}});
    const int along = project(route, sketch, body,
                              {{"direction", "against"}, {"along", Json::array({pick("face", body, {0, 0, 10})})}});
    const int small = route.box(50, 50, 5, 0, 0, 20);
    const int edges = route.add("projected_curves", {{"source", "edges"},
                                                     {"edges", Json::array({pick("edge", small, {0, 25, 20})})},
                                                     {"onto", {std::to_string(body)}},
                                                     {"direction", "numbers"},
                                                     {"hits", "far"}});
    const auto outcome = route.run({{"x", "0 mm"}});
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(middle(outcome, slanting)[0], 20, 1e-6);
    EXPECT_NEAR(length(outcome, slanting), 20 * pi, 1e-6);
    EXPECT_NEAR(middle(outcome, along)[0], 0, 1e-6);
    EXPECT_NEAR(middle(outcome, along)[2], 10, 1e-6);
    EXPECT_NEAR(middle(outcome, edges)[2], 0, 1e-6);
    EXPECT_NEAR(length(outcome, edges), 50, 1e-6);
}

// --- Trimmed by what was projected -----------------------------------------------------------------------------------

TEST(TrimmedByCurves, NearHitOfASphere) {
    for (const auto& [stays, inside] : {std::pair("back", false), std::pair("front", true)}) {
        Route route;
        const int body = ball(route, 109);
        const int skin = skin_of(route, body, {109, 0, 0});
        const int near = project(route, circle(route, 0, 60, 200), skin);
        route.add("trim",
                  {{"workpieces", {std::to_string(skin)}}, {"cutters", {std::to_string(near)}}, {"stays", stays}});
        for (const auto& [x, r] : {std::pair(0.0, 60.0), std::pair(0.0, 20.0), std::pair(0.0, 100.0)}) {
            const auto outcome = route.run({{"x", mm(x)}, {"r", mm(r)}});
            EXPECT_FALSE(outcome.told()) << outcome.codes();
            const double cap = 2 * pi * 109 * (109 - std::sqrt(109 * 109 - r * r));
            const double wanted = inside ? cap : 4 * pi * 109 * 109 - cap;
            EXPECT_NEAR(area(outcome, skin), wanted, 1e-8 * wanted) << stays << " " << r;
            EXPECT_EQ(geom::free_borders(outcome.body(std::to_string(skin))->shape).size(), 1U);
        }
    }
}

TEST(TrimmedByCurves, BothHitsLeaveARing) {
    Route route;
    const int skin = skin_of(route, ball(route, 50), {50, 0, 0});
    const int both = project(route, circle(route, 0, 30, 200), skin, {{"hits", "all"}});
    route.add("trim", {{"workpieces", {std::to_string(skin)}}, {"cutters", {std::to_string(both)}}, {"stays", "back"}});
    const auto outcome = route.run({{"x", "0 mm"}});
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(area(outcome, skin), 2 * pi * 50 * 80, 1e-5);
    EXPECT_EQ(geom::free_borders(outcome.body(std::to_string(skin))->shape).size(), 2U);
}

TEST(TrimmedByCurves, OpenOnesThatPassAndThatEndWithin) {
    for (const bool passes : {true, false}) {
        Route route;
        const int skin = skin_of(route, route.box(60, 40, 10), {0, 0, 10});
        Drawing d;
        d.line(d.point(-50, 5), d.point(passes ? 50 : 0, 5));
        const int line = project(route, route.sketch(d, "xy", 30), skin);
        route.add("trim",
                  {{"workpieces", {std::to_string(skin)}}, {"cutters", {std::to_string(line)}}, {"stays", "front"}});
        const auto outcome = route.run();
        EXPECT_EQ(outcome.told("cut.hangs"), !passes) << outcome.codes();
        EXPECT_NEAR(area(outcome, skin), passes ? 60 * 15 : 2400, 1e-6); // left of it
    }
    Route solid;
    const int body = solid.box(60, 40, 10);
    Drawing d;
    d.circle(0, 0, 5);
    const int line = project(solid, solid.sketch(d, "xy", 30), body);
    solid.add("trim", {{"workpieces", {std::to_string(body)}}, {"cutters", {std::to_string(line)}}});
    EXPECT_TRUE(solid.run().told("cut.no_cutter"));
}

TEST(TrimmedByCurves, AVerdictFollowsTheCurve) {
    Route route;
    const int skin = skin_of(route, ball(route, 109), {109, 0, 0});
    const int near = project(route, circle(route, 0, 60, 200), skin);
    const int trim = route.add("trim", {{"workpieces", {std::to_string(skin)}}, {"cutters", {std::to_string(near)}}});
    const auto whole = route.run({{"x", "0 mm"}});
    const auto& pieces = whole.evaluation.report(trim)->output->pieces;
    ASSERT_EQ(pieces.size(), 2U);
    for (const auto& piece : pieces) {
        if (piece.center[2] > 50) {
            for (auto& step : route.json()["steps"]) {
                if (step["id"] == trim) {
                    step["answers"]["verdicts"] = Json::array({{{"workpiece", piece.identity.workpiece},
                                                                {"inside", piece.identity.inside},
                                                                {"verdict", "goes"}}});
                }
            }
        }
    }
    for (const auto& [x, r] : {std::pair(0.0, 60.0), std::pair(0.0, 100.0), std::pair(0.0, 3.0)}) {
        const auto outcome = route.run({{"x", mm(x)}, {"r", mm(r)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        const double cap = 2 * pi * 109 * (109 - std::sqrt(109 * 109 - r * r));
        EXPECT_NEAR(area(outcome, skin), 4 * pi * 109 * 109 - cap, 1e-3) << r;
    }
    // Beside the axis the area of the cap is an integral: over the shadow of the disc, of R over the height.
    for (const double x : {10.0, 40.0}) {
        const double r = 30;
        double cap = 0;
        const int shares = 2000;
        for (int i = 0; i < shares; ++i) {
            const double rho = (i + 0.5) * r / shares;
            for (int k = 0; k < 400; ++k) {
                const double phi = (k + 0.5) * 2 * pi / 400;
                const double u = x + rho * std::cos(phi);
                const double v = rho * std::sin(phi);
                cap += 109 / std::sqrt(109 * 109 - u * u - v * v) * rho * (r / shares) * (2 * pi / 400);
            }
        }
        const auto outcome = route.run({{"x", mm(x)}, {"r", mm(r)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(area(outcome, skin), 4 * pi * 109 * 109 - cap, 1e-6 * cap + 1e-2) << x;
    }
}

TEST(CutThroughTheNearWall, OfAHollowSphere) {
    Route route;
    const int body = hollow_ball(route);
    const int sketch = circle(route, 0, 60, 200);
    route.cut(body, sketch, region(0, 0), {{"to", "walls"}, {"walls", "1"}, {"way", "back"}});
    const auto outcome = route.run({{"x", "0 mm"}});
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    const double whole = 4 * pi / 3 * (109.0 * 109 * 109 - 1e6);
    EXPECT_NEAR(whole - outcome.volume(body), 106916 * pi / 3, 1e-6 * whole);
}

// --- Faces split by lines --------------------------------------------------------------------------------------------

namespace {

int split(Route& route, int body, std::array<double, 3> face, std::array<double, 3> from, std::array<double, 3> to,
          Json more = Json::object()) {
    return route.add("split_faces", Route::with({{"faces", Json::array({pick("face", body, face)})},
                                                 {"from", Json::array({pick("edge", body, from)})},
                                                 {"to", Json::array({pick("edge", body, to)})}},
                                                std::move(more)));
}
size_t faces(const Outcome& outcome, int id) {
    return geom::faces_of(outcome.body(std::to_string(id))->shape).size();
}

} // namespace

TEST(SplitFaces, HalfOfATopIsShifted) {
    Route route;
    route.parameter("w", "60 mm");
    route.add("stock", {{"shape", "box"}, {"width", "w"}, {"depth", "40 mm"}, {"height", "20 mm"}});
    split(route, 10, {0, 0, 20}, {0, -20, 20}, {0, 20, 20});
    route.parameter("d", "10 mm");
    route.add("shift_faces", {{"faces", Json::array({pick("face", 10, {15, 0, 20})})}, {"distance", "d"}});
    for (const auto& [w, d] :
         {std::pair(60.0, 10.0), std::pair(6.0, 0.5), std::pair(600.0, -10.0), std::pair(60.0, -19.0)}) {
        const auto outcome = route.run({{"w", mm(w)}, {"d", mm(d)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(outcome.volume(10), w * 40 * (20 + d / 2), 1e-6 * w);
        EXPECT_EQ(faces(outcome, 10), 8U);
    }
    EXPECT_TRUE(route.run({{"d", "-25 mm"}}).told("shift.runs_past")); // nothing is left below it
}

TEST(SplitFaces, AtSharesOfEdges) {
    Route route;
    route.box(60, 40, 20);
    split(route, 10, {0, 0, 20}, {0, -20, 20}, {0, 20, 20}, {{"from_at", "0.25"}, {"to_at", "0.75"}});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_EQ(faces(outcome, 10), 7U);
    EXPECT_NEAR(outcome.volume(10), 48000, 1e-6);
    std::vector<double> tops;
    for (const auto& face : geom::faces_of(outcome.body("10")->shape)) {
        if (geom::center_of(face).Z() > 19.9) {
            tops.push_back(geom::area_of(face));
        }
    }
    EXPECT_EQ(tops.size(), 2U);
    EXPECT_NEAR(tops[0], 1200, 1e-9);
    EXPECT_NEAR(tops[1], 1200, 1e-9);
}

TEST(SplitFaces, ALineThatEndsWithinIsTold) {
    Route route;
    route.box(60, 40, 20);
    route.box(10, 10, 10, 0, 0, 20); // its corners are places within the face
    const int step = route.add("split_faces", {{"faces", Json::array({pick("face", 10, {20, 0, 20})})},
                                               {"from", Json::array({pick("edge", 10, {0, -20, 20})})},
                                               {"to", Json::array({pick("vertex", 20, {5, 5, 20})})}});
    const auto outcome = route.run();
    EXPECT_TRUE(outcome.told("split.ends_within")) << outcome.codes();
    EXPECT_EQ(faces(outcome, 10), 6U);
    const auto& findings = outcome.evaluation.report(step)->findings;
    ASSERT_EQ(findings.size(), 1U);
    ASSERT_EQ(findings.front().places.size(), 1U);
    EXPECT_NEAR(findings.front().places[0][0], 5, 1e-6);
    EXPECT_NEAR(findings.front().places[0][1], 5, 1e-6);
    for (auto& each : route.json()["steps"]) {
        if (each["id"] == step) {
            each["answers"]["ends"] = "on";
        }
    }
    const auto on = route.run();
    EXPECT_FALSE(on.told()) << on.codes();
    EXPECT_EQ(faces(on, 10), 7U);
}

TEST(SplitFaces, OverSeveralFacesAndRoundOnes) {
    Route route; // over the edge between top and right
    route.box(60, 40, 20);
    route.add("split_faces", {{"faces", Json::array({pick("face", 10, {0, 0, 20}), pick("face", 10, {30, 0, 10})})},
                              {"from", Json::array({pick("edge", 10, {-30, 0, 20})})},
                              {"to", Json::array({pick("edge", 10, {30, 0, 0})})}});
    const auto box = route.run();
    EXPECT_FALSE(box.told()) << box.codes();
    EXPECT_EQ(faces(box, 10), 8U);
    Route round;
    round.cylinder(40, 30);
    round.add("split_faces", {{"faces", Json::array({pick("face", 10, {0, 20, 15})})},
                              {"from", Json::array({pick("edge", 10, {0, 20, 0})})},
                              {"from_at", "0.25"},
                              {"to", Json::array({pick("edge", 10, {0, 20, 30})})},
                              {"to_at", "0.25"}});
    const auto outcome = round.run(); // with the seam it parts the wall
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_EQ(faces(outcome, 10), 4U);
    EXPECT_NEAR(outcome.volume(10), 12000 * pi, 1e-6);
}

TEST(SplitFaces, ByTheShortestLine) {
    Route route; // half-way round a drum and up: seen square to the wall the line is a plane's, the shortest a helix
    route.parameter("at", "0.5", "");
    const int drum = route.cylinder(40, 30);
    const int wall = route.add("copied_faces", {{"faces", Json::array({pick("face", drum, {0, 20, 15})})}});
    const int split = route.add("split_faces", {{"faces", Json::array({pick("face", wall, {0, 20, 15})})},
                                                {"from", Json::array({pick("edge", wall, {0, 20, 0})})},
                                                {"from_at", "0.2"},
                                                {"to", Json::array({pick("edge", wall, {0, 20, 30})})},
                                                {"to_at", "at"},
                                                {"line", "shortest"}});
    for (const double at : {0.5, 0.35, 0.21}) {
        const auto outcome = route.run({{"at", std::to_string(at)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_EQ(geom::faces_of(outcome.body(std::to_string(wall))->shape).size(), 2U); // the seam parts them, too
        double longest = 0;
        double sum = 0;
        for (const TopoDS_Shape& edge : geom::edges_of(outcome.body(std::to_string(wall))->shape)) {
            sum += geom::length_of(edge);
            longest = std::max(longest, geom::length_of(edge));
        }
        EXPECT_NEAR(sum, 2 * 40 * pi + 30 + std::hypot(40 * pi * (at - 0.2), 30), 1e-6) << at;
        EXPECT_GT(longest, 30);
    }
    EXPECT_TRUE(route.run({{"at", "0.7"}}).told("space.two_ways"));
    for (auto& step : route.json()["steps"]) {
        if (step["id"] == split) {
            step["answers"]["faces"].push_back(pick("face", wall, {0, -20, 15}));
        }
    }
    EXPECT_TRUE(route.run().told());
}

TEST(Score, CurvesGoOnToTheBorder) {
    Route route;
    route.box(60, 40, 20);
    Drawing d;
    d.line(d.point(-40, 5), d.point(0, 5));
    const int line = project(route, route.sketch(d, "xy", 30), 10);
    route.add("score",
              {{"workpieces", {"10"}}, {"by", {std::to_string(line)}}, {"ways", "one"}, {"curves_reach", "extended"}});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_EQ(faces(outcome, 10), 7U);
    EXPECT_NEAR(outcome.volume(10), 48000, 1e-9);
}

TEST(Score, LinesThatEndWithinAreTold) {
    for (const bool passes : {true, false}) {
        Route route;
        route.box(60, 40, 20);
        Drawing d;
        d.line(d.point(-40, 5), d.point(passes ? 40 : 0, 5));
        const int line = project(route, route.sketch(d, "xy", 30), 10);
        route.add("score", {{"workpieces", {"10"}}, {"by", {std::to_string(line)}}});
        const auto outcome = route.run();
        EXPECT_EQ(outcome.told("score.ends_within"), !passes) << outcome.codes();
        EXPECT_EQ(faces(outcome, 10), passes ? 7U : 6U);
    }
}
