// Surfaces: what curves and regions sweep, faces copied, cut with and by them, sewn and made thick; against formulas.
#include "geom/surface/borders.h"
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

namespace {

size_t borders(const Outcome& outcome, int id) {
    const auto found = outcome.body(std::to_string(id));
    return found ? geom::free_borders(found->shape).size() : 99;
}
double length_of_borders(const Outcome& outcome, int id) {
    double sum = 0;
    for (const auto& border : geom::free_borders(outcome.body(std::to_string(id))->shape)) {
        EXPECT_TRUE(border.closed);
        sum += border.length;
    }
    return sum;
}
bool is_solid(const Outcome& outcome, int id) {
    const auto found = outcome.body(std::to_string(id));
    return found && !geom::solids_of(found->shape).empty();
}

/// Right, to `tolerance` relative, and nothing is said.
void expect_area(const Outcome& outcome, int id, double wanted, size_t open, double tolerance = 1e-9) {
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(area(outcome, id), wanted, tolerance * wanted);
    EXPECT_EQ(borders(outcome, id), open);
}

/// The document as the offer of a step has it.
Outcome take(const Outcome& outcome, Offer offer, int step) {
    offer.step = step;
    EXPECT_TRUE(model::can_take(outcome.document, offer));
    Outcome taken{model::take_offer(outcome.document, offer), {}};
    model::EvaluationCache cache;
    Progress progress;
    taken.evaluation = model::evaluate(taken.document, cache, {}, progress);
    return taken;
}

int surface_of_curves(Route& route, int sketch, Json more) {
    return route.add("extrude",
                     Route::with({{"result", "surface"}, {"filled", "curves"}, {"sketch", sketch}}, std::move(more)));
}

// A half circle of a radius over the x-axis, its ends on it.
Drawing half_circle(double radius) {
    Drawing d;
    const int middle = d.point(0, 0);
    const int right = d.point(radius, 0);
    const int left = d.point(-radius, 0);
    d.arc(middle, right, left);
    return d;
}

// A sphere's skin about the origin.
int sphere(Route& route, double radius) {
    return route.add("revolve", {{"result", "surface"},
                                 {"filled", "curves"},
                                 {"sketch", route.sketch(half_circle(radius), "xz")},
                                 {"axis", "x"},
                                 {"turn", "whole"}});
}

} // namespace

// --- Made by sweeping ------------------------------------------------------------------------------------------------

TEST(SweptSurfaces, OfRegionsHaveNoEnds) {
    Route route;
    route.parameter("h", "10 mm");
    Drawing d;
    d.rectangle(0, 0, 30, 20);
    const int body = route.extrude(route.sketch(d), region(5, 5), "h", {{"result", "surface"}});
    for (const double h : {10.0, 0.5, 300.0}) {
        const auto outcome = route.run({{"h", mm(h)}});
        expect_area(outcome, body, 100 * h, 2);
        EXPECT_NEAR(length_of_borders(outcome, body), 200, 1e-9);
    }
}

TEST(SweptSurfaces, OfRegionsThatTouchGoRoundThemAll) {
    Route route;
    Drawing d;
    d.rectangle(0, 0, 30, 20);
    const int low = d.point(10, 0);
    const int high = d.point(10, 20);
    d.line(low, high);
    Json both = region(5, 5);
    both.push_back(region(20, 5)[0]);
    const int body = route.extrude(route.sketch(d), both, "10 mm", {{"result", "surface"}});
    expect_area(route.run(), body, 1000, 2);
}

TEST(SweptSurfaces, AllRoundAreClosed) {
    for (const double radius : {109.0, 0.3}) {
        Route route;
        const int skin = sphere(route, radius);
        expect_area(route.run(), skin, 4 * pi * radius * radius, 0);
    }
    Route ring; // of a region: nothing to leave off
    Drawing d;
    d.circle(0, 20, 5);
    const int torus = ring.add("revolve", {{"result", "surface"},
                                           {"sketch", ring.sketch(d)},
                                           {"regions", region(0, 20)},
                                           {"axis", "x"},
                                           {"turn", "whole"}});
    expect_area(ring.run(), torus, 4 * pi * pi * 100, 0);
}

TEST(SweptSurfaces, OfOpenCurves) {
    for (const double angle : {90.0, 200.0, 360.0}) {
        Route route; // a cone's skin and a disc with a hole
        Drawing d;
        const int a = d.point(10, 5);
        const int b = d.point(10, 15);
        const int c = d.point(40, 25);
        d.line(a, b);
        d.line(b, c);
        const int skin = route.add("revolve", {{"result", "surface"},
                                               {"filled", "curves"},
                                               {"sketch", route.sketch(d)},
                                               {"axis", "x"},
                                               {"turn", "angle"},
                                               {"angle", deg(angle)}});
        const double turn = angle * pi / 180;
        const double wanted = turn * (10 * 10 + 20 * std::hypot(30, 10));
        expect_area(route.run(), skin, wanted, angle < 360 ? 1 : 2);
    }
    Route route;
    Drawing d;
    d.arc(d.point(0, 0), d.point(20, 0), d.point(-20, 0));
    const int half = surface_of_curves(route, route.sketch(d), {{"to", "symmetric"}, {"distance", "40 mm"}});
    const auto outcome = route.run();
    expect_area(outcome, half, pi * 20 * 40, 1);
    EXPECT_NEAR(middle(outcome, half)[2], 0, 1e-9);
}

TEST(SweptSurfaces, OfSplinesAndLeaning) {
    Route route; // y = x^2 / 20 from -20 to 20 as one parabola
    Drawing d;
    Json drawing = d.json();
    drawing["points"] = {
        {{"id", 1}, {"x", -20}, {"y", 20}}, {{"id", 2}, {"x", 0}, {"y", -20}}, {{"id", 3}, {"x", 20}, {"y", 20}}};
    drawing["curves"] = {{{"id", 4}, {"kind", "spline"}, {"points", {1, 2, 3}}, {"degree", 2}}};
    const int sketch = route.add("sketch", {{"plane", "xy"}, {"drawing", drawing}});
    const double slope = 2; // at the ends
    const double length = 20 * (std::hypot(1, slope) + std::asinh(slope) / slope);
    const int square = surface_of_curves(route, sketch, {{"to", "distance"}, {"distance", "15 mm"}});
    const int leaning = surface_of_curves(route, sketch,
                                          {{"to", "distance"},
                                           {"distance", "15 mm"},
                                           {"direction", "leaning"},
                                           {"lean", "30 deg"},
                                           {"lean_towards", "90 deg"}});
    const auto outcome = route.run();
    expect_area(outcome, square, 15 * length, 1, 1e-6);
    EXPECT_GT(area(outcome, leaning), 1.0); // told to be right by an integral of its own
    EXPECT_NEAR(middle(outcome, leaning)[2], 15 * std::cos(pi / 6) / 2, 1e-9);
}

