// Blades: each way to make one, against where it must lie; kerfs, bounds and sides against closed formulas.
#include "cutters_fixture.h"
#include "model/steps/blade/blade.h"
#include "model/steps/body_cut/body_cut.h"
#include "model/steps/stock/stock.h"

namespace kervo::model::test {

namespace {

// The blade alone, as the only body besides a 40 x 30 x 20 box (id 10) on the origin and a rod (20) of diameter 10 and
// height 50 that stands at 60, 0.
struct BladeAlone : testing::Test {
    CutterBuilder builder;
    BladeAlone() {
        builder.box("40", "30", "20");
        builder.pin("10", "50", {"60", "0", "0"});
    }
    gp_Ax3 frame_of(const std::function<void(BladeStep&)>& edit) {
        const int id = builder.blade({}, edit);
        const Evaluation evaluation = builder.evaluate();
        EXPECT_FALSE(evaluation.failed()) << said(evaluation, id);
        const BodyPtr body = body_of(evaluation, std::to_string(id));
        EXPECT_TRUE(body && body->blade);
        return body && body->blade ? body->blade->frame : gp_Ax3();
    }
    static void expect_plane(const gp_Ax3& frame, const gp_Pnt& through, const gp_Vec& normal) {
        EXPECT_NEAR(gp_Vec(frame.Direction()).Dot(normal.Normalized()), 1, 1e-12)
            << frame.Direction().X() << " " << frame.Direction().Y() << " " << frame.Direction().Z();
        EXPECT_NEAR(gp_Vec(frame.Location(), through).Dot(gp_Vec(frame.Direction())), 0, 1e-9);
    }
};

TEST_F(BladeAlone, LiesInPrincipalPlanesAndBesideThem) {
    expect_plane(frame_of([](BladeStep& b) {
                     b.plane.principal.value = "xz";
                     b.plane.offset.text = "7 mm";
                 }),
                 gp_Pnt(0, -7, 0), {0, -1, 0});
    expect_plane(frame_of([](BladeStep& b) {
                     b.plane.principal.value = "xy";
                     b.plane.turned.value = "yes";
                     b.plane.offset.text = "-3";
                 }),
                 gp_Pnt(0, 0, 3), {0, 0, -1});
}

TEST_F(BladeAlone, LiesBesideAFaceAndFollowsIt) {
    const auto edit = [](BladeStep& b) {
        b.plane.plane.value = "face";
        b.plane.face = {face_at("10", 20, 0, 10)};
        b.plane.offset.text = "-5";
    };
    expect_plane(frame_of(edit), gp_Pnt(15, 0, 0), {1, 0, 0});
    builder.change<Stock>(10, [](Stock& s) { s.width.text = "60"; });
    const Evaluation evaluation = builder.evaluate();
    expect_plane(body_of(evaluation, "30")->blade->frame, gp_Pnt(25, 0, 0), {1, 0, 0});
}

TEST_F(BladeAlone, GoesThroughThreePoints) {
    expect_plane(
        frame_of([](BladeStep& b) {
            b.plane.plane.value = "points";
            b.plane.points = {vertex_at("10", -20, -15, 0), vertex_at("10", 20, -15, 0), vertex_at("10", 20, 15, 20)};
        }),
        gp_Pnt(-20, -15, 0), {0, -20, 30});
    const int in_line = builder.blade({}, [](BladeStep& b) {
        b.plane.plane.value = "points";
        b.plane.points = {vertex_at("10", -20, -15, 0), vertex_at("10", -20, -15, 0), vertex_at("10", 20, 15, 20)};
    });
    EXPECT_TRUE(has_code(builder.evaluate(), in_line, "blade.no_plane"));
}

TEST_F(BladeAlone, StandsOnAnEdgeAtAnAngle) {
    for (const double degrees : {0.0, 30.0, 90.0, 120.0}) {
        const double a = degrees * pi / 180;
        // from the top, about its right edge, into the box: the way in the blade is (-cos, 0, -sin)
        const gp_Ax3 frame = frame_of([&](BladeStep& b) {
            b.plane.plane.value = "edge_angle";
            b.plane.edge = {edge_at("10", 20, 0, 20)};
            b.plane.from_face = {face_at("10", 0, 0, 20)};
            b.plane.angle.text = std::to_string(degrees) + " deg";
        });
        EXPECT_NEAR(gp_Vec(frame.Direction()).Dot(gp_Vec(-std::cos(a), 0, -std::sin(a))), 0, 1e-9) << degrees;
        EXPECT_NEAR(gp_Vec(frame.Direction()).Dot(gp_Vec(0, 1, 0)), 0, 1e-9);
        EXPECT_NEAR(gp_Vec(frame.Location(), gp_Pnt(20, 0, 20)).Dot(gp_Vec(frame.Direction())), 0, 1e-9);
    }
}

TEST_F(BladeAlone, IsSquareToAnAxis) {
    expect_plane(frame_of([](BladeStep& b) {
                     b.plane.plane.value = "square_axis";
                     b.plane.axis.value = "y";
                 }),
                 gp_Pnt(), {0, 1, 0});
    expect_plane(frame_of([](BladeStep& b) {
                     b.plane.plane.value = "square_axis";
                     b.plane.axis.value = "element";
                     b.plane.axis_element = {face_at("20", 65, 0, 25)};
                     b.plane.at.value = "point";
                     b.plane.axis_point = {vertex_at("10", 20, 15, 20)};
                 }),
                 gp_Pnt(0, 0, 20), {0, 0, 1});
}

TEST_F(BladeAlone, LiesMidwayBetweenFaces) {
    expect_plane(frame_of([](BladeStep& b) {
                     b.plane.plane.value = "midway";
                     b.plane.first = {face_at("10", 20, 0, 10)};
                     b.plane.second = {face_at("10", -20, 0, 10)};
                     b.plane.offset.text = "1";
                 }),
                 gp_Pnt(1, 0, 0), {1, 0, 0});
    // the bisector through the box's upper right edge, and the one across it
    const auto sloping = [](const char* between) {
        return [between](BladeStep& b) {
            b.plane.plane.value = "midway";
            b.plane.first = {face_at("10", 20, 0, 10)};
            b.plane.second = {face_at("10", 0, 0, 20)};
            b.plane.between.value = between;
        };
    };
    expect_plane(frame_of(sloping("inner")), gp_Pnt(20, 0, 20), {1, 0, -1});
    expect_plane(frame_of(sloping("outer")), gp_Pnt(20, 3, 20), {1, 0, 1});
}

TEST_F(BladeAlone, IsParallelThroughAPoint) {
    expect_plane(frame_of([](BladeStep& b) {
                     b.plane.plane.value = "parallel";
                     b.plane.parallel_face = {face_at("10", 0, 0, 0)};
                     b.plane.through = {vertex_at("10", 20, 15, 20)};
                 }),
                 gp_Pnt(0, 0, 20), {0, 0, -1});
}

TEST_F(BladeAlone, TouchesRoundFaces) {
    expect_plane(frame_of([](BladeStep& b) {
                     b.plane.plane.value = "tangent";
                     b.plane.round_face = {face_at("20", 65, 0, 25)};
                     b.plane.turn.text = "90 deg";
                 }),
                 gp_Pnt(60, 5, 0), {0, 1, 0});
    const int cone = builder.round("cone", "40", "30", {"0", "100", "0"}, "10");
    const double slope = std::atan2(15, 30);
    expect_plane(frame_of([&](BladeStep& b) {
                     b.plane.plane.value = "tangent";
                     b.plane.round_face = {face_at(std::to_string(cone), 12.5, 100, 15)};
                 }),
                 gp_Pnt(20, 100, 0), {std::cos(slope), 0, std::sin(slope)});
    const int ball = builder.round("sphere", "20", "", {"0", "-100", "0"});
    expect_plane(frame_of([&](BladeStep& b) {
                     b.plane.plane.value = "tangent";
                     b.plane.round_face = {face_at(std::to_string(ball), 10, -100, 10)};
                     b.plane.touches.value = "point";
                     b.plane.touching = {vertex_at("10", 20, -15, 20)};
                 }),
                 gp_Pnt(gp_XYZ(0, -100, 10) + gp_Vec(20, 85, 10).Normalized().XYZ() * 10), {20, 85, 10});
    const int along = builder.blade({}, [](BladeStep& b) {
        b.plane.plane.value = "tangent";
        b.plane.round_face = {face_at("20", 65, 0, 25)};
        b.plane.towards.value = "z";
    });
    EXPECT_TRUE(has_code(builder.evaluate(), along, "blade.no_plane"));
}

TEST_F(BladeAlone, IsSquareToACurveAtAPlace) {
    const gp_Ax3 frame = frame_of([](BladeStep& b) {
        b.plane.plane.value = "curve";
        b.plane.curve = {edge_at("20", 55, 0, 50)};
        b.plane.share.text = "0.25";
    });
    EXPECT_NEAR(frame.Direction().Z(), 0, 1e-12); // a plane through the axis, a quarter round
    EXPECT_NEAR(frame.Location().Distance(gp_Pnt(60, 0, 50)), 5, 1e-9);
    EXPECT_NEAR(gp_Vec(frame.Location(), gp_Pnt(60, 0, 0)).Dot(gp_Vec(frame.Direction())), 0, 1e-9);
    const int beyond = builder.blade({}, [](BladeStep& b) {
        b.plane.plane.value = "curve";
        b.plane.curve = {edge_at("10", 0, 15, 20)};
        b.plane.place_is.value = "length";
        b.plane.along.text = "41";
    });
    EXPECT_NE(said(builder.evaluate(), beyond).find("40.000 mm long"), std::string::npos);
}

TEST_F(BladeAlone, IsMadeFromNumbers) {
    expect_plane(frame_of([](BladeStep& b) {
                     b.plane.plane.value = "numbers";
                     b.plane.origin_x.text = "5";
                     b.plane.normal_x.text = "3";
                     b.plane.normal_z.text = "4";
                 }),
                 gp_Pnt(5, 9, 0), {3, 0, 4});
}

} // namespace

TEST(Blade, DividesABoxWithAKerfOnEitherSide) {
    CutterBuilder builder;
    builder.box("40", "30", "20");
    const int cut = builder.blade({"10"}, [](BladeStep& b) {
        b.plane.offset.text = "5";
        b.kerf.text = "kerf";
    });
    builder.set("kerf", "0");
    const std::tuple<const char*, double, double> cases[] = {
        {"centred", 24.25, 14.25}, {"front", 25, 13.5}, {"back", 23.5, 15}};
    for (const auto& [lies, behind, in_front] : cases) {
        builder.change<BladeStep>(cut, [&](BladeStep& b) { b.kerf_lies.value = lies; });
        for (const double kerf : {0.0, 1.5, 0.0}) { // the same pieces with and without
            builder.set("kerf", kerf == 0 ? "0" : "1.5");
            const Evaluation evaluation = builder.evaluate();
            ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
            EXPECT_EQ(pieces_of(evaluation, cut), kerf == 0 ? 2U : 3U);
            EXPECT_NEAR(removed_by(evaluation, cut), kerf * 600, 1e-6);
            EXPECT_NEAR(sound_volume(evaluation, "10"), (kerf == 0 ? 25 : behind) * 600, 1e-6) << lies;
            EXPECT_NEAR(sound_volume(evaluation, "20:10/blade"), (kerf == 0 ? 15 : in_front) * 600, 1e-6) << lies;
        }
    }
}

TEST(Blade, KeepsEitherSide) {
    CutterBuilder builder;
    builder.box("40", "30", "20");
    const int cut = builder.blade({"10"}, [](BladeStep& b) {
        b.plane.offset.text = "5";
        b.keeps.value = "front";
    });
    EXPECT_NEAR(sound_volume(builder.evaluate(), "10"), 15 * 600, 1e-9);
    builder.change<BladeStep>(cut, [](BladeStep& b) { b.keeps.value = "back"; });
    EXPECT_NEAR(sound_volume(builder.evaluate(), "10"), 25 * 600, 1e-9);
    builder.change<BladeStep>(cut, [](BladeStep& b) { b.plane.turned.value = "yes"; });
    EXPECT_NEAR(sound_volume(builder.evaluate(), "10"), 25 * 600, 1e-9); // now at -5, looking to -x
    EXPECT_NEAR(geom::centroid_of(body_of(builder.evaluate(), "10")->shape).X(), 7.5, 1e-9);
}

TEST(Blade, SeveralBladesAndWorkpiecesInOneStep) {
    CutterBuilder builder;
    builder.box("40", "30", "20");
    builder.box("40", "30", "20", "50");
    const int level = builder.blade({}, [](BladeStep& b) {
        b.plane.principal.value = "xz";
        b.kerf.text = "2";
    });
    const int cut = builder.blade({"10", "20"}, [&](BladeStep& b) { b.more = wholes({std::to_string(level)}); });
    const Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    // four quarters of each, and the kerf on both sides of the first blade
    EXPECT_EQ(pieces_of(evaluation, cut), 12U);
    EXPECT_NEAR(removed_by(evaluation, cut), 2 * 40 * 2 * 20, 1e-6);
    EXPECT_EQ(evaluation.bodies_as_of().size(), 9U); // eight, and the blade
    for (const auto& [id, body] : evaluation.bodies_as_of()) {
        if (!body->blade) {
            EXPECT_NEAR(sound_volume(evaluation, id), 20 * 14 * 20, 1e-6) << id;
        }
    }
}

TEST(Blade, BoundedItTakesOneFinialAndLeavesItsTwin) {
    CutterBuilder builder;
    builder.box("100", "20", "10");
    const int left = builder.pin("8", "30", {"-40", "0", "10"});
    const int right = builder.pin("8", "30", {"40", "0", "10"});
    builder.join({"10", std::to_string(left), std::to_string(right)}, "unite");
    const double whole = 100 * 20 * 10 + 2 * 16 * pi * 30;
    const int cut = builder.blade({"10"}, [](BladeStep& b) {
        b.plane.principal.value = "xy";
        b.plane.offset.text = "25";
        b.bounds.value = "rectangle";
        b.width.text = "20";
        b.height.text = "20";
        b.middle_x.text = "40";
        b.keeps.value = "back";
    });
    Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_EQ(pieces_of(evaluation, cut), 2U);
    EXPECT_NEAR(sound_volume(evaluation, "10"), whole - 16 * pi * 15, 1e-6);
    // with a kerf: the same finial, and what the kerf takes
    builder.change<BladeStep>(cut, [](BladeStep& b) { b.kerf.text = "2"; });
    evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, cut);
    EXPECT_EQ(pieces_of(evaluation, cut), 3U);
    EXPECT_NEAR(sound_volume(evaluation, "10"), whole - 16 * pi * 16, 1e-6);
}

