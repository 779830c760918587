// Sketches that become one: what is drawn lies where it lay in space, and holds.
#include "model_fixture.h"

#include "model/sketching/merge_sketches.h"
#include "model/sketching/sketch_plane.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/sketch/sketch_step.h"
#include "sketch/merge.h"

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;
using sketch::ConstraintKind;
using sketch::Point2;

namespace {

// One of everything that has a direction.
sketch::Sketch sample() {
    sketch::Sketch s;
    const auto sides = s.add_rectangle({10, 5}, {40, 25});
    const int corner = s.curve(sides[0])->points[0];
    s.add_constraint(ConstraintKind::fixed, {corner});
    s.add_constraint(ConstraintKind::horizontal_distance, {corner, s.curve(sides[0])->points[1]}, "w");
    s.add_constraint(ConstraintKind::vertical_distance, {s.curve(sides[2])->points[0], corner}, "-20 mm");
    const int center = s.add_point(70, 10);
    const int from = s.add_point(80, 10);
    const int to = s.add_point(70, 20);
    s.add_arc(center, from, to);
    const int chord = s.add_line(to, from);
    s.add_constraint(ConstraintKind::fixed, {center});
    s.add_constraint(ConstraintKind::fixed, {from});
    s.add_constraint(ConstraintKind::angle, {sides[0], chord}, "-45 deg");
    const int hole = s.add_circle(s.add_point(0, 60), 3);
    sketch::Figure ring;
    ring.kind = sketch::FigureKind::ring;
    ring.points = {s.add_point(0, 40)};
    ring.of = {hole};
    ring.size.formula.text = "3";
    ring.spacing.formula.text = "40 deg";
    s.add_figure(ring);
    for (const int id : {s.curve(hole)->points[0], ring.points[0]}) {
        s.add_constraint(ConstraintKind::fixed, {id});
    }
    s.add_constraint(ConstraintKind::radius, {hole}, "3 mm");
    return s;
}

const ParameterValues values{{"w", {30, length_dimension, false}}};

double area_of(const sketch::Sketch& drawing) {
    double sum = 0;
    for (const auto& region : sketch::find_regions(drawing)) {
        sum += region.area;
    }
    return sum;
}

} // namespace

TEST(Merge, KeepsPlaceAndMeaningInEveryTurn) {
    const sketch::Sketch other = sketch::solve(sample(), values).sketch;
    ASSERT_TRUE(sketch::solve(other, values).findings.empty());
    ASSERT_EQ(sketch::solve(other, values).degrees_of_freedom, 0);
    sketch::Sketch into;
    into.add_circle(into.add_point(500, 0), 10);
    for (const bool mirrored : {false, true}) {
        for (int quarter = 0; quarter < 4; ++quarter) {
            sketch::Similarity moved = sketch::turned_about({0, 0}, quarter * pi / 2);
            moved.mirrored = mirrored;
            moved.shift = {11, -7};
            const auto merged = sketch::merge(into, other, moved);
            EXPECT_EQ(merged.left_out, 0U);
            EXPECT_TRUE(sketch::check_structure(merged.sketch).empty());
            const auto solution = sketch::solve(merged.sketch, values);
            ASSERT_TRUE(solution.findings.empty()) << solution.findings[0].cause << quarter << mirrored;
            EXPECT_EQ(solution.degrees_of_freedom, 3); // of the circle that was there
            EXPECT_NEAR(area_of(solution.sketch), area_of(other) + 100 * pi, 1e-7);
            for (const auto& point : other.points) {
                const auto now = sketch::place_of(solution.sketch, point.id + into.last_id);
                EXPECT_LT(sketch::distance(now, moved({point.x, point.y})), 1e-7);
            }
            // Every copy of the ring, too.
            const auto before = sketch::figure_outlines(other);
            const auto after = sketch::figure_outlines(solution.sketch);
            ASSERT_EQ(before.size(), after.size());
            for (size_t i = 0; i < before.size(); ++i) {
                EXPECT_LT(sketch::distance(after[i].stretches[0].center, moved(before[i].stretches[0].center)), 1e-7);
            }
            // The parameter still drives it.
            const auto wider = sketch::solve(merged.sketch, {{"w", {36, length_dimension, false}}});
            EXPECT_NEAR(area_of(wider.sketch), area_of(other) + 100 * pi + 6 * 20, 1e-6);
        }
    }
    // Aslant, nothing is level or plumb any more.
    const auto aslant = sketch::merge(into, other, sketch::turned_about({0, 0}, 0.3));
    EXPECT_EQ(aslant.left_out, 6U);
    EXPECT_TRUE(sketch::solve(aslant.sketch, values).findings.empty());
}

