// Points of splines that come and go, and circles that touch.
#include "sketch/edit.h"
#include "sketch/solve.h"
#include "sketch/touching.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

using namespace kervo;
using namespace kervo::sketch;

namespace {

int spline(Sketch& s, const std::vector<Point2>& places, int degree, bool closed, bool through) {
    std::vector<int> ids;
    for (const Point2& p : places) {
        ids.push_back(s.add_point(p[0], p[1]));
    }
    return s.add_spline(ids, degree, closed, through);
}

const std::vector<Point2> wave{{0, 0}, {10, 12}, {22, -6}, {35, 9}, {48, 1}, {60, 10}};

double farthest_between(const Stretch& a, const Stretch& b) {
    double most = 0;
    for (int i = 0; i <= 400; ++i) {
        most = std::max(most, nearest_on(b, a.at(i / 400.0)).second);
    }
    return most;
}

} // namespace

TEST(SplinePoints, OpenOnesLedByControlPointsKeepTheirShape) {
    for (int degree = 1; degree <= max_spline_degree; ++degree) {
        Sketch s;
        const int id = spline(s, wave, degree, false, false);
        const Stretch before = stretch_of(s, *s.curve(id));
        for (const Point2& near : {Point2{30, 5}, Point2{2, 2}, Point2{58, 8}, Point2{30, 5}}) {
            const size_t count = s.curve(id)->points.size();
            const Edited edited = add_spline_point(s, id, near);
            ASSERT_FALSE(edited.problem);
            s = edited.sketch;
            EXPECT_EQ(s.curve(id)->points.size(), count + 1);
            EXPECT_TRUE(check_structure(s).empty());
            EXPECT_LT(farthest_between(before, stretch_of(s, *s.curve(id))), 1e-9) << degree;
        }
        // The ends are still the points that they were.
        EXPECT_EQ(distance(place_of(s, s.curve(id)->points.front()), wave.front()), 0);
        EXPECT_LT(distance(place_of(s, s.curve(id)->points.back()), wave.back()), 1e-12);
        // And away again, one by one, as long as enough are left.
        while (s.curve(id)->points.size() > 2) {
            s.remove(s.curve(id)->points[1]);
            ASSERT_NE(s.curve(id), nullptr);
            EXPECT_TRUE(check_structure(s).empty());
            EXPECT_GT(stretch_of(s, *s.curve(id)).length(), 50);
        }
        s.remove(s.curve(id)->points[1]);
        EXPECT_TRUE(s.curves.empty());
    }
}

TEST(SplinePoints, ComeBetweenTheirNeighbours) {
    for (const bool closed : {false, true}) {
        Sketch s;
        const int id = spline(s, wave, 3, closed, true);
        const Stretch before = stretch_of(s, *s.curve(id));
        const Edited edited = add_spline_point(s, id, {28, 3});
        ASSERT_FALSE(edited.problem);
        const Curve& after = *edited.sketch.curve(id);
        ASSERT_EQ(after.points.size(), wave.size() + 1);
        const Point2 fresh = place_of(edited.sketch, after.points[3]); // between the third and the fourth
        EXPECT_LT(nearest_on(before, fresh).second, 1e-9);
        EXPECT_LT(distance(place_of(edited.sketch, after.points[2]), wave[2]), 1e-12);
        EXPECT_LT(farthest_between(before, stretch_of(edited.sketch, after)), 2); // its places in time shift
    }
    // On the last leg of a closed one, it is the last.
    Sketch s;
    const int id = spline(s, {{0, 0}, {20, 0}, {20, 20}, {0, 20}}, 3, true, true);
    const Edited edited = add_spline_point(s, id, {-4, 10});
    EXPECT_NEAR(place_of(edited.sketch, edited.sketch.curve(id)->points.back())[1], 10, 2);
    // Closed ones led by control points take it into their polygon.
    Sketch led;
    const int ring = spline(led, {{0, 0}, {20, 0}, {20, 20}, {0, 20}}, 3, true, false);
    const Edited more = add_spline_point(led, ring, {19, 11});
    EXPECT_LT(distance(place_of(more.sketch, more.sketch.curve(ring)->points[2]), {20, 11}), 1e-12);
}

