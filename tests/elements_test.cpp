// The elements of a body as plain values: named, found again and compared as the body itself would have them.
#include "model/names/elements.h"

#include "geom/make/stock.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/measure/placing.h"
#include "geom/outline/profile.h"
#include "model_fixture.h"

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <TopoDS.hxx>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

gp_Ax3 standing(double x, double y, double z) {
    return {gp_Pnt(x, y, z), gp_Dir(0, 0, 1)};
}

// Named by numbers, so that each face is told by its own.
Body named(const TopoDS_Shape& shape) {
    Body body{shape, {}, nullptr};
    int number = 0;
    for (const TopoDS_Shape& face : geom::faces_of(shape)) {
        body.names.Bind(face, {"20:face" + std::to_string(++number), {}});
    }
    return body;
}

// 60 x 40 x 20 with through holes of diameter 6, 6 and 8, and its four upright edges rounded by 5.
Body plate() {
    TopoDS_Shape solid = geom::make_box(60, 40, 20, standing(0, 0, 0)).shape;
    BRepFilletAPI_MakeFillet fillet(solid);
    for (const TopoDS_Shape& edge : geom::edges_of(solid)) {
        const auto axis = geom::axis_of(edge);
        if (axis && axis->Direction().IsParallel(gp_Dir(0, 0, 1), 1e-9)) {
            fillet.Add(5, TopoDS::Edge(edge));
        }
    }
    solid = fillet.Shape();
    for (const auto& [x, diameter] : {std::pair(-15.0, 6.0), std::pair(0.0, 6.0), std::pair(15.0, 8.0)}) {
        solid = BRepAlgoAPI_Cut(solid, geom::make_cylinder(diameter, 40, standing(x, 0, -10)).shape).Shape();
    }
    return named(solid);
}

class Alike : public testing::Test {
protected:
    [[nodiscard]] size_t count(TopAbs_ShapeEnum kind, const gp_Pnt& near, Likeness how) const {
        return elements->alike(*element_of(body, geom::nearest_element(body.shape, kind, near).element), how).size();
    }
    Body body = plate();
    ElementsPtr elements = ElementMaker().elements_of(body);
};

} // namespace

TEST_F(Alike, FacesByKindRadiusChainAndConnection) {
    const gp_Pnt hole(-12, 0, 10);
    const gp_Pnt top(0, 10, 20);
    EXPECT_EQ(count(TopAbs_FACE, hole, Likeness::kind), 7U);
    EXPECT_EQ(count(TopAbs_FACE, hole, Likeness::radius), 2U);
    EXPECT_EQ(count(TopAbs_FACE, gp_Pnt(19, 0, 10), Likeness::radius), 1U);
    EXPECT_EQ(count(TopAbs_FACE, top, Likeness::kind), 6U);
    EXPECT_EQ(count(TopAbs_FACE, top, Likeness::radius), 0U);
    EXPECT_EQ(count(TopAbs_FACE, top, Likeness::chain), 1U);
    EXPECT_EQ(count(TopAbs_FACE, gp_Pnt(0, 20, 10), Likeness::chain), 8U); // all around
    EXPECT_EQ(count(TopAbs_FACE, top, Likeness::connected), 13U);
}

TEST_F(Alike, EdgesByKindRadiusChainAndConnection) {
    const gp_Pnt rim(-15, 3, 20);
    EXPECT_EQ(count(TopAbs_EDGE, rim, Likeness::kind), 14U);
    EXPECT_EQ(count(TopAbs_EDGE, rim, Likeness::radius), 4U);
    EXPECT_EQ(count(TopAbs_EDGE, rim, Likeness::chain), 1U);
    EXPECT_EQ(count(TopAbs_EDGE, gp_Pnt(0, 20, 20), Likeness::chain), 8U); // the upper outline
    EXPECT_EQ(count(TopAbs_EDGE, gp_Pnt(0, 20, 20), Likeness::connected), 24U);
    EXPECT_EQ(count(TopAbs_EDGE, gp_Pnt(25, 20, 10), Likeness::kind), 16U);
    EXPECT_EQ(count(TopAbs_VERTEX, gp_Pnt(25, 20, 20), Likeness::kind), 0U);
}

TEST(Elements, RingsAreAlikeByBothRadii) {
    const Body one = named(geom::make_ring(40, 10, standing(0, 0, 0)).shape);
    const Body other = named(geom::make_ring(40, 12, standing(0, 0, 50)).shape);
    ElementMaker maker;
    const auto first = maker.elements_of(one);
    const auto second = maker.elements_of(other);
    const Element ring{ElementKind::face, 0};
    EXPECT_EQ(first->look(ring).radii(), std::pair(20.0, 5.0));
    EXPECT_EQ(second->like(first->look(ring), ElementKind::face, Likeness::kind).size(), 1U);
    EXPECT_TRUE(second->like(first->look(ring), ElementKind::face, Likeness::radius).empty());
    EXPECT_EQ(first->like(first->look(ring), ElementKind::face, Likeness::radius).size(), 1U);
}

