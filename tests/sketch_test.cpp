#include "sketch/arrangement.h"
#include "sketch/solve.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

using namespace kervo;
using namespace kervo::sketch;

namespace {

const double pi = std::numbers::pi;

double total_area(const std::vector<Region>& regions) {
    double total = 0;
    for (const Region& region : regions) {
        total += region.area;
    }
    return total;
}

int circle(Sketch& s, double x, double y, double r) {
    return s.add_circle(s.add_point(x, y), r);
}

} // namespace

TEST(Solve, RectangleTakesItsDimensions) {
    Sketch s;
    const auto sides = s.add_rectangle({0, 0}, {30, 17});
    s.add_constraint(ConstraintKind::fixed, {s.curves[0].points[0]});
    s.add_constraint(ConstraintKind::distance, {sides[0]}, "width");
    s.add_constraint(ConstraintKind::distance, {sides[1]}, "width / 2");
    const auto solution = solve(s, {{"width", {80, length_dimension}}});
    EXPECT_TRUE(solution.findings.empty());
    EXPECT_EQ(solution.degrees_of_freedom, 0);
    EXPECT_LT(solution.residual, 1e-12);
    EXPECT_NEAR(find_regions(solution.sketch).at(0).area, 3200, 1e-9);
}

TEST(Solve, CountsFreedom) {
    Sketch s;
    s.add_rectangle({0, 0}, {30, 17});
    EXPECT_EQ(solve(s, {}).degrees_of_freedom, 4); // place, width, height
    Sketch c;
    circle(c, 0, 0, 5);
    EXPECT_EQ(solve(c, {}).degrees_of_freedom, 3);
    Sketch a;
    a.add_arc(a.add_point(0, 0), a.add_point(5, 0), a.add_point(0, 5));
    EXPECT_EQ(solve(a, {}).degrees_of_freedom, 5);
}

TEST(Solve, ConflictNamesTheConstraints) {
    Sketch s;
    const int line = s.add_line(s.add_point(0, 0), s.add_point(10, 0));
    const int first = s.add_constraint(ConstraintKind::distance, {line}, "10");
    const int second = s.add_constraint(ConstraintKind::distance, {line}, "20");
    const auto solution = solve(s, {});
    EXPECT_EQ(solution.in_conflict, (std::vector<int>{first, second}));
    EXPECT_EQ(solution.findings.at(0).code, "sketch.conflict");
}

TEST(Solve, EveryConstraintKindHoldsAfterASolve) {
    Sketch s;
    const int o = s.add_point(1, 2);
    const int a = s.add_line(o, s.add_point(40, 3));
    const int b = s.add_line(s.add_point(2, 1), s.add_point(5, 33));
    const int c = circle(s, 60, 20, 9);
    const int d = circle(s, 61, 21, 4);
    const int e = s.add_line(s.add_point(50, 40), s.add_point(80, 41));
    const int pa = s.add_point(3, 30);
    s.add_constraint(ConstraintKind::fixed, {o});
    s.add_constraint(ConstraintKind::horizontal, {a});
    s.add_constraint(ConstraintKind::coincident, {o, s.curve(b)->points[0]});
    s.add_constraint(ConstraintKind::angle, {a, b}, "75 deg");
    s.add_constraint(ConstraintKind::equal, {a, b});
    s.add_constraint(ConstraintKind::distance, {a}, "42");
    s.add_constraint(ConstraintKind::concentric, {c, d});
    s.add_constraint(ConstraintKind::radius, {c}, "11");
    s.add_constraint(ConstraintKind::diameter, {d}, "7");
    s.add_constraint(ConstraintKind::tangent, {e, c});
    s.add_constraint(ConstraintKind::parallel, {a, e});
    s.add_constraint(ConstraintKind::horizontal_distance, {o, s.curve(c)->points[0]}, "63");
    s.add_constraint(ConstraintKind::vertical_distance, {o, s.curve(c)->points[0]}, "17");
    s.add_constraint(ConstraintKind::coincident, {pa, b});
    s.add_constraint(ConstraintKind::distance, {pa, a}, "20");
    const auto solution = solve(s, {});
    ASSERT_TRUE(solution.findings.empty()) << solution.findings[0].cause << " " << solution.residual;
    const auto& q = solution.sketch;
    const auto p = [&](int id) { return Point2{q.point(id)->x, q.point(id)->y}; };
    const Point2 centre = p(q.curve(c)->points[0]);
    EXPECT_NEAR(p(q.curve(a)->points[1])[0], 43, 1e-11);
    EXPECT_NEAR(p(q.curve(b)->points[1])[0], 1 + 42 * std::cos(75 * pi / 180), 1e-10);
    EXPECT_NEAR(centre[0], 64, 1e-11);
    EXPECT_NEAR(centre[1], 19, 1e-11);
    EXPECT_NEAR(q.curve(d)->radius, 3.5, 1e-12);
    EXPECT_NEAR(p(q.curve(e)->points[0])[1], 30, 1e-10); // tangent above the circle, where it was drawn
    EXPECT_NEAR(p(pa)[1], 22, 1e-10);
}

