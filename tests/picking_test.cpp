// What lies under the pointer, by the triangles and lines of bodies: against formulas and the exact bodies.
#include "bare_body.h"
#include "scene/shown_body.h"

#include "geom/make/stock.h"
#include "geom/measure/pick.h"

#include <gtest/gtest.h>

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <gp_Lin.hxx>

#include <numbers>
#include <random>

using namespace kervo;
using namespace kervo::scene;
using kervo::test::bare_body;

namespace {

constexpr double endless = std::numeric_limits<double>::infinity();

gp_Ax3 at(double x, double y, double z) {
    return {gp_Pnt(x, y, z), gp_Dir(0, 0, 1)};
}

ShownBodyPtr shown(const model::BodyPtr& body) {
    BodyShower shower;
    shower.show({body});
    return shower(body);
}

TopoDS_Shape pierced_block() {
    const TopoDS_Shape block = geom::make_box(60, 40, 20, at(0, 0, 0)).shape;
    return BRepAlgoAPI_Cut(block, geom::make_cylinder(16, 40, at(10, 0, -10)).shape).Shape();
}

} // namespace

TEST(Picking, TheFirstFaceOfABox) {
    const auto box = shown(bare_body(geom::make_box(60, 40, 20, at(0, 0, 0)).shape));
    const Line3 down{{5, 5, 100}, {0, 0, -1}};
    const auto hit = box->tree->first_face(down, -endless, endless);
    ASSERT_TRUE(hit);
    EXPECT_DOUBLE_EQ(hit->at, 80);
    EXPECT_EQ(box->elements->faces[static_cast<size_t>(hit->face)].look.way, "upper");
    // What is cut away is not met: behind 85 there is the lower face alone.
    const auto below = box->tree->first_face(down, 85, endless);
    ASSERT_TRUE(below);
    EXPECT_DOUBLE_EQ(below->at, 100);
    EXPECT_FALSE(box->tree->first_face(down, -endless, 79));
    EXPECT_FALSE(box->tree->first_face({{31, 5, 100}, {0, 0, -1}}, -endless, endless));
}

// Any line from anywhere: the face that the exact body has there, as near as its triangles are.
TEST(Picking, RandomLinesMeetTheFacesOfTheExactBody) {
    for (const gp_Vec& far : {gp_Vec(0, 0, 0), gp_Vec(1e5, -2e5, 3e5)}) {
        gp_Trsf move;
        move.SetTranslation(far);
        const TopoDS_Shape shape = BRepBuilderAPI_Transform(pierced_block(), move, Standard_True).Shape();
        const auto body = bare_body(shape);
        const auto seen = shown(body);
        std::mt19937 random(7);
        std::uniform_real_distribution<double> place(-40, 40);
        int met = 0;
        int doubtful = 0;
        for (int i = 0; i < 400; ++i) {
            const gp_Pnt eye = gp_Pnt(place(random), place(random), place(random) + 60).Translated(far);
            const gp_Pnt to = gp_Pnt(place(random) / 2, place(random) / 2, 10).Translated(far);
            const gp_Dir way(gp_Vec(eye, to));
            const auto exact = geom::hits_along(shape, gp_Lin(eye, way));
            const auto first =
                std::find_if(exact.begin(), exact.end(), [](const geom::RayHit& hit) { return hit.at > 0; });
            const auto hit = seen->tree->first_face({{eye.X(), eye.Y(), eye.Z()}, {way.X(), way.Y(), way.Z()}}, 0, 1e4);
            if (first == exact.end() || !hit || std::fabs(hit->at - first->at) > 0.2) {
                ++doubtful; // past an edge, where a chord is not an arc
                continue;
            }
            ++met;
            EXPECT_EQ(model::element_of(*body, first->face)->index, hit->face);
        }
        EXPECT_GT(met, 300);
        EXPECT_LT(doubtful, 100);
        int misses = 0; // of those that go by
        for (int i = 0; i < 50; ++i) {
            const gp_Pnt eye = gp_Pnt(place(random) + 200, place(random), 60).Translated(far);
            misses += seen->tree->first_face({{eye.X(), eye.Y(), eye.Z()}, {0, 0, -1}}, -endless, endless) ? 0 : 1;
        }
        EXPECT_EQ(misses, 50);
    }
}

TEST(Picking, EdgesAndVerticesWithinReach) {
    const auto box = shown(bare_body(geom::make_box(60, 40, 20, at(0, 0, 0)).shape));
    const auto seen_from_above = [&](double x, double y, double reach) {
        return box->tree->near({{x, y, 100}, {0, 0, -1}}, reach, -endless, 81);
    };
    const auto edge = seen_from_above(29, 3, 2);
    ASSERT_EQ(edge.size(), 1U);
    EXPECT_FALSE(edge.front().vertex);
    EXPECT_NEAR(edge.front().away, 1, 1e-12);
    EXPECT_NEAR(edge.front().at, 80, 1e-12);
    EXPECT_TRUE(seen_from_above(27, 3, 2).empty());
    EXPECT_EQ(seen_from_above(27, 3, 4).size(), 1U); // with another reach the boxes are others
    const auto corner = seen_from_above(29.5, 19, 2);
    EXPECT_EQ(std::count_if(corner.begin(), corner.end(), [](const auto& each) { return each.vertex; }), 1);
    EXPECT_EQ(corner.size(), 4U); // two edges, an upright one, which begins there, and the vertex
    // All the way down: both outlines.
    EXPECT_EQ(box->tree->near({{29, 3, 100}, {0, 0, -1}}, 2, -endless, endless).size(), 2U);
}

// The seam of a wall is no edge that one sees.
TEST(Picking, SeamsAreNotMet) {
    const auto rod = shown(bare_body(geom::make_cylinder(20, 40, at(0, 0, 0)).shape));
    for (int degrees = 0; degrees < 360; degrees += 5) {
        const double a = degrees * std::numbers::pi / 180;
        const Vector3 in(-std::cos(a), -std::sin(a), 0);
        const Line3 line{Point3(0, 0, 20) - in * 100, in};
        EXPECT_TRUE(rod->tree->near(line, 3, -endless, 95).empty()) << degrees;
        EXPECT_NEAR(rod->tree->first_face(line, -endless, endless)->at, 90, 0.05) << degrees;
    }
    EXPECT_EQ(rod->tree->near({{9, 0, 100}, {0, 0, -1}}, 2, -endless, 85).size(), 2U); // rim, and where it begins
}

TEST(Picking, WhatIsShownSaysWhatItIs) {
    const auto solid = shown(bare_body(pierced_block()));
    EXPECT_EQ(solid->substance, Substance::solid);
    EXPECT_FALSE(solid->divides());
    EXPECT_NEAR(solid->volume, 60 * 40 * 20 - 64 * std::numbers::pi * 20, 1e-6);
    EXPECT_LE(solid->box.low.x, -30);
    EXPECT_GE(solid->box.high.z, 20);
    const auto sheet = shown(bare_body(geom::faces_of(pierced_block()).front()));
    EXPECT_EQ(sheet->substance, Substance::surface);
    EXPECT_TRUE(sheet->divides());
    const auto edge = geom::edges_of(pierced_block()).front();
    const auto curve = shown(bare_body(geom::gather({edge})));
    EXPECT_EQ(curve->substance, Substance::curves);
    EXPECT_FALSE(curve->tree->first_face({{0, 0, 100}, {0, 0, -1}}, -endless, endless));
    EXPECT_FALSE(curve->mesh->edges.front().empty());
}
