// Where the pointer lands, what it is tied to, and what is refused.
#include "sheet.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

using namespace kervo;
using namespace kervo::app;
using sketch::ConstraintKind;
using sketch::CurveKind;
using test::Sheet;

TEST(Snapping, WhereManyCrowdTheNextIsTaken) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::point);
    sheet.click(10, 10);
    sheet.drawing.hover({11, 10}, 0.4);
    sheet.drawing.click({11, 10}, 0.4);
    sheet.settle();
    ASSERT_EQ(sheet.last.points.size(), 2U);
    sheet.drawing.set_tool(DrawTool::line);
    sheet.drawing.hover({10.3, 10.1}, 2);
    ASSERT_EQ(sheet.drawing.crowd().size(), 2U);
    EXPECT_EQ(sheet.drawing.pointer().point, sheet.last.points[0].id);
    EXPECT_TRUE(sheet.drawing.next_of_crowd());
    EXPECT_EQ(sheet.drawing.pointer().point, sheet.last.points[1].id);
    EXPECT_TRUE(sheet.drawing.next_of_crowd()); // and round again
    EXPECT_EQ(sheet.drawing.pointer().point, sheet.last.points[0].id);
    sheet.drawing.next_of_crowd();
    sheet.drawing.hover({10.35, 10.15}, 2); // a hand that trembles
    EXPECT_EQ(sheet.drawing.pointer().point, sheet.last.points[1].id);
    sheet.drawing.hover({9, 10}, 2); // one that moves on
    EXPECT_EQ(sheet.drawing.pointer().point, sheet.last.points[0].id);
    sheet.drawing.hover({60, 60}, 2);
    EXPECT_FALSE(sheet.drawing.next_of_crowd());
    sheet.drawing.set_tool(DrawTool::trim);
    sheet.drawing.hover({10.3, 10.1}, 2);
    EXPECT_FALSE(sheet.drawing.next_of_crowd());
}

TEST(Snapping, TiesAreRefused) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(10, 10);
    sheet.drawing.hover({40, 10.2}, 1);
    EXPECT_EQ(sheet.drawing.pointer().kind, SnapKind::level);
    EXPECT_TRUE(sheet.drawing.refuse_tie());
    EXPECT_TRUE(sheet.drawing.pointer().what.contains("not tied"));
    sheet.drawing.click({40, 10.2}, 1);
    sheet.settle();
    EXPECT_EQ(sheet.count(ConstraintKind::horizontal), 0);
    EXPECT_NEAR(sheet.at(sheet.last.curves[0].id, 1)[1], 10, 1e-12); // where it was suggested
    // Only the one pick was meant.
    sheet.drawing.hover({40.2, 30}, 1);
    EXPECT_EQ(sheet.drawing.pointer().kind, SnapKind::plumb);
    sheet.drawing.refuse_tie();
    sheet.drawing.refuse_tie(); // tied again
    sheet.drawing.click({40.2, 30}, 1);
    sheet.settle();
    EXPECT_EQ(sheet.count(ConstraintKind::vertical), 1);
    // A pick that is not made refuses nothing later.
    sheet.drawing.hover({70, 30.1}, 1);
    sheet.drawing.refuse_tie();
    sheet.drawing.escape();
    sheet.drawing.hover({10.1, 10.1}, 1);
    EXPECT_EQ(sheet.drawing.pointer().kind, SnapKind::end);
    // At an end, but not on it.
    sheet.drawing.hover({10.1, 10.1}, 1);
    sheet.drawing.refuse_tie();
    sheet.drawing.click({10.1, 10.1}, 1);
    sheet.click(5, 40);
    EXPECT_NE(sheet.last.curves[2].points[0], sheet.last.curves[0].points[0]);
    EXPECT_EQ(sheet.at(sheet.last.curves[2].id, 0), sheet.at(sheet.last.curves[0].id, 0));
    EXPECT_EQ(sheet.count(ConstraintKind::coincident), 0);
    sheet.drawing.escape();
    sheet.drawing.escape();
    EXPECT_FALSE(sheet.drawing.refuse_tie()); // nothing is being drawn
}

