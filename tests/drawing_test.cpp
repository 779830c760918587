// Drawing by tools, without a window: snapping, typed sizes, constraints, and what a click makes of it all.
#include "sheet.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

using namespace kervo;
using namespace kervo::app;
using sketch::ConstraintKind;
using sketch::CurveKind;
using sketch::Point2;
using test::Sheet;

TEST(Drawing, LinesRunEndToEndAndClose) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(10, 10);
    sheet.click(40, 10.3); // nearly level
    sheet.click(40.2, 30); // nearly plumb
    sheet.click(10.1, 10); // back on the first point
    ASSERT_EQ(sheet.last.curves.size(), 3u);
    EXPECT_EQ(sheet.last.points.size(), 3u); // ends are shared, not doubled
    EXPECT_EQ(sheet.count(ConstraintKind::horizontal), 1);
    EXPECT_EQ(sheet.count(ConstraintKind::vertical), 1);
    EXPECT_NEAR(sheet.at(sheet.last.curves[0].id, 1)[1], 10, 1e-9);
    EXPECT_TRUE(sheet.drawing.asks_for().empty()); // the chain ended where it began
    EXPECT_EQ(sketch::find_regions(sheet.last).size(), 1u);
}

TEST(Drawing, TypedLengthsBecomeDimensions) {
    Sheet sheet;
    sheet.parameters["reach"] = {55, length_dimension, false};
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(0.2, 0.1); // snaps to the origin
    sheet.drawing.hover({20, 20}, 1);
    EXPECT_EQ(sheet.drawing.asks_for().size(), 1u);
    sheet.type({"reach"});
    ASSERT_EQ(sheet.last.curves.size(), 1u);
    const Point2 end = sheet.at(sheet.last.curves[0].id, 1);
    EXPECT_NEAR(std::hypot(end[0], end[1]), 55, 1e-9);
    EXPECT_NEAR(end[0], end[1], 1e-6); // in the direction of the pointer
    EXPECT_EQ(sheet.count(ConstraintKind::fixed), 1);
    EXPECT_EQ(sheet.count(ConstraintKind::distance), 1);
    sheet.parameters["reach"].value = 10;
    sheet.settle();
    const Point2 shorter = sheet.at(sheet.last.curves[0].id, 1);
    EXPECT_NEAR(std::hypot(shorter[0], shorter[1]), 10, 1e-9);
}

TEST(Drawing, RectanglesKeepTheirShape) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::rectangle);
    sheet.click(5, 5);
    sheet.drawing.hover({30, -10}, 1); // to the right and down
    EXPECT_EQ(sheet.drawing.asks_for().size(), 2u);
    sheet.type({"24", "12 mm"});
    ASSERT_EQ(sheet.last.curves.size(), 4u);
    const auto regions = sketch::find_regions(sheet.last);
    ASSERT_EQ(regions.size(), 1u);
    EXPECT_NEAR(regions[0].area, 24 * 12, 1e-9);
    EXPECT_TRUE(regions[0].contains({20, 0}));
    const auto solution = sketch::solve(sheet.last, {});
    EXPECT_EQ(solution.degrees_of_freedom, 2); // only its place is free
    EXPECT_EQ(solution.redundant, 0);
}

TEST(Drawing, RectanglesWithOneTypedSide) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::rectangle);
    sheet.click(0, 0);
    sheet.drawing.hover({30, 20}, 1);
    sheet.type({"", "7"});
    const auto regions = sketch::find_regions(sheet.last);
    ASSERT_EQ(regions.size(), 1u);
    EXPECT_NEAR(regions[0].area, 30 * 7, 1e-6);
    EXPECT_EQ(sheet.count(ConstraintKind::distance), 1);
}

