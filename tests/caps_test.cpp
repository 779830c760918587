// Faces that close what cutaways open: exact ones, and those that triangles give at once. Worked out without a display.
#include "geom/make/stock.h"
#include "geom/view/raster.h"
#include "scene/caps.h"

#include <gtest/gtest.h>

#include <numbers>

using namespace kervo;
using namespace kervo::scene;
using model::Cutaway;
using Form = Cutaway::Form;

namespace {

constexpr double pi = std::numbers::pi;
const gp_Ax3 here(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));

model::BodyPtr body(const geom::ShapeWithRoles& made, int step = 10) {
    return model::name_fresh(step, made);
}

// A body as it is shown.
class Shown {
public:
    explicit Shown(const geom::ShapeWithRoles& made) : body_(body(made)) { shower_.show({body_}); }
    [[nodiscard]] const ShownBody& operator*() const { return *shower_(body_); }

private:
    model::BodyPtr body_;
    BodyShower shower_;
};

double length_of(const std::vector<Segment3>& segments) {
    double length = 0;
    for (const auto& segment : segments) {
        length += (segment[1] - segment[0]).length();
    }
    return length;
}

CapStyle plain(const Cutaway& cutaway) {
    return cap_style({}, cutaway, "10", 1, 100);
}

std::vector<Cap> live(const ShownBody& shown, const std::vector<Cutaway>& cutaways, double fineness = 0.05) {
    return live_caps("10", shown, cutaways, plain, fineness,
                     [](const auto&, const auto&) { return model::Stretches(); });
}

double area_of(const std::vector<Cap>& caps, const std::string& letter = "A") {
    double sum = 0;
    for (const Cap& cap : caps) {
        sum += cap.letter == letter && cap.mesh ? cap.mesh->area() : 0;
    }
    return sum;
}

std::vector<Cap> exact(const model::BodyPtr& of, const Cutaway& cutaway, const CapStyle& style) {
    Progress progress;
    std::vector<Cap> caps;
    const auto opened = model::open_up(*of, {cutaway}, {}, progress);
    for (const model::CutFace& face : opened->faces) {
        caps.push_back(exact_cap("10", face, style, 0.01));
    }
    return caps;
}

} // namespace

TEST(Raster, RowsWithinARing) {
    std::vector<geom::FlatBit> bits;
    constexpr int sides = 720;
    for (const double r : {20.0, 10.0}) {
        for (int i = 0; i < sides; ++i) {
            const auto at = [&](int k) {
                return geom::Flat{r * std::cos(2 * pi * k / sides), r * std::sin(2 * pi * k / sides)};
            };
            bits.push_back({at(i), at(i + 1)});
        }
    }
    double area = 0;
    for (const geom::Span& span : geom::spans_within(bits, 0.01)) {
        area += (span.to - span.from) * 0.01;
    }
    EXPECT_NEAR(area, sides / 2.0 * std::sin(2 * pi / sides) * (400 - 100), 0.15);
    EXPECT_TRUE(geom::spans_within({}, 1).empty());
    // Bits that begin and end on rows, and lie on them.
    const std::vector<geom::FlatBit> square{
        {geom::Flat{0, 0}, {4, 0}}, {geom::Flat{4, 0}, {4, 4}}, {geom::Flat{4, 4}, {0, 4}}, {geom::Flat{0, 4}, {0, 0}}};
    EXPECT_EQ(geom::spans_within(square, 1).size(), 4u);
}

TEST(Caps, LieWhereTheCutawayPasses) {
    Cutaway cutaway; // across y, through the origin
    const auto box = exact(body(geom::make_box(60, 40, 10, here)), cutaway, plain(cutaway));
    ASSERT_EQ(box.size(), 1u);
    EXPECT_NEAR(area_of(box), 600, 1e-9);
    EXPECT_NEAR(length_of(box[0].outline), 140, 1e-6);
    EXPECT_GT(box[0].hatch.size(), 5u);
    for (const auto& segment : box[0].hatch) {
        EXPECT_NEAR(segment[0].y, 0, 1e-9);
    }
    const auto rod = exact(body(geom::make_cylinder(20, 30, here)), cutaway, cap_style({}, cutaway, "10", 0, 100));
    EXPECT_NEAR(area_of(rod), 600, 1e-9);
    // Neighbours are hatched the other way.
    const auto slope = [](const Cap& cap) {
        const auto& s = cap.hatch.front();
        return (s[1].z - s[0].z) / (s[1].x - s[0].x);
    };
    EXPECT_LT(slope(box[0]) * slope(rod[0]), 0);
}

// The length of a hatch times the distance of its lines is the area that it covers.
TEST(Caps, AreFilledAsTheMaterialSays) {
    model::Document document;
    const auto block = body(geom::make_box(60, 40, 50, here));
    const Cutaway cutaway;
    const double area = 60 * 50;
    const auto covered = [&](model::Hatch hatch) {
        document.materials = {{"It", "#123456", 1, hatch, false}};
        document.appearance["10"].material = "It";
        const CapStyle style = cap_style(document, cutaway, "10", 1, 100);
        const auto caps = exact(block, cutaway, style);
        EXPECT_EQ(caps[0].color, "#123456");
        EXPECT_EQ(caps[0].inked, hatch == model::Hatch::filled);
        return length_of(caps[0].hatch) * style.spacing / area;
    };
    EXPECT_NEAR(covered(model::Hatch::lines), 1, 0.02);
    EXPECT_NEAR(covered(model::Hatch::pairs), 2 / 1.6, 0.02);
    EXPECT_NEAR(covered(model::Hatch::crossed), 2 / 1.3, 0.02);
    EXPECT_NEAR(covered(model::Hatch::dashes), 1 / 0.8 * 1.5 / 2.2, 0.06);
    EXPECT_EQ(covered(model::Hatch::filled), 0);
    EXPECT_EQ(covered(model::Hatch::none), 0);
    Cutaway colored;
    colored.fill = "#ff0000";
    EXPECT_EQ(cap_style(document, colored, "10", 1, 100).color, "#ff0000");
}

