// Regions and the plane geometry under them, judged by counting laws (Euler), by sampling, by the kernel and by
// symmetry.
#include "geom/measure/measure.h"
#include "sketch/arrangement.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <random>

using namespace kervo;
using namespace kervo::sketch;

namespace {

const double pi = std::numbers::pi;

using Random = std::mt19937;

double pick(Random& random, double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
}

Stretch any_stretch(Random& random) {
    if (pick(random, 0, 1) < 0.4) {
        return line_between({pick(random, 0, 50), pick(random, 0, 50)}, {pick(random, 0, 50), pick(random, 0, 50)});
    }
    const double sweep = pick(random, 0.2, 2 * pi) * (pick(random, 0, 1) < 0.5 ? 1 : -1);
    return arc_about({pick(random, 0, 50), pick(random, 0, 50)}, pick(random, 3, 25), pick(random, -pi, pi), sweep);
}

Stretch any_free(Random& random) {
    const auto place = [&] { return Point2{pick(random, 0, 50), pick(random, 0, 50)}; };
    if (pick(random, 0, 1) < 0.4) {
        const double sweep = pick(random, 0.3, 2 * pi) * (pick(random, 0, 1) < 0.5 ? 1 : -1);
        return ellipse_about(place(), {pick(random, 3, 20), pick(random, -10, 10)}, pick(random, 3, 20),
                             pick(random, -pi, pi), sweep);
    }
    std::vector<Point2> points;
    const int count = 4 + static_cast<int>(random() % 5);
    for (int i = 0; i < count; ++i) {
        points.push_back(place());
    }
    const int degree = 1 + static_cast<int>(random() % 5);
    const bool closed = random() % 3 == 0;
    const Stretch s = stretch_over(std::make_shared<const Spline>(
        random() % 2 == 0 ? spline_by_poles(points, degree, closed) : spline_through(points, degree, closed)));
    return random() % 2 == 0 ? s : s.reversed();
}

std::vector<Point2> chain(const Stretch& s, int pieces) {
    std::vector<Point2> points;
    for (int i = 0; i <= pieces; ++i) {
        points.push_back(s.at(static_cast<double>(i) / pieces));
    }
    return points;
}

bool pieces_cross(const Point2& a, const Point2& b, const Point2& c, const Point2& d) {
    const auto side = [](const Point2& p, const Point2& q, const Point2& r) {
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]) > 0;
    };
    return side(a, b, c) != side(a, b, d) && side(c, d, a) != side(c, d, b);
}

// Crossings of two chains of straight pieces.
int crossings_of_chains(const Stretch& a, const Stretch& b, int pieces) {
    const auto p = chain(a, pieces);
    const auto q = chain(b, pieces);
    int found = 0;
    for (size_t i = 0; i + 1 < p.size(); ++i) {
        for (size_t j = 0; j + 1 < q.size(); ++j) {
            found += pieces_cross(p[i], p[i + 1], q[j], q[j + 1]) ? 1 : 0;
        }
    }
    return found;
}

// The same of a chain with itself; pieces that follow each other do not count.
int crossings_of_chain(const Stretch& s, int pieces) {
    const auto p = chain(s, pieces);
    const bool closed = s.closed(1e-9);
    int found = 0;
    for (size_t i = 0; i + 1 < p.size(); ++i) {
        for (size_t j = i + 2; j + 1 < p.size(); ++j) {
            const bool seam = closed && i == 0 && j + 2 == p.size();
            found += !seam && pieces_cross(p[i], p[i + 1], p[j], p[j + 1]) ? 1 : 0;
        }
    }
    return found;
}

// Crossings by brute force: where the signed side of b's carrier changes along a, and the place lies on b.
int crossings_by_sampling(const Stretch& a, const Stretch& b) {
    const auto side = [&](double t) {
        const Point2 p = a.at(t);
        if (b.round()) {
            return distance(p, b.center) - b.radius;
        }
        return (b.end[0] - b.start[0]) * (p[1] - b.start[1]) - (b.end[1] - b.start[1]) * (p[0] - b.start[0]);
    };
    constexpr int samples = 4000;
    int found = 0;
    for (int i = 0; i < samples; ++i) {
        double low = static_cast<double>(i) / samples;
        double high = static_cast<double>(i + 1) / samples;
        if ((side(low) < 0) == (side(high) < 0)) {
            continue;
        }
        for (int halving = 0; halving < 60; ++halving) {
            const double middle = (low + high) / 2;
            ((side(low) < 0) == (side(middle) < 0) ? low : high) = middle;
        }
        const double on_b = nearest_parameter(b, a.at(low));
        found += on_b >= 0 && on_b <= 1 ? 1 : 0;
    }
    return found;
}

double area_by_sampling(const std::vector<Stretch>& loop) {
    double total = 0;
    for (const Stretch& s : loop) {
        constexpr int parts = 2000;
        for (int i = 0; i < parts; ++i) {
            const Point2 p = s.at(static_cast<double>(i) / parts);
            const Point2 q = s.at(static_cast<double>(i + 1) / parts);
            total += (p[0] * q[1] - q[0] * p[1]) / 2;
        }
    }
    return total;
}

