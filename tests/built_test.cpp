// Bodies built from the bottom up: points, edges, faces, shell, solid; against formulas.
#include "geom/measure/pick.h"
#include "proof.h"

using namespace kervo;
using namespace kervo::test;

namespace {

Json point(const std::string& name, const std::string& x, const std::string& y, const std::string& z,
           const std::vector<std::string>& from = {}) {
    return {{"name", name}, {"makes", "point"}, {"at", {x, y, z}}, {"of", from}};
}
Json row(const std::string& name, const std::string& makes, const std::vector<std::string>& of = {}) {
    return {{"name", name}, {"makes", makes}, {"of", of}};
}
Json operator+(Json rows, const Json& more) {
    rows.insert(rows.end(), more.begin(), more.end());
    return rows;
}

// Points and edges of a prism over a triangle with legs of 30 and 40, as high as the parameter h.
Json prism(Route& route) {
    route.parameter("h", "50 mm");
    return {point("p1", "0", "0", "0"),
            point("p2", "30 mm", "0", "0"),
            point("p3", "0", "40 mm", "0"),
            point("p4", "0", "0", "h"),
            point("p5", "0", "0", "h", {"p2"}),
            point("p6", "0", "40 mm", "h"),
            row("low", "edges", {"p1", "p2", "p3", "p1"}),
            row("high", "edges", {"p4", "p5", "p6", "p4"}),
            row("e1", "edges", {"p1", "p4"}),
            row("e2", "edges", {"p2", "p5"}),
            row("e3", "edges", {"p3", "p6"})};
}
const Json faces{row("f", "flat_faces")};
const Json shell = faces + Json{row("s", "shell")};
const Json solid = shell + Json{row("b", "solid")};

int build(Route& route, const Json& rows, const Json& taken = Json::array()) {
    return route.add("built_up", {{"rows", rows}, {"taken", taken}});
}
std::string counts(const Outcome& outcome, int id) {
    std::string all;
    for (const char* each : {"points", "edges", "faces", "shells", "solids", "free edges"}) {
        all += fact(outcome, id, each) + " ";
    }
    return all;
}
size_t places(const Outcome& outcome, const std::string& code) {
    for (const auto& report : outcome.evaluation.steps) {
        for (const Finding& finding : report.findings) {
            if (finding.code == code) {
                return finding.places.size();
            }
        }
    }
    return 0;
}

// A square of that side about the origin at a height, corner by corner under names that begin so.
Json square(const std::string& name, double side, const std::string& z) {
    Json rows = Json::array();
    const double s = side / 2;
    const std::array<std::array<double, 2>, 4> corners{{{-s, -s}, {s, -s}, {s, s}, {-s, s}}};
    for (size_t i = 0; i < corners.size(); ++i) {
        rows.push_back(point(name + std::to_string(i + 1), mm(corners[i][0]), mm(corners[i][1]), z));
    }
    rows.push_back(row(name, "edges", {name + "1", name + "2", name + "3", name + "4", name + "1"}));
    return rows;
}

} // namespace

TEST(Built, PrismFromPointsUpwards) {
    Route route;
    const int edges = build(route, prism(route));
    Route with_faces;
    const int loose = build(with_faces, prism(with_faces) + faces);
    Route sewn;
    const int surface = build(sewn, prism(sewn) + shell);
    Route whole;
    const int body = build(whole, prism(whole) + solid);
    for (const double h : {50.0, 60.0, 0.01, 1e5}) {
        const std::map<std::string, std::string> at{{"h", mm(h)}};
        const double skin = 1200 + 120 * h; // both triangles, and 30 + 40 + 50 around
        EXPECT_EQ(counts(route.run(at), edges), "6 9 0 0 0 0 ");
        const auto as_faces = with_faces.run(at);
        EXPECT_EQ(counts(as_faces, loose), "6 9 5 0 0 0 ");
        EXPECT_NEAR(area(as_faces, loose), skin, 1e-9 * skin);
        const auto as_shell = sewn.run(at);
        EXPECT_EQ(counts(as_shell, surface), "6 9 5 1 0 0 ");
        EXPECT_EQ(as_shell.volume(surface), 0);
        const auto as_solid = whole.run(at);
        EXPECT_EQ(counts(as_solid, body), "6 9 5 1 1 0 ");
        expect_volume(as_solid, as_solid.volume(body), 600 * h, 1e-9);
    }
}

