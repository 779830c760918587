// The solver by its laws: random sketches that are fully constrained return to their dimensions, freedom is what an
// independent count says, and what is drawn decides between several answers.
#include "sketch/arrangement.h"
#include "sketch/solve.h"

#include <Eigen/Dense>
#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <numbers>
#include <random>

using namespace kervo;
using namespace kervo::sketch;

namespace {

const double pi = std::numbers::pi;

double pick(std::mt19937& random, double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
}

std::string number(double value) {
    return format_quantity(value, "", 15);
}

Point2 place(const Sketch& s, int point) {
    return {s.point(point)->x, s.point(point)->y};
}

// A frame of triangles: every new joint hangs on two older ones by two distances, so the whole is rigid.
struct Frame {
    Sketch sketch;
    std::vector<int> joints;
    std::vector<Point2> truth;
};

Frame random_frame(std::mt19937& random, int joints) {
    Frame frame;
    Sketch& s = frame.sketch;
    const auto joint = [&](const Point2& p) {
        frame.joints.push_back(s.add_point(p[0], p[1]));
        frame.truth.push_back(p);
    };
    joint({0, 0});
    joint({40, 0});
    s.add_constraint(ConstraintKind::fixed, {frame.joints[0]});
    s.add_constraint(ConstraintKind::horizontal, {frame.joints[0], frame.joints[1]});
    s.add_constraint(ConstraintKind::horizontal_distance, {frame.joints[0], frame.joints[1]}, "40");
    while (static_cast<int>(frame.joints.size()) < joints) {
        const size_t count = frame.joints.size();
        const Point2 a = frame.truth[count - 1];
        const Point2 b = frame.truth[count - 2];
        // Well above or below the line through the two, so that the triangle is no needle.
        const double rise = pick(random, 20, 35) * (count % 2 == 0 ? 1 : -1);
        const double length = distance(a, b);
        const Point2 p{(a[0] + b[0]) / 2 - (b[1] - a[1]) / length * rise,
                       (a[1] + b[1]) / 2 + (b[0] - a[0]) / length * rise};
        joint(p);
        s.add_constraint(ConstraintKind::distance, {frame.joints[count - 1], frame.joints[count]},
                         number(distance(a, p)));
        s.add_constraint(ConstraintKind::distance, {frame.joints[count - 2], frame.joints[count]},
                         number(distance(b, p)));
    }
    return frame;
}

void shake(Sketch& s, std::mt19937& random, double by, int except) {
    for (Point& p : s.points) {
        if (p.id != except) {
            p.x += pick(random, -by, by);
            p.y += pick(random, -by, by);
        }
    }
}

// Degrees of freedom by another way: how many directions of moving all points and radii leave every constraint as it
// is, measured by differences of a violation that knows nothing of the solver.
double violation_of(const Sketch& s, const Constraint& c, size_t part) {
    const auto start = [&](int line) { return place(s, s.curve(line)->points[0]); };
    const auto end = [&](int line) { return place(s, s.curve(line)->points[1]); };
    const auto run = [&](int line) { return Point2{end(line)[0] - start(line)[0], end(line)[1] - start(line)[1]}; };
    switch (c.kind) {
    case ConstraintKind::fixed:
        return place(s, c.on[0])[part];
    case ConstraintKind::coincident:
        return place(s, c.on[0])[part] - place(s, c.on[1])[part];
    case ConstraintKind::horizontal:
        return run(c.on[0])[1];
    case ConstraintKind::vertical:
        return run(c.on[0])[0];
    case ConstraintKind::parallel:
        return std::atan2(run(c.on[0])[1], run(c.on[0])[0]) - std::atan2(run(c.on[1])[1], run(c.on[1])[0]);
    case ConstraintKind::equal:
        return std::hypot(run(c.on[0])[0], run(c.on[0])[1]) - std::hypot(run(c.on[1])[0], run(c.on[1])[1]);
    case ConstraintKind::distance:
        return distance(start(c.on[0]), end(c.on[0]));
    case ConstraintKind::radius:
        return s.curve(c.on[0])->radius;
    default:
        ADD_FAILURE() << "not counted here";
        return 0;
    }
}

int freedom_by_differences(const Sketch& s) {
    std::vector<std::function<void(Sketch&, double)>> moves;
    for (const Point& p : s.points) {
        moves.emplace_back([id = p.id](Sketch& t, double by) { t.point(id)->x += by; });
        moves.emplace_back([id = p.id](Sketch& t, double by) { t.point(id)->y += by; });
    }
    for (const Curve& curve : s.curves) {
        if (curve.kind == CurveKind::circle) {
            moves.emplace_back([id = curve.id](Sketch& t, double by) { t.curve(id)->radius += by; });
        }
    }
    std::vector<std::pair<const Constraint*, size_t>> laws;
    for (const Constraint& c : s.constraints) {
        laws.emplace_back(&c, 0);
        if (c.kind == ConstraintKind::fixed || c.kind == ConstraintKind::coincident) {
            laws.emplace_back(&c, 1);
        }
    }
    Eigen::MatrixXd slopes(static_cast<int>(laws.size()), static_cast<int>(moves.size()));
    for (size_t m = 0; m < moves.size(); ++m) {
        Sketch ahead = s;
        Sketch behind = s;
        moves[m](ahead, 1e-4);
        moves[m](behind, -1e-4);
        for (size_t l = 0; l < laws.size(); ++l) {
            slopes(static_cast<int>(l), static_cast<int>(m)) = (violation_of(ahead, *laws[l].first, laws[l].second) -
                                                                violation_of(behind, *laws[l].first, laws[l].second)) /
                                                               2e-4;
        }
    }
    if (laws.empty()) {
        return static_cast<int>(moves.size());
    }
    const Eigen::JacobiSVD<Eigen::MatrixXd> svd(slopes);
    int rank = 0;
    for (const double value : svd.singularValues()) {
        rank += value > 1e-6 ? 1 : 0;
    }
    return static_cast<int>(moves.size()) - rank;
}

} // namespace