TEST(SweptSurfaces, ThatCrossAreTold) {
    Route route;
    Drawing d;
    d.line(d.point(-10, -10), d.point(10, 10));
    d.line(d.point(-10, 10), d.point(10, -10));
    const int sketch = route.sketch(d);
    surface_of_curves(route, sketch, {{"to", "distance"}, {"distance", "15 mm"}});
    const auto outcome = route.run();
    // Two chains: each is a surface, of one body; they only lie in each other's way.
    EXPECT_TRUE(outcome.told("surface.crosses")) << outcome.codes();
    Route axis;
    Drawing over;
    over.line(over.point(0, -5), over.point(10, 5));
    axis.add("revolve", {{"result", "surface"}, {"filled", "curves"}, {"sketch", axis.sketch(over)}, {"axis", "x"}});
    EXPECT_TRUE(axis.run().told("surface.crosses_axis"));
}

TEST(SweptSurfaces, AreOfferedWhereNothingIsEnclosed) {
    Route route;
    Drawing d;
    d.line(d.point(0, 0), d.point(10, 5));
    const int sketch = route.sketch(d);
    const int body = route.add("extrude", {{"sketch", sketch}, {"to", "distance"}, {"distance", "4 mm"}});
    const auto outcome = route.run();
    ASSERT_TRUE(outcome.told("surface.encloses_nothing")) << outcome.codes();
    const Finding& finding = outcome.evaluation.report(body)->findings.front();
    ASSERT_EQ(finding.offers.size(), 1U);
    const Outcome taken = take(outcome, finding.offers.front(), body);
    expect_area(taken, body, 4 * std::hypot(10, 5), 1);
    // And a solid cannot be made of it.
    Route solid;
    solid.add("extrude", {{"sketch", solid.sketch(d)}, {"filled", "curves"}, {"to", "distance"}, {"distance", "4 mm"}});
    EXPECT_TRUE(solid.run().told("surface.no_solid"));
}

// --- Cut with curves
// --------------------------------------------------------------------------------------------------

namespace {

// A block 80 x 40 x 30 and a roof-like line over its whole width, from -reach to reach: z = 8 + |x| / 4.
struct Roofed {
    Route route;
    int block = 0;
    int cut = 0;
    explicit Roofed(double reach, const std::string& leaves = "back") {
        block = route.box(80, 40, 30);
        Drawing d;
        const int left = d.point(-reach, 8 + reach / 4);
        const int middle = d.point(0, 8);
        const int right = d.point(reach, 8 + reach / 4);
        d.line(left, middle);
        d.line(middle, right);
        cut = route.add("extrude", {{"result", "cut"},
                                    {"filled", "curves"},
                                    {"workpieces", {std::to_string(block)}},
                                    {"sketch", route.sketch(d, "xz")},
                                    {"to", "everything_both"},
                                    {"surfaces_leave", leaves}});
    }
};

} // namespace

TEST(CurvesCut, SolidsWhichStaySolids) {
    for (const double reach : {40.0, 41.0, 60.0}) { // below: 40 * 2 * (8 * 40 + 40 * 40 / 8)
        double sum = 0;
        for (const std::string leaves : {"front", "back"}) {
            Roofed roofed(reach, leaves);
            const auto outcome = roofed.route.run();
            EXPECT_FALSE(outcome.told()) << outcome.codes();
            const double left = outcome.volume(roofed.block);
            EXPECT_NEAR(std::min(std::fabs(left - 41600), std::fabs(left - 54400)), 0, 1e-9 * left);
            EXPECT_TRUE(is_solid(outcome, roofed.block));
            sum += left;
        }
        EXPECT_NEAR(sum, 96000, 1e-4);
        Roofed both(reach, "both");
        const auto outcome = both.route.run();
        EXPECT_NEAR(outcome.volume(), 96000, 1e-4);
        EXPECT_EQ(outcome.evaluation.bodies_as_of().size(), 2U);
    }
}

TEST(CurvesCut, OnlyWhereTheyPassThrough) {
    const Roofed roofed(30);
    const auto outcome = roofed.route.run();
    EXPECT_NEAR(outcome.volume(), 96000, 1e-4);
    const auto& findings = outcome.evaluation.report(roofed.cut)->findings;
    ASSERT_EQ(findings.size(), 2U) << outcome.codes(); // one for each end, 10 mm aside and 2.5 up
    for (const Finding& finding : findings) {
        EXPECT_EQ(finding.code, "surface.short");
        EXPECT_NE(finding.cause.find(format_quantity(10 * std::sqrt(1.0625), "mm")), std::string::npos)
            << finding.cause;
        ASSERT_EQ(finding.places.size(), 1U);
        EXPECT_NEAR(std::fabs(finding.places[0][0]), 30, 1e-6);
    }
    ASSERT_EQ(findings[0].offers.size(), 1U);
    const Outcome taken = take(outcome, findings[0].offers.front(), roofed.cut);
    EXPECT_FALSE(taken.told()) << taken.codes();
    const double left = taken.volume(roofed.block);
    EXPECT_NEAR(std::min(std::fabs(left - 41600), std::fabs(left - 54400)), 0, 1e-9 * left);
}

TEST(CurvesCut, ClosedOnesTakeOutWhatTheyGoRound) {
    Route route;
    const int block = route.box(40, 40, 20);
    Drawing d;
    d.circle(3, 2, 7);
    route.add("extrude", {{"result", "cut"},
                          {"filled", "curves"},
                          {"workpieces", {std::to_string(block)}},
                          {"sketch", route.sketch(d)},
                          {"to", "everything_both"},
                          {"surfaces_leave", "both"}});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    std::vector<double> volumes;
    for (const auto& [id, body] : outcome.evaluation.bodies_as_of()) {
        volumes.push_back(geom::volume_of(body->shape));
    }
    std::sort(volumes.begin(), volumes.end());
    ASSERT_EQ(volumes.size(), 2U);
    EXPECT_NEAR(volumes[0], pi * 49 * 20, 1e-6);
    EXPECT_NEAR(volumes[1], 32000 - pi * 49 * 20, 1e-5);
}

