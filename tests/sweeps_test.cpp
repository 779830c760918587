// Profiles carried along paths, and skins between outlines, against closed formulas.
#include "model_fixture.h"

#include "geom/make/along_path.h"
#include "geom/make/loft.h"
#include "model/steps/along_path/along_path.h"
#include "model/steps/loft/loft.h"
#include "model/steps/sketch/sketch_step.h"
#include "outlines.h"

#include <BRepBuilderAPI_MakeEdge.hxx>
#include <GeomAPI_Interpolate.hxx>
#include <Geom_BSplineCurve.hxx>
#include <TColgp_HArray1OfPnt.hxx>
#include <gp_Circ.hxx>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

using geom::Path;

TopoDS_Edge straight(const gp_Pnt& a, const gp_Pnt& b) {
    return BRepBuilderAPI_MakeEdge(a, b).Edge();
}
// In the plane of x and y.
TopoDS_Edge bend(double x, double y, double radius, double from, double to) {
    return BRepBuilderAPI_MakeEdge(gp_Circ(gp_Ax2(gp_Pnt(x, y, 0), gp::DZ()), radius), from, to).Edge();
}
std::vector<Path::Part> parts(const std::vector<TopoDS_Edge>& edges) {
    std::vector<Path::Part> all;
    for (const TopoDS_Edge& edge : edges) {
        all.push_back({edge, std::to_string(all.size() + 1)});
    }
    return all;
}
// A profile in the plane of a frame.
struct Profile {
    gp_Ax3 frame;
    std::vector<geom::OutlineLoop> loops;
};
// About the origin, square to the x-axis.
Profile across_x(const std::vector<geom::OutlineLoop>& loops) {
    return {gp_Ax3(gp_Pnt(), gp::DX(), gp::DY()), loops};
}
Result<geom::ShapeWithRoles> swept(const Profile& profile, const std::vector<TopoDS_Edge>& edges,
                                   const geom::Carrying& carrying = {}) {
    Progress progress;
    const auto path = geom::path_of(parts(edges), gp_Pnt());
    return path ? geom::sweep_along(profile.frame, profile.loops, *path, carrying, progress) : path.finding();
}
double volume(const Result<geom::ShapeWithRoles>& made) {
    EXPECT_TRUE(made.ok()) << (made.ok() ? "" : made.finding().code);
    return made ? geom::volume_of(made->shape) : 0;
}
void expect_sound(const Result<geom::ShapeWithRoles>& made) {
    ASSERT_TRUE(made.ok());
    EXPECT_TRUE(geom::is_closed(made->shape) && geom::is_valid(made->shape));
    std::set<std::string> names;
    for (const auto& role : made->roles) {
        EXPECT_TRUE(names.insert(role.role).second) << role.role;
    }
    EXPECT_EQ(names.size(), geom::faces_of(made->shape).size());
}

const auto rectangle = geom::test::polygon({{-2, -1}, {2, -1}, {2, 1}, {-2, 1}});

TEST(AlongPath, LinesAndBendsAreExact) {
    const auto made = swept(across_x({rectangle}), {straight({0, 0, 0}, {40, 0, 0}), bend(40, 20, 20, -pi / 2, 0),
                                                    straight({60, 20, 0}, {60, 50, 0})});
    EXPECT_NEAR(volume(made), 8 * (40 + 20 * pi / 2 + 30), 1e-9 * 1e3);
    expect_sound(made);
    EXPECT_EQ(made->roles.size(), 10U); // three inner and three outer sides, two that stay flat all along, two caps
}

TEST(AlongPath, AnyOrderAndFromTheEndThatIsNearest) {
    const auto made = swept(across_x({rectangle}), {straight({60, 50, 0}, {60, 20, 0}), bend(40, 20, 20, -pi / 2, 0),
                                                    straight({40, 0, 0}, {0, 0, 0})});
    EXPECT_NEAR(volume(made), 8 * (40 + 20 * pi / 2 + 30), 1e-6);
    EXPECT_EQ(
        swept(across_x({rectangle}), {straight({0, 0, 0}, {9, 0, 0}), straight({20, 0, 0}, {30, 0, 0})}).finding().code,
        "path.broken");
}

