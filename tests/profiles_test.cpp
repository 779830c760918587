// What an extrude takes and which way it goes: walls along outlines, leaning sweeps, regions of several sketches, and
// distances of their own; against closed formulas.
#include "model_fixture.h"

#include "geom/outline/thin.h"
#include "model/document/new_names.h"
#include "model/steps/curves/curves.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/sketch/sketch_step.h"
#include "outlines.h"

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

sketch::Sketch square(double half) {
    sketch::Sketch s;
    s.add_rectangle({-half, -half}, {half, half});
    return s;
}

struct Profiles : ::testing::Test {
    Builder b;
    int drawn = 0, step = 0;

    void extrude(const sketch::Sketch& s, const std::function<void(Extrude&)>& edit = {}) {
        drawn = b.sketch(s);
        Extrude definition;
        definition.sketch.step = drawn;
        definition.regions.push_back({{}, {0.1, 0.2}});
        if (edit) {
            edit(definition);
        }
        step = b.step(definition);
    }
    void change(const std::function<void(Extrude&)>& edit) { b.change<Extrude>(step, edit); }
    double volume() {
        const auto evaluation = b.evaluate();
        for (const auto& finding : evaluation.report(step)->findings) {
            ADD_FAILURE() << finding.code << ": " << finding.cause;
        }
        return volume_of(evaluation, std::to_string(step));
    }
    bool says(const std::string& code) { return has_code(b.evaluate(), step, code); }
};

TEST_F(Profiles, WallsAlongOutlines) {
    extrude(square(20), [](Extrude& e) {
        e.taking.filled.value = "outline";
        e.inside.text = "wall";
    });
    b.set("wall", "3 mm");
    EXPECT_NEAR(volume(), (40 * 40 - 34 * 34) * 10, 1e-7);
    change([](Extrude& e) { e.outside.text = "2 mm"; });
    EXPECT_NEAR(volume(), (44 * 44 - 34 * 34) * 10, 1e-7); // corners are sharp
    b.set("wall", "5 mm");
    EXPECT_NEAR(volume(), (44 * 44 - 30 * 30) * 10, 1e-7);
    // Wider than half of what it runs around: nothing is left inside.
    b.set("wall", "25 mm");
    EXPECT_NEAR(volume(), 44 * 44 * 10, 1e-7);
    b.set("wall", "0 mm");
    change([](Extrude& e) { e.outside.text = "0"; });
    EXPECT_TRUE(says("profile.no_width"));

    // Sides are called after their curves, on which side they lie, so that what refers to them follows.
    b.set("wall", "4 mm");
    const auto body = body_of(b.evaluate(), std::to_string(step));
    const std::string inner = body->names.Find(face_near(body, 16, 0, 5)).text();
    const std::string outer = body->names.Find(face_near(body, 20, 0, 5)).text();
    b.set("wall", "6 mm");
    const auto thicker = body_of(b.evaluate(), std::to_string(step));
    EXPECT_EQ(thicker->names.Find(face_near(thicker, 14, 0, 5)).text(), inner);
    EXPECT_EQ(thicker->names.Find(face_near(thicker, 20, 0, 5)).text(), outer);
    EXPECT_NE(inner, outer);
}

TEST_F(Profiles, WallsAlongRoundOnesAndHoles) {
    sketch::Sketch s = square(30);
    circle(s, 0, 0, 10);
    extrude(s, [](Extrude& e) {
        e.taking.filled.value = "outline";
        e.regions = {{{}, {20, 20}}}; // the plate with its hole
        e.inside.text = "2";
        e.outside.text = "1";
    });
    // Around the plate 62 x 62 less 56 x 56, around the hole from 9 to 12.
    EXPECT_NEAR(volume(), ((62 * 62 - 56 * 56) + pi * (144 - 81)) * 10, 1e-6);
    EXPECT_EQ(geom::solids_of(body_of(b.evaluate(), std::to_string(step))->shape).size(), 2U);
}

