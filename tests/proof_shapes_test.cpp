// Every kind of step hands out what a formula says, or a finding: shifted faces, hollow bodies, paths, walls, seams,
// tangent cuts.
#include "geom/kernel/inset.h"
#include "proof.h"

#include <sys/personality.h>

using namespace kervo;
using namespace kervo::test;

// --- Shifted faces
// ------------------------------------------------------------------------------------------------------

TEST(ShiftedFaces, NeverCrossOthers) {
    const auto pocket = [](double move) { // the floor of a pocket, down
        Route route;
        route.parameter("move", "-1 mm");
        const int box = route.box(40, 40, 20);
        Drawing d;
        d.rectangle(-5, -5, 5, 5);
        route.cut(box, route.sketch(d, "xy", 20), region(0, 0),
                  {{"to", "distance"}, {"distance", "10 mm"}, {"way", "back"}});
        route.add(
            "shift_faces",
            {{"faces", Json::array({pick("face", box, {0, 0, 10})})}, {"motion", "outwards"}, {"distance", "move"}});
        return route.run({{"move", mm(move)}});
    };
    for (const double move : {5.0, -3.0, -9.0, -9.99}) {
        const auto outcome = pocket(move);
        expect_volume(outcome, outcome.volume(10), 32000 - 100 * (10 - move));
    }
    for (const double move : {-10.0, -10.01, -15.0, -100.0, 10.0, 12.0}) {
        const auto outcome = pocket(move);
        EXPECT_TRUE(outcome.told()) << move;
    }
    const auto side = [](double move) { // an outer side, past a blind hole from the other one
        Route route;
        route.parameter("move", "-1 mm");
        const int box = route.box(40, 40, 20);
        Drawing d;
        d.circle(0, 10, 3);
        route.cut(box, route.sketch(d, "yz", 20), region(0, 10),
                  {{"to", "distance"}, {"distance", "10 mm"}, {"way", "back"}});
        route.add(
            "shift_faces",
            {{"faces", Json::array({pick("face", box, {-20, 0, 10})})}, {"motion", "outwards"}, {"distance", "move"}});
        return route.run({{"move", mm(move)}});
    };
    for (const double move : {10.0, -10.0, -29.0}) {
        const auto outcome = side(move);
        expect_volume(outcome, outcome.volume(10), (40 + move) * 800 - pi * 90);
    }
    for (const double move : {-30.5, -35.0, -39.0, -41.0}) {
        const double left = 40 + move;
        const auto outcome = side(move);
        expect_volume_or_word(outcome, outcome.volume(10), left * 800 - pi * 9 * std::min(10.0, left));
    }
    const auto facing = [](double move) { // two pockets that meet
        Route route;
        route.parameter("move", "-1 mm");
        const int box = route.box(40, 40, 20);
        Drawing above;
        above.rectangle(-5, -5, 5, 5);
        route.cut(box, route.sketch(above, "xy", 20), region(0, 0),
                  {{"to", "distance"}, {"distance", "6 mm"}, {"way", "back"}});
        Drawing below;
        below.rectangle(-8, -8, 8, 8);
        route.cut(box, route.sketch(below), region(0, 0), {{"to", "distance"}, {"distance", "6 mm"}, {"way", "ahead"}});
        route.add(
            "shift_faces",
            {{"faces", Json::array({pick("face", box, {0, 0, 14})})}, {"motion", "outwards"}, {"distance", "move"}});
        return route.run({{"move", mm(move)}});
    };
    for (const double move : {2.0, -3.0, -7.0}) {
        const auto outcome = facing(move);
        expect_volume(outcome, outcome.volume(10), 32000 - 100 * (6 - move) - 256 * 6);
    }
    for (const double move : {-8.5, -11.0, -14.0, -20.0}) {
        EXPECT_TRUE(facing(move).told()) << move;
    }
}

TEST(ShiftedFaces, HolesShiftFromWhicheverSideTheyWereCut) {
    for (const std::string way : {"back", "ahead"}) {
        for (const double move : {-2.0, 1.0, 3.0}) {
            Route route;
            const int box = route.box(40, 40, 20);
            Drawing d;
            d.circle(0, 0, 5);
            route.cut(box, route.sketch(d, "xy", way == "back" ? 20 : 0), region(0, 0),
                      {{"to", "everything"}, {"way", way}});
            route.add("shift_faces", {{"faces", Json::array({pick("face", box, {5, 0, 15})})},
                                      {"motion", "outwards"},
                                      {"distance", mm(move)}});
            const auto outcome = route.run();
            expect_volume(outcome, outcome.volume(box), 32000 - pi * (5 - move) * (5 - move) * 20);
        }
    }
}