TEST(Drawing, CirclesAndArcs) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::circle);
    sheet.click(20, 0);
    sheet.drawing.hover({26, 0}, 1);
    sheet.type({"9"});
    ASSERT_EQ(sheet.last.curves.size(), 1u);
    EXPECT_NEAR(sheet.last.curves[0].radius, 4.5, 1e-9);
    sheet.click(20.3, 0.2); // the centre that is there
    sheet.click(28, 0);
    ASSERT_EQ(sheet.last.curves.size(), 2u);
    EXPECT_EQ(sheet.last.curves[0].points[0], sheet.last.curves[1].points[0]);
    EXPECT_NEAR(sheet.last.curves[1].radius, 8, 1e-6);
    sheet.drawing.set_tool(DrawTool::arc);
    sheet.click(-20, 0);
    sheet.click(-10, 0);
    sheet.click(-20, 14); // only its direction counts
    ASSERT_EQ(sheet.last.curves.size(), 3u);
    EXPECT_EQ(sheet.last.curves[2].kind, CurveKind::arc);
    const Point2 end = sheet.at(sheet.last.curves[2].id, 2);
    EXPECT_NEAR(end[0], -20, 1e-6);
    EXPECT_NEAR(end[1], 10, 1e-6);
}

TEST(Drawing, SnapsToWhatIsThere) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(10, 5);
    sheet.click(30, 5);
    sheet.drawing.escape();
    EXPECT_EQ(sheet.drawing.snap({10.4, 5.2}, 1).what, "end");
    EXPECT_EQ(sheet.drawing.snap({20.2, 5.3}, 1).what, "middle");
    EXPECT_EQ(sheet.drawing.snap({14, 5.4}, 1).what, "on curve");
    EXPECT_NEAR(sheet.drawing.snap({14, 5.4}, 1).at[1], 5, 1e-9);
    EXPECT_EQ(sheet.drawing.snap({0.3, 0.3}, 1).what, "origin");
    EXPECT_TRUE(sheet.drawing.snap({100, 100}, 1).what.isEmpty());
    // A line that ends on another stays on it.
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(14, 20);
    sheet.click(17, 5.3);
    EXPECT_EQ(sheet.count(ConstraintKind::coincident), 1);
    EXPECT_NEAR(sheet.at(sheet.last.curves[1].id, 1)[1], 5, 1e-9);
}

TEST(Drawing, EscapeStepsBackByOne) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::circle);
    sheet.drawing.click({5, 5}, 1);
    EXPECT_EQ(sheet.drawing.placed().size(), 1u);
    EXPECT_TRUE(sheet.drawing.escape()); // what is half drawn
    EXPECT_TRUE(sheet.drawing.placed().empty());
    EXPECT_EQ(sheet.drawing.tool(), DrawTool::circle);
    EXPECT_TRUE(sheet.drawing.escape()); // the tool
    EXPECT_EQ(sheet.drawing.tool(), DrawTool::select);
    EXPECT_FALSE(sheet.drawing.escape());
    EXPECT_EQ(sheet.commits, 0); // nothing was drawn and nothing was lost
}

TEST(Drawing, SelectingConstrainingRemoving) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(0, 0);
    sheet.click(20, 4);
    sheet.drawing.escape();
    sheet.click(0, 10);
    sheet.click(22, 17);
    sheet.drawing.set_tool(DrawTool::select);
    sheet.click(10, 2);
    sheet.click(11, 13.5);
    EXPECT_EQ(sheet.drawing.selected().size(), 2u);
    EXPECT_TRUE(sheet.drawing.constrain(ConstraintKind::parallel).isEmpty());
    sheet.settle();
    const auto heading = [&](size_t curve) {
        const Point2 a = sheet.at(sheet.last.curves[curve].id, 0);
        const Point2 b = sheet.at(sheet.last.curves[curve].id, 1);
        return std::atan2(b[1] - a[1], b[0] - a[0]);
    };
    EXPECT_NEAR(heading(0), heading(1), 1e-9);
    EXPECT_TRUE(sheet.drawing.selected().empty());
    EXPECT_FALSE(sheet.drawing.constrain(ConstraintKind::tangent).isEmpty()); // nothing is selected
    sheet.click(sheet.at(sheet.last.curves[0].id, 1)[0], sheet.at(sheet.last.curves[0].id, 1)[1]);
    EXPECT_FALSE(sheet.drawing.constrain(ConstraintKind::parallel).isEmpty()); // a point is never parallel
    EXPECT_TRUE(sheet.drawing.remove_selected());
    sheet.settle();
    EXPECT_EQ(sheet.last.curves.size(), 1u); // the line on that point went with it
    EXPECT_EQ(sheet.count(ConstraintKind::parallel), 0);
}

