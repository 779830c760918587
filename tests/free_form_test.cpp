// Free-form surfaces: control points moved by number, against what each of them weighs; like faces, within what is
// told.
#include "geom/make/form_face.h"
#include "geom/measure/pick.h"
#include "geom/surface/borders.h"
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

namespace {

Json row(const std::string& name, const std::string& makes, const std::vector<std::string>& of,
         const std::array<std::string, 3>& at = {"0", "0", "0"}) {
    return {{"name", name}, {"makes", makes}, {"of", of}, {"at", at}};
}
std::string point(int row, int column) {
    return "p" + std::to_string(row) + "_" + std::to_string(column);
}
// 240 x 240 in twelve patches each way, 20 mm apart, at z = 0.
Json flat(int degree, const Json& rows) {
    const std::string p = std::to_string(degree);
    return {{"width", "240 mm"}, {"depth", "240 mm"},  {"patches_first", "12"}, {"patches_second", "12"},
            {"degree_first", p}, {"degree_second", p}, {"rows", rows}};
}
// A block of 180 x 180 x 40 about the origin, cut by the surface: what is left of it below.
int cut_block(Route& route, int surface) {
    const int block = route.add(
        "stock", {{"shape", "box"}, {"width", "180 mm"}, {"depth", "180 mm"}, {"height", "40 mm"}, {"z", "-20 mm"}});
    route.add(
        "body_cut",
        {{"workpieces", {std::to_string(block)}}, {"cutters", {std::to_string(surface)}}, {"blades_keep", "both"}});
    return block;
}
constexpr double below = 180.0 * 180.0 * 20.0; // mm^3, of the block, by the flat sheet
constexpr double weight = 20.0 * 20.0;         // mm^2: what a control point weighs over evenly spaced knots

Json like(const Json& of, int first, int second, const Json& rows = Json::array()) {
    return {{"made", "face"},
            {"face", Json::array({of})},
            {"patches_first", std::to_string(first)},
            {"patches_second", std::to_string(second)},
            {"rows", rows}};
}
int ball(Route& route, const std::string& diameter) {
    return route.add("stock", {{"shape", "sphere"}, {"diameter", diameter}});
}

} // namespace

TEST(FreeForm, AMovedPointTakesAlongWhatItWeighsAtEveryDegree) {
    for (int degree = 1; degree <= geom::most_form_degree; ++degree) {
        Route route;
        route.parameter("h", "10 mm");
        const int middle = (degree % 2 == 0 ? 10 + degree : 11 + degree) / 2 + 1; // its patches are within the block
        const Json moved = Json::array({row("m1", "move", {point(middle, middle)}, {"0", "0", "h"})});
        const int surface = route.add("free_form", flat(degree, moved));
        const int block = cut_block(route, surface);
        for (const double h : degree < 4 ? std::vector{10.0, -8.0, 0.01} : std::vector{10.0}) {
            const auto outcome = route.run({{"h", mm(h)}});
            expect_volume(outcome, outcome.volume(block), below + weight * h, 1e-9);
        }
    }
}

TEST(FreeForm, RowsRaisedToAParabolaHaveItsArea) {
    for (int degree = 2; degree <= geom::most_form_degree; ++degree) {
        constexpr int patches = 5;
        constexpr double wide = 100;
        Route route;
        route.parameter("h", "30 mm");
        Json rows = Json::array();
        for (int i = 0; i < patches + degree; ++i) {
            std::vector<double> knots; // between which the control point weighs
            for (int k = 1; k <= degree; ++k) {
                knots.push_back(std::clamp(i + k - degree, 0, patches) / double(patches) - 0.5);
            }
            double products = 0; // the square's polar form: the mean of the products of two of them
            for (int a = 0; a < degree; ++a) {
                for (int b = a + 1; b < degree; ++b) {
                    products += knots[a] * knots[b];
                }
            }
            const double height = 1 - 4 * products * 2 / (degree * (degree - 1)); // 1 - (2 t)^2
            std::vector<std::string> all;
            for (int k = 1; k <= 1 + degree; ++k) {
                all.push_back(point(i + 1, k));
            }
            rows.push_back(
                row("m" + std::to_string(i), "move", all, {"0", "0", "h * " + format_quantity(height, "", 12)}));
        }
        const std::string p = std::to_string(degree);
        const int surface = route.add("free_form", {{"width", mm(wide)},
                                                    {"depth", "40 mm"},
                                                    {"patches_first", std::to_string(patches)},
                                                    {"patches_second", "1"},
                                                    {"degree_first", p},
                                                    {"degree_second", p},
                                                    {"rows", rows}});
        for (const double h : {30.0, 1.0, 120.0}) {
            const auto outcome = route.run({{"h", mm(h)}});
            EXPECT_FALSE(outcome.told()) << outcome.codes();
            const double length =
                std::sqrt(wide * wide + 16 * h * h) / 2 + wide * wide / (8 * h) * std::asinh(4 * h / wide);
            EXPECT_NEAR(area(outcome, surface), 40 * length, 1e-7 * 40 * length) << degree << " " << h;
        }
    }
}