TEST(Rings, FollowLinesArcsAndSplines) {
    using namespace kervo::geom;
    const auto slot = geom::test::slot(0, 0, 30, 8);
    const auto rings = rings_along({slot}, 1, 2);
    ASSERT_TRUE(rings.ok());
    ASSERT_EQ(rings->size(), 1U);
    const auto solid = make_prism(gp_Ax3(), rings->front(), 0, 1);
    EXPECT_NEAR(geom::volume_of(solid.shape), 30 * 2 * 3 + pi * (81 - 36), 1e-7);
    // A hollow corner that an offset swallows.
    const auto narrow = rings_along({slot}, 0, 8.5);
    ASSERT_TRUE(narrow.ok());
    EXPECT_EQ(narrow->front().size(), 1U);
}

TEST_F(Profiles, CutAThinSlot) {
    b.box("100", "100", "10");
    sketch::Sketch s = square(20);
    drawn = b.sketch(s);
    Extrude cut = Extrude::cut();
    cut.sketch.step = drawn;
    cut.regions.push_back({{}, {0.1, 0.2}});
    cut.extent.to.value = "everything_both";
    cut.taking.filled.value = "outline";
    cut.inside.text = "1";
    cut.workpieces = {{ElementKind::body, "10", {}, {}, {}}};
    step = b.step(cut);
    const auto evaluation = b.evaluate();
    EXPECT_NEAR(evaluation.report(step)->output->removed, (1600 - 38 * 38) * 10, 1e-6);
    EXPECT_EQ(geom::solids_of(body_of(evaluation, "10")->shape).size(), 2U); // the middle is loose
}

TEST_F(Profiles, LeaningSweepsKeepTheirSection) {
    sketch::Sketch s;
    circle(s, 0, 0, 5);
    extrude(s, [](Extrude& e) {
        e.extent.direction.value = "leaning";
        e.extent.lean.text = "30 deg";
        e.extent.distance.text = "20";
    });
    // The distance runs along the sweep: it rises by 20 cos 30, on a section of the sketch's own.
    EXPECT_NEAR(volume(), pi * 25 * 20 * std::cos(pi / 6), 1e-7);
    const auto body = body_of(b.evaluate(), std::to_string(step));
    const auto middle = geom::centroid_of(body->shape);
    EXPECT_NEAR(middle.X(), 5, 2e-6); // half of 20 sin 30
    EXPECT_NEAR(middle.Y(), 0, 2e-6);
    change([](Extrude& e) { e.extent.lean_towards.text = "90 deg"; });
    EXPECT_NEAR(geom::centroid_of(body_of(b.evaluate(), std::to_string(step))->shape).Y(), 5, 2e-6);
    change([](Extrude& e) { e.extent.to.value = "symmetric"; });
    EXPECT_NEAR(volume(), pi * 25 * 20 * std::cos(pi / 6), 1e-7);
    EXPECT_NEAR(geom::centroid_of(body_of(b.evaluate(), std::to_string(step))->shape).Y(), 0, 2e-6);
    change([](Extrude& e) { e.extent.lean.text = "85 deg"; });
    EXPECT_TRUE(says("extent.flat_way"));
}

TEST_F(Profiles, LeaningCutsAndEnds) {
    b.box("200", "100", "20");
    sketch::Sketch s;
    circle(s, 0, 0, 4);
    drawn = b.sketch(s, "40");
    Extrude cut = Extrude::cut();
    cut.sketch.step = drawn;
    cut.regions.push_back({{}, {0.1, 0.2}});
    cut.workpieces = {{ElementKind::body, "10", {}, {}, {}}};
    cut.extent.direction.value = "leaning";
    cut.extent.lean.text = "40 deg";
    step = b.step(cut);
    const auto removed = [&] { return b.evaluate().report(step)->output->removed; };
    EXPECT_NEAR(removed(), pi * 16 * 20, 1e-6); // through everything behind
    change([](Extrude& e) {
        e.extent.to.value = "face";
        e.extent.to_face = {{ElementKind::face, "10", {}, {}, Place{0, 0, 0}}};
        e.extent.to_offset.text = "5 mm";
    });
    EXPECT_NEAR(removed(), pi * 16 * 15, 1e-6);
    change([](Extrude& e) {
        e.extent.to.value = "next_face";
        e.extent.to_offset.text = "0";
    });
    EXPECT_NEAR(removed(), pi * 16 * 20, 1e-6);
    // Below the sketch it leans the other way: the hole goes in at x = -20 tan 40.
    const auto body = body_of(b.evaluate(), "10");
    const double x = -20 * std::tan(40 * pi / 180);
    EXPECT_LT(geom::nearest_element(body->shape, TopAbs_EDGE, gp_Pnt(x + 4, 0, 20)).distance, 1e-6);
}

