// Curves that a sketch takes from the model: what is seen of edges, sections and silhouettes, and that they follow.
#include "model_fixture.h"

#include "model/route/dependency_graph.h"
#include "model/sketching/taken.h"
#include "model/steps/revolve/revolve.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"
#include "sketch/edit.h"

#include <BRepBuilderAPI_GTransform.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepBuilderAPI_NurbsConvert.hxx>
#include <BRepPrimAPI_MakeRevol.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>
#include <TopExp.hxx>
#include <gp_Elips.hxx>
#include <gp_GTrsf.hxx>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

double area_of(const sketch::Sketch& drawing) {
    double sum = 0;
    for (const auto& region : sketch::find_regions(drawing)) {
        sum += region.area;
    }
    return sum;
}
double area_of(const Evaluation& evaluation, int step) {
    double sum = 0;
    for (const auto& region : evaluation.report(step)->output->sketch->regions) {
        sum += region.area;
    }
    return sum;
}
gp_Ax3 level(double z = 0) {
    return {gp_Pnt(0, 0, z), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0)};
}
gp_Ax3 front() {
    return {gp_Pnt(0, 0, 0), gp_Dir(0, -1, 0), gp_Dir(1, 0, 0)};
}

int stock(Builder& b, const std::string& shape, const std::string& diameter, const std::string& height,
          const std::string& turn_x = "0 deg") {
    Stock made;
    made.shape.value = shape;
    made.diameter.text = diameter;
    made.height.text = height;
    made.top_diameter.text = "10 mm";
    made.turn_x.text = turn_x;
    return b.step(made);
}

sketch::Sketch taken_into(const Result<std::vector<Taken>>& taken) {
    sketch::Sketch drawing;
    EXPECT_TRUE(taken) << taken.finding().cause;
    add_taken(drawing, *taken);
    return drawing;
}

int kinds(const sketch::Sketch& drawing, sketch::CurveKind kind) {
    return static_cast<int>(
        std::count_if(drawing.curves.begin(), drawing.curves.end(), [kind](const auto& c) { return c.kind == kind; }));
}

} // namespace