int winding_by_sampling(const std::vector<Stretch>& loop, const Point2& p) {
    double turned = 0;
    for (const Stretch& s : loop) {
        for (int i = 0; i < 4000; ++i) {
            const Point2 a = s.at(i / 4000.0);
            const Point2 b = s.at((i + 1) / 4000.0);
            turned += std::atan2((a[0] - p[0]) * (b[1] - p[1]) - (a[1] - p[1]) * (b[0] - p[0]),
                                 (a[0] - p[0]) * (b[0] - p[0]) + (a[1] - p[1]) * (b[1] - p[1]));
        }
    }
    return static_cast<int>(std::lround(turned / (2 * pi)));
}

// A closed chain of lines and arcs through random corners; it may cross itself.
std::vector<Stretch> closed_chain(Random& random, int corners) {
    std::vector<Point2> places;
    for (int i = 0; i < corners; ++i) {
        places.push_back({pick(random, 0, 40), pick(random, 0, 40)});
    }
    std::vector<Stretch> loop;
    for (int i = 0; i < corners; ++i) {
        const Point2 a = places[static_cast<size_t>(i)];
        const Point2 b = places[static_cast<size_t>((i + 1) % corners)];
        if (i % 2 == 0) {
            loop.push_back(line_between(a, b));
            continue;
        }
        // A centre on the perpendicular bisector, either side, so that the arc is small or large.
        const double shift = pick(random, -1, 1);
        const Point2 center{(a[0] + b[0]) / 2 - (b[1] - a[1]) * shift, (a[1] + b[1]) / 2 + (b[0] - a[0]) * shift};
        const double from = std::atan2(a[1] - center[1], a[0] - center[0]);
        double sweep = std::atan2(b[1] - center[1], b[0] - center[0]) - from;
        sweep += sweep < 0 ? 2 * pi : 0;
        loop.push_back(arc_about(center, distance(a, center), from, pick(random, 0, 1) < 0.5 ? sweep : sweep - 2 * pi));
    }
    return loop;
}

double total_area(const std::vector<Region>& regions) {
    double total = 0;
    for (const Region& region : regions) {
        total += region.area;
    }
    return total;
}

struct Disc {
    Point2 center;
    double radius;
};

std::vector<Disc> scatter(Random& random, int count, double field) {
    std::vector<Disc> discs;
    for (int i = 0; i < count; ++i) {
        discs.push_back({{pick(random, 0, field), pick(random, 0, field)}, pick(random, 4, 16)});
    }
    return discs;
}

bool cross(const Disc& a, const Disc& b) {
    const double apart = distance(a.center, b.center);
    return apart < a.radius + b.radius && apart > std::fabs(a.radius - b.radius);
}

// Groups of discs whose circles hang together.
int connected(const std::vector<Disc>& discs) {
    std::vector<size_t> root(discs.size());
    for (size_t i = 0; i < root.size(); ++i) {
        root[i] = i;
    }
    const std::function<size_t(size_t)> top = [&](size_t i) { return root[i] == i ? i : top(root[i]); };
    for (size_t i = 0; i < discs.size(); ++i) {
        for (size_t j = 0; j < i; ++j) {
            if (cross(discs[i], discs[j])) {
                root[top(i)] = top(j);
            }
        }
    }
    int groups = 0;
    for (size_t i = 0; i < root.size(); ++i) {
        groups += root[i] == i ? 1 : 0;
    }
    return groups;
}

Sketch sketch_of(const std::vector<Disc>& discs) {
    Sketch s;
    for (const Disc& disc : discs) {
        s.add_circle(s.add_point(disc.center[0], disc.center[1]), disc.radius);
    }
    return s;
}

std::vector<double> sorted_areas(const std::vector<Region>& regions) {
    std::vector<double> areas;
    for (const Region& region : regions) {
        areas.push_back(region.area);
    }
    std::sort(areas.begin(), areas.end());
    return areas;
}

} // namespace

TEST(PlaneGeometry, MeetingsAreThoseThatSamplingFinds) {
    Random random(11);
    int total = 0;
    for (int round = 0; round < 400; ++round) {
        const Stretch a = any_stretch(random);
        const Stretch b = any_stretch(random);
        const auto found = meetings(a, b, 1e-9);
        for (const auto& [on_a, on_b] : found) {
            EXPECT_LT(distance(a.at(on_a), b.at(on_b)), 1e-8);
        }
        EXPECT_EQ(static_cast<int>(found.size()), crossings_by_sampling(a, b)) << round;
        total += static_cast<int>(found.size());
    }
    EXPECT_GT(total, 80);
}

