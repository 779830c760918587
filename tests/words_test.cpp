// What faces and edges are called for people.
#include "model/names/words.h"
#include "model_fixture.h"

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

using Words = std::multiset<std::string>;

Words faces_of(const TopoDS_Shape& shape, const std::string& unit = "mm") {
    Words words;
    for (const TopoDS_Shape& face : geom::faces_of(shape)) {
        words.insert(geom::in_words(geom::look_of_face(face), unit));
    }
    return words;
}

TEST(Words, FlatFacesSayWhereTheyLookAndHowLargeTheyAre) {
    const TopoDS_Shape box = BRepPrimAPI_MakeBox(30, 20, 10.25).Shape();
    EXPECT_EQ(faces_of(box), (Words{"flat, upper, 30 x 20", "flat, under, 30 x 20", "flat, front, 30 x 10.25",
                                    "flat, back, 30 x 10.25", "flat, left, 20 x 10.25", "flat, right, 20 x 10.25"}));
    EXPECT_EQ(faces_of(box, "m").count("flat, upper, 0.03 x 0.02"), 1u);
    gp_Trsf turned;
    turned.SetRotation(gp_Ax1(gp_Pnt(), gp_Dir(1, 0, 0)), pi / 6);
    const Words leaning = faces_of(BRepBuilderAPI_Transform(box, turned).Shape());
    EXPECT_EQ(leaning.count("flat, leaning, 30 x 20"), 2u);
    EXPECT_EQ(leaning.count("flat, leaning, 30 x 10.25"), 2u);
    gp_Trsf mirrored;
    mirrored.SetMirror(gp_Ax2(gp_Pnt(), gp_Dir(0, 0, 1)));
    EXPECT_EQ(faces_of(BRepBuilderAPI_Transform(box, mirrored).Shape()).count("flat, upper, 30 x 20"), 1u);
}

TEST(Words, RoundFacesSayWhetherTheyAreHollow) {
    const TopoDS_Shape bar = BRepPrimAPI_MakeCylinder(32, 50).Shape();
    EXPECT_EQ(faces_of(bar), (Words{"flat, upper, 64 x 64", "flat, under, 64 x 64", "round side, \u00d864"}));
    const TopoDS_Shape box = BRepPrimAPI_MakeBox(gp_Pnt(-20, -20, 0), gp_Pnt(20, 20, 10)).Shape();
    const TopoDS_Shape pin = BRepPrimAPI_MakeCylinder(11, 10).Shape();
    EXPECT_EQ(faces_of(BRepAlgoAPI_Cut(box, pin).Shape()).count("hole, \u00d822"), 1u);
    const TopoDS_Shape corner = BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(20, 20, 0), gp_Dir(0, 0, 1)), 6, 10).Shape();
    EXPECT_EQ(faces_of(BRepAlgoAPI_Cut(box, corner).Shape()).count("hollow side, R6"), 1u);
    EXPECT_EQ(faces_of(BRepPrimAPI_MakeSphere(20).Shape()).count("ball, \u00d840"), 1u);
    EXPECT_EQ(faces_of(BRepPrimAPI_MakeTorus(30, 4.5).Shape()).count("ring, R4.5"), 1u);
}

TEST(Words, EdgesSayHowLongTheyAre) {
    Words words;
    for (const TopoDS_Shape& edge : geom::edges_of(BRepPrimAPI_MakeCylinder(8, 50, pi / 2).Shape())) {
        words.insert(geom::in_words(geom::look_of_edge(edge), "mm"));
    }
    EXPECT_EQ(words.count("arc, R8, " + format_quantity(8 * pi / 2, "mm", 2)), 2u);
    EXPECT_EQ(words.count("straight edge, 50"), 3u); // the axis as well
    words.clear();
    for (const TopoDS_Shape& edge : geom::edges_of(BRepPrimAPI_MakeCylinder(8, 50).Shape())) {
        words.insert(geom::in_words(geom::look_of_edge(edge), "mm"));
    }
    EXPECT_EQ(words.count("rim, \u00d816"), 2u);
}

// What made a face says more than what it looks like, where it is no number.
TEST(Words, AFaceIsCalledByWhatMadeItWhereThatSaysSomething) {
    const TopoDS_Shape bar = BRepPrimAPI_MakeCylinder(8, 50).Shape();
    TopoDS_Shape side;
    for (const TopoDS_Shape& face : geom::faces_of(bar)) {
        side = geom::in_words(geom::look_of_face(face), "mm").starts_with("round") ? face : side;
    }
    const auto called = [&](const std::string& name) {
        const FaceName parsed = FaceName::parse(name);
        return face_in_words(&parsed, geom::look_of_face(side), "mm");
    };
    EXPECT_EQ(called("10:top"), "upper face");
    EXPECT_EQ(called("10:top[+10:left]"), "upper face, \u00d816");
    EXPECT_EQ(called("50:side/c7"), "round side, \u00d816");
    EXPECT_EQ(called("20:face12"), "round side, \u00d816");
    EXPECT_EQ(called("70:round/10:left&10:top"), "round");
    EXPECT_EQ(face_in_words(nullptr, geom::look_of_face(side), "mm"), "round side, \u00d816");
    const geom::Look edge = geom::look_of_edge(geom::edges_of(bar).front());
    const std::string looks = geom::in_words(edge, "mm");
    EXPECT_EQ(edge_in_words({"10:top", "50:side/c7"}, edge, "mm"), looks + ", upper face");
    EXPECT_EQ(edge_in_words({"10:top", "10:front"}, edge, "mm"),
              "upper face and front face" + looks.substr(looks.rfind(", ")));
    EXPECT_EQ(edge_in_words({"50:side/c7"}, edge, "mm"), looks);
}

} // namespace