TEST(Solver, RigidFramesReturnToTheirDimensions) {
    std::mt19937 random(31);
    for (int round = 0; round < 25; ++round) {
        Frame frame = random_frame(random, 4 + round % 12);
        shake(frame.sketch, random, 1.5, frame.joints[0]);
        const auto solution = solve(frame.sketch, {});
        ASSERT_TRUE(solution.findings.empty()) << round;
        EXPECT_EQ(solution.degrees_of_freedom, 0);
        EXPECT_EQ(solution.redundant, 0);
        for (size_t i = 0; i < frame.joints.size(); ++i) {
            EXPECT_LT(distance(place(solution.sketch, frame.joints[i]), frame.truth[i]), 1e-8)
                << round << " joint " << i;
        }
    }
}

TEST(Solver, ASecondSolveChangesNothing) {
    std::mt19937 random(32);
    for (int round = 0; round < 10; ++round) {
        Frame frame = random_frame(random, 9);
        shake(frame.sketch, random, 1, frame.joints[0]);
        const auto once = solve(frame.sketch, {});
        const auto twice = solve(once.sketch, {});
        for (const int joint : frame.joints) {
            EXPECT_LT(distance(place(once.sketch, joint), place(twice.sketch, joint)), 1e-10);
        }
    }
}

TEST(Solver, FreedomIsWhatDifferencesSay) {
    std::mt19937 random(33);
    for (int round = 0; round < 40; ++round) {
        Sketch s;
        std::vector<int> lines;
        std::vector<int> circles;
        for (int i = 0; i < 5; ++i) {
            const Point2 a{pick(random, 0, 100), pick(random, 0, 100)};
            lines.push_back(s.add_line(s.add_point(a[0], a[1]),
                                       s.add_point(a[0] + pick(random, 10, 40), a[1] + pick(random, 10, 40))));
            circles.push_back(
                s.add_circle(s.add_point(pick(random, 0, 100), pick(random, 0, 100)), pick(random, 3, 9)));
        }
        const auto any = [&](const std::vector<int>& of) { return of[random() % of.size()]; };
        for (int i = 0; i < round % 12; ++i) {
            const int first = any(lines);
            const int second = any(lines);
            switch (random() % 6) {
            case 0:
                s.add_constraint(ConstraintKind::fixed, {s.curve(first)->points[0]});
                break;
            case 1:
                s.add_constraint(ConstraintKind::distance, {first}, "30");
                break;
            case 2:
                s.add_constraint(ConstraintKind::radius, {any(circles)}, "5");
                break;
            case 3:
                s.add_constraint(ConstraintKind::horizontal, {first});
                break;
            case 4:
                if (first != second) {
                    s.add_constraint(ConstraintKind::coincident,
                                     {s.curve(first)->points[1], s.curve(second)->points[0]});
                }
                break;
            default:
                if (first != second) {
                    s.add_constraint(ConstraintKind::equal, {first, second});
                }
            }
        }
        const auto solution = solve(s, {});
        if (!has_error(solution.findings)) {
            EXPECT_EQ(solution.degrees_of_freedom, freedom_by_differences(solution.sketch)) << round;
        }
    }
}

