// Curves on faces: shortest lines, and what is beside others; curves joined, and made longer. Against formulas.
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

namespace {

int shortest(Route& route, Json rows, Json face) {
    return space_curve(route, "shortest", {{"rows", std::move(rows)}, {"face", Json::array({std::move(face)})}});
}
int beside(Route& route, Json edges, Json face, const std::string& away) {
    return space_curve(route, "beside", {{"curves", std::move(edges)}, {"face", Json::array({face})}, {"away", away}});
}
int revolved(Route& route, const Drawing& drawing, double x, double y) {
    return route.add(
        "revolve",
        {{"result", "new_body"}, {"sketch", route.sketch(drawing)}, {"regions", region(x, y)}, {"axis", "y"}});
}
// About y: a ball, a cone with its tip at y = 40, a ring.
int ball(Route& route, double r) {
    Drawing d;
    const int a = d.point(0, -r);
    const int b = d.point(0, r);
    d.line(a, b);
    d.arc(d.point(0, 0), a, b);
    return revolved(route, d, r / 2, 0);
}
int cone(Route& route, double r, double h) {
    Drawing d;
    d.polygon({{0, 0}, {r, 0}, {0, h}});
    return revolved(route, d, r / 4, h / 4);
}
int ring(Route& route, double large, double small) {
    Drawing d;
    d.circle(large, 0, small);
    return revolved(route, d, large, 0);
}
void expect_length(const Outcome& outcome, int id, double wanted, double tolerance = 1e-6) {
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(length(outcome, id), wanted, tolerance);
}
double parabola(double w, double h) { // w wide and h high
    return std::sqrt(w * w + 16 * h * h) / 2 + w * w / (8 * h) * std::asinh(4 * h / w);
}
// A sheet over the parabola through (-30, 0), (0, h) and (30, 0) in the plane xy, 50 long.
int vault(Route& route, const std::string& h) {
    const int bow = space_curve(
        route, "through",
        {{"rows", rows_of_points({{"-30 mm", "0", "0"}, {"0", h, "0"}, {"30 mm", "0", "0"}})}, {"degree", "2"}});
    const int other =
        space_curve(route, "through",
                    {{"rows", rows_of_points({{"-30 mm", "0", "50 mm"}, {"0", h, "50 mm"}, {"30 mm", "0", "50 mm"}})},
                     {"degree", "2"}});
    const auto straight = [&](const std::string& x) {
        return space_curve(route, "through",
                           {{"rows", rows_of_points({{x, "0", "0"}, {x, "0", "50 mm"}})}, {"degree", "1"}});
    };
    const int left = straight("-30 mm");
    const int right = straight("30 mm");
    return route.add("fill",
                     {{"border", Json::array({pick("edge", bow, {0, 18, 0}), pick("edge", other, {0, 18, 50}),
                                              pick("edge", left, {-30, 0, 25}), pick("edge", right, {30, 0, 25})})},
                      {"meets", "touching"},
                      {"result", "apart"}});
}

} // namespace

TEST(ShortestLines, OnPlanesCylindersAndBalls) {
    Route route;
    route.parameter("z", "30 mm");
    const int block = route.box(100, 80, 20);
    const int flat = shortest(
        route, rows_of_points({{"-40 mm", "0", "20 mm"}, {"0", "z - 20 mm", "20 mm"}, {"40 mm", "0", "20 mm"}}),
        pick("face", block, {0, 0, 20}));
    const int tube = route.cylinder(40, 100, 200);
    const int helix = shortest(route, rows_of_points({{"220 mm", "0", "10 mm"}, {"200 mm", "20 mm", "10 mm + z"}}),
                               pick("face", tube, {220, 0, 50}));
    const int sphere = ball(route, 25);
    const int arc =
        shortest(route,
                 rows_of_points(
                     {{"25 mm", "0", "0"}, {"0", "25 mm * sin(z / 60 mm * 1 rad)", "25 mm * cos(z / 60 mm * 1 rad)"}}),
                 pick("face", sphere, {25 / std::sqrt(2.0), 0, 25 / std::sqrt(2.0)}));
    for (const double z : {30.0, 5.0, 59.0}) {
        const auto outcome = route.run({{"z", mm(z)}});
        expect_length(outcome, flat, 2 * std::hypot(40, z - 20), 1e-9);
        expect_length(outcome, helix, std::hypot(20 * pi / 2, z));
        expect_length(outcome, arc, 25 * pi / 2);
    }
}

