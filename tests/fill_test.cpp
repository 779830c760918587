// Surfaces in closed borders, and how they meet what is beside them.
#include "geom/measure/pick.h"
#include "geom/surface/borders.h"
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

namespace {

int fill(Route& route, const Json& border, const std::string& meets, const std::string& result = "sewn") {
    return route.add("fill", {{"border", border}, {"meets", meets}, {"result", result}});
}
// The skin of a cylinder about the z axis, without its ends.
int tube(Route& route, const std::string& diameter, double height) {
    const int body = route.add("stock", {{"shape", "cylinder"}, {"diameter", diameter}, {"height", mm(height)}});
    return route.add("copied_faces", {{"faces", Json::array({pick("face", body, {0, 20, height / 2})})}});
}
size_t borders(const Outcome& outcome, int id) {
    const auto found = outcome.body(std::to_string(id));
    return found ? geom::free_borders(found->shape).size() : 99;
}

} // namespace

TEST(Fill, FourStraightEdgesThatAreFlat) {
    Route route;
    route.parameter("w", "80 mm");
    const int block = route.add("stock", {{"shape", "box"}, {"width", "w"}, {"depth", "60 mm"}, {"height", "20 mm"}});
    const int lid = fill(route,
                         Json{pick("edge", block, {0, -30, 20}), pick("edge", block, {40, 0, 20}),
                              pick("edge", block, {0, 30, 20}), pick("edge", block, {-40, 0, 20})},
                         "touching", "apart");
    for (const double w : {80.0, 7.0, 400.0}) {
        const auto outcome = route.run({{"w", mm(w)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(area(outcome, lid), w * 60, 1e-9 * w * 60);
        EXPECT_EQ(borders(outcome, lid), 1u);
    }
}

TEST(Fill, TwoRimsAreClosedToASolidCan) {
    Route route;
    route.parameter("d", "40 mm");
    const int skin = tube(route, "d", 30);
    fill(route, Json{pick("edge", skin, {0, 20, 0})}, "touching");
    fill(route, Json{pick("edge", skin, {0, 20, 30})}, "touching");
    for (const double d : {40.0, 12.0, 90.0}) {
        const auto outcome = route.run({{"d", mm(d)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_EQ(borders(outcome, skin), 0u);
        const double wanted = pi * d * 30 + 2 * pi * d * d / 4;
        EXPECT_NEAR(area(outcome, skin), wanted, 1e-6 * wanted);
    }
}

TEST(Fill, TangentLidOfATubeIsRound) {
    Route route;
    route.parameter("f", "1", "");
    const int skin = tube(route, "40 mm", 30);
    const int lid = route.add("fill", {{"border", Json{pick("edge", skin, {0, 20, 30})}}, {"firmly", "f"}});
    // Straight on from the rim, over half a turn: a cubic rises by 3/8 of both its tangents, which are two chords long.
    for (const double firmness : {1.0, 0.5, 1.4}) {
        const auto outcome = route.run({{"f", std::to_string(firmness)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_EQ(borders(outcome, skin), 1u);
        const auto body = outcome.body(std::to_string(skin));
        EXPECT_LT(geom::distance_to(body->shape, gp_Pnt(0, 0, 30 + 20 * firmness)), 1e-6);
    }
    EXPECT_TRUE(route.run({{"f", "0"}}).told("span.firmness"));
    EXPECT_EQ(lid, 30);
}

TEST(Fill, HoleOfABallIsFilledAsABall) {
    Route route;
    route.parameter("z", "80 mm");
    const int body = route.add("stock", {{"shape", "sphere"}, {"diameter", "100 mm"}});
    const int skin = route.add("copied_faces", {{"faces", Json::array({pick("face", body, {50, 0, 50})})}});
    const int cut = route.add("blade", {{"result", "cut"},
                                        {"plane", "principal"},
                                        {"principal", "xy"},
                                        {"offset", "z"},
                                        {"workpieces", {std::to_string(skin)}},
                                        {"keeps", "back"}});
    const int filled = fill(route, Json{pick("edge", skin, {0, 40, 80})}, "tangent");
    EXPECT_LT(cut, filled);
    for (const double z : {80.0, 95.0, 60.0}) {
        const auto outcome = route.run({{"z", mm(z)}});
        EXPECT_TRUE(outcome.evaluation.report(filled)->findings.empty()) << outcome.codes();
        EXPECT_EQ(borders(outcome, skin), 0u);
        const double ball = 4 * pi * 50 * 50;
        EXPECT_NEAR(area(outcome, skin), ball, 4e-3 * ball); // a cubic is no circle, but comes near
    }
}

TEST(Fill, BordersThatDoNotCloseAreTold) {
    Route route;
    const int block = route.box(80, 60, 20);
    fill(route, Json{pick("edge", block, {0, -30, 20}), pick("edge", block, {40, 0, 20})}, "touching", "apart");
    EXPECT_TRUE(route.run().told("fill.open"));
    Route two;
    const int box = two.box(80, 60, 20);
    const int other = two.box(10, 10, 10, 100);
    fill(two,
         Json{pick("edge", box, {0, -30, 20}), pick("edge", box, {40, 0, 20}), pick("edge", box, {0, 30, 20}),
              pick("edge", box, {-40, 0, 20}), pick("edge", other, {100, -5, 10}), pick("edge", other, {105, 0, 10}),
              pick("edge", other, {100, 5, 10}), pick("edge", other, {95, 0, 10})},
         "touching", "apart");
    EXPECT_TRUE(two.run().told("fill.several"));
    Route solid;
    const int body = solid.box(80, 60, 20);
    const Json rim{pick("edge", body, {0, -30, 20}), pick("edge", body, {40, 0, 20}), pick("edge", body, {0, 30, 20}),
                   pick("edge", body, {-40, 0, 20})};
    fill(solid, rim, "tangent", "apart");
    EXPECT_TRUE(solid.run().told("fill.beside"));
    Route sewn;
    sewn.box(80, 60, 20);
    fill(sewn, rim, "touching", "sewn");
    EXPECT_TRUE(sewn.run().told("fill.no_surface"));
}

namespace {

double measured(const Outcome& outcome, int id) {
    const auto& values = outcome.evaluation.report(id)->output->measured;
    return values.empty() ? -1 : values.begin()->second.value;
}
int along(Route& route, int body, std::array<double, 3> near, const std::string& differs, const std::string& name) {
    return route.add("measure", {{"what", "continuity"},
                                 {"seam", Json::array({pick("edge", body, near)})},
                                 {"differs", differs},
                                 {"parameter", name}});
}

} // namespace

TEST(Continuity, CornersTurnAndRoundsBend) {
    Route route;
    route.parameter("r", "5 mm");
    const int block = route.box(80, 60, 20);
    const int corner = along(route, block, {0, -30, 20}, "angle", "corner");
    route.add("round_edges", {{"edges", Json::array({pick("edge", block, {40, 0, 20})})}, {"radius", "r"}});
    const int turned = along(route, block, {35, 0, 20}, "angle", "turned");
    const int bent = along(route, block, {35, 0, 20}, "bend", "bent");
    const int apart = along(route, block, {35, 0, 20}, "gap", "apart");
    for (const double r : {5.0, 2.0, 15.0}) {
        const auto outcome = route.run({{"r", mm(r)}});
        EXPECT_NEAR(measured(outcome, corner), pi / 2, 1e-9) << outcome.codes();
        EXPECT_NEAR(measured(outcome, turned), 0, 1e-9) << outcome.codes();
        EXPECT_NEAR(measured(outcome, bent), 1 / r, 1e-9);
        EXPECT_NEAR(measured(outcome, apart), 0, 1e-9);
    }
}

TEST(Continuity, OfALidOnATube) {
    Route route;
    const int skin = tube(route, "40 mm", 30);
    fill(route, Json{pick("edge", skin, {0, 20, 30})}, "tangent");
    const int turned = along(route, skin, {0, 20, 30}, "angle", "turned");
    const int bent = along(route, skin, {0, 20, 30}, "bend", "bent");
    const auto outcome = route.run();
    EXPECT_LT(measured(outcome, turned), 1e-4) << outcome.codes();
    // The tube is straight up there; the lid is a cubic with its poles at 0, 80/3 up, and as far in as the chord.
    const double up = 40.0 * 2 / 3 / 2; // of the first pole of the half, above the rim
    const double in = 10;               // of the second, beside the first
    EXPECT_NEAR(measured(outcome, bent), 2.0 / 3 * in / (up * up), 1e-3);
    EXPECT_TRUE(route.run().told("measure.continuity"));
    const int rim = along(route, skin, {0, 20, 0}, "angle", "rim");
    EXPECT_TRUE(route.run().told("measure.no_seam"));
    EXPECT_EQ(rim, 60);
}