TEST(Solver, WhatIsFreeStaysWhereItIsDrawn) {
    Sketch s;
    const int apart = s.add_line(s.add_point(3, 4), s.add_point(50, 60));
    const int changed = s.add_line(s.add_point(100, 0), s.add_point(130, 1));
    s.add_constraint(ConstraintKind::horizontal, {changed});
    const auto solution = solve(s, {});
    EXPECT_EQ(place(solution.sketch, s.curve(apart)->points[0]), (Point2{3, 4}));
    EXPECT_EQ(place(solution.sketch, s.curve(apart)->points[1]), (Point2{50, 60}));
    const auto a = place(solution.sketch, s.curve(changed)->points[0]);
    const auto b = place(solution.sketch, s.curve(changed)->points[1]);
    EXPECT_NEAR(a[0], 100, 1e-9);
    EXPECT_NEAR(b[0], 130, 1e-9);
    EXPECT_NEAR(a[1], 0.5, 1e-6); // both ends give way by the same
    EXPECT_NEAR(b[1], 0.5, 1e-6);
}

// Where equations have several answers, the one that is drawn is meant.
TEST(Solver, TheDrawnSideIsKept) {
    for (const double side : {1.0, -1.0}) {
        Sketch s;
        const int base = s.add_line(s.add_point(0, 0), s.add_point(50, 0));
        s.add_constraint(ConstraintKind::fixed, {base});
        const int p = s.add_point(20, 2 * side);
        s.add_constraint(ConstraintKind::distance, {p, base}, "30");
        const int ball = s.add_circle(s.add_point(40, 9 * side), 5);
        s.add_constraint(ConstraintKind::tangent, {base, ball});
        s.add_constraint(ConstraintKind::radius, {ball}, "12");
        const auto solution = solve(s, {});
        ASSERT_TRUE(solution.findings.empty());
        EXPECT_NEAR(place(solution.sketch, p)[1], 30 * side, 1e-9);
        EXPECT_NEAR(place(solution.sketch, s.curve(ball)->points[0])[1], 12 * side, 1e-9);
    }
}

TEST(Solver, CirclesTouchInsideOrOutsideAsDrawn) {
    for (const auto& [x, wanted] : {std::pair(32.0, 30.0), std::pair(9.0, 10.0)}) {
        Sketch s;
        const int big = s.add_circle(s.add_point(0, 0), 20);
        const int small = s.add_circle(s.add_point(x, 0), 10);
        s.add_constraint(ConstraintKind::fixed, {big});
        s.add_constraint(ConstraintKind::radius, {small}, "10");
        s.add_constraint(ConstraintKind::tangent, {big, small});
        const auto solution = solve(s, {});
        const auto c = place(solution.sketch, s.curve(small)->points[0]);
        EXPECT_NEAR(std::hypot(c[0], c[1]), wanted, 1e-9);
    }
}

// A belt: arcs and lines tangent to each other all round, the hardest usual chain.
TEST(Solver, TangentChains) {
    for (const double stretch : {0.7, 1.0, 1.6}) {
        Sketch s;
        const int left = s.add_point(0, 0);
        const int right = s.add_point(40, 0);
        const int a = s.add_point(1, 9);
        const int b = s.add_point(-1, -11);
        const int c = s.add_point(41, -9);
        const int d = s.add_point(39, 11);
        const int arc_left = s.add_arc(left, a, b);
        const int below = s.add_line(b, c);
        const int arc_right = s.add_arc(right, c, d);
        const int above = s.add_line(d, a);
        s.add_constraint(ConstraintKind::fixed, {left});
        s.add_constraint(ConstraintKind::horizontal, {left, right});
        s.add_constraint(ConstraintKind::horizontal_distance, {left, right}, "span");
        s.add_constraint(ConstraintKind::radius, {arc_left}, "10");
        s.add_constraint(ConstraintKind::equal, {arc_left, arc_right});
        s.add_constraint(ConstraintKind::tangent, {arc_left, below});
        s.add_constraint(ConstraintKind::tangent, {arc_right, below});
        s.add_constraint(ConstraintKind::tangent, {arc_right, above});
        s.add_constraint(ConstraintKind::tangent, {arc_left, above});
        const double span = 40 * stretch;
        const auto solution = solve(s, {{"span", {span, length_dimension}}});
        ASSERT_TRUE(solution.findings.empty()) << stretch << " " << solution.residual;
        EXPECT_EQ(solution.degrees_of_freedom, 0);
        EXPECT_NEAR(find_regions(solution.sketch).at(0).area, pi * 100 + 20 * span, 1e-6);
    }
}

