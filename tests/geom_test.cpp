#include "geom/cut/divide.h"
#include "geom/cut/unite.h"
#include "geom/make/stock.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/outline/profile.h"
#include "geom/view/section.h"
#include "geom/view/tessellate.h"

#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepLib.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>
#include <BRep_Builder.hxx>
#include <Geom2d_Circle.hxx>
#include <Geom_CylindricalSurface.hxx>
#include <Geom_Plane.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>
#include <TopoDS_Wire.hxx>

#include <gtest/gtest.h>

#include <array>
#include <cmath>
#include <functional>
#include <map>
#include <numbers>

using namespace kervo;
using namespace kervo::geom;

namespace {

const double pi = std::numbers::pi;
const gp_Ax3 origin(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));

gp_Ax3 at(double x, double y, double z) {
    return {gp_Pnt(x, y, z), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0)};
}

OutlineLoop circle(double x, double y, double r, int curve, bool clockwise = false) {
    OutlinePiece piece;
    piece.start = piece.end = {x + r, y};
    piece.center = {x, y};
    piece.radius = r;
    piece.sweep = clockwise ? -2 * pi : 2 * pi;
    piece.curve = std::to_string(curve);
    piece.start_vertex = piece.end_vertex = curve;
    return {piece};
}

} // namespace

TEST(Stock, VolumesAndRoles) {
    EXPECT_NEAR(volume_of(make_box(240, 240, 16, origin).shape), 240.0 * 240 * 16, 1e-6);
    EXPECT_NEAR(volume_of(make_cylinder(30, 96, origin).shape), pi * 15 * 15 * 96, 1e-7);
    EXPECT_NEAR(volume_of(make_sphere(20, origin).shape), 4.0 / 3 * pi * 1000, 1e-7);
    EXPECT_NEAR(volume_of(make_cone(20, 10, 30, origin).shape), pi * 30 / 3 * (100 + 50 + 25), 1e-7);
    EXPECT_NEAR(volume_of(make_cone(20, 0, 30, origin).shape), pi * 1000, 1e-7);
    for (const auto& made :
         {make_box(1, 2, 3, origin), make_cylinder(2, 3, origin), make_sphere(2, origin), make_cone(3, 2, 1, origin)}) {
        EXPECT_EQ(made.roles.size(), faces_of(made.shape).size());
        EXPECT_TRUE(is_closed(made.shape));
    }
    for (const FaceRole& role : make_box(100, 60, 20, at(5, 6, 7)).roles) {
        const gp_Pnt c = center_of(role.face);
        const std::map<std::string, gp_Pnt> wanted{{"bottom", {5, 6, 7}},   {"top", {5, 6, 27}},
                                                   {"left", {-45, 6, 17}},  {"right", {55, 6, 17}},
                                                   {"front", {5, -24, 17}}, {"back", {5, 36, 17}}};
        EXPECT_LT(c.Distance(wanted.at(role.role)), 1e-9) << role.role;
    }
}

TEST(Profile, PrismOverAnOutlineWithAHole) {
    const std::vector<OutlineLoop> ring{circle(0, 0, 100, 3), circle(0, 0, 75, 4, true)};
    EXPECT_NEAR(area_of(make_profile_face(at(0, 0, 5), ring).face), pi * (10000 - 5625), 1e-6);
    const auto prism = make_prism(at(0, 0, 5), ring, 0, 40);
    EXPECT_NEAR(volume_of(prism.shape), pi * (10000 - 5625) * 40, 1e-5);
    EXPECT_EQ(prism.roles.size(), 4u);
    EXPECT_TRUE(is_valid(prism.shape));
    const auto down = make_prism(at(0, 0, 5), ring, 2, -10);
    EXPECT_NEAR(volume_of(down.shape), pi * (10000 - 5625) * 12, 1e-5);
    const auto box = box_of(down.shape);
    EXPECT_NEAR(box[2], -5, 1e-9);
    EXPECT_NEAR(box[5], 7, 1e-9);
}

TEST(Profile, TrimByAnObliquePlane) {
    const auto prism = make_prism(origin, {circle(0, 0, 10, 1)}, 0, 100);
    const gp_Pln slope(gp_Pnt(0, 0, 50), gp_Dir(1, 0, 1));
    const auto trimmed = trim_by_plane(prism, slope, gp_Pnt(0, 0, 0), "end");
    ASSERT_TRUE(trimmed.ok());
    EXPECT_NEAR(volume_of(trimmed->shape), pi * 100 * 50, 1e-6); // the slope halves evenly about its middle
    EXPECT_EQ(trimmed->roles.size(), 3u);
    EXPECT_FALSE(trim_by_plane(prism, gp_Pln(gp_Pnt(0, 0, -5), gp_Dir(0, 0, 1)), gp_Pnt(0, 0, -10), "end").ok());
}

