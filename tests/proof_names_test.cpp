// Every kind of step hands out what a formula says, or a finding: what looks alike, and what is said.
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

// --- Names of what looks alike
// ----------------------------------------------------------------------------------------

namespace {

// A body whose top has humps of these heights over z = 4, cut level by a blade.
Route humps(const std::vector<double>& heights) {
    Route route;
    route.parameter("level", "6 mm");
    Drawing d;
    const double length = 40.0 * static_cast<double>(heights.size());
    std::vector<std::array<double, 2>> through{{length, 4}};
    for (size_t i = heights.size(); i-- > 0;) {
        const double left = 40.0 * static_cast<double>(i);
        through.push_back({left + 20, 4 + heights[i]});
        through.push_back({left, 4});
    }
    const int spline = d.spline(through); // its points are 1 to n
    const int low_left = d.point(0, 0);
    const int low_right = d.point(length, 0);
    d.line(low_left, low_right);
    d.line(low_right, 1);
    d.line(static_cast<int>(through.size()), low_left);
    (void)spline;
    const int body = route.extrude(route.sketch(d, "xz"), region(length / 2, 1), "20 mm", {{"to", "symmetric"}});
    route.add("blade", {{"result", "cut"},
                        {"workpieces", {std::to_string(body)}},
                        {"plane", "principal"},
                        {"principal", "xy"},
                        {"offset", "level"},
                        {"keeps", "both"}});
    return route;
}

} // namespace

TEST(Twins, AVerdictNeverMovesToAnother) {
    const std::vector<double> heights{8, 3, 6};
    Route route = humps(heights);
    const auto base = route.run();
    const auto& pieces = base.evaluation.report(30)->output->pieces;
    for (const auto& piece : pieces) {
        if (!piece.identity.ambiguous) {
            continue;
        }
        Route decided = route;
        decided.json()["steps"][2]["answers"]["verdicts"] = Json::array({{{"workpiece", piece.identity.workpiece},
                                                                          {"inside", piece.identity.inside},
                                                                          {"beside", piece.identity.beside},
                                                                          {"ambiguous", true},
                                                                          {"verdict", "goes"},
                                                                          {"near", piece.center}}});
        const auto same = decided.run();
        EXPECT_FALSE(same.told()) << same.codes();
        EXPECT_NEAR(same.volume(), base.volume() - piece.volume, 1e-6 * base.volume());
        for (const double level : {5.0, 6.5, 7.5, 8.5, 9.5, 10.5, 11.5}) {
            const auto moved = decided.run({{"level", mm(level)}});
            const auto whole = route.run({{"level", mm(level)}});
            EXPECT_TRUE(moved.told()) << level; // the piece is another one now, whichever
            if (!moved.evaluation.failed()) {
                EXPECT_LT(moved.volume(), whole.volume());
            }
        }
    }
}

TEST(Twins, ABodyIsNoNumber) {
    Route route = humps({8, 3, 6});
    const auto base = route.run();
    std::vector<std::string> twins;
    for (const auto& [id, body] : base.evaluation.bodies_as_of()) {
        if (model::has_twins(id)) {
            twins.push_back(id);
        }
    }
    ASSERT_GE(twins.size(), 2u);
    for (const std::string& twin : twins) {
        Route deleted = route;
        deleted.add("delete", {{"what", "bodies"}, {"bodies", {twin}}});
        const auto same = deleted.run();
        EXPECT_FALSE(same.told()) << same.codes();
        EXPECT_NEAR(same.volume(), base.volume() - geom::volume_of(base.body(twin)->shape), 1e-6 * base.volume());
        for (const double level : {5.5, 7.5, 9.5, 10.5}) {
            EXPECT_TRUE(deleted.run({{"level", mm(level)}}).told()) << level;
        }
    }
}

