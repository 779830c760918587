#include "model/steps/extrude/extrude.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"
#include "model_fixture.h"

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

TEST(Route, StepsAreNumberedAndKeepTheirIds) {
    Builder b;
    const int first = b.box("10", "10", "10");
    const int second = b.box("20", "10", "10");
    int between = 0;
    b.document = add_step(b.document, Stock{}, "between", 1, &between);
    EXPECT_EQ(b.document.steps[1]->number, 15);
    b.document = move_step(b.document, second, 0);
    EXPECT_EQ(b.document.steps[0]->id, second);
    EXPECT_EQ(b.document.steps[0]->number, 10);
    EXPECT_EQ(b.document.steps[1]->id, first);
    EXPECT_EQ(b.document.steps[2]->number, 30);
}

TEST(Stock, EveryShapeAndBadSizes) {
    Builder b;
    for (const auto& [shape, volume] :
         {std::pair("box", 100.0 * 60 * 20), std::pair("cylinder", pi * 400 * 20),
          std::pair("sphere", 4 * pi / 3 * 8000), std::pair("cone", pi * 20 / 3 * (400 + 200 + 100))}) {
        Stock stock;
        stock.shape.value = shape;
        const int id = b.step(stock);
        EXPECT_NEAR(volume_of(b.evaluate(), std::to_string(id)), volume, 1e-9 * volume) << shape;
    }
    const int bad = b.box("0 mm", "10", "10");
    EXPECT_TRUE(has_code(b.evaluate(), bad, "step.size"));
    const int unit = b.box("3 deg", "10", "10");
    EXPECT_TRUE(has_code(b.evaluate(), unit, "formula.dimension"));
}

TEST(Stock, IsPlacedAndTurned) {
    Builder b;
    Stock stock;
    stock.turn_y.text = "90 deg";
    stock.x.text = "5";
    const int id = b.step(stock);
    const auto box = geom::box_of(body_of(b.evaluate(), std::to_string(id))->shape);
    EXPECT_NEAR(box[0], 5, 1e-9); // its height now runs along x
    EXPECT_NEAR(box[3], 25, 1e-9);
    EXPECT_NEAR(box[2], -50, 1e-9);
}

TEST(Cut, OnlyTickedBodiesAreCut) {
    Builder b;
    const int low = b.box("60", "60", "10");
    const int middle = b.box("60", "60", "10", "10");
    const int high = b.box("60", "60", "10", "20");
    sketch::Sketch s;
    circle(s, 0, 0, 5);
    const int cut = b.cut(b.sketch(s), {{0, 0}}, {std::to_string(low), std::to_string(high)});
    const auto evaluation = b.evaluate();
    EXPECT_NEAR(evaluation.report(cut)->output->removed, 2 * pi * 25 * 10, 1e-8);
    EXPECT_NEAR(volume_of(evaluation, std::to_string(middle)), 36000, 1e-9);
    EXPECT_NEAR(volume_of(evaluation, std::to_string(low)), 36000 - pi * 250, 1e-8);
    EXPECT_LT(evaluation.report(cut)->output->imbalance, 1e-12);
}

TEST(Cut, EveryEnd) {
    struct Case {
        const char* to;
        const char* way;
        double depth; // of the hole in a block from z = 0 to 40, sketch at z = 40
    };
    for (const Case& c :
         {Case{"distance", "back", 12}, Case{"symmetric", "back", 6}, Case{"two_distances", "back", 12},
          Case{"everything", "back", 40}, Case{"everything_both", "back", 40}, Case{"next_face", "back", 40}}) {
        Builder b;
        const int block = b.box("60", "60", "40");
        sketch::Sketch s;
        circle(s, 0, 0, 5);
        const int cut = b.cut(b.sketch(s, "40"), {{0, 0}}, {std::to_string(block)}, c.to);
        b.change<Extrude>(cut, [&](Extrude& e) {
            e.extent.way.value = c.way;
            e.extent.distance.text = "12";
            e.extent.back_distance.text = "7";
        });
        const auto evaluation = b.evaluate();
        ASSERT_EQ(evaluation.report(cut)->state, StepState::ok) << c.to;
        EXPECT_NEAR(evaluation.report(cut)->output->removed, pi * 25 * c.depth, 1e-8) << c.to;
    }
}

