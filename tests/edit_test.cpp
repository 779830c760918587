// Editing a sketch: what goes is what was shown, the rest lies where it lay, and what is added follows.
#include "sketch/check.h"
#include "sketch/edit.h"
#include "sketch/solve.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

using namespace kervo;
using namespace kervo::sketch;

namespace {

const double pi = std::numbers::pi;

double total_length(const Sketch& s) {
    double total = 0;
    for (const Stretch& stretch : stretches_of(s)) {
        total += stretch.length();
    }
    return total;
}

double total_area(const Sketch& s) {
    double total = 0;
    for (const Region& region : find_regions(s)) {
        total += region.area;
    }
    return total;
}

// The edited sketch is sound, holds where it is drawn, and follows.
void expect_sound(const Edited& edited) {
    ASSERT_FALSE(edited.problem) << edited.problem->cause;
    EXPECT_FALSE(edited.told.empty());
    const auto mistakes = check_structure(edited.sketch);
    EXPECT_TRUE(mistakes.empty()) << mistakes[0].cause;
    const auto solution = solve(edited.sketch, {{"size", {6, length_dimension}}});
    EXPECT_TRUE(solution.findings.empty()) << solution.findings[0].cause;
    for (const Point& p : edited.sketch.points) {
        const Point* q = solution.sketch.point(p.id);
        EXPECT_LT(distance({p.x, p.y}, {q->x, q->y}), 1e-5) << p.id;
    }
}

int line(Sketch& s, Point2 a, Point2 b) {
    return s.add_line(s.add_point(a[0], a[1]), s.add_point(b[0], b[1]));
}

int circle(Sketch& s, double x, double y, double r) {
    return s.add_circle(s.add_point(x, y), r);
}

std::vector<int> points(Sketch& s, const std::vector<Point2>& places) {
    std::vector<int> ids;
    for (const Point2& p : places) {
        ids.push_back(s.add_point(p[0], p[1]));
    }
    return ids;
}

} // namespace

TEST(Trim, ACircleBetweenTwoLines) {
    Sketch s;
    const int ring = circle(s, 0, 0, 10);
    line(s, {-20, 6}, {20, 6});
    line(s, {-20, -6}, {20, -6});
    const auto preview = trim_preview(s, ring, {0, 10});
    ASSERT_TRUE(preview.part);
    EXPECT_EQ(preview.cut_by.size(), 2u);
    const double cap = 2 * 10 * std::acos(0.6);
    EXPECT_NEAR(preview.part->length(), cap, 1e-9);
    const auto edited = trim(s, ring, {0, 10});
    expect_sound(edited);
    EXPECT_EQ(edited.told, "1 closed curve became 1 open one.");
    EXPECT_EQ(edited.sketch.curve(ring)->kind, CurveKind::arc);
    EXPECT_NEAR(total_length(edited.sketch), total_length(s) - cap, 1e-9);
    // The other cap goes too, then the two bows that are left are two curves.
    const auto again = split(edited.sketch, ring, {s.curves[2].id});
    expect_sound(again);
    EXPECT_EQ(again.told, "1 open curve became 3 open ones.");
    EXPECT_NEAR(total_length(again.sketch), total_length(edited.sketch), 1e-9);
}

TEST(Trim, WhatFollowsKeepsFollowing) {
    Sketch s;
    const int cutter = line(s, {0, -20}, {0, 20});
    s.add_constraint(ConstraintKind::fixed, {cutter});
    const int bar = line(s, {-30, 5}, {30, 5});
    s.add_constraint(ConstraintKind::horizontal, {bar});
    s.add_constraint(ConstraintKind::distance, {bar}, "60");
    auto edited = trim(s, bar, {20, 5});
    expect_sound(edited);
    EXPECT_EQ(edited.told, "1 open curve became 1 open one.");
    EXPECT_NEAR(stretch_of(edited.sketch, *edited.sketch.curve(bar)).length(), 30, 1e-9);
    // The length of the whole is no longer asked; the new end stays on what cut it.
    const auto pulled = drag(edited.sketch, {}, {{edited.sketch.curve(bar)->points[0], {-30, 12}}});
    const Stretch now = stretch_of(pulled, *pulled.curve(bar));
    EXPECT_NEAR(now.end[0], 0, 1e-6);
    EXPECT_NEAR(now.end[1], 12, 1e-3);
}

