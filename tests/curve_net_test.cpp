// Surfaces through nets of curves, against the surfaces that the curves were drawn on.
#include "geom/measure/pick.h"
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

namespace {

using Height = std::function<double(double x, double y)>;

Json at(double x, double y, double z) {
    return Json{{"makes", "point"}, {"at", {mm(x), mm(y), mm(z)}}};
}
Json named(std::vector<Json> points) {
    Json rows = Json::array();
    for (size_t i = 0; i < points.size(); ++i) {
        points[i]["name"] = "p" + std::to_string(i + 1);
        rows.push_back(points[i]);
    }
    return rows;
}
// A parabola from (x0, y0) to (x1, y1) on z = f, which is one along it: by the control points of degree two.
int parabola(Route& route, double x0, double y0, double x1, double y1, const Height& f) {
    const double middle = f((x0 + x1) / 2, (y0 + y1) / 2);
    const double z0 = f(x0, y0);
    const double z1 = f(x1, y1);
    const Json rows =
        named({at(x0, y0, z0), at((x0 + x1) / 2, (y0 + y1) / 2, 2 * middle - (z0 + z1) / 2), at(x1, y1, z1)});
    return route.add("space_curve", {{"made", "control"}, {"degree", "2"}, {"rows", rows}});
}
// The middle of a curve at a share of a straight way between its ends.
Json pick_on(int curve, double x, double y, const Height& f) {
    return pick("edge", curve, {x, y, f(x, y)});
}
struct Drawn {
    Route route;
    int surface = 0;
};
// Curves along x at some y, and along y at some x, sticking out by a little; in a mixed order.
Drawn net(const std::vector<double>& xs, const std::vector<double>& ys, const Height& f, double out = 0) {
    Drawn drawn;
    Json curves = Json::array();
    for (size_t i = 0; i < std::max(xs.size(), ys.size()); ++i) {
        if (i < ys.size()) {
            const int id = parabola(drawn.route, xs.front() - out, ys[i], xs.back() + out, ys[i], f);
            curves.push_back(pick_on(id, (xs.front() + xs.back()) / 2, ys[i], f));
        }
        if (i < xs.size()) {
            const int id = parabola(drawn.route, xs[i], ys.back() + out, xs[i], ys.front() - out, f);
            curves.push_back(pick_on(id, xs[i], (ys.front() + ys.back()) / 2, f));
        }
    }
    drawn.surface = drawn.route.add("curve_net", {{"curves", curves}});
    return drawn;
}
double away(const Outcome& outcome, int surface, double x, double y, const Height& f) {
    return geom::distance_to(outcome.body(std::to_string(surface))->shape, gp_Pnt(x, y, f(x, y)));
}

} // namespace

TEST(CurveNet, PassesThroughASurfaceThatItsCurvesLieOn) {
    const Height bowl = [](double x, double y) { return 1e-2 * x * x + 5e-3 * y * y - 0.3 * x; };
    const Height wave = [](double x, double y) { return 4e-6 * x * x * y * y - 2e-3 * x * y; }; // a parabola each way
    for (const double out : {0.0, 7.0}) {
        for (const Height& f : {bowl, wave}) {
            Drawn drawn = net({0, 35, 60}, {0, 20, 45, 80}, f, out);
            const auto outcome = drawn.route.run();
            ASSERT_FALSE(outcome.told()) << outcome.codes();
            for (const double share : {0.03, 0.28, 0.5, 0.77, 0.96}) {
                for (const double y : {0, 20, 45, 80}) {
                    EXPECT_LT(away(outcome, drawn.surface, 60 * share, y, f), 2e-5);
                }
                for (const double x : {0, 35, 60}) {
                    EXPECT_LT(away(outcome, drawn.surface, x, 80 * share, f), 2e-5);
                }
                EXPECT_LT(away(outcome, drawn.surface, 60 * share, 33, f), 0.05); // between them it is near
            }
            EXPECT_EQ(fact(outcome, drawn.surface, "curves"), "4 \u00d7 3");
        }
    }
}