TEST(Drawing, DimensionsFitWhatIsSelected) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(2, 2);
    sheet.click(32, 2.2);
    sheet.click(32.1, 22);
    sheet.drawing.escape();
    sheet.drawing.set_tool(DrawTool::circle);
    sheet.click(60, 0);
    sheet.click(66, 0);
    sheet.drawing.set_tool(DrawTool::dimension);
    EXPECT_FALSE(sheet.drawing.dimension_of_selection());
    sheet.click(17, 2);
    ASSERT_TRUE(sheet.drawing.dimension_of_selection());
    EXPECT_EQ(sheet.drawing.dimension_of_selection()->first, ConstraintKind::distance);
    EXPECT_NEAR(sheet.drawing.dimension_of_selection()->second, 30, 1e-6);
    sheet.click(32, 12); // and the other line: the angle between them
    ASSERT_TRUE(sheet.drawing.dimension_of_selection());
    EXPECT_EQ(sheet.drawing.dimension_of_selection()->first, ConstraintKind::angle);
    EXPECT_NEAR(std::fabs(sheet.drawing.dimension_of_selection()->second), std::numbers::pi / 2, 1e-6);
    sheet.click(17, 2);
    sheet.click(32, 12);
    sheet.click(66, 0);
    EXPECT_EQ(sheet.drawing.dimension_of_selection()->first, ConstraintKind::diameter);
    sheet.drawing.constrain(ConstraintKind::diameter, "20");
    sheet.settle();
    EXPECT_NEAR(sheet.last.curves.back().radius, 10, 1e-9);
}

TEST(Drawing, RubberShowsWhatAClickWouldMake) {
    Sheet sheet;
    EXPECT_TRUE(sheet.drawing.rubber().empty());
    sheet.drawing.set_tool(DrawTool::rectangle);
    sheet.click(0, 20);
    sheet.drawing.hover({30, 40}, 1);
    double around = 0;
    for (const auto& stretch : sheet.drawing.rubber()) {
        around += stretch.length();
    }
    EXPECT_NEAR(around, 2 * (30 + 20), 1e-9);
    sheet.drawing.set_tool(DrawTool::circle);
    sheet.click(50, 50);
    sheet.drawing.hover({56, 58}, 1);
    ASSERT_EQ(sheet.drawing.rubber().size(), 1u);
    EXPECT_NEAR(sheet.drawing.rubber()[0].length(), 20 * std::numbers::pi, 1e-9);
    for (const DrawTool tool : {DrawTool::select, DrawTool::line, DrawTool::rectangle, DrawTool::circle, DrawTool::arc,
                                DrawTool::dimension}) {
        sheet.drawing.set_tool(tool);
        EXPECT_FALSE(sheet.drawing.hint().isEmpty());
    }
}