TEST(Cut, NextFaceGoesThroughOneWallOnly) {
    Builder b;
    const int tube = b.box("60", "60", "60");
    sketch::Sketch hollow;
    hollow.add_rectangle({-20, -20}, {20, 20});
    b.cut(b.sketch(hollow), {{0, 0}}, {std::to_string(tube)});
    SketchStep front;
    front.plane.value = "xz";
    front.offset.text = "30"; // on the front wall
    circle(front.drawing, 0, 30, 5);
    const int opening = b.cut(b.step(front), {{0, 30}}, {std::to_string(tube)}, "next_face");
    b.change<Extrude>(opening, [](Extrude& e) { e.extent.way.value = "back"; });
    EXPECT_NEAR(b.evaluate().report(opening)->output->removed, pi * 25 * 10, 1e-8);
}

TEST(Cut, FromAndToFacesAndVerticesFollow) {
    Builder b;
    b.set("plate", "16");
    const int low = b.box("60", "60", "plate");
    const int high = b.box("60", "60", "plate", "plate + 40 mm");
    sketch::Sketch s;
    circle(s, 5, 5, 4);
    const int cut = b.cut(b.sketch(s), {{5, 5}}, {std::to_string(low), std::to_string(high)}, "face");
    b.change<Extrude>(cut, [&](Extrude& e) {
        e.extent.from.value = "face";
        e.extent.from_offset.text = "-2"; // two below the upper face
        e.extent.from_face = {{ElementKind::face, std::to_string(high), {}, {}, Place{20, 20, 72}}};
        e.extent.to_face = {{ElementKind::face, std::to_string(low), {}, {}, Place{20, 20, 0}}};
    });
    const auto first = b.evaluate();
    ASSERT_FALSE(first.failed()) << first.report(cut)->findings.at(0).cause << first.report(cut)->findings.at(0).field;
    EXPECT_NEAR(first.report(cut)->output->removed, pi * 16 * (14 + 16), 1e-8);
    b.set("plate", "22");
    EXPECT_NEAR(b.evaluate().report(cut)->output->removed, pi * 16 * (20 + 22), 1e-8);
    b.change<Extrude>(cut, [&](Extrude& e) {
        e.extent.to.value = "vertex";
        e.extent.to_vertex = {{ElementKind::vertex, std::to_string(low), {}, {}, Place{30, 30, 22}}};
    });
    EXPECT_NEAR(b.evaluate().report(cut)->output->removed, pi * 16 * 20, 1e-8);
}

TEST(Cut, EndsAtAnObliqueFace) {
    Builder b;
    Stock wedge;
    wedge.turn_y.text = "20 deg";
    wedge.width.text = wedge.depth.text = "200";
    const int slope = b.step(wedge);
    const int block = b.box("40", "40", "60", "30");
    sketch::Sketch s;
    circle(s, 0, 0, 5);
    const int cut = b.cut(b.sketch(s, "90"), {{0, 0}}, {std::to_string(block)}, "face");
    // The upper face of the turned plate: through (0, 0, 20 / cos) with slope tan(20 deg).
    b.change<Extrude>(cut, [&](Extrude& e) {
        e.extent.to_face = {
            {ElementKind::face, std::to_string(slope), {}, {}, Place{20 * std::sin(pi / 9), 0, 20 * std::cos(pi / 9)}}};
        e.extent.to_offset.text = "25";
    });
    const auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed()) << evaluation.report(cut)->findings.at(0).cause;
    const double middle = 20 / std::cos(pi / 9) + 25;
    EXPECT_NEAR(evaluation.report(cut)->output->removed, pi * 25 * (90 - middle), 1e-6);
}

TEST(Cut, FindingsForWhatCannotBe) {
    Builder b;
    const int block = b.box("60", "60", "40");
    Stock rod;
    rod.shape.value = "cylinder";
    const int round = b.step(rod);
    sketch::Sketch s;
    circle(s, 0, 0, 5);
    circle(s, 100, 0, 5);
    const int drawn = b.sketch(s);
    const int none = b.cut(drawn, {{0, 0}}, {});
    const int missing = b.cut(drawn, {{100, 0}}, {std::to_string(block)});
    const int gone = b.cut(drawn, {{0, 0}}, {"999"});
    const int lost = b.cut(drawn, {{50, 50}}, {std::to_string(block)});
    const int curved = b.cut(drawn, {{0, 0}}, {std::to_string(block)}, "face");
    b.change<Extrude>(curved, [&](Extrude& e) {
        e.extent.to_face = {{ElementKind::face, std::to_string(round), {}, {}, Place{20, 0, 10}}};
    });
    const int unpicked = b.cut(drawn, {{0, 0}}, {std::to_string(block)}, "face");
    const auto evaluation = b.evaluate();
    EXPECT_TRUE(has_code(evaluation, none, "step.no_bodies"));
    EXPECT_TRUE(has_code(evaluation, missing, "cut.nothing_met"));
    EXPECT_TRUE(has_code(evaluation, missing, "cut.misses"));
    EXPECT_TRUE(has_code(evaluation, gone, "names.no_body"));
    EXPECT_TRUE(has_code(evaluation, lost, "profile.region_lost"));
    EXPECT_TRUE(has_code(evaluation, curved, "profile.no_end"));
    EXPECT_TRUE(has_code(evaluation, unpicked, "step.unanswered"));
    EXPECT_NEAR(volume_of(evaluation, std::to_string(block)), 144000, 1e-9); // handed on unchanged
}