TEST(Solver, NearlySingularAnglesHold) {
    for (const double degrees : {0.01, 1.0, 89.99, 90.0, 179.5, -30.0}) {
        Sketch s;
        const int o = s.add_point(0, 0);
        const int base = s.add_line(o, s.add_point(30, 0));
        const double drawn = degrees * pi / 180 + 0.05;
        const int arm = s.add_line(o, s.add_point(20 * std::cos(drawn), 20 * std::sin(drawn)));
        s.add_constraint(ConstraintKind::fixed, {base});
        s.add_constraint(ConstraintKind::distance, {arm}, "20");
        s.add_constraint(ConstraintKind::angle, {base, arm}, number(degrees) + " deg");
        const auto solution = solve(s, {});
        ASSERT_TRUE(solution.findings.empty()) << degrees;
        const auto p = place(solution.sketch, s.curve(arm)->points[1]);
        EXPECT_NEAR(std::atan2(p[1], p[0]) * 180 / pi, degrees, 1e-8);
        EXPECT_NEAR(std::hypot(p[0], p[1]), 20, 1e-9);
    }
}

// A dimension that grows in small steps carries the sketch along without a jump.
TEST(Solver, GrowingDimensionsNeverFlip) {
    std::mt19937 random(34);
    Frame frame = random_frame(random, 8);
    Sketch s = frame.sketch;
    for (Constraint& c : s.constraints) {
        if (c.kind == ConstraintKind::horizontal_distance) {
            c.value.text = "span";
        }
    }
    const auto orientation = [&](const Sketch& of, size_t i) {
        const auto a = place(of, frame.joints[i - 2]);
        const auto b = place(of, frame.joints[i - 1]);
        const auto c = place(of, frame.joints[i]);
        return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) > 0;
    };
    for (double span = 40; span < 46; span += 0.5) {
        const auto solution = solve(s, {{"span", {span, length_dimension}}});
        ASSERT_TRUE(solution.findings.empty()) << span;
        for (size_t i = 2; i < frame.joints.size(); ++i) {
            EXPECT_EQ(orientation(solution.sketch, i), orientation(frame.sketch, i)) << span;
        }
    }
}

TEST(Solver, ConflictsNameOnlyWhatTakesPart) {
    Sketch s;
    const auto sides = s.add_rectangle({0, 0}, {30, 20});
    const int apart = s.add_line(s.add_point(100, 0), s.add_point(120, 3));
    const int held = s.add_constraint(ConstraintKind::distance, {apart}, "25");
    s.add_constraint(ConstraintKind::distance, {sides[0]}, "30");
    const int wrong = s.add_constraint(ConstraintKind::distance, {sides[2]}, "31");
    const auto solution = solve(s, {});
    ASSERT_TRUE(has_error(solution.findings));
    EXPECT_EQ(std::count(solution.in_conflict.begin(), solution.in_conflict.end(), held), 0);
    EXPECT_EQ(std::count(solution.in_conflict.begin(), solution.in_conflict.end(), wrong), 1);
}

TEST(Solver, RedundantIsNotInConflict) {
    Sketch s;
    const auto sides = s.add_rectangle({0, 0}, {30, 20});
    s.add_constraint(ConstraintKind::parallel, {sides[0], sides[2]}); // both are level already
    const auto solution = solve(s, {});
    EXPECT_TRUE(solution.findings.empty());
    EXPECT_EQ(solution.redundant, 1);
    EXPECT_EQ(solution.degrees_of_freedom, 4);
}

TEST(Solver, ValuesThatMakeNoSenseAreFindings) {
    Sketch s;
    const int c = s.add_circle(s.add_point(0, 0), 5);
    const int l = s.add_line(s.add_point(0, 0), s.add_point(9, 1));
    for (const auto& [kind, on, formula, code] :
         {std::tuple(ConstraintKind::radius, c, "-3", "sketch.size"),
          std::tuple(ConstraintKind::diameter, c, "0 mm", "sketch.size"),
          std::tuple(ConstraintKind::radius, c, "nothing", "formula.unknown_name"),
          std::tuple(ConstraintKind::distance, l, "3 deg", "formula.dimension"),
          std::tuple(ConstraintKind::distance, l, "0", "sketch.collapsed")}) {
        Sketch t = s;
        t.add_constraint(kind, {on}, formula);
        const auto solution = solve(t, {});
        ASSERT_FALSE(solution.findings.empty()) << formula;
        EXPECT_EQ(solution.findings[0].code, code) << formula;
    }
}