TEST(FreeForm, SeveralPointsGoTogetherAndRowsAddUp) {
    Route route;
    const int surface =
        route.add("free_form",
                  flat(3, Json::array({row("m1", "move", {point(7, 7), point(7, 8), point(8, 9)}, {"0", "0", "4 mm"}),
                                       row("m2", "move", {point(7, 8), point(7, 8)}, {"0", "0", "3 mm"})})));
    const int block = cut_block(route, surface);
    const auto outcome = route.run();
    expect_volume(outcome, outcome.volume(block), below + weight * (3 * 4 + 3)); // named twice, moved once
}

TEST(FreeForm, SoftlyThoseAroundGoAlongByTheirDistance) {
    Route route;
    route.parameter("r", "45 mm");
    Json answers = flat(3, Json::array({row("m1", "move_softly", {point(8, 8)}, {"0", "0", "10 mm"})}));
    answers["reach"] = "r";
    const int surface = route.add("free_form", answers);
    const int block = cut_block(route, surface);
    for (const double reach : {45.0, 30.0, 10.0}) {
        double shares = 0; // control points of a flat sheet are 20 mm apart
        for (int i = -3; i <= 3; ++i) {
            for (int k = -3; k <= 3; ++k) {
                const double away = 20 * std::hypot(i, k) / reach;
                shares += away < 1 ? std::pow(1 - away * away, 2) : 0;
            }
        }
        const auto outcome = route.run({{"r", mm(reach)}});
        expect_volume(outcome, outcome.volume(block), below + weight * 10 * shares);
    }
}

TEST(FreeForm, MoreControlPointsDoNotChangeTheShape) {
    const Json moved = row("m1", "move", {point(7, 8)}, {"2 mm", "-3 mm", "10 mm"});
    const auto run = [&](const Json& rows) {
        Route route;
        const int surface = route.add("free_form", flat(3, rows));
        const int block = cut_block(route, surface);
        const auto outcome = route.run();
        return std::array{area(outcome, surface), outcome.volume(block)};
    };
    const auto plain = run(Json::array({moved}));
    const auto finer = run(Json::array({moved, row("f", "more_rows", {}), row("g", "more_columns", {point(3, 3)})}));
    EXPECT_NEAR(finer[0], plain[0], 1e-9 * plain[0]);
    EXPECT_NEAR(finer[1], plain[1], 1e-9 * plain[1]);

    Route route;
    const int surface =
        route.add("free_form", flat(3, Json::array({row("f", "more_rows", {}), row("g", "more_columns", {point(2, 8)}),
                                                    row("m", "move", {point(16, 9)}, {"0", "0", "8 mm"})})));
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_EQ(fact(outcome, surface, "patches"), "24 \u00d7 14"); // the point lies between two patches: both are halved
    EXPECT_EQ(fact(outcome, surface, "control points"), "27 \u00d7 17");
}

TEST(FreeForm, PutIsAPlaceAndMoveIsAWay) {
    Route route;
    const Json corner = Json::array({row("m", "put", {point(1, 1)}, {"-130 mm", "-110 mm", "7 mm"})});
    const int surface = route.add("free_form", flat(2, corner));
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    const auto found = outcome.body(std::to_string(surface));
    EXPECT_LT(geom::distance_to(found->shape, gp_Pnt(-130, -110, 7)), 1e-9); // a corner is on its control point
    EXPECT_GT(geom::distance_to(found->shape, gp_Pnt(-120, -120, 0)), 5);
}