TEST(PlaneGeometry, PartsRunOneWay) {
    Random random(19);
    for (int round = 0; round < 200; ++round) {
        const Stretch s = round % 4 == 0 ? any_stretch(random) : any_free(random);
        const auto parts = monotone_parts(s);
        for (size_t i = 0; i + 1 < parts.size(); ++i) {
            const Point2 a = s.at(parts[i]);
            const Point2 b = s.at(parts[i + 1]);
            for (int k = 0; k <= 20; ++k) {
                const Point2 p = s.at(parts[i] + (parts[i + 1] - parts[i]) * k / 20);
                for (size_t axis = 0; axis < 2; ++axis) {
                    EXPECT_GE(p[axis], std::min(a[axis], b[axis]) - 1e-9) << round;
                    EXPECT_LE(p[axis], std::max(a[axis], b[axis]) + 1e-9) << round;
                }
            }
        }
    }
}

TEST(PlaneGeometry, FreeCurvesMeetWhereChainsSay) {
    Random random(16);
    int total = 0;
    int judged = 0;
    for (int round = 0; round < 250; ++round) {
        const Stretch a = any_free(random);
        const Stretch b = round % 2 == 0 ? any_free(random) : any_stretch(random);
        const auto found = meetings(a, b, 1e-9);
        for (const auto& [on_a, on_b] : found) {
            EXPECT_LT(distance(a.at(on_a), b.at(on_b)), 1e-8);
        }
        EXPECT_EQ(found.size(), meetings(b, a, 1e-9).size()) << round;
        const int chains = crossings_of_chains(a, b, 700);
        if (chains == crossings_of_chains(a, b, 555)) { // else they nearly touch somewhere, and chains cannot judge
            EXPECT_EQ(static_cast<int>(found.size()), chains) << round;
            total += chains;
            ++judged;
        }
    }
    EXPECT_GT(total, 300);
    EXPECT_GT(judged, 230);
}

TEST(PlaneGeometry, FreeCurvesThatTouchOrRunAlong) {
    // An ellipse touches its own tangent, an arc its ellipse at the end of an axis.
    const Stretch ellipse = ellipse_about({0, 0}, {10, 0}, 4, 0, 2 * pi);
    EXPECT_EQ(meetings(ellipse, line_between({-20, 4}, {20, 4}), 1e-6).size(), 1u);
    EXPECT_EQ(meetings(ellipse, line_between({-20, 4.001}, {20, 4.001}), 1e-6).size(), 0u);
    EXPECT_EQ(meetings(ellipse, line_between({-20, 3.999}, {20, 3.999}), 1e-6).size(), 2u);
    EXPECT_EQ(meetings(ellipse, arc_about({0, 0}, 4, 0, 2 * pi), 1e-6).size(), 2u);
    EXPECT_EQ(meetings(ellipse, arc_about({0, 0}, 10, 0, 2 * pi), 1e-6).size(), 2u);
    EXPECT_EQ(meetings(ellipse, arc_about({13, 0}, 3, 0, 2 * pi), 1e-6).size(), 1u);
    // A part of a spline lies on the whole: they share the part's ends.
    const auto whole =
        stretch_over(std::make_shared<const Spline>(spline_through({{0, 0}, {10, 8}, {20, -3}, {30, 5}}, 3, false)));
    const auto shared = meetings(whole, whole.part(0.3, 0.7), 1e-6);
    ASSERT_GE(shared.size(), 2u);
    for (const double end : {0.3, 0.7}) {
        EXPECT_TRUE(std::any_of(shared.begin(), shared.end(),
                                [&](const auto& pair) { return std::fabs(pair.first - end) < 1e-6; }));
    }
}

TEST(PlaneGeometry, FreeCurvesCrossThemselves) {
    Random random(20);
    int total = 0;
    for (int round = 0; round < 150; ++round) {
        const Stretch s = any_free(random);
        const int chains = crossings_of_chain(s, 700);
        if (s.kind == StretchKind::spline && chains == crossings_of_chain(s, 555)) {
            EXPECT_EQ(static_cast<int>(self_meetings(s, 1e-9).size()), chains) << round;
            total += chains;
        }
    }
    EXPECT_GT(total, 100);
    const auto of = [](const std::vector<Point2>& points, bool closed) {
        return self_meetings(stretch_over(std::make_shared<const Spline>(spline_through(points, 3, closed))), 1e-6)
            .size();
    };
    EXPECT_EQ(of({{0, 0}, {10, 10}, {20, 0}, {10, -10}}, true), 0u);
    EXPECT_EQ(of({{0, 0}, {20, 10}, {20, 0}, {0, 10}}, false), 1u);    // a loop
    EXPECT_EQ(of({{-10, -5}, {10, 5}, {10, -5}, {-10, 5}}, true), 1u); // an eight
    EXPECT_EQ(of({{0, 0}, {5, 9}, {10, 0}, {15, 9}}, false), 0u);
}

TEST(PlaneGeometry, MeetingsDoNotDependOnWhoIsAsked) {
    Random random(12);
    for (int round = 0; round < 200; ++round) {
        const Stretch a = any_stretch(random);
        const Stretch b = any_stretch(random);
        const auto there = meetings(a, b, 1e-9);
        EXPECT_EQ(there.size(), meetings(b, a, 1e-9).size());
        EXPECT_EQ(there.size(), meetings(a.reversed(), b, 1e-9).size());
    }
}

