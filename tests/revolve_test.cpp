// Revolving: volumes by Pappus, names, every result of the one card, and what it refuses.
#include "model/steps/revolve/revolve.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"
#include "model_fixture.h"

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;
using sketch::ConstraintKind;

namespace {

// A rectangle from (r, 0) to (r + w, h) with the guide line x = 0; w is a parameter.
sketch::Sketch ring(double r, double h, bool guide = true) {
    sketch::Sketch s;
    const auto sides = s.add_rectangle({r, 0}, {r + 10, h});
    s.add_constraint(ConstraintKind::fixed, {s.curve(sides[0])->points[0]});
    s.add_constraint(ConstraintKind::distance, {sides[0]}, "w");
    s.add_constraint(ConstraintKind::distance, {sides[1]}, std::to_string(h) + " mm");
    if (guide) {
        s.curve(s.add_line(s.add_point(0, -10), s.add_point(0, 50)))->construction = true;
    }
    return s;
}

struct Shop : Builder {
    Shop() { set("w", "10 mm"); }
    // On the front plane: x stays x, y becomes z.
    int upright(const sketch::Sketch& drawing) {
        SketchStep definition;
        definition.drawing = drawing;
        definition.plane.value = "xz";
        return step(definition);
    }
    int revolve(int sketch, const std::function<void(Revolve&)>& change = {}) {
        Revolve definition;
        definition.sketch.step = sketch;
        definition.regions = {{{}, {25, 5}}};
        if (change) {
            change(definition);
        }
        return step(definition);
    }
    double volume(int id) { return volume_of(evaluate(), std::to_string(id)); }
};

} // namespace

TEST(Revolve, VolumesAreThoseOfPappus) {
    Shop b;
    const int drawn = b.upright(ring(20, 30));
    const int whole = b.revolve(drawn);
    const int part = b.revolve(drawn, [](Revolve& r) {
        r.turn.value = "angle";
        r.angle.text = "72 deg";
    });
    const int both = b.revolve(drawn, [](Revolve& r) {
        r.turn.value = "symmetric";
        r.angle.text = "1 rad";
    });
    const auto expect = [&](double w) {
        const auto now = b.evaluate();
        ASSERT_FALSE(now.failed());
        const double term = w * 30 * (20 + w / 2);
        EXPECT_NEAR(volume_of(now, std::to_string(whole)), 2 * pi * term, 1e-9 * term);
        EXPECT_NEAR(volume_of(now, std::to_string(part)), 0.4 * pi * term, 1e-9 * term);
        EXPECT_NEAR(volume_of(now, std::to_string(both)), term, 1e-9 * term);
        for (const int each : {whole, part, both}) {
            const auto& shape = body_of(now, std::to_string(each))->shape;
            EXPECT_TRUE(geom::is_valid(shape));
            EXPECT_TRUE(geom::is_closed(shape));
            EXPECT_EQ(geom::faces_of(shape).size(), each == whole ? 4U : 6U);
        }
    };
    expect(10);
    b.set("w", "14 mm");
    expect(14);
    // Both ways: the same to either side of the sketch.
    const auto box = geom::box_of(body_of(b.evaluate(), std::to_string(both))->shape);
    EXPECT_NEAR(box[1], -box[4], 1e-9);
}

TEST(Revolve, FullRoundsOnTheAxisAreSound) {
    Shop b;
    sketch::Sketch half; // half a disc on the y-axis: a ball
    const int top = half.add_point(0, 10);
    const int low = half.add_point(0, -10);
    half.add_arc(half.add_point(0, 0), low, top);
    half.add_line(top, low);
    const int ball = b.revolve(b.upright(half), [](Revolve& r) {
        r.axis.value = "y";
        r.regions = {{{}, {5, 0}}};
    });
    sketch::Sketch disc; // a disc beside the x-axis: a torus
    circle(disc, 0, 20, 4);
    const int torus = b.revolve(b.upright(disc), [](Revolve& r) {
        r.axis.value = "x";
        r.regions = {{{}, {0, 20}}};
    });
    const auto now = b.evaluate();
    for (const auto& step : now.steps) {
        for (const Finding& finding : step.findings) {
            ADD_FAILURE() << step.id << ": " << finding.code << " " << finding.cause;
        }
    }
    ASSERT_FALSE(now.failed());
    EXPECT_NEAR(volume_of(now, std::to_string(ball)), 4000 * pi / 3, 1e-6);
    EXPECT_NEAR(volume_of(now, std::to_string(torus)), 2 * pi * pi * 20 * 16, 1e-6);
    for (const int each : {ball, torus}) {
        EXPECT_TRUE(geom::is_valid(body_of(now, std::to_string(each))->shape));
    }
}