TEST(Twins, AnEdgeThatIsGoneIsNotAnother) {
    // A notch from the left divides the upper left edge; the picked part of it vanishes as the notch slides off.
    const auto notched = [](double place, double picked) {
        Route route;
        route.parameter("place", "-5 mm");
        const int box = route.box(100, 40, 20);
        Drawing d;
        const auto sides = d.rectangle(-51, -5, -45, 5);
        const int origin = d.point(0, 0);
        d.hold("fixed", {origin});
        d.hold("horizontal", {sides[0]});
        d.hold("vertical", {sides[1]});
        d.hold("horizontal", {sides[2]});
        d.hold("vertical", {sides[3]});
        d.hold("distance", {sides[0]}, "6 mm");
        d.hold("distance", {sides[1]}, "10 mm");
        d.hold("horizontal_distance", {1, origin}, "51 mm");
        d.hold("vertical_distance", {origin, 1}, "place");
        route.cut(box, route.sketch(d, "xy", 20), region(-48, 0),
                  {{"to", "distance"}, {"distance", "5 mm"}, {"way", "back"}});
        route.add("round_edges", {{"by", "picked"},
                                  {"edges", Json::array({pick("edge", box, {-50, picked, 20})})},
                                  {"size", "radius"},
                                  {"radius", "1 mm"}});
        return route.run({{"place", mm(place)}});
    };
    const double corner = 1 - pi / 4; // what a round of 1 mm takes from a mm of edge
    for (const double picked : {-15.0, 15.0}) {
        const auto base = notched(-5, picked);
        expect_volume(base, base.volume(10), 80000 - 5 * 10 * 5 - 15 * corner, 1e-9);
    }
    for (const double place : {-24.0, -21.0, -29.0}) {
        EXPECT_TRUE(notched(place, -15).told()) << place;
    }
    for (const double place : {14.0, 11.0, 17.0}) {
        EXPECT_TRUE(notched(place, 15).told()) << place;
    }
}

TEST(Twins, AreEachFoundAgainWhereTheyAre) {
    Route route;
    const int rod = route.cylinder(20, 100);
    Drawing d;
    d.circle(0, 50, 3);
    route.cut(rod, route.sketch(d, "xz"), region(0, 50));
    const auto outcome = route.run();
    const auto body = outcome.body(std::to_string(rod));
    int twins = 0;
    for (const TopoDS_Shape& edge : geom::edges_of(body->shape)) {
        const model::Reference reference = model::refer_to(std::to_string(rod), *body, edge);
        const model::Resolved again = model::resolve(reference, body.get());
        EXPECT_TRUE(again.element.IsSame(edge));
        EXPECT_FALSE(again.finding.has_value());
        twins += std::count(reference.ends.begin(), reference.ends.end(), "?") > 0 ? 1 : 0;
    }
    EXPECT_EQ(twins, 2); // the two rims of the bore
}

TEST(Twins, ARimThatIsGoneIsNotTheOther) {
    const auto bored = [](double up, double down, double y) {
        Route route;
        route.parameter("up", "20 mm");
        route.parameter("down", "20 mm");
        const int rod = route.cylinder(20, 100);
        Drawing d;
        d.circle(0, 50, 3);
        route.cut(rod, route.sketch(d, "xz"), region(0, 50),
                  {{"to", "two_distances"}, {"distance", "up"}, {"back_distance", "down"}, {"way", "ahead"}});
        route.add("round_edges", {{"by", "picked"},
                                  {"edges", Json::array({pick("edge", rod, {0, y, 53})})},
                                  {"size", "radius"},
                                  {"radius", "0.5 mm"}});
        return route.run({{"up", mm(up)}, {"down", mm(down)}});
    };
    for (const double y : {10.0, -10.0}) {
        const auto base = bored(20, 20, y);
        EXPECT_FALSE(base.told()) << base.codes();
    }
    for (const double short_one : {1.0, 3.0, 5.0}) {
        EXPECT_TRUE(bored(20, short_one, 10).told());
        EXPECT_TRUE(bored(short_one, 20, -10).told());
    }
}

// --- What is said
// -----------------------------------------------------------------------------------------------------------

