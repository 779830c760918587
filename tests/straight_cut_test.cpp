// The straight cut against the general one: where it is taken, it gives the same solids.
#include "random_cuts.h"

#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Geom_RectangularTrimmedSurface.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>

using namespace kervo;
using namespace kervo::geom;
using namespace kervo::geom::test;

namespace {

// A block with one slanting side on top, lying anywhere, with a few holes.
TopoDS_Shape any_block(Dice& dice, gp_Ax3& frame, double& slope) {
    frame = gp_Ax3(gp_Pnt(dice.between(-50, 50), dice.between(-50, 50), dice.between(-50, 50)),
                   gp_Dir(dice.between(-1, 1), dice.between(-1, 1), dice.between(0.1, 1)));
    slope = dice.upto(2) == 0 ? 0 : dice.between(-0.3, 0.3);
    StraightCutter block{
        frame, {polygon({{-30, -20}, {30, -20}, {30, 20}, {-30, 20}})}, {-8, 0, 0}, {8, slope, 0.1 * slope}};
    return solid_of(block);
}

TEST(StraightCut, GivesWhatTheGeneralCutGives) {
    Dice dice{std::mt19937(71)};
    Progress progress;
    int taken = 0;
    int partly = 0;
    std::map<std::string, int> refused;
    for (int round = 0; round < 2000; ++round) {
        gp_Ax3 frame;
        double slope = 0;
        TopoDS_Shape body = any_block(dice, frame, slope);
        const double size = volume_of(body);
        for (int step = 0; step < (round % 4 == 0 ? 2 : 1); ++step) {
            std::vector<StraightCutter> cutters;
            const int many = 1 + dice.upto(4);
            for (int i = 0; i < many; ++i) {
                gp_Ax3 from = frame;
                if (dice.upto(5) == 0) { // askew
                    from = gp_Ax3(frame.Location(), gp_Dir(gp_Vec(frame.Direction()) * 3 + gp_Vec(frame.XDirection())),
                                  frame.YDirection());
                }
                StraightCutter cutter{
                    from, {any_profile(dice, dice.between(-30, 24), dice.between(-18, 16))}, {-40, 0, 0}, {40, 0, 0}};
                switch (dice.upto(5)) {
                case 0:
                    cutter.low.height = dice.between(-7, 2); // a pocket
                    break;
                case 1:
                    cutter.high.height = dice.between(-9, 7);
                    break;
                case 2:
                    cutter.low.height = -8; // from face to face
                    cutter.high = {8, slope, 0.1 * slope};
                    if (from.Direction().IsEqual(frame.Direction(), 1e-9)) {
                        break;
                    }
                    cutter.high = {40, 0, 0};
                    break;
                default:
                    break;
                }
                cutters.push_back(std::move(cutter));
            }
            std::vector<const StraightCutter*> straight;
            std::vector<TopoDS_Shape> solids;
            for (const StraightCutter& cutter : cutters) {
                straight.push_back(&cutter);
                solids.push_back(solid_of(cutter));
            }
            const LazyIndex index(body);
            if (index.get() == nullptr) {
                break;
            }
            std::string why;
            auto result = divide_straight(index, straight, why);
            if (!result) {
                ++refused[why];
                break;
            }
            if (!result->unproven.empty()) { // the others by themselves
                ++refused[why];
                ++partly;
                for (auto it = result->unproven.rbegin(); it != result->unproven.rend(); ++it) {
                    solids.erase(solids.begin() + *it);
                }
                for (DividedPiece& piece : result->division.pieces) {
                    for (int& cutter : piece.inside) {
                        cutter -= static_cast<int>(std::count_if(result->unproven.begin(), result->unproven.end(),
                                                                 [&](int other) { return other < cutter; }));
                    }
                }
            }
            ++taken;
            const auto general = divide(body, solids, progress);
            ASSERT_TRUE(general) << round;
            expect_same(result->division, *general, size, "round " + std::to_string(round));
            const LazyIndex after(result->left);
            body = result->division.pieces.front().shape;
            EXPECT_NEAR(after.cone().volume, volume_of(body), 1e-9 * size);
            EXPECT_EQ(after.get()->loops.size(), index_of(body)->loops.size());
            if (HasFailure()) {
                return;
            }
        }
    }
    EXPECT_GT(taken, 400);
    EXPECT_GT(partly, 50);
    for (const char* reason : {"an edge is near the profile", "cutters are not apart from each other"}) {
        EXPECT_GT(refused[reason], 20) << reason;
    }
}

// Holes that must not be: too near an edge, over one another, one in another, over a hole that is there.
TEST(StraightCut, RefusesWhatIsNotProven) {
    const gp_Ax3 frame(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
    const TopoDS_Shape plate =
        make_prism(frame, {polygon({{0, 0}, {100, 0}, {100, 60}, {0, 60}}), reversed(circle(50, 30, 5))}, 0, 8).shape;
    const auto refused = [&](const std::vector<OutlineLoop>& loops, double low = -1, double high = 9) {
        std::vector<StraightCutter> cutters;
        for (const OutlineLoop& loop : loops) {
            cutters.push_back({frame, {loop}, {low, 0, 0}, {high, 0, 0}});
        }
        std::vector<const StraightCutter*> all;
        for (const StraightCutter& cutter : cutters) {
            all.push_back(&cutter);
        }
        std::string why;
        divide_straight(LazyIndex(plate), all, why);
        return why;
    };
    EXPECT_EQ(refused({circle(20, 20, 4)}), "");
    EXPECT_EQ(refused({circle(50, 30, 4)}), "") << "within the hole there is nothing to cut";
    EXPECT_EQ(refused({circle(200, 30, 4)}), "") << "beside the plate neither";
    EXPECT_EQ(refused({circle(4, 30, 4)}), "an edge is near the profile");
    EXPECT_EQ(refused({circle(3, 30, 4)}), "an edge is near the profile");
    EXPECT_EQ(refused({circle(50, 30, 7)}), "the profile covers an edge");
    EXPECT_EQ(refused({circle(56, 30, 2)}), "an edge is near the profile");
    EXPECT_EQ(refused({circle(20, 20, 4), circle(28, 20, 4)}), "cutters are not apart from each other");
    EXPECT_EQ(refused({circle(20, 20, 4), circle(20, 20, 2)}), "cutters are not apart from each other");
    EXPECT_EQ(refused({circle(10, 10, 2), circle(100, 20, 4)}), "an edge is near the profile");
    EXPECT_EQ(refused({circle(20, 20, 4)}, 2, 6), "a cutter lies wholly inside");
    EXPECT_EQ(refused({circle(20, 20, 4)}, -1, 8 - 1e-6), "a cutter ends near a face");
    const StraightCutter wedge{frame, {circle(20, 20, 4)}, {-1, 0, 0}, {-11, 0.5, 0}}; // its ends meet at x = 20
    std::string why;
    EXPECT_FALSE(divide_straight(LazyIndex(plate), {&wedge}, why));
    EXPECT_EQ(why, "the ends of a cutter meet");
}

// What files bring may lie on a plane within another surface: no loop can be laid on it.
TEST(StraightCut, LeavesTrimmedPlanesToTheGeneralWay) {
    const gp_Ax3 frame(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
    const auto plate = make_prism(frame, {polygon({{0, 0}, {10, 0}, {10, 10}, {0, 10}})}, 0, 4);
    const BRep_Builder builder;
    TopoDS_Shell shell;
    builder.MakeShell(shell);
    for (const TopoDS_Shape& face : faces_of(plate.shape)) {
        TopoDS_Face on;
        const Handle(Geom_Surface) surface = BRep_Tool::Surface(TopoDS::Face(face));
        builder.MakeFace(on, new Geom_RectangularTrimmedSurface(surface, -50.0, 50.0, -50.0, 50.0), coincidence);
        for (TopoDS_Iterator it(face.Oriented(TopAbs_FORWARD)); it.More(); it.Next()) {
            builder.Add(on, it.Value());
        }
        builder.Add(shell, on.Oriented(face.Orientation()));
    }
    TopoDS_Solid solid;
    builder.MakeSolid(solid);
    builder.Add(solid, shell);
    const StraightCutter hole{frame, {circle(5, 5, 2)}, {-1, 0, 0}, {5, 0, 0}};
    std::string why;
    EXPECT_FALSE(divide_straight(LazyIndex(solid), {&hole}, why));
    EXPECT_EQ(why, "a face of another kind is near");
}

// Faces with many loops are checked another way: it finds what the kernel finds.
TEST(Validity, OfFacesWithManyLoops) {
    const gp_Ax3 frame(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
    std::vector<OutlineLoop> loops{polygon({{0, 0}, {200, 0}, {200, 200}, {0, 200}})};
    for (int i = 0; i < 100; ++i) {
        loops.push_back(reversed(circle(10 + 20 * (i % 10), 10 + 20 * (i / 10), 6)));
    }
    EXPECT_TRUE(is_valid(make_prism(frame, loops, 0, 8).shape));
    auto spoilt = loops;
    spoilt.push_back(reversed(circle(24, 10, 3))); // across another
    EXPECT_FALSE(is_valid(make_prism(frame, spoilt, 0, 8).shape));
    spoilt = loops;
    spoilt.push_back(reversed(circle(10, 10, 3))); // in another
    EXPECT_FALSE(is_valid(make_prism(frame, spoilt, 0, 8).shape));
    spoilt = loops;
    spoilt.push_back(reversed(circle(200, 100, 3))); // over the rim
    EXPECT_FALSE(is_valid(make_prism(frame, spoilt, 0, 8).shape));
    spoilt = loops;
    spoilt.push_back(circle(20, 20, 3)); // an island where there is material
    EXPECT_FALSE(is_valid(make_prism(frame, spoilt, 0, 8).shape));
}

} // namespace
