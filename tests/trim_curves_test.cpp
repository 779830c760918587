// Curves trimmed by bodies, surfaces, blades, each other and points; against formulas.
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

namespace {

Json point(const std::string& name, const std::string& x, const std::string& y, const std::string& z = "0") {
    return {{"name", name}, {"makes", "point"}, {"at", {x, y, z}}};
}
// A straight line, or through all of these points; of degree 1 with corners.
int curve(Route& route, Json points, int degree = 1) {
    return route.add("space_curve",
                     {{"made", "through"}, {"rows", std::move(points)}, {"degree", std::to_string(degree)}});
}
int line(Route& route, const std::string& from, const std::string& to) {
    return curve(route, {point("a", from, "0"), point("b", to, "0")});
}
Json names_of(const std::vector<int>& ids) {
    Json names = Json::array();
    for (const int id : ids) {
        names.push_back(std::to_string(id));
    }
    return names;
}
int trim(Route& route, const std::vector<int>& work, const std::vector<int>& by, Json more = Json::object()) {
    return route.add("trim", Route::with({{"workpieces", names_of(work)}, {"cutters", names_of(by)}}, std::move(more)));
}
size_t edges(const Outcome& outcome, int id) {
    const auto found = outcome.body(std::to_string(id));
    return found ? geom::edges_of(found->shape).size() : 0;
}
const std::vector<model::Piece>& pieces(const Outcome& outcome, int step) {
    return outcome.evaluation.report(step)->output->pieces;
}
// A flat sheet of 200 square x = at, looking along x.
int wall(Route& route, const std::string& at) {
    Drawing d;
    d.rectangle(-100, -100, 100, 100);
    const int sketch = route.add("sketch", {{"plane", "yz"}, {"offset", at}, {"drawing", d.json()}});
    return route.add("flat_surface", {{"sketch", sketch}, {"regions", region(0, 0)}});
}

} // namespace

TEST(TrimmedCurves, ByASolid) {
    Route route;
    route.parameter("end", "100 mm");
    const int rod = line(route, "0", "end");
    const int block = route.box(30, 20, 20, 45, 0, -10);
    const int step = trim(route, {rod}, {block}, {{"stays", "front"}});
    const auto whole = route.run();
    EXPECT_FALSE(whole.told()) << whole.codes();
    ASSERT_EQ(pieces(whole, step).size(), 3U);
    EXPECT_NEAR(length(whole, rod), 70, 1e-9);
    EXPECT_EQ(edges(whole, rod), 2U);
    for (const double end : {100.0, 61.0, 60.0 + 1e-4, 45.0, 1e5}) {
        const auto outcome = route.run({{"end", mm(end)}});
        EXPECT_FALSE(outcome.told()) << end << outcome.codes();
        EXPECT_NEAR(length(outcome, rod), end - (std::min(end, 60.0) - 30), 1e-9 * end) << end;
    }
    EXPECT_TRUE(route.run({{"end", "20 mm"}}).told("cut.nothing_met"));
    Route inside;
    const int other = line(inside, "0", "100 mm");
    trim(inside, {other}, {inside.box(30, 20, 20, 45, 0, -10)}, {{"stays", "back"}});
    EXPECT_NEAR(length(inside.run(), other), 30, 1e-9);
}

TEST(TrimmedCurves, WhatIsAllGoneIsToldAtItsMiddle) {
    Route route;
    const int rod = line(route, "40 mm", "50 mm");
    const int step = trim(route, {rod}, {route.box(30, 20, 20, 45, 0, -10)}, {{"stays", "front"}});
    const auto outcome = route.run();
    ASSERT_TRUE(outcome.told("cut.all_gone"));
    const auto place = outcome.evaluation.report(step)->findings.front().places.at(0);
    EXPECT_NEAR(place[0], 45, 1e-9);
    EXPECT_NEAR(std::hypot(place[1], place[2]), 0, 1e-9);
}