TEST(Cut, MissedByIsMeasured) {
    Builder b;
    const int near = b.box("60", "60", "10");
    const int far = b.box("60", "60", "10", "50");
    sketch::Sketch s;
    circle(s, 0, 0, 5);
    const int cut = b.cut(b.sketch(s), {{0, 0}}, {std::to_string(near), std::to_string(far)}, "distance");
    b.change<Extrude>(cut, [](Extrude& e) {
        e.extent.way.value = "ahead";
        e.extent.distance.text = "46";
    });
    const auto evaluation = b.evaluate();
    ASSERT_EQ(evaluation.report(cut)->state, StepState::warning);
    EXPECT_NE(evaluation.report(cut)->findings[0].cause.find("4.000 mm"), std::string::npos);
}

TEST(Verdicts, StaysGoesApart) {
    Builder b;
    const int block = b.box("60", "60", "20");
    sketch::Sketch s;
    circle(s, -15, 0, 5);
    circle(s, 15, 0, 5);
    const int cut = b.cut(b.sketch(s), {{-15, 0}, {15, 0}}, {std::to_string(block)});
    auto evaluation = b.evaluate();
    const auto pieces = evaluation.report(cut)->output->pieces;
    ASSERT_EQ(pieces.size(), 3u);
    const auto left = std::find_if(pieces.begin(), pieces.end(), [](const Piece& p) { return p.center[0] < -10; });
    const auto right = std::find_if(pieces.begin(), pieces.end(), [](const Piece& p) { return p.center[0] > 10; });
    b.change<Extrude>(cut, [&](Extrude& e) {
        e.verdicts = {{left->identity, Verdict::apart, left->center}, {right->identity, Verdict::stays, right->center}};
    });
    evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    const double plug = pi * 25 * 20;
    EXPECT_NEAR(evaluation.report(cut)->output->removed, 0, 1e-9);
    EXPECT_NEAR(volume_of(evaluation, std::to_string(block)), 72000 - plug, 1e-6);
    EXPECT_EQ(evaluation.bodies_as_of().size(), 2u);
    EXPECT_NEAR(geom::volume_of(evaluation.bodies_as_of()[1].second->shape), plug, 1e-7);
    EXPECT_TRUE(geom::is_valid(body_of(evaluation, std::to_string(block))->shape));
    EXPECT_EQ(geom::count(body_of(evaluation, std::to_string(block))->shape).lumps, 1);
}

TEST(Verdicts, SurviveChangesOrBecomeFindings) {
    Builder b;
    b.set("gap", "10");
    const int bar = b.box("100", "20", "20");
    sketch::Sketch s;
    const auto sides = s.add_rectangle({-5, -20}, {5, 20});
    s.add_constraint(sketch::ConstraintKind::fixed, {s.curve(sides[3])->points[0]});
    s.add_constraint(sketch::ConstraintKind::distance, {sides[0]}, "gap");
    s.add_constraint(sketch::ConstraintKind::fixed, {s.curve(sides[3])->points[1]});
    const int cut = b.cut(b.sketch(s), {{0, 0}}, {std::to_string(bar)});
    auto pieces = b.evaluate().report(cut)->output->pieces;
    ASSERT_EQ(pieces.size(), 3u);
    const auto right = std::find_if(pieces.begin(), pieces.end(), [](const Piece& p) { return p.center[0] > 10; });
    b.change<Extrude>(cut, [&](Extrude& e) { e.verdicts = {{right->identity, Verdict::goes, right->center}}; });
    for (const char* gap : {"10", "20", "3", "40"}) {
        b.set("gap", gap);
        const auto evaluation = b.evaluate();
        for (const StepReport& report : evaluation.steps) {
            for (const Finding& finding : report.findings) {
                ADD_FAILURE() << gap << ": " << finding.cause;
            }
        }
        EXPECT_NEAR(volume_of(evaluation, std::to_string(bar)), 45 * 400, 1e-7) << gap; // always the left part stays
    }
    b.set("gap", "60"); // now the cutter takes the right part whole: its verdict is lost
    EXPECT_TRUE(has_code(b.evaluate(), cut, "piece.lost"));
}