TEST(PlaneGeometry, WhatRunsAlongEachOtherSharesItsEnds) {
    const auto shared = meetings(line_between({0, 0}, {10, 0}), line_between({4, 0}, {14, 0}), 1e-6);
    std::vector<double> places;
    for (const auto& [on_a, on_b] : shared) {
        places.push_back(on_a * 10);
    }
    EXPECT_TRUE(std::any_of(places.begin(), places.end(), [](double x) { return std::fabs(x - 4) < 1e-9; }));
    EXPECT_TRUE(std::any_of(places.begin(), places.end(), [](double x) { return std::fabs(x - 10) < 1e-9; }));
    EXPECT_FALSE(meetings(arc_about({0, 0}, 5, 0, pi), arc_about({0, 0}, 5, pi / 2, pi), 1e-6).empty());
    EXPECT_TRUE(meetings(line_between({0, 0}, {10, 0}), line_between({0, 1}, {10, 1}), 1e-6).empty());
    EXPECT_TRUE(meetings(arc_about({0, 0}, 5, 0, pi), arc_about({0, 0}, 6, 0, pi), 1e-6).empty());
}

TEST(PlaneGeometry, NearestIsNearest) {
    Random random(13);
    for (int round = 0; round < 200; ++round) {
        const Stretch s = round % 2 == 0 ? any_stretch(random) : any_free(random);
        const Point2 p{pick(random, -10, 60), pick(random, -10, 60)};
        const double t = nearest_on(s, p).first;
        for (int i = 0; i <= 500; ++i) {
            EXPECT_GE(distance(s.at(i / 500.0), p), distance(s.at(t), p) - 1e-9) << round;
        }
    }
}

TEST(PlaneGeometry, PartsLieOnTheWhole) {
    Random random(14);
    for (int round = 0; round < 200; ++round) {
        const Stretch s = round % 2 == 0 ? any_stretch(random) : any_free(random);
        const double t0 = pick(random, 0, 0.5);
        const double t1 = pick(random, 0.5, 1);
        const Stretch part = s.part(t0, t1);
        EXPECT_NEAR(part.length() + s.part(0, t0).length() + s.part(t1, 1).length(), s.length(), 2e-3 * s.length());
        for (const double u : {0.0, 0.3, 1.0}) {
            EXPECT_LT(distance(part.at(u), s.at(t0 + (t1 - t0) * u)), 1e-9);
            EXPECT_LT(distance(s.reversed().at(u), s.at(1 - u)), 1e-9);
        }
        EXPECT_NEAR(s.area_term() + s.reversed().area_term(), 0, 1e-9);
        if (!s.free()) {
            EXPECT_NEAR(s.bend() + s.reversed().bend(), 0, 1e-12);
        }
        const double step = 1e-6;
        const Point2 a = s.at(0);
        const Point2 b = s.at(step);
        const double heading = std::atan2(b[1] - a[1], b[0] - a[0]);
        EXPECT_NEAR(std::cos(heading - s.heading(true)), 1, 1e-6);
        const auto box = s.box();
        for (int i = 0; i <= 20; ++i) {
            const Point2 p = s.at(i / 20.0);
            EXPECT_TRUE(p[0] >= box[0] - 1e-9 && p[1] >= box[1] - 1e-9 && p[0] <= box[2] + 1e-9 &&
                        p[1] <= box[3] + 1e-9);
        }
    }
}

TEST(PlaneGeometry, AreasAndWindingsOfChains) {
    Random random(15);
    for (int round = 0; round < 90; ++round) {
        auto loop = closed_chain(random, 4 + round % 5);
        if (round % 3 == 0) { // one side becomes a spline
            loop[1] = stretch_over(std::make_shared<const Spline>(spline_through(
                {loop[1].start, {pick(random, 0, 40), pick(random, 0, 40)}, {pick(random, 0, 40), 20}, loop[1].end}, 3,
                false)));
        }
        double exact = 0;
        for (const Stretch& s : loop) {
            exact += s.area_term();
        }
        EXPECT_NEAR(exact, area_by_sampling(loop), 0.02) << round;
        for (int i = 0; i < 10; ++i) {
            const Point2 p{pick(random, -5, 45), pick(random, -5, 45)};
            EXPECT_EQ(winding(loop, p), winding_by_sampling(loop, p)) << round;
        }
    }
}

