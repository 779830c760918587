// What is like an element that was picked.
#include "geom/measure/alike.h"

#include "geom/alter/blend.h"
#include "geom/make/stock.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <gtest/gtest.h>

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <TopoDS.hxx>
#include <gp_Ax3.hxx>

namespace kervo::geom::test {

namespace {

gp_Ax3 standing(double x, double y, double z) {
    return {gp_Pnt(x, y, z), gp_Dir(0, 0, 1)};
}

// 60 x 40 x 20 with through holes of diameter 6, 6 and 8, and its four upright edges rounded by 5.
TopoDS_Shape plate() {
    TopoDS_Shape solid = make_box(60, 40, 20, standing(0, 0, 0)).shape;
    BRepFilletAPI_MakeFillet fillet(solid);
    for (const TopoDS_Shape& edge : edges_of(solid)) {
        const auto axis = axis_of(edge);
        if (axis && axis->Direction().IsParallel(gp_Dir(0, 0, 1), 1e-9)) {
            fillet.Add(5, TopoDS::Edge(edge));
        }
    }
    solid = fillet.Shape();
    for (const auto& [x, diameter] : {std::pair(-15.0, 6.0), std::pair(0.0, 6.0), std::pair(15.0, 8.0)}) {
        solid = BRepAlgoAPI_Cut(solid, make_cylinder(diameter, 40, standing(x, 0, -10)).shape).Shape();
    }
    return solid;
}

size_t count_alike(const TopoDS_Shape& body, TopAbs_ShapeEnum kind, const gp_Pnt& near, Likeness how) {
    return alike(body, nearest_element(body, kind, near).element, how).size();
}

} // namespace

TEST(Alike, FacesByKindRadiusChainAndConnection) {
    const TopoDS_Shape body = plate();
    const gp_Pnt hole(-12, 0, 10);
    const gp_Pnt top(0, 10, 20);
    EXPECT_EQ(count_alike(body, TopAbs_FACE, hole, Likeness::kind), 7U);
    EXPECT_EQ(count_alike(body, TopAbs_FACE, hole, Likeness::radius), 2U);
    EXPECT_EQ(count_alike(body, TopAbs_FACE, gp_Pnt(19, 0, 10), Likeness::radius), 1U);
    EXPECT_EQ(count_alike(body, TopAbs_FACE, top, Likeness::kind), 6U);
    EXPECT_EQ(count_alike(body, TopAbs_FACE, top, Likeness::radius), 0U);
    EXPECT_EQ(count_alike(body, TopAbs_FACE, top, Likeness::chain), 1U);
    EXPECT_EQ(count_alike(body, TopAbs_FACE, gp_Pnt(0, 20, 10), Likeness::chain), 8U); // all around
    EXPECT_EQ(count_alike(body, TopAbs_FACE, top, Likeness::connected), 13U);
}

TEST(Alike, EdgesByKindRadiusChainAndConnection) {
    const TopoDS_Shape body = plate();
    const gp_Pnt rim(-15, 3, 20);
    EXPECT_EQ(count_alike(body, TopAbs_EDGE, rim, Likeness::kind), 14U);
    EXPECT_EQ(count_alike(body, TopAbs_EDGE, rim, Likeness::radius), 4U);
    EXPECT_EQ(count_alike(body, TopAbs_EDGE, rim, Likeness::chain), 1U);
    EXPECT_EQ(count_alike(body, TopAbs_EDGE, gp_Pnt(0, 20, 20), Likeness::chain), 8U); // the upper outline
    EXPECT_EQ(count_alike(body, TopAbs_EDGE, gp_Pnt(0, 20, 20), Likeness::connected), 24U);
    EXPECT_EQ(count_alike(body, TopAbs_EDGE, gp_Pnt(25, 20, 10), Likeness::kind), 16U);
}

TEST(Alike, RingsHaveTwoRadiiAndVerticesNone) {
    const TopoDS_Shape ring = make_ring(40, 10, standing(0, 0, 0)).shape;
    const auto radii = radii_of(faces_of(ring).front());
    ASSERT_TRUE(radii);
    EXPECT_NEAR(radii->first, 20, 1e-12);
    EXPECT_NEAR(radii->second, 5, 1e-12);
    // Elements of another body: only what is like them, wherever it lies.
    const TopoDS_Shape other = make_ring(40, 12, standing(0, 0, 50)).shape;
    EXPECT_EQ(alike(other, faces_of(ring).front(), Likeness::kind).size(), 1U);
    EXPECT_EQ(alike(other, faces_of(ring).front(), Likeness::radius).size(), 0U);
    EXPECT_TRUE(alike(other, vertices_of(other).front(), Likeness::kind).empty());
    EXPECT_FALSE(radii_of(vertices_of(other).front()));
}

} // namespace kervo::geom::test