TEST(Extrude, NewBodyAndUnited) {
    Builder b;
    const int plate = b.box("60", "60", "10");
    sketch::Sketch s;
    circle(s, 0, 0, 20);
    circle(s, 0, 0, 10);
    const int drawn = b.sketch(s, "10");
    Extrude ring;
    ring.sketch.step = drawn;
    ring.regions = {{{}, {15, 0}}};
    ring.extent.distance.text = "5";
    const int fresh = b.step(ring, "Ring");
    ring.result.value = "united";
    ring.unite_with = {{ElementKind::body, std::to_string(plate), {}, {}, {}}};
    const int united = b.step(ring);
    const auto evaluation = b.evaluate();
    const double volume = pi * (400 - 100) * 5;
    EXPECT_NEAR(volume_of(evaluation, std::to_string(fresh)), volume, 1e-8);
    EXPECT_NEAR(volume_of(evaluation, std::to_string(plate)), 36000 + volume, 1e-7);
    EXPECT_NEAR(evaluation.report(united)->output->added, volume, 1e-7);
    EXPECT_EQ(evaluation.traits.at(std::to_string(fresh)).name, "Ring");
}

TEST(Evaluation, RunsOnlyWhatReadsSomethingChanged) {
    Builder b;
    for (int i = 0; i < 100; ++i) {
        b.set("h" + std::to_string(i), "10");
        b.box("5", "5", "h" + std::to_string(i));
    }
    EXPECT_EQ(b.evaluate().steps_run, 100);
    EXPECT_EQ(b.evaluate().steps_run, 0);
    b.set("h99", "12");
    EXPECT_EQ(b.evaluate().steps_run, 1);
    b.set("h99", "10"); // seen before
    EXPECT_EQ(b.evaluate().steps_run, 0);
}

TEST(Evaluation, FailedStepsHandOnAndMarkStale) {
    Builder b;
    b.set("d", "10");
    const int block = b.box("60", "60", "20");
    const int other = b.box("60", "60", "20", "100");
    sketch::Sketch s;
    circle(s, 0, 0, 5, "d");
    const int first = b.cut(b.sketch(s), {{0, 0}}, {std::to_string(block)});
    const int second = b.cut(b.document.steps[2]->id, {{0, 0}}, {std::to_string(other)});
    b.set("d", "d + 1 mm"); // a circle of formulas
    const auto evaluation = b.evaluate();
    EXPECT_EQ(evaluation.parameters.findings.at("d").code, "parameter.cycle");
    EXPECT_EQ(evaluation.report(30)->state, StepState::failed);
    EXPECT_EQ(evaluation.report(first)->state, StepState::failed);
    EXPECT_TRUE(evaluation.traits.at(std::to_string(block)).stale);
    EXPECT_NEAR(volume_of(evaluation, std::to_string(block)), 72000, 1e-9);
    EXPECT_TRUE(evaluation.failed());
    EXPECT_NE(second, 0);
}

TEST(Evaluation, CanBeCancelledAndTakenUpAgain) {
    Builder b;
    const int block = b.box("60", "60", "20");
    Progress progress;
    progress.cancel();
    const auto stopped = evaluate(b.document, *b.cache, b.services, progress);
    EXPECT_TRUE(stopped.cancelled);
    EXPECT_TRUE(stopped.bodies_as_of().empty());
    EXPECT_NEAR(volume_of(b.evaluate(), std::to_string(block)), 72000, 1e-9);
}

TEST(Evaluation, SuspendedStepsAreSkipped) {
    Builder b;
    const int block = b.box("60", "60", "20");
    sketch::Sketch s;
    circle(s, 0, 0, 5);
    const int cut = b.cut(b.sketch(s), {{0, 0}}, {std::to_string(block)});
    b.document = change_step(b.document, cut, [](Step& step) { step.suspended = true; });
    const auto evaluation = b.evaluate();
    EXPECT_EQ(evaluation.report(cut)->state, StepState::suspended);
    EXPECT_NEAR(volume_of(evaluation, std::to_string(block)), 72000, 1e-9);
}