TEST(ShortestLines, OnConesAndRings) {
    for (const double turn : {0.3, 1.0, 2.0}) {
        Route route;
        const int body = cone(route, 30, 40); // 50 along its side
        const auto on_cone = [&](double y, double angle) {
            const double r = 30 * (40 - y) / 40;
            return std::array<std::string, 3>{mm(r * std::cos(angle)), mm(y), mm(r * std::sin(angle))};
        };
        const int line = shortest(route, rows_of_points({on_cone(4, 0.4), on_cone(20, 0.4 + turn)}),
                                  pick("face", body, {15 * std::cos(1.0), 20, 15 * std::sin(1.0)}));
        const double a = 36 * 50 / 40.0;
        const double b = 20 * 50 / 40.0;
        expect_length(route.run(), line, std::sqrt(a * a + b * b - 2 * a * b * std::cos(turn * 0.6)));
        const int torus = ring(route, 40, 10);
        const Json face = pick("face", torus, {40 + 10 / std::sqrt(2.0), 10 / std::sqrt(2.0), 0});
        const auto on_ring = [&](double around, double up) {
            const double r = 40 + 10 * std::cos(up);
            return std::array<std::string, 3>{mm(r * std::cos(around)), mm(10 * std::sin(up)),
                                              mm(r * std::sin(around))};
        };
        const int meridian = shortest(route, rows_of_points({on_ring(0.5, -0.4), on_ring(0.5, turn - 0.4)}), face);
        const int inside = shortest(route, rows_of_points({on_ring(0.5, pi), on_ring(0.5 + turn, pi)}), face);
        const auto outcome = route.run();
        expect_length(outcome, meridian, 10 * turn);
        expect_length(outcome, inside, 30 * turn);
    }
}

TEST(ShortestLines, OnFreeFormFacesThatUnrollFlat) {
    Route route;
    route.parameter("h", "18 mm");
    const int sheet = vault(route, "h");
    const Json face = pick("face", sheet, {0, 18, 25});
    // From side to side, from corner to corner; and nearly along a border.
    const int across = shortest(route, rows_of_points({{"-30 mm", "0", "25 mm"}, {"30 mm", "0", "25 mm"}}), face);
    const int slanting = shortest(route, rows_of_points({{"-30 mm", "0", "0"}, {"30 mm", "0", "50 mm"}}), face);
    for (const double h : {18.0, 2.0, 40.0}) {
        const auto outcome = route.run({{"h", mm(h)}});
        expect_length(outcome, across, parabola(60, h), 1e-5);
        expect_length(outcome, slanting, std::hypot(parabola(60, h), 50), 1e-5);
    }
}

TEST(ShortestLines, OverTheSeamOfAClosedFreeFormFace) {
    Route route; // as good as a tube, whose seam is at y = 0
    const int tube = route.cylinder(40, 50);
    const int wall = route.add("free_form", {{"made", "face"},
                                             {"face", Json::array({pick("face", tube, {0, 20, 25})})},
                                             {"patches_first", "24"},
                                             {"patches_second", "1"}});
    const auto on_it = [](double turn, double z) {
        return std::array<std::string, 3>{mm(20 * std::cos(turn)), mm(20 * std::sin(turn)), mm(z)};
    };
    const Json face = pick("face", wall, {0, 20, 25});
    const int over = shortest(route, rows_of_points({on_it(-0.5, 10), on_it(0.6, 40)}), face);
    const int beyond = shortest(route, rows_of_points({on_it(2, 10), on_it(3, 40)}), face);
    const auto outcome = route.run();
    EXPECT_NEAR(length(outcome, over), std::hypot(20 * 1.1, 30), 1e-2) << outcome.codes();
    EXPECT_NEAR(length(outcome, beyond), std::hypot(20 * 1.0, 30), 1e-2) << outcome.codes();
}

