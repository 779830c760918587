// Pictures of documents, as the window gets them: plain values, and answers to questions.
#include "scene/picture.h"

#include "model/steps/round_edges/round_edges.h"
#include "model_fixture.h"

#include <BRep_Builder.hxx>
#include <Geom_Line.hxx>
#include <Geom_OffsetCurve.hxx>
#include <TopoDS_Edge.hxx>

using namespace kervo;
using namespace kervo::scene;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

struct Desk {
    Builder b;
    PictureMaker maker{Services{}, [](const std::string& name, const std::string&, const Body&) { return name; }};
    Progress progress;

    PicturePtr picture(int card = 0) { return maker.make({b.document, card, card != 0, {}}, progress); }
};

sketch::Sketch two_discs() {
    sketch::Sketch drawing;
    circle(drawing, -20, 0, 5);
    circle(drawing, 20, 0, 5);
    return drawing;
}

} // namespace

TEST(Pictures, HoldWhatStandsBeforeAndAfterAStepAndItsPieces) {
    Desk desk;
    desk.b.box("80", "40", "20");
    const int drawn = desk.b.sketch(two_discs());
    const int cut = desk.b.cut(drawn, {{-20, 0}, {20, 0}}, {"10"});
    const auto picture = desk.picture(cut);
    ASSERT_EQ(picture->before.size(), 1U);
    ASSERT_EQ(picture->after.size(), 1U);
    EXPECT_NEAR(picture->before.front().second->volume, 64000, 1e-6);
    EXPECT_NEAR(picture->after.front().second->volume, 64000 - 2 * 25 * pi * 20, 1e-6);
    EXPECT_EQ(picture->met, std::vector<BodyId>{"10"});
    EXPECT_TRUE(picture->findings.empty());
    EXPECT_NEAR(picture->bounds.middle().x, 0, 1e-6);
    EXPECT_EQ(picture->sketches.count(drawn), 1U);
    // From above each plug is met where it is, and nowhere else.
    ASSERT_EQ(picture->pieces.size(), 3U);
    int plugs = 0;
    for (const PieceLines& piece : picture->pieces) {
        const auto met = [&](double x) {
            return piece.tree->first_face({{x, 0, 100}, {0, 0, -1}}, 0, 1e9).has_value();
        };
        plugs += met(-20) != met(20) ? 1 : 0;
        EXPECT_NE(met(-20) || met(20), met(0));
    }
    EXPECT_EQ(plugs, 2);
    // What did not change is the very same.
    const auto again = desk.picture(cut);
    EXPECT_EQ(again->after.front().second, picture->after.front().second);
}

TEST(Pictures, ASketchAsksWhatItWouldTake) {
    Desk desk;
    desk.b.box("80", "40", "20");
    const int drawn = desk.b.sketch(two_discs(), "20");
    const auto picture = desk.picture(drawn);
    const Elements& elements = *picture->before.front().second->elements;
    int top = -1;
    for (int i = 0; i < 6; ++i) {
        top = elements.faces[static_cast<size_t>(i)].look.way == "upper" ? i : top;
    }
    using What = TakeQuestion::What;
    const auto length = [](const TakeAnswer& taken) {
        double sum = 0;
        for (const Taken& each : *taken) {
            sum += sketch::distance(each.stretch.start, each.stretch.end);
        }
        return sum;
    };
    const auto edges = desk.maker.answer(TakeQuestion{drawn, "10", {ElementKind::face, top}, What::edges});
    ASSERT_TRUE(edges);
    EXPECT_NEAR(length(edges), 2 * (80 + 40), 1e-9);
    const auto outline = desk.maker.answer(TakeQuestion{drawn, "10", {}, What::silhouette});
    ASSERT_TRUE(outline);
    EXPECT_NEAR(length(outline), 2 * (80 + 40), 1e-9);
    for (const TakeQuestion& wrong : {TakeQuestion{drawn, "99", {ElementKind::face, top}, What::edges},
                                      TakeQuestion{drawn, "10", {ElementKind::face, 99}, What::edges},
                                      TakeQuestion{77, "10", {ElementKind::face, top}, What::edges}}) {
        const auto nothing = desk.maker.answer(wrong);
        ASSERT_FALSE(nothing);
        EXPECT_EQ(nothing.finding().code, "taken.nothing");
    }
    const auto frozen = desk.maker.answer(FreezeQuestion{{"10", "99"}});
    ASSERT_EQ(frozen.size(), 1U);
    EXPECT_EQ(frozen.front().first, "10");
}

// A pick by hand has no name yet: the evaluation finds it, and the window is told.
TEST(Pictures, TellWhatTheReferencesOfACardMean) {
    Desk desk;
    desk.b.box("80", "40", "20");
    RoundEdges round;
    Reference edge = whole("10");
    edge.kind = ElementKind::edge;
    edge.near = Place{40, 0, 20};
    round.choice.edges = {edge};
    round.radius.text = "2 mm";
    const int card = desk.b.step(round);
    const auto picture = desk.picture(card);
    const auto meant = picture->meant(edge);
    ASSERT_TRUE(meant);
    EXPECT_EQ(meant->kind, ElementKind::edge);
    const Point3 center = picture->before.front().second->elements->center(*meant);
    EXPECT_LT((center - Point3(40, 0, 20)).length(), 1e-9);
    Reference lost = edge;
    lost.faces = {"10:top", "99:left"};
    EXPECT_FALSE(picture->meant(lost));
}

// A body that the kernel cannot draw is a finding, not the end of the picture.
TEST(Pictures, WhatCannotBeDrawnIsTold) {
    // A line offset along itself has no place.
    const Handle(Geom_Curve) nowhere =
        new Geom_OffsetCurve(new Geom_Line(gp_Pnt(), gp_Dir(1, 0, 0)), 1, gp_Dir(1, 0, 0));
    TopoDS_Edge edge;
    BRep_Builder().MakeEdge(edge, nowhere, 1e-7);
    BRep_Builder().Range(edge, 0, 10);
    const TopoDS_Shape shape = geom::gather({edge});
    auto body = std::make_shared<Body>();
    body->shape = shape;
    body->index = std::make_shared<geom::LazyIndex>(shape);
    BodyShower shower;
    shower.show({body});
    EXPECT_TRUE(shower(body)->failed);
    EXPECT_FALSE(shower(body)->tree->first_face({{0, 0, 10}, {0, 0, -1}}, 0, 100));
}