TEST(Divide, PlateAndPinsBalance) {
    const auto plate = make_box(200, 100, 20, origin);
    std::vector<TopoDS_Shape> pins;
    for (int i = 0; i < 8; ++i) {
        pins.push_back(make_cylinder(10, 40, at(-70 + 20 * i, 10, -10)).shape);
    }
    Progress progress;
    const auto division = divide(plate.shape, pins, progress);
    ASSERT_TRUE(division.ok());
    ASSERT_EQ(division->pieces.size(), 9u);
    for (const DividedPiece& piece : division->pieces) {
        const double wanted = piece.inside.empty() ? 200 * 100 * 20 - 8 * pi * 25 * 20 : pi * 25 * 20;
        EXPECT_NEAR(piece.volume, wanted, 1e-9 * wanted);
    }
    EXPECT_LT(division->imbalance, 1e-12);
}

// A round bar with a bore across, which breaks out of its lower end: by Simpson's rule over the angles, in any size.
TEST(Measure, AreasOfTrimmedRoundFaces) {
    constexpr double outer = 18, height = 27.3, bore = 6.4, beside = 10.8, above = 5.46;
    const auto simpson = [](double from, double to, const std::function<double(double)>& f) {
        constexpr int steps = 20000;
        double sum = f(from) + f(to);
        for (int i = 1; i < steps; ++i) {
            sum += (i % 2 == 0 ? 2 : 4) * f(from + (to - from) * i / steps);
        }
        return sum * (to - from) / steps / 3;
    };
    const auto chord = [](double radius, double x) { return 2 * std::sqrt(std::max(0.0, radius * radius - x * x)); };
    const double below = std::asin(above / bore); // angles of the bore's circle that lie under the end
    // The bar's wall, over the angle of the bore's circle: x = R cos t, so that dt = dx / sqrt(R^2 - x^2).
    const double gone = simpson(-below, pi + below, [&](double a) { // both walls, by strips along the bore's border
        const double x = beside + bore * std::cos(a);
        return (above + bore * std::sin(a)) * bore * std::sin(a) / std::sqrt(outer * outer - x * x) * outer * 2;
    });
    const double half = std::sqrt(bore * bore - above * above);
    const double slot = simpson(beside - half, beside + half, [&](double x) { return chord(outer, x); });
    const double inner =
        bore * simpson(-below, pi + below, [&](double a) { return chord(outer, beside + bore * std::cos(a)); });
    const double wanted = 2 * pi * outer * height - gone + 2 * pi * outer * outer - slot + inner;
    for (const double size : {0.01, 1.0, 100.0}) {
        const TopoDS_Shape bar = BRepPrimAPI_MakeCylinder(outer * size, height * size).Shape();
        const gp_Ax2 across(gp_Pnt(beside * size, -40 * size, above * size), gp_Dir(0, 1, 0));
        const TopoDS_Shape pin = BRepPrimAPI_MakeCylinder(across, bore * size, 80 * size).Shape();
        Progress progress;
        const auto divided = divide(bar, {pin}, progress);
        ASSERT_TRUE(divided);
        for (const auto& piece : divided->pieces) {
            if (piece.inside.empty()) {
                EXPECT_NEAR(area_of(piece.shape) / (size * size) / wanted, 1, 1e-7) << size;
            }
        }
        EXPECT_NEAR(area_of(BRepPrimAPI_MakeTorus(20 * size, 4 * size).Shape()) / (size * size), 4 * pi * pi * 80,
                    1e-8);
        EXPECT_NEAR(area_of(BRepPrimAPI_MakeSphere(7 * size).Shape()) / (size * size), 4 * pi * 49, 1e-9);
        EXPECT_NEAR(area_of(BRepPrimAPI_MakeCone(5 * size, 2 * size, 4 * size).Shape()) / (size * size),
                    pi * (25 + 4 + 7 * 5), 1e-9);
    }
}