TEST(Blade, ThatEndsInsideMaterialDividesNothingAndSaysWhatWouldDo) {
    CutterBuilder builder;
    builder.box("40", "30", "20");
    for (const char* kerf : {"0", "1"}) {
        const int cut = builder.blade({"10"}, [&](BladeStep& b) {
            b.plane.principal.value = "xy";
            b.plane.offset.text = "10";
            b.bounds.value = "rectangle";
            b.width.text = "60";
            b.height.text = "20";
            b.kerf.text = kerf;
        });
        const Evaluation evaluation = builder.evaluate();
        EXPECT_TRUE(has_code(evaluation, cut, "blade.ends_inside")) << said(evaluation, cut);
        EXPECT_NE(said(evaluation, cut).find("A rectangle of 60 mm by 30 mm"), std::string::npos)
            << said(evaluation, cut);
        const Finding& finding = evaluation.report(cut)->findings.front();
        ASSERT_FALSE(finding.places.empty());
        EXPECT_NEAR(std::fabs(finding.places.front()[1]), 10, 1e-6); // on the rim, in the material
        EXPECT_NEAR(volume_of(evaluation, "10"), 24000, 1e-9);
        ASSERT_EQ(finding.offers.size(), 2U);
        const Document before = builder.document;
        for (const Offer& offer : finding.offers) { // what is said to do, does
            ASSERT_TRUE(can_take(before, offer));
            builder.document = take_offer(before, offer);
            EXPECT_FALSE(builder.evaluate().failed()) << offer.says;
            EXPECT_EQ(pieces_of(builder.evaluate(), cut), kerf[0] == '0' ? 2U : 3U);
        }
        EXPECT_FALSE(can_take(remove_step(before, cut), finding.offers.front()));
        EXPECT_FALSE(can_take(before, {"", {{"bounds", "moon"}}, cut}));
        EXPECT_FALSE(can_take(before, {"", {{"depth_of_sea", "1 mm"}}, cut}));
        builder.document = remove_step(builder.document, cut);
    }
}