TEST(ShortestLines, WhatIsNotCertainIsTold) {
    Route two;
    const int tube = two.cylinder(40, 100);
    shortest(two, rows_of_points({{"20 mm", "0", "50 mm"}, {"-20 mm", "0", "50 mm"}}), pick("face", tube, {0, 20, 50}));
    EXPECT_TRUE(two.run().told("space.two_ways"));
    Route opposite;
    const int sphere = ball(opposite, 25);
    shortest(opposite, rows_of_points({{"25 mm", "0", "0"}, {"-25 mm", "0", "0"}}), pick("face", sphere, {0, 0, 25}));
    EXPECT_TRUE(opposite.run().told("space.two_ways"));
    Route hole;
    const int plate = hole.box(100, 80, 20);
    Drawing d;
    d.circle(0, 0, 15);
    hole.cut(plate, hole.sketch(d), region(0, 0));
    shortest(hole, rows_of_points({{"-40 mm", "0", "20 mm"}, {"40 mm", "0", "20 mm"}}),
             pick("face", plate, {30, 30, 20}));
    EXPECT_TRUE(hole.run().told("space.leaves"));
}

TEST(BesideCurves, OnPlanes) {
    Route route;
    route.parameter("d", "4 mm");
    const int plate = route.box(100, 80, 20);
    Drawing hole;
    hole.circle(0, 0, 15);
    route.cut(plate, route.sketch(hole), region(0, 0));
    const Json top = pick("face", plate, {40, 30, 20});
    const int straight = beside(route, Json::array({pick("edge", plate, {50, 0, 20})}), top, "d");
    const int round = beside(route, Json::array({pick("edge", plate, {0, 15, 20})}), top, "d");
    for (const double d : {4.0, 0.01, 20.0}) {
        const auto outcome = route.run({{"d", mm(d)}});
        expect_length(outcome, straight, 80, 1e-9);
        EXPECT_NEAR(middle(outcome, straight)[0], 50 - d, 1e-9);
        expect_length(outcome, round, 2 * pi * (15 + d), 1e-9);
    }
    // Across the hole one is parted; beyond the sides of the plate only the corners of the other are left.
    const auto parted = route.run({{"d", "45 mm"}});
    expect_length(parted, straight, 80 - 2 * std::sqrt(15 * 15 - 5 * 5));
    expect_length(parted, round, 4 * 60 * (std::asin(40.0 / 60) - std::acos(50.0 / 60)));
    EXPECT_EQ(geom::edges_of(parted.body(std::to_string(round))->shape).size(), 4U);
    Route disc;
    const int lid = disc.cylinder(20, 5);
    beside(disc, Json::array({pick("edge", lid, {0, 10, 5})}), pick("face", lid, {0, 0, 5}), "12 mm");
    EXPECT_TRUE(disc.run().told("space.folds"));
    Route corner;
    const int block = corner.box(100, 80, 20);
    beside(corner, Json::array({pick("edge", block, {50, 0, 20}), pick("edge", block, {0, 40, 20})}),
           pick("face", block, {0, 0, 20}), "5 mm");
    EXPECT_TRUE(corner.run().told("space.corner"));
}