// Two half circles whose ends miss each other by less than the tolerance, on a plane and on a cylinder whose own places
// are far away: what the gaps enclose with those is none of the area.
TEST(Measure, GapsWithinTheToleranceCountForNothing) {
    constexpr double gap = 1e-7;
    constexpr double far = 1e5;
    const BRep_Builder builder;
    const auto face_of = [&](const Handle(Geom_Surface) & surface, const std::vector<TopoDS_Edge>& edges) {
        TopoDS_Wire wire;
        builder.MakeWire(wire);
        for (const TopoDS_Edge& edge : edges) {
            builder.Add(wire, edge);
        }
        TopoDS_Face face;
        builder.MakeFace(face, surface, 1e-7);
        builder.Add(face, wire);
        return face;
    };
    const auto vertex = [&](const gp_Pnt& place) {
        TopoDS_Vertex made;
        builder.MakeVertex(made, place, 1e-6);
        return made;
    };
    for (const bool round : {false, true}) {
        const Handle(Geom_Surface) surface =
            round ? Handle(Geom_Surface)(new Geom_CylindricalSurface(gp_Ax3(gp::XOY()), 5))
                  : Handle(Geom_Surface)(new Geom_Plane(gp_Ax3(gp::XOY())));
        const double x = round ? 1 : -far; // of the middle in the parameters of the surface
        std::vector<TopoDS_Edge> edges;
        const TopoDS_Vertex left = vertex(surface->Value(x - 0.5, far));
        const TopoDS_Vertex right = vertex(surface->Value(x + 0.5, far));
        for (const double up : {1.0, -1.0}) { // one a little larger than the other
            const Handle(Geom2d_Circle) arc = new Geom2d_Circle(
                gp_Ax22d(gp_Pnt2d(x, far), gp_Dir2d(up, 0), gp_Dir2d(0, up)), up > 0 ? 0.5 : 0.5 + gap);
            TopoDS_Edge edge =
                BRepBuilderAPI_MakeEdge(arc, surface, up > 0 ? right : left, up > 0 ? left : right, 0, pi);
            BRepLib::BuildCurve3d(edge);
            edges.push_back(edge);
        }
        const double scale = round ? 5 : 1; // of what lies along the first parameter
        EXPECT_NEAR(area_of(face_of(surface, edges)), pi * 0.25 * scale, 2 * gap * scale) << round;
    }
}

// Walls across walls, all through a plate: a few are cut, so many that the kernel would not end are a finding.
TEST(Divide, TooMuchOverlapIsAFinding) {
    const auto walls = [](int count, std::vector<TopoDS_Shape>& cutters) {
        for (int i = 0; i < count; ++i) {
            const double at = -90 + 180.0 * i / count;
            cutters.push_back(
                make_box(0.2, 250, 30, gp_Ax3(gp_Pnt(at, 0, -10), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0))).shape);
            cutters.push_back(
                make_box(250, 0.2, 30, gp_Ax3(gp_Pnt(0, at, -10), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0))).shape);
        }
    };
    const TopoDS_Shape plate = make_box(200, 200, 10, gp_Ax3(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0))).shape;
    Progress progress;
    std::vector<TopoDS_Shape> few;
    walls(4, few);
    const auto divided = divide(plate, few, progress);
    ASSERT_TRUE(divided) << divided.finding().cause;
    double left = 0;
    for (const auto& piece : divided->pieces) {
        left += piece.inside.empty() ? piece.volume : 0;
    }
    const double span = 200 - 4 * 0.2;
    EXPECT_NEAR(left, 10 * span * span, 1e-6);
    std::vector<TopoDS_Shape> many;
    walls(150, many);
    const auto refused = divide(plate, many, progress);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.finding().code, "geom.too_much");
    many.push_back(plate);
    EXPECT_EQ(unite(many, {}, progress).finding().code, "geom.too_much");
}

TEST(Divide, OverlappingCuttersAndBlindOnes) {
    const auto block = make_box(40, 40, 40, origin);
    Progress progress;
    const auto division = divide(block.shape,
                                 {make_box(20, 20, 80, at(0, 0, -20)).shape, make_box(10, 60, 10, at(0, 0, 10)).shape,
                                  make_sphere(4, at(15, 15, 30)).shape, make_box(5, 5, 5, at(100, 0, 0)).shape},
                                 progress);
    ASSERT_TRUE(division.ok());
    std::map<std::vector<int>, double> by_side;
    for (const DividedPiece& piece : division->pieces) {
        by_side[piece.inside] += piece.volume;
    }
    EXPECT_NEAR(by_side.at({0, 1}), 10 * 20 * 10, 1e-6);
    EXPECT_NEAR(by_side.at({0}), 20 * 20 * 40 - 2000, 1e-6);
    EXPECT_NEAR(by_side.at({1}), 10 * 20 * 10, 1e-6);
    EXPECT_NEAR(by_side.at({2}), 4.0 / 3 * pi * 8, 1e-6); // wholly inside: a void and its plug
    EXPECT_EQ(by_side.size(), 5u);
}