TEST(Blade, OffersAWindowThatPassesAllThatItComesToReach) {
    // To pass the first body is to reach the other, which is wider.
    CutterBuilder builder;
    builder.box("40", "30", "20");
    builder.box("30", "60", "20", "0", "25");
    const int cut = builder.blade({"10", "20"}, [&](BladeStep& b) {
        b.plane.principal.value = "xy";
        b.plane.offset.text = "10";
        b.bounds.value = "rectangle";
        b.width.text = "10";
        b.height.text = "40";
    });
    const Evaluation evaluation = builder.evaluate();
    ASSERT_TRUE(has_code(evaluation, cut, "blade.ends_inside"));
    const auto& findings = evaluation.report(cut)->findings;
    ASSERT_EQ(findings.front().offers.size(), 2U);
    builder.document = take_offer(builder.document, findings.front().offers.front());
    EXPECT_FALSE(builder.evaluate().failed()) << said(builder.evaluate(), cut);
    EXPECT_EQ(pieces_of(builder.evaluate(), cut), 4U);
    const auto& taken = *builder.document.step(cut)->definition.as<BladeStep>();
    EXPECT_EQ(taken.width.text + ", " + taken.height.text, "60 mm, 60 mm");
    EXPECT_EQ(taken.middle_x.text + ", " + taken.middle_y.text, "10 mm, 0 mm");
}

