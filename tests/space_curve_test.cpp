// Curves in space: through points, by control points, on faces, half-way between others; against formulas.
#include "geom/measure/pick.h"
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

namespace {

using Places = std::vector<std::array<std::string, 3>>;

TopoDS_Shape shape(const Outcome& outcome, int id) {
    const auto found = outcome.body(std::to_string(id));
    return found ? found->shape : TopoDS_Shape();
}
size_t edges(const Outcome& outcome, int id) {
    return geom::edges_of(shape(outcome, id)).size();
}
// Of a parabola w wide and h high.
double parabola(double w, double h) {
    return std::sqrt(w * w + 16 * h * h) / 2 + w * w / (8 * h) * std::asinh(4 * h / w);
}

} // namespace

TEST(SpaceCurve, RunsThroughItsPointsAndFollowsThem) {
    Route route;
    route.parameter("h", "10 mm");
    const Json three = rows_of_points({{"0", "0", "0"}, {"10 mm", "h", "0"}, {"20 mm", "0", "0"}});
    const int corners = space_curve(route, "through", {{"rows", three}, {"degree", "1"}});
    const int closed = space_curve(route, "through", {{"rows", three}, {"degree", "1"}, {"ends", "closed"}});
    const int bow = space_curve(route, "through", {{"rows", three}, {"degree", "2"}});
    for (const double h : {10.0, 0.5, 300.0}) {
        const auto outcome = route.run({{"h", mm(h)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(length(outcome, corners), 2 * std::hypot(10, h), 1e-9 * h);
        EXPECT_EQ(edges(outcome, corners), 2u);
        EXPECT_NEAR(length(outcome, closed), 2 * std::hypot(10, h) + 20, 1e-9 * h);
        EXPECT_NEAR(length(outcome, bow), parabola(20, h), 1e-7 * h); // symmetric, so that the middle is at half
        EXPECT_EQ(edges(outcome, bow), 1u);
    }
}

TEST(SpaceCurve, EveryDegreePassesEveryPoint) {
    const Places places{{"0", "0", "0"},         {"10 mm", "5 mm", "3 mm"},  {"18 mm", "-4 mm", "9 mm"},
                        {"30 mm", "0", "-6 mm"}, {"31 mm", "12 mm", "2 mm"}, {"50 mm", "1 mm", "0"}};
    const std::array<gp_Pnt, 6> at{gp_Pnt(0, 0, 0),   gp_Pnt(10, 5, 3),  gp_Pnt(18, -4, 9),
                                   gp_Pnt(30, 0, -6), gp_Pnt(31, 12, 2), gp_Pnt(50, 1, 0)};
    for (const int degree : {1, 2, 3, 4, 5}) {
        for (const std::string ends : {"open", "closed"}) {
            Route route;
            const int id =
                space_curve(route, "through",
                            {{"rows", rows_of_points(places)}, {"degree", std::to_string(degree)}, {"ends", ends}});
            const auto outcome = route.run();
            if (ends == "closed" && degree != 1 && degree != 3) {
                EXPECT_TRUE(outcome.told("space.degree"));
                continue;
            }
            ASSERT_FALSE(outcome.told()) << degree << " " << outcome.codes();
            for (const gp_Pnt& point : at) {
                EXPECT_LT(geom::distance_to(shape(outcome, id), point), 1e-6) << degree;
            }
        }
    }
}

TEST(SpaceCurve, ControlPointsOfDegreeTwoDrawAParabola) {
    Route route;
    route.parameter("h", "10 mm");
    const Json three = rows_of_points({{"0", "0", "0"}, {"10 mm", "0", "2 * h"}, {"20 mm", "0", "0"}});
    const int bow = space_curve(route, "control", {{"rows", three}, {"degree", "2"}});
    const int higher =
        space_curve(route, "control", {{"rows", three}, {"degree", "5"}}); // three points allow no more than 2
    const int ring = space_curve(route, "control",
                                 {{"rows", rows_of_points({{"10 mm", "10 mm", "0"},
                                                           {"-10 mm", "10 mm", "0"},
                                                           {"-10 mm", "-10 mm", "0"},
                                                           {"10 mm", "-10 mm", "0"}})},
                                  {"degree", "2"},
                                  {"ends", "closed"}});
    for (const double h : {10.0, 1.0, 80.0}) {
        const auto outcome = route.run({{"h", mm(h)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(length(outcome, bow), parabola(20, h), 1e-7 * h);
        EXPECT_NEAR(length(outcome, higher), parabola(20, h), 1e-7 * h);
        // Four parabolas, each from the middle of a side to that of the next one, 10 along both.
        EXPECT_NEAR(length(outcome, ring), 4 * parabola(10 * std::sqrt(2.0), 10 * std::sqrt(2.0) / 4), 1e-6);
    }
}

TEST(SpaceCurve, OnACylinderItIsAHelix) {
    Route route;
    route.parameter("rise", "30 mm");
    const int body = route.cylinder(40, 100);
    Json rows = Json::array();
    for (int i = 0; i < 5; ++i) { // a quarter turn each, a fourth of the rise each
        const double turn = pi / 2 * i;
        rows.push_back(
            {{"name", "p" + std::to_string(i)},
             {"makes", "point"},
             {"at",
              {mm(20 * std::cos(turn)), mm(20 * std::sin(turn)), "10 mm + rise * " + std::to_string(i) + " / 4"}}});
    }
    const int helix =
        space_curve(route, "on_face", {{"rows", rows}, {"face", Json::array({pick("face", body, {20, 0, 50})})}});
    for (const double rise : {30.0, 1.0, 80.0}) {
        const auto outcome = route.run({{"rise", mm(rise)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(length(outcome, helix), std::hypot(2 * pi * 20, rise), 1e-6);
    }
    EXPECT_TRUE(route.run({{"rise", "120 mm"}}).told("space.leaves"));
    // Points beside the face are brought to it, and that is told.
    rows[2]["at"] = {"-25 mm", "0", "25 mm"};
    Route beside;
    const int other = beside.cylinder(40, 100);
    space_curve(beside, "on_face", {{"rows", rows}, {"face", Json::array({pick("face", other, {20, 0, 50})})}});
    beside.parameter("rise", "30 mm");
    EXPECT_TRUE(beside.run().told("space.brought"));
}

TEST(SpaceCurve, LinesOfEqualParameterEndAtBorders) {
    Route route;
    route.parameter("at", "0.5", "");
    const int body = route.cylinder(40, 100);
    const Json face = Json::array({pick("face", body, {20, 0, 50})});
    const int around = space_curve(route, "parameter", {{"face", face}, {"way", "second"}, {"share", "at"}});
    const int along = space_curve(route, "parameter", {{"face", face}, {"way", "first"}, {"share", "at"}});
    for (const double share : {0.5, 0.1, 0.99}) {
        const auto outcome = route.run({{"at", mm(share).substr(0, mm(share).size() - 3)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(length(outcome, around), 2 * pi * 20, 1e-6);
        EXPECT_NEAR(middle(outcome, around)[2], 100 * share, 1e-6);
        EXPECT_NEAR(length(outcome, along), 100, 1e-6);
    }
    EXPECT_TRUE(route.run({{"at", "1.2"}}).told("space.share"));
    // Across a hole there are two parts.
    Route pierced;
    const int block = pierced.box(80, 60, 20);
    Drawing d;
    d.circle(0, 0, 10);
    pierced.cut(block, pierced.sketch(d), region(0, 0));
    const int line = space_curve(pierced, "parameter", {{"face", Json::array({pick("face", block, {35, 25, 20})})}});
    const auto outcome = pierced.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_EQ(edges(outcome, line), 2u);
    const double found = length(outcome, line);
    EXPECT_TRUE(std::fabs(found - 40) < 1e-6 || std::fabs(found - 60) < 1e-6) << found; // 60 or 80 less the hole
}

TEST(SpaceCurve, HalfWayBetweenTwo) {
    Route route;
    route.parameter("d", "60 mm");
    const int low = route.cylinder(40, 5, 0, 0, -5);
    const int high = route.add("stock", {{"shape", "cylinder"}, {"diameter", "d"}, {"height", "5 mm"}, {"z", "10 mm"}});
    const int ring = space_curve(route, "halfway",
                                 {{"one", Json::array({pick("edge", low, {0, 20, 0})})},
                                  {"other", Json::array({pick("edge", high, {0, 30, 10})})}});
    for (const double diameter : {60.0, 41.0, 300.0}) {
        const auto outcome = route.run({{"d", mm(diameter)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(length(outcome, ring), pi * (40 + diameter) / 2, 1e-6 * diameter);
        EXPECT_NEAR(middle(outcome, ring)[2], 5, 1e-6);
    }
    Route straight;
    const int block = straight.box(80, 60, 20);
    const int line = space_curve(straight, "halfway",
                                 {{"one", Json::array({pick("edge", block, {0, -30, 0})})},
                                  {"other", Json::array({pick("edge", block, {0, 30, 20})})}});
    const auto outcome = straight.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(length(outcome, line), 80, 1e-9);
    EXPECT_LT(geom::distance_to(shape(outcome, line), gp_Pnt(0, 0, 10)), 1e-9);
    Route unlike;
    const int box = unlike.box(80, 60, 20);
    const int post = unlike.cylinder(40, 5, 100);
    space_curve(unlike, "halfway",
                {{"one", Json::array({pick("edge", box, {0, -30, 0})})},
                 {"other", Json::array({pick("edge", post, {100, 20, 5})})}});
    EXPECT_TRUE(unlike.run().told("space.unlike"));
}

TEST(SpaceCurve, StartsAtAVertexThatMoves) {
    Route route;
    route.parameter("w", "80 mm");
    const int block = route.add("stock", {{"shape", "box"}, {"width", "w"}, {"depth", "40 mm"}, {"height", "30 mm"}});
    Json corner = pick("vertex", block, {40, 20, 30});
    corner["name"] = "corner";
    const Json rows{{{"name", "p1"}, {"makes", "point"}, {"of", {"corner"}}, {"at", {"0", "0", "0"}}},
                    {{"name", "p2"}, {"makes", "point"}, {"of", {"p1"}}, {"at", {"3 mm", "4 mm", "12 mm"}}}};
    const int id = space_curve(route, "through", {{"rows", rows}, {"taken", Json::array({corner})}});
    for (const double w : {80.0, 10.0}) {
        const auto outcome = route.run({{"w", mm(w)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(length(outcome, id), 13, 1e-9);
        EXPECT_LT(geom::distance_to(shape(outcome, id), gp_Pnt(w / 2, 20, 30)), 1e-9);
    }
}

TEST(SpaceCurve, WhatIsNoCurveIsTold) {
    const auto told = [](const Json& answers, const std::string& code) {
        Route route;
        space_curve(route, "through", answers);
        const auto outcome = route.run();
        EXPECT_TRUE(outcome.told(code)) << outcome.codes();
    };
    const Places two{{"0", "0", "0"}, {"1 mm", "0", "0"}};
    told({{"rows", rows_of_points({})}}, "space.no_curve");
    told({{"rows", rows_of_points({{"0", "0", "0"}})}}, "space.no_curve");
    told({{"rows", rows_of_points({{"0", "0", "0"}, {"0", "0", "0"}, {"1 mm", "0", "0"}})}}, "space.no_curve");
    told({{"rows", rows_of_points(two)}, {"ends", "closed"}}, "space.no_curve");
    told({{"rows", rows_of_points(two)}, {"degree", "2.5"}}, "space.degree");
    told({{"rows", rows_of_points(two)}, {"degree", "6"}}, "space.degree");
    Json twice = rows_of_points(two);
    twice[1]["name"] = "p1";
    told({{"rows", twice}}, "build.name");
}