TEST(FreeForm, FollowsAFaceWithinWhatItSays) {
    Route route;
    route.parameter("d", "100 mm");
    const int source = ball(route, "d");
    const int surface = route.add("free_form", like(pick("face", source, {0, 50, 50}), 32, 16));
    for (const double d : {100.0, 60.0, 230.0}) {
        const auto outcome = route.run({{"d", mm(d)}});
        ASSERT_FALSE(outcome.told()) << outcome.codes();
        const auto found = outcome.body(std::to_string(surface));
        const auto radii = [&](double theta, double phi) { // of the place nearest to one of the ball's
            const gp_Pnt at(d / 2 * std::sin(theta) * std::cos(phi), d / 2 * std::sin(theta) * std::sin(phi),
                            d / 2 * (1 + std::cos(theta)));
            return geom::distance_to(found->shape, at);
        };
        for (const double theta : {0.3, 1.1, 2.0}) {
            EXPECT_LT(radii(theta, 0.7), 0.01); // the tolerance
            EXPECT_LT(radii(theta, 3.9), 0.01);
        }
        EXPECT_NEAR(area(outcome, surface), M_PI * d * d, 8 * 0.01 / d * M_PI * d * d);
        EXPECT_TRUE(geom::free_borders(found->shape).empty());
    }
}

TEST(FreeForm, APoleStaysOnePointAndASeamStaysClosed) {
    Route route;
    const int source = ball(route, "100 mm");
    const int surface =
        route.add("free_form", like(pick("face", source, {0, 50, 50}), 16, 8,
                                    Json::array({row("m", "move", {point(1, 1)}, {"0", "0", "-10 mm"}),
                                                 row("n", "move", {point(1, 6), point(16, 6)}, {"5 mm", "0", "0"})})));
    const auto outcome = route.run();
    ASSERT_FALSE(outcome.told()) << outcome.codes();
    const auto found = outcome.body(std::to_string(surface));
    EXPECT_TRUE(geom::free_borders(found->shape).empty());
    EXPECT_LT(geom::distance_to(found->shape, gp_Pnt(0, 0, -10)), 1e-9);
    EXPECT_NEAR(geom::distance_to(found->shape, gp_Pnt(0, 0, 100)), 0, 1e-9); // the other pole
}

TEST(FreeForm, KeepsTheOutlineOfAFaceAndTheNamesBeyondIt) {
    Route route;
    route.parameter("h", "0 mm");
    const int block =
        route.add("stock", {{"shape", "box"}, {"width", "100 mm"}, {"depth", "100 mm"}, {"height", "20 mm"}});
    const int pin =
        route.add("stock", {{"shape", "cylinder"}, {"diameter", "30 mm"}, {"height", "90 mm"}, {"z", "-40 mm"}});
    route.add("body_cut", {{"workpieces", {std::to_string(block)}}, {"cutters", {std::to_string(pin)}}});
    const int surface = route.add("free_form", like(pick("face", block, {40, 40, 20}), 8, 8,
                                                    Json::array({row("m", "move", {point(8, 8)}, {"0", "0", "h"})})));
    const auto level = route.run();
    ASSERT_FALSE(level.told()) << level.codes();
    EXPECT_NEAR(area(level, surface), 100 * 100 - M_PI * 15 * 15, 1e-6);
    const auto names = [&](const Outcome& outcome) {
        std::set<std::string> all;
        const auto body = outcome.body(std::to_string(surface));
        for (const geom::Border& border : geom::free_borders(body->shape)) {
            for (const TopoDS_Edge& edge : border.edges) {
                const model::FaceName* name = body->names.Seek(edge);
                all.insert(name == nullptr ? "" : name->origin);
            }
        }
        return all;
    };
    EXPECT_EQ(names(level).size(), 5u); // four sides and the hole
    EXPECT_FALSE(names(level).contains(""));
    const auto bent = route.run({{"h", "9 mm"}});
    ASSERT_FALSE(bent.told()) << bent.codes();
    EXPECT_EQ(names(bent), names(level));
    EXPECT_GT(area(bent, surface), area(level, surface));
    EXPECT_EQ(geom::free_borders(bent.body(std::to_string(surface))->shape).size(), 2u);
}