TEST(ShiftedFaces, BesideABevelTheEdgeRunsOn) {
    for (const double bevel : {1.0, 3.0}) {
        for (const double move : {-0.5, 2.0, 7.0}) {
            Route route;
            const int box = route.box(40, 40, 20);
            route.add("bevel_edges", {{"by", "picked"},
                                      {"edges", Json::array({pick("edge", box, {20, 3, 20})})},
                                      {"size", "distance"},
                                      {"distance", mm(bevel)}});
            route.add("shift_faces", {{"faces", Json::array({pick("face", box, {-5, 0, 20})})},
                                      {"motion", "outwards"},
                                      {"distance", mm(move)}});
            const auto outcome = route.run();
            const double lost = bevel + move; // the bevel's plane stays
            expect_volume(outcome, outcome.volume(box), 1600 * (20 + move) - 40 * lost * lost / 2);
        }
    }
}

// --- Hollow bodies
// ------------------------------------------------------------------------------------------------------

TEST(HollowBodies, AreOpenedNoFartherThanTheirFace) {
    for (const double scale : {0.1, 1.0, 10.0}) {
        for (const double gap : {0.2, 0.5, 3.0}) { // another leg, so far above the open face
            Route route;
            Drawing d;
            const double s = scale;
            d.polygon({{-50 * s, 0},
                       {50 * s, 0},
                       {50 * s, 20 * s},
                       {-30 * s, 20 * s},
                       {-30 * s, (20 + gap) * s},
                       {50 * s, (20 + gap) * s},
                       {50 * s, (40 + gap) * s},
                       {-50 * s, (40 + gap) * s}});
            const int body =
                route.extrude(route.sketch(d, "xz"), region(-40 * s, 10 * s), mm(40 * s), {{"to", "symmetric"}});
            route.add("hollow", {{"workpiece", {std::to_string(body)}},
                                 {"thickness", mm(2 * s)},
                                 {"open", Json::array({pick("face", body, {10 * s, 0, 20 * s})})}});
            const auto outcome = route.run();
            const double outer = (100 * 40 + 20 * gap) * 40;
            // The room runs behind the slit; its walls are 2 thick all round, but for the opening.
            const double room = (96 * 16 * 2 + 16 * (gap + 4)) * 36;
            const double opening = 80 * 2 * 36;
            expect_volume(outcome, outcome.volume(body) / (s * s * s), outer - room - opening, 1e-5);
        }
    }
}

TEST(HollowBodies, OpenedL) {
    for (const double s : {0.1, 1.0, 4.0}) {
        for (const double wall : {1.0, 2.0, 4.0}) {
            Route route;
            Drawing d;
            d.polygon({{0, 0}, {60 * s, 0}, {60 * s, 20 * s}, {20 * s, 20 * s}, {20 * s, 60 * s}, {0, 60 * s}});
            const int body =
                route.extrude(route.sketch(d, "xz"), region(10 * s, 10 * s), mm(40 * s), {{"to", "symmetric"}});
            route.add("hollow", {{"workpiece", {std::to_string(body)}},
                                 {"thickness", mm(wall * s)},
                                 {"open", Json::array({pick("face", body, {40 * s, 0, 20 * s})})}});
            const auto outcome = route.run();
            const double leg = 20 - 2 * wall;
            const double room = ((60 - 2 * wall) * leg + leg * 40) * (40 - 2 * wall);
            const double opening = 40 * wall * (40 - 2 * wall); // from the inner corner's wall to the outer wall
            expect_volume(outcome, outcome.volume(body) / (s * s * s), (60 * 20 + 20 * 40) * 40 - room - opening, 1e-5);
        }
    }
}