TEST(SplinePoints, DegreeAndClosing) {
    Sketch s;
    const int id = spline(s, wave, 3, false, false);
    const Edited corners = change_spline(s, id, 1, false);
    double polygon = 0;
    for (size_t i = 1; i < wave.size(); ++i) {
        polygon += distance(wave[i - 1], wave[i]);
    }
    EXPECT_NEAR(stretch_of(corners.sketch, *corners.sketch.curve(id)).length(), polygon, 1e-6);
    const Edited loop = change_spline(add_spline_point(s, id, {30, 2}).sketch, id, 4, true);
    ASSERT_FALSE(loop.problem);
    EXPECT_TRUE(check_structure(loop.sketch).empty());
    EXPECT_TRUE(stretch_of(loop.sketch, *loop.sketch.curve(id)).closed(1e-9));
    EXPECT_TRUE(change_spline(s, id, max_spline_degree + 1, false).problem);
    EXPECT_TRUE(change_spline(s, id + 1, 3, false).problem);
    EXPECT_TRUE(add_spline_point(s, 0, {0, 0}).problem);
    Sketch two;
    const int bar = spline(two, {{0, 0}, {5, 0}}, 1, false, false);
    EXPECT_TRUE(change_spline(two, bar, 1, true).problem);
}

TEST(TouchingCircle, InscribedInATriangle) {
    const Point2 a{0, 0};
    const Point2 b{40, 0};
    const Point2 c{0, 30};
    const auto circle = circle_touching({line_between(a, b), line_between(b, c), line_between(c, a)},
                                        {Point2{11, 0}, Point2{22, 13.5}, Point2{0, 9}});
    ASSERT_TRUE(circle);
    EXPECT_NEAR(circle->radius, 10, 1e-10); // (a + b - c) / 2
    EXPECT_LT(distance(circle->center, {10, 10}), 1e-9);
}

// Circles around a known one: whichever way they touch, it is found again from picks near where they do.
TEST(TouchingCircle, FindsTheOneItTouchesNear) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> place(-30, 30);
    std::uniform_real_distribution<double> size(2, 20);
    std::uniform_real_distribution<double> turn(0, 2 * std::numbers::pi);
    for (int round = 0; round < 500; ++round) {
        const CircleAt meant{{place(random), place(random)}, size(random)};
        std::array<Stretch, 3> touched;
        std::array<Point2, 3> picked;
        const double first = turn(random);
        for (size_t i = 0; i < 3; ++i) {
            const double way = first + 2.1 * static_cast<double>(i);
            const Point2 at{meant.center[0] + meant.radius * std::cos(way),
                            meant.center[1] + meant.radius * std::sin(way)};
            const double other = size(random);
            const auto beside = [&](double far) {
                return Point2{meant.center[0] + far * std::cos(way), meant.center[1] + far * std::sin(way)};
            };
            switch ((static_cast<size_t>(round) + i) % 4) {
            case 0: // a line across
                touched[i] = line_between({at[0] - 9 * std::sin(way), at[1] + 9 * std::cos(way)},
                                          {at[0] + 4 * std::sin(way), at[1] - 4 * std::cos(way)});
                break;
            case 1: // outside
                touched[i] = arc_about(beside(meant.radius + other), other, 0, 6);
                break;
            case 2: // around it
                touched[i] = arc_about(beside(-other), meant.radius + other, 0, 6);
                break;
            default: // a point
                touched[i] = arc_about(at, 0, 0, 6);
            }
            const double off = 0.02 * meant.radius;
            picked[i] = {at[0] + off * std::sin(way), at[1] - off * std::cos(way)};
        }
        const auto circle = circle_touching(touched, picked);
        ASSERT_TRUE(circle) << round;
        EXPECT_LT(distance(circle->center, meant.center), 1e-7) << round;
        EXPECT_NEAR(circle->radius, meant.radius, 1e-7) << round;
    }
}

TEST(TouchingCircle, ThereIsNotAlwaysOne) {
    const Stretch low = line_between({0, 0}, {10, 0});
    const Stretch high = line_between({0, 5}, {10, 5});
    EXPECT_FALSE(
        circle_touching({low, high, line_between({0, 9}, {10, 9})}, {Point2{2, 0}, Point2{3, 5}, Point2{9, 9}}));
    EXPECT_FALSE(circle_touching({low, high, low}, {Point2{2, 0}, Point2{3, 0}, Point2{9, 0}})); // picks on one line
    EXPECT_FALSE(circle_touching({low, high, ellipse_about({5, 2}, {2, 0}, 1, 0, 6)},
                                 {Point2{2, 0}, Point2{3, 5}, Point2{5, 3}}));
    const auto between =
        circle_touching({low, high, line_between({20, 0}, {20, 5})}, {Point2{17, 0}, Point2{17.5, 5}, Point2{20, 2.4}});
    ASSERT_TRUE(between);
    EXPECT_NEAR(between->radius, 2.5, 1e-12);
}