TEST(CurvesCut, SeveralChainsEachByItself) {
    Route route;
    const int block = route.box(40, 40, 20);
    Drawing d;
    for (const double x : {-10.0, 5.0}) {
        d.line(d.point(x, -30), d.point(x, 30));
    }
    route.add("extrude", {{"result", "cut"},
                          {"filled", "curves"},
                          {"workpieces", {std::to_string(block)}},
                          {"sketch", route.sketch(d)},
                          {"to", "everything_both"}});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_EQ(outcome.evaluation.bodies_as_of().size(), 3U);
    EXPECT_NEAR(outcome.volume(), 32000, 1e-5);
}

TEST(CurvesCut, AreRepeated) {
    Route route;
    const int block = route.box(40, 40, 20);
    Drawing d;
    d.line(d.point(-10, -30), d.point(-10, 30));
    const int cut = route.add("extrude", {{"result", "cut"},
                                          {"filled", "curves"},
                                          {"workpieces", {std::to_string(block)}},
                                          {"sketch", route.sketch(d)},
                                          {"to", "everything_both"},
                                          {"surfaces_leave", "back"}});
    const auto once = route.run();
    const double left = once.volume(block);
    EXPECT_NEAR(std::min(std::fabs(left - 8000), std::fabs(left - 24000)), 0, 1e-6);
    const double way = left > 10000 ? 1 : -1;
    route.add("repeat", {{"result", "cut"},
                         {"workpieces", {std::to_string(block)}},
                         {"of", cut},
                         {"arrange", "line"},
                         {"direction", "x"},
                         {"count", "2"},
                         {"spacing", mm(way * 5)}});
    const auto again = route.run();
    EXPECT_FALSE(again.told()) << again.codes();
    EXPECT_EQ(again.evaluation.bodies_as_of().size(), 2U);
    EXPECT_NEAR(again.volume(), left, 1e-6);
}

TEST(CurvesCut, SurfacesWhichStayOpen) {
    Route route;
    Drawing round;
    round.circle(0, 0, 20);
    const int tube = route.add("extrude", {{"result", "surface"},
                                           {"sketch", route.sketch(round)},
                                           {"regions", region(0, 0)},
                                           {"to", "distance"},
                                           {"distance", "40 mm"}});
    Drawing line;
    line.line(line.point(-30, 10), line.point(30, 10));
    route.add("extrude", {{"result", "cut"},
                          {"filled", "curves"},
                          {"workpieces", {std::to_string(tube)}},
                          {"sketch", route.sketch(line, "xz")},
                          {"to", "everything_both"},
                          {"surfaces_leave", "both"}});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    double sum = 0;
    for (const auto& [id, body] : outcome.evaluation.bodies_as_of()) {
        const double own = geom::area_of(body->shape);
        sum += own;
        EXPECT_NEAR(std::min(std::fabs(own - 40 * pi * 10), std::fabs(own - 40 * pi * 30)), 0, 1e-6);
        EXPECT_EQ(geom::free_borders(body->shape).size(), 2U);
    }
    EXPECT_NEAR(sum, 1600 * pi, 1e-6);
}

// --- Copied faces
// -----------------------------------------------------------------------------------------------------

namespace {

// A block, and a neighbour over it whose lower faces z = 8 + |x| / 4 reach over all of it; it is lifted by `up`.
struct Neighbours {
    Route route;
    int block = 0;
    int roof = 0;
    int lifted = 0;
    int copied = 0;
    explicit Neighbours(bool as_before) {
        route.parameter("up", "0 mm");
        block = route.box(80, 40, 30);
        Drawing d;
        d.polygon({{0, 8}, {60, 23}, {60, 60}, {-60, 60}, {-60, 23}});
        roof = route.extrude(route.sketch(d, "xz"), region(0, 40), "60 mm", {{"to", "symmetric"}});
        lifted = route.add("place", {{"bodies", {std::to_string(roof)}}, {"way", "amounts"}, {"z", "up"}});
        copied =
            route.add("copied_faces",
                      {{"faces", Json::array({pick("face", roof, {30, 0, 15.5}), pick("face", roof, {-30, 0, 15.5})})},
                       {"state", as_before ? roof : 0}});
        route.add(
            "body_cut",
            {{"workpieces", {std::to_string(block)}}, {"cutters", {std::to_string(copied)}}, {"blades_keep", "back"}});
    }
};

} // namespace

TEST(CopiedFaces, AreASurfaceOfTheirOwn) {
    Route route;
    const int box = route.box(30, 20, 10);
    const int open = route.add(
        "copied_faces", {{"faces", Json::array({pick("face", box, {0, 0, 10}), pick("face", box, {15, 0, 5})})}});
    const int apart = route.add(
        "copied_faces", {{"faces", Json::array({pick("face", box, {15, 0, 5}), pick("face", box, {-15, 0, 5})})}});
    const auto outcome = route.run();
    expect_area(outcome, open, 600 + 200, 1);
    EXPECT_NEAR(length_of_borders(outcome, open), 2 * (30 + 20) + 2 * (20 + 10) - 2 * 20, 1e-9);
    expect_area(outcome, apart, 400, 2);
    EXPECT_NEAR(outcome.volume(box), 6000, 1e-9);
}

TEST(CopiedFaces, FollowOrStayAsTheyWereAfterAStep) {
    for (const bool as_before : {false, true}) {
        const Neighbours neighbours(as_before);
        for (const double up : {0.0, 3.0, -2.0}) {
            const auto outcome = neighbours.route.run({{"up", mm(up)}});
            EXPECT_FALSE(outcome.told()) << outcome.codes();
            const double moved = as_before ? 0 : up;
            const double below = 40 * 2 * ((8 + moved) * 40 + 40 * 40 / 8.0);
            const double left = outcome.volume(neighbours.block);
            EXPECT_NEAR(std::min(std::fabs(left - below), std::fabs(left - (96000 - below))), 0, 1e-9 * below)
                << as_before << " " << up;
        }
    }
}

TEST(CopiedFaces, LookBackToAStepThatIsThere) {
    Neighbours neighbours(true);
    Json& steps = neighbours.route.json()["steps"];
    for (auto& step : steps) {
        if (step["id"] == neighbours.copied) {
            step["answers"]["state"] = neighbours.copied + 10; // after it
        }
    }
    EXPECT_TRUE(neighbours.route.run().told("step.no_state"));
}