TEST(Solve, PerturbedSketchesReturnToTheirDimensions) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> jitter(-2, 2);
    for (int round = 0; round < 40; ++round) {
        Sketch s;
        const auto sides = s.add_rectangle({0, 0}, {60, 40});
        const int corner = s.curve(sides[0])->points[0];
        s.add_constraint(ConstraintKind::fixed, {corner});
        s.add_constraint(ConstraintKind::distance, {sides[0]}, "60");
        s.add_constraint(ConstraintKind::distance, {sides[3]}, "40");
        const int hole = circle(s, 20, 15, 6);
        s.add_constraint(ConstraintKind::horizontal_distance, {corner, s.curve(hole)->points[0]}, "20");
        s.add_constraint(ConstraintKind::distance, {s.curve(hole)->points[0], sides[0]}, "15");
        s.add_constraint(ConstraintKind::radius, {hole}, "6");
        for (Point& p : s.points) {
            if (p.id != corner) {
                p.x += jitter(random);
                p.y += jitter(random);
            }
        }
        const auto solution = solve(s, {});
        EXPECT_EQ(solution.degrees_of_freedom, 0);
        EXPECT_LT(solution.residual, 1e-9);
        EXPECT_NEAR(total_area(find_regions(solution.sketch)), 2400, 1e-8);
    }
}

TEST(Solve, StructureIsChecked) {
    Sketch s;
    s.add_line(1, 2); // points that are not there
    EXPECT_EQ(solve(s, {}).findings.at(0).code, "sketch.structure");
    Sketch t;
    const int c = circle(t, 0, 0, 4);
    t.add_constraint(ConstraintKind::parallel, {c, c});
    EXPECT_EQ(solve(t, {}).findings.at(0).code, "sketch.structure");
}

TEST(Regions, NestedCircles) {
    Sketch s;
    const int outer = circle(s, 0, 0, 10);
    const int inner = circle(s, 1, 0, 5);
    const auto regions = find_regions(s);
    ASSERT_EQ(regions.size(), 2u);
    EXPECT_EQ(regions[0].bounds, std::vector<std::string>{std::to_string(outer) + "+"});
    EXPECT_NEAR(regions[0].area, pi * 75, 1e-10);
    EXPECT_NEAR(regions[1].area, pi * 25, 1e-10);
    EXPECT_FALSE(regions[0].contains({1, 0}));
    EXPECT_TRUE(regions[1].contains({1, 0}));
    EXPECT_TRUE(regions[0].contains(regions[0].inside));
    EXPECT_EQ(regions[1].bounds, std::vector<std::string>{std::to_string(inner) + "+"});
}

TEST(Regions, CrossingCirclesGiveThree) {
    Sketch s;
    circle(s, 0, 0, 10);
    circle(s, 10, 0, 10);
    const auto regions = find_regions(s);
    ASSERT_EQ(regions.size(), 3u);
    const double lens = 2 * 100 * (pi / 3) - 100 * std::sin(2 * pi / 3);
    const double lune = pi * 100 - lens;
    std::vector<double> areas;
    for (const Region& r : regions) {
        areas.push_back(r.area);
        EXPECT_TRUE(r.contains(r.inside));
    }
    std::sort(areas.begin(), areas.end());
    EXPECT_NEAR(areas[0], lens, 1e-9);
    EXPECT_NEAR(areas[1], lune, 1e-9);
    EXPECT_NEAR(areas[2], lune, 1e-9);
}

TEST(Regions, TouchingBridgedAndDangling) {
    Sketch s;
    s.add_rectangle({0, 0}, {20, 20});
    s.add_rectangle({20, 5}, {30, 15});                  // touches along a side
    s.add_rectangle({4, 4}, {8, 8});                     // an island
    s.add_line(s.add_point(8, 6), s.add_point(20, 6));   // a bridge from the island to the border
    s.add_line(s.add_point(0, 20), s.add_point(-5, 25)); // dangles
    circle(s, 12, 15, 2);
    circle(s, 14, 15, 4); // touches the first from outside and holds it: tangent inside
    const auto regions = find_regions(s);
    EXPECT_EQ(regions.size(), 5u);
    EXPECT_NEAR(total_area(regions), 400 + 100, 1e-9);
}

TEST(Regions, RandomCirclesCoverTheirUnion) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> place(0, 100);
    std::uniform_real_distribution<double> size(5, 20);
    Sketch s;
    std::vector<std::array<double, 3>> circles;
    for (int i = 0; i < 30; ++i) {
        circles.push_back({place(random), place(random), size(random)});
        circle(s, circles.back()[0], circles.back()[1], circles.back()[2]);
    }
    const auto regions = find_regions(s);
    // Every place lies in exactly one region where some circle covers it, or in none; and not in enclosed gaps only.
    for (int i = 0; i < 2000; ++i) {
        const Point2 p{place(random), place(random)};
        const bool covered = std::any_of(circles.begin(), circles.end(),
                                         [&](const auto& c) { return std::hypot(p[0] - c[0], p[1] - c[1]) < c[2]; });
        const auto holders =
            std::count_if(regions.begin(), regions.end(), [&](const Region& r) { return r.contains(p); });
        EXPECT_LE(holders, 1);
        if (covered) {
            EXPECT_EQ(holders, 1);
        }
    }
}

TEST(Regions, FoundAgainAfterChanges) {
    Sketch s;
    circle(s, 0, 0, 10);
    circle(s, 50, 0, 10);
    const auto before = find_regions(s);
    const RegionReference second{before[1].bounds, before[1].inside};
    circle(s, 52, 0, 3); // an island
    s.curves[0].radius = 35;
    const auto after = find_regions(s);
    const auto found = find_again(second, after);
    ASSERT_GE(found.index, 0);
    EXPECT_TRUE(found.exact);
    EXPECT_NEAR(after[static_cast<size_t>(found.index)].area, pi * 100 - pi * 9, 1e-9);
    EXPECT_EQ(find_again({{"99+"}, {500, 500}}, after).index, -1);
}