TEST(Blade, OffersToBoundTheOneOfAnotherStep) {
    CutterBuilder builder;
    builder.box("40", "30", "20");
    const int blade = builder.blade({}, [](BladeStep& b) {
        b.result.value = "blade";
        b.plane.principal.value = "xy";
        b.plane.offset.text = "10";
        b.bounds.value = "rectangle";
        b.width.text = b.height.text = "20";
    });
    const int cut = builder.body_cut({"10"}, {std::to_string(blade)}, [](BodyCut&) {});
    const Evaluation evaluation = builder.evaluate();
    ASSERT_TRUE(has_code(evaluation, cut, "blade.ends_inside"));
    const Offer offer = evaluation.report(cut)->findings.front().offers.front();
    EXPECT_EQ(offer.step, blade);
    builder.document = take_offer(builder.document, offer);
    EXPECT_FALSE(builder.evaluate().failed()) << said(builder.evaluate(), cut);
    EXPECT_EQ(pieces_of(builder.evaluate(), cut), 2U);
}

TEST(Blade, BoundedByRegionsOfASketch) {
    CutterBuilder builder;
    builder.box("100", "20", "10");
    sketch::Sketch drawing;
    circle(drawing, 40, 0, 15);
    const int sketch = builder.sketch(drawing, "5");
    const int cut = builder.blade({"10"}, [&](BladeStep& b) {
        b.plane.principal.value = "xy";
        b.plane.offset.text = "5";
        b.bounds.value = "regions";
        b.sketch.step = sketch;
        b.regions = {{{}, {40, 0}}};
    });
    EXPECT_TRUE(has_code(builder.evaluate(), cut, "blade.ends_inside"));
    builder.change<BladeStep>(cut, [](BladeStep& b) {
        b.plane.principal.value = "yz"; // square to the sketch
    });
    EXPECT_TRUE(has_code(builder.evaluate(), cut, "blade.not_parallel"));
}

TEST(Blade, CutsSurfacesToo) {
    CutterBuilder builder;
    Progress progress;
    const auto box = geom::faces_of(body_of(
                                        [&] {
                                            builder.box("40", "30", "20");
                                            return builder.evaluate();
                                        }(),
                                        "10")
                                        ->shape);
    const TopoDS_Shape sides = geom::gather({box[0], box[1], box[2]});
    const auto plane = geom::in_front_of(gp_Ax3(gp_Pnt(3, 2, 5), gp_Dir(1, 2, 3)), 0, geom::box_of(sides));
    const auto division = geom::divide(sides, {plane.shape}, progress);
    ASSERT_TRUE(division);
    double area = 0;
    for (const auto& piece : division->pieces) {
        area += piece.volume;
    }
    EXPECT_NEAR(area, geom::area_of(sides), 1e-9);
    EXPECT_GE(division->pieces.size(), 2U);
}

} // namespace kervo::model::test
