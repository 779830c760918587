// Sketches as curves in space, and back.
#include "model_fixture.h"

#include "model/sketching/taken.h"
#include "model/steps/curves/curves.h"
#include "model/steps/extrude/extrude.h"

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;
using sketch::ConstraintKind;

namespace {

// A line, a half circle, a spline and a guide, of which the line's length is a parameter.
sketch::Sketch sample() {
    sketch::Sketch s;
    const int a = s.add_point(0, 0);
    const int b = s.add_point(40, 0);
    const int line = s.add_line(a, b);
    s.add_constraint(ConstraintKind::fixed, {a});
    s.add_constraint(ConstraintKind::horizontal, {line});
    s.add_constraint(ConstraintKind::distance, {line}, "w");
    s.add_arc(s.add_point(0, 30), s.add_point(10, 30), s.add_point(-10, 30));
    s.add_spline({s.add_point(0, 60), s.add_point(10, 70), s.add_point(20, 55), s.add_point(30, 65)}, 3, false, false);
    s.curve(s.add_line(a, s.add_point(0, -20)))->construction = true;
    return s;
}

Curves curves_of(int sketch, const std::string& which = "outlines") {
    Curves definition;
    definition.sketch.step = sketch;
    definition.which.value = which;
    return definition;
}

double length_of(const BodyPtr& body) {
    double sum = 0;
    for (const TopoDS_Shape& edge : geom::edges_of(body->shape)) {
        sum += geom::length_of(edge);
    }
    return sum;
}

} // namespace

TEST(Curves, AreABodyOfTheirOwnThatFollows) {
    Builder b;
    b.set("w", "40 mm");
    const int drawn = b.sketch(sample(), "25");
    const int curves = b.step(curves_of(drawn));
    const int guides = b.step(curves_of(drawn, "guides"));
    const int all = b.step(curves_of(drawn, "all"));
    auto now = b.evaluate();
    ASSERT_FALSE(now.failed());
    const auto body = [&](int step) { return body_of(now, std::to_string(step)); };
    EXPECT_EQ(geom::edges_of(body(curves)->shape).size(), 3U);
    EXPECT_NEAR(length_of(body(guides)), 20, 1e-9);
    EXPECT_NEAR(length_of(body(all)), length_of(body(curves)) + 20, 1e-9);
    EXPECT_EQ(volume_of(now, std::to_string(curves)), 0);
    const double before = length_of(body(curves));
    b.set("w", "55 mm");
    now = b.evaluate();
    EXPECT_NEAR(length_of(body(curves)), before + 15, 1e-6);
}

TEST(Curves, ComeBackIntoAnotherSketchAndAreFoundByName) {
    Builder b;
    b.set("w", "40 mm");
    const int drawn = b.sketch(sample(), "25");
    const int curves = b.step(curves_of(drawn));
    const BodyId id = std::to_string(curves);
    auto now = b.evaluate();
    const BodyPtr body = body_of(now, id);
    sketch::Sketch other;
    for (const TopoDS_Shape& edge : geom::edges_of(body->shape)) {
        const Reference reference = refer_to(id, *body, edge);
        ASSERT_EQ(reference.faces.size(), 1U);
        const Resolved again = resolve(reference, body.get());
        ASSERT_FALSE(again.finding);
        EXPECT_TRUE(again.element.IsSame(edge));
        const auto taken = take_edges(id, *body, edge, gp_Ax3(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0)));
        ASSERT_TRUE(taken) << taken.finding().cause;
        add_taken(other, *taken);
    }
    ASSERT_EQ(other.curves.size(), 3U);
    const auto stretch_of = [](const Evaluation& evaluation, int sketch, size_t curve) {
        const auto& solved = evaluation.report(sketch)->output->sketch->solution.sketch;
        return sketch::stretch_of(solved, solved.curves[curve]);
    };
    const int back = b.sketch(other);
    now = b.evaluate();
    ASSERT_FALSE(now.failed());
    for (size_t i = 0; i < 3; ++i) {
        EXPECT_EQ(stretch_of(now, back, i).kind, stretch_of(now, drawn, i).kind);
        EXPECT_NEAR(stretch_of(now, back, i).length(), stretch_of(now, drawn, i).length(), 1e-9);
    }
    b.set("w", "90 mm");
    now = b.evaluate();
    EXPECT_NEAR(stretch_of(now, back, 0).length(), 90, 1e-6);
    // What draws nothing says so; curves are no workpieces, and unite with nothing.
    const int empty = b.step(curves_of(b.sketch({})));
    EXPECT_TRUE(has_code(b.evaluate(), empty, "curves.none"));
    sketch::Sketch disc;
    circle(disc, 0, 0, 10);
    const int profile = b.sketch(disc);
    const int cut = b.cut(profile, {{0, 0}}, {id});
    EXPECT_TRUE(has_code(b.evaluate(), cut, "cut.no_solid"));
    Extrude post;
    post.sketch.step = profile;
    post.regions = {{{}, {0, 0}}};
    post.result.value = "united";
    post.unite_with = {{ElementKind::body, id, {}, {}, {}}};
    const int united = b.step(post);
    EXPECT_TRUE(has_code(b.evaluate(), united, "extrude.no_body"));
}