TEST(Revolve, OneCardMakesUnitesCutsAndKeepsWhatIsCommon) {
    Shop b;
    const int post = b.step([] {
        Stock stock;
        stock.shape.value = "cylinder";
        stock.diameter.text = "44 mm"; // to half of the ring's inside
        stock.height.text = "30 mm";
        return stock;
    }());
    const int drawn = b.upright(ring(20, 30));
    const int turned = b.revolve(drawn, [&](Revolve& r) {
        r.workpieces = {{ElementKind::body, std::to_string(post), {}, {}, {}}};
        r.unite_with = r.workpieces;
    });
    const double cylinder = pi * 22 * 22 * 30;
    const double ring_volume = pi * (30 * 30 - 20 * 20) * 30;
    const double common = pi * (22 * 22 - 20 * 20) * 30;
    const std::string post_id = std::to_string(post);
    const auto become = [&](const std::string& result) {
        b.change<Revolve>(turned, [&](Revolve& r) { r.result.value = result; });
        return b.evaluate();
    };
    auto now = become("cut");
    EXPECT_NEAR(volume_of(now, post_id), cylinder - common, 1e-6);
    EXPECT_NEAR(now.report(turned)->output->removed, common, 1e-6);
    now = become("common");
    EXPECT_NEAR(volume_of(now, post_id), common, 1e-6);
    EXPECT_NEAR(now.report(turned)->output->removed, cylinder - common, 1e-6);
    now = become("united");
    EXPECT_NEAR(volume_of(now, post_id), cylinder + ring_volume - common, 1e-6);
    EXPECT_NEAR(now.report(turned)->output->added, ring_volume - common, 1e-6);
    now = become("new_body");
    EXPECT_NEAR(volume_of(now, post_id), cylinder, 1e-6);
    EXPECT_NEAR(volume_of(now, std::to_string(turned)), ring_volume, 1e-6);
    now = become("cut"); // and every answer is still there
    EXPECT_NEAR(volume_of(now, post_id), cylinder - common, 1e-6);
    EXPECT_TRUE(sets_verdicts(b.document.step(turned)->definition));
    Progress progress;
    const auto inputs = inputs_before(b.document, now, turned, b.services, progress);
    EXPECT_EQ(bodies_met(b.document.step(turned)->definition, inputs), std::vector<BodyId>{post_id});
    become("new_body");
    EXPECT_FALSE(sets_verdicts(b.document.step(turned)->definition));
}

TEST(Revolve, FacesKeepTheirNamesWhenTheTurnChanges) {
    Shop b;
    const int drawn = b.upright(ring(20, 30));
    const int turned = b.revolve(drawn, [](Revolve& r) {
        r.turn.value = "angle";
        r.angle.text = "90 deg";
    });
    const BodyId id = std::to_string(turned);
    const BodyPtr before = body_of(b.evaluate(), id);
    const Reference upper = refer_to(id, *before, face_near(before, 25 * std::sqrt(0.5), -25 * std::sqrt(0.5), 30));
    EXPECT_TRUE(upper.faces[0].starts_with(id + ":side/c")) << upper.faces[0];
    b.change<Revolve>(turned, [](Revolve& r) {
        r.angle.text = "200 deg";
        r.way.value = "right";
    });
    const BodyPtr after = body_of(b.evaluate(), id);
    const Resolved found = resolve(upper, after.get());
    ASSERT_FALSE(found.element.IsNull());
    EXPECT_FALSE(found.finding);
    EXPECT_NEAR(geom::center_of(found.element).Z(), 30, 1e-9);
    EXPECT_NEAR(geom::area_of(found.element), 200.0 / 360 * pi * 500, 1e-6);
}