TEST(Trim, EveryKindOfCurve) {
    std::mt19937 random(71);
    std::uniform_real_distribution<double> any(0, 1);
    int trimmed = 0;
    for (int round = 0; round < 60; ++round) {
        Sketch s;
        int curve = 0;
        switch (round % 5) {
        case 0:
            curve = s.add_ellipse(s.add_point(0, 0), s.add_point(20, 4), 9);
            break;
        case 1:
            curve = s.add_spline(points(s, {{-20, -3}, {-8, 12}, {5, -9}, {20, 6}}), 3, false, true);
            break;
        case 2:
            curve =
                s.add_spline(points(s, {{-20, -3}, {-8, 12}, {5, -9}, {14, 8}, {22, 1}}), 2 + round % 3, false, false);
            break;
        case 3:
            curve = s.add_spline(points(s, {{-18, 0}, {0, 12}, {18, 0}, {0, -9}}), 3, true, round % 2 == 0);
            break;
        default:
            curve = s.add_arc(s.add_point(0, 0), s.add_point(15, 0), s.add_point(-9, -12));
        }
        const int first = line(s, {-8 + any(random), -30}, {-7 + any(random), 30});
        const int second = line(s, {8 + any(random), -30}, {7 + any(random), 30});
        const Stretch whole = stretch_of(s, *s.curve(curve));
        const Point2 near = whole.at(any(random));
        const auto preview = trim_preview(s, curve, near);
        ASSERT_TRUE(preview.part) << round;
        const auto edited = trim(s, curve, near);
        ASSERT_FALSE(edited.problem) << round;
        EXPECT_TRUE(check_structure(edited.sketch).empty()) << round;
        double left = 0;
        for (const Stretch& part : stretches_of(edited.sketch)) {
            if (part.curve == first || part.curve == second) {
                continue;
            }
            left += part.length();
            for (int i = 0; i <= 10; ++i) { // what is left lies where it lay, and is not what was pointed at
                EXPECT_LT(nearest_on(whole, part.at(i / 10.0)).second, 1e-6) << round;
            }
            EXPECT_GT(nearest_on(part, near).second, 1e-6) << round;
        }
        if (whole.kind != StretchKind::spline || !whole.closed(1e-9)) { // the preview of one over its seam is cut there
            EXPECT_NEAR(left + preview.part->length(), whole.length(), 1e-3 * whole.length()) << round;
        }
        const auto solution = solve(edited.sketch, {});
        EXPECT_TRUE(solution.findings.empty()) << round << solution.findings[0].cause;
        ++trimmed;
    }
    EXPECT_EQ(trimmed, 60);
}

TEST(Trim, WhatNothingCutsGoesWhole) {
    Sketch s;
    const int ring = circle(s, 0, 0, 10);
    const auto edited = trim(s, ring, {10, 0});
    EXPECT_EQ(edited.told, "1 closed curve is gone.");
    EXPECT_TRUE(edited.sketch.curves.empty());
    EXPECT_TRUE(trim(s, 99, {0, 0}).problem.has_value());
}

TEST(Split, ByManyAtOnce) {
    Sketch s;
    const int wave = s.add_spline(points(s, {{0, 0}, {10, 8}, {20, -8}, {30, 8}, {40, 0}}), 3, false, true);
    const int level = line(s, {-5, 0}, {45, 0.5});
    const double before = total_length(s);
    const size_t crossings = meetings(stretch_of(s, *s.curve(level)), stretch_of(s, *s.curve(wave)), 1e-9).size();
    const auto edited = split(s, level, {wave});
    expect_sound(edited);
    EXPECT_EQ(edited.sketch.curves.size(), 2 + crossings);
    EXPECT_NEAR(total_length(edited.sketch), before, 1e-6);
    const auto other = split(s, wave, {level});
    ASSERT_FALSE(other.problem);
    EXPECT_NEAR(total_length(other.sketch), before, 1e-2);
    EXPECT_TRUE(split(s, level, {s.add_line(s.add_point(0, 90), s.add_point(9, 90))}).problem.has_value());
}