TEST(Fields, EveryKindCanBeWalkedAndSet) {
    for (const StepKind& kind : step_kinds()) {
        auto definition = *make_definition(kind.kind);
        std::set<std::string> keys;
        for (const Field& field : fields_of(definition)) {
            EXPECT_TRUE(keys.insert(field.info.key).second) << kind.kind << " " << field.info.key;
            EXPECT_FALSE(field.info.label.empty());
            EXPECT_FALSE(field.info.help.empty());
            EXPECT_TRUE(set_field(definition, field.info.key, field.value));
            if (const auto* choice = std::get_if<Choice>(&field.value)) {
                EXPECT_TRUE(std::any_of(field.info.options.begin(), field.info.options.end(),
                                        [&](const FieldOption& o) { return o.value == choice->value; }));
            }
        }
        EXPECT_FALSE(set_field(definition, "no such field", Choice{}));
    }
}

TEST(Parameters, RenameRewritesEveryFormula) {
    Builder b;
    b.set("d", "10");
    b.set("e", "d * 2");
    sketch::Sketch s;
    circle(s, 0, 0, 5, "d + e");
    b.sketch(s);
    b.box("d", "e", "10");
    EXPECT_EQ(uses_of_parameter(b.document, "d").size(), 3u);
    b.document = rename_parameter(b.document, "d", "bore");
    EXPECT_TRUE(uses_of_parameter(b.document, "d").empty());
    EXPECT_EQ(uses_of_parameter(b.document, "bore").size(), 3u);
    EXPECT_FALSE(b.evaluate().failed());
}

// Ellipses and splines cut and extrude as exactly as circles: area times height, and the kernel agrees with the
// balance.
TEST(FreeProfiles, VolumesAreAreaTimesHeight) {
    Builder b;
    const int block = b.box("120", "90", "20");
    sketch::Sketch s;
    const int center = s.add_point(-30, 0);
    s.add_ellipse(center, s.add_point(-12, 4), 9);
    std::vector<int> points;
    for (const auto& [x, y] : {std::pair(10.0, -20.0), std::pair(45.0, -18.0), std::pair(38.0, 5.0),
                               std::pair(48.0, 25.0), std::pair(8.0, 22.0)}) {
        points.push_back(s.add_point(x, y));
    }
    const int spline = s.add_spline(points, 3, true, true);
    const double ellipse_area = pi * std::hypot(18, 4) * 9;
    const double spline_area = std::fabs(sketch::stretch_of(s, *s.curve(spline)).area_term());
    const int drawn = b.sketch(s);
    Extrude body;
    body.sketch.step = drawn;
    body.regions = {{{}, {-30, 0}}, {{}, {25, 0}}};
    body.extent.distance.text = "7";
    const int fresh = b.step(body, "Body");
    const int cut = b.cut(drawn, {{-30, 0}, {25, 0}}, {std::to_string(block)});
    const auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    double made = 0;
    for (const auto& [id, each] : evaluation.bodies_as_of()) {
        made += maker_of(id) == fresh ? geom::volume_of(each->shape) : 0;
    }
    EXPECT_NEAR(made, 7 * (ellipse_area + spline_area), 1e-7 * made);
    const double removed = evaluation.report(cut)->output->removed;
    EXPECT_NEAR(removed, 20 * (ellipse_area + spline_area), 1e-6 * removed);
    EXPECT_LT(evaluation.report(cut)->output->imbalance, 1e-7);
    EXPECT_TRUE(geom::is_valid(body_of(evaluation, std::to_string(block))->shape));
}

TEST(FreeProfiles, ASketchInConflictIsShownAndNotUsed) {
    Builder b;
    const int block = b.box("60", "60", "20");
    sketch::Sketch s;
    const int ring = circle(s, 0, 0, 5, "10");
    s.add_constraint(sketch::ConstraintKind::radius, {ring}, "9");
    const int drawn = b.sketch(s);
    const int cut = b.cut(drawn, {{0, 0}}, {std::to_string(block)});
    auto evaluation = b.evaluate();
    EXPECT_TRUE(has_code(evaluation, drawn, "sketch.conflict"));
    ASSERT_NE(evaluation.report(drawn)->output->sketch, nullptr);
    EXPECT_TRUE(evaluation.report(drawn)->output->sketch->regions.empty());
    EXPECT_EQ(evaluation.report(drawn)->output->sketch->solution.in_conflict.size(), 2u);
    EXPECT_EQ(evaluation.report(cut)->state, StepState::failed);
    EXPECT_NEAR(volume_of(evaluation, std::to_string(block)), 72000, 1e-9);
    b.change<SketchStep>(drawn, [](SketchStep& step) { step.drawing.constraints.back().measured = true; });
    evaluation = b.evaluate();
    EXPECT_FALSE(evaluation.failed());
    EXPECT_NEAR(evaluation.report(cut)->output->removed, pi * 25 * 20, 1e-7);
}