TEST(Sketch, RemovingTakesAllThatHangsOnIt) {
    Sketch s;
    const auto sides = s.add_rectangle({0, 0}, {30, 20});
    s.add_constraint(ConstraintKind::distance, {sides[0]}, "30");
    const int shared = s.curve(sides[0])->points[1];
    Sketch without_line = s;
    without_line.remove(sides[0]);
    EXPECT_EQ(without_line.curves.size(), 3u);
    EXPECT_EQ(without_line.points.size(), 4u); // its ends belong to the neighbours too
    EXPECT_EQ(without_line.constraints.size(), 3u);
    EXPECT_TRUE(check_structure(without_line).empty());
    Sketch without_corner = s;
    without_corner.remove(shared);
    EXPECT_EQ(without_corner.curves.size(), 2u);
    EXPECT_EQ(without_corner.points.size(), 3u);
    EXPECT_TRUE(check_structure(without_corner).empty());
    for (const Constraint& c : without_corner.constraints) {
        EXPECT_NE(c.kind, ConstraintKind::distance);
    }
    const int last = s.last_id;
    s.remove(sides[3]);
    EXPECT_GT(s.add_point(0, 0), last); // ids are never given twice
}

TEST(Constraints, SymmetricMidpointCollinearPattern) {
    Sketch s;
    const int axis = s.add_line(s.add_point(0, 0), s.add_point(30, 31));
    s.add_constraint(ConstraintKind::fixed, {axis});
    const int p = s.add_point(20, 3);
    const int q = s.add_point(4, 21);
    s.add_constraint(ConstraintKind::fixed, {p});
    s.add_constraint(ConstraintKind::symmetric, {p, q, axis});
    const int big = s.add_circle(s.add_point(25, 5), 3);
    const int twin = s.add_circle(s.add_point(6, 24), 5);
    s.add_constraint(ConstraintKind::fixed, {big});
    s.add_constraint(ConstraintKind::symmetric, {big, twin, axis});
    const int m = s.add_point(10, 9);
    s.add_constraint(ConstraintKind::midpoint, {m, axis});
    const int between = s.add_point(0, 0);
    s.add_constraint(ConstraintKind::midpoint, {between, p, q});
    const int second = s.add_line(s.add_point(40, 40), s.add_point(50, 53));
    s.add_constraint(ConstraintKind::collinear, {axis, second});
    std::vector<int> row;
    for (const double x : {0.0, 9.0, 21.0, 29.0}) {
        row.push_back(s.add_point(x, -10 + x / 10));
    }
    s.add_constraint(ConstraintKind::pattern, row);
    s.add_constraint(ConstraintKind::fixed, {row[0]});
    s.add_constraint(ConstraintKind::distance, {row[0], row[1]}, "12");
    const auto solution = solve(s, {});
    ASSERT_TRUE(solution.findings.empty());
    const Sketch& t = solution.sketch;
    const Stretch line = stretch_of(t, *t.curve(axis));
    const auto height = [&](const Point2& a) {
        return ((line.end[0] - line.start[0]) * (a[1] - line.start[1]) -
                (line.end[1] - line.start[1]) * (a[0] - line.start[0])) /
               line.length();
    };
    EXPECT_NEAR(height(place(t, p)), -height(place(t, q)), 1e-9);
    EXPECT_NEAR(nearest_parameter(line, place(t, p)), nearest_parameter(line, place(t, q)), 1e-9);
    EXPECT_NEAR(t.curve(twin)->radius, 3, 1e-9);
    EXPECT_NEAR(place(t, m)[0], 15, 1e-9);
    EXPECT_NEAR(distance(place(t, between), place(t, p)), distance(place(t, between), place(t, q)), 1e-9);
    EXPECT_NEAR(height(place(t, t.curve(second)->points[0])), 0, 1e-9);
    EXPECT_NEAR(height(place(t, t.curve(second)->points[1])), 0, 1e-9);
    for (size_t i = 1; i < row.size(); ++i) {
        EXPECT_NEAR(distance(place(t, row[i]), place(t, row[i - 1])), 12, 1e-9);
    }
    EXPECT_NEAR(distance(place(t, row[0]), place(t, row[3])), 36, 1e-9);
}