// n chords of a rectangle with k crossings divide it into 1 + n + k parts.
TEST(Regions, ChordsDivideARectangleAsEulerSays) {
    Random random(21);
    for (int round = 0; round < 20; ++round) {
        Sketch s;
        s.add_rectangle({0, 0}, {100, 60});
        std::vector<std::array<Point2, 2>> chords;
        const int count = 2 + round;
        for (int i = 0; i < count; ++i) {
            const Point2 a{pick(random, 1, 99), 0};
            const Point2 b{pick(random, 1, 99), 60};
            chords.push_back({a, b});
            s.add_line(s.add_point(a[0], a[1]), s.add_point(b[0], b[1]));
        }
        int crossings = 0;
        for (size_t i = 0; i < chords.size(); ++i) {
            for (size_t j = 0; j < i; ++j) {
                crossings += (chords[i][0][0] < chords[j][0][0]) != (chords[i][1][0] < chords[j][1][0]) ? 1 : 0;
            }
        }
        const auto regions = find_regions(s);
        EXPECT_EQ(static_cast<int>(regions.size()), 1 + count + crossings);
        EXPECT_NEAR(total_area(regions), 6000, 1e-6);
    }
}

// With V crossings and c groups of circles that hang together there are V + c bounded faces.
TEST(Regions, CirclesDivideThePlaneAsEulerSays) {
    Random random(22);
    for (int round = 0; round < 15; ++round) {
        const auto discs = scatter(random, 4 + 3 * round, 90);
        int crossings = 0;
        for (size_t i = 0; i < discs.size(); ++i) {
            for (size_t j = 0; j < i; ++j) {
                crossings += cross(discs[i], discs[j]) ? 2 : 0;
            }
        }
        EXPECT_EQ(static_cast<int>(find_regions(sketch_of(discs)).size()), crossings + connected(discs)) << round;
    }
}

