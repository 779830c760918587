// What is drawn beside the bodies: phantom lines, hatches, caps. Worked out without a display.
#include "geom/make/stock.h"
#include "geom/measure/measure.h"
#include "scene/preview.h"

#include <gtest/gtest.h>

#include <numbers>

using namespace kervo;
using namespace kervo::scene;

namespace {

const gp_Ax3 here(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));

model::BodyPtr body(const geom::ShapeWithRoles& made, int step) {
    return model::name_fresh(step, made);
}

double length_of(const Polyline3& line) {
    double length = 0;
    for (size_t i = 1; i < line.size(); ++i) {
        length += (line[i] - line[i - 1]).length();
    }
    return length;
}

double length_of(const std::vector<Segment3>& segments) {
    double length = 0;
    for (const auto& segment : segments) {
        length += (segment[1] - segment[0]).length();
    }
    return length;
}

} // namespace

TEST(Preview, LinesOfABoxAndOfARod) {
    const auto box = lines_of(geom::make_box(30, 20, 10, here).shape, 0.01);
    EXPECT_EQ(box.size(), 12u);
    double around = 0;
    for (const auto& line : box) {
        around += length_of(line);
    }
    EXPECT_NEAR(around, 4 * (30 + 20 + 10), 1e-9);
    const auto rod = lines_of(geom::make_cylinder(10, 40, here).shape, 0.001);
    ASSERT_EQ(rod.size(), 2u); // the two rims; where the side closes on itself there is no line
    EXPECT_NEAR(length_of(rod[0]), 10 * std::numbers::pi, 0.05);
}

TEST(Preview, HatchIsAsDenseAsItsSpacingSays) {
    const auto box = geom::make_box(100, 80, 10, here).shape;
    for (const double spacing : {2.0, 5.0}) {
        const auto lines = lines_of_piece(box, spacing);
        double faces = 0;
        for (const TopoDS_Shape& face : geom::faces_of(box)) {
            faces += geom::area_of(face);
        }
        // Lines a distance apart cover an area with their length times that distance.
        EXPECT_NEAR(length_of(lines.hatch) * spacing / faces, 1, 0.06) << spacing;
        EXPECT_FALSE(lines.box.empty());
    }
}

TEST(Preview, CapsLieWhereTheCutawayPasses) {
    const std::vector<std::pair<model::BodyId, model::BodyPtr>> bodies{
        {"10", body(geom::make_box(60, 40, 10, here), 10)},
        {"20", body(geom::make_cylinder(20, 30, here), 20)},
        {"30", body(geom::make_sphere(10, gp_Ax3(gp_Pnt(0, 100, 0), gp_Dir(0, 0, 1))), 30)}};
    model::Cutaway cutaway; // across y, through the origin
    const auto caps = caps_of(cutaway, bodies);
    ASSERT_EQ(caps.size(), 2u); // the ball lies behind it
    EXPECT_EQ(caps[0].body, "10");
    EXPECT_NEAR(caps[0].mesh->area(), 600, 1e-9);
    EXPECT_NEAR(caps[1].mesh->area(), 600, 1e-9);
    for (const Cap& cap : caps) {
        EXPECT_GT(cap.hatch.size(), 5u);
        EXPECT_NEAR(length_of(cap.outline), cap.body == "10" ? 140 : 100, 1e-6);
        for (const auto& segment : cap.hatch) {
            EXPECT_NEAR(segment[0].y, 0, 1e-9);
        }
    }
    // Neighbours are hatched the other way.
    const auto slope = [](const Cap& cap) {
        const auto& s = cap.hatch.front();
        return (s[1].z - s[0].z) / (s[1].x - s[0].x);
    };
    EXPECT_LT(slope(caps[0]) * slope(caps[1]), 0);
    cutaway.left_whole = {"10"};
    EXPECT_EQ(caps_of(cutaway, bodies).size(), 1u);
    cutaway.origin = {0, 500, 0};
    EXPECT_TRUE(caps_of(cutaway, bodies).empty());
}