TEST(CurveNet, OfStraightLinesIsTheTwistedSurfaceBetweenThem) {
    const Height twisted = [](double x, double y) { return x * y / 60; };
    Drawn drawn = net({0, 60}, {0, 40}, twisted);
    const auto outcome = drawn.route.run();
    ASSERT_FALSE(outcome.told()) << outcome.codes();
    for (const double share : {0.03, 0.28, 0.5, 0.77, 0.96}) {
        EXPECT_LT(away(outcome, drawn.surface, 60 * share, 40 * (1 - share * share), twisted), 1e-6);
    }
}

TEST(CurveNet, FollowsItsCurves) {
    Route route;
    route.parameter("h", "10 mm");
    Json curves = Json::array();
    const auto line = [&](const std::array<std::string, 3>& from, const std::array<std::string, 3>& to,
                          const Json& near) {
        Json rows = Json::array(
            {{{"name", "p1"}, {"makes", "point"}, {"at", from}}, {{"name", "p2"}, {"makes", "point"}, {"at", to}}});
        const int id = route.add("space_curve", {{"degree", "1"}, {"rows", rows}});
        curves.push_back(pick("edge", id, near));
    };
    line({"0", "0", "0"}, {"30 mm", "0", "0"}, {15, 0, 0});
    line({"0", "20 mm", "h"}, {"30 mm", "20 mm", "h"}, {15, 20, 10});
    line({"0", "0", "0"}, {"0", "20 mm", "h"}, {0, 10, 5});
    line({"30 mm", "0", "0"}, {"30 mm", "20 mm", "h"}, {30, 10, 5});
    const int surface = route.add("curve_net", {{"curves", curves}});
    for (const double h : {10.0, 0.0, 45.0}) {
        const auto outcome = route.run({{"h", mm(h)}});
        ASSERT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(area(outcome, surface), 30 * std::hypot(20, h), 1e-6);
    }
}

TEST(CurveNet, SaysWhichCurvesDoNotMeet) {
    using Places = std::vector<std::array<double, 3>>;
    const auto told = [](const std::vector<Places>& drawn, const char* code) {
        Route route;
        Json curves = Json::array();
        for (const Places& each : drawn) {
            std::vector<Json> points;
            for (const auto& [x, y, z] : each) {
                points.push_back(at(x, y, z));
            }
            const std::string degree = std::to_string(each.size() - 1);
            const int id = route.add("space_curve", {{"made", "control"}, {"degree", degree}, {"rows", named(points)}});
            curves.push_back(pick("edge", id, each.front()));
        }
        route.add("curve_net", {{"curves", curves}});
        const auto outcome = route.run();
        EXPECT_TRUE(outcome.told(code)) << code << ": " << outcome.codes();
    };
    const Places front{{0, 0, 0}, {60, 0, 0}};
    const Places back{{0, 40, 0}, {60, 40, 0}};
    const Places left{{0, 0, 0}, {0, 40, 0}};
    const Places right{{60, 0, 0}, {60, 40, 0}};
    told({front, left, right}, "net.few");
    told({front, back, left, right, {{0, 20, 0}, {60, 20, 0.5}}}, "net.apart"); // half a millimetre over the right one
    told({front, back, left, right, {{0, -5, 0}, {30, 15, 0}, {60, -5, 0}}},
         "net.twice");                                                        // there and back over the front
    told({front, back, left, right, {{70, 0, 0}, {20, 40, 0}}}, "net.order"); // it runs across the right one
    told({front, back, left, right, {{55, 40, 0}, {20, 0, 0}}, {{20, 40, 0}, {55, 0, 0}}}, "net.order"); // each other
    told({front, back, {{20, 0, 0}, {20, 40, 9}}, right}, "net.apart");
}