TEST(Constraints, PointsOnEllipsesAndSplines) {
    for (const bool through : {true, false}) {
        Sketch s;
        const int ellipse = s.add_ellipse(s.add_point(0, 0), s.add_point(20, 5), 8);
        std::vector<int> points;
        for (const auto& [x, y] :
             {std::pair(40.0, 0.0), std::pair(50.0, 20.0), std::pair(65.0, -5.0), std::pair(80.0, 10.0)}) {
            points.push_back(s.add_point(x, y));
            s.add_constraint(ConstraintKind::fixed, {points.back()});
        }
        const int spline = s.add_spline(points, 3, false, through);
        s.add_constraint(ConstraintKind::fixed, {ellipse});
        const int on_ellipse = s.add_point(15, 10);
        const int on_spline = s.add_point(55, 9);
        s.add_constraint(ConstraintKind::coincident, {on_ellipse, ellipse});
        s.add_constraint(ConstraintKind::coincident, {on_spline, spline});
        s.add_constraint(ConstraintKind::horizontal_distance, {points[0], on_spline}, "18");
        const auto solution = solve(s, {});
        ASSERT_TRUE(solution.findings.empty()) << solution.findings[0].cause;
        const auto gap = [&](int point, int curve) {
            return nearest_on(stretch_of(solution.sketch, *solution.sketch.curve(curve)), place(solution.sketch, point))
                .second;
        };
        EXPECT_LT(gap(on_ellipse, ellipse), 1e-9);
        EXPECT_LT(gap(on_spline, spline), 1e-9);
        EXPECT_NEAR(place(solution.sketch, on_spline)[0], 58, 1e-9);
        EXPECT_EQ(solution.degrees_of_freedom, 1); // the one on the ellipse may slide
        EXPECT_EQ(solution.free, std::set<int>{on_ellipse});
    }
}

TEST(Constraints, SplinesRunOnSmoothly) {
    for (const bool through : {true, false}) {
        Sketch s;
        const int joint = s.add_point(20, 0);
        const int center = s.add_point(0, 0);
        const int start = s.add_point(0, -20);
        const int arc = s.add_arc(center, start, joint);
        s.add_constraint(ConstraintKind::fixed, {arc});
        const int spline =
            s.add_spline({joint, s.add_point(18, 11), s.add_point(8, 21), s.add_point(-10, 25), s.add_point(-20, 33)},
                         3, false, through);
        s.add_constraint(ConstraintKind::smooth, {arc, spline});
        const auto solution = solve(s, {});
        ASSERT_TRUE(solution.findings.empty()) << through << solution.findings[0].cause << solution.residual;
        const Stretch a = stretch_of(solution.sketch, *solution.sketch.curve(arc));
        const Stretch b = stretch_of(solution.sketch, *solution.sketch.curve(spline));
        // Of a spline through points the parameters follow the points, so that it is exact after another solve only.
        const double within = through ? 2e-2 : 1e-7;
        EXPECT_NEAR(std::remainder(a.heading(false) - b.heading(true), 2 * pi), 0, within);
        EXPECT_NEAR(b.bend(), 1.0 / 20, within);
    }
}

TEST(Constraints, EllipseTouchesALine) {
    Sketch s;
    const int ellipse = s.add_ellipse(s.add_point(0, 0), s.add_point(20, 6), 8);
    s.add_constraint(ConstraintKind::fixed, {s.curve(ellipse)->points[0]});
    s.add_constraint(ConstraintKind::fixed, {s.curve(ellipse)->points[1]});
    const int line = s.add_line(s.add_point(-30, 14), s.add_point(30, 12));
    s.add_constraint(ConstraintKind::fixed, {line});
    s.add_constraint(ConstraintKind::tangent, {line, ellipse});
    const auto solution = solve(s, {});
    ASSERT_TRUE(solution.findings.empty());
    EXPECT_EQ(meetings(stretch_of(solution.sketch, *solution.sketch.curve(line)),
                       stretch_of(solution.sketch, *solution.sketch.curve(ellipse)), 1e-6)
                  .size(),
              1u);
}