TEST(Divide, CanBeCancelled) {
    Progress progress;
    progress.cancel();
    const auto division = divide(make_box(4, 4, 4, origin).shape, {make_box(1, 1, 9, origin).shape}, progress);
    ASSERT_FALSE(division.ok());
    EXPECT_EQ(division.finding().code, "divide.cancelled");
}

TEST(Divide, RefusesWhatHasNoSoundResult) {
    const auto block = make_box(10, 10, 10, origin);
    const BRep_Builder builder;
    TopoDS_Shell open; // a face is missing
    builder.MakeShell(open);
    const auto faces = faces_of(block.shape);
    for (size_t i = 0; i + 1 < faces.size(); ++i) {
        builder.Add(open, faces[i]);
    }
    TopoDS_Solid solid;
    builder.MakeSolid(solid);
    builder.Add(solid, open);
    Progress progress;
    const auto division = divide(solid, {make_box(4, 4, 4, origin).shape}, progress);
    ASSERT_FALSE(division);
    EXPECT_EQ(division.finding().code, "divide.failed");
}

// A turned face is measured along its border, however the tool cuts through it: a ball, a ring and a cone, each in two
// parts by a slanting plane, against their volumes in closed form.
TEST(Measure, TurnedFacesAreExact) {
    const gp_Ax3 askew(gp_Pnt(3, -2, 5), gp_Dir(1, 2, 3), gp_Dir(3, 0, -1));
    const auto ring = BRepPrimAPI_MakeTorus(askew.Ax2(), 20, 6).Shape();
    const auto ball = make_sphere(24, askew).shape;
    const auto cone = make_cone(20, 8, 15, askew).shape;
    const double pi = std::numbers::pi;
    Progress progress;
    for (const auto& [body, volume] : {std::pair(ring, 2 * pi * pi * 20 * 36), std::pair(ball, 4 * pi / 3 * 1728),
                                       std::pair(cone, pi * 15 / 3 * (100 + 40 + 16))}) {
        EXPECT_NEAR(volume_of(body), volume, 1e-10 * volume);
        const auto division =
            divide(body, {make_box(200, 200, 100, gp_Ax3(gp_Pnt(4, 0, 6), gp_Dir(0, 1, 4))).shape}, progress);
        ASSERT_TRUE(division);
        ASSERT_EQ(division->pieces.size(), 2U);
        const double sum = division->pieces[0].volume + division->pieces[1].volume;
        EXPECT_NEAR(sum, volume, 1e-9 * volume);
        const gp_XYZ moment = division->pieces[0].center.XYZ() * division->pieces[0].volume +
                              division->pieces[1].center.XYZ() * division->pieces[1].volume;
        EXPECT_LT((moment / sum - centroid_of(body).XYZ()).Modulus(), 1e-7);
    }
}

TEST(Divide, EveryFaceHasAnOrigin) {
    const auto block = make_box(40, 40, 10, origin);
    const auto cutter = make_cylinder(10, 10, origin); // its caps lie in the faces of the block
    Progress progress;
    const auto division = divide(block.shape, {cutter.shape}, progress);
    ASSERT_TRUE(division.ok());
    for (const DividedPiece& piece : division->pieces) {
        for (const TopoDS_Shape& face : faces_of(piece.shape)) {
            EXPECT_TRUE(std::any_of(division->origins.begin(), division->origins.end(),
                                    [&](const FaceOrigin& o) { return o.result.IsSame(face); }));
        }
    }
}

TEST(Unite, SeamsAreCleaned) {
    Progress progress;
    const auto united =
        unite({make_box(20, 20, 10, origin).shape, make_box(20, 20, 10, at(10, 0, 0)).shape}, {}, progress);
    ASSERT_TRUE(united.ok());
    EXPECT_NEAR(volume_of(united->shape), 30 * 20 * 10, 1e-9);
    EXPECT_EQ(count(united->shape).faces, 6);
    const auto raw =
        unite({make_box(20, 20, 10, origin).shape, make_box(20, 20, 10, at(10, 0, 0)).shape}, {false}, progress);
    EXPECT_GT(count(raw->shape).faces, 6);
}