TEST(TakenEdges, FollowTheirSourceWithAClearanceAndFrozenOnesDoNot) {
    Builder b;
    b.set("w", "60 mm");
    b.set("gap", "2 mm");
    const int plate = b.box("w", "40", "10");
    const BodyPtr body = body_of(b.evaluate(), std::to_string(plate));
    sketch::Sketch drawing = taken_into(take_edges(std::to_string(plate), *body, face_near(body, 0, 0, 10), level(20)));
    ASSERT_EQ(drawing.curves.size(), 4U);
    EXPECT_TRUE(
        add_taken(drawing, *take_edges(std::to_string(plate), *body, face_near(body, 0, 0, 10), level())).empty());
    std::set<int> edges;
    for (auto& curve : drawing.curves) {
        curve.construction = true; // guides for what stands around them
        edges.insert(curve.id);
    }
    sketch::Sketch frozen = drawing;
    for (auto& curve : frozen.curves) {
        EXPECT_TRUE(model::freeze(frozen, curve.id, true));
        EXPECT_FALSE(model::freeze(frozen, curve.id, true));
        curve.construction = false;
    }
    const auto around = sketch::offset(drawing, edges, "gap", 2, {100, 0}, false);
    ASSERT_FALSE(around.problem) << around.problem->cause;
    const auto rounded = sketch::offset(drawing, edges, "gap", 2, {100, 0}, true);
    ASSERT_FALSE(rounded.problem);
    const auto inside = sketch::offset(drawing, edges, "gap", 2, {0, 0}, false);
    ASSERT_FALSE(inside.problem);
    const int sharp_sketch = b.sketch(around.sketch, "20");
    const int round_sketch = b.sketch(rounded.sketch, "20");
    const int inner_sketch = b.sketch(inside.sketch, "20");
    const int frozen_sketch = b.sketch(frozen, "20");
    const auto expect = [&](double w, double gap) {
        const auto now = b.evaluate();
        EXPECT_FALSE(now.failed());
        EXPECT_NEAR(area_of(now, sharp_sketch), (w + 2 * gap) * (40 + 2 * gap), 1e-6);
        EXPECT_NEAR(area_of(now, round_sketch), w * 40 + 2 * gap * (w + 40) + pi * gap * gap, 1e-6);
        EXPECT_NEAR(area_of(now, inner_sketch), (w - 2 * gap) * (40 - 2 * gap), 1e-6);
        EXPECT_NEAR(area_of(now, frozen_sketch), 60 * 40, 1e-6);
        EXPECT_EQ(now.report(sharp_sketch)->output->sketch->solution.degrees_of_freedom, 0);
    };
    expect(60, 2);
    b.set("w", "75 mm");
    expect(75, 2);
    b.set("gap", "3.5 mm");
    expect(75, 3.5);
    // What is frozen is told, follows again when it is let go, and when it is taken anew.
    const auto told = [&] {
        const auto graph = model::dependency_graph(b.document);
        return std::count_if(graph.nodes.begin(), graph.nodes.end(),
                             [](const auto& node) { return node.text.ends_with("4 frozen"); });
    };
    EXPECT_EQ(told(), 1);
    for (auto& curve : frozen.curves) {
        EXPECT_TRUE(model::freeze(frozen, curve.id, false));
        EXPECT_FALSE(model::freeze(frozen, curve.id, false));
    }
    EXPECT_TRUE(frozen.constraints.empty());
    b.change<SketchStep>(frozen_sketch, [&](SketchStep& step) { step.drawing = frozen; });
    EXPECT_NEAR(area_of(b.evaluate(), frozen_sketch), 75 * 40, 1e-6);
    EXPECT_EQ(told(), 0);
    const int first = frozen.curves[0].id;
    model::freeze(frozen, first, true);
    const auto again =
        add_taken(frozen, *take_edges(std::to_string(plate), *body, face_near(body, 0, 0, 10), level(20)));
    EXPECT_EQ(again, std::vector<int>{first});
    EXPECT_EQ(frozen.curves.size(), 4U);
}

TEST(TakenEdges, AreSeenAsWhatTheyAre) {
    Builder b;
    const int tilted = stock(b, "cylinder", "40 mm", "30 mm", "30 deg");
    const BodyPtr body = body_of(b.evaluate(), std::to_string(tilted));
    // Its upper rim is seen as an ellipse, from its side as a line.
    const TopoDS_Shape top = face_near(body, 0, -30 * std::sin(pi / 6), 30 * std::cos(pi / 6));
    sketch::Sketch seen = taken_into(take_edges(std::to_string(tilted), *body, top, level()));
    ASSERT_EQ(seen.curves.size(), 1U);
    EXPECT_EQ(seen.curves[0].kind, sketch::CurveKind::ellipse);
    EXPECT_NEAR(area_of(seen), pi * 400 * std::cos(pi / 6), 1e-8);
    const gp_Ax3 side(gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0), gp_Dir(0, 1, 0));
    seen = taken_into(take_edges(std::to_string(tilted), *body, top, side));
    ASSERT_EQ(kinds(seen, sketch::CurveKind::line), 1);
    EXPECT_NEAR(sketch::stretch_of(seen, seen.curves[0]).length(), 40, 1e-9);
    // An upright edge of a box is nothing but a point from above.
    const int block = b.box("10", "10", "10");
    const BodyPtr box = body_of(b.evaluate(), std::to_string(block));
    const TopoDS_Shape upright = geom::nearest_element(box->shape, TopAbs_EDGE, gp_Pnt(5, 5, 5)).element;
    const auto nothing = take_edges(std::to_string(block), *box, upright, level());
    ASSERT_FALSE(nothing);
    EXPECT_EQ(nothing.finding().code, "taken.nothing");
}