TEST(Constraints, ArcLengthAndMeasuredDimensions) {
    Sketch s;
    const int center = s.add_point(0, 0);
    const int start = s.add_point(20, 0);
    const int arc = s.add_arc(center, start, s.add_point(0, 21));
    s.add_constraint(ConstraintKind::fixed, {center});
    s.add_constraint(ConstraintKind::fixed, {start});
    s.add_constraint(ConstraintKind::arc_length, {arc}, "40");
    const auto measured = [&](ConstraintKind kind, std::vector<int> on) {
        const int id = s.add_constraint(kind, std::move(on));
        s.constraints.back().measured = true;
        return id;
    };
    const int radius = measured(ConstraintKind::radius, {arc});
    const int diameter = measured(ConstraintKind::diameter, {arc});
    const int line = s.add_line(center, s.curve(arc)->points[2]);
    const int level = s.add_line(center, start);
    const int angle = measured(ConstraintKind::angle, {level, line});
    const int length = measured(ConstraintKind::distance, {line});
    const auto solution = solve(s, {});
    ASSERT_TRUE(solution.findings.empty());
    EXPECT_NEAR(stretch_of(solution.sketch, *solution.sketch.curve(arc)).length(), 40, 1e-9);
    EXPECT_NEAR(solution.dimension.at(radius), 20, 1e-9);
    EXPECT_NEAR(solution.dimension.at(diameter), 40, 1e-9);
    EXPECT_NEAR(solution.dimension.at(angle), 2, 1e-9);
    EXPECT_NEAR(solution.dimension.at(length), 20, 1e-9);
}

TEST(Solver, FreedomIsShownPointByPoint) {
    Sketch s;
    const auto sides = s.add_rectangle({0, 0}, {30, 20});
    const auto corner = [&](size_t i) { return s.curve(sides[i])->points[0]; };
    s.add_constraint(ConstraintKind::fixed, {corner(0)});
    s.add_constraint(ConstraintKind::distance, {sides[0]}, "30");
    const int ball = s.add_circle(s.add_point(60, 0), 4);
    const auto solution = solve(s, {});
    EXPECT_EQ(solution.degrees_of_freedom, 4); // the height, and all of the circle
    EXPECT_FALSE(solution.free.contains(corner(0)));
    EXPECT_FALSE(solution.free.contains(corner(1)));
    EXPECT_TRUE(solution.free.contains(corner(2)));
    EXPECT_TRUE(solution.free.contains(corner(3)));
    EXPECT_TRUE(solution.free.contains(ball));
}

// Every conflict that is told holds once any one of its constraints is taken away, and does not hold before.
TEST(Solver, ConflictsAreMinimal) {
    std::mt19937 random(35);
    int told = 0;
    for (int round = 0; round < 20; ++round) {
        Frame frame = random_frame(random, 6);
        Sketch& s = frame.sketch;
        s.add_rectangle({200, 200}, {230, 220});
        const size_t i = 2 + random() % 4;
        const size_t j = random() % (i - 1);
        // One strut too many, of the wrong length.
        s.add_constraint(ConstraintKind::distance, {frame.joints[j], frame.joints[i]},
                         number(distance(frame.truth[i], frame.truth[j]) + 3));
        const auto solution = solve(s, {});
        ASSERT_FALSE(solution.in_conflict.empty()) << round;
        const auto without = [&](int left_out) {
            Sketch t = s;
            std::erase_if(t.constraints, [&](const Constraint& c) {
                const bool part = std::count(solution.in_conflict.begin(), solution.in_conflict.end(), c.id) > 0;
                return !part || c.id == left_out;
            });
            return solve(t, {}).in_conflict.empty();
        };
        EXPECT_FALSE(without(0)) << round;
        for (const int id : solution.in_conflict) {
            EXPECT_TRUE(without(id)) << round << " with " << solution.in_conflict.size();
            ++told;
        }
    }
    EXPECT_GT(told, 50);
}

TEST(Drag, WhatIsFreeFollowsAndTheRestHolds) {
    Sketch s;
    const auto sides = s.add_rectangle({0, 0}, {30, 20});
    const auto corner = [&](size_t i) { return s.curve(sides[i])->points[0]; };
    s.add_constraint(ConstraintKind::fixed, {corner(0)});
    const Sketch pulled = drag(s, {}, {{corner(2), {47, 33}}});
    EXPECT_NEAR(place(pulled, corner(2))[0], 47, 1e-3);
    EXPECT_NEAR(place(pulled, corner(2))[1], 33, 1e-3);
    EXPECT_NEAR(place(pulled, corner(1))[0], 47, 1e-3);
    EXPECT_NEAR(place(pulled, corner(1))[1], 0, 1e-9);
    EXPECT_EQ(place(pulled, corner(0)), (Point2{0, 0}));
    // With its width given it can only grow upwards.
    s.add_constraint(ConstraintKind::distance, {sides[0]}, "30");
    const Sketch upwards = drag(s, {}, {{corner(2), {47, 33}}});
    EXPECT_NEAR(place(upwards, corner(2))[0], 30, 1e-9);
    EXPECT_NEAR(place(upwards, corner(2))[1], 33, 1e-3);
}

