// Triangles: they close, whoever made them, and in whatever order bodies came.
#include "outlines.h"

#include "geom/cut/divide.h"
#include "geom/cut/straight_cut.h"
#include "geom/make/form_face.h"
#include "geom/make/stock.h"
#include "geom/measure/measure.h"
#include "geom/view/tessellate.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRep_Tool.hxx>
#include <Poly_PolygonOnTriangulation.hxx>
#include <Poly_Triangulation.hxx>
#include <TopoDS.hxx>

#include <gtest/gtest.h>

#include <map>

using namespace kervo;
using namespace kervo::geom;
using namespace kervo::geom::test;

namespace {

const gp_Ax3 origin(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));

const Poly_Triangulation* triangles(const TopoDS_Shape& face) {
    TopLoc_Location location;
    return BRep_Tool::Triangulation(TopoDS::Face(face), location).get();
}

TEST(Tessellate, TrianglesEncloseTheVolume) {
    const auto box = make_box(30, 20, 10, origin);
    tessellate(box.shape, {});
    double volume = 0;
    for (const auto& t : triangles_of(box.shape)) {
        volume += gp_Vec(t[0].XYZ()).Dot(gp_Vec(t[1].XYZ()).Crossed(gp_Vec(t[2].XYZ()))) / 6;
    }
    EXPECT_NEAR(volume, 6000, 1e-9);
}

// Triangles that close: every side is used once in each direction.
void expect_watertight(const TopoDS_Shape& shape, double volume) {
    using Corner = std::array<long, 3>;
    const auto corner = [](const gp_Pnt& p) {
        return Corner{std::lround(p.X() * 1e6), std::lround(p.Y() * 1e6), std::lround(p.Z() * 1e6)};
    };
    std::map<std::pair<Corner, Corner>, int> sides;
    double enclosed = 0;
    for (const auto& t : triangles_of(shape)) {
        enclosed += t[0].XYZ().Dot(t[1].XYZ().Crossed(t[2].XYZ())) / 6;
        for (size_t i = 0; i < 3; ++i) {
            ++sides[{corner(t[i]), corner(t[(i + 1) % 3])}];
        }
    }
    size_t open = 0;
    for (const auto& [side, times] : sides) {
        const auto back = sides.find({side.second, side.first});
        open += side.first != side.second && (back == sides.end() || back->second != times) ? 1 : 0;
    }
    EXPECT_EQ(open, 0U);
    EXPECT_NEAR(enclosed, volume, 0.01 * volume);
}

TEST(Tessellate, PiercedPlatesAndTurnedProfilesClose) {
    std::vector<OutlineLoop> loops{polygon({{0, 0}, {200, 0}, {200, 200}, {0, 200}})};
    for (int i = 0; i < 10; ++i) {
        for (int j = 0; j < 10; ++j) {
            loops.push_back(reversed(circle(10 + 20 * i, 10 + 20 * j, 6)));
        }
    }
    for (const size_t holes : {5U, 22U, 23U, 100U}) { // on both sides of where the triangulator changes
        const std::vector<OutlineLoop> some(loops.begin(), loops.begin() + 1 + static_cast<std::ptrdiff_t>(holes));
        const auto plate = make_prism(origin, some, 0, 8);
        tessellate(plate.shape, {0.02, 0.2});
        SCOPED_TRACE(holes);
        expect_watertight(plate.shape, (200 * 200 - static_cast<double>(holes) * 36 * pi) * 8);
    }
    // Turned by all kinds of angles, at chords from fine to coarse. A quarter of a ring is the kernel's stumbling
    // block.
    const auto bar = make_profile_face(origin, {polygon({{20, 0}, {30, 0}, {30, 30}, {20, 30}})});
    for (const double degrees : {10.0, 45.0, 90.0, 120.0, 180.0, 270.0, 360.0}) {
        for (const double chord : {0.5, 0.05, 0.02145, 0.005}) {
            const double angle = degrees * pi / 180;
            const auto turned = make_revolution(bar, gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(0, 1, 0)), 0, angle);
            tessellate(turned.shape, {chord, 0.2});
            SCOPED_TRACE(std::to_string(degrees) + " " + std::to_string(chord));
            expect_watertight(turned.shape, angle * 300 * 25);
        }
    }
}

// A hole more: what did not change keeps its triangles, and the two faces that did fit them.
TEST(Tessellate, TakesUpWhereItStopped) {
    std::vector<OutlineLoop> loops{polygon({{0, 0}, {200, 0}, {200, 200}, {0, 200}})};
    for (int i = 0; i < 100; ++i) {
        loops.push_back(reversed(circle(10 + 20 * (i % 10), 10 + 20 * (i / 10), 6)));
    }
    TopoDS_Shape plate = make_prism(origin, loops, 0, 8).shape;
    double volume = (200 * 200 - 100 * 36 * pi) * 8;
    tessellate(plate, {0.02, 0.2});
    for (int more = 0; more < 4; ++more) {
        std::map<const Poly_Triangulation*, int> before;
        for (const TopoDS_Shape& face : faces_of(plate)) {
            ++before[triangles(face)];
        }
        const double x = 20 + 20 * more;
        const StraightCutter hole{
            origin, {more % 2 == 0 ? circle(x, 20, 1.5) : slot(x, 20, 1, 1)}, {-1, 0, 0}, {9, 0, 0}};
        std::string why;
        const auto cut = divide_straight(LazyIndex(plate), {&hole}, why);
        ASSERT_TRUE(cut) << why;
        plate = cut->division.pieces.front().shape;
        volume -= cut->division.pieces.back().volume;
        tessellate(plate, {0.02, 0.2});
        expect_watertight(plate, volume);
        int kept = 0;
        for (const TopoDS_Shape& face : faces_of(plate)) {
            kept += before.contains(triangles(face)) ? 1 : 0;
        }
        EXPECT_EQ(kept, static_cast<int>(before.size()) - 2);
    }
    tessellate(plate, {0.002, 0.05}); // finer: all anew
    expect_watertight(plate, volume);
}