TEST(Merge, WordsStayReadable) {
    sketch::Sketch other;
    sketch::Figure text;
    text.kind = sketch::FigureKind::text;
    text.text = "NO";
    text.size = {{"8 mm"}, 8};
    text.points = {other.add_point(0, 0), other.add_point(30, 0)};
    other.add_figure(text);
    other = sketch::solve(other, {}).sketch;
    sketch::Sketch curves = other;
    sketch::break_up(curves, curves.figures[0].id);
    const double area = area_of(curves);
    ASSERT_GT(area, 0);
    EXPECT_EQ(sketch::merge({}, other, sketch::turned_about({0, 0}, 1)).sketch.figures.size(), 1U);
    sketch::Similarity mirrored;
    mirrored.mirrored = true;
    const auto merged = sketch::merge({}, other, mirrored);
    EXPECT_TRUE(merged.sketch.figures.empty());
    EXPECT_NEAR(area_of(merged.sketch), area, 1e-9);
}

TEST(Merge, SketchStepsWhereTheyLieInSpace) {
    Builder b;
    b.set("w", "30 mm");
    const int low = b.sketch(sample());
    const int high = b.sketch({}, "20");
    b.change<SketchStep>(high, [](SketchStep& step) { step.drawing.add_circle(step.drawing.add_point(-50, 0), 5); });
    const auto now = b.evaluate();
    const auto& below = *now.report(low)->output->sketch;
    const auto& above = *now.report(high)->output->sketch;
    auto merged = merge_sketches(b.document, high, low, above, below);
    ASSERT_TRUE(merged);
    EXPECT_FALSE(merged->kept);
    EXPECT_EQ(merged->document.step(low), nullptr);
    b.document = merged->document;
    const auto after = b.evaluate();
    EXPECT_FALSE(after.failed());
    EXPECT_NEAR(area_of(after.report(high)->output->sketch->solution.sketch), area_of(below.solution.sketch) + 25 * pi,
                1e-7);
    // A copy stands behind its source and has an id of its own; what is read by others stays.
    int copy = 0;
    b.document = duplicate_step(b.document, high, &copy);
    EXPECT_EQ(b.document.index_of(copy), b.document.index_of(high) + 1);
    EXPECT_NE(copy, high);
    EXPECT_EQ(b.document.step(copy)->definition, b.document.step(high)->definition);
    EXPECT_EQ(b.document.step(copy)->name, b.document.step(high)->name + " copy");
    Extrude post;
    post.sketch.step = copy;
    b.step(post);
    const auto twice = b.evaluate();
    merged = merge_sketches(b.document, high, copy, *twice.report(high)->output->sketch,
                            *twice.report(copy)->output->sketch);
    ASSERT_TRUE(merged);
    EXPECT_TRUE(merged->kept);
    EXPECT_NE(merged->document.step(copy), nullptr);
    // Planes that are not parallel.
    b.change<SketchStep>(copy, [](SketchStep& step) { step.plane.value = "xz"; });
    const auto turned = b.evaluate();
    EXPECT_EQ(merge_sketches(b.document, high, copy, *turned.report(high)->output->sketch,
                             *turned.report(copy)->output->sketch)
                  .finding()
                  .code,
              "sketch.not_parallel");
    // And moved there, the same sketch stands upright, at the same coordinates.
    EXPECT_NEAR(area_of(turned.report(copy)->output->sketch->solution.sketch), area_of(below.solution.sketch) + 25 * pi,
                1e-7);
    EXPECT_NEAR(in_space(turned.report(copy)->output->sketch->frame, {3, 4}).Z(), 4, 1e-9);
    EXPECT_LT(sketch::distance(on_plane(turned.report(copy)->output->sketch->frame, gp_Pnt(3, -20, 4)), Point2{3, 4}),
              1e-9);
}