TEST(CopiedFaces, TwoBodiesCutEachOther) {
    Route route; // two bars that run into each other: each ends where the other's end was before it was cut
    const int one = route.box(35, 20, 20, -12.5);
    const int other = route.box(35, 20, 20, 12.5);
    const auto end_it = [&](int body, int by, double x) {
        const int end =
            route.add("copied_faces", {{"faces", Json::array({pick("face", by, {x, 0, 10})})}, {"state", other}});
        route.add(
            "body_cut",
            {{"workpieces", {std::to_string(body)}}, {"cutters", {std::to_string(end)}}, {"blades_keep", "front"}});
    };
    end_it(one, other, -5);
    end_it(other, one, 5);
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(outcome.volume(one), 25 * 400, 1e-6);
    EXPECT_NEAR(outcome.volume(other), 25 * 400, 1e-6);
    // Looking back from behind a change finds the face as it was before it.
    Route later;
    const int box = later.box(20, 20, 20);
    Drawing d;
    d.rectangle(-3, -3, 3, 3);
    later.cut(box, later.sketch(d), region(0, 0));
    const int now = later.add("copied_faces", {{"faces", Json::array({pick("face", box, {8, 8, 20})})}});
    const int then =
        later.add("copied_faces", {{"faces", Json::array({pick("face", box, {8, 8, 20})})}, {"state", box}});
    const auto after = later.run();
    expect_area(after, now, 400 - 36, 2);
    expect_area(after, then, 400, 1);
}

// --- Sewn
// -------------------------------------------------------------------------------------------------------------

namespace {

// The six sides of a box, each a surface of its own; `missing` of them are left out.
std::vector<int> sides_of_box(Route& route, double w, double d, double h, double gap = 0, size_t missing = 0) {
    const std::vector<std::pair<std::string, double>> planes{{"xy", 0},  {"xy", h}, {"xz", 0},
                                                             {"xz", -d}, {"yz", 0}, {"yz", w}};
    std::vector<int> sides;
    for (size_t i = missing; i < planes.size(); ++i) {
        Drawing drawing;
        const auto& [plane, offset] = planes[i];
        if (plane == "xy") {
            drawing.rectangle(0, 0, w, d);
        } else if (plane == "xz") {
            drawing.rectangle(0, 0, w, h);
        } else {
            drawing.rectangle(0, 0, d, h);
        }
        const int prism =
            route.extrude(route.sketch(drawing, plane, offset + (i == 1 ? gap : 0)), region(1, 1), "1 mm");
        const std::array<double, 3> near = plane == "xy"   ? std::array{w / 2, d / 2, offset + (i == 1 ? gap : 0)}
                                           : plane == "xz" ? std::array{w / 2, -offset, h / 2}
                                                           : std::array{offset, d / 2, h / 2};
        sides.push_back(route.add("copied_faces", {{"faces", Json::array({pick("face", prism, near)})}}));
        route.add("delete", {{"bodies", {std::to_string(prism)}}});
    }
    return sides;
}

Json names_of(const std::vector<int>& bodies) {
    Json names = Json::array();
    for (const int body : bodies) {
        names.push_back(std::to_string(body));
    }
    return names;
}

} // namespace

TEST(Sewn, SidesOfABoxAreASolid) {
    for (const std::string becomes : {"solid", "surface"}) {
        Route route;
        const auto sides = sides_of_box(route, 30, 20, 10);
        route.add("sew", {{"surfaces", names_of(sides)}, {"becomes", becomes}});
        const auto outcome = route.run();
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_EQ(is_solid(outcome, sides[0]), becomes == "solid");
        EXPECT_NEAR(area(outcome, sides[0]), 2200, 1e-6);
        EXPECT_EQ(borders(outcome, sides[0]), 0U);
        EXPECT_EQ(outcome.evaluation.bodies_as_of().size(), 1U);
        if (becomes == "solid") {
            EXPECT_NEAR(outcome.volume(sides[0]), 6000, 1e-6);
            EXPECT_EQ(geom::edges_of(outcome.body(std::to_string(sides[0]))->shape).size(), 12U);
        }
    }
}

TEST(Sewn, OpenOnesSayWhere) {
    Route route;
    const auto sides = sides_of_box(route, 30, 20, 10, 0, 1);
    route.add("sew", {{"surfaces", names_of(sides)}});
    const auto outcome = route.run();
    EXPECT_TRUE(outcome.told("sew.open")) << outcome.codes();
    EXPECT_FALSE(is_solid(outcome, sides[0]));
    EXPECT_EQ(borders(outcome, sides[0]), 1U);
    EXPECT_NEAR(length_of_borders(outcome, sides[0]), 100, 1e-6);
}

TEST(Sewn, GapsAreToldAndClosedIfWanted) {
    Route route;
    route.parameter("gap", "0.01 mm");
    const auto sides = sides_of_box(route, 30, 20, 10, 0.2);
    const int sew = route.add("sew", {{"surfaces", names_of(sides)}, {"tolerance", "gap"}});
    const auto open = route.run();
    ASSERT_TRUE(open.told("sew.open")) << open.codes();
    const Finding& finding = open.evaluation.report(sew)->findings.front();
    ASSERT_EQ(finding.offers.size(), 1U);
    EXPECT_FALSE(finding.places.empty());
    const auto closed = route.run({{"gap", "0.3 mm"}});
    EXPECT_TRUE(closed.told("sew.gaps")) << closed.codes();
    EXPECT_TRUE(is_solid(closed, sides[0])) << closed.codes();
    EXPECT_NEAR(closed.volume(sides[0]), 6000 + 600 * 0.2 / 2, 600 * 0.2 / 2 + 1); // somewhere within the gap
}

TEST(Sewn, DoubledAndBranchingOnesAreTold) {
    Route doubled;
    auto sides = sides_of_box(doubled, 30, 20, 10);
    const int prism = doubled.box(30, 20, 5, 15, 10, 10);
    sides.push_back(doubled.add("copied_faces", {{"faces", Json::array({pick("face", prism, {15, 10, 10})})}}));
    doubled.add("sew", {{"surfaces", names_of(sides)}});
    EXPECT_TRUE(doubled.run().told("sew.doubled")) << doubled.run().codes();
    Route branching;
    auto walls = sides_of_box(branching, 30, 20, 10);
    const int beside = branching.box(30, 5, 10, 15, 22.5, 0);
    walls.push_back(branching.add("copied_faces", {{"faces", Json::array({pick("face", beside, {15, 22.5, 0})})}}));
    branching.add("sew", {{"surfaces", names_of(walls)}});
    EXPECT_TRUE(branching.run().told("sew.branches")) << branching.run().codes();
}

