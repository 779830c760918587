// A wall with a door and two windows, in metres: openings by their own dimensions, moved together, with what stands in
// them, also when the wall gets lower.
#include "model_fixture.h"

#include <gtest/gtest.h>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

// A rectangle whose lower left corner and size are formulas, measured from the point `from`.
void opening(sketch::Sketch& s, int from, const std::array<double, 4>& drawn,
             const std::array<std::string, 4>& formulas) {
    using enum sketch::ConstraintKind;
    const auto& [x, y, w, h] = drawn;
    const int p[] = {s.add_point(x, y), s.add_point(x + w, y), s.add_point(x + w, y + h), s.add_point(x, y + h)};
    int lines[4];
    for (int i = 0; i < 4; ++i) {
        lines[i] = s.add_line(p[i], p[(i + 1) % 4]);
        s.add_constraint(i % 2 == 0 ? horizontal : vertical, {lines[i]});
    }
    s.add_constraint(horizontal_distance, {from, p[0]}, formulas[0]);
    s.add_constraint(vertical_distance, {from, p[0]}, formulas[1]);
    s.add_constraint(distance, {lines[0]}, formulas[2]);
    s.add_constraint(distance, {lines[3]}, formulas[3]);
}

TEST(Openings, AWallWithADoorAndTwoWindows) {
    Builder b;
    b.set("top", "3 m");
    b.set("door", "1 m");
    b.set("sill", "0.9 m");
    b.set("windows", "4 m");
    const int wall = b.box("10 m", "0.3 m", "top");
    sketch::Sketch s;
    const int corner = s.add_point(-5000, 0);
    s.add_constraint(sketch::ConstraintKind::fixed, {corner});
    opening(s, corner, {-4000, 0, 1000, 2100}, {"1 m", "0", "door", "2.1 m"});
    opening(s, corner, {-1000, 900, 1200, 1200}, {"windows", "sill", "1.2 m", "1.2 m"});
    opening(s, corner, {2000, 900, 1200, 1200}, {"windows + 3 m", "sill", "1.2 m", "1.2 m"});
    SketchStep front;
    front.plane.value = "xz";
    front.offset.text = "0.15 m"; // the plane looks forward, along -y
    front.drawing = s;
    const int drawn = b.step(front);
    const std::vector<sketch::Point2> both{{-400, 1500}, {2600, 1500}};
    const int cut = b.cut(drawn, {{-3500, 1000}, both[0], both[1]}, {std::to_string(wall)}, "walls");
    b.change<Extrude>(cut, [](Extrude& e) { e.extent.way.value = "back"; });
    // What stands in the windows: panes of 60 mm, in the middle of the wall, from the same regions.
    std::vector<BodyId> panes;
    for (const auto& near : both) {
        Extrude pane;
        pane.sketch.step = drawn;
        pane.regions = {{{}, near}};
        pane.extent.from.value = "offset";
        pane.extent.from_offset.text = "-120 mm";
        pane.extent.distance.text = "60 mm";
        pane.extent.way.value = "back";
        panes.push_back(std::to_string(b.step(pane)));
    }
    const auto cubic_metres = [&](const Evaluation& evaluation) {
        return volume_of(evaluation, std::to_string(wall)) / 1e9;
    };
    const auto check = [&](double wanted) {
        const auto evaluation = b.evaluate();
        ASSERT_FALSE(evaluation.failed());
        EXPECT_NEAR(cubic_metres(evaluation), wanted, 1e-9);
        EXPECT_EQ(geom::count(body_of(evaluation, std::to_string(wall))->shape).faces, 18);
        for (const BodyId& pane : panes) { // fills its window, and touches nothing of the wall
            const auto body = body_of(evaluation, pane);
            EXPECT_NEAR(geom::volume_of(body->shape), 1200 * 1200 * 60, 1e-3);
            EXPECT_FALSE(geom::overlap(body->shape, body_of(evaluation, std::to_string(wall))->shape));
            EXPECT_LT(geom::gap_between(body->shape, body_of(evaluation, std::to_string(wall))->shape).width, 1e-6);
        }
    };
    check(7.506);
    b.set("door", "1.2 m");
    check(7.380);
    b.set("windows", "4.5 m");
    check(7.380);
    b.set("top", "2.7 m");
    check(6.480);
    b.set("sill", "1.1 m");
    check(6.480);
}

} // namespace