// A wall that ends in a rim of the floor, and half a thousandth of the floor with it: neither is pulled to the other.
TEST(HollowBodies, AreCutCloseToTheirWalls) {
    for (const double beyond : {5e-3, 5e-4, 5e-5, -5e-4}) {
        Route route;
        const int box = route.box(10, 10, 5);
        route.add("hollow", {{"workpiece", {std::to_string(box)}},
                             {"thickness", "1 mm"},
                             {"open", Json::array({pick("face", box, {0, 0, 5})})}});
        Drawing d;
        d.rectangle(-6, -1, -4 + beyond, 1);
        route.cut(box, route.sketch(d, "xy", 5), region(-5, 0));
        const auto outcome = route.run();
        const double wall = 1 + std::min(beyond, 0.0);
        expect_volume(outcome, outcome.volume(box), 500 - 8 * 8 * 4 - 2 * (wall * 5 + std::max(beyond, 0.0)), 1e-9);
    }
}

// Two dishes that overlap, and a bore that takes a bit of the inner wall of one: where the other's wall meets it is a
// hundredth of a millimetre beside it, in every size the same.
TEST(HollowBodies, AreUnitedCloseToTheirWalls) {
    const auto volume = [](double s) {
        Route route;
        const int dish = route.cylinder(74.7 * s, 12.1 * s);
        route.add("hollow", {{"workpiece", {std::to_string(dish)}},
                             {"thickness", mm(1.5 * s)},
                             {"open", Json::array({pick("face", dish, {0, 0, 12.1 * s})})}});
        Drawing d;
        d.circle(-29.88 * s, 22.73698980611633 * s, 0.935338796722 * s);
        route.cut(dish, route.sketch(d), region(-29.88 * s, 22.73698980611633 * s));
        route.add("copy_bodies", {{"bodies", {std::to_string(dish)}},
                                  {"arrange", "line"},
                                  {"direction", "y"},
                                  {"count", "2"},
                                  {"spacing", mm(43.9 * s)},
                                  {"result", "united"}});
        const auto outcome = route.run();
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        return outcome.volume(dish) / (s * s * s);
    };
    const double large = volume(10);
    EXPECT_GT(large, 0);
    for (const double s : {1.0, 0.1}) {
        EXPECT_NEAR(volume(s), large, 1e-9 * large) << s;
    }
}

// Far from the origin the kernel's blends and drafts were wrong by a thousandth of what they take.
TEST(FarAway, BlendsAndDraftsAreWhatTheyAreNear) {
    const double radius = 22.572956226264;
    const double height = 36.6;
    for (const auto& [x, y, z] : {std::array{0.0, 0.0, 0.0}, {1e5, -7e4, 3e4}, {-3e5, 1e5, 0.0}}) {
        Route leaning; // twice by the same angle, which is once
        const int cone = leaning.cylinder(2 * radius, height, x, y, z);
        for (int i = 0; i < 2; ++i) {
            leaning.add("draft_faces", {{"faces", Json::array({pick("face", cone, {x + radius, y, z + 12.2})})},
                                        {"neutral", Json::array({pick("face", cone, {x + 1.3, y + 0.7, z})})},
                                        {"angle", "2 deg"}});
        }
        const auto leant = leaning.run();
        const double top = radius + height * std::tan(2 * pi / 180);
        expect_volume(leant, leant.volume(cone), pi * height / 3 * (radius * radius + radius * top + top * top), 1e-8);

        Route bevelled; // where a flat side meets a round one, the edge between two bevels is no plane curve
        const int block = bevelled.box(41.128323006196, 59.7, 13.4, x, y, z);
        const int rod = bevelled.cylinder(29.6, 16.3, x + 8.5, y + 0.4, z);
        bevelled.add("join", {{"bodies", {std::to_string(block), std::to_string(rod)}}, {"operation", "common"}});
        bevelled.add("bevel_edges",
                     {{"by", "picked"},
                      {"edges", Json::array({pick("edge", block, {x + 20.564161503098, y + 1, z + 13.4})})},
                      {"size", "distance"},
                      {"distance", "2.4 mm"}});
        const auto near = bevelled.run();
        EXPECT_FALSE(near.told()) << near.codes();
        static const double at_origin = near.volume(block);
        EXPECT_NEAR(near.volume(block), at_origin, 1e-8 * at_origin) << x;
    }
}