TEST(Split, AtAPlaceOpensWhatIsClosed) {
    Sketch s;
    const int ring = circle(s, 0, 0, 10);
    const auto opened = split_at(s, ring, {0, 11});
    expect_sound(opened);
    EXPECT_EQ(opened.told, "1 closed curve became 1 open one.");
    EXPECT_NEAR(total_length(opened.sketch), 20 * pi, 1e-9);
    Sketch t;
    const int bar = line(t, {0, 0}, {10, 0});
    const auto halves = split_at(t, bar, {4, 1});
    expect_sound(halves);
    EXPECT_EQ(halves.sketch.curves.size(), 2u);
    EXPECT_TRUE(split_at(t, bar, {-3, 0}).problem.has_value());
}

TEST(Extend, ReachesTheNextCurve) {
    Sketch s;
    const int wall = line(s, {50, -20}, {50, 20});
    line(s, {70, -20}, {70, 20});
    s.add_constraint(ConstraintKind::fixed, {wall});
    const int bar = line(s, {0, 0}, {20, 4});
    const auto preview = extend_preview(s, bar, {19, 4});
    ASSERT_TRUE(preview.part);
    EXPECT_EQ(preview.cut_by, std::vector<int>{wall});
    const auto edited = extend(s, bar, {19, 4});
    expect_sound(edited);
    EXPECT_NEAR(stretch_of(edited.sketch, *edited.sketch.curve(bar)).end[0], 50, 1e-9);
    EXPECT_NEAR(stretch_of(edited.sketch, *edited.sketch.curve(bar)).end[1], 10, 1e-9);
    EXPECT_EQ(extend(s, bar, {1, 0}).problem->code, "edit.nothing_ahead");
    const int bow = s.add_arc(s.add_point(50, 0), s.add_point(60, 0), s.add_point(55, std::sqrt(75.0)));
    const auto longer = extend(s, bow, {55, 9});
    expect_sound(longer);
    EXPECT_NEAR(stretch_of(longer.sketch, *longer.sketch.curve(bow)).sweep, pi / 2, 1e-9);
}

TEST(Corner, RoundedAndBevelled) {
    Sketch s;
    const auto sides = s.add_rectangle({0, 0}, {40, 30});
    s.add_constraint(ConstraintKind::fixed, {s.curve(sides[0])->points[0]});
    s.add_constraint(ConstraintKind::distance, {sides[0]}, "40");
    s.add_constraint(ConstraintKind::distance, {sides[1]}, "30");
    const int corner = s.curve(sides[1])->points[1];
    const auto rounded = round_corner(s, corner, "size", 6);
    expect_sound(rounded);
    EXPECT_NEAR(total_area(rounded.sketch), 1200 - (1 - pi / 4) * 36, 1e-6);
    const auto larger = solve(rounded.sketch, {{"size", {9, length_dimension}}});
    EXPECT_NEAR(total_area(larger.sketch), 1200 - (1 - pi / 4) * 81, 1e-6); // the outline keeps its sizes
    EXPECT_EQ(larger.degrees_of_freedom, 0);
    const auto bevelled = bevel_corner(s, corner, "size", 6);
    expect_sound(bevelled);
    EXPECT_NEAR(total_area(bevelled.sketch), 1200 - 18, 1e-6);
    EXPECT_EQ(round_corner(s, corner, "40", 40).problem->code, "edit.no_room");
    EXPECT_EQ(round_corner(s, sides[0], "4", 4).problem->code, "edit.no_corner");
}