TEST(Said, WhatVanishesOrHangsApart) {
    Route gone; // the blade's kerf is wider than the plate
    const int plate = gone.box(40, 40, 3);
    gone.add("blade", {{"result", "cut"},
                       {"workpieces", {std::to_string(plate)}},
                       {"plane", "principal"},
                       {"principal", "xy"},
                       {"offset", "1.5 mm"},
                       {"kerf", "5 mm"},
                       {"keeps", "both"}});
    EXPECT_TRUE(gone.run().told("cut.all_gone"));

    Route eaten;
    const int small = eaten.box(10, 10, 10);
    Drawing large;
    large.rectangle(-20, -20, 20, 20);
    eaten.cut(small, eaten.sketch(large), region(0, 0));
    EXPECT_TRUE(eaten.run().told("cut.all_gone"));

    Route apart;
    const int base = apart.box(10, 10, 10);
    Drawing far;
    far.rectangle(90, -5, 100, 5);
    apart.add("extrude", {{"result", "united"},
                          {"unite_with", {std::to_string(base)}},
                          {"sketch", apart.sketch(far)},
                          {"regions", region(95, 0)},
                          {"to", "distance"},
                          {"distance", "10 mm"}});
    const auto outcome = apart.run();
    EXPECT_TRUE(outcome.told("unite.apart"));
    EXPECT_NE(outcome.codes().find("85.000 mm"), std::string::npos) << outcome.codes();

    Route unticked;
    unticked.box(10, 10, 10);
    Drawing d;
    d.circle(0, 0, 2);
    unticked.add("extrude", {{"result", "cut"},
                             {"workpieces", Json::array()},
                             {"sketch", unticked.sketch(d)},
                             {"regions", region(0, 0)},
                             {"to", "everything_both"}});
    const auto told = unticked.run();
    const auto& findings = told.evaluation.report(30)->findings;
    EXPECT_EQ(
        std::count_if(findings.begin(), findings.end(), [](const Finding& f) { return f.code == "step.no_bodies"; }),
        1);
    EXPECT_NE(told.codes().find("Workpieces"), std::string::npos);
}

TEST(Said, NothingOfTheKernel) {
    for (const std::string size : {"1e100 mm", "1e300 mm", "1e9 m"}) {
        Route route;
        route.add("stock", {{"shape", "box"}, {"width", size}, {"depth", "10 mm"}, {"height", "10 mm"}});
        const auto outcome = route.run();
        EXPECT_TRUE(outcome.told("formula.too_large")) << outcome.codes();
        EXPECT_EQ(outcome.codes().find("Standard_"), std::string::npos);
    }
}

TEST(Said, ContraryVerdicts) {
    Route route = humps({8, 3, 6});
    const auto base = route.run();
    const auto& piece = base.evaluation.report(30)->output->pieces.front();
    Json rules = Json::array();
    for (const std::string verdict : {"goes", "apart"}) {
        rules.push_back({{"workpiece", piece.identity.workpiece},
                         {"inside", piece.identity.inside},
                         {"beside", piece.identity.beside},
                         {"ambiguous", piece.identity.ambiguous},
                         {"verdict", verdict},
                         {"near", piece.center}});
    }
    route.json()["steps"][2]["answers"]["verdicts"] = rules;
    EXPECT_TRUE(route.run().told("piece.contrary"));
}

TEST(Said, NumbersAndDepthsOfStrangers) {
    const auto read = [](const std::string& text) { return io::document_from_text(text); };
    const std::string head = R"({"format": "kervo", "version": 2, "title": )";
    for (const std::string& text : {head + "1e999}", head + "-1e999}", head + "1e300}", head + "99999999999}",
                                    head + std::string(100000, '[') + std::string(100000, ']') + "}",
                                    std::string(300, '{'), head, std::string("\xff\xfe"), head + "\"\xff\"}"}) {
        const auto document = read(text);
        ASSERT_FALSE(document.ok());
        EXPECT_EQ(document.finding().code, "file.json");
    }
    std::string deep = "1";
    for (int i = 0; i < 150; ++i) {
        deep = "[" + deep + "]";
    }
    EXPECT_TRUE(read(head + "\"t\", \"other\": " + deep + "}").ok());
}