TEST(Rounds, AreCutCloseToWhereTheyBegin) {
    for (const double beyond : {1e-3, 5e-5, 5e-6, -5e-5}) {
        Route route;
        const int box = route.box(10, 10, 5);
        route.add("round_edges", {{"by", "picked"},
                                  {"edges", Json::array({pick("edge", box, {-5, 0, 5})})},
                                  {"size", "radius"},
                                  {"radius", "2 mm"}});
        Drawing d;
        d.rectangle(-6, -1, -3 + beyond, 1);
        route.cut(box, route.sketch(d, "xy", 5), region(-4, 0),
                  {{"to", "distance"}, {"distance", "3 mm"}, {"way", "back"}});
        const auto outcome = route.run();
        // What the round took: the corner of a square beside a quarter of a circle, up to where the slot ends.
        const double corner = 4 - pi;
        const double left = std::max(-beyond, 0.0); // of the round, beside the slot
        const double sliver = 2 * left - (left / 2 * std::sqrt(4 - left * left) + 2 * std::asin(left / 2));
        expect_volume(outcome, outcome.volume(box), 500 - 10 * corner - 2 * (3 * (2 + beyond) - corner + sliver), 1e-9);
    }
}

// The kernel's offset comes to this or that, depending on where things lie in memory.
TEST(HollowBodies, ComeToTheSameEveryTime) {
    const int before = ::personality(0xffffffff);
    if (::personality(ADDR_NO_RANDOMIZE) < 0) {
        GTEST_SKIP() << "this system lets nobody choose where memory is";
    }
    ::personality(static_cast<unsigned long>(before));
    Route route;
    const int box = route.box(38.3, 50.8, 21.1);
    route.add("place", {{"bodies", {std::to_string(box)}}, {"way", "amounts"}, {"x", "-7.9 mm"}, {"y", "-14.6 mm"}});
    Drawing centers; // their counterbores run into each other
    centers.point(-19.39, -9.35246052368579);
    centers.point(-11.73, -9.52);
    centers.point(-11.73, -8.869134519288423);
    route.add("holes", {{"workpieces", {std::to_string(box)}},
                        {"sketch", route.sketch(centers, "xy", 21.1)},
                        {"at", "points"},
                        {"way", "back"},
                        {"diameter", "2 mm"},
                        {"to", "through"},
                        {"shape", "counterbored"},
                        {"head_diameter", "9 mm"},
                        {"head_depth", "1.5 mm"}});
    const TopoDS_Shape solid = route.run().body(std::to_string(box))->shape;
    const auto made = [&](double thickness) {
        Progress progress;
        const auto [end, inset] = geom::make_inset({solid, thickness, {}, geom::Corners::round, 0}, 10, progress);
        return std::pair(end, end == geom::InsetEnd::done ? geom::area_of(inset.shape) : 0);
    };
    for (const double thickness : {0.0625, 0.125, 0.25}) {
        const auto first = made(thickness);
        for (int i = 0; i < 6; ++i) {
            EXPECT_EQ(made(thickness), first);
        }
    }
}

// --- Along paths
// ----------------------------------------------------------------------------------------------------------

TEST(AlongPaths, ClosedOnesBeginWhereTheProfileLies) {
    for (const double start : {5.0, 25.0, 50.0, 99.0}) {
        for (const bool round : {false, true}) {
            Route route;
            Drawing path;
            path.rectangle(0, 0, 100, 80);
            Drawing profile;
            if (round) {
                profile.circle(0, 0, 5);
            } else {
                profile.rectangle(-5, -5, 5, 5);
            }
            const int frame = route.sketch(path);
            const int body = route.add("along_path", {{"result", "new_body"},
                                                      {"sketch", route.sketch(profile, "yz", start)},
                                                      {"regions", region(0, 0)},
                                                      {"path", "sketch"},
                                                      {"path_sketch", frame},
                                                      {"placed", "drawn"}});
            const auto outcome = route.run();
            expect_volume(outcome, outcome.volume(body), (round ? pi * 25 : 100) * 360);
        }
    }
}