TEST(TakenSections, AreWhereThePlaneCuts) {
    Builder b;
    const int cylinder = stock(b, "cylinder", "40 mm", "30 mm");
    const int cone = stock(b, "cone", "40 mm", "30 mm");
    const int plate = b.box("60", "40", "10");
    sketch::Sketch hole;
    circle(hole, 10, 5, 6);
    b.cut(b.sketch(hole), {{10, 5}}, {std::to_string(plate)});
    const auto evaluation = b.evaluate();
    const auto section = [&](int id, const gp_Ax3& frame) {
        return taken_into(take_section(std::to_string(id), *body_of(evaluation, std::to_string(id)), frame));
    };
    EXPECT_NEAR(area_of(section(cylinder, level(12))), 400 * pi, 1e-7);
    EXPECT_NEAR(area_of(section(cylinder, front())), 40 * 30, 1e-7);
    EXPECT_NEAR(area_of(section(cone, level(15))), pi * 12.5 * 12.5, 1e-7);
    const sketch::Sketch cut = section(plate, level(5));
    EXPECT_EQ(kinds(cut, sketch::CurveKind::line), 4);
    EXPECT_EQ(kinds(cut, sketch::CurveKind::circle), 1);
    EXPECT_NEAR(area_of(cut), 2400, 1e-7); // the plate around the hole, and the disc in it
    EXPECT_FALSE(take_section(std::to_string(plate), *body_of(evaluation, std::to_string(plate)), level(50)));
    // Askew through a cylinder: an ellipse.
    const double tilt = pi / 6;
    const gp_Ax3 askew(gp_Pnt(0, 0, 15), gp_Dir(0, -std::sin(tilt), std::cos(tilt)), gp_Dir(1, 0, 0));
    EXPECT_NEAR(area_of(section(cylinder, askew)), 400 * pi / std::cos(tilt), 1e-6);
}

TEST(TakenSilhouettes, AreTheOutlineWithWhatOneSeesThrough) {
    Builder b;
    const int ball = stock(b, "sphere", "40 mm", "30 mm");
    const int lying = stock(b, "cylinder", "40 mm", "30 mm", "90 deg");
    const int tilted = stock(b, "cylinder", "20 mm", "50 mm", "40 deg");
    const int cone = stock(b, "cone", "40 mm", "30 mm", "90 deg");
    const int plate = b.box("60", "40", "10");
    sketch::Sketch hole;
    circle(hole, 10, 5, 6);
    b.cut(b.sketch(hole), {{10, 5}}, {std::to_string(plate)});
    const auto evaluation = b.evaluate();
    const auto silhouette = [&](int id, const gp_Ax3& frame = level()) {
        return taken_into(take_silhouette(std::to_string(id), *body_of(evaluation, std::to_string(id)), frame));
    };
    EXPECT_NEAR(area_of(silhouette(ball)), 400 * pi, 1e-7);
    EXPECT_NEAR(area_of(silhouette(lying)), 40 * 30, 1e-7);
    EXPECT_NEAR(area_of(silhouette(lying, front())), 400 * pi, 1e-7);
    // A tilted cylinder shows its side and one of its ends: d h sin + pi r^2 cos.
    EXPECT_NEAR(area_of(silhouette(tilted)), 20 * 50 * std::sin(40 * pi / 180) + 100 * pi * std::cos(40 * pi / 180),
                1e-7);
    EXPECT_NEAR(area_of(silhouette(cone)), (40 + 10) / 2.0 * 30, 1e-7);
    const sketch::Sketch through = silhouette(plate);
    EXPECT_EQ(kinds(through, sketch::CurveKind::line), 4);
    EXPECT_EQ(kinds(through, sketch::CurveKind::circle), 1);
    const gp_Ax3 corner(gp_Pnt(0, 0, 0), gp_Dir(1, 1, 1));
    // Of a box seen from its corner one sees three faces: the sum of their areas, each times its slope.
    const int block = b.box("10", "20", "30");
    const auto again = b.evaluate();
    const auto hexagon =
        taken_into(take_silhouette(std::to_string(block), *body_of(again, std::to_string(block)), corner));
    EXPECT_EQ(hexagon.curves.size(), 6U);
    EXPECT_NEAR(area_of(hexagon), (10 * 20 + 20 * 30 + 10 * 30) / std::sqrt(3.0), 1e-7);
}