TEST(Built, SolidIsCutAndItsShellStaysOpen) {
    const Json across{{"result", "cut"}, {"plane", "principal"}, {"principal", "xy"}, {"offset", "20 mm"}};
    Route route;
    const int body = build(route, prism(route) + solid);
    route.add("blade", Route::with(across, {{"workpieces", {std::to_string(body)}}, {"keeps", "both"}}));
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    std::vector<double> volumes;
    for (const auto& [id, part] : outcome.evaluation.bodies_as_of()) {
        volumes.push_back(geom::volume_of(part->shape));
    }
    std::sort(volumes.begin(), volumes.end());
    ASSERT_EQ(volumes.size(), 2u);
    EXPECT_NEAR(volumes[0], 12000, 1e-5);
    EXPECT_NEAR(volumes[1], 18000, 1e-5);
    Route sewn;
    const int surface = build(sewn, prism(sewn) + shell);
    sewn.add("blade", Route::with(across, {{"workpieces", {std::to_string(surface)}}, {"keeps", "back"}}));
    const auto open = sewn.run();
    EXPECT_TRUE(open.told("cut.opened")) << open.codes();
    EXPECT_EQ(open.volume(), 0);
    EXPECT_NEAR(area(open, surface), 600 + 120 * 20, 1e-6);
}

TEST(Built, FaceMadeTwiceIsOne) {
    Route route;
    const int body =
        build(route, prism(route) + faces +
                         Json{row("again", "flat_faces", {"p1", "p2", "p3"}), row("s", "shell"), row("b", "solid")});
    const auto outcome = route.run();
    EXPECT_TRUE(outcome.told("build.same_face")) << outcome.codes();
    EXPECT_EQ(places(outcome, "build.same_face"), 1u);
    EXPECT_EQ(counts(outcome, body), "6 9 5 1 1 0 ");
    EXPECT_NEAR(outcome.volume(body), 30000, 1e-6);
}

TEST(Built, FaceLeftOutIsToldByItsEdges) {
    for (const auto& [left_out, edges] : {std::pair<std::string, size_t>{"low", 3}, {"side", 4}}) {
        Route route;
        Json rows = prism(route);
        const std::map<std::string, Json> all{{"low", row("f1", "flat_faces", {"low"})},
                                              {"high", row("f2", "flat_faces", {"high"})},
                                              {"side", row("f3", "flat_faces", {"p1", "p2", "p5", "p4"})},
                                              {"lean", row("f4", "flat_faces", {"p2", "p3", "p6", "p5"})},
                                              {"back", row("f5", "flat_faces", {"p3", "p1", "p4", "p6"})}};
        for (const auto& [name, face] : all) {
            if (name != left_out) {
                rows.push_back(face);
            }
        }
        const int body = build(route, rows + Json{row("s", "shell"), row("b", "solid")});
        const auto outcome = route.run();
        EXPECT_TRUE(outcome.told("build.open")) << outcome.codes();
        EXPECT_EQ(places(outcome, "build.open"), edges);
        EXPECT_EQ(counts(outcome, body), "6 9 4 1 0 " + std::to_string(edges) + " ");
        EXPECT_EQ(outcome.volume(body), 0);
        const double skin = 600 + 600 + 120 * 50 - (left_out == "low" ? 600 : 30 * 50);
        EXPECT_NEAR(area(outcome, body), skin, 1e-9 * skin);
    }
}

TEST(Built, WhatIsThereAlreadyIsTold) {
    Route route;
    const int body =
        build(route, prism(route) + Json{point("p7", "30 mm", "0", "0 mm"), row("e4", "edges", {"p7", "p1"})} + solid);
    const auto outcome = route.run();
    EXPECT_TRUE(outcome.told("build.same_point")) << outcome.codes();
    EXPECT_TRUE(outcome.told("build.same_edge")) << outcome.codes();
    EXPECT_EQ(counts(outcome, body), "6 9 5 1 1 0 ");
    EXPECT_NEAR(outcome.volume(body), 30000, 1e-6);
    // Apart again, the edge is another one.
    Route apart;
    apart.parameter("x", "30 mm");
    const int other = build(apart, prism(apart) + Json{point("p7", "x", "0", "0"), row("e4", "edges", {"p7", "p1"})});
    EXPECT_TRUE(apart.run().told("build.same_point"));
    EXPECT_EQ(counts(apart.run({{"x", "-5 mm"}}), other), "7 10 0 0 0 0 ");
}