TEST(AlongPath, CornersAreMitred) {
    for (const double turn : {0.3, 1.0, pi / 2, 2.2}) {
        const gp_Pnt corner(50, 0, 0);
        const gp_Pnt end(50 + 40 * std::cos(turn), 40 * std::sin(turn), 0);
        const auto made = swept(across_x({rectangle}), {straight({0, 0, 0}, corner), straight(corner, end)});
        EXPECT_NEAR(volume(made), 8 * 90, 1e-6) << turn; // what the inner side lacks the outer one has
        expect_sound(made);
    }
    // Round a frame, and back to where it began: no caps.
    const auto frame =
        swept(across_x({rectangle}), {straight({0, 0, 0}, {30, 0, 0}), straight({30, 0, 0}, {30, 20, 0}),
                                      straight({30, 20, 0}, {0, 20, 0}), straight({0, 20, 0}, {0, 0, 0})});
    EXPECT_NEAR(volume(frame), 8 * 100, 1e-6);
    EXPECT_EQ(geom::faces_of(frame->shape).size(), 10U);
    EXPECT_TRUE(geom::is_closed(frame->shape));
    // In space.
    const auto bent = swept(across_x({rectangle}), {straight({0, 0, 0}, {30, 0, 0}), straight({30, 0, 0}, {30, 25, 0}),
                                                    straight({30, 25, 0}, {30, 25, 20})});
    EXPECT_NEAR(volume(bent), 8 * 75, 1e-6);
}

TEST(AlongPath, KeptDirectionShearsTheSweep) {
    geom::Carrying kept;
    kept.turning = false;
    const auto line = swept(across_x({rectangle}), {straight({0, 0, 0}, {30, 12, 5})}, kept);
    EXPECT_NEAR(volume(line), 8 * 30, 1e-7);
    const auto arc = swept(across_x({rectangle}), {bend(0, 40, 40, -pi / 2, -pi / 6)}, kept);
    EXPECT_NEAR(volume(arc), 8 * 40 * std::cos(pi / 6), 1e-3);
    EXPECT_EQ(swept(across_x({rectangle}), {straight({0, 0, 0}, {0, 12, 5})}, kept).finding().code, "path.sideways");
}

TEST(AlongPath, FreeCurvesAndTwists) {
    Handle(TColgp_HArray1OfPnt) points = new TColgp_HArray1OfPnt(1, 4);
    points->SetValue(1, gp_Pnt(0, 0, 0));
    points->SetValue(2, gp_Pnt(30, 5, 0));
    points->SetValue(3, gp_Pnt(60, -5, 10));
    points->SetValue(4, gp_Pnt(90, 10, 20));
    GeomAPI_Interpolate through(points, Standard_False, 1e-7);
    through.Load(gp_Vec(1, 0, 0), gp_Vec(1, 0, 0), Standard_True);
    through.Perform();
    const TopoDS_Edge wave = BRepBuilderAPI_MakeEdge(through.Curve()).Edge();
    const double length = geom::length_of(wave);
    // A profile whose middle runs along the path sweeps its area times the length.
    const auto tube = swept(across_x({geom::test::circle(0, 0, 3)}), {wave});
    EXPECT_NEAR(volume(tube) / (pi * 9 * length), 1, 1e-5);
    expect_sound(tube);
    auto hole = geom::test::circle(0, 0, 2);
    for (auto& piece : hole) { // runs the other way
        piece.sweep = -piece.sweep;
    }
    const auto pipe = swept(across_x({geom::test::circle(0, 0, 3), hole}), {wave});
    EXPECT_NEAR(volume(pipe) / (pi * 5 * length), 1, 1e-5);
    geom::Carrying twisted;
    twisted.twist = pi / 2;
    const auto bar = swept(across_x({rectangle}), {straight({0, 0, 0}, {50, 0, 0})}, twisted);
    EXPECT_NEAR(volume(bar), 400, 0.05);
    const auto box = geom::box_of(bar->shape);
    EXPECT_NEAR(box[0], 0, 1e-3);
    EXPECT_NEAR(box[3], 50, 1e-3);
    // The end stands a quarter turn on.
    for (const auto& role : bar->roles) {
        if (role.role == "end") {
            const auto end = geom::box_of(role.face);
            EXPECT_NEAR(end[4] - end[1], 2, 1e-2);
            EXPECT_NEAR(end[5] - end[2], 4, 1e-2);
        }
    }
}

TEST(AlongPath, WhatCannotBeIsSaid) {
    EXPECT_EQ(swept(across_x({geom::test::circle(0, 0, 8)}), {bend(0, 5, 5, -pi / 2, 0)}).finding().code,
              "path.failed");
    EXPECT_EQ(swept(across_x({rectangle}), {straight({0, 0, 0}, {3, 0, 0}), straight({3, 0, 0}, {3, 0.5, 0}),
                                            straight({3, 0.5, 0}, {0, 0.5, 0})})
                  .finding()
                  .code,
              "path.corner");
}