TEST(LiveCaps, AreWhatTheExactOnesAre) {
    const Shown block(geom::make_box(60, 40, 10, here));
    Cutaway plane;
    EXPECT_NEAR(area_of(live(*block, {plane})), 600, 4);
    plane.normal = {0.8, -0.6, 0}; // aslant, through the middle, from side to side
    EXPECT_NEAR(area_of(live(*block, {plane})), 40 / 0.8 * 10, 5);
    const auto rim = live(*block, {plane});
    ASSERT_EQ(rim.size(), 1u);
    EXPECT_NEAR(length_of(rim[0].outline), 2 * (40 / 0.8 + 10), 1e-3);
    EXPECT_NEAR(length_of(rim[0].hatch) * plain(plane).spacing, 40 / 0.8 * 10, 20);
    plane.origin = {500, 0, 0};
    EXPECT_TRUE(live(*block, {plane}).empty());
    const Shown ball(geom::make_sphere(60, here));
    Cutaway slab;
    slab.form = Form::slab;
    slab.normal = {0, 0, 1};
    slab.origin = {0, 0, 30};
    slab.size[2] = 36;                                                         // circles of radius 24
    EXPECT_NEAR(area_of(live(*ball, {slab})), 2 * pi * 24 * 24, 0.005 * 3619); // of chords
}

TEST(LiveCaps, EndWhereOthersTakeAway) {
    const Shown block(geom::make_box(100, 100, 100, here));
    Cutaway box;
    box.form = Form::box;
    box.normal = {0, 0, 1};
    box.origin = {50, 50, 100};
    box.size = {60, 60, 60};
    const auto caps = live(*block, {box});
    EXPECT_NEAR(area_of(caps), 3 * 30 * 30, 12);
    Cutaway plane;
    plane.letter = "B";
    plane.normal = {1, 0, 0};
    plane.origin = {35, 0, 0}; // takes away half of the notch
    const auto both = live(*block, {box, plane});
    EXPECT_NEAR(area_of(both), 30 * 30 + 2 * 15 * 30, 12);
    EXPECT_NEAR(area_of(both, "B"), 100 * 100 - 30 * 30, 25);
    box.keeps = true; // what is left is the corner alone
    EXPECT_NEAR(area_of(live(*block, {box})), 3 * 30 * 30, 12);
    // What a round one takes away is left out as well.
    Cutaway round;
    round.letter = "C";
    round.form = Form::cylinder;
    round.normal = {1, 0, 0};
    round.origin = {35, 0, 50};
    round.size = {40, 1, 30};
    EXPECT_NEAR(area_of(live(*block, {plane, round}), "B"), 100 * 100 - pi * 400, 30);
}

// A node on the plane counts as in front of it: so a plane through corners or along a face closes too.
TEST(LiveCaps, ThroughCornersAndAlongFaces) {
    const Shown block(geom::make_box(60, 40, 10, here));
    Cutaway plane;
    plane.normal = {40, -60, 0}; // through two upright edges
    EXPECT_NEAR(area_of(live(*block, {plane})), std::hypot(60, 40) * 10, 8);
    plane.normal = {0, 0, 1};
    for (const double z : {0.0, 10.0}) { // on a face: a hair off it lies all of it, or nothing
        plane.origin = {0, 0, z};
        const double area = area_of(live(*block, {plane}));
        EXPECT_TRUE(std::fabs(area - 2400) < 8 || area == 0) << area;
    }
    const Shown sheet(geom::make_rectangle(100, 80, here));
    plane.normal = {1, 0, 0};
    plane.origin = {10, 0, 0};
    const auto lines = live(*sheet, {plane});
    ASSERT_EQ(lines.size(), 1u);
    EXPECT_FALSE(lines[0].mesh); // a surface has no inside
    EXPECT_NEAR(length_of(lines[0].outline), 80, 1e-6);
}

TEST(InsideOf, ClosedBodies) {
    const Shown ball(geom::make_sphere(60, here));
    const auto through = inside_of(*ball, {{0, 18, -100}, {0, 0, 1}});
    ASSERT_EQ(through.size(), 1u);
    EXPECT_NEAR(through[0][0], 100 + 30 - 24, 0.05);
    EXPECT_NEAR(through[0][1], 100 + 30 + 24, 0.05);
    EXPECT_TRUE(inside_of(*ball, {{0, 31, -100}, {0, 0, 1}}).empty());
    const Shown ring(geom::make_ring(80, 20, here));
    EXPECT_EQ(inside_of(*ring, {{-100, 0, 10}, {1, 0, 0}}).size(), 2u);
}