TEST(BesideCurves, OnRoundFaces) {
    Route route;
    route.parameter("d", "4 mm");
    const int tube = route.cylinder(40, 100, 200);
    const int up =
        beside(route, Json::array({pick("edge", tube, {200, 20, 0})}), pick("face", tube, {220, 0, 50}), "d");
    const int body = cone(route, 30, 40);
    const int higher =
        beside(route, Json::array({pick("edge", body, {0, 0, 30})}), pick("face", body, {15, 20, 0}), "d");
    const int torus = ring(route, 40, 10);
    const Json face = pick("face", torus, {40 + 10 / std::sqrt(2.0), 10 / std::sqrt(2.0), 0});
    const int equator =
        space_curve(route, "parameter", {{"face", Json::array({face})}, {"way", "second"}, {"share", "0"}});
    const int beyond = beside(route, Json::array({pick("edge", equator, {0, 0, 50})}), face, "d");
    for (const double d : {4.0, 0.01, 12.0}) {
        const auto outcome = route.run({{"d", mm(d)}});
        expect_length(outcome, up, 40 * pi);
        EXPECT_NEAR(middle(outcome, up)[2], d, 1e-6);
        expect_length(outcome, higher, 2 * pi * (30 - d * 0.6));
        expect_length(outcome, beyond, 2 * pi * (40 + 10 * std::cos(d / 10)), 1e-5);
    }
}

TEST(BesideCurves, OnFreeFormFaces) {
    Route route;
    route.parameter("d", "4 mm");
    const int sheet = vault(route, "18 mm");
    const int along =
        beside(route, Json::array({pick("edge", sheet, {-30, 0, 25})}), pick("face", sheet, {0, 18, 25}), "d");
    const int across =
        beside(route, Json::array({pick("edge", sheet, {0, 18, 0})}), pick("face", sheet, {0, 18, 25}), "d");
    for (const double d : {4.0, 0.5, 20.0}) {
        const auto outcome = route.run({{"d", mm(d)}});
        expect_length(outcome, along, 50, 1e-5);
        expect_length(outcome, across, parabola(60, 18), 1e-5);
        EXPECT_NEAR(middle(outcome, across)[2], d, 1e-5);
        // As far along the parabola: what is left of it from there to the other side.
        const double x = middle(outcome, along)[0];
        const double slope = 2 * 18.0 / (30 * 30) * -x; // y = 18 (1 - x^2 / 900)
        const double from_middle = (slope * std::sqrt(1 + slope * slope) + std::asinh(slope)) / 2 / (4 * 18.0 / 1800);
        EXPECT_NEAR(parabola(60, 18) / 2 - std::fabs(from_middle), d, 1e-5);
    }
}

TEST(JoinedCurves, RoundedAndClosed) {
    Route route;
    route.parameter("r", "5 mm");
    const auto side = [&](const std::array<std::string, 3>& from, const std::array<std::string, 3>& to) {
        return space_curve(route, "through", {{"rows", rows_of_points({from, to})}, {"degree", "1"}});
    };
    const int bottom = side({"0", "0", "0"}, {"40 mm", "0", "0"});
    const int right = side({"40 mm", "30 mm", "0"}, {"40 mm", "0", "0"}); // the other way round
    const int top = side({"40 mm", "30 mm", "0"}, {"0", "30 mm", "0"});
    const Json three = Json::array(
        {pick("edge", top, {20, 30, 0}), pick("edge", bottom, {20, 0, 0}), pick("edge", right, {40, 15, 0})});
    const int plain = space_curve(route, "joined", {{"curves", three}});
    const int round = space_curve(route, "joined", {{"curves", three}, {"corners", "rounded"}, {"reach", "r"}});
    const int closed = space_curve(
        route, "joined", {{"curves", three}, {"corners", "rounded"}, {"reach", "r"}, {"closing", "straight"}});
    const int smooth = space_curve(route, "joined", {{"curves", three}, {"closing", "smooth"}});
    for (const double r : {5.0, 0.1, 14.0}) {
        const auto outcome = route.run({{"r", mm(r)}});
        const double corner = r * (pi / 2 - 2);
        expect_length(outcome, plain, 110, 1e-9);
        expect_length(outcome, round, 110 + 2 * corner, 1e-9);
        expect_length(outcome, closed, 140 + 4 * corner, 1e-9);
        EXPECT_GT(length(outcome, smooth), 110 + 30);
        EXPECT_EQ(geom::edges_of(outcome.body(std::to_string(closed))->shape).size(), 8U);
        EXPECT_EQ(geom::vertices_of(outcome.body(std::to_string(closed))->shape).size(), 8U);
    }
    EXPECT_TRUE(route.run({{"r", "16 mm"}}).told("space.reach"));
    Route apart;
    const auto line = [&](const std::string& x) {
        return space_curve(apart, "through",
                           {{"rows", rows_of_points({{x, "0", "0"}, {x + " + 10 mm", "0", "0"}})}, {"degree", "1"}});
    };
    const int one = line("0 mm");
    const int two = line("10.5 mm");
    space_curve(apart, "joined",
                {{"curves", Json::array({pick("edge", one, {5, 0, 0}), pick("edge", two, {15, 0, 0})})}});
    const auto told = apart.run();
    EXPECT_TRUE(told.told("space.apart"));
    EXPECT_NE(told.codes().find("0.500 mm"), std::string::npos) << told.codes();
}

