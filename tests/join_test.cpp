// United bodies, common parts, and everything but those.
#include "cutters_fixture.h"
#include "model/steps/join/join.h"

namespace kervo::model::test {

namespace {

// A box of 40 x 40 x 30 (id 10) and a cylinder on its axis (id 20).
struct BoxAndCylinder : testing::Test {
    CutterBuilder builder;
    int join = 0;

    BoxAndCylinder() {
        builder.set("radius", "25 mm");
        builder.box("40", "40", "30");
        builder.pin("2 * radius", "30", {"0", "0", "0"});
        join = builder.join({"10", "20"}, "all_but_common");
    }
    // Area of the square within the circle: r from its half to its half diagonal.
    static double common(double r) {
        if (r >= 20 * std::sqrt(2)) {
            return 1600;
        }
        if (r <= 20) {
            return pi * r * r;
        }
        const double segment = r * r * std::acos(20 / r) - 20 * std::sqrt(r * r - 400);
        return pi * r * r - 4 * segment;
    }
    static double difference(double r) { return (1600 + pi * r * r - 2 * common(r)) * 30; }
};

TEST_F(BoxAndCylinder, EverythingButTheCommonPartIsEightLumps) {
    const Evaluation evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, join);
    const double volume = sound_volume(evaluation, "10");
    EXPECT_NEAR(volume / difference(25), 1, 1e-9);
    EXPECT_NEAR(volume, 13620.304, 5e-4);
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).lumps, 8);
    EXPECT_EQ(body_of(evaluation, "20"), nullptr);
    // the lumps touch along the eight upright edges where the circle crosses the sides, and that is said
    EXPECT_TRUE(has_code(evaluation, join, "join.touching"));
    EXPECT_EQ(evaluation.report(join)->findings.size(), 8U);
    EXPECT_EQ(evaluation.report(join)->state, StepState::ok); // a note is no warning
}

TEST_F(BoxAndCylinder, VerdictsHoldWhileTheRadiusChanges) {
    Evaluation evaluation = builder.evaluate();
    const auto& parts = evaluation.report(join)->output->pieces;
    const auto corner = std::find_if(parts.begin(), parts.end(), [](const Piece& p) {
        return p.identity.inside == std::vector<std::string>{"10"} && p.center[0] > 0 && p.center[1] > 0;
    });
    const auto bulge = std::find_if(parts.begin(), parts.end(), [](const Piece& p) {
        return p.identity.inside == std::vector<std::string>{"20"} && p.center[0] < -15;
    });
    ASSERT_TRUE(corner != parts.end() && bulge != parts.end());
    const double corner_volume = corner->volume;
    builder.change<Join>(join, [&](Join& j) {
        j.verdicts = {{corner->identity, Verdict::goes, corner->center},
                      {bulge->identity, Verdict::apart, bulge->center}};
    });
    evaluation = builder.evaluate();
    ASSERT_FALSE(evaluation.failed()) << said(evaluation, join);
    const BodyId apart = evaluation.report(join)->output->births.front().id;
    const double segment = (pi * 625 - common(25)) / 4 * 30;
    EXPECT_NEAR(sound_volume(evaluation, apart), segment, 1e-6);
    EXPECT_NEAR(sound_volume(evaluation, "10"), difference(25) - segment - corner_volume, 1e-6);
    for (const double r : {30.0, 20.0, 26.0, 22.0, 25.0}) {
        builder.set("radius", std::to_string(r) + " mm");
        evaluation = builder.evaluate();
        const bool both = r > 20 && r < 20 * std::sqrt(2);
        if (both) {
            ASSERT_FALSE(evaluation.failed()) << r << said(evaluation, join);
            const double part = (pi * r * r - common(r)) / 4 * 30;
            EXPECT_NEAR(sound_volume(evaluation, apart), part, 1e-6) << r;
            EXPECT_LT(geom::centroid_of(body_of(evaluation, apart)->shape).X(), -20) << r;
            const double dropped = (1600 - common(r)) / 4 * 30;
            EXPECT_NEAR(sound_volume(evaluation, "10"), difference(r) - part - dropped, 1e-6) << r;
        } else { // corners or bulges are gone, or are one now: that is said, and nothing is done
            EXPECT_TRUE(has_code(evaluation, join, "piece.lost") || has_code(evaluation, join, "piece.several"))
                << r << said(evaluation, join);
            EXPECT_NEAR(volume_of(evaluation, "10"), 48000, 1e-6) << r;
        }
    }
}

TEST_F(BoxAndCylinder, UnitedAndCommonMeetTheirClosedForms) {
    for (const double r : {12.0, 20.0, 25.0, 30.0}) {
        builder.set("radius", std::to_string(r) + " mm");
        builder.change<Join>(join, [](Join& j) { j.operation.value = "unite"; });
        EXPECT_NEAR(sound_volume(builder.evaluate(), "10"), (1600 + pi * r * r - common(r)) * 30, 1e-6) << r;
        builder.change<Join>(join, [](Join& j) { j.operation.value = "common"; });
        EXPECT_NEAR(sound_volume(builder.evaluate(), "10"), common(r) * 30, 1e-6) << r;
    }
}

TEST(Join, ManyBodiesAtOnce) {
    CutterBuilder builder;
    for (const char* x : {"0", "10", "20"}) {
        builder.box("30", "10", "10", "0", x);
    }
    const int join = builder.join({"10", "20", "30"}, "common");
    EXPECT_NEAR(sound_volume(builder.evaluate(), "10"), 10 * 100, 1e-9);
    builder.change<Join>(join, [](Join& j) { j.operation.value = "all_but_common"; });
    EXPECT_NEAR(sound_volume(builder.evaluate(), "10"), 40 * 100, 1e-9);
    builder.change<Join>(join, [](Join& j) {
        j.operation.value = "unite";
        j.sources.value = "kept";
    });
    const Evaluation evaluation = builder.evaluate();
    EXPECT_NEAR(sound_volume(evaluation, "10"), 50 * 100, 1e-9);
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).faces, 6);
    EXPECT_EQ(evaluation.bodies_as_of().size(), 3U);
}

TEST(Join, TouchingBodiesUniteAndBareContactsAreSaid) {
    CutterBuilder builder;
    builder.box("10", "10", "10");
    builder.box("10", "10", "10", "0", "10");  // beside it, with a common face
    builder.box("10", "10", "10", "10", "20"); // on the edge of that one
    const int face = builder.join({"10", "20"}, "unite");
    Evaluation evaluation = builder.evaluate();
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).lumps, 1);
    EXPECT_EQ(said(evaluation, face), "");
    const int edge = builder.join({"10", "30"}, "unite");
    evaluation = builder.evaluate();
    EXPECT_EQ(geom::count(body_of(evaluation, "10")->shape).lumps, 2);
    ASSERT_TRUE(has_code(evaluation, edge, "join.touching"));
    const auto& place = evaluation.report(edge)->findings.front().places.front();
    EXPECT_NEAR(place[0], 15, 1e-9);
    EXPECT_NEAR(place[2], 10, 1e-9);
    builder.change<Join>(edge, [](Join& j) { j.operation.value = "common"; });
    evaluation = builder.evaluate();
    EXPECT_TRUE(has_code(evaluation, edge, "join.nothing"));
    EXPECT_NEAR(volume_of(evaluation, "10"), 2000, 1e-9); // as it was
}

} // namespace

} // namespace kervo::model::test