TEST(Drag, AFullyConstrainedSketchStays) {
    std::mt19937 random(36);
    const Frame frame = random_frame(random, 10);
    const Sketch pulled = drag(frame.sketch, {}, {{frame.joints[9], {300, -200}}});
    for (size_t i = 0; i < frame.joints.size(); ++i) {
        EXPECT_LT(distance(place(pulled, frame.joints[i]), frame.truth[i]), 1e-7);
    }
}

// A four-bar linkage pulled all round: its lengths hold at every place, and no triangle turns over in a single pull.
TEST(Drag, LinkagesMoveWithoutAJump) {
    Sketch s;
    const int a = s.add_point(0, 0);
    const int b = s.add_point(0, 15);
    const int c = s.add_point(40, 25);
    const int d = s.add_point(40, 0);
    s.add_constraint(ConstraintKind::fixed, {a});
    s.add_constraint(ConstraintKind::fixed, {d});
    const int crank = s.add_line(a, b);
    const int rod = s.add_line(b, c);
    const int rocker = s.add_line(c, d);
    s.add_constraint(ConstraintKind::distance, {crank}, "15");
    s.add_constraint(ConstraintKind::distance, {rod}, "42");
    s.add_constraint(ConstraintKind::distance, {rocker}, "30");
    Sketch now = solve(s, {}).sketch;
    for (int i = 0; i < 72; ++i) {
        const double angle = pi / 2 - i * pi / 36;
        const Sketch next = drag(now, {}, {{b, {15 * std::cos(angle), 15 * std::sin(angle)}}});
        EXPECT_NEAR(distance(place(next, a), place(next, b)), 15, 1e-8);
        EXPECT_NEAR(distance(place(next, b), place(next, c)), 42, 1e-8);
        EXPECT_NEAR(distance(place(next, c), place(next, d)), 30, 1e-8);
        EXPECT_LT(distance(place(now, c), place(next, c)), 6) << i; // no jump to the other branch
        EXPECT_GT(place(next, c)[1], 0) << i;
        now = next;
    }
    EXPECT_LT(distance(place(now, b), {15 * std::cos(pi / 2 + pi / 36), 15 * std::sin(pi / 2 + pi / 36)}), 0.5);
}

TEST(Solver, ClustersDoNotDisturbEachOther) {
    Sketch s;
    std::vector<std::array<int, 4>> all;
    for (int i = 0; i < 60; ++i) {
        all.push_back(s.add_rectangle({40.0 * i, 0}, {40.0 * i + 30, 20}));
        s.add_constraint(ConstraintKind::distance, {all.back()[0]}, std::to_string(20 + i));
    }
    s.add_constraint(ConstraintKind::distance, {all[7][2]}, "99"); // against its other side
    const auto solution = solve(s, {});
    EXPECT_FALSE(solution.in_conflict.empty());
    for (size_t i = 0; i < all.size(); ++i) {
        if (i != 7) {
            EXPECT_NEAR(stretch_of(solution.sketch, *solution.sketch.curve(all[i][0])).length(),
                        20.0 + static_cast<double>(i), 1e-9);
        }
    }
}

// A line that ends on the circle that it touches: two conditions that meet in one place, and still exact.
TEST(Constraints, TangentWhereItEnds) {
    Sketch s;
    const int ring = s.add_circle(s.add_point(0, 0), 10);
    s.add_constraint(ConstraintKind::fixed, {ring});
    const int start = s.add_point(30, 4);
    s.add_constraint(ConstraintKind::fixed, {start});
    const int line = s.add_line(start, s.add_point(3, 9));
    s.add_constraint(ConstraintKind::coincident, {s.curve(line)->points[1], ring});
    s.add_constraint(ConstraintKind::tangent, {line, ring});
    const auto solution = solve(s, {});
    ASSERT_TRUE(solution.findings.empty()) << solution.residual;
    EXPECT_EQ(solution.degrees_of_freedom, 0);
    const Stretch t = stretch_of(solution.sketch, *solution.sketch.curve(line));
    EXPECT_NEAR(t.length(), std::sqrt(30.0 * 30 + 16 - 100), 1e-9);
    EXPECT_GT(t.end[1], 0); // the side on which it is drawn
}