TEST(Mirror, FollowsItsSource) {
    Sketch s;
    const int axis = line(s, {0, -50}, {0, 50});
    s.add_constraint(ConstraintKind::fixed, {axis});
    const int a = s.add_point(0, 10); // on the axis: shared by both halves
    const int b = s.add_point(20, 10);
    const int c = s.add_point(20, 0);
    const int d = s.add_point(0, 0);
    const int top = s.add_line(a, b);
    const int side = s.add_arc(s.add_point(20, 5), c, b);
    const int bottom = s.add_line(c, d);
    const int hole = circle(s, 12, 5, 2);
    const auto edited = mirror(s, {top, side, bottom, hole}, axis);
    expect_sound(edited);
    EXPECT_EQ(edited.told, "4 curves became 8.");
    EXPECT_EQ(find_regions(edited.sketch).size(), 4u); // the axis itself divides the outline
    Sketch helper = edited.sketch;
    helper.curve(axis)->construction = true;
    EXPECT_EQ(find_regions(helper).size(), 3u);
    EXPECT_NEAR(total_area(helper), 400 + pi * 25, 1e-6);
    const auto pulled = drag(helper, {}, {{s.curve(hole)->points[0], {9, 6}}});
    const auto mirrored = std::find_if(pulled.curves.rbegin(), pulled.curves.rend(),
                                       [](const Curve& curve) { return curve.kind == CurveKind::circle; });
    EXPECT_NEAR(pulled.point(mirrored->points[0])->x, -9, 1e-3);
    EXPECT_NEAR(pulled.point(mirrored->points[0])->y, 6, 1e-3);
    EXPECT_TRUE(mirror(s, {axis}, axis).problem.has_value());
}

TEST(Repeat, InLinesAndRings) {
    Sketch s;
    const int slot = circle(s, 30, 0, 4);
    s.add_constraint(ConstraintKind::radius, {slot}, "4");
    const int from = s.add_point(0, 0);
    const int to = s.add_point(0, 12);
    const auto row = repeat_in_line(s, {slot}, "5", 5, from, to);
    expect_sound(row);
    EXPECT_EQ(row.told, "1 curve became 5.");
    EXPECT_NEAR(total_area(row.sketch), 5 * pi * 16, 1e-9);
    Sketch larger = row.sketch;
    larger.constraints[0].value.text = "5";
    EXPECT_NEAR(total_area(solve(larger, {}).sketch), 5 * pi * 25, 1e-9);
    const auto ring = repeat_in_ring(s, {slot}, "12", 12, from);
    expect_sound(ring);
    EXPECT_EQ(find_regions(ring.sketch).size(), 12u);
    for (const Region& region : find_regions(ring.sketch)) {
        EXPECT_NEAR(region.loops[0][0].radius, 4, 1e-12);
        EXPECT_NEAR(std::hypot(region.loops[0][0].center[0], region.loops[0][0].center[1]), 30, 1e-9);
    }
    EXPECT_TRUE(repeat_in_line(s, {slot}, "0", 0, from, to).problem.has_value());
    EXPECT_TRUE(repeat_in_ring(s, {}, "5", 5, from).problem.has_value());
}

TEST(Offset, LoopsKeepTheirClearance) {
    Sketch s;
    const auto sides = s.add_rectangle({0, 0}, {40, 30});
    s.add_constraint(ConstraintKind::fixed, {s.curve(sides[0])->points[0]});
    s.add_constraint(ConstraintKind::distance, {sides[0]}, "40");
    s.add_constraint(ConstraintKind::distance, {sides[1]}, "30");
    const std::set<int> loop(sides.begin(), sides.end());
    const auto outside = offset(s, loop, "size", 6, {50, 10}, false);
    expect_sound(outside);
    EXPECT_NEAR(total_area(outside.sketch), 52 * 42, 1e-6);
    EXPECT_NEAR(total_area(solve(outside.sketch, {{"size", {2, length_dimension}}}).sketch), 44 * 34, 1e-6);
    const auto inside = offset(s, loop, "size", 6, {20, 15}, false);
    expect_sound(inside);
    const auto regions = find_regions(inside.sketch);
    ASSERT_EQ(regions.size(), 2u);
    EXPECT_NEAR(std::min(regions[0].area, regions[1].area), 28 * 18, 1e-6);
    const auto soft = offset(s, loop, "size", 6, {50, 10}, true);
    expect_sound(soft);
    EXPECT_NEAR(total_area(soft.sketch), 1200 + 6 * 2 * 70 + pi * 36, 1e-6);
}