TEST(AlongPaths, OpenOnesBeginAtTheirStart) {
    Route route; // two lines with a corner, the profile half-way along the first: told
    Drawing path;
    const int a = path.point(0, 0);
    const int b = path.point(100, 0);
    const int c = path.point(100, 80);
    path.line(a, b);
    path.line(b, c);
    Drawing profile;
    profile.rectangle(-5, -5, 5, 5);
    const int frame = route.sketch(path);
    route.add("along_path", {{"result", "new_body"},
                             {"sketch", route.sketch(profile, "yz", 50)},
                             {"regions", region(0, 0)},
                             {"path", "sketch"},
                             {"path_sketch", frame},
                             {"placed", "drawn"}});
    EXPECT_TRUE(route.run().told("path.apart"));
}

// A pipe that runs through itself has the volume of its way all the same, and one wall, which meets no other face.
TEST(AlongPaths, DoNotRunThroughThemselves) {
    const auto pipe = [](double radius, double x, double y, bool round) {
        Route route;
        Drawing path;
        path.spline({{0, 0}, {40, 0}, {60, 15}, {40, 30}, {x, y}});
        Drawing profile;
        if (round) {
            profile.circle(0, 0, radius);
        } else {
            profile.rectangle(-radius, -radius, radius, radius);
        }
        const int way = route.sketch(path);
        route.add("along_path", {{"result", "new_body"},
                                 {"sketch", route.sketch(profile, "yz")},
                                 {"regions", region(0, 0)},
                                 {"path", "sketch"},
                                 {"path_sketch", way},
                                 {"placed", "start"}});
        return route.run();
    };
    for (const double x : {5.0, 12.0, 20.0, 30.0}) {
        for (const double y : {-1.0, -4.0, -25.0}) { // ends in the first stretch, and beyond it
            EXPECT_TRUE(pipe(3, x, y, true).told("path.crosses")) << x << ' ' << y;
        }
        EXPECT_TRUE(pipe(3, x, -25, false).told()) << x;
    }
    for (const double radius : {0.5, 1.0, 2.0, 3.0}) { // ends ten and more above it
        const auto outcome = pipe(radius, 20, 12, true);
        const auto square = pipe(radius, 20, 12, false);
        EXPECT_FALSE(outcome.told() || square.told()) << outcome.codes() << square.codes();
        EXPECT_NEAR(outcome.volume(30) / (pi / 4), square.volume(30), 1e-5 * square.volume(30));
    }
}

TEST(AlongPaths, ATwistOnABendTurnsAboutItsPath) {
    for (const double twist : {30.0, 90.0, 180.0, -270.0}) {
        for (const double radius : {20.0, 50.0, 400.0}) {
            Route route;
            Drawing path;
            const int center = path.point(0, 0);
            path.arc(center, path.point(radius, 0), path.point(-radius, 0));
            Drawing profile;
            profile.circle(radius, 0, 5);
            const int bend = route.sketch(path);
            const int body = route.add("along_path", {{"result", "new_body"},
                                                      {"sketch", route.sketch(profile, "xz")},
                                                      {"regions", region(radius, 0)},
                                                      {"path", "sketch"},
                                                      {"path_sketch", bend},
                                                      {"placed", "drawn"},
                                                      {"twist", deg(twist)}});
            const auto outcome = route.run();
            expect_volume(outcome, outcome.volume(body), pi * 25 * pi * radius, 1e-5);
        }
    }
}

TEST(AlongPaths, ATwistOfASquare) {
    for (const double twist : {45.0, 90.0, 360.0}) {
        Route route; // on a line: area times length, on a bend: Pappus
        Drawing path;
        const int center = path.point(0, 0);
        path.arc(center, path.point(60, 0), path.point(0, 60));
        Drawing profile;
        profile.rectangle(56, -4, 64, 4);
        const int bend = route.sketch(path);
        const int body = route.add("along_path", {{"result", "new_body"},
                                                  {"sketch", route.sketch(profile, "xz")},
                                                  {"regions", region(60, 0)},
                                                  {"path", "sketch"},
                                                  {"path_sketch", bend},
                                                  {"placed", "drawn"},
                                                  {"twist", deg(twist)}});
        const auto outcome = route.run();
        expect_volume(outcome, outcome.volume(body), 64 * pi / 2 * 60, 1e-5);
    }
}

// --- Walls
// ----------------------------------------------------------------------------------------------------------------