TEST(AlongPath, AStepFollowsItsPath) {
    Builder b;
    b.set("r", "10 mm");
    sketch::Sketch route;
    const int from = route.add_point(0, 0);
    const int corner = route.add_point(40, 0);
    const int to = route.add_point(40, 30);
    route.add_line(from, corner);
    route.add_line(corner, to);
    const int way = b.sketch(route);
    SketchStep definition;
    definition.plane.value = "yz";
    circle(definition.drawing, 0, 0, 4, "r");
    const int drawn = b.step(definition);
    AlongPath carried;
    carried.sketch.step = drawn;
    carried.regions = {{{}, {0, 0}}};
    carried.path.value = "sketch";
    carried.path_sketch.step = way;
    const int step = b.step(carried);
    const std::string id = std::to_string(step);
    EXPECT_NEAR(volume_of(b.evaluate(), id), pi * 25 * 70, 1e-6);
    b.set("r", "6 mm");
    EXPECT_NEAR(volume_of(b.evaluate(), id), pi * 9 * 70, 1e-6);
    b.change<SketchStep>(way, [&](SketchStep& s) { s.drawing.point(to)->y = 50; });
    EXPECT_NEAR(volume_of(b.evaluate(), id), pi * 9 * 90, 1e-6);
    // Laid square to the start, wherever it is drawn.
    b.change<AlongPath>(step, [](AlongPath& p) { p.placed.value = "start"; });
    b.change<SketchStep>(drawn, [](SketchStep& s) {
        s.plane.value = "xy";
        s.offset.text = "77";
    });
    EXPECT_NEAR(volume_of(b.evaluate(), id), pi * 9 * 90, 1e-6);
}

TEST(AlongPath, AGrooveRoundARimFollowsItsEdges) {
    Builder b;
    b.set("w", "60 mm");
    const int block = b.box("w", "40", "10");
    sketch::Sketch s;
    circle(s, 0, 0, 2);
    const int drawn = b.sketch(s);
    AlongPath groove = AlongPath::cut();
    groove.sketch.step = drawn;
    groove.regions = {{{}, {0, 0}}};
    groove.workpieces = {{ElementKind::body, std::to_string(block), {}, {}, {}}};
    groove.placed.value = "start";
    for (const auto& [x, y] : {std::pair(30.0, 0.0), {0.0, 20.0}, {-30.0, 0.0}, {0.0, -20.0}}) {
        groove.path_edges.push_back({ElementKind::edge, std::to_string(block), {}, {}, Place{x, y, 10}});
    }
    const int step = b.step(groove);
    // A quarter of a round bar along each edge, and at each mitred corner what Pappus says: the quarter's middle lies
    // 4 r / 3 pi inside.
    const auto wanted = [](double w) {
        const double quarter = pi * 4 / 4;
        return quarter * (2 * (w + 40) - 8 * (4 * 2 / (3 * pi)));
    };
    EXPECT_NEAR(b.evaluate().report(step)->output->removed, wanted(60), 1e-5);
    b.set("w", "80 mm");
    EXPECT_NEAR(b.evaluate().report(step)->output->removed, wanted(80), 1e-5);
}

gp_Ax3 level(double z) {
    return {gp_Pnt(0, 0, z), gp::DZ(), gp::DX()};
}
geom::OutlineLoop square_loop(double half) {
    return geom::test::polygon({{-half, -half}, {half, -half}, {half, half}, {-half, half}});
}

TEST(Loft, FrustumsAreExact) {
    const auto pyramid = geom::loft_through({{level(0), square_loop(10)}, {level(12), square_loop(4)}}, {});
    EXPECT_NEAR(volume(pyramid), 12.0 / 3 * (400 + 64 + 160), 1e-6);
    expect_sound(pyramid);
    EXPECT_EQ(geom::faces_of(pyramid->shape).size(), 6U);
    const auto cone =
        geom::loft_through({{level(0), geom::test::circle(0, 0, 10)}, {level(12), geom::test::circle(0, 0, 4)}}, {});
    EXPECT_NEAR(volume(cone), pi * 12.0 / 3 * (100 + 16 + 40), 1e-4);
    expect_sound(cone);
}

TEST(Loft, StandsSquareOnItsOutlines) {
    geom::Lofting square;
    square.leaves = square.arrives = 1;
    const auto made = geom::loft_through({{level(0), square_loop(10)}, {level(20), square_loop(4)}}, square);
    // Half widths run by the cubic that is flat at both ends: 10 - 6 (3 t^2 - 2 t^3).
    double wanted = 0;
    constexpr int steps = 4000;
    for (int i = 0; i < steps; ++i) {
        // The height runs by a cubic as well: its rate at both ends is the whole length, so it is the straight one.
        const double t = (i + 0.5) / steps;
        const double half = 10 - 6 * (3 * t * t - 2 * t * t * t);
        wanted += 4 * half * half * 20 / steps;
    }
    EXPECT_NEAR(volume(made), wanted, 1e-3);
    expect_sound(made);
    square.leaves = 3;
    EXPECT_GT(volume(geom::loft_through({{level(0), square_loop(10)}, {level(20), square_loop(4)}}, square)), wanted);
}