TEST(TrimmedCurves, ByWallsAndVerdictsThatFollow) {
    Route route;
    route.parameter("at", "20 mm");
    const int rod = line(route, "0", "100 mm");
    const int first = wall(route, "at");
    const int second = wall(route, "70 mm");
    const int step = trim(route, {rod}, {first, second});
    EXPECT_NEAR(length(route.run(), rod), 100, 1e-9);
    EXPECT_EQ(edges(route.run(), rod), 1U); // seams are cleaned away
    click_away(route, step, [](const model::Piece& piece) { return std::fabs(piece.center[0] - 45) < 1; });
    for (const double at : {20.0, 69.0, 0.5}) {
        const auto outcome = route.run({{"at", mm(at)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(length(outcome, rod), 30 + at, 1e-9);
        EXPECT_EQ(edges(outcome, rod), 2U);
    }
    EXPECT_TRUE(route.run({{"at", "70 mm"}}).told()); // nothing is between them then
}

TEST(TrimmedCurves, SplitAlone) {
    Route route;
    const int ring = route.add("curves", {{"sketch", [&] {
                                               Drawing d;
                                               d.circle(0, 0, 20);
                                               return route.sketch(d);
                                           }()}});
    const int cut = wall(route, "10 mm");
    const int step = trim(route, {ring}, {cut}, {{"seams", "kept"}});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(length(outcome, ring), 40 * pi, 1e-9);
    ASSERT_EQ(pieces(outcome, step).size(), 2U);
    click_away(route, step, [](const model::Piece& piece) { return piece.center[0] > 10; });
    EXPECT_NEAR(length(route.run(), ring), 40 * pi - 40 * std::acos(0.5), 1e-9);
}

TEST(TrimmedCurves, EachOtherAndByPoints) {
    Route route;
    const int bow = curve(route, {point("a", "0", "-30 mm"), point("b", "10 mm", "0"), point("c", "0", "30 mm")}, 2);
    const int rod = line(route, "-20 mm", "50 mm");
    const int step = trim(route, {bow, rod}, {}, {{"by", "each_other"}});
    EXPECT_EQ(pieces(route.run(), step).size(), 4U);
    click_away(route, step, [](const model::Piece& piece) { return piece.center[0] > 10 || piece.center[1] < -1; });
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(length(outcome, rod), 30, 1e-7);
    // Half of a parabola 60 wide and 10 high.
    EXPECT_NEAR(length(outcome, bow), (std::sqrt(3600.0 + 1600) / 2 + 3600 / 80.0 * std::asinh(40.0 / 60)) / 2, 1e-6);

    Route points;
    points.parameter("x", "35 mm");
    const int other = line(points, "0", "100 mm");
    const int mark = line(points, "x", "x + 1 mm");
    const int split =
        trim(points, {other}, {}, {{"seams", "kept"}, {"points", Json::array({pick("vertex", mark, {35, 0, 0})})}});
    const auto halves = points.run();
    EXPECT_FALSE(halves.told()) << halves.codes();
    EXPECT_EQ(pieces(halves, split).size(), 2U);
    click_away(points, split, [](const model::Piece& piece) { return piece.center[0] > 35; });
    for (const double x : {35.0, 99.5, 1e-3}) {
        const auto moved = points.run({{"x", mm(x)}});
        EXPECT_NEAR(length(moved, other), x, 1e-9) << moved.codes();
    }
    EXPECT_TRUE(points.run({{"x", "120 mm"}}).told());
}

// Cut again and again by a plane that moves over it, the pieces are as long as the formula says.
TEST(TrimmedCurves, AHelixByAPlane) {
    Route route;
    route.parameter("z", "25 mm");
    const int body = route.cylinder(40, 100);
    Json rows = Json::array();
    for (int i = 0; i < 5; ++i) {
        const double turn = pi / 2 * i;
        rows.push_back(
            point("p" + std::to_string(i), mm(20 * std::cos(turn)), mm(20 * std::sin(turn)), mm(10 + 20 * i)));
    }
    const int helix = route.add(
        "space_curve", {{"made", "on_face"}, {"rows", rows}, {"face", Json::array({pick("face", body, {20, 0, 50})})}});
    Drawing d;
    d.rectangle(-100, -100, 100, 100);
    const int level = route.add("sketch", {{"plane", "xy"}, {"offset", "z"}, {"drawing", d.json()}});
    const int sheet = route.add("flat_surface", {{"sketch", level}, {"regions", region(0, 0)}});
    const int step = trim(route, {helix}, {sheet});
    click_away(route, step, [](const model::Piece& piece) { return piece.center[2] > 25; });
    for (int i = 0; i < 20; ++i) {
        const double z = 11 + 4 * i;
        const auto outcome = route.run({{"z", mm(z)}});
        EXPECT_FALSE(outcome.told()) << z << outcome.codes();
        EXPECT_NEAR(length(outcome, helix), (z - 10) * std::hypot(2 * pi * 20, 80) / 80, 1e-5) << z;
    }
}

TEST(TrimmedCurves, WhatLiesOnASurfaceOrTouchesIt) {
    // In the wall itself: it is not divided there.
    Route route;
    const int sheet = wall(route, "20 mm");
    const int within = curve(route, {point("a", "20 mm", "-50 mm"), point("b", "20 mm", "50 mm")});
    trim(route, {within}, {sheet});
    const auto lying = route.run();
    EXPECT_TRUE(lying.told() || std::fabs(length(lying, within) - 100) < 1e-9);
    // Touching a ball: one place, which divides it there or does nothing; never another length.
    for (const double y : {20.0, 20 - 1e-5, 20 - 1e-8, 20 + 1e-8, 20.1}) {
        Route ball;
        Drawing d;
        const int a = d.point(0, -20);
        const int b = d.point(0, 20);
        d.line(a, b);
        d.arc(d.point(0, 0), a, b);
        const int solid = ball.add(
            "revolve", {{"result", "new_body"}, {"sketch", ball.sketch(d)}, {"regions", region(5, 0)}, {"axis", "y"}});
        const int rod = curve(ball, {point("a", "-50 mm", mm(y)), point("b", "50 mm", mm(y))});
        trim(ball, {rod}, {solid}, {{"stays", "front"}});
        const auto outcome = ball.run();
        const double inside = y < 20 ? 2 * std::sqrt(400 - y * y) : 0;
        const bool as_good_as_touching = std::fabs(y - 20) < geom::coincidence;
        EXPECT_TRUE(outcome.told() || std::fabs(length(outcome, rod) - 100 + inside) < 1e-5 ||
                    (as_good_as_touching && std::fabs(length(outcome, rod) - 100) < 1e-5))
            << y << " " << length(outcome, rod) << outcome.codes();
    }
}

// --- Curves that end within a face
// ---------------------------------------------------------------------------------------

TEST(CurvesThatFallShort, GoOnToTheBorder) {
    // On a flat sheet: from the middle of a side to its centre and no farther; on a tube's skin: a piece of a helix.
    for (const bool extended : {false, true}) {
        Route route;
        const int sheet = [&] {
            Drawing d;
            d.rectangle(-50, -30, 50, 30);
            return route.add("flat_surface", {{"sketch", route.sketch(d)}, {"regions", region(0, 0)}});
        }();
        const int short_line = curve(route, {point("a", "-50 mm", "-10 mm"), point("b", "0", "0")});
        const int step = trim(route, {sheet}, {short_line},
                              {{"surfaces_reach", extended ? "extended" : "as_they_are"}, {"stays", "front"}});
        const auto outcome = route.run();
        if (!extended) {
            ASSERT_TRUE(outcome.told("cut.hangs"));
            const auto& findings = outcome.evaluation.report(step)->findings;
            EXPECT_TRUE(std::any_of(findings.begin(), findings.end(),
                                    [](const Finding& finding) { return !finding.offers.empty(); }));
            continue;
        }
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(area(outcome, sheet), 3000, 1e-6); // straight on it halves the sheet through its centre
    }
}

TEST(CurvesThatFallShort, GoOnStraightOnRoundFaces) {
    Route route;
    route.parameter("rise", "20 mm");
    const int drum = route.cylinder(40, 100);
    const int skin = route.add("copied_faces", {{"faces", Json::array({pick("face", drum, {0, 20, 50})})}});
    // An eighth of a turn of a helix about the middle, away from both rims.
    Json rows = Json::array();
    for (int i = 0; i <= 4; ++i) {
        const double turn = pi / 16 * (i - 2) + pi / 2;
        rows.push_back(point("p" + std::to_string(i), mm(20 * std::cos(turn)), mm(20 * std::sin(turn)),
                             "50 mm + rise * " + std::to_string(i - 2)));
    }
    const int helix = route.add(
        "space_curve", {{"made", "on_face"}, {"rows", rows}, {"face", Json::array({pick("face", skin, {0, 20, 50})})}});
    const int up = curve(route, {point("a", "0", "-20 mm"), point("b", "0", "-20 mm", "100 mm")});
    trim(route, {skin}, {helix, up}, {{"surfaces_reach", "extended"}, {"seams", "kept"}});
    for (const double rise : {20.0, 18.0, 24.0}) {
        const auto outcome = route.run({{"rise", mm(rise)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        const auto& report = *outcome.evaluation.report(50);
        ASSERT_EQ(report.output->pieces.size(), 2U);
        for (const auto& piece : report.output->pieces) {
            EXPECT_NEAR(piece.volume, 2000 * pi, 1e-4); // each as large, since the helix is alike from both ends
        }
    }
}