TEST(Drawing, SnapsWhereCurvesMeetTouchAndStandSquare) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::circle);
    sheet.click(0, 0);
    sheet.click(10, 0.2);
    const double radius = sheet.last.curves[0].radius;
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(-30, 6);
    sheet.click(30, 7);
    sheet.drawing.escape();
    EXPECT_EQ(sheet.drawing.snap({0.3, radius + 0.2}, 1).what, "quadrant");
    const Snap crossing = sheet.drawing.snap({std::sqrt(radius * radius - 44) + 0.4, 6.5}, 1);
    EXPECT_EQ(crossing.what, "crossing");
    EXPECT_NEAR(sketch::distance(crossing.at, {0, 0}), radius, 1e-9);
    // From a place outside, the circle is touched, and stays so.
    sheet.click(30, -20);
    const double apart = std::hypot(30, 20);
    const double angle = std::atan2(-20, 30) - std::acos(radius / apart);
    sheet.click(radius * std::cos(angle) + 0.1, radius * std::sin(angle) - 0.1);
    EXPECT_EQ(sheet.count(ConstraintKind::tangent), 1);
    const auto line = sketch::stretch_of(sheet.last, sheet.last.curves.back());
    EXPECT_NEAR(line.length(), std::sqrt(apart * apart - radius * radius), 1e-6);
    sheet.drawing.escape();
    // And square to the other line.
    sheet.click(5, 25);
    sheet.click(5.4, 6.8);
    EXPECT_EQ(sheet.count(ConstraintKind::perpendicular), 1);
    EXPECT_TRUE(sketch::solve(sheet.last, {}).findings.empty());
}

TEST(Drawing, PlacesAreTypedByCoordinatesStepsAndAngles) {
    Sheet sheet;
    sheet.parameters["reach"] = {15, length_dimension, false};
    sheet.drawing.set_tool(DrawTool::line);
    EXPECT_EQ(sheet.drawing.asks_for_place().size(), 2U); // x and y
    sheet.type({"10 mm", "2 cm"});
    ASSERT_EQ(sheet.drawing.placed().size(), 1U);
    ASSERT_EQ(sheet.drawing.asks_for().size(), 1U);       // the length ...
    ASSERT_EQ(sheet.drawing.asks_for_place().size(), 5U); // ... angle, right, up, x, y
    sheet.type({"", "", "30", "", "", ""});               // 30 to the right
    ASSERT_EQ(sheet.last.curves.size(), 1U);
    EXPECT_NEAR(sheet.at(sheet.last.curves[0].id, 0)[0], 10, 1e-12);
    EXPECT_NEAR(sheet.at(sheet.last.curves[0].id, 1)[0], 40, 1e-9);
    EXPECT_NEAR(sheet.at(sheet.last.curves[0].id, 1)[1], 20, 1e-9);
    sheet.type({"reach", "90 deg", "", "", "", ""}); // its length straight up
    ASSERT_EQ(sheet.last.curves.size(), 2U);
    EXPECT_EQ(sheet.count(ConstraintKind::vertical), 1);
    EXPECT_EQ(sheet.count(ConstraintKind::distance), 1);
    EXPECT_NEAR(sheet.at(sheet.last.curves[1].id, 1)[1], 35, 1e-9);
    sheet.type({"", "", "", "", "-5", "50"}); // to a place
    ASSERT_EQ(sheet.last.curves.size(), 3U);
    EXPECT_NEAR(sheet.at(sheet.last.curves[2].id, 1)[0], -5, 1e-12);
    EXPECT_EQ(sheet.count(ConstraintKind::fixed), 2); // where it starts and where it ends
    sheet.type({"", "", "", "", "3 deg", ""});        // no length: nothing happens
    EXPECT_EQ(sheet.last.curves.size(), 3U);
    // An angle alone keeps as far out as the pointer is.
    sheet.drawing.hover({-5, 70}, 1);
    sheet.type({"", "180", "", "", "", ""});
    ASSERT_EQ(sheet.last.curves.size(), 4U);
    EXPECT_NEAR(sheet.at(sheet.last.curves[3].id, 1)[0], -25, 1e-9);
    EXPECT_EQ(sheet.count(ConstraintKind::horizontal), 1);
    sheet.drawing.set_tool(DrawTool::trim);
    EXPECT_TRUE(sheet.drawing.asks_for_place().empty());
}