// The kernel's general mesher beside flat faces and strips that have their triangles.
TEST(Tessellate, RoundFacesFitTheirNeighbours) {
    Progress progress;
    TopoDS_Shape rod = make_cylinder(40, 70, origin).shape;
    tessellate(rod, {0.05, 0.2});
    double volume = volume_of(rod);
    for (const auto& cutter : {make_sphere(30, gp_Ax3(gp_Pnt(20, 0, 35), gp_Dir(0, 0, 1))),
                               make_cone(10, 3, 60, gp_Ax3(gp_Pnt(-30, 0, 20), gp_Dir(1, 0, 0)))}) {
        const auto cut = divide(rod, {cutter.shape}, progress);
        ASSERT_TRUE(cut);
        rod = cut->pieces.front().shape;
        volume = cut->pieces.front().volume;
        tessellate(rod, {0.05, 0.2});
        expect_watertight(rod, volume);
    }
}

// Coarse chords of a rim that all but touches a hole cross it; the kernel then takes the face.
TEST(Tessellate, ChordsThatCross) {
    const std::vector<OutlineLoop> loops{circle(0, 0, 50), reversed(circle(47.9, 0, 2))};
    const auto disc = make_prism(origin, loops, 0, 5);
    tessellate(disc.shape, {2.0, 0.8});
    for (const TopoDS_Shape& face : faces_of(disc.shape)) {
        EXPECT_NE(triangles(face), nullptr);
    }
}

FreeForm shaped(const std::array<FormWay, 2>& ways) {
    return flat_form(origin, 160, 120, ways);
}

// A surface that is shaped by hand: its triangles keep to it and to its borders.
TEST(Tessellate, SplinesAloneAreNearTheirSurfaceEverywhere) {
    std::vector<FreeForm> forms;
    forms.push_back(shaped({FormWay{3, 8}, FormWay{3, 6}}));
    forms.back().move({{5, 4}, {6, 4}}, gp_Vec(3, -4, 35));
    forms.push_back(shaped({FormWay{1, 1}, FormWay{1, 1}})); // twisted: bent along neither way
    forms.back().move({{0, 0}, {1, 1}}, gp_Vec(0, 0, 40));
    forms.push_back(shaped({FormWay{2, 5}, FormWay{5, 3}}));
    forms.back().move({{0, 3}, {3, 0}}, gp_Vec(0, 0, -60)); // at its borders
    forms.push_back(shaped({FormWay{3, 57}, FormWay{3, 57}}));
    forms.back().move_softly({{20, 20}}, gp_Vec(0, 0, 12), 30);
    for (const FreeForm& form : forms) {
        const auto made = whole_face(form);
        ASSERT_TRUE(made);
        for (const double chord : {0.5, 0.05}) {
            tessellate(made->face, {chord, 0.3});
            TopLoc_Location place;
            const auto mesh = BRep_Tool::Triangulation(made->face, place);
            ASSERT_FALSE(mesh.IsNull());
            double area = 0;
            for (int i = 1; i <= mesh->NbTriangles(); ++i) {
                std::array<int, 3> n{};
                mesh->Triangle(i).Get(n[0], n[1], n[2]);
                gp_XYZ middle(0, 0, 0);
                gp_XY at(0, 0);
                for (const int node : n) {
                    middle += mesh->Node(node).XYZ() / 3;
                    at += mesh->UVNode(node).XY() / 3;
                    const gp_Pnt on = form.surface()->Value(mesh->UVNode(node).X(), mesh->UVNode(node).Y());
                    EXPECT_LT(on.Distance(mesh->Node(node)), 1e-9);
                }
                gp_Pnt on;
                gp_Vec du;
                gp_Vec dv;
                form.surface()->D1(at.X(), at.Y(), on, du, dv);
                const gp_Vec normal = du.Crossed(dv).Normalized(); // what lies beside it along the surface is no error
                EXPECT_LT(std::fabs(gp_Vec(on, gp_Pnt(middle)).Dot(normal)), 1.2 * chord);
                const gp_Vec square =
                    gp_Vec(mesh->Node(n[0]), mesh->Node(n[1])).Crossed(gp_Vec(mesh->Node(n[0]), mesh->Node(n[2])));
                EXPECT_GT(square.Dot(normal), 0);
                area += square.Magnitude() / 2;
            }
            EXPECT_NEAR(area, area_of(made->face), 0.02 * area);
            for (const TopoDS_Shape& edge : edges_of(made->face)) {
                const auto nodes = BRep_Tool::PolygonOnTriangulation(TopoDS::Edge(edge), mesh, place);
                ASSERT_FALSE(nodes.IsNull());
                const BRepAdaptor_Curve curve(TopoDS::Edge(edge));
                for (int i = 1; i <= nodes->NbNodes(); ++i) {
                    EXPECT_LT(curve.Value(nodes->Parameter(i)).Distance(mesh->Node(nodes->Node(i))), 1e-9);
                }
            }
        }
    }
}

} // namespace