TEST(Built, FlatFacesHaveHolesWhereEdgesLieWithin) {
    Route route;
    route.parameter("inner", "40 mm");
    const int body = build(route, square("a", 100, "0") + square("c", 40, "0") + square("d", 20, "0") +
                                      Json{row("f", "flat_faces")});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_EQ(counts(outcome, body), "12 12 3 0 0 4 "); // the outer border is free
    EXPECT_NEAR(area(outcome, body), 100 * 100, 1e-6);
    // Only what is named: the middle one with its hole.
    Route named;
    const int ring = build(named, square("a", 100, "0") + square("c", 40, "0") + square("d", 20, "0") +
                                      Json{row("f", "flat_faces", {"a", "d"})});
    EXPECT_EQ(counts(named.run(), ring), "12 12 2 0 0 4 ");
}

TEST(Built, BridgesAndLooseEndsBoundNothing) {
    Route route;
    const int body = build(route, square("a", 100, "0") + square("c", 40, "0") +
                                      Json{row("bridge", "edges", {"a1", "c1"}), point("far", "90 mm", "0", "0"),
                                           row("end", "edges", {"a2", "far"}), row("f", "flat_faces")});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_EQ(fact(outcome, body, "faces"), "2");
    EXPECT_NEAR(area(outcome, body), 100 * 100, 1e-6);
    const auto loose = outcome.body(std::to_string(body) + ".edges"); // they are not lost
    ASSERT_TRUE(loose);
    EXPECT_NEAR(geom::length_of(loose->shape), std::hypot(30, 30) + std::hypot(40, 50), 1e-9);
}

TEST(Built, EdgesThatCrossAreTold) {
    Route route;
    build(route, square("a", 100, "0") +
                     Json{row("x", "edges", {"a1", "a3"}), row("y", "edges", {"a2", "a4"}), row("f", "flat_faces")});
    const auto outcome = route.run();
    EXPECT_TRUE(outcome.told("build.crossing")) << outcome.codes();
    // With a point where they meet, there are four triangles.
    Route met;
    const int body =
        build(met, square("a", 100, "0") + Json{point("m", "0", "0", "0"), row("x", "edges", {"a1", "m", "a3"}),
                                                row("y", "edges", {"a2", "m", "a4"}), row("f", "flat_faces")});
    EXPECT_EQ(counts(met.run(), body), "5 8 4 0 0 4 ");
    EXPECT_NEAR(area(met.run(), body), 1e4, 1e-6);
    // An end on the way of another is no meeting either.
    Route tee;
    build(tee, square("a", 100, "0") +
                   Json{point("m", "0", "-50 mm", "0"), row("x", "edges", {"a3", "m"}), row("f", "flat_faces")});
    EXPECT_TRUE(tee.run().told("build.crossing"));
}