TEST(Offset, ChainsWithArcsAndCircles) {
    Sketch s;
    const int a = s.add_point(-20, 10);
    const int b = s.add_point(20, 10);
    const int c = s.add_point(20, -10);
    const int d = s.add_point(-20, -10);
    const std::set<int> slot{s.add_line(a, b), s.add_arc(s.add_point(20, 0), c, b), s.add_line(c, d),
                             s.add_arc(s.add_point(-20, 0), a, d)};
    const auto edited = offset(s, slot, "size", 6, {0, 30}, false);
    ASSERT_FALSE(edited.problem);
    EXPECT_TRUE(solve(edited.sketch, {{"size", {6, length_dimension}}}).findings.empty());
    EXPECT_NEAR(total_area(edited.sketch), 40 * 32 + pi * 256, 1e-6);
    Sketch t;
    const int ring = circle(t, 0, 0, 10);
    t.add_constraint(ConstraintKind::fixed, {ring});
    const auto outer = offset(t, {ring}, "size", 6, {20, 0}, false);
    expect_sound(outer);
    EXPECT_NEAR(total_area(outer.sketch), pi * 256, 1e-6);
    EXPECT_NEAR(total_area(solve(outer.sketch, {{"size", {2, length_dimension}}}).sketch), pi * 144, 1e-6);
    EXPECT_EQ(offset(t, {ring}, "20", 20, {1, 0}, false).problem->code, "edit.no_room");
}

TEST(Join, LinesAndArcsThatContinueEachOtherBecomeOne) {
    Sketch s;
    const int a = line(s, {0, 0}, {10, 5});
    const int b = line(s, {16, 8}, {10, 5});
    const int gap = line(s, {20, 10}, {30, 15}); // on the same line, farther on
    s.add_constraint(ConstraintKind::distance, {a}, "11.1803398875 mm");
    s.add_constraint(ConstraintKind::collinear, {a, gap});
    auto edited = join(s, a, b);
    expect_sound(edited);
    EXPECT_EQ(edited.told, "2 open curves became 1 open one.");
    EXPECT_EQ(edited.sketch.curve(b), nullptr);
    EXPECT_EQ(edited.sketch.points.size(), 4U);
    EXPECT_EQ(edited.sketch.constraints.size(), 1U); // its length was that of a part
    EXPECT_NEAR(stretch_of(edited.sketch, *edited.sketch.curve(a)).length(), std::hypot(16, 8), 1e-9);
    edited = join(edited.sketch, a, gap);
    expect_sound(edited);
    EXPECT_NEAR(total_length(edited.sketch), std::hypot(30, 15), 1e-9);
    // Arcs of one circle; then the whole of it.
    Sketch round;
    const int center = round.add_point(0, 0);
    const auto arc = [&](double from, double to) {
        return round.add_arc(center, round.add_point(10 * std::cos(from), 10 * std::sin(from)),
                             round.add_point(10 * std::cos(to), 10 * std::sin(to)));
    };
    const int first = arc(0, 2);
    const int second = arc(2, 4);
    const int third = arc(4, 2 * pi);
    edited = join(round, second, first); // against its direction
    expect_sound(edited);
    EXPECT_NEAR(stretch_of(edited.sketch, *edited.sketch.curve(second)).length(), 40, 1e-9);
    edited = join(edited.sketch, second, third);
    expect_sound(edited);
    EXPECT_EQ(edited.told, "2 open curves became 1 closed one.");
    EXPECT_EQ(edited.sketch.curve(second)->kind, CurveKind::circle);
    EXPECT_EQ(edited.sketch.points.size(), 1U);
}