TEST(Revolve, AxesAndEndsFollowTheModel) {
    Shop b;
    const int plate = b.box("80", "60", "10", "-10"); // its faces are x = 40, y = 30 ...
    const BodyId id = std::to_string(plate);
    const int drawn = b.upright(ring(20, 30, false));
    const auto body = body_of(b.evaluate(), id);
    // About the upright edge at (-40, -30): not in the plane of the sketch.
    const auto edge_at = [&](double x, double y) {
        return refer_to(id, *body, geom::nearest_element(body->shape, TopAbs_EDGE, gp_Pnt(x, y, -5)).element);
    };
    const int aside = b.revolve(drawn, [&](Revolve& r) {
        r.axis.value = "element";
        r.axis_element = {edge_at(-40, -30)};
    });
    EXPECT_TRUE(has_code(b.evaluate(), aside, "revolve.axis_aside"));
    b.change<Revolve>(aside, [&](Revolve& r) { r.axis_element = {refer_to(id, *body, face_near(body, 40, 0, -5))}; });
    EXPECT_TRUE(has_code(b.evaluate(), aside, "revolve.no_axis"));
    // A pin on the origin gives its axis, whatever its diameter.
    Stock pin;
    pin.shape.value = "cylinder";
    pin.diameter.text = "w";
    pin.height.text = "40";
    const int round = b.step(pin);
    const int sketch = b.upright(ring(20, 30, false));
    const auto pin_body = body_of(b.evaluate(), std::to_string(round));
    const int turned = b.revolve(sketch, [&](Revolve& r) {
        r.axis.value = "element";
        r.axis_element = {refer_to(std::to_string(round), *pin_body, face_near(pin_body, 5, 0, 20))};
    });
    EXPECT_NEAR(b.volume(turned), 2 * pi * 10 * 30 * 25, 1e-6);
    // To a face through the axis: the side of a plate that stands on y = 0, behind. A quarter to it, by turning right.
    const int wall = b.step([] {
        Stock stock;
        stock.width.text = "10";
        stock.depth.text = "50";
        stock.height.text = "20";
        stock.x.text = "5"; // its left face lies in x = 0
        stock.y.text = "60";
        return stock;
    }());
    const auto wall_body = body_of(b.evaluate(), std::to_string(wall));
    const int quarter = b.revolve(sketch, [&](Revolve& r) {
        r.axis.value = "y";
        r.turn.value = "face";
        r.to_face = {refer_to(std::to_string(wall), *wall_body, face_near(wall_body, 0, 60, 10))};
    });
    const auto now = b.evaluate();
    ASSERT_FALSE(now.failed() && now.report(quarter)->state == StepState::failed)
        << now.report(quarter)->findings[0].cause;
    EXPECT_NEAR(volume_of(now, std::to_string(quarter)), pi / 2 * 10 * 30 * 25, 1e-6);
    b.change<Revolve>(quarter, [](Revolve& r) { r.way.value = "right"; });
    EXPECT_NEAR(b.volume(quarter), 3 * pi / 2 * 10 * 30 * 25, 1e-6);
    b.change<Revolve>(quarter, [&](Revolve& r) {
        r.to_face = {refer_to(std::to_string(wall), *wall_body, face_near(wall_body, 10, 60, 10))};
    });
    EXPECT_TRUE(has_code(b.evaluate(), quarter, "revolve.face_aside"));
}

TEST(Revolve, SaysWhyItDoesNot) {
    Shop b;
    const auto code = [&](const sketch::Sketch& drawing, const std::function<void(Revolve&)>& change = {}) {
        const int id = b.revolve(b.upright(drawing), change);
        const auto now = b.evaluate();
        return now.report(id)->findings.empty() ? std::string() : now.report(id)->findings.front().code;
    };
    EXPECT_EQ(code(ring(20, 30, false)), "revolve.guide");
    sketch::Sketch two = ring(20, 30);
    two.curve(two.add_line(two.add_point(0, 60), two.add_point(9, 70)))->construction = true;
    EXPECT_EQ(code(two), "revolve.guide");
    sketch::Sketch over;
    circle(over, 3, 0, 8);
    EXPECT_EQ(code(over,
                   [](Revolve& r) {
                       r.axis.value = "y";
                       r.regions = {{{}, {3, 0}}};
                   }),
              "revolve.crosses_axis");
    for (const char* angle : {"0 deg", "-30 deg", "400 deg"}) {
        EXPECT_EQ(code(ring(20, 30),
                       [&](Revolve& r) {
                           r.turn.value = "angle";
                           r.angle.text = angle;
                       }),
                  "revolve.angle");
    }
    EXPECT_EQ(code(ring(20, 30), [](Revolve& r) { r.result.value = "cut"; }), "step.no_bodies");
    EXPECT_EQ(code(ring(20, 30), [](Revolve& r) { r.result.value = "united"; }), "extrude.no_body");
    EXPECT_EQ(code(ring(20, 30), [](Revolve& r) { r.regions = {{{}, {500, 500}}}; }), "profile.region_lost");
}