// --- Made thick
// -------------------------------------------------------------------------------------------------------

TEST(Thickened, SpheresAreShells) {
    const auto ball = [](double radius) { return 4.0 / 3 * pi * radius * radius * radius; };
    for (const auto& [side, inner, outer] : {std::tuple("front", 50.0, 52.0), std::tuple("back", 48.0, 50.0),
                                             std::tuple("middle", 49.0, 51.0), std::tuple("both", 47.0, 52.0)}) {
        Route route;
        const int skin = sphere(route, 50);
        route.add("thicken",
                  {{"surfaces", {std::to_string(skin)}}, {"thickness", "2 mm"}, {"side", side}, {"behind", "3 mm"}});
        const auto outcome = route.run();
        const double outwards = ball(outer) - ball(inner);
        const double inwards = ball(100 - inner) - ball(100 - outer); // where its front is its inside
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        const double found = outcome.volume(skin);
        EXPECT_NEAR(std::min(std::fabs(found - outwards), std::fabs(found - inwards)), 0, 1e-9 * outwards) << side;
    }
}

TEST(Thickened, FlatRoundAndBentOnes) {
    for (const auto& [side, front, back] :
         {std::tuple("front", 2.0, 0.0), std::tuple("back", 0.0, 2.0), std::tuple("both", 2.0, 1.0)}) {
        Route route;
        const int box = route.box(30, 20, 10);
        const int flat = route.add("copied_faces", {{"faces", Json::array({pick("face", box, {0, 0, 10})})}});
        const int bent = route.add(
            "copied_faces", {{"faces", Json::array({pick("face", box, {0, 0, 10}), pick("face", box, {15, 0, 5})})}});
        const int pin = route.cylinder(40, 30, 200);
        const int tube = route.add("copied_faces", {{"faces", Json::array({pick("face", pin, {220, 0, 15})})}});
        for (const int surface : {flat, bent, tube}) {
            route.add(
                "thicken",
                {{"surfaces", {std::to_string(surface)}}, {"thickness", "2 mm"}, {"side", side}, {"behind", "1 mm"}});
        }
        const auto outcome = route.run();
        EXPECT_FALSE(outcome.told()) << side << " " << outcome.codes();
        const double wide = front + back;
        EXPECT_NEAR(outcome.volume(flat), 600 * wide, 1e-6) << side;
        EXPECT_NEAR(outcome.volume(bent), 20 * (40 * wide + front * front - back * back), 1e-6) << side;
        EXPECT_NEAR(outcome.volume(tube), pi * 30 * (std::pow(20 + front, 2) - std::pow(20 - back, 2)), 1e-6) << side;
    }
}

TEST(Thickened, OnlySurfacesAndNoThickerThanTheyBend) {
    Route solid;
    const int box = solid.box(30, 20, 10);
    solid.add("thicken", {{"surfaces", {std::to_string(box)}}});
    EXPECT_TRUE(solid.run().told("thicken.no_surface"));
    Route tight;
    const int pin = tight.cylinder(10, 30);
    const int tube = tight.add("copied_faces", {{"faces", Json::array({pick("face", pin, {5, 0, 15})})}});
    tight.add("thicken", {{"surfaces", {std::to_string(tube)}}, {"thickness", "6 mm"}, {"side", "back"}});
    const auto outcome = tight.run();
    EXPECT_TRUE(outcome.told()) << outcome.volume(tube);
    EXPECT_EQ(outcome.volume(tube), 0);
}

// --- Extended
// ---------------------------------------------------------------------------------------------------------

namespace {

// Faces of a body as a surface, extended at the borders near these places.
struct Extended {
    Route route;
    int surface = 0;

    int copy(int body, const std::vector<std::array<double, 3>>& faces) {
        Json picks = Json::array();
        for (const auto& near : faces) {
            picks.push_back(pick("face", body, near));
        }
        return surface = route.add("copied_faces", {{"faces", picks}});
    }
    void extend(const std::vector<std::array<double, 3>>& borders, const std::string& amount,
                Json more = Json::object(), const std::vector<std::string>& own = {}) {
        Json picks = Json::array();
        for (size_t i = 0; i < borders.size(); ++i) {
            picks.push_back(pick("edge", surface, borders[i]));
            if (i < own.size() && !own[i].empty()) {
                picks.back()["own"] = own[i];
            }
        }
        route.add("extend", Route::with({{"borders", picks}, {"amount", amount}}, std::move(more)));
    }
};

} // namespace

TEST(ExtendedSurfaces, FlatOnesGoOnAlongWhatIsBesideThem) {
    for (const double a : {0.01, 4.0, 300.0}) {
        Extended one;
        one.copy(one.route.box(30, 20, 10), {{0, 0, 10}});
        one.extend({{15, 0, 10}}, mm(a));
        const auto outcome = one.route.run();
        expect_area(outcome, one.surface, (30 + a) * 20, 1);
        EXPECT_EQ(geom::faces_of(outcome.body(std::to_string(one.surface))->shape).size(), 1U);
        EXPECT_EQ(geom::edges_of(outcome.body(std::to_string(one.surface))->shape).size(), 4U);

        Extended corner; // two neighbours, by amounts of their own
        corner.copy(corner.route.box(30, 20, 10), {{0, 0, 10}});
        corner.extend({{15, 0, 10}, {0, 10, 10}}, mm(a), {}, {"", "3 mm"});
        expect_area(corner.route.run(), corner.surface, (30 + a) * 23, 1);

        Extended all;
        all.copy(all.route.box(30, 20, 10), {{0, 0, 10}});
        all.extend({{15, 0, 10}}, mm(a), {{"chain", "whole"}});
        expect_area(all.route.run(), all.surface, (30 + 2 * a) * (20 + 2 * a), 1);
    }
}