TEST(Join, OthersAreMadeToMeet) {
    Sketch s;
    const int a = line(s, {0, 0}, {10, 0});
    const int b = line(s, {10.5, 0.2}, {12, 9});
    const auto edited = join(s, a, b);
    ASSERT_FALSE(edited.problem);
    EXPECT_NE(edited.told.find("0.539 mm"), std::string::npos) << edited.told;
    const auto solved = solve(edited.sketch, {}).sketch;
    EXPECT_LT(distance(place_of(solved, solved.curve(a)->points[1]), place_of(solved, solved.curve(b)->points[0])),
              1e-9);
    EXPECT_EQ(join(solved, a, b).problem->code, "edit.joined");
    EXPECT_EQ(join(s, a, circle(s, 50, 50, 4)).problem->code, "edit.closed");
    EXPECT_EQ(join(s, a, a).problem->code, "edit.no_curve");
    const int beside = line(s, {0, 3}, {10, 3}); // parallel lines are no parts of one
    EXPECT_EQ(join(s, a, beside).sketch.curves.size(), s.curves.size());
}

TEST(Close, AChainBecomesALoop) {
    Sketch s;
    const int p = s.add_point(10, 0);
    const std::set<int> chain{s.add_line(s.add_point(0, 0), p), s.add_line(p, s.add_point(10, 10))};
    const auto edited = close_chain(s, chain);
    expect_sound(edited);
    EXPECT_NEAR(total_area(edited.sketch), 50, 1e-9);
    EXPECT_EQ(edited.told, "2 open curves became 1 closed chain.");
    EXPECT_TRUE(close_chain(s, {circle(s, 50, 50, 4)}).problem.has_value());
}

TEST(Check, FlawsAreFoundWhereTheyAreAndMended) {
    Sketch s;
    const int a = s.add_point(0, 0);
    const int b = s.add_point(20, 0);
    const int c = s.add_point(20, 10);
    s.add_line(a, b);
    s.add_line(b, c);
    s.add_line(c, s.add_point(0.1, 10));
    s.add_line(s.add_point(0, 10.05), a); // a gap
    line(s, {5, 0}, {15, 0});             // lies on a side
    line(s, {40, 0}, {40.01, 0});         // tiny
    line(s, {50, -5}, {70, 5});
    line(s, {50, 5}, {70, -5});                                                          // cross
    s.add_spline(points(s, {{100, 0}, {120, 10}, {120, 0}, {100, 10}}), 3, false, true); // crosses itself
    auto flaws = check(s);
    std::map<FlawKind, int> count;
    for (const Flaw& flaw : flaws) {
        ++count[flaw.kind];
        EXPECT_FALSE(flaw.told.empty());
    }
    EXPECT_EQ(count[FlawKind::gap], 1);
    EXPECT_EQ(count[FlawKind::twin], 1);
    EXPECT_EQ(count[FlawKind::tiny], 1);
    EXPECT_EQ(count[FlawKind::crossing], 1);
    EXPECT_EQ(count[FlawKind::self], 1);
    EXPECT_NEAR(flaws[0].size, std::hypot(0.1, 0.05), 1e-9);
    EXPECT_LT(distance(flaws[0].at, {0.05, 10.025}), 1e-9);
    EXPECT_TRUE(find_regions(s).size() == 1u); // only the loop of the spline
    for (int rounds = 0; rounds < 10; ++rounds) {
        const auto mendable = std::find_if(flaws.begin(), flaws.end(), [](const Flaw& f) { return f.mendable; });
        if (mendable == flaws.end()) {
            break;
        }
        s = mend(s, *mendable);
        EXPECT_TRUE(check_structure(s).empty());
        flaws = check(s);
    }
    EXPECT_EQ(flaws.size(), 2u); // what wants a decision is left
    EXPECT_EQ(find_regions(s).size(), 2u);
    EXPECT_TRUE(check(Sketch{}).empty());
}

TEST(Check, SoundOutlinesHaveNoFlaws) {
    Sketch s;
    const auto sides = s.add_rectangle({0, 0}, {40, 30});
    circle(s, 20, 15, 5);
    EXPECT_TRUE(check(s).empty());
    EXPECT_TRUE(check(round_corner(s, s.curve(sides[1])->points[1], "4", 4).sketch).empty());
}