TEST(Drawing, KeptStraightThePointerGoesInWholeSteps) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(100, 0);
    sheet.drawing.keep_straight(true);
    sheet.click(120, 5.3); // nearly 15 degrees
    const Point2 end = sheet.at(sheet.last.curves[0].id, 1);
    EXPECT_NEAR(std::atan2(end[1], end[0] - 100), std::numbers::pi / 12, 1e-12);
    sheet.click(end[0] + 1, 40);
    EXPECT_EQ(sheet.count(ConstraintKind::vertical), 1);
    sheet.drawing.keep_straight(false);
    sheet.click(90, 47);
    EXPECT_NEAR(sheet.at(sheet.last.curves[2].id, 1)[1], 47, 1e-12);
}

TEST(Drawing, WordsAreTypedWhereTheyStart) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::text);
    sheet.click(5, 5);
    ASSERT_EQ(sheet.drawing.asks_for().size(), 2U);
    sheet.drawing.hover({30, 5.2}, 1);
    EXPECT_GT(sheet.drawing.rubber().size(), 10U); // the words are shown before they are placed
    sheet.type({"N = 30", "4 mm"});                // no assignment: these are words
    ASSERT_EQ(sheet.last.figures.size(), 1U);
    const int id = sheet.last.figures[0].id;
    EXPECT_EQ(sheet.last.figures[0].text, "N = 30");
    EXPECT_EQ(sheet.last.figures[0].size.value, 4);
    EXPECT_EQ(sheet.count(ConstraintKind::horizontal), 1);
    EXPECT_EQ(sheet.drawing.figures().size(), 1U);
    // The next words start out as large as the last; typed at once, they run to the right.
    sheet.click(5, 20);
    sheet.type({"E", ""});
    ASSERT_EQ(sheet.last.figures.size(), 2U);
    EXPECT_EQ(sheet.last.figures[1].size.formula.text, "4 mm");
    EXPECT_EQ(sheet.count(ConstraintKind::horizontal), 2);
    // A click on a letter selects the words; Delete takes them away, points and all.
    sheet.drawing.set_tool(DrawTool::select);
    const Point2 on_letter = sheet.drawing.figures()[0].stretches[0].at(0.5);
    sheet.click(on_letter[0], on_letter[1]);
    EXPECT_EQ(sheet.drawing.selected(), std::set{id});
    EXPECT_FALSE(sheet.drawing.dimension_of_selection());
    EXPECT_FALSE(sheet.drawing.constrain(ConstraintKind::horizontal).isEmpty());
    EXPECT_TRUE(sheet.drawing.remove_selected());
    sheet.settle();
    EXPECT_EQ(sheet.last.figures.size(), 1U);
    EXPECT_EQ(sheet.last.points.size(), 2U);
}

TEST(Drawing, WordsThatStartOnACurveFollowIt) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::circle);
    sheet.click(0, 0);
    sheet.click(20, 0);
    const int circle = sheet.last.curves[0].id;
    sheet.drawing.set_tool(DrawTool::text);
    sheet.click(0.2, 20.1); // the quadrant
    sheet.type({"SHUTTER", "3"});
    ASSERT_EQ(sheet.last.figures.size(), 1U);
    EXPECT_EQ(sheet.last.figures[0].along, circle);
    for (const auto& outline : sheet.drawing.figures()) {
        for (const auto& stretch : outline.stretches) {
            EXPECT_LT(std::fabs(std::hypot(stretch.start[0], stretch.start[1]) - 20), 4.5);
        }
    }
}