TEST(ExtendedSurfaces, LeaningNeighboursGuideTheirEnds) {
    Route route; // a trapezoid: 40 below, 20 above, 10 high; what is added below grows wider
    Drawing d;
    d.polygon({{-20, 0}, {20, 0}, {10, 10}, {-10, 10}});
    const int prism = route.extrude(route.sketch(d), region(0, 5), "5 mm");
    Extended below;
    below.route = route;
    below.copy(prism, {{0, 5, 5}});
    below.extend({{0, 0, 5}}, "6 mm");
    expect_area(below.route.run(), below.surface, 300 + 6 * (40 + 52) / 2.0, 1);
    Extended above; // and above narrower, until nothing is left
    above.route = route;
    above.copy(prism, {{0, 5, 5}});
    above.route.parameter("a", "5 mm");
    above.extend({{0, 10, 5}}, "a");
    for (const double a : {5.0, 9.0, 9.99}) {
        expect_area(above.route.run({{"a", mm(a)}}), above.surface, 300 + a * (20 + 20 - 2 * a) / 2, 1);
    }
    for (const double a : {10.0, 12.0}) {
        EXPECT_TRUE(above.route.run({{"a", mm(a)}}).told("extend.too_far")) << a;
    }
}

TEST(ExtendedSurfaces, FoldsGoOnAsFolds) {
    for (const auto& [top, side] : {std::pair(5.0, 5.0), std::pair(5.0, 2.0)}) {
        Extended fold; // top and right side of a box, both to the front
        fold.copy(fold.route.box(30, 20, 10), {{0, 0, 10}, {15, 0, 5}});
        fold.extend({{0, -10, 10}, {15, -10, 5}}, mm(top), {}, {"", mm(side)});
        expect_area(fold.route.run(), fold.surface, 30 * (20 + top) + 10 * (20 + side), 1);
    }
}

TEST(ExtendedSurfaces, RoundOnes) {
    const double a = 7;
    Extended tube;
    tube.copy(tube.route.cylinder(40, 30), {{0, 20, 15}});
    tube.extend({{0, 20, 30}}, mm(a));
    const auto longer = tube.route.run();
    expect_area(longer, tube.surface, 2 * pi * 20 * 37, 2);
    EXPECT_EQ(geom::faces_of(longer.body(std::to_string(tube.surface))->shape).size(), 1U);

    Extended disc; // a flat ring round a disc
    disc.copy(disc.route.cylinder(40, 30), {{0, 0, 30}});
    disc.extend({{0, 20, 30}}, mm(a));
    expect_area(disc.route.run(), disc.surface, pi * 27 * 27, 1);

    for (const std::string runs : {"straight", "bends"}) {
        Extended cap; // a ball's upper half: a cylinder straight on, or more of the ball
        Drawing d;
        const int middle = d.point(0, 0);
        const int top = d.point(0, 20);
        const int side = d.point(20, 0);
        d.arc(middle, side, top);
        cap.surface = cap.route.add("revolve", {{"result", "surface"},
                                                {"filled", "curves"},
                                                {"sketch", cap.route.sketch(d, "xz")},
                                                {"axis", "y"},
                                                {"turn", "whole"}});
        cap.extend({{0, 20, 0}}, mm(a), {{"continues", runs}});
        const double more = runs == "straight" ? 2 * pi * 20 * a : 2 * pi * 400 * std::sin(a / 20);
        expect_area(cap.route.run(), cap.surface, 2 * pi * 400 + more, 1);
    }
    // Half a tube along its axis: round on, or a plane.
    for (const std::string runs : {"straight", "bends"}) {
        Extended arch;
        Drawing d;
        d.arc(d.point(0, 0), d.point(20, 0), d.point(-20, 0));
        arch.surface = surface_of_curves(arch.route, arch.route.sketch(d), {{"to", "distance"}, {"distance", "30 mm"}});
        arch.extend({{20, 0, 15}}, mm(a), {{"continues", runs}});
        const auto outcome = arch.route.run();
        expect_area(outcome, arch.surface, pi * 20 * 30 + a * 30, 1);
        EXPECT_EQ(geom::faces_of(outcome.body(std::to_string(arch.surface))->shape).size(), runs == "bends" ? 1U : 2U);
    }
}

