// Holes by a shop's terms: volumes by formulas, names that stay, and what no drill does.
#include "model/steps/holes/holes.h"
#include "model_fixture.h"

#include <gtest/gtest.h>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

double cone(double top, double bottom, double height) { // a part of one, by its radii
    return pi * height / 3 * (top * top + top * bottom + bottom * bottom);
}

// A plate of 100 x 60 x h with a sketch on it: three points that stand alone, and a circle.
struct Plate : ::testing::Test {
    Builder b;
    int plate = 0, drawn = 0, step = 0;
    std::vector<int> points;

    Plate() {
        b.set("h", "20 mm");
        b.set("d", "6 mm");
        plate = b.box("100", "60", "h");
        sketch::Sketch s;
        for (const double x : {-30.0, 0.0, 30.0}) {
            points.push_back(s.add_point(x, 10));
            s.add_constraint(sketch::ConstraintKind::fixed, {points.back()});
        }
        circle(s, 0, -15, 9);
        drawn = b.sketch(s, "h");
        Holes holes;
        holes.workpieces = {{ElementKind::body, std::to_string(plate), {}, {}, {}}};
        holes.sketch.step = drawn;
        holes.diameter.text = "d";
        step = b.step(holes);
    }
    void change(const std::function<void(Holes&)>& edit) { b.change<Holes>(step, edit); }
    double removed() {
        const auto evaluation = b.evaluate();
        EXPECT_FALSE(evaluation.failed());
        return evaluation.report(step)->output->removed;
    }
    std::string code(const std::function<void(Holes&)>& edit) {
        const Document before = b.document;
        change(edit);
        const auto evaluation = b.evaluate();
        b.document = before;
        const auto& findings = evaluation.report(step)->findings;
        return findings.empty() ? "" : findings.front().code;
    }
};

TEST_F(Plate, EveryShapeByItsFormula) {
    for (const auto& [h, d] : {std::pair(20.0, 6.0), std::pair(26.0, 5.0)}) {
        b.set("h", std::to_string(h) + " mm");
        b.set("d", std::to_string(d) + " mm");
        const double r = d / 2;
        const double bore = pi * r * r;
        change([](Holes& holes) { holes.shape.value = "plain"; });
        EXPECT_NEAR(removed(), 3 * bore * h, 1e-8);
        change([](Holes& holes) { holes.shape.value = "counterbored"; });
        EXPECT_NEAR(removed(), 3 * (bore * (h - 6) + pi * 5.5 * 5.5 * 6), 1e-7);
        change([](Holes& holes) { holes.shape.value = "countersunk"; });
        const double sink = 6 - r; // as deep as it is wider, at 90 degrees
        EXPECT_NEAR(removed(), 3 * (bore * (h - sink) + cone(6, r, sink)), 1e-7);
        change([](Holes& holes) {
            holes.to.value = "depth";
            holes.depth.text = "12";
        });
        const double tip = cone(r, 0, r / std::tan(59 * pi / 180));
        EXPECT_NEAR(removed(), 3 * (bore * (12 - sink) + cone(6, r, sink) + tip), 1e-7);
        change([](Holes& holes) { holes.shape.value = "plain"; });
        EXPECT_NEAR(removed(), 3 * (bore * 12 + tip), 1e-7);
        change([](Holes& holes) { holes.bottom.value = "flat"; });
        EXPECT_NEAR(removed(), 3 * bore * 12, 1e-8);
        change([](Holes& holes) {
            holes.to.value = "through";
            holes.bottom.value = "pointed";
        });
    }
}

TEST_F(Plate, TappedHolesAreDrilledForTheirThread) {
    change([](Holes& holes) { holes.thread.value = "M8"; });
    EXPECT_NEAR(removed(), 3 * pi * 6.75 * 6.75 / 4 * 20, 1e-8);
    const auto evaluation = b.evaluate();
    const auto& facts = evaluation.report(step)->output->facts;
    EXPECT_EQ(facts.at("thread"), "M8 x 1.25");
    EXPECT_EQ(facts.at("holes"), "3");
    b.set("d", "9 mm"); // no longer asked
    EXPECT_NEAR(removed(), 3 * pi * 6.75 * 6.75 / 4 * 20, 1e-8);
}

TEST_F(Plate, PointsCentresOrBoth) {
    change([](Holes& holes) { holes.at.value = "centers"; });
    EXPECT_NEAR(removed(), pi * 9 * 20, 1e-8);
    change([](Holes& holes) { holes.at.value = "both"; });
    EXPECT_NEAR(removed(), 4 * pi * 9 * 20, 1e-8);
}

TEST_F(Plate, TheBoreKeepsItsNameWhenTheShapeChanges) {
    const std::string bore = std::to_string(step) + ":side/cp" + std::to_string(points[1]);
    for (const char* shape : {"plain", "counterbored", "countersunk"}) {
        change([&](Holes& holes) { holes.shape.value = shape; });
        const auto body = body_of(b.evaluate(), std::to_string(plate));
        EXPECT_EQ(body->names.Find(face_near(body, 3, 10, 5)).text(), bore) << shape;
        EXPECT_TRUE(geom::is_valid(body->shape));
    }
    const auto body = body_of(b.evaluate(), std::to_string(plate));
    EXPECT_EQ(describe_face(body->names.Find(face_near(body, 5, 10, 19))),
              "hole " + std::to_string(points[1]) + ", sink");
}

TEST_F(Plate, WhatIsBelowIsNotDrilledUnlessTicked) {
    const int under = b.box("100", "60", "10", "-10");
    b.document.steps.insert(b.document.steps.begin() + 1, b.document.steps.back());
    b.document.steps.pop_back();
    EXPECT_NEAR(removed(), 3 * pi * 9 * 20, 1e-8);
    EXPECT_NEAR(volume_of(b.evaluate(), std::to_string(under)), 60000, 1e-8);
    change([&](Holes& holes) { holes.workpieces.push_back({ElementKind::body, std::to_string(under), {}, {}, {}}); });
    EXPECT_NEAR(removed(), 3 * pi * 9 * 30, 1e-8);
}

TEST_F(Plate, WhatNoDrillDoesIsSaid) {
    EXPECT_EQ(code([](Holes& holes) { holes.diameter.text = "0"; }), "step.size");
    EXPECT_EQ(code([](Holes& holes) { holes.workpieces.clear(); }), "step.no_bodies");
    EXPECT_EQ(code([](Holes& holes) { holes.way.value = "ahead"; }), "holes.behind");
    EXPECT_EQ(code([](Holes& holes) { holes.sketch.step = 999; }), "profile.no_sketch");
    EXPECT_EQ(code([](Holes& holes) {
                  holes.shape.value = "counterbored";
                  holes.head_diameter.text = "6";
              }),
              "holes.narrow");
    EXPECT_EQ(code([](Holes& holes) {
                  holes.shape.value = "counterbored";
                  holes.to.value = "depth";
                  holes.depth.text = "6";
              }),
              "holes.shallow");
    EXPECT_EQ(code([](Holes& holes) {
                  holes.shape.value = "countersunk";
                  holes.sink_angle.text = "180 deg";
              }),
              "holes.angle");
    sketch::Sketch nothing;
    const int empty = b.sketch(nothing);
    b.document.steps.insert(b.document.steps.begin(), b.document.steps.back());
    b.document.steps.pop_back();
    EXPECT_EQ(code([&](Holes& holes) { holes.sketch.step = empty; }), "holes.no_points");
}

} // namespace