TEST(Drawing, RowsAndRingsKeepTheirFormulas) {
    Sheet sheet;
    sheet.parameters["holes"] = {5, plain_number, false};
    sheet.drawing.set_tool(DrawTool::circle);
    sheet.click(20, 0);
    sheet.click(22, 0);
    sheet.drawing.set_tool(DrawTool::select);
    sheet.click(20, 2);
    ASSERT_EQ(sheet.drawing.selected().size(), 1U);
    sheet.drawing.set_tool(DrawTool::repeat_ring);
    sheet.click(0, 0);
    EXPECT_TRUE(sheet.drawing.waits_for_numbers());
    EXPECT_EQ(sheet.drawing.preview().more.size(), 5U); // six in all, until it is said how many
    sheet.type({"holes"});
    ASSERT_EQ(sheet.last.figures.size(), 1U);
    EXPECT_EQ(sheet.last.figures[0].size.formula.text, "holes");
    EXPECT_EQ(sheet.drawing.figures().size(), 4U);
    EXPECT_EQ(sketch::find_regions(sheet.last).size(), 5U);
    sheet.parameters["holes"] = {8, plain_number, false};
    sheet.settle();
    EXPECT_EQ(sketch::find_regions(sheet.last).size(), 8U);
    // The whole ring in a row of three.
    const Point2 on_copy = sheet.drawing.figures()[2].stretches[0].at(0.1);
    sheet.drawing.set_tool(DrawTool::select);
    sheet.click(on_copy[0], on_copy[1]); // with the first one, which still is selected
    ASSERT_EQ(sheet.drawing.selected().size(), 2U);
    sheet.drawing.set_tool(DrawTool::repeat_line);
    sheet.click(0, 0);
    sheet.click(0, 60);
    sheet.type({"3"});
    ASSERT_EQ(sheet.last.figures.size(), 2U);
    EXPECT_EQ(sketch::find_regions(sheet.last).size(), 24U);
    sheet.type({"2.5"}); // nothing is half drawn: nothing happens
    EXPECT_EQ(sheet.last.figures.size(), 2U);
}

TEST(Drawing, EveryToolIsInTheTableOnce) {
    std::set<QString> ids;
    std::set<QString> shortcuts;
    for (const DrawToolInfo& info : draw_tools()) {
        EXPECT_TRUE(ids.insert(info.id).second) << info.id.toStdString();
        EXPECT_TRUE(info.shortcut.isEmpty() || shortcuts.insert(info.shortcut).second);
        EXPECT_FALSE(info.title.isEmpty() || info.verb.isEmpty() || info.help.isEmpty());
        const bool picks = info.tool != DrawTool::select && info.tool != DrawTool::dimension;
        EXPECT_EQ(info.prompts.empty(), !picks) << info.id.toStdString();
        EXPECT_LE(info.asks.size(), info.places + 1);
        EXPECT_EQ(&info_of(info.tool), &info);
    }
    EXPECT_EQ(ids.size(), static_cast<size_t>(DrawTool::take_silhouette) + 1);
}

TEST(Drawing, EveryHintSaysWhatMayBeDoneInstead) {
    for (const DrawToolInfo& info : draw_tools()) {
        Sheet sheet;
        sheet.drawing.set_tool(info.tool);
        const QString hint = sheet.drawing.hint();
        EXPECT_TRUE(hint.contains("; ") || hint.contains("type")) << hint.toStdString();
    }
}

TEST(Drawing, PulledPointsAreNotOverwrittenByPictures) {
    Sheet sheet;
    sheet.drawing.set_tool(DrawTool::line);
    sheet.click(0, 5);
    sheet.click(20, 12);
    sheet.drawing.escape();
    sheet.drawing.escape();
    const auto before = sheet.last;
    sheet.drawing.take_point({20.2, 12}, 1);
    ASSERT_TRUE(sheet.drawing.pulls());
    sheet.drawing.pull_point({40, 30}, {});
    sheet.drawing.refresh(before); // a picture that was under way
    const int commits = sheet.commits;
    sheet.drawing.let_go();
    EXPECT_EQ(sheet.commits, commits + 1);
    EXPECT_NEAR(sheet.at(sheet.last.curves[0].id, 1)[0], 40, 1e-9);
    EXPECT_FALSE(sheet.drawing.pulls());
}