TEST(ExtendedSurfaces, AsFarAsTheyMust) {
    Route route;
    route.parameter("half", "40 mm");
    const int block =
        route.add("stock", {{"shape", "box"}, {"width", "2 * half"}, {"depth", "40 mm"}, {"height", "30 mm"}});
    Drawing d;
    d.polygon({{0, 8}, {30, 15.5}, {30, 60}, {-30, 60}, {-30, 15.5}});
    const int roof = route.extrude(route.sketch(d, "xz"), region(0, 40), "60 mm", {{"to", "symmetric"}});
    Extended extended;
    extended.route = route;
    extended.copy(roof, {{15, 0, 11.75}, {-15, 0, 11.75}});
    extended.extend({{30, 0, 15.5}, {-30, 0, 15.5}}, "1 mm", {{"by", "through"}, {"through", {std::to_string(block)}}});
    const int cut = extended.route.add("body_cut", {{"workpieces", {std::to_string(block)}},
                                                    {"cutters", {std::to_string(extended.surface)}},
                                                    {"blades_keep", "front"}});
    for (const double half : {40.0, 45.0, 33.0}) {
        const auto outcome = extended.route.run({{"half", mm(half)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        const double below = 40 * 2 * (8 * half + half * half / 8);
        EXPECT_NEAR(outcome.volume(block), below, 1e-9 * below) << half;
    }
    // One side only: the finding names the other.
    Json json = extended.route.json();
    for (auto& step : extended.route.json()["steps"]) {
        if (step["kind"] == "extend") {
            step["answers"]["borders"].erase(1);
        }
    }
    const auto outcome = extended.route.run();
    const auto& findings = outcome.evaluation.report(cut)->findings;
    ASSERT_EQ(findings.size(), 1U) << outcome.codes();
    EXPECT_EQ(findings[0].code, "surface.short");
    EXPECT_NEAR(findings[0].places.at(0)[0], -30, 1e-6);
}

TEST(ExtendedSurfaces, OnlyAtFreeBorders) {
    Extended inner;
    inner.copy(inner.route.box(30, 20, 10), {{0, 0, 10}, {15, 0, 5}});
    inner.extend({{15, 0, 10}}, "3 mm");
    EXPECT_TRUE(inner.route.run().told("extend.no_border"));
}

// --- Trimmed
// ----------------------------------------------------------------------------------------------------------

namespace {

// A flat sheet in the plane of a coordinate, large enough.
int sheet(Route& route, const std::string& plane, double offset) {
    Drawing d;
    d.rectangle(-40, -40, 40, 60);
    const int prism = route.extrude(route.sketch(d, plane, offset), region(0, 0), "1 mm");
    const std::array<double, 3> near = plane == "xy" ? std::array{0.0, 0.0, offset} : std::array{offset, 0.0, 0.0};
    const int surface = route.add("copied_faces", {{"faces", Json::array({pick("face", prism, near)})}});
    route.add("delete", {{"bodies", {std::to_string(prism)}}});
    return surface;
}

} // namespace

TEST(TrimmedSurfaces, AllByEachOther) {
    Route route;
    route.parameter("r", "20 mm");
    Drawing round;
    const int middle = round.point(0, 0);
    const int circle = round.circle_about(middle, 20);
    round.hold("fixed", {middle});
    round.hold("radius", {circle}, "r");
    const int tube = route.extrude(route.sketch(round), region(0, 0), "40 mm", {{"result", "surface"}});
    const int left = sheet(route, "yz", -5);
    const int right = sheet(route, "yz", 5);
    const int floor = sheet(route, "xy", 25);
    const int trim = route.add("trim", {{"workpieces", names_of({tube, left, right, floor})}, {"by", "each_other"}});
    const auto whole = route.run();
    const auto only_notes = [](const Outcome& outcome) { // the tube ends within the sheets
        for (const auto& report : outcome.evaluation.steps) {
            for (const Finding& finding : report.findings) {
                EXPECT_TRUE(finding.code == "cut.ends_within" || finding.code == "piece.by_count") << outcome.codes();
            }
        }
    };
    only_notes(whole);
    EXPECT_NEAR(area(whole, tube), 1600 * pi, 1e-6); // every piece stays
    EXPECT_EQ(borders(whole, tube), 2U);
    EXPECT_NEAR(area(whole, left), 8000, 1e-6);
    // What is clicked away: of the tube what is between the sheets and above the floor; of the floor all but the strip
    // within the tube.
    click_away(route, trim, [&](const model::Piece& piece) {
        const auto [x, y, z] = piece.center;
        const bool notch = piece.identity.workpiece == std::to_string(tube) && std::fabs(x) < 5 && z > 25;
        const bool beside =
            piece.identity.workpiece == std::to_string(floor) && !(std::fabs(x) < 1e-6 && std::hypot(x, y) < 1e-6);
        return notch || beside;
    });
    for (const double r : {20.0, 24.0, 12.0}) {
        const auto outcome = route.run({{"r", mm(r)}});
        const double arc = std::asin(5 / r);
        only_notes(outcome);
        EXPECT_NEAR(area(outcome, tube), 80 * pi * r - 60 * r * arc, 1e-6) << r;
        EXPECT_NEAR(area(outcome, floor), 10 * std::sqrt(r * r - 25) + 2 * r * r * arc, 1e-6) << r;
    }
}

TEST(TrimmedSurfaces, BySidesOfOthers) {
    for (const auto& [stays, z] : {std::pair("front", 15.0), std::pair("back", 25.0)}) {
        Route route;
        Drawing round;
        round.circle(0, 0, 20);
        const int tube = route.extrude(route.sketch(round), region(0, 0), "40 mm", {{"result", "surface"}});
        const int cutter = sheet(route, "xy", 25); // looks down
        route.add("trim", {{"workpieces", names_of({tube})}, {"cutters", names_of({cutter})}, {"stays", stays}});
        const auto outcome = route.run();
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        const double found = area(outcome, tube) / (40 * pi);
        EXPECT_NEAR(std::min(std::fabs(found - 25), std::fabs(found - 15)), 0, 1e-9) << stays;
        EXPECT_EQ(borders(outcome, tube), 2U);
        EXPECT_EQ(borders(outcome, cutter), 1U); // kept
    }
}

// --- Other ways
// -------------------------------------------------------------------------------------------------------

TEST(FlatSurfaces, OfRegions) {
    Route route;
    Drawing d;
    d.rectangle(0, 0, 30, 20);
    d.circle(10, 10, 5);
    d.line(d.point(20, 0), d.point(20, 20));
    const int sketch = route.sketch(d, "xz", 4);
    const int ring = route.add("flat_surface", {{"sketch", sketch}, {"regions", region(1, 1)}});
    Json both = region(1, 1);
    both.push_back(region(25, 5)[0]);
    const int larger = route.add("flat_surface", {{"sketch", sketch}, {"regions", both}});
    const auto outcome = route.run();
    expect_area(outcome, ring, 400 - 25 * pi, 2);
    expect_area(outcome, larger, 600 - 25 * pi, 2);
}

TEST(ShiftedSurfaces, LieAsFarAway) {
    for (const auto& [side, offset] : {std::pair("front", 3.0), std::pair("back", -3.0)}) {
        Route route;
        const int pin = route.cylinder(40, 30);
        const int tube = route.add("copied_faces", {{"faces", Json::array({pick("face", pin, {0, 20, 15})})}});
        const int box = route.box(30, 20, 10, 100);
        const int bent =
            route.add("copied_faces",
                      {{"faces", Json::array({pick("face", box, {100, 0, 10}), pick("face", box, {115, 0, 5})})}});
        route.add(
            "thicken",
            {{"surfaces", names_of({tube, bent})}, {"becomes", "shifted"}, {"thickness", "3 mm"}, {"side", side}});
        const auto outcome = route.run();
        expect_area(outcome, tube, 2 * pi * (20 + offset) * 30, 2);
        expect_area(outcome, bent, 20 * (40 + 2 * offset), 1);
    }
    Route two;
    const int pin = two.cylinder(40, 30);
    const int tube = two.add("copied_faces", {{"faces", Json::array({pick("face", pin, {0, 20, 15})})}});
    two.add("thicken", {{"surfaces", names_of({tube})}, {"becomes", "shifted"}, {"side", "middle"}});
    EXPECT_TRUE(two.run().told("thicken.two_ways"));
}

TEST(TakenApart, IntoFacesAndSewnAgain) {
    Route route;
    const int box = route.box(30, 20, 10);
    route.add("separate", {{"workpieces", {std::to_string(box)}}, {"into", "faces"}});
    const auto apart = route.run();
    EXPECT_FALSE(apart.told()) << apart.codes();
    Json faces = Json::array();
    double sum = 0;
    for (const auto& [id, body] : apart.evaluation.bodies_as_of()) {
        EXPECT_EQ(geom::faces_of(body->shape).size(), 1U);
        sum += geom::area_of(body->shape);
        faces.push_back(id);
    }
    EXPECT_EQ(faces.size(), 6U);
    EXPECT_NEAR(sum, 2200, 1e-9);
    route.add("sew", {{"surfaces", faces}});
    const auto again = route.run();
    EXPECT_FALSE(again.told()) << again.codes();
    EXPECT_NEAR(again.volume(), 6000, 1e-9);
}

// --- Blended
// ----------------------------------------------------------------------------------------------------------

namespace {

// A tube of a radius from a height on, 40 long; in three edges round if wanted.
int tube_at(Route& route, double radius, double z, bool in_three = false) {
    Drawing d;
    if (in_three) {
        const int middle = d.point(0, 0);
        std::vector<int> on;
        for (const double turn : {0.3, 2.1, 4.4}) {
            on.push_back(d.point(radius * std::cos(turn), radius * std::sin(turn)));
        }
        for (size_t i = 0; i < 3; ++i) {
            d.arc(middle, on[i], on[(i + 1) % 3]);
        }
    } else {
        d.circle(0, 0, radius);
    }
    return route.extrude(route.sketch(d, "xy", z), region(0, 0), "40 mm", {{"result", "surface"}});
}

// Caps the two ends of what spans from z = 0 to `high`, and sews it to a solid.
void close_ends(Route& route, int surface, double below, double above, double high, bool square_above = false) {
    const auto cap = [&](double z, double radius, bool square) {
        Drawing d;
        if (square) {
            d.rectangle(-radius, -radius, radius, radius);
        } else {
            d.circle(0, 0, radius);
        }
        return route.add("flat_surface", {{"sketch", route.sketch(d, "xy", z)}, {"regions", region(0, 0)}});
    };
    const int low = cap(0, below, false);
    const int top = cap(high, above, square_above);
    route.add("sew", {{"surfaces", names_of({surface, low, top})}});
}

} // namespace

TEST(Blended, BetweenTubesIsTheStraightTube) {
    for (const bool in_three : {false, true}) {
        Route route;
        const int below = tube_at(route, 20, 0);
        const int above = tube_at(route, 20, 70, in_three);
        route.add("blend",
                  {{"first", Json::array({pick("edge", below, {0, 20, 40})})},
                   {"second", Json::array({pick("edge", above, {20 * std::cos(1.2), 20 * std::sin(1.2), 70})})}});
        close_ends(route, below, 20, 20, 110);
        const auto outcome = route.run();
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_TRUE(is_solid(outcome, below));
        EXPECT_NEAR(outcome.volume(below), 44000 * pi, 1e-6 * 44000 * pi) << in_three;
    }
}

TEST(Blended, ByFirmness) {
    Route route;
    route.parameter("firm", "1", "");
    const int below = tube_at(route, 20, 0);
    const int above = tube_at(route, 30, 70);
    route.add("blend", {{"first", Json::array({pick("edge", below, {0, 20, 40})})},
                        {"second", Json::array({pick("edge", above, {0, 30, 70})})},
                        {"first_firmly", "firm"},
                        {"second_firmly", "firm"}});
    close_ends(route, below, 20, 30, 110);
    for (const double firm : {1.0, 0.5, 2.0}) {
        const auto outcome = route.run({{"firm", format_quantity(firm, "", 6)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        // z = 30 (3 f v (1-v)^2 / 3 + ...) and r = 20 + 10 h, both cubics of v: the integral of r^2 dz by Gauss's rule.
        double blend = 0;
        const std::array<std::array<double, 2>, 5> rule{{{0.0, 0.5688888888888889},
                                                         {0.5384693101056831, 0.4786286704993665},
                                                         {-0.5384693101056831, 0.4786286704993665},
                                                         {0.9061798459386640, 0.2369268850561891},
                                                         {-0.9061798459386640, 0.2369268850561891}}};
        for (const auto& [x, weight] : rule) {
            const double v = (1 + x) / 2;
            const double radius = 20 + 10 * (3 * v * v - 2 * v * v * v);
            const double rise = 30 * (firm * (1 - 4 * v + 3 * v * v) + 6 * (v - v * v) + firm * (3 * v * v - 2 * v));
            blend += weight / 2 * pi * radius * radius * rise;
        }
        if (firm == 1) {
            EXPECT_NEAR(blend, 30 * pi * (600 + 1300.0 / 35), 1e-6);
        }
        const double wanted = pi * 40 * (400 + 900) + blend;
        EXPECT_NEAR(outcome.volume(below), wanted, 1e-6 * wanted) << firm;
    }
}

TEST(Blended, RoundToSquareClosesAndKeepsItsNames) {
    Route route;
    route.parameter("firm", "1", "");
    const int below = tube_at(route, 20, 0);
    Drawing d;
    d.rectangle(-15, -15, 15, 15);
    const int above = route.extrude(route.sketch(d, "xy", 70), region(0, 0), "40 mm", {{"result", "surface"}});
    route.add("blend", {{"first", Json::array({pick("edge", below, {0, 20, 40})})},
                        {"second", Json::array({pick("edge", above, {0, 15, 70})})},
                        {"first_firmly", "firm"}});
    close_ends(route, below, 20, 15, 110, true);
    std::set<std::string> names;
    for (const double firm : {1.0, 0.7, 1.6}) {
        const auto outcome = route.run({{"firm", format_quantity(firm, "", 6)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_TRUE(is_solid(outcome, below));
        EXPECT_EQ(borders(outcome, below), 0U);
        std::set<std::string> now;
        for (const TopoDS_Shape& face : geom::faces_of(outcome.body(std::to_string(below))->shape)) {
            now.insert(outcome.body(std::to_string(below))->names.Find(face).text());
        }
        EXPECT_TRUE(names.empty() || names == now);
        names = now;
    }
}

TEST(Blended, SayWhatIsWrong) {
    Route folds;
    const int below = tube_at(folds, 20, 0);
    const int above = tube_at(folds, 20, 70);
    folds.add("blend", {{"first", Json::array({pick("edge", below, {0, 20, 40})})},
                        {"second", Json::array({pick("edge", above, {0, 20, 70})})},
                        {"first_firmly", "9"},
                        {"second_firmly", "9"}});
    EXPECT_TRUE(folds.run().told("span.folds")) << folds.run().codes();
    Route inner;
    const int box = inner.box(30, 20, 10);
    const int bent = inner.add(
        "copied_faces", {{"faces", Json::array({pick("face", box, {0, 0, 10}), pick("face", box, {15, 0, 5})})}});
    inner.add("blend", {{"first", Json::array({pick("edge", bent, {15, 0, 10})})},
                        {"second", Json::array({pick("edge", bent, {-15, 0, 10})})}});
    EXPECT_TRUE(inner.run().told("border.none")) << inner.run().codes();
}
