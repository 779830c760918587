// Bodies that end at a neighbour; against formulas.
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

namespace {

// A block 80 x 40 x 30, and over it a roof whose lower faces are z = 8 + |x| / 4 for |x| up to `reach`; it is lifted by
// `up`. The roof is thin there, so that its faces alone do not pass through where it is narrow.
struct Roofed {
    Route route;
    int block = 0, roof = 0;
    Json faces;
    explicit Roofed(double reach = 60) {
        route.parameter("up", "0 mm");
        route.parameter("gap", "0 mm");
        block = route.box(80, 40, 30);
        Drawing d;
        d.polygon({{0, 8}, {reach, 8 + reach / 4}, {reach, 60}, {-reach, 60}, {-reach, 8 + reach / 4}});
        roof = route.extrude(route.sketch(d, "xz"), region(0, 40), "60 mm", {{"to", "symmetric"}});
        route.add("place", {{"bodies", {std::to_string(roof)}}, {"way", "amounts"}, {"z", "up"}});
        faces = Json::array({pick("face", roof, {20, 0, 13}), pick("face", roof, {-20, 0, 13})});
    }
    int trim(const std::string& stays, Json more = Json::object()) {
        return route.add(
            "neighbour",
            Route::with({{"workpieces", {std::to_string(block)}}, {"faces", faces}, {"stays", stays}, {"gap", "gap"}},
                        std::move(more)));
    }
};
double below(double z) { // of the block, where the roof's valley is at z
    return 40 * 2 * (z * 40 + 40 * 40 / 8.0);
}

} // namespace

TEST(TrimByNeighbour, FollowsOrIsAsItWas) {
    for (const bool as_before : {false, true}) {
        Roofed roofed;
        roofed.trim("front", {{"state", as_before ? roofed.roof : 0}}); // the lower faces look down
        for (const double up : {0.0, 3.0, -2.0}) {
            const auto outcome = roofed.route.run({{"up", mm(up)}});
            EXPECT_FALSE(outcome.told()) << outcome.codes();
            EXPECT_NEAR(outcome.volume(roofed.block), below(8 + (as_before ? 0 : up)), 1e-9 * 96000);
        }
    }
    Roofed above;
    above.trim("back");
    EXPECT_NEAR(above.route.run().volume(above.block), 96000 - below(8), 1e-5);
}

TEST(TrimByNeighbour, WithAGap) {
    for (const std::string stays : {"front", "back"}) {
        Roofed roofed;
        roofed.trim(stays);
        for (const double gap : {0.0, 3.0, 0.2, 5.0}) {
            const auto outcome = roofed.route.run({{"gap", mm(gap)}});
            EXPECT_FALSE(outcome.told()) << outcome.codes();
            const double apart = gap * std::sqrt(1 + 1 / 16.0); // upright
            const double wanted = stays == "front" ? below(8 - apart) : 96000 - below(8 + apart);
            EXPECT_NEAR(outcome.volume(roofed.block), wanted, 1e-6 * wanted) << stays << gap;
        }
        EXPECT_TRUE(roofed.route.run({{"gap", "-1 mm"}}).told("neighbour.gap"));
    }
    Roofed both;
    both.trim("all");
    EXPECT_NEAR(both.route.run().volume(both.block), 96000, 1e-6);
    EXPECT_TRUE(both.route.run({{"gap", "1 mm"}}).told("neighbour.both_sides"));
}

TEST(TrimByNeighbour, GoesOnAsFarAsItMust) {
    Roofed narrow(30); // the block is 40 wide on either side
    narrow.trim("front");
    const auto outcome = narrow.route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(outcome.volume(narrow.block), below(8), 1e-9 * 96000);
    Roofed left(30);
    left.trim("front", {{"surfaces_reach", "as_they_are"}});
    const auto told = left.route.run();
    EXPECT_TRUE(told.told("surface.short"));
    EXPECT_NE(told.codes().find(format_quantity(10 * std::sqrt(1.0625), "mm")), std::string::npos) << told.codes();
}

TEST(TrimByNeighbour, TwoThatTrimEachOther) {
    Route route; // two bars that run into each other: each ends where the other's end was before it was cut
    const int one = route.box(35, 20, 20, -12.5);
    const int other = route.box(35, 20, 20, 12.5);
    const auto end_at = [&](int body, int by, double x) {
        return route.add("neighbour", {{"workpieces", {std::to_string(body)}},
                                       {"faces", Json::array({pick("face", by, {x, 0, 10})})},
                                       {"state", other},
                                       {"gap", "0.5 mm"},
                                       {"stays", "front"}});
    };
    end_at(one, other, -5);
    end_at(other, one, 5);
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(outcome.volume(one), 24.5 * 400, 1e-6);
    EXPECT_NEAR(outcome.volume(other), 24.5 * 400, 1e-6);
    Route itself;
    const int box = itself.box(20, 20, 20);
    itself.add("neighbour",
               {{"workpieces", {std::to_string(box)}}, {"faces", Json::array({pick("face", box, {10, 0, 10})})}});
    EXPECT_TRUE(itself.run().told("cut.itself"));
}

// A pin that ends at a round neighbour with a gap between: against the integral over its round end.
TEST(TrimByNeighbour, ARoundOne) {
    Route route;
    route.parameter("gap", "1 mm");
    const int drum = route.cylinder(100, 80, 0, 0, -40);
    const int bar = route.box(80, 20, 20, 60, 0, -10); // from x = 20 to 100
    route.add("neighbour", {{"workpieces", {std::to_string(bar)}},
                            {"faces", Json::array({pick("face", drum, {0, 50, 10})})},
                            {"gap", "gap"},
                            {"stays", "front"}});
    for (const double gap : {0.0, 1.0, 4.0}) {
        const auto outcome = route.run({{"gap", mm(gap)}});
        const double r = 50 + gap; // what is left of the middle of its width, times 20 high
        const double inside = 2 * (10 * std::sqrt(r * r - 100) / 2 + r * r / 2 * std::asin(10 / r));
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_NEAR(outcome.volume(bar), 20 * (100 * 20 - inside), 1e-4) << gap;
    }
}