TEST(Walls, AreAskedAllOver) {
    for (const double size : {4.0, 10.0, 30.0}) { // a boss on the wall, wherever it stands
        for (const double x : {-20.0, 0.0, 25.0}) {
            Route route;
            const int plate = route.box(100, 100, 10);
            Drawing boss;
            boss.rectangle(x - size / 2, -size / 2, x + size / 2, size / 2);
            route.add("extrude", {{"result", "united"},
                                  {"unite_with", {std::to_string(plate)}},
                                  {"sketch", route.sketch(boss, "xy", 10)},
                                  {"regions", region(x, 0)},
                                  {"to", "distance"},
                                  {"distance", "15 mm"}});
            Drawing d;
            d.rectangle(-42, -42, 42, 42);
            route.cut(plate, route.sketch(d), region(0, 0), {{"to", "walls"}, {"walls", "1"}, {"way", "ahead"}});
            const auto outcome = route.run();
            expect_volume(outcome, outcome.volume(plate), (10000 - 84 * 84) * 10);
        }
    }
}

TEST(Walls, AreCountedAsTheyArePassed) {
    for (const int walls : {1, 2, 3}) {
        Route route; // three plates, 10 mm thick, 10 mm apart, and a bump in the first gap
        Drawing d;
        d.polygon({{0, 0},
                   {50, 0},
                   {50, 10},
                   {30, 10},
                   {30, 14},
                   {20, 14},
                   {20, 10},
                   {10, 10},
                   {10, 20},
                   {50, 20},
                   {50, 30},
                   {10, 30},
                   {10, 40},
                   {50, 40},
                   {50, 50},
                   {0, 50}});
        const int body = route.extrude(route.sketch(d, "xz"), region(5, 25), "40 mm", {{"to", "symmetric"}});
        Drawing hole;
        hole.rectangle(15, -5, 45, 5);
        route.cut(body, route.sketch(hole), region(30, 0),
                  {{"to", "walls"}, {"walls", std::to_string(walls)}, {"way", "ahead"}});
        const auto outcome = route.run();
        const double whole = (50 * 50 - 2 * 40 * 10 + 10 * 4) * 40;
        expect_volume(outcome, outcome.volume(body), whole - 300 * 10 * walls - 10 * 4 * 10);
    }
}

TEST(Walls, TheNextFaceIsLeftWholly) {
    for (const bool bump : {false, true}) {
        Route route;
        const int plate = route.box(100, 100, 10);
        if (bump) {
            Drawing boss;
            boss.circle(20, 20, 3);
            route.add("extrude", {{"result", "united"},
                                  {"unite_with", {std::to_string(plate)}},
                                  {"sketch", route.sketch(boss, "xy", 10)},
                                  {"regions", region(20, 20)},
                                  {"to", "distance"},
                                  {"distance", "7 mm"}});
        }
        Drawing d;
        d.rectangle(-40, -40, 40, 40);
        route.cut(plate, route.sketch(d), region(0, 0), {{"to", "next_face"}, {"way", "ahead"}});
        const auto outcome = route.run();
        expect_volume(outcome, outcome.volume(plate), 36000);
    }
}

// --- Seams
// ----------------------------------------------------------------------------------------------------------------

TEST(Seams, HalvesMirroredAndUnitedAreWhole) {
    for (const double turn : {0.0, 90.0, 180.0}) {
        Route route;
        Drawing d; // half a disc, its flat side on the plane
        const double c = std::cos(turn * pi / 180);
        const double s = std::sin(turn * pi / 180);
        const int a = d.point(10 * s, -10 * c);
        const int b = d.point(-10 * s, 10 * c);
        const int m = d.point(0, 0);
        d.line(b, a);
        d.arc(m, a, b);
        const int half = route.extrude(route.sketch(d), region(5 * c, 5 * s), "10 mm");
        route.add("copy_bodies", {{"bodies", {std::to_string(half)}},
                                  {"arrange", "mirror"},
                                  {"plane", turn == 90 ? "xz" : "yz"},
                                  {"result", "united"}});
        const auto outcome = route.run();
        expect_volume(outcome, outcome.volume(half), pi * 1000);
        const auto counts = geom::count(outcome.body(std::to_string(half))->shape);
        EXPECT_EQ(counts.faces, 3);
        EXPECT_EQ(counts.edges, 3); // two rims and the seam
    }
}