TEST(Regions, TheKernelAgreesOnEveryArea) {
    Random random(23);
    const gp_Ax3 frame(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
    for (int round = 0; round < 5; ++round) {
        Sketch s = sketch_of(scatter(random, 12, 60));
        s.add_rectangle({pick(random, 0, 20), pick(random, 0, 20)}, {pick(random, 30, 60), pick(random, 30, 60)});
        for (const Region& region : find_regions(s)) {
            const auto face = geom::make_profile_face(frame, outline_of(region));
            EXPECT_NEAR(geom::area_of(face.face) / region.area, 1, 1e-7);
            EXPECT_NEAR(geom::volume_of(geom::make_prism(frame, outline_of(region), 0, 3).shape) / (3 * region.area), 1,
                        1e-7);
        }
    }
}

TEST(Regions, TheKernelAgreesOnFreeCurvesToo) {
    Random random(26);
    const gp_Ax3 frame(gp_Pnt(1, 2, 3), gp_Dir(0.2, 0.3, 1), gp_Dir(1, 0, 0));
    int compared = 0;
    for (int round = 0; round < 12; ++round) {
        Sketch s;
        const auto point = [&] { return s.add_point(pick(random, 0, 60), pick(random, 0, 60)); };
        for (int i = 0; i < 2; ++i) {
            const int center = point();
            s.add_ellipse(center, s.add_point(s.point(center)->x + pick(random, 5, 25), s.point(center)->y + 4),
                          pick(random, 5, 20));
            s.add_spline({point(), point(), point(), point(), point()}, 2 + round % 4, true, i == 0);
            s.add_circle(point(), pick(random, 5, 15));
        }
        for (const Region& region : find_regions(s)) {
            EXPECT_TRUE(region.contains(region.inside)) << round;
            const auto face = geom::make_profile_face(frame, outline_of(region));
            double sampled = 0;
            for (const auto& loop : region.loops) {
                sampled += area_by_sampling(loop);
            }
            EXPECT_NEAR(region.area, sampled, 1e-4 * region.area + 2e-3) << round;
            EXPECT_NEAR(geom::area_of(face.face), region.area, 1e-6 * region.area + 1e-9) << round;
            ++compared;
        }
    }
    EXPECT_GT(compared, 150);
}

TEST(Regions, EllipsesAndTheirParts) {
    Sketch s;
    s.add_ellipse(s.add_point(0, 0), s.add_point(20, 0), 8);
    s.add_line(s.add_point(-30, 0), s.add_point(30, 0));
    const auto halves = find_regions(s);
    ASSERT_EQ(halves.size(), 2u);
    EXPECT_NEAR(halves[0].area, pi * 80, 1e-9);
    EXPECT_NEAR(halves[1].area, pi * 80, 1e-9);
    Sketch quarter;
    const int center = quarter.add_point(5, 5);
    const int along = quarter.add_point(25, 5);
    const int across = quarter.add_point(5, 13);
    quarter.add_ellipse_arc(center, along, 8, along, across);
    quarter.add_line(across, center);
    quarter.add_line(center, along);
    ASSERT_EQ(find_regions(quarter).size(), 1u);
    EXPECT_NEAR(find_regions(quarter)[0].area, pi * 40, 1e-9);
}

TEST(Regions, ASplineThatCrossesItselfEnclosesTwo) {
    Sketch s;
    std::vector<int> points;
    for (const auto& [x, y] :
         {std::pair(-10.0, -5.0), std::pair(10.0, 5.0), std::pair(10.0, -5.0), std::pair(-10.0, 5.0)}) {
        points.push_back(s.add_point(x, y));
    }
    s.add_spline(points, 3, true, true);
    const auto regions = find_regions(s);
    ASSERT_EQ(regions.size(), 2u);
    EXPECT_NEAR(regions[0].area, regions[1].area, 1e-6); // by symmetry
    EXPECT_EQ(regions[0].bounds.size(), 1u);
    EXPECT_NE(regions[0].bounds, regions[1].bounds); // the one lies left of it, the other right
}

TEST(Splines, PassThroughTheirPointsAndMoveSmoothly) {
    Random random(27);
    for (int round = 0; round < 60; ++round) {
        std::vector<Point2> points;
        for (int i = 0; i < 3 + round % 8; ++i) {
            points.push_back({pick(random, 0, 50), pick(random, 0, 50)});
        }
        const bool closed = round % 2 == 0;
        const Spline s = spline_through(points, 1 + round % 5, closed);
        for (const Point2& p : points) {
            EXPECT_LT(nearest_on(stretch_over(std::make_shared<const Spline>(s)), p).second, 1e-7) << round;
        }
        for (int i = 1; i < 40; ++i) {
            const double u = s.first() + (s.last() - s.first()) * (i + 0.37) / 41;
            const double h = 1e-6;
            const Motion m = s.at(u);
            for (size_t axis = 0; axis < 2; ++axis) {
                const double slope = (s.at(u + h).place[axis] - s.at(u - h).place[axis]) / (2 * h);
                EXPECT_NEAR(m.first[axis], slope, 1e-3 * (1 + std::fabs(slope)));
            }
        }
        if (closed && s.degree >= 2) { // no corner at the seam
            const Motion a = s.at(s.first());
            const Motion b = s.at(s.last());
            EXPECT_LT(distance(a.place, b.place), 1e-9);
            EXPECT_LT(distance(a.first, b.first), 1e-6 * (1 + std::hypot(a.first[0], a.first[1])));
        }
    }
}

TEST(Splines, SegmentsAreTheSameCurve) {
    Random random(28);
    for (int round = 0; round < 60; ++round) {
        std::vector<Point2> points;
        for (int i = 0; i < 4 + round % 6; ++i) {
            points.push_back({pick(random, 0, 50), pick(random, 0, 50)});
        }
        const Spline s = spline_by_poles(points, 1 + round % 5, round % 2 == 0);
        const double u0 = pick(random, 0, 0.5);
        const double u1 = pick(random, 0.5, 1);
        const Spline part = s.segment(u0, u1);
        EXPECT_EQ(part.knots.size(), part.poles.size() + static_cast<size_t>(part.degree) + 1);
        EXPECT_LT(distance(part.poles.front(), s.at(u0).place), 1e-9);
        EXPECT_LT(distance(part.poles.back(), s.at(u1).place), 1e-9);
        for (int i = 0; i <= 10; ++i) {
            const double u = u0 + (u1 - u0) * i / 10;
            EXPECT_LT(distance(part.at(u).place, s.at(u).place), 1e-9) << round;
        }
        const Spline all = s.segment(s.first(), s.last());
        EXPECT_LT(distance(all.at(0.4).place, s.at(0.4).place), 1e-9);
    }
}

TEST(Regions, MovedAndTurnedSketchesHaveTheSame) {
    Random random(24);
    const auto discs = scatter(random, 25, 80);
    const auto before = sorted_areas(find_regions(sketch_of(discs)));
    for (const double turn : {0.3, 1.2, pi / 2, pi, 4.0}) {
        auto turned = discs;
        for (Disc& disc : turned) {
            const auto [x, y] = disc.center;
            disc.center = {x * std::cos(turn) - y * std::sin(turn) + 300, x * std::sin(turn) + y * std::cos(turn) - 70};
        }
        const auto after = sorted_areas(find_regions(sketch_of(turned)));
        ASSERT_EQ(after.size(), before.size());
        for (size_t i = 0; i < after.size(); ++i) {
            EXPECT_NEAR(after[i], before[i], 1e-7);
        }
    }
}

TEST(Regions, NestedFiftyDeep) {
    Sketch s;
    for (int i = 1; i <= 50; ++i) {
        s.add_circle(s.add_point(0.1 * i, 0), i);
    }
    const auto regions = find_regions(s);
    ASSERT_EQ(regions.size(), 50u);
    const auto areas = sorted_areas(regions);
    for (int i = 1; i <= 50; ++i) {
        EXPECT_NEAR(areas[static_cast<size_t>(i - 1)], pi * (2 * i - 1), 1e-9);
    }
}

TEST(Regions, IslandsInIslands) {
    Sketch s;
    s.add_rectangle({0, 0}, {100, 100});
    for (const double x : {10.0, 55.0}) {
        s.add_rectangle({x, 10}, {x + 35, 90});
        for (const double y : {15.0, 50.0}) {
            s.add_rectangle({x + 5, y}, {x + 30, y + 30});
            s.add_circle(s.add_point(x + 17, y + 15), 8);
        }
    }
    const auto areas = sorted_areas(find_regions(s));
    ASSERT_EQ(areas.size(), 1u + 2 + 4 + 4);
    EXPECT_NEAR(areas[0], pi * 64, 1e-9);
    EXPECT_NEAR(areas[4], 25 * 30 - pi * 64, 1e-9);
    EXPECT_NEAR(areas[8], 35 * 80 - 2 * 25 * 30, 1e-9);
    EXPECT_NEAR(areas[10], 10000 - 2 * 35 * 80, 1e-9);
}

TEST(Regions, CirclesThatTouchEachOtherEncloseTheGap) {
    Sketch s;
    const double r = 10;
    for (int i = 0; i < 3; ++i) { // mutually tangent
        const double angle = pi / 2 + i * 2 * pi / 3;
        const double reach = 2 * r / std::sqrt(3.0);
        s.add_circle(s.add_point(reach * std::cos(angle), reach * std::sin(angle)), r);
    }
    const auto areas = sorted_areas(find_regions(s));
    ASSERT_EQ(areas.size(), 4u);
    EXPECT_NEAR(areas[0], r * r * (std::sqrt(3.0) - pi / 2), 1e-6);
    EXPECT_NEAR(areas[3], pi * r * r, 1e-6);
}

TEST(Regions, AnOutlineThatTouchesItself) {
    Sketch s; // two triangles that share their tip, drawn as one chain
    const std::array<Point2, 6> corners{{{0, 0}, {10, -5}, {10, 5}, {0, 0}, {-10, 5}, {-10, -5}}};
    std::vector<int> points;
    for (const auto& corner : corners) {
        points.push_back(s.add_point(corner[0], corner[1]));
    }
    for (size_t i = 0; i < points.size(); ++i) {
        s.add_line(points[i], points[(i + 1) % points.size()]);
    }
    const auto regions = find_regions(s);
    ASSERT_EQ(regions.size(), 2u);
    EXPECT_NEAR(regions[0].area, 50, 1e-9);
    EXPECT_NEAR(regions[1].area, 50, 1e-9);
}

TEST(Regions, DoublesTailsAndBridgesBoundNothing) {
    Sketch s;
    s.add_rectangle({0, 0}, {20, 10});
    s.add_rectangle({0, 0}, {20, 10});                   // drawn twice
    s.add_line(s.add_point(5, 0), s.add_point(15, 0));   // a part of a side, drawn again
    s.add_line(s.add_point(10, 10), s.add_point(10, 4)); // a tail that ends inside
    const int island = s.add_circle(s.add_point(16, 5), 2);
    s.add_line(s.add_point(18, 5), s.add_point(20, 5)); // ties the island to the border
    auto regions = find_regions(s);
    EXPECT_EQ(regions.size(), 2u);
    EXPECT_NEAR(total_area(regions), 200, 1e-9);
    s.curve(island)->construction = true;
    regions = find_regions(s);
    ASSERT_EQ(regions.size(), 1u);
    EXPECT_NEAR(regions[0].area, 200, 1e-9);
    EXPECT_TRUE(find_regions(Sketch{}).empty());
}

TEST(Regions, GapsWithinTheJoiningToleranceClose) {
    for (const auto& [gap, closed] : {std::pair(0.5 * joining_tolerance, true), std::pair(1e-3, false)}) {
        const std::vector<Stretch> open{line_between({gap, 0}, {10, 0}, 1), line_between({10, 0}, {10, 10}, 2),
                                        line_between({10, 10}, {0, 10}, 3), line_between({0, 10}, {0, 0}, 4)};
        Progress quiet;
        EXPECT_EQ(arrange(open, quiet).regions.size(), closed ? 1u : 0u) << gap;
    }
}

// Circles in a raster that all overlap their neighbours: `reach` cells to each side.
namespace {
std::vector<Disc> raster_of_discs(int side, double reach) {
    std::vector<Disc> discs;
    for (int i = 0; i < side; ++i) {
        for (int k = 0; k < side; ++k) {
            discs.push_back({{10.0 * i + 1e-3 * k, 10.0 * k + 2e-3 * i}, 10 * reach + 1e-4 * (i + k)});
        }
    }
    return discs;
}
} // namespace

TEST(Regions, TooManyCrossingsAreAFinding) {
    Progress progress;
    EXPECT_TRUE(arrange(sketch_of(raster_of_discs(20, 0.6)), progress).findings.empty());
    const auto much = arrange(sketch_of(raster_of_discs(60, 6)), progress);
    ASSERT_EQ(much.findings.size(), 1u);
    EXPECT_EQ(much.findings[0].code, "sketch.too_much");
    EXPECT_TRUE(much.regions.empty());
}

TEST(Regions, StopIsHeard) {
    Progress progress;
    progress.cancel();
    const auto stopped = arrange(sketch_of(raster_of_discs(20, 0.6)), progress);
    ASSERT_EQ(stopped.findings.size(), 1u);
    EXPECT_EQ(stopped.findings[0].code, "sketch.cancelled");
}

// Splines that run back on themselves, or along each other beside their ends: no number of crossings is theirs.
TEST(Regions, FoldedCurvesAreAFinding) {
    const auto spline = [](Sketch& s, const std::vector<Point2>& poles, int degree, bool closed) {
        std::vector<int> points;
        for (const Point2& p : poles) {
            points.push_back(s.add_point(p[0], p[1]));
        }
        return s.add_spline(points, degree, closed, false);
    };
    using Poles = std::vector<Point2>;
    const auto code_of = [](const Sketch& s) {
        Progress progress;
        const auto found = arrange(s, progress);
        return found.findings.empty() ? std::string() : found.findings.front().code;
    };
    for (const double size : {0.01, 1.0, 1000.0}) {
        const auto at = [&](double x, double y) { return Point2{5 + size * x, size * y}; };
        for (const auto& poles : {Poles{at(0, 0), at(5, -10), at(0, 0), at(5, -10)},
                                  Poles{at(0, 0), at(10, 3), at(20, 0), at(10, 3), at(0, 0)},
                                  Poles{at(0, 0), at(4, 0), at(1, 0), at(5, 0)}}) {
            for (const int degree : {2, 3}) {
                if (degree == 3 && poles.size() == 4) {
                    continue; // a single cubic over these runs on without turning back
                }
                Sketch folded;
                spline(folded, poles, degree, false);
                EXPECT_EQ(code_of(folded), "sketch.folded") << size << ' ' << degree << ' ' << poles.size();
            }
        }
        Sketch twice; // the same way round twice
        spline(twice, {at(0, 0), at(10, 0), at(5, 8), at(0, 0), at(10, 0), at(5, 8)}, 3, true);
        EXPECT_EQ(code_of(twice), "sketch.folded") << size;
        Sketch sound; // one that merely crosses itself
        spline(sound, {at(0, 0), at(20, 10), at(-10, 10), at(10, 0)}, 3, false);
        EXPECT_EQ(code_of(sound), "") << size;
        EXPECT_EQ(find_regions(sound).size(), 1u);
    }
}

// Every region keeps its identity while its circles grow and move a little, as long as nothing new crosses.
TEST(Regions, IdentityFollowsWhatIsDrawn) {
    Random random(25);
    int followed = 0;
    for (int round = 0; round < 10; ++round) {
        const auto discs = scatter(random, 12, 60);
        const auto before = find_regions(sketch_of(discs));
        auto moved = discs;
        for (Disc& disc : moved) {
            disc.center[0] += pick(random, -0.2, 0.2);
            disc.radius += pick(random, -0.2, 0.2);
        }
        const auto after = find_regions(sketch_of(moved));
        for (const Region& region : before) {
            const auto found = find_again({region.bounds, region.inside}, after);
            if (found.index < 0 || !found.exact) {
                continue; // something vanished, or two regions have the same bounds: never silently another one
            }
            const Region& again = after[static_cast<size_t>(found.index)];
            // The oracle: which discs hold a place well inside.
            const auto holders = [](const std::vector<Disc>& all, const Point2& p) {
                std::vector<bool> inside;
                for (const Disc& disc : all) {
                    inside.push_back(distance(disc.center, p) < disc.radius);
                }
                return inside;
            };
            EXPECT_EQ(holders(discs, region.inside), holders(moved, again.inside)) << round;
            ++followed;
        }
    }
    EXPECT_GT(followed, 100);
}

TEST(Regions, BetweenCurvesThatHugEachOther) {
    // y = 6 (x / 11)^n from 0 to 11, over the axis: for a millimetre and more they are one within the tolerance.
    for (int n = 2; n <= max_spline_degree; ++n) {
        for (const bool mirrored : {false, true}) {
            Sketch s;
            std::vector<int> points;
            for (int i = 0; i <= n; ++i) {
                const double x = 11.0 * i / n;
                points.push_back(s.add_point(mirrored ? -x : x, i == n ? 6 : 0));
            }
            const int corner = s.add_point(mirrored ? -11 : 11, 0);
            s.add_spline(points, n, false, false);
            s.add_line(points.back(), corner);
            s.add_line(corner, points.front());
            const auto regions = find_regions(s);
            ASSERT_EQ(regions.size(), 1u) << n;
            EXPECT_NEAR(regions[0].area, 66.0 / (n + 1), 1e-9) << n;
        }
    }
    // Two that run beside each other all along, with lines across at their ends.
    Sketch s;
    constexpr double apart = 1e-4;
    std::vector<int> low;
    std::vector<int> high;
    for (int i = 0; i <= 5; ++i) {
        low.push_back(s.add_point(4.0 * i, i % 2));
        high.push_back(s.add_point(4.0 * i, i % 2 + apart));
    }
    s.add_spline(low, 3, false, false);
    s.add_spline(high, 3, false, false);
    s.add_line(low.front(), high.front());
    s.add_line(low.back(), high.back());
    const auto regions = find_regions(s);
    ASSERT_EQ(regions.size(), 1u);
    EXPECT_NEAR(regions[0].area, 20 * apart, 1e-9);
}