// The shapes are the oracle: what refers to an element, and what a reference means, is the same with and without them.
TEST(Elements, ReferAndFindAsTheShapesDo) {
    std::vector<std::pair<std::string, BodyPtr>> bodies{{"20", std::make_shared<Body>(plate())}};
    // A hollow in the middle of an edge: its wall, the top and the front meet in two vertices.
    const TopoDS_Shape block = geom::make_box(60, 20, 10, standing(0, 0, 0)).shape;
    const TopoDS_Shape bored = BRepAlgoAPI_Cut(block, geom::make_sphere(8, standing(0, -10, 6)).shape).Shape();
    bodies.emplace_back("10", std::make_shared<Body>(named(bored)));
    ElementMaker maker;
    size_t with_twins = 0;
    for (const auto& [id, body] : bodies) {
        const auto elements = maker.elements_of(*body);
        for (const ElementKind kind : {ElementKind::face, ElementKind::edge, ElementKind::vertex}) {
            ASSERT_GT(elements->count(kind), 0U);
            for (int i = 0; i < static_cast<int>(elements->count(kind)); ++i) {
                const Element element{kind, i};
                const TopoDS_Shape shape = shape_of(*body, element);
                EXPECT_EQ(element_of(*body, shape), element);
                const Reference reference = elements->reference(id, element);
                Reference wanted = refer_to(id, *body, shape);
                for (size_t k = 0; k < 3; ++k) {
                    EXPECT_NEAR((*reference.near)[k], (*wanted.near)[k], 1e-9);
                }
                wanted.near = reference.near;
                EXPECT_EQ(reference, wanted);
                EXPECT_EQ(elements->find(reference), element);
                with_twins += !reference.ends.empty() && reference.ends.back() == has_a_twin ? 1 : 0;
            }
        }
        EXPECT_FALSE(elements->find({ElementKind::face, id, {"99:top"}, {}, std::nullopt}));
        EXPECT_EQ(elements->find(whole(id)), Element{});
    }
    EXPECT_GE(with_twins, 2U);
}

// Seams are not seen; smooth edges lie between faces that run into each other; planes look out of the material.
TEST_F(Alike, KnowsWhatIsSeenAndWhatIsSmooth) {
    size_t seen = 0;
    size_t smooth = 0;
    for (const auto& edge : elements->edges) {
        seen += edge.seen ? 1 : 0;
        smooth += edge.smooth ? 1 : 0;
        EXPECT_EQ(edge.faces.size(), edge.seen ? 2U : 1U);
    }
    EXPECT_EQ(seen, geom::visible_edges_of(body.shape).size());
    EXPECT_EQ(smooth, 8U);
    EXPECT_EQ(elements->lumps.size(), 1U);
    EXPECT_EQ(elements->lumps.front().size(), elements->faces.size());
    for (const auto& face : elements->faces) {
        EXPECT_EQ(face.plane.has_value(), face.look.kind == "plane");
        if (face.plane) { // away from the middle of the plate, but for nothing
            EXPECT_GT((face.center - Point3(0, 0, 10)).dot(face.plane->z), 0);
        }
    }
}

// The wall of a hole has its middle where its rims have theirs; what is cut off obliquely asks the kernel.
TEST(Elements, TheMiddleOfAWall) {
    const TopoDS_Shape rod = geom::make_cylinder(8, 30, standing(3, 4, 5)).shape;
    const Body body = named(rod);
    const auto elements = ElementMaker().elements_of(body);
    for (const auto& face : elements->faces) {
        if (face.look.kind == "cylinder") {
            EXPECT_LT((face.center - Point3(3, 4, 20)).length(), 1e-12);
        }
    }
    // Half of a half: the upper right part of a wall; z of its middle by the integral of the height.
    const TopoDS_Shape cut = BRepAlgoAPI_Cut(rod, geom::make_box(40, 40, 40, standing(3 + 20, 4, 0)).shape).Shape();
    const auto half = ElementMaker().elements_of(named(cut));
    for (const auto& face : half->faces) {
        if (face.look.kind == "cylinder") { // of a half circle's arc, 2 r / pi from the axis
            EXPECT_NEAR(face.center.x, 3 - 2 * 4 / pi, 1e-9);
        }
    }
}

// What one body has in common with the next is not worked out again, and the same all the same.
TEST(Elements, AreTheSameWithAndWithoutMemory) {
    ElementMaker maker;
    const Body first = plate();
    (void)maker.elements_of(first);
    const TopoDS_Shape more =
        BRepAlgoAPI_Cut(first.shape, geom::make_cylinder(4, 40, standing(20, 12, -10)).shape).Shape();
    const Body second = named(more);
    const auto with = maker.elements_of(second);
    maker.forget_beyond(0);
    const auto without = ElementMaker().elements_of(second);
    ASSERT_EQ(with->edges.size(), without->edges.size());
    for (size_t i = 0; i < with->edges.size(); ++i) {
        EXPECT_EQ(with->edges[i].center, without->edges[i].center);
        EXPECT_EQ(with->edges[i].smooth, without->edges[i].smooth);
        EXPECT_EQ(with->edges[i].faces, without->edges[i].faces);
    }
    for (size_t i = 0; i < with->faces.size(); ++i) {
        EXPECT_EQ(with->faces[i].center, without->faces[i].center);
        EXPECT_EQ(geom::in_words(with->faces[i].look, "mm"), geom::in_words(without->faces[i].look, "mm"));
    }
}