TEST(LongerCurves, StraightRoundAndShorter) {
    Route route;
    route.parameter("by", "7 mm");
    const int rod = space_curve(route, "through",
                                {{"rows", rows_of_points({{"30 mm", "0", "0"}, {"0", "0", "0"}})}, {"degree", "1"}});
    const int bow =
        space_curve(route, "through",
                    {{"rows", rows_of_points({{"-30 mm", "50 mm", "0"}, {"0", "68 mm", "0"}, {"30 mm", "50 mm", "0"}})},
                     {"degree", "2"}});
    Drawing d;
    const int center = d.point(0, 0);
    d.arc(center, d.point(20, 0), d.point(0, 20));
    const int arc = route.add("curves", {{"sketch", route.sketch(d, "xy", 30)}});
    const auto longer = [&](int of, std::array<double, 3> near, const std::string& first, const std::string& last,
                            const std::string& runs) {
        return space_curve(route, "longer",
                           {{"curves", Json::array({pick("edge", of, near)})},
                            {"first_by", first},
                            {"last_by", last},
                            {"goes_on", runs}});
    };
    const int both = longer(rod, {15, 0, 0}, "by", "2 * by", "straight");
    const int straight = longer(bow, {0, 68, 0}, "by", "0", "straight");
    const int bent = longer(bow, {0, 68, 0}, "by", "by", "round");
    const int shorter = longer(bow, {0, 68, 0}, "-by", "-by", "straight");
    const int more = longer(arc, {20 / std::sqrt(2.0), 20 / std::sqrt(2.0), 30}, "by", "by", "round");
    for (const double by : {7.0, 0.01, 30.0}) {
        const auto outcome = route.run({{"by", mm(by)}});
        expect_length(outcome, both, 30 + 3 * by, 1e-9);
        EXPECT_NEAR(middle(outcome, both)[0], 15 + by / 2, 1e-9);
        EXPECT_EQ(geom::edges_of(outcome.body(std::to_string(both))->shape).size(), 1U);
        expect_length(outcome, straight, parabola(60, 18) + by, 1e-6);
        expect_length(outcome, bent, parabola(60, 18) + 2 * by, 1e-6);
        expect_length(outcome, shorter, parabola(60, 18) - 2 * by, 1e-6);
        expect_length(outcome, more, 10 * pi + 2 * by, 1e-9);
        EXPECT_EQ(geom::edges_of(outcome.body(std::to_string(more))->shape).size(), 1U);
    }
    EXPECT_TRUE(route.run({{"by", "40 mm"}}).told("space.no_length"));
    EXPECT_TRUE(route.run({{"by", "49 mm"}}).told("space.closed"));
}