TEST(Seams, HalfHolesBecomeHoles) {
    for (const double radius : {2.0, 5.0, 9.0}) {
        for (const std::string to : {"everything_both", "symmetric"}) {
            Route route;
            const int box = route.box(20, 20, 20, 10);
            Drawing d;
            d.circle(0, 10, radius);
            route.cut(box, route.sketch(d, "xz"), region(0, 10), {{"to", to}, {"distance", "10 mm"}});
            route.add(
                "copy_bodies",
                {{"bodies", {std::to_string(box)}}, {"arrange", "mirror"}, {"plane", "yz"}, {"result", "united"}});
            const auto outcome = route.run();
            const double length = to == "symmetric" ? 10 : 20;
            expect_volume(outcome, outcome.volume(box), 16000 - pi * radius * radius * length);
            EXPECT_EQ(geom::count(outcome.body(std::to_string(box))->shape).faces, to == "symmetric" ? 9 : 7);
        }
    }
}

TEST(Seams, StacksAndQuartersAreOne) {
    Route stack; // three cylinders on each other
    const int a = stack.cylinder(30, 10);
    const int b = stack.cylinder(30, 10, 0, 0, 10);
    const int c = stack.cylinder(30, 10, 0, 0, 20);
    stack.add("join", {{"bodies", {std::to_string(a), std::to_string(b), std::to_string(c)}}, {"operation", "unite"}});
    const auto tower = stack.run();
    expect_volume(tower, tower.volume(a), pi * 225 * 30);
    EXPECT_EQ(geom::count(tower.body(std::to_string(a))->shape).faces, 3);

    Route quarters; // a quarter, mirrored twice
    Drawing d;
    const int m = d.point(0, 0);
    const int x = d.point(10, 0);
    const int y = d.point(0, 10);
    d.line(m, x);
    d.line(m, y);
    d.arc(m, x, y);
    const int quarter = quarters.extrude(quarters.sketch(d), region(4, 4), "5 mm");
    for (const std::string plane : {"yz", "xz"}) {
        quarters.add(
            "copy_bodies",
            {{"bodies", {std::to_string(quarter)}}, {"arrange", "mirror"}, {"plane", plane}, {"result", "united"}});
    }
    const auto disc = quarters.run();
    expect_volume(disc, disc.volume(quarter), pi * 500);
    EXPECT_EQ(geom::count(disc.body(std::to_string(quarter))->shape).faces, 3);

    Route boxes; // eight boxes round a corner
    Json all = Json::array();
    for (int i = 0; i < 8; ++i) {
        all.push_back(std::to_string(boxes.box(10, 10, 10, (i & 1) * 10, (i & 2) / 2 * 10, (i & 4) / 4 * 10)));
    }
    boxes.add("join", {{"bodies", all}, {"operation", "unite"}});
    const auto cube = boxes.run();
    expect_volume(cube, cube.volume(10), 8000);
    const auto counts = geom::count(cube.body("10")->shape);
    EXPECT_EQ(counts.faces, 6);
    EXPECT_EQ(counts.edges, 12);
    EXPECT_EQ(counts.vertices, 8);
}

// --- Tangent cuts
// -----------------------------------------------------------------------------------------------------------

TEST(TangentCuts, AFloorThatTouchesABore) {
    for (const double bore : {2.0, 4.0, 5.0}) {
        for (const bool pocket_first : {false, true}) {
            Route route;
            const int box = route.box(60, 40, 20);
            const auto drill = [&] {
                Drawing d;
                d.circle(5, 10, bore);
                route.cut(box, route.sketch(d, "xz"), region(5, 10));
            };
            const auto mill = [&] {
                Drawing d;
                d.rectangle(-25, -5, 25, 5);
                route.cut(box, route.sketch(d, "xy", 20), region(0, 0),
                          {{"to", "distance"}, {"distance", mm(10 - bore)}, {"way", "back"}});
            };
            if (pocket_first) {
                mill();
                drill();
            } else {
                drill();
                mill();
            }
            const auto outcome = route.run();
            expect_volume(outcome, outcome.volume(box), 48000 - pi * bore * bore * 40 - 500 * (10 - bore));
        }
    }
}

// --- Leaning sides
// ----------------------------------------------------------------------------------------------------------