// The outline of a torus is what lies `r` to either side of its middle circle, as that is seen.
TEST(TakenSilhouettes, OfTori) {
    Builder b;
    sketch::Sketch disc;
    circle(disc, 20, 0, 4);
    Revolve ring;
    SketchStep upright;
    upright.drawing = disc;
    upright.plane.value = "xz";
    ring.sketch.step = b.step(upright);
    ring.regions = {{{}, {20, 0}}};
    ring.axis.value = "y";
    const int torus = b.step(ring);
    const BodyPtr body = body_of(b.evaluate(), std::to_string(torus));
    ASSERT_NE(body, nullptr);
    const auto outline = [&](double tilt) {
        const gp_Ax3 frame(gp_Pnt(0, 0, 0), gp_Dir(0, -std::sin(tilt), std::cos(tilt)), gp_Dir(1, 0, 0));
        const auto taken = take_silhouette(std::to_string(torus), *body, frame);
        EXPECT_TRUE(taken) << taken.finding().cause;
        return taken ? sketch::find_regions(taken_into(taken)) : std::vector<sketch::Region>{};
    };
    const auto from_above = outline(0);
    ASSERT_EQ(from_above.size(), 2U); // the ring, and what one sees through it
    EXPECT_NEAR(from_above[0].area + from_above[1].area, pi * 24 * 24, 1e-7);
    const auto from_the_side = outline(pi / 2);
    ASSERT_EQ(from_the_side.size(), 1U);
    EXPECT_NEAR(from_the_side[0].area, 4 * 20 * 4 + 16 * pi, 1e-7);
    for (const double tilt : {0.3, 0.6}) {
        double around = 0; // of the middle circle, which is seen as an ellipse
        const int steps = 20000;
        for (int i = 0; i < steps; ++i) {
            const double t = 2 * pi * (i + 0.5) / steps;
            around += std::hypot(20 * std::sin(t), 20 * std::cos(tilt) * std::cos(t)) * 2 * pi / steps;
        }
        const double ellipse = 400 * pi * std::cos(tilt);
        auto areas = outline(tilt);
        ASSERT_EQ(areas.size(), 2U);
        std::sort(areas.begin(), areas.end(), [](const auto& one, const auto& other) { return one.area < other.area; });
        EXPECT_NEAR(areas[0].area, ellipse - 4 * around + 16 * pi, 1e-4);
        EXPECT_NEAR(areas[1].area, 8 * around, 1e-4);
    }
}

