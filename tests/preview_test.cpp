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