TEST_F(Profiles, AlongAnEdge) {
    sketch::Sketch path;
    const int from = path.add_point(0, 0);
    const int tip = path.add_point(30, 40); // in the plane y = 0: x, z
    path.add_line(from, tip);
    SketchStep upright;
    upright.plane.value = "xz";
    upright.drawing = path;
    const int line = b.step(upright);
    Curves curves;
    curves.sketch.step = line;
    const int edge = b.step(curves);
    extrude(square(5), [&](Extrude& e) {
        e.extent.direction.value = "element";
        e.extent.along = {{ElementKind::edge, std::to_string(edge), {}, {}, Place{15, 0, 20}}};
        e.extent.distance.text = "50";
    });
    EXPECT_NEAR(volume(), 100 * 40, 1e-7);
    EXPECT_NEAR(geom::centroid_of(body_of(b.evaluate(), std::to_string(step))->shape).X(), 15, 1e-7);
    b.change<SketchStep>(line, [&](SketchStep& s) { s.drawing.point(tip)->x = 0; });
    EXPECT_NEAR(volume(), 100 * 50, 1e-7); // the line stands upright now, and the sweep with it
    b.change<SketchStep>(line, [&](SketchStep& s) {
        s.drawing.point(tip)->y = 0;
        s.drawing.point(tip)->x = 9;
    });
    EXPECT_TRUE(says("extent.flat_way"));
}

TEST_F(Profiles, RegionsOfSeveralSketchesWithDistancesOfTheirOwn) {
    const int upper = b.sketch(square(3), "50");
    sketch::Sketch two;
    two.add_rectangle({-5, -5}, {5, 5});
    two.add_rectangle({10, -5}, {20, 5});
    extrude(two, [&](Extrude& e) {
        e.regions.push_back({{}, {15, 0}, 0, 0, {"deep"}});
        e.regions.push_back({{}, {0, 0}, 0, upper});
        e.extent.distance.text = "4";
    });
    b.set("deep", "7 mm");
    EXPECT_NEAR(volume(), 100 * 4 + 100 * 7 + 36 * 4, 1e-7);
    b.set("deep", "2.5 mm");
    EXPECT_NEAR(volume(), 100 * 4 + 100 * 2.5 + 36 * 4, 1e-7);
    // Parameters know that they are used there, and are renamed there too; so is a sketch that is read.
    EXPECT_EQ(uses_of_parameter(b.document, "deep").size(), 1U);
    b.document = rename_parameter(b.document, "deep", "groove");
    EXPECT_EQ(b.document.step(step)->definition.as<Extrude>()->regions[1].own.text, "groove");
    EXPECT_NEAR(volume(), 100 * 4 + 100 * 2.5 + 36 * 4, 1e-7);
    EXPECT_TRUE(dependencies_of(b.document.step(step)->definition).sketches.contains(upper));
    // Sides that come of like curves of two sketches have names of their own.
    const auto body = body_of(b.evaluate(), std::to_string(step));
    std::set<std::string> names;
    for (const auto& face : geom::faces_of(body->shape)) {
        names.insert(body->names.Find(face).text());
    }
    EXPECT_EQ(names.size(), 18U);
    b.document = remove_step(b.document, upper);
    EXPECT_TRUE(says("profile.no_sketch"));
}

TEST_F(Profiles, ANewNameTypedForOneRegionBecomesAParameter) {
    extrude(square(5), [](Extrude& e) { e.regions[0].own.text = "boss = 6 mm"; });
    b.document = take_new_names(b.document);
    EXPECT_EQ(b.document.step(step)->definition.as<Extrude>()->regions[0].own.text, "boss");
    EXPECT_NEAR(volume(), 600, 1e-7);
}

} // namespace