TEST(Snapping, WhatLiesBesideIsMetButTiesNothing) {
    Sheet sheet;
    Beside plate{"Plate", {sketch::line_between({0, 30}, {50, 30}, 7), sketch::arc_about({80, 30}, 5, 0, 6.28)}, {}};
    plate.points.push_back({-20, -20});
    sheet.drawing.set_beside({plate});
    sheet.drawing.set_tool(DrawTool::line);
    const Snap end = sheet.drawing.snap({50.3, 30.2}, 1);
    EXPECT_EQ(end.kind, SnapKind::end);
    EXPECT_TRUE(end.what.contains("Plate"));
    EXPECT_EQ(end.curve, 0);
    EXPECT_EQ(sheet.drawing.snap({25.1, 30.2}, 1).kind, SnapKind::middle);
    EXPECT_EQ(sheet.drawing.snap({80.2, 30.2}, 1).kind, SnapKind::centre);
    EXPECT_EQ(sheet.drawing.snap({-20.2, -20.1}, 1).kind, SnapKind::end);
    const Snap on = sheet.drawing.snap({13, 30.3}, 1);
    EXPECT_EQ(on.kind, SnapKind::on_curve);
    EXPECT_NEAR(on.at[1], 30, 1e-12);
    sheet.click(25.1, 30.2);
    sheet.click(50.2, 30.1);
    EXPECT_EQ(sheet.last.curves.size(), 1U);
    EXPECT_TRUE(sheet.last.constraints.empty());
    EXPECT_NEAR(sheet.at(sheet.last.curves[0].id, 0)[0], 25, 1e-12);
}

TEST(Snapping, TheGridCountsWhereNothingStandsOut) {
    Sheet sheet;
    sheet.drawing.set_grid(5);
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(10.6, 9.7); // to 10, 10
    sheet.click(30.4, 19.5);
    EXPECT_EQ(sheet.at(sheet.last.curves[0].id, 0), (sketch::Point2{10, 10}));
    EXPECT_EQ(sheet.at(sheet.last.curves[0].id, 1), (sketch::Point2{30, 20}));
    EXPECT_EQ(sheet.drawing.snap({20.4, 15.2}, 1).kind, SnapKind::middle);
    EXPECT_EQ(sheet.drawing.snap({72.3, 52.2}, 1).at, (sketch::Point2{70, 50})); // however far
    sheet.click(49, 20.2);                                                       // on one level with the last place
    EXPECT_EQ(sheet.count(ConstraintKind::horizontal), 1);
    sheet.drawing.set_grid(0);
    EXPECT_EQ(sheet.drawing.snap({70.3, 50.2}, 3).kind, SnapKind::none);
    EXPECT_EQ(round_step(3), 5);
    EXPECT_EQ(round_step(0.02), 0.02);
    EXPECT_NEAR(round_step(0.7), 1, 1e-15);
}

TEST(Snapping, CirclesStayInTouch) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(100, 0);
    sheet.click(140, 0.1);
    sheet.click(100, 30);
    sheet.click(100, 0);
    sheet.drawing.set_tool(DrawTool::circle_touching);
    sheet.click(111.3, 0);
    sheet.click(122, 13.6);
    sheet.drawing.hover({100, 9}, 1);
    EXPECT_EQ(sheet.drawing.rubber().size(), 1U);
    sheet.click(100, 9);
    ASSERT_EQ(sheet.last.curves.size(), 4U);
    EXPECT_EQ(sheet.count(ConstraintKind::tangent), 3);
    EXPECT_NEAR(sheet.last.curves[3].radius, 10, 0.05);
    // A side moves, and the circle follows.
    auto moved = sheet.last;
    moved.add_constraint(ConstraintKind::fixed, {moved.curves[0].points[1]});
    const auto solved = sketch::drag(moved, {}, {{moved.curves[1].points[1], {100, 50}}});
    for (size_t i = 0; i < 3; ++i) {
        const auto side = sketch::stretch_of(solved, solved.curves[i]);
        const auto center = sketch::place_of(solved, solved.curves[3].points[0]);
        EXPECT_NEAR(sketch::nearest_on(side, center).second, solved.curves[3].radius, 1e-7);
    }
    // Nothing touches two places on one line only.
    sheet.drawing.set_tool(DrawTool::circle_touching);
    sheet.click(103.3, 0);
    sheet.click(107, 0.2);
    sheet.click(300, 300);
    EXPECT_EQ(sheet.last.curves.size(), 4U);
    EXPECT_FALSE(sheet.drawing.told().isEmpty());
}