// Half circles become whole ones in the union, and stay as they are in the body that went in.
TEST(Unite, LeavesItsInputsAlone) {
    const auto circle_of_halves = [](double radius, double way) {
        OutlineLoop loop;
        for (const int half : {0, 1}) {
            OutlinePiece arc;
            arc.radius = radius;
            arc.from = half * pi;
            arc.sweep = way * pi;
            arc.start = {half == 0 ? radius : -radius, 0};
            arc.end = {-arc.start[0], 0};
            arc.curve = std::to_string(static_cast<int>(radius) + half);
            arc.start_vertex = static_cast<int>(radius) + half;
            arc.end_vertex = static_cast<int>(radius) + 1 - half;
            loop.push_back(arc);
        }
        return loop;
    };
    const auto ring = make_prism(gp_Ax3(gp::XOY()), {circle_of_halves(20, 1), circle_of_halves(10, -1)}, 0, 4);
    const double volume = 4 * pi * (400 - 100);
    ASSERT_NEAR(volume_of(ring.shape), volume, 1e-9);
    Progress progress;
    const auto united = unite({ring.shape, make_box(5, 5, 4, at(60, 0, 0)).shape}, {}, progress);
    ASSERT_TRUE(united.ok());
    EXPECT_NEAR(volume_of(united->shape), volume + 100, 1e-9);
    EXPECT_EQ(count(united->shape).faces, 4 + 6);
    EXPECT_NEAR(volume_of(ring.shape), volume, 1e-9);
    EXPECT_EQ(count(ring.shape).faces, 6);
}

TEST(Pick, NearestAndRays) {
    const auto box = make_box(10, 10, 10, origin);
    const auto top = nearest_element(box.shape, TopAbs_FACE, gp_Pnt(1, 2, 10.5));
    EXPECT_FALSE(top.ambiguous);
    EXPECT_NEAR(center_of(top.element).Z(), 10, 1e-12);
    EXPECT_TRUE(nearest_element(box.shape, TopAbs_FACE, gp_Pnt(5, 5, 5)).ambiguous);
    const auto hits = hits_along(box.shape, gp_Lin(gp_Pnt(1, 1, -20), gp_Dir(0, 0, 1)));
    ASSERT_EQ(hits.size(), 2u);
    EXPECT_NEAR(hits[0].at, 20, 1e-9);
    EXPECT_FALSE(hits[0].leaves);
    EXPECT_TRUE(hits[1].leaves);
}

TEST(Section, CapsAndHatches) {
    const auto box = make_box(30, 20, 10, origin);
    const auto caps = *section_faces(box.shape, gp_Pln(gp_Pnt(3, 0, 0), gp_Dir(1, 0, 0)));
    ASSERT_EQ(caps.size(), 1u);
    EXPECT_NEAR(area_of(caps[0]), 200, 1e-9);
    EXPECT_TRUE(section_faces(box.shape, gp_Pln(gp_Pnt(300, 0, 0), gp_Dir(1, 0, 0)))->empty());
    const auto lines = hatch_lines(caps[0], gp_Ax3(gp_Pnt(3, 0, 0), gp_Dir(1, 0, 0)), 1.0, pi / 4, 0.01);
    double total = 0;
    for (const Segment3& line : lines) {
        total += line[0].Distance(line[1]);
    }
    EXPECT_NEAR(total, 200, 10); // lines one apart cover about the area
}

// The meter integrates shared faces once; what it says is what the kernel says of each solid alone.
TEST(Measure, PiecesThatShareFaces) {
    Progress progress;
    const auto plate = make_box(60, 40, 10, gp_Ax3(gp_Pnt(5, -3, 2), gp_Dir(0.2, 0.1, 1)));
    const auto ball = make_sphere(18, gp_Ax3(gp_Pnt(10, 0, -4), gp_Dir(0, 0, 1)));
    const auto rod = make_cone(12, 6, 60, gp_Ax3(gp_Pnt(-12, 3, -20), gp_Dir(0.1, 0, 1)));
    const auto division = divide(plate.shape, {ball.shape, rod.shape}, progress);
    ASSERT_TRUE(division);
    ASSERT_EQ(division->pieces.size(), 3u);
    for (const DividedPiece& piece : division->pieces) {
        EXPECT_NEAR(piece.volume / volume_of(piece.shape), 1, 5e-9); // Gauss points lie elsewhere on curved faces
        EXPECT_LT(piece.center.Distance(centroid_of(piece.shape)), 1e-7);
    }
    EXPECT_NEAR(division->workpiece_volume, 24000, 1e-8);
}
