// Walls left of a body, and faces that lean: volumes by formulas, names, and what does not fit.
#include "model/steps/draft_faces/draft_faces.h"
#include "model/steps/hollow/hollow.h"
#include "model/steps/round_edges/round_edges.h"
#include "model/steps/stock/stock.h"
#include "model_fixture.h"

#include <gtest/gtest.h>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

Reference face_at(int body, double x, double y, double z) {
    return {ElementKind::face, std::to_string(body), {}, {}, Place{x, y, z}};
}

struct Walls : ::testing::Test {
    Builder b;
    int block = b.box("w", "30", "20");
    int step = 0;

    Walls() {
        b.set("w", "40 mm");
        b.set("t", "2 mm");
    }
    void hollow(const References& open) {
        Hollow definition;
        definition.workpiece = {{ElementKind::body, std::to_string(block), {}, {}, {}}};
        definition.open = open;
        definition.thickness.text = "t";
        step = b.step(definition);
    }
    double removed() {
        const auto evaluation = b.evaluate();
        EXPECT_FALSE(evaluation.failed());
        return evaluation.report(step)->output->removed;
    }
    void round_all(const std::string& radius, bool upright_only) {
        RoundEdges round;
        round.radius.text = radius;
        for (const double x : {-20.0, 20.0}) {
            for (const double y : {-15.0, 15.0}) {
                round.choice.edges.push_back({ElementKind::edge, std::to_string(block), {}, {}, Place{x, y, 10}});
            }
        }
        if (!upright_only) {
            round.choice.edges.push_back(face_at(block, 0, 0, 20));
            round.choice.edges.push_back(face_at(block, 0, 0, 0));
        }
        b.step(round);
    }
};

TEST_F(Walls, OpenClosedAndThickerOnOneSide) {
    hollow({face_at(block, 0, 0, 20)});
    EXPECT_NEAR(removed(), 36 * 26 * 18, 1e-7);
    b.set("t", "3 mm");
    b.set("w", "50 mm");
    EXPECT_NEAR(removed(), 44 * 24 * 17, 1e-7);
    b.change<Hollow>(step, [&](Hollow& h) {
        h.thick_faces = {face_at(block, 25, 0, 10)};
        h.other_thickness.text = "5";
    });
    EXPECT_NEAR(removed(), 42 * 24 * 17, 1e-7);
    const auto body = body_of(b.evaluate(), "10");
    const auto inner = body->names.Find(face_near(body, 20, 0, 10));
    EXPECT_EQ(inner.text(), std::to_string(step) + ":inner/10:right");
    EXPECT_EQ(describe_face(inner), "inner face");
    EXPECT_EQ(body->names.Find(face_near(body, 24, 0, 20)).text(), "10:top"); // what is left of the open face
    b.change<Hollow>(step, [&](Hollow& h) { h.open.clear(); });
    EXPECT_NEAR(removed(), 42 * 24 * 14, 1e-7);
    // The left wall has a thickness of its own, the right one that of all such walls.
    b.change<Hollow>(step, [&](Hollow& h) {
        h.thick_faces.push_back(face_at(block, -25, 0, 10));
        h.thick_faces.back().own.text = "2 * t";
    });
    EXPECT_NEAR(removed(), 39 * 24 * 14, 1e-7);
    b.set("t", "2 mm");
    EXPECT_NEAR(removed(), (50 - 5 - 4) * 26 * 16, 1e-7);
    b.set("t", "3 mm");
    b.change<Hollow>(step, [&](Hollow& h) { h.thick_faces.pop_back(); });
    EXPECT_EQ(geom::count(body_of(b.evaluate(), "10")->shape).shells, 2);
    b.change<Hollow>(step, [&](Hollow& h) { h.open = {face_at(block, 0, 0, 20), face_at(block, 0, 0, 0)}; });
    EXPECT_NEAR(removed(), 42 * 24 * 20, 1e-7);
}

TEST_F(Walls, RoundsStayRoundInside) {
    round_all("5", true);
    hollow({face_at(block, 0, 0, 20)});
    EXPECT_NEAR(removed(), (36 * 26 - 4 * 9 * (1 - pi / 4)) * 18, 1e-6);
}

TEST_F(Walls, AnOpeningBetweenRoundsIsAsWideAsItsFace) {
    round_all("4", false);
    hollow({face_at(block, 0, 0, 20)});
    const double a = 32, c = 22, h = 12, r = 2;
    const double inside =
        a * c * h + 2 * r * (a * c + c * h + a * h) + pi * r * r * (a + c + h) + 4 * pi / 3 * r * r * r;
    EXPECT_NEAR(removed(), inside + a * c * 2, 1e-5);
}

TEST_F(Walls, TheCoreMayBecomeABody) {
    hollow({face_at(block, 0, 0, 20)});
    const auto pieces = b.evaluate().report(step)->output->pieces;
    const auto core =
        std::find_if(pieces.begin(), pieces.end(), [](const Piece& p) { return !p.identity.inside.empty(); });
    ASSERT_NE(core, pieces.end());
    b.change<Hollow>(step, [&](Hollow& h) { h.verdicts = {{core->identity, Verdict::apart, core->center}}; });
    const auto evaluation = b.evaluate();
    EXPECT_EQ(evaluation.bodies_as_of().size(), 2u);
    EXPECT_NEAR(volume_of(evaluation, "10"), 24000 - 36 * 26 * 18, 1e-7);
    b.set("t", "4 mm"); // and follows
    double sum = 0;
    for (const auto& [id, body] : b.evaluate().bodies_as_of()) {
        sum += geom::volume_of(body->shape);
    }
    EXPECT_NEAR(sum, 24000, 1e-7);
}