// What is shifted inwards by d loses area L d - k d^2, L being the length of its outline, and k pi for smooth outlines,
// 4 for rectangles (and gains it where a hole shrinks).
TEST(LeaningSides, OverSlotsCirclesAndCorners) {
    struct Case {
        const char* what;
        std::function<void(Drawing&, double)> draw; ///< at a size
        double area, length, k;                     ///< at size 1
    };
    const auto slot = [](Drawing& d, double s) {
        const int a = d.point(-8 * s, -5 * s);
        const int b = d.point(8 * s, -5 * s);
        const int c = d.point(8 * s, 5 * s);
        const int e = d.point(-8 * s, 5 * s);
        d.line(a, b);
        d.arc(d.point(8 * s, 0), b, c);
        d.line(c, e);
        d.arc(d.point(-8 * s, 0), e, a);
    };
    const std::vector<Case> cases{
        {"slot", slot, 160 + 25 * pi, 32 + 10 * pi, pi},
        {"circle", [](Drawing& d, double s) { d.circle(0, 0, 6 * s); }, 36 * pi, 12 * pi, pi},
        {"rectangle", [](Drawing& d, double s) { d.rectangle(-7 * s, -4 * s, 7 * s, 4 * s); }, 112, 44, 4},
        {"slot with a hole",
         [&](Drawing& d, double s) {
             slot(d, s);
             d.circle(5 * s, 0, 2 * s);
         },
         160 + 25 * pi - 4 * pi, 32 + 14 * pi, 0}};
    for (const Case& each : cases) {
        for (const double size : {0.1, 1.0, 10.0, 37.3}) {
            for (const double degrees : {3.0, -3.0, 11.0}) {
                for (const std::string way : {"ahead", "back"}) {
                    Drawing d;
                    each.draw(d, size);
                    Route route;
                    const double height = 4 * size;
                    const int made =
                        route.extrude(route.sketch(d, "xz", 3 * size), region(-6.5 * size * (each.k == 4 ? 1 : 0.5), 0),
                                      mm(height), {{"taper", deg(degrees)}, {"way", way}});
                    const auto outcome = route.run();
                    const double t = std::tan(degrees * pi / 180);
                    const double s = size;
                    const double volume = s * s * each.area * height - s * each.length * t * height * height / 2 +
                                          each.k * t * t * height * height * height / 3;
                    SCOPED_TRACE(std::string(each.what) + " " + std::to_string(size) + " " + std::to_string(degrees));
                    EXPECT_FALSE(outcome.told()) << outcome.codes();
                    expect_volume(outcome, outcome.volume(made), volume);
                }
            }
        }
    }
}

TEST(LeaningSides, ThatWouldMeetSaySo) {
    Drawing d;
    d.rectangle(-7, -4, 7, 4);
    for (const double height : {10.0, 39.0, 46.0, 60.0}) { // 4 mm inwards by 10 deg at 22.7 mm
        Route route;
        const int made = route.extrude(route.sketch(d), region(0, 0), mm(height), {{"taper", "10 deg"}});
        const auto outcome = route.run();
        if (4 / std::tan(10 * pi / 180) < height) {
            EXPECT_TRUE(outcome.told("profile.taper")) << height;
        } else {
            const double shift = height * std::tan(10 * pi / 180);
            expect_volume(outcome, outcome.volume(made), height * (112 - 22 * shift + 4 * shift * shift / 3));
        }
    }
}

// --- Far away
// ----------------------------------------------------------------------------------------------------------------

// A segment is cut off a cylinder: r^2 acos(d/r) - d sqrt(r^2 - d^2) of its disc.
TEST(FarAway, CutsAreWhatTheyAreAtTheOrigin) {
    for (const double far : {0.0, 1e4, 1e5, -1e6}) {
        for (const double d : {-3.7, 0.6, 11.29}) {
            const double r = 16.1;
            Route route;
            const int body = route.cylinder(2 * r, 7.6, far, -0.7 * far, 0.3 * far);
            Drawing drawing;
            drawing.rectangle(far + d, -0.7 * far - 20, far + 30, -0.7 * far + 20);
            route.cut(body, route.sketch(drawing), region(far + d + 1, -0.7 * far));
            const auto outcome = route.run();
            const double segment = r * r * std::acos(d / r) - d * std::sqrt(r * r - d * d);
            SCOPED_TRACE(far);
            expect_volume(outcome, outcome.volume(body), 7.6 * (pi * r * r - segment), 1e-7);
        }
    }
}