// An ellipsoid, as a surface of revolution and as a free-form surface, shows an ellipse: with the half axes a, b, c and
// the sight n, of the area pi |(bc n_x, ac n_y, ab n_z)|. A torus made free-form shows what a torus shows.
TEST(TakenSilhouettes, OfFreeFormFaces) {
    const auto outline = [](const TopoDS_Shape& shape, const gp_Dir& sight) {
        const BodyPtr body = name_fresh(10, {shape, {}});
        const auto taken = take_silhouette("10", *body, gp_Ax3(gp_Pnt(0, 0, 0), sight));
        EXPECT_TRUE(taken) << taken.finding().cause;
        return taken ? sketch::find_regions(taken_into(taken)) : std::vector<sketch::Region>{};
    };
    const auto ellipsoid = [](const gp_Dir& n, double a, double b, double c) {
        return pi * std::sqrt(std::pow(b * c * n.X(), 2) + std::pow(a * c * n.Y(), 2) + std::pow(a * b * n.Z(), 2));
    };
    const TopoDS_Edge half =
        BRepBuilderAPI_MakeEdge(gp_Elips(gp_Ax2(gp_Pnt(), gp_Dir(0, -1, 0), gp_Dir(0, 0, 1)), 35, 20), 0, pi);
    const TopoDS_Edge axis = BRepBuilderAPI_MakeEdge(TopExp::LastVertex(half), TopExp::FirstVertex(half));
    const TopoDS_Shape turned =
        BRepPrimAPI_MakeRevol(BRepBuilderAPI_MakeFace(BRepBuilderAPI_MakeWire(half, axis)), gp::OZ());
    gp_GTrsf stretch;
    stretch.SetValue(1, 1, 1.5);
    stretch.SetValue(3, 3, 0.7);
    const TopoDS_Shape stretched = BRepBuilderAPI_GTransform(BRepPrimAPI_MakeSphere(20).Shape(), stretch);
    for (const gp_Dir& sight : {gp_Dir(0, 0, 1), gp_Dir(1, 0, 0), gp_Dir(0.2, 0.3, 0.9)}) {
        for (const TopoDS_Shape& shape : {turned, BRepBuilderAPI_NurbsConvert(turned).Shape()}) {
            const auto regions = outline(shape, sight);
            ASSERT_EQ(regions.size(), 1U) << sight.X() << " " << sight.Z();
            EXPECT_NEAR(regions[0].area, ellipsoid(sight, 20, 20, 35), 1e-4);
        }
        const auto regions = outline(stretched, sight);
        ASSERT_EQ(regions.size(), 1U) << sight.X() << " " << sight.Z();
        EXPECT_NEAR(regions[0].area, ellipsoid(sight, 30, 20, 14), 1e-4);
    }
    const TopoDS_Shape ring = BRepPrimAPI_MakeTorus(20, 4).Shape();
    const gp_Dir askew(0, -std::sin(0.3), std::cos(0.3));
    auto exact = outline(ring, askew);
    auto free_form = outline(BRepBuilderAPI_NurbsConvert(ring).Shape(), askew);
    ASSERT_EQ(exact.size(), 2U);
    ASSERT_EQ(free_form.size(), 2U);
    EXPECT_NEAR(free_form[0].area + free_form[1].area, exact[0].area + exact[1].area, 1e-4);
    EXPECT_NEAR(std::fabs(free_form[0].area - free_form[1].area), std::fabs(exact[0].area - exact[1].area), 1e-4);
    // Exactly from its side, the curves of the torus cross each other: that is said, not guessed at.
    const BodyPtr body = name_fresh(10, {BRepBuilderAPI_NurbsConvert(ring).Shape(), {}});
    const auto crossing = take_silhouette("10", *body, front());
    ASSERT_FALSE(crossing);
    EXPECT_EQ(crossing.finding().code, "taken.free_form");
}

TEST(TakenCurves, SayWhenTheirSourceIsGone) {
    Builder b;
    const int plate = b.box("60", "40", "10");
    const int post = stock(b, "cylinder", "20 mm", "30 mm");
    const auto evaluation = b.evaluate();
    sketch::Sketch drawing =
        taken_into(take_section(std::to_string(post), *body_of(evaluation, std::to_string(post)), level(5)));
    const auto more = take_silhouette(std::to_string(plate), *body_of(evaluation, std::to_string(plate)), level(5));
    add_taken(drawing, *more);
    ASSERT_EQ(drawing.curves.size(), 5U);
    const int sketch = b.sketch(drawing, "5");
    EXPECT_TRUE(b.evaluate().report(sketch)->findings.empty());
    // A shape without a top rim of that kind: the curve stays, and it is said.
    b.change<Stock>(post, [](Stock& s) { s.shape.value = "box"; });
    auto now = b.evaluate();
    EXPECT_TRUE(has_code(now, sketch, "taken.lost"));
    EXPECT_TRUE(has_code(now, sketch, "taken.more"));
    EXPECT_FALSE(now.failed());
    EXPECT_EQ(now.report(sketch)->output->sketch->solution.sketch.curves.size(), 5U);
    b.change<Stock>(post, [](Stock& s) { s.shape.value = "cylinder"; });
    EXPECT_TRUE(b.evaluate().report(sketch)->findings.empty());
    b.change<Stock>(post, [](Stock& s) { s.height.text = "2 mm"; }); // below the plane now
    EXPECT_TRUE(has_code(b.evaluate(), sketch, "taken.lost"));
}