TEST(Loft, UnlikeOutlinesAndTurnedOnes) {
    // A disc over a square: between its corners and its round there are four sides.
    const auto made = geom::loft_through({{level(0), square_loop(10)}, {level(15), geom::test::circle(0, 0, 6)}}, {});
    expect_sound(made);
    EXPECT_EQ(geom::faces_of(made->shape).size(), 6U);
    double wanted = 0; // sections are by hand: the way round at equal shares of the length
    constexpr int heights = 400;
    constexpr int around = 4000;
    for (int h = 0; h < heights; ++h) {
        const double t = (h + 0.5) / heights;
        double twice = 0;
        const auto place = [&](int i) {
            const double share = static_cast<double>(i % around) / around;
            const double way = share * 4;
            const int side = static_cast<int>(way);
            const double s = way - side;
            const std::array<std::array<double, 2>, 5> corners{
                {{-10, -10}, {10, -10}, {10, 10}, {-10, 10}, {-10, -10}}};
            const auto& from = corners[static_cast<size_t>(side)];
            const auto& to = corners[static_cast<size_t>(side) + 1];
            const double angle = -3 * pi / 4 + 2 * pi * share;
            return std::array<double, 2>{(1 - t) * (from[0] + s * (to[0] - from[0])) + t * 6 * std::cos(angle),
                                         (1 - t) * (from[1] + s * (to[1] - from[1])) + t * 6 * std::sin(angle)};
        };
        for (int i = 0; i < around; ++i) {
            const auto p = place(i);
            const auto q = place(i + 1);
            twice += p[0] * q[1] - p[1] * q[0];
        }
        wanted += twice / 2 * 15 / heights;
    }
    EXPECT_NEAR(volume(made) / wanted, 1, 1e-3);
    // An outline that looks down, or begins elsewhere, makes no difference.
    auto turned = square_loop(4);
    std::rotate(turned.begin(), turned.begin() + 2, turned.end());
    const gp_Ax3 down(gp_Pnt(0, 0, 12), gp_Dir(0, 0, -1), gp::DX());
    const auto pyramid = geom::loft_through({{level(0), square_loop(10)}, {down, turned}}, {});
    EXPECT_NEAR(volume(pyramid), 12.0 / 3 * (400 + 64 + 160), 1e-6);
}

TEST(Loft, ThroughSeveral) {
    const std::vector<geom::LoftSection> sections{
        {level(0), square_loop(10)}, {level(10), square_loop(6)}, {level(20), square_loop(10)}};
    geom::Lofting straight;
    straight.straight = true;
    const auto creased = geom::loft_through(sections, straight);
    EXPECT_NEAR(volume(creased), 2 * 10.0 / 3 * (400 + 144 + 240), 1e-6);
    const auto smooth = geom::loft_through(sections, {});
    // A parabola through three places: 10 - 16 t (1 - t), squared and doubled, over 20.
    EXPECT_NEAR(volume(smooth), 4 * 20 * (100 - 320.0 / 6 + 256.0 / 30), 1e-3);
    expect_sound(smooth);
    EXPECT_EQ(geom::loft_through({{level(0), square_loop(4)}}, {}).finding().code, "loft.sections");
    EXPECT_EQ(geom::loft_through({{level(0), square_loop(4)}, {level(0), square_loop(8)}}, {}).finding().code,
              "loft.failed");
}

TEST(Loft, AStepSpansSketchesAndCuts) {
    Builder b;
    b.set("h", "20 mm");
    sketch::Sketch low;
    low.add_rectangle({-10, -10}, {10, 10});
    sketch::Sketch high;
    high.add_rectangle({-4, -4}, {4, 4});
    const int block = b.box("60", "60", "20");
    const int first = b.sketch(low);
    const int second = b.sketch(high, "h");
    Loft loft = Loft::cut();
    loft.sketch.step = first;
    loft.regions = {{{}, {0, 0}}, {{}, {0, 0}, 0, second}};
    loft.workpieces = {{ElementKind::body, std::to_string(block), {}, {}, {}}};
    const int step = b.step(loft);
    EXPECT_NEAR(b.evaluate().report(step)->output->removed, 20.0 / 3 * (400 + 64 + 160), 1e-5);
    b.set("h", "40 mm"); // it goes on above the block
    const double at = 20.0 / 40;
    const double half = 10 - 6 * at;
    EXPECT_NEAR(b.evaluate().report(step)->output->removed, 20.0 / 3 * (400 + 4 * half * half + 40 * half), 1e-5);
    b.change<Loft>(step, [](Loft& l) { l.regions.pop_back(); });
    EXPECT_TRUE(has_code(b.evaluate(), step, "loft.sections"));
}

} // namespace