TEST_F(Walls, WhatDoesNotFitIsSaid) {
    hollow({face_at(block, 0, 0, 20)});
    b.set("t", "16 mm");
    auto evaluation = b.evaluate();
    ASSERT_TRUE(has_code(evaluation, step, "hollow.too_thick"));
    const std::string& cause = evaluation.report(step)->findings.front().cause;
    const double fits = std::stod(cause.substr(cause.find("about ") + 6));
    EXPECT_GT(fits, 9.5); // closed, half of the height
    EXPECT_LE(fits, 10.0);
    b.set("t", "2 mm");
    Stock rod;
    rod.shape.value = "cylinder";
    rod.diameter.text = "30";
    rod.height.text = "40";
    const int round = b.step(rod);
    Hollow tube;
    tube.workpiece = {{ElementKind::body, std::to_string(round), {}, {}, {}}};
    tube.open = {face_at(round, 15, 0, 20)};
    const int curved = b.step(tube);
    tube.open = {face_at(block, 0, 0, 0)};
    const int other = b.step(tube);
    tube.open = {face_at(round, 0, 0, 0), face_at(round, 0, 0, 40)};
    const int good = b.step(tube);
    evaluation = b.evaluate();
    EXPECT_TRUE(has_code(evaluation, curved, "hollow.curved_opening"));
    EXPECT_TRUE(has_code(evaluation, other, "hollow.other_body"));
    EXPECT_NEAR(evaluation.report(good)->output->removed, pi * 13 * 13 * 40, 1e-6);
}

TEST_F(Walls, FacesLeanAboutAPlane) {
    DraftFaces draft;
    draft.faces = {face_at(block, 20, 0, 10)};
    draft.neutral = {face_at(block, 0, 0, 0)};
    draft.way.value = "in"; // the under face looks down, the mould opens upwards
    draft.angle.text = "5 deg";
    step = b.step(draft);
    const double lean = std::tan(5 * pi / 180);
    EXPECT_NEAR(removed(), 20 * 20 * lean / 2 * 30, 1e-8);
    b.change<DraftFaces>(step, [&](DraftFaces& d) {
        d.faces = {face_at(block, 20, 0, 10), face_at(block, -20, 0, 10), face_at(block, 0, 15, 10),
                   face_at(block, 0, -15, 10)};
    });
    const double in = 20 * lean;
    const double top = (40 - 2 * in) * (30 - 2 * in);
    EXPECT_NEAR(removed(), 24000 - 20.0 / 6 * (1200 + 4 * (40 - in) * (30 - in) + top), 1e-7);
    b.change<DraftFaces>(step, [](DraftFaces& d) { d.way.value = "out"; });
    const auto widened = b.evaluate();
    ASSERT_FALSE(widened.failed());
    EXPECT_GT(widened.report(step)->output->added, 0);
    const auto body = body_of(widened, "10");
    EXPECT_EQ(body->names.Find(face_near(body, 21, 0, 10)).text(), "10:right");
    EXPECT_EQ(body->names.Find(face_near(body, -21, 0, 10)).text(), "10:left");
    EXPECT_EQ(body->names.Find(face_near(body, 0, 16, 10)).text(), "10:back");
    EXPECT_EQ(body->names.Find(face_near(body, 0, 0, 20)).text(), "10:top");
    EXPECT_EQ(body->names.Find(face_near(body, 0, 0, 0)).text(), "10:bottom");
    for (const char* angle : {"0 deg", "89 deg"}) {
        b.change<DraftFaces>(step, [&](DraftFaces& d) { d.angle.text = angle; });
        EXPECT_TRUE(has_code(b.evaluate(), step, "draft.angle")) << angle;
    }
    b.change<DraftFaces>(step, [](DraftFaces& d) {
        d.angle.text = "60 deg";
        d.way.value = "in";
    });
    EXPECT_TRUE(has_code(b.evaluate(), step, "draft.failed")); // the walls would meet below the top
    b.change<DraftFaces>(step, [&](DraftFaces& d) {
        d.angle.text = "5 deg";
        d.faces = {face_at(block, 0, 0, 20)};
    });
    EXPECT_TRUE(has_code(b.evaluate(), step, "draft.face"));
}

TEST_F(Walls, ABoreLeansToACone) {
    sketch::Sketch s;
    circle(s, 0, 0, 6);
    b.cut(b.sketch(s), {{0, 0}}, {std::to_string(block)});
    DraftFaces draft;
    draft.faces = {face_at(block, 6, 0, 10)};
    draft.neutral = {face_at(block, -15, 0, 20)};
    draft.angle.text = "3 deg";
    step = b.step(draft);
    const auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    const double foot = 6 - 20 * std::tan(3 * pi / 180); // the body narrows upwards, so the bore widens that way
    const double bore = pi * 20 / 3 * (36 + 6 * foot + foot * foot);
    EXPECT_NEAR(volume_of(evaluation, "10"), 24000 - bore, 1e-6);
}

} // namespace