TEST(Snapping, ArcsRunOnFromTheEndOfACurve) {
    for (const double side : {1.0, -1.0}) {
        Sheet sheet;
        sheet.drawing.set_tool(DrawTool::line);
        sheet.click(100, 0);
        sheet.click(120, 0);
        sheet.drawing.set_tool(DrawTool::tangent_arc);
        sheet.click(120, 0);
        sheet.click(130, side * 10);
        ASSERT_EQ(sheet.last.curves.size(), 2U);
        const auto arc = sketch::stretch_of(sheet.last, sheet.last.curves[1]);
        EXPECT_NEAR(arc.radius, 10, 1e-9);
        EXPECT_NEAR(arc.length(), 5 * std::numbers::pi, 1e-8); // a quarter
        EXPECT_NEAR(arc.center[1], side * 10, 1e-9);
        EXPECT_EQ(sheet.count(ConstraintKind::tangent), 1);
        // From the arc on, with a typed radius.
        sheet.click(130, side * 10);
        sheet.drawing.hover({150, side * 40}, 1);
        sheet.type({"25", "", "", "", "", ""});
        ASSERT_EQ(sheet.last.curves.size(), 3U);
        EXPECT_NEAR(sketch::stretch_of(sheet.last, sheet.last.curves[2]).radius, 25, 1e-7);
        EXPECT_EQ(sheet.count(ConstraintKind::radius), 1);
        EXPECT_EQ(sheet.count(ConstraintKind::tangent), 2);
        EXPECT_TRUE(sketch::solve(sheet.last, {}).findings.empty());
    }
    Sheet sheet; // from nowhere, or straight ahead, there is none
    sheet.drawing.set_tool(DrawTool::tangent_arc);
    sheet.click(10, 30);
    sheet.click(20, 40);
    EXPECT_TRUE(sheet.last.curves.empty());
}

TEST(Snapping, ChainsAreClosedAndSplinesTakePoints) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(10, 10);
    sheet.click(50, 12);
    sheet.click(55, 40);
    sheet.drawing.set_tool(DrawTool::close_chain);
    sheet.drawing.hover({30, 11}, 1);
    ASSERT_EQ(sheet.drawing.preview().more.size(), 1U);
    sheet.click(30, 11);
    EXPECT_EQ(sheet.last.curves.size(), 3U);
    EXPECT_TRUE(sheet.drawing.told().contains("1 closed chain"));
    sheet.click(30, 11);
    EXPECT_TRUE(sheet.drawing.told().contains("closed already"));
    sheet.drawing.set_tool(DrawTool::control_spline);
    for (const auto& [x, y] : {std::pair(100, 0), std::pair(120, 20), std::pair(140, -10), std::pair(160, 5)}) {
        sheet.click(x, y);
    }
    sheet.drawing.finish();
    sheet.settle();
    const int id = sheet.last.curves.back().id;
    sheet.drawing.set_tool(DrawTool::spline_point);
    sheet.click(131, 3);
    EXPECT_EQ(sheet.last.curve(id)->points.size(), 5U);
    EXPECT_TRUE(sheet.drawing.told().contains("5 control points"));
    sheet.click(30, 11);
    EXPECT_TRUE(sheet.drawing.told().contains("no spline"));
    sheet.drawing.set_tool(DrawTool::select);
    sheet.drawing.select({sheet.last.curve(id)->points[2]}, false);
    EXPECT_TRUE(sheet.drawing.remove_selected());
    sheet.settle();
    ASSERT_NE(sheet.last.curve(id), nullptr);
    EXPECT_EQ(sheet.last.curve(id)->points.size(), 4U);
}
