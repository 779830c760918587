// The cut of the faces in reach against that of the whole body: where it is taken, it gives the same solids.
#include "random_cuts.h"

#include "geom/cut/local_cut.h"
#include "geom/cut/unite.h"
#include "geom/make/stock.h"

#include <BRepPrimAPI_MakeTorus.hxx>

using namespace kervo;
using namespace kervo::geom;
using namespace kervo::geom::test;

namespace {

gp_Ax3 anywhere(Dice& dice, double reach) {
    return {gp_Pnt(dice.between(-32, 32), dice.between(-22, 22), dice.between(-reach, reach)),
            gp_Dir(dice.between(-1, 1), dice.between(-1, 1), dice.between(0.1, 1))};
}

// Mostly prisms, since the kernel takes its time with the others.
TopoDS_Shape any_cutter(Dice& dice) {
    const gp_Ax3 frame =
        dice.upto(30) == 0 ? anywhere(dice, 5) : gp_Ax3(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
    const int kind = dice.upto(100);
    if (kind == 0) {
        return make_sphere(dice.between(3, 12), anywhere(dice, 10)).shape;
    }
    if (kind == 1) {
        return BRepPrimAPI_MakeTorus(anywhere(dice, 10).Ax2(), dice.between(4, 8), dice.between(1, 3)).Shape();
    }
    if (kind == 2) {
        return make_cone(dice.between(4, 12), 2, 12, anywhere(dice, 10)).shape;
    }
    StraightCutter prism{frame, {}, {-40, 0, 0}, {40, 0, 0}};
    if (kind < 40) { // a slot that may open at the rim, or cut the plate in two
        prism.loops = {slot(dice.between(-36, 20), dice.between(-22, 18), dice.between(6, 80), dice.between(1, 3))};
    } else {
        prism.loops = {any_profile(dice, dice.between(-30, 24), dice.between(-18, 16))};
    }
    if (dice.upto(2) == 0) {
        prism.low.height = dice.between(-7, 2);
    }
    return solid_of(prism);
}

// A plate with a slanting side on top, holes, and a boss.
TopoDS_Shape any_plate(Dice& dice, Progress& progress) {
    const gp_Ax3 frame(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
    const double slope = dice.upto(2) == 0 ? 0 : dice.between(-0.2, 0.2);
    std::vector<OutlineLoop> loops{polygon({{-30, -20}, {30, -20}, {30, 20}, {-30, 20}})};
    for (int i = 0; i < 6; ++i) {
        loops.push_back(reversed(circle(-20 + 20 * (i % 3), -8 + 16 * (i / 3), dice.between(1, 2.5))));
    }
    const StraightCutter plate{frame, loops, {-8, 0, 0}, {8, slope, 0}};
    const StraightCutter boss{frame, {circle(10, 0, 2)}, {-8, 0, 0}, {20, 0, 0}};
    return unite({solid_of(plate), solid_of(boss)}, {}, progress)->shape;
}

TEST(ReachedCut, GivesWhatTheGeneralCutGives) {
    Dice dice{std::mt19937(5)};
    Progress progress;
    const int rounds = number_given("KERVO_ROUNDS", 400); // the long set: 1000
    int taken = 0;
    int severed = 0;
    std::map<std::string, int> refused;
    for (int round = 0; round < rounds; ++round) {
        TopoDS_Shape body = any_plate(dice, progress);
        for (int step = 0; step < 2; ++step) {
            std::vector<TopoDS_Shape> cutters;
            const int many = 1 + dice.upto(2);
            for (int i = 0; i < many; ++i) {
                cutters.push_back(any_cutter(dice));
            }
            std::string why;
            const LazyIndex index(body);
            const auto result = divide_reached(index, cutters, progress, why, 6);
            if (!result) {
                ++refused[why];
                break;
            }
            const auto general = divide(body, cutters, progress);
            ASSERT_TRUE(general) << round;
            ++taken;
            const double size = volume_of(body);
            expect_same(result->division, *general, size, "round " + std::to_string(round));
            if (HasFailure()) {
                return;
            }
            if (!result->left) {
                ++severed;
                break;
            }
            const LazyIndex after(*result->left);
            body = result->division.pieces.front().shape;
            EXPECT_NEAR(after.cone().volume, result->division.pieces.front().volume, 1e-9 * size);
            EXPECT_EQ(after.get()->faces.size(), faces_of(body).size());
            EXPECT_EQ(after.get()->loops.size(), index_of(body)->loops.size());
        }
    }
    EXPECT_GT(taken, rounds * 3 / 2);
    EXPECT_GT(severed, rounds / 50);
    EXPECT_GT(refused["a cutter meets no face"], rounds / 200);
}

} // namespace