TEST(Built, ArcsBoundFlatAndRoundFaces) {
    Route route;
    route.parameter("r", "20 mm");
    const int body =
        build(route, Json{point("p1", "r", "0", "0"), point("p2", "0", "r", "0"), point("p3", "-r", "0", "0"),
                          point("q1", "0", "0", "10 mm", {"p1"}), point("q2", "0", "0", "10 mm", {"p2"}),
                          point("q3", "0", "0", "10 mm", {"p3"}), row("low", "arc", {"p1", "p2", "p3"}),
                          row("high", "arc", {"q1", "q2", "q3"}), row("lines", "edges", {"p1", "p3", "q3", "q1", "p1"}),
                          row("flat", "flat_faces"), row("round", "free_face"), row("s", "shell"), row("b", "solid")});
    for (const double r : {20.0, 1.0, 1000.0}) {
        const auto outcome = route.run({{"r", mm(r)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_EQ(counts(outcome, body), "6 6 4 1 1 0 ");
        EXPECT_NEAR(outcome.volume(body), pi * r * r / 2 * 10, 1e-9 * pi * r * r * 5);
    }
}

TEST(Built, FourSkewEdgesCarryABilinearFace) {
    // Over a square of 40, its corners at different heights.
    Route route;
    route.parameter("a", "10 mm");
    const int body =
        build(route, square("g", 40, "0") +
                         Json{point("u1", "0", "0", "a", {"g1"}), point("u2", "0", "0", "25 mm", {"g2"}),
                              point("u3", "0", "0", "10 mm", {"g3"}), point("u4", "0", "0", "15 mm", {"g4"}),
                              row("top", "edges", {"u1", "u2", "u3", "u4", "u1"}), row("up1", "edges", {"g1", "u1"}),
                              row("up2", "edges", {"g2", "u2"}), row("up3", "edges", {"g3", "u3"}),
                              row("up4", "edges", {"g4", "u4"}), row("f", "flat_faces"), row("t", "free_face", {"top"}),
                              row("s", "shell"), row("b", "solid")});
    for (const double a : {10.0, 3.0, 60.0}) {
        const auto outcome = route.run({{"a", mm(a)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_EQ(counts(outcome, body), "8 12 6 1 1 0 ");
        const double wanted = 1600 * (a + 25 + 10 + 15) / 4;
        EXPECT_NEAR(outcome.volume(body), wanted, 1e-9 * wanted);
    }
    // Where the four lie in one plane, the face is there twice.
    EXPECT_TRUE(route.run({{"a", "30 mm"}}).told("build.same_face"));
}

TEST(Built, SixSkewEdgesCarryAFaceToTheirMiddle) {
    // A hexagon whose corners go up and down by turns: what rises at one corner is missing at the next.
    Route route;
    route.parameter("wave", "3 mm");
    Json rows = Json::array();
    std::vector<std::string> low;
    std::vector<std::string> high;
    for (int i = 0; i < 6; ++i) {
        const std::string n = std::to_string(i + 1);
        const double turn = pi / 3 * i;
        rows.push_back(point("g" + n, mm(20 * std::cos(turn)), mm(20 * std::sin(turn)), "0"));
        rows.push_back(point("u" + n, "0", "0", i % 2 == 0 ? "30 mm + wave" : "30 mm - wave", {"g" + n}));
        rows.push_back(row("up" + n, "edges", {"g" + n, "u" + n}));
        low.push_back("g" + n);
        high.push_back("u" + n);
    }
    low.push_back("g1");
    high.push_back("u1");
    rows = rows + Json{row("low", "edges", low),          row("high", "edges", high), row("f", "flat_faces"),
                       row("top", "free_face", {"high"}), row("s", "shell"),          row("b", "solid")};
    const int body = build(route, rows);
    for (const double wave : {3.0, 0.2, 12.0}) {
        const auto outcome = route.run({{"wave", mm(wave)}});
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        EXPECT_EQ(counts(outcome, body), "12 18 13 1 1 0 "); // one from each edge to the middle
        const double wanted = 1.5 * std::sqrt(3.0) * 400 * 30;
        EXPECT_NEAR(outcome.volume(body), wanted, 1e-6 * wanted);
    }
}

TEST(Built, CurvesRunThroughTheirPoints) {
    Route route;
    const int body = build(route, Json{point("p1", "0", "0", "0"), point("p2", "10 mm", "4 mm", "3 mm"),
                                       point("p3", "25 mm", "-2 mm", "5 mm"), point("p4", "40 mm", "0", "0"),
                                       row("c", "curve", {"p1", "p2", "p3", "p4"})});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    const auto found = outcome.body(std::to_string(body));
    ASSERT_TRUE(found);
    for (const gp_Pnt& at : {gp_Pnt(0, 0, 0), gp_Pnt(10, 4, 3), gp_Pnt(25, -2, 5), gp_Pnt(40, 0, 0)}) {
        EXPECT_LT(geom::distance_to(found->shape, at), 1e-9);
    }
    // Closed, with a free face in it.
    Route ring;
    const int disc = build(ring, Json{point("p1", "30 mm", "0", "0"), point("p2", "0", "30 mm", "5 mm"),
                                      point("p3", "-30 mm", "0", "0"), point("p4", "0", "-30 mm", "5 mm"),
                                      row("c", "curve", {"p1", "p2", "p3", "p4", "p1"}), row("f", "free_face", {"c"})});
    const auto filled = ring.run();
    EXPECT_FALSE(filled.told()) << filled.codes();
    EXPECT_EQ(counts(filled, disc), "4 1 1 0 0 1 ");
}

TEST(Built, RoofOnAWallFollowsIt) {
    // A ridge over the top of a block: vertices of the block are its corners.
    Route route;
    route.parameter("w", "80 mm");
    const int block = route.add("stock", {{"shape", "box"}, {"width", "w"}, {"depth", "40 mm"}, {"height", "30 mm"}});
    Json taken = Json::array();
    const std::array<std::array<double, 3>, 4> corners{{{-40, -20, 30}, {40, -20, 30}, {40, 20, 30}, {-40, 20, 30}}};
    for (size_t i = 0; i < 4; ++i) {
        taken.push_back(pick("vertex", block, corners[i]));
        taken.back()["name"] = "t" + std::to_string(i + 1);
    }
    const Json rows{point("left", "0", "20 mm", "10 mm", {"t1"}),
                    point("right", "0", "20 mm", "10 mm", {"t2"}),
                    row("eaves", "edges", {"t1", "t2", "t3", "t4", "t1"}),
                    row("ridge", "edges", {"left", "right"}),
                    row("g1", "edges", {"t1", "left", "t4"}),
                    row("g2", "edges", {"t2", "right", "t3"})};
    const int roof = build(route, rows + solid, taken);
    for (const double w : {80.0, 30.0, 200.0}) {
        const auto outcome = route.run({{"w", mm(w)}});
        expect_volume(outcome, outcome.volume(roof), 40 * 10 / 2.0 * w, 1e-9);
    }
}

TEST(Built, EdgesAndFacesOfBodiesAreUsed) {
    // A pyramid on the top of a block, whose own face is its bottom.
    Route route;
    route.parameter("tip", "60 mm");
    const int block = route.box(40, 40, 30);
    Json taken{pick("face", block, {0, 0, 30}), pick("edge", block, {0, -20, 30}), pick("edge", block, {20, 0, 30}),
               pick("edge", block, {0, 20, 30}), pick("edge", block, {-20, 0, 30})};
    for (const auto& [x, y] : {std::pair(-20, -20), {20, -20}, {20, 20}, {-20, 20}}) {
        taken.push_back(pick("vertex", block, {double(x), double(y), 30}));
    }
    const Json rows{point("tip", "0", "0", "tip"),
                    row("e1", "edges", {"t6", "tip", "t8"}),
                    row("e2", "edges", {"t7", "tip", "t9"}),
                    row("f1", "flat_faces", {"t6", "t7", "tip"}),
                    row("f2", "flat_faces", {"t7", "t8", "tip"}),
                    row("f3", "flat_faces", {"t8", "t9", "tip"}),
                    row("f4", "flat_faces", {"t9", "t6", "tip"}),
                    row("s", "shell"),
                    row("b", "solid")};
    const int body = build(route, rows, taken);
    for (const double tip : {60.0, 31.0, 500.0}) {
        const auto outcome = route.run({{"tip", mm(tip)}});
        expect_volume(outcome, outcome.volume(body), 1600 * (tip - 30) / 3, 1e-9);
    }
}

TEST(Built, FacesKeepTheirNamesWhenRowsComeAndGo) {
    Route route;
    const Json all = prism(route) + solid;
    const int body = build(route, all);
    route.add("shift_faces", {{"faces", Json::array({pick("face", body, {15, 20, 25})})}, {"distance", "1 mm"}});
    auto outcome = route.run();
    ASSERT_FALSE(outcome.told()) << outcome.codes();
    const double shifted = outcome.volume(body);
    EXPECT_GT(shifted, 30000);
    // An edge and a face more, named before all others: the leaning face is found still.
    const Json more = Json{point("q1", "-50 mm", "0", "0"), point("q2", "-60 mm", "0", "0"),
                           point("q3", "-50 mm", "10 mm", "0"), row("first", "edges", {"q1", "q2", "q3", "q1"})};
    Json document = Json::parse(io::to_text(outcome.document));
    document["steps"][0]["answers"]["rows"] = more + all;
    Route changed;
    changed.json() = document;
    outcome = changed.run();
    EXPECT_FALSE(outcome.told("names.lost")) << outcome.codes();
    EXPECT_FALSE(outcome.told("names.by_place")) << outcome.codes();
}

TEST(Built, WhatCannotBeIsTold) {
    const auto told = [](const Json& rows, const std::string& code) {
        Route route;
        build(route, rows);
        const auto outcome = route.run();
        EXPECT_TRUE(outcome.told(code)) << outcome.codes();
    };
    const Json three{point("p1", "0", "0", "0"), point("p2", "10 mm", "0", "0"), point("p3", "20 mm", "0", "0")};
    told(three + Json{row("a", "arc", {"p1", "p2", "p3"})}, "build.no_arc");
    told(three + Json{row("e", "edges", {"p1", "p1"})}, "build.no_length");
    told(three + Json{row("e", "edges", {"p1"})}, "build.incomplete");
    told(three + Json{row("e", "edges", {"p1", "p9"})}, "build.no_such");
    told(three + Json{row("e", "edges", {"p1", "later"}), point("later", "0", "9 mm", "0")}, "build.no_such");
    told(three + Json{row("p1", "edges", {"p1", "p2"})}, "build.name");
    told(three + Json{row("1", "edges", {"p1", "p2"})}, "build.name");
    told(three + Json{row("e", "edges", {"p1", "p2"}), row("f", "flat_faces")}, "build.nothing_flat");
    told(three + Json{row("e", "edges", {"p1", "p2"}), row("f", "free_face", {"e"})}, "build.open_chain");
    told(three + Json{row("e", "edges", {"p1", "p2"}), row("s", "shell")}, "build.incomplete");
    told(three + Json{row("c", "curve", {"p1", "p2", "p2"})}, "build.no_curve");
    told(three + Json{row("e", "edges", {"p1", "p2"}), row("g", "edges", {"p3", "p2"}), row("k", "chain", {"e", "g"}),
                      point("q", "0", "0", "9 mm"), point("r", "0", "5 mm", "9 mm"), row("h", "edges", {"q", "r"}),
                      row("m", "chain", {"k", "h"})},
         "build.no_chain");
}

// Faces that run through each other enclose nothing that can be told.
TEST(Built, SolidThatCrossesItselfIsNone) {
    Route route;
    route.parameter("z", "20 mm");
    route.parameter("x", "0 mm");
    const int body = build(
        route, square("g", 40, "0") +
                   Json{point("m", "0", "0", "z"), point("n", "x", "0", "5 mm"), row("e1", "edges", {"g1", "m", "g3"}),
                        row("e2", "edges", {"g2", "m", "g4"}), row("d1", "edges", {"g1", "n", "g3"}),
                        row("d2", "edges", {"g2", "n", "g4"}), row("f1", "flat_faces", {"g1", "g2", "m"}),
                        row("f2", "flat_faces", {"g2", "g3", "m"}), row("f3", "flat_faces", {"g3", "g4", "m"}),
                        row("f4", "flat_faces", {"g4", "g1", "m"}), row("h1", "flat_faces", {"g1", "g2", "n"}),
                        row("h2", "flat_faces", {"g2", "g3", "n"}), row("h3", "flat_faces", {"g3", "g4", "n"}),
                        row("h4", "flat_faces", {"g4", "g1", "n"}), row("s", "shell"), row("b", "solid")});
    for (const double z : {20.0, -20.0, 5.0 + 1e-3}) {
        const auto outcome = route.run({{"z", mm(z)}});
        expect_volume(outcome, outcome.volume(body), 1600 * std::fabs(z - 5) / 3, 1e-6);
    }
    EXPECT_TRUE(route.run({{"z", "5 mm"}}).told("build.same_point"));
    EXPECT_TRUE(route.run({{"x", "100 mm"}}).told("build.crosses_itself"));
}