TEST(FreeForm, TakesThePlaceOfASurfaceThatIsOneFace) {
    Route route;
    const int rectangle = route.add("stock", {{"shape", "rectangle"}, {"width", "50 mm"}, {"depth", "40 mm"}});
    Json answers = like(pick("face", rectangle, {0, 0, 0}), 4, 4,
                        Json::array({row("m", "put", {point(1, 1)}, {"-25 mm", "-20 mm", "6 mm"})}));
    answers["result"] = "instead";
    route.add("free_form", answers);
    const auto outcome = route.run();
    ASSERT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_LT(geom::distance_to(outcome.body(std::to_string(rectangle))->shape, gp_Pnt(-25, -20, 6)), 1e-9);

    Route of_a_solid;
    const int block = of_a_solid.add("stock", {{"shape", "box"}});
    Json top = like(pick("face", block, {0, 0, 20}), 4, 4);
    top["result"] = "instead";
    of_a_solid.add("free_form", top);
    EXPECT_TRUE(of_a_solid.run().told("form.not_alone"));
}

TEST(FreeForm, SaysWhatItCannotDo) {
    const auto told = [](const Json& answers, const char* code) {
        Route route;
        route.add("free_form", answers);
        const auto outcome = route.run();
        EXPECT_TRUE(outcome.told(code)) << code << ": " << outcome.codes();
    };
    told(flat(3, Json::array({row("m", "move", {"p16_1"})})), "form.no_point");
    told(flat(3, Json::array({row("m", "move", {"p0_1"})})), "form.no_point");
    told(flat(3, Json::array({row("m", "move", {"q"})})), "form.no_point");
    told(flat(3, Json::array({row("m", "move", {})})), "form.nobody");
    told(flat(3, Json::array({row("m", "more_rows", {}), row("m", "more_rows", {})})), "build.name");
    told(flat(8, Json::array()), "form.number");
    told(flat(0, Json::array()), "form.number");
    Json halves = flat(3, Json::array());
    halves["patches_first"] = "2.5";
    told(halves, "form.number");
    Json rows = Json::array();
    for (int i = 0; i < 8; ++i) {
        rows.push_back(row("f" + std::to_string(i), "more_rows", {}));
    }
    told(flat(3, rows), "form.too_many");

    Route route; // a circle is no cubic: the finding offers how many patches would do
    const int source = ball(route, "100 mm");
    const int surface = route.add("free_form", like(pick("face", source, {0, 50, 50}), 8, 8));
    const auto outcome = route.run();
    EXPECT_TRUE(outcome.told("form.off"));
    const auto& findings = outcome.evaluation.report(surface)->findings;
    ASSERT_EQ(findings.front().offers.size(), 1u);
    auto answers = like(pick("face", source, {0, 50, 50}), 8, 8);
    for (const auto& [key, text] : findings.front().offers.front().answers) {
        answers[key] = text;
    }
    Route mended;
    ball(mended, "100 mm");
    mended.add("free_form", answers);
    EXPECT_FALSE(mended.run().told());

    Route closed;
    const int again = ball(closed, "100 mm");
    closed.add("free_form", like(pick("face", again, {0, 50, 50}), 3, 8));
    EXPECT_TRUE(closed.run().told("form.patches"));
}

TEST(FreeForm, ASurfaceThatRunsThroughItselfIsTold) {
    Json all_of_4 = Json::array();
    Json all_of_9 = Json::array();
    for (int i = 1; i <= 15; ++i) {
        all_of_4.push_back(point(5, i));
        all_of_9.push_back(point(11, i));
    }
    for (const std::string wide : {"150 mm", "20 mm"}) {
        Route route;
        route.add("free_form", flat(3, Json::array({row("m", "move", all_of_4, {wide, "0", "30 mm"}),
                                                    row("n", "move", all_of_9, {"-" + wide, "0", "30 mm"})})));
        EXPECT_EQ(route.run().told("form.crosses"), wide == "150 mm");
    }
    // Flat on itself it crosses nothing, and turns over; standing up it does neither.
    for (const std::string up : {"0", "300 mm"}) {
        Route route;
        const std::string aside = up == "0" ? "300 mm" : "30 mm";
        route.add("free_form", flat(3, Json::array({row("m", "move", {point(8, 8)}, {aside, "0", up})})));
        EXPECT_EQ(route.run().told("surface.turns"), up == "0");
    }
    // Near a corner, where nothing is to be seen along the middle.
    Route corner;
    corner.add("free_form",
               flat(3, Json::array({row("m", "move", {point(3, 3), point(3, 4)}, {"90 mm", "0", "30 mm"}),
                                    row("n", "move", {point(6, 3), point(6, 4)}, {"-90 mm", "0", "30 mm"})})));
    EXPECT_TRUE(corner.run().told("form.crosses"));
}
