// Every way of saying how far, on random stacks of plates, judged by plain intervals; and what a cut promises whatever
// it is asked: the balance holds, verdicts move volume and never lose it, bodies that are not ticked are not touched.
#include "model/steps/extrude/extrude.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"
#include "model_fixture.h"

#include <BRepPrimAPI_MakeBox.hxx>
#include <algorithm>
#include <optional>
#include <random>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

double pick(std::mt19937& random, double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
}

std::string mm(double value) {
    return format_quantity(value, "mm", 9) + " mm";
}

double rounded(double value) {
    return std::round(value * 1e6) / 1e6;
}

using Interval = std::array<double, 2>;

struct Stack {
    Builder builder;
    std::vector<Interval> plates; // lower and upper height of each
    std::vector<BodyId> bodies;
};

// Plates of random thickness with random gaps between.
Stack stack_of(std::mt19937& random, int count) {
    Stack stack;
    double z = rounded(pick(random, -30, -10));
    for (int i = 0; i < count; ++i) {
        const double thickness = rounded(pick(random, 3, 12));
        stack.bodies.push_back(std::to_string(stack.builder.box("60", "50", mm(thickness), mm(z))));
        stack.plates.push_back({z, z + thickness});
        z = rounded(z + thickness + pick(random, 2, 9));
    }
    return stack;
}

double shared(const Interval& a, const Interval& b) {
    return std::max(0.0, std::min(a[1], b[1]) - std::max(a[0], b[0]));
}

Reference by_hand(ElementKind kind, const BodyId& body, const Place& near) {
    return {kind, body, {}, {}, near};
}

struct Asked {
    std::string from, to, way;
    double plane = 0, offset = 0, distance = 0, back = 0, end_offset = 0;
    size_t from_plate = 0, to_plate = 0;
    std::vector<size_t> ticked{};
};

// What the words of the card mean, as an interval of heights; nothing where there is no such end.
std::optional<Interval> meant(const Asked& q, const std::vector<Interval>& plates) {
    double start = q.plane;
    if (q.from == "offset") {
        start += q.offset;
    } else if (q.from == "face") {
        start = plates[q.from_plate][1] + q.offset;
    }
    const double sign = q.way == "ahead" ? 1 : -1;
    const auto span = [](double a, double b) { return Interval{std::min(a, b), std::max(a, b)}; };
    if (q.to == "distance") {
        return span(start, start + sign * q.distance);
    }
    if (q.to == "symmetric") {
        return span(start - q.distance / 2, start + q.distance / 2);
    }
    if (q.to == "two_distances") {
        return span(start - sign * q.back, start + sign * q.distance);
    }
    if (q.to == "everything") {
        return span(start, start + sign * 1e4);
    }
    if (q.to == "everything_both") {
        return span(-1e4, 1e4);
    }
    if (q.to == "face" || q.to == "vertex") {
        return span(start, plates[q.to_plate][0] + q.end_offset);
    }
    std::optional<double> exit; // the next face: where the profile first leaves one of the ticked plates
    for (const size_t i : q.ticked) {
        const double leaves = sign > 0 ? plates[i][1] : plates[i][0];
        if ((leaves - start) * sign > 0 && (!exit || (leaves - *exit) * sign < 0)) {
            exit = leaves;
        }
    }
    return exit ? std::optional(span(start, *exit + q.end_offset)) : std::nullopt;
}

void ask(Builder& b, int cut, const Asked& q, const Stack& stack) {
    b.change<Extrude>(cut, [&](Extrude& e) {
        e.extent.from.value = q.from;
        e.extent.from_offset.text = mm(q.offset);
        e.extent.from_face = {
            by_hand(ElementKind::face, stack.bodies[q.from_plate], {20, 15, stack.plates[q.from_plate][1]})};
        e.extent.to.value = q.to;
        e.extent.way.value = q.way;
        e.extent.distance.text = mm(q.distance);
        e.extent.back_distance.text = mm(q.back);
        e.extent.to_face = {
            by_hand(ElementKind::face, stack.bodies[q.to_plate], {20, 15, stack.plates[q.to_plate][0]})};
        e.extent.to_vertex = {
            by_hand(ElementKind::vertex, stack.bodies[q.to_plate], {30, 25, stack.plates[q.to_plate][0]})};
        e.extent.to_offset.text = mm(q.end_offset);
    });
}

} // namespace

TEST(Extent, EveryWordMeansItsInterval) {
    std::mt19937 random(41);
    std::map<std::string, int> cuts_of;
    for (const char* from : {"plane", "offset", "face"}) {
        for (const char* to : {"distance", "symmetric", "two_distances", "everything", "everything_both", "next_face",
                               "face", "vertex"}) {
            for (int round = 0; round < 4; ++round) {
                Stack stack = stack_of(random, 4);
                Builder& b = stack.builder;
                Asked q{from, to, round % 2 == 0 ? "ahead" : "back"};
                q.plane = rounded(pick(random, -30, 20));
                q.offset = rounded(pick(random, -5, 5));
                q.distance = rounded(pick(random, 5, 40));
                q.back = rounded(pick(random, 2, 20));
                q.end_offset = rounded(pick(random, -2, 2));
                q.from_plate = random() % 4;
                q.to_plate = random() % 4;
                for (size_t i = 0; i < 4; ++i) {
                    if (random() % 3 != 0) {
                        q.ticked.push_back(i);
                    }
                }
                std::vector<BodyId> ticked;
                for (const size_t i : q.ticked) {
                    ticked.push_back(stack.bodies[i]);
                }
                sketch::Sketch s;
                circle(s, 3, -2, 4);
                const int cut = b.cut(b.sketch(s, mm(q.plane)), {{3, -2}}, ticked);
                ask(b, cut, q, stack);
                const auto evaluation = b.evaluate();
                const std::string what = std::string(from) + " " + to + " " + q.way + " " + std::to_string(round);
                const auto interval = meant(q, stack.plates);
                double wanted = 0;
                for (const size_t i : q.ticked) {
                    wanted += interval ? shared(*interval, stack.plates[i]) * pi * 16 : 0;
                }
                const StepReport& report = *evaluation.report(cut);
                if (wanted == 0) {
                    EXPECT_EQ(report.state, StepState::failed) << what;
                } else {
                    ASSERT_NE(report.state, StepState::failed) << what << " " << report.findings.at(0).cause;
                    EXPECT_NEAR(report.output->removed, wanted, 1e-7 * wanted) << what;
                    ++cuts_of[to];
                }
                for (size_t i = 0; i < 4; ++i) {
                    const bool is_ticked = std::count(q.ticked.begin(), q.ticked.end(), i) > 0;
                    const double whole = 60 * 50 * (stack.plates[i][1] - stack.plates[i][0]);
                    const double goes = is_ticked && interval ? shared(*interval, stack.plates[i]) * pi * 16 : 0;
                    EXPECT_NEAR(volume_of(evaluation, stack.bodies[i]), whole - goes, 1e-7 * whole)
                        << what << " plate " << i;
                }
            }
        }
    }
    for (const auto& [to, count] : cuts_of) {
        EXPECT_GE(count, 5) << to;
    }
}

// Two plates that touch, a gap, a third: two walls.
TEST(Extent, SoManyWalls) {
    Builder b;
    std::vector<BodyId> plates;
    for (const auto& [z, height] : {std::pair("10", "5"), std::pair("15", "3"), std::pair("40", "7")}) {
        plates.push_back(std::to_string(b.box("60", "60", height, z)));
    }
    sketch::Sketch s;
    circle(s, 0, 0, 5);
    const int cut = b.cut(b.sketch(s), {{0, 0}}, plates, "walls");
    const auto removed = [&](const std::string& walls, const std::string& way = "ahead") {
        b.change<Extrude>(cut, [&](Extrude& e) {
            e.extent.walls.text = walls;
            e.extent.way.value = way;
        });
        const auto evaluation = b.evaluate();
        const StepReport& report = *evaluation.report(cut);
        return report.output && !has_error(report.findings) ? std::to_string(report.output->removed / (25 * pi))
                                                            : report.findings.at(0).code;
    };
    EXPECT_EQ(removed("1"), std::to_string(8.0));
    EXPECT_EQ(removed("2"), std::to_string(15.0));
    EXPECT_EQ(removed("3"), "extent.no_wall");
    EXPECT_EQ(removed("1", "back"), "extent.no_next_face");
    EXPECT_EQ(removed("1.5"), "extent.walls");
    EXPECT_EQ(removed("0"), "extent.walls");
}

// The wall of a tube is curved: the cut ends in the bore, and both walls are twice the one.
TEST(Extent, OneWallOfATube) {
    Builder b;
    Stock round;
    round.shape.value = "cylinder";
    round.diameter.text = "60";
    round.height.text = "50";
    const int tube = b.step(round);
    sketch::Sketch bore;
    circle(bore, 0, 0, 20);
    b.cut(b.sketch(bore), {{0, 0}}, {std::to_string(tube)});
    SketchStep side;
    side.plane.value = "xz";
    side.offset.text = "40";
    circle(side.drawing, 4, 25, 6);
    const int cut = b.cut(b.step(side), {{4, 25}}, {std::to_string(tube)}, "walls");
    b.change<Extrude>(cut, [](Extrude& e) { e.extent.way.value = "back"; });
    // By slices across the hole: the way through the wall at x is between the circles.
    double one = 0;
    const int slices = 200000;
    for (int i = 0; i < slices; ++i) {
        const double u = 6 * (2 * (i + 0.5) / slices - 1);
        const double x = 4 + u;
        const double wide = 2 * std::sqrt(36 - u * u);
        one += (std::sqrt(900 - x * x) - std::sqrt(400 - x * x)) * wide * 12 / slices;
    }
    EXPECT_NEAR(b.evaluate().report(cut)->output->removed, one, 1e-6 * one);
    b.change<Extrude>(cut, [](Extrude& e) { e.extent.walls.text = "2"; });
    EXPECT_NEAR(b.evaluate().report(cut)->output->removed, 2 * one, 2e-6 * one);
}

TEST(Extent, DimensionsStandWhereTheCutIs) {
    std::mt19937 random(42);
    for (const char* to : {"distance", "symmetric", "two_distances", "everything"}) {
        Builder b;
        const int block = b.box("60", "60", "40");
        sketch::Sketch s;
        circle(s, 10, 0, 5);
        const int cut = b.cut(b.sketch(s, "40"), {{10, 0}}, {std::to_string(block)}, to);
        b.change<Extrude>(cut, [](Extrude& e) {
            e.extent.way.value = "back";
            e.extent.distance.text = "12";
            e.extent.back_distance.text = "3";
        });
        const auto evaluation = b.evaluate();
        const auto& dimensions = evaluation.report(cut)->output->dimensions;
        const std::map<std::string, size_t> wanted{
            {"distance", 1}, {"symmetric", 1}, {"two_distances", 2}, {"everything", 0}};
        ASSERT_EQ(dimensions.size(), wanted.at(to)) << to;
        for (const PlacedDimension& d : dimensions) {
            const double along = std::hypot(d.end[0] - d.start[0], d.end[1] - d.start[1], d.end[2] - d.start[2]);
            EXPECT_NEAR(along * d.factor, d.field == "distance" ? 12 : 3, 1e-9) << to;
            EXPECT_NEAR(d.start[2], 40, 1e-9);
        }
    }
}

TEST(Extent, EndsThatCannotBeAreFindingsOnTheirField) {
    Builder b;
    const int block = b.box("60", "60", "40");
    const BodyId body = std::to_string(block);
    sketch::Sketch s;
    circle(s, 0, 0, 5);
    const int cut = b.cut(b.sketch(s, "40"), {{0, 0}}, {body});
    const auto code_for = [&](const std::function<void(Extent&)>& change) {
        b.change<Extrude>(cut, [&](Extrude& e) {
            e.extent = Extent::everything_behind();
            change(e.extent);
        });
        const auto evaluation = b.evaluate();
        const auto& findings = evaluation.report(cut)->findings;
        EXPECT_NEAR(volume_of(evaluation, body), 144000, 1e-9);
        return findings.empty() ? std::string() : findings[0].code + " on " + findings[0].field;
    };
    EXPECT_EQ(code_for([](Extent& e) {
                  e.to.value = "distance";
                  e.distance.text = "0";
              }),
              "step.size on distance");
    EXPECT_EQ(code_for([](Extent& e) {
                  e.to.value = "two_distances";
                  e.back_distance.text = "-4";
              }),
              "step.size on back_distance");
    EXPECT_EQ(code_for([](Extent& e) {
                  e.from.value = "offset";
                  e.from_offset.text = "deep";
              }),
              "formula.unknown_name on from_offset");
    EXPECT_EQ(code_for([&](Extent& e) {
                  e.to.value = "face";
                  e.to_face = {by_hand(ElementKind::face, body, {30, 0, 20})};
              }),
              "extent.upright_face on to_face");
    EXPECT_EQ(code_for([&](Extent& e) {
                  e.to.value = "face";
                  e.to_face = {by_hand(ElementKind::face, body, {0, 0, 40})};
              }),
              "extent.flat on to");
    EXPECT_EQ(code_for([](Extent& e) {
                  e.to.value = "next_face";
                  e.way.value = "ahead";
              }),
              "extent.no_next_face on to");
    EXPECT_EQ(code_for([](Extent& e) { e.way.value = "ahead"; }), "cut.misses on workpieces");
}

// A cut by a grid of overlapping holes: whatever is decided of its pieces, volume moves and is never lost.
TEST(Verdicts, MoveVolumeAndNeverLoseIt) {
    std::mt19937 random(43);
    Builder b;
    const int block = b.box("80", "60", "12");
    const BodyId body = std::to_string(block);
    sketch::Sketch s;
    std::vector<sketch::Point2> inside;
    for (int i = 0; i < 4; ++i) {
        circle(s, -24 + 16 * i, 0, 7); // clear of each other
        inside.push_back({-24.0 + 16 * i, 0});
    }
    s.add_line(s.add_point(-50, 5), s.add_point(50, 5));
    s.add_line(s.add_point(-50, 8), s.add_point(50, 8));
    s.add_line(s.add_point(-50, 5), s.add_point(-50, 8));
    s.add_line(s.add_point(50, 5), s.add_point(50, 8));
    inside.push_back({-45, 6.5}); // a strip across them
    const int cut = b.cut(b.sketch(s, "12"), inside, {body});
    const auto first = b.evaluate();
    ASSERT_FALSE(first.failed()) << first.report(cut)->findings.at(0).cause;
    const auto pieces = first.report(cut)->output->pieces;
    EXPECT_GE(pieces.size(), 6u);
    for (int round = 0; round < 12; ++round) {
        double goes = 0;
        double apart = 0;
        double stays = 0;
        std::vector<VerdictRule> rules;
        for (const Piece& piece : pieces) {
            const Verdict verdict = static_cast<Verdict>(random() % 3);
            rules.push_back({piece.identity, verdict, piece.center});
            (verdict == Verdict::goes ? goes : verdict == Verdict::apart ? apart : stays) += piece.volume;
        }
        b.change<Extrude>(cut, [&](Extrude& e) { e.verdicts = rules; });
        const auto evaluation = b.evaluate();
        const StepReport& report = *evaluation.report(cut);
        ASSERT_NE(report.state, StepState::failed) << round << " " << report.findings.at(0).cause;
        double others = 0;
        for (const auto& [id, other] : evaluation.bodies_as_of()) {
            EXPECT_TRUE(geom::is_closed(other->shape)) << id;
            others += id == body ? 0 : geom::volume_of(other->shape);
        }
        EXPECT_NEAR(report.output->removed, goes, 1e-6);
        EXPECT_NEAR(others, apart, 1e-6);
        EXPECT_NEAR(volume_of(evaluation, body), stays, 1e-6);
    }
}

TEST(Verdicts, WhatCannotBeDecidedIsSaid) {
    const auto piece = [](const char* body, std::vector<std::string> inside, std::vector<std::string> beside,
                          double x) {
        Piece p;
        p.identity = {body, std::move(inside), std::move(beside), false};
        p.center = {x, 0, 0};
        return p;
    };
    std::vector<Piece> pieces{piece("10", {}, {}, 0), piece("10", {"5+"}, {"10:left"}, -5),
                              piece("10", {"5+"}, {"10:right"}, 5)};
    const auto codes = [&](const VerdictRule& rule) {
        std::string text;
        for (const Finding& finding : apply_verdicts(pieces, {rule}, standard_of(Keeps::outside))) {
            text += finding.code;
        }
        return text;
    };
    EXPECT_EQ(codes({{"10", {"5+"}, {"10:left"}, false}, Verdict::stays, {}}), "");
    EXPECT_EQ(pieces[1].verdict, Verdict::stays);
    EXPECT_EQ(pieces[2].verdict, Verdict::goes);
    EXPECT_EQ(codes({{"10", {"5+"}, {}, false}, Verdict::stays, {}}), "piece.several");
    EXPECT_EQ(codes({{"10", {"7+"}, {}, false}, Verdict::stays, {}}), "piece.lost");
    EXPECT_EQ(codes({{"20", {"5+"}, {"10:left"}, false}, Verdict::stays, {}}), "piece.lost");
    EXPECT_TRUE(std::none_of(pieces.begin(), pieces.end(), [](const Piece& p) { return p.decided; }));
    pieces[1].identity.ambiguous = true;
    pieces[2].identity = pieces[1].identity; // nothing tells the two apart but their places
    const auto block = [](double x) { return BRepPrimAPI_MakeBox(gp_Pnt(x - 2, -2, -2), 4, 4, 4).Solid(); };
    pieces[1].shape = block(-5);
    pieces[2].shape = block(5);
    EXPECT_EQ(codes({pieces[1].identity, Verdict::apart, Place{5, 0, 0}}), "");
    EXPECT_EQ(pieces[2].verdict, Verdict::apart);
    EXPECT_EQ(pieces[1].verdict, Verdict::goes);
    EXPECT_EQ(codes({pieces[1].identity, Verdict::apart, Place{4, 0, 0}}), "piece.by_place"); // it holds the place
    EXPECT_EQ(pieces[2].verdict, Verdict::apart);
    for (const double elsewhere : {1.0, 9.0, -2.9}) { // nearer to one of them is not enough
        EXPECT_EQ(codes({pieces[1].identity, Verdict::apart, Place{elsewhere, 0, 0}}), "piece.several");
        EXPECT_EQ(pieces[2].verdict, Verdict::goes);
    }
    EXPECT_EQ(codes({pieces[1].identity, Verdict::apart, {}}), "piece.several");
}

// --- Ends in the shape of what they meet, and sides that lean
// ---------------------------------------------------------

namespace {

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

int square(Builder& b, double side, const std::string& offset = "0") {
    sketch::Sketch s;
    const double h = side / 2;
    const int p[] = {s.add_point(-h, -h), s.add_point(h, -h), s.add_point(h, h), s.add_point(-h, h)};
    for (int i = 0; i < 4; ++i) {
        s.add_line(p[i], p[(i + 1) % 4]);
    }
    return b.sketch(s, offset);
}
int extrude(Builder& b, int drawn, const std::function<void(Extrude&)>& edit) {
    Extrude step;
    step.sketch.step = drawn;
    step.regions = {{{}, {0.5, 0.5}}};
    edit(step);
    return b.step(step);
}
double frustum(double low, double high, double height) { // of squares, by their sides
    return height / 3 * (low * low + low * high + high * high);
}
// A bar along y, 4 long, round with radius 20, its axis at z = 50.
int bar(Builder& b) {
    Stock stock;
    stock.shape.value = "cylinder";
    stock.diameter.text = "40";
    stock.height.text = "4";
    stock.turn_x.text = "-90 deg";
    stock.y.text = "-2";
    stock.z.text = "50";
    return b.step(stock);
}

} // namespace

TEST(Taper, SidesLeanFromWhereTheyBegin) {
    Builder b;
    b.set("t", "5 deg");
    b.document.parameters.back().unit = "deg";
    const int drawn = square(b, 20);
    const int step = extrude(b, drawn, [](Extrude& e) {
        e.extent.distance.text = "30";
        e.extent.taper.text = "t";
    });
    const auto volume = [&] {
        const auto evaluation = b.evaluate();
        EXPECT_FALSE(evaluation.failed());
        return volume_of(evaluation, std::to_string(step));
    };
    for (const double degrees : {5.0, -8.0, 0.0}) {
        b.set("t", std::to_string(degrees) + " deg");
        const double in = 30 * std::tan(degrees * pi / 180);
        EXPECT_NEAR(volume(), frustum(20, 20 - 2 * in, 30), 1e-7) << degrees;
    }
    b.set("t", "5 deg");
    const double each = std::tan(5 * pi / 180);
    b.change<Extrude>(step, [](Extrude& e) { e.extent.way.value = "back"; });
    EXPECT_NEAR(volume(), frustum(20, 20 - 60 * each, 30), 1e-7);
    b.change<Extrude>(step, [](Extrude& e) { // from the middle, each way by its own
        e.extent.to.value = "symmetric";
        e.extent.back_taper.text = "-2 deg";
    });
    const double wide = 20 + 30 * std::tan(2 * pi / 180);
    EXPECT_NEAR(volume(), frustum(20, 20 - 30 * each, 15) + frustum(20, wide, 15), 1e-7);
    b.change<Extrude>(step, [](Extrude& e) { e.extent.back_taper.text = "0 deg"; });
    EXPECT_NEAR(volume(), frustum(20, 20 - 30 * each, 15) + 400 * 15, 1e-7);
    b.change<Extrude>(step, [](Extrude& e) { e.extent.to.value = "everything_both"; });
    EXPECT_TRUE(has_code(b.evaluate(), step, "step.no_bodies"));
    const int block = b.box("60", "60", "20", "-50"); // all of it lies below
    b.change<Extrude>(step, [&](Extrude& e) {
        e.ends_among = {{ElementKind::body, std::to_string(block), {}, {}, {}}};
    });
    std::rotate(b.document.steps.begin(), b.document.steps.end() - 1, b.document.steps.end());
    EXPECT_NEAR(volume(), frustum(20, 20 - 2 * each, 1) + 400 * 52, 1e-7);
    b.change<Extrude>(step, [](Extrude& e) { e.extent.to.value = "symmetric"; });
    b.set("t", "45 deg"); // the sides would meet
    EXPECT_TRUE(has_code(b.evaluate(), step, "profile.taper"));
    b.set("t", "85 deg");
    EXPECT_TRUE(has_code(b.evaluate(), step, "extent.taper"));
}

TEST(Taper, CutsAndKeepsItsNames) {
    Builder b;
    const int block = b.box("60", "60", "20");
    sketch::Sketch s;
    circle(s, 0, 0, 10);
    const int cut = b.cut(b.sketch(s, "20"), {{0, 0}}, {std::to_string(block)}, "everything");
    b.change<Extrude>(cut, [](Extrude& e) {
        e.extent.way.value = "back";
        e.extent.taper.text = "10 deg";
    });
    for (const double h : {20.0, 26.0}) {
        b.change<Stock>(block, [&](Stock& stock) { stock.height.text = std::to_string(h); });
        b.document = change_step(
            b.document, 20, [&](Step& step) { step.definition.as<SketchStep>()->offset.text = std::to_string(h); });
        const auto evaluation = b.evaluate();
        ASSERT_FALSE(evaluation.failed());
        const double low = 10 - h * std::tan(pi / 18);
        EXPECT_NEAR(evaluation.report(cut)->output->removed, pi * h / 3 * (100 + 10 * low + low * low), 1e-7);
        const auto body = body_of(evaluation, std::to_string(block));
        const auto side = body->names.Find(face_near(body, (10 + low) / 2, 0, h / 2));
        EXPECT_EQ(side.origin.rfind(std::to_string(cut) + ":side/c", 0), 0u);
    }
}

TEST(Ends, InTheShapeOfABodyAndOfAnExtendedFace) {
    Builder b;
    const int round = bar(b);
    const int drawn = square(b, 10);
    const int step = extrude(b, drawn, [&](Extrude& e) {
        e.extent.to.value = "face";
        e.extent.to_face = {{ElementKind::face, std::to_string(round), {}, {}, Place{0, 0, 30}}};
    });
    // Under the bar, which is much shorter than the profile, but its surface goes on: half the width is 5.
    const double under = 10 * (2 * 5 * 50 - (5 * std::sqrt(400.0 - 25) + 400 * std::asin(5 / 20.0)));
    const auto volume = [&] { return volume_of(b.evaluate(), std::to_string(step)); };
    EXPECT_NEAR(volume(), under, 1e-6);
    b.change<Extrude>(step, [](Extrude& e) { e.extent.to_offset.text = "-3"; });
    EXPECT_NEAR(volume(), under - 300, 1e-6);
    b.change<Stock>(round, [](Stock& stock) { stock.z.text = "56"; });
    EXPECT_NEAR(volume(), under + 300, 1e-6);
    const auto body = body_of(b.evaluate(), std::to_string(step));
    EXPECT_EQ(body->names.Find(face_near(body, 0, 0, 33)).text(), std::to_string(step) + ":end");
    // The body itself: only where it is.
    b.change<Extrude>(step, [&](Extrude& e) {
        e.extent.to.value = "body";
        e.extent.to_body = {{ElementKind::body, std::to_string(round), {}, {}, {}}};
    });
    EXPECT_TRUE(has_code(b.evaluate(), step, "profile.no_end"));
    b.change<Stock>(round, [](Stock& stock) {
        stock.height.text = "40";
        stock.y.text = "-20";
        stock.z.text = "50";
    });
    b.change<Extrude>(step, [](Extrude& e) { e.extent.to_offset.text = "0"; });
    EXPECT_NEAR(volume(), under, 1e-6);
    b.change<Extrude>(step, [](Extrude& e) { e.extent.way.value = "back"; });
    EXPECT_TRUE(has_code(b.evaluate(), step, "profile.no_end"));
    b.change<Extrude>(step, [](Extrude& e) { // it begins beyond the body, and does not turn round by itself
        e.extent.way.value = "ahead";
        e.extent.from.value = "offset";
        e.extent.from_offset.text = "200";
    });
    EXPECT_TRUE(has_code(b.evaluate(), step, "profile.no_end"));
}

TEST(Ends, NextFacesHaveOffsetsAndNewBodiesEndAtOthers) {
    Builder b;
    const int block = b.box("60", "60", "20", "30");
    const int drawn = square(b, 10);
    const int step = extrude(b, drawn, [&](Extrude& e) {
        e.extent.to.value = "next_face";
        e.ends_among = {{ElementKind::body, std::to_string(block), {}, {}, {}}};
    });
    const auto volume = [&] { return volume_of(b.evaluate(), std::to_string(step)); };
    EXPECT_NEAR(volume(), 100 * 50, 1e-8); // it comes out of the block at 50
    b.change<Extrude>(step, [](Extrude& e) { e.extent.to_offset.text = "-20"; });
    EXPECT_NEAR(volume(), 100 * 30, 1e-8);
    b.change<Stock>(block, [](Stock& stock) { stock.height.text = "24"; });
    EXPECT_NEAR(volume(), 100 * 34, 1e-8);
    b.change<Extrude>(step, [](Extrude& e) { e.ends_among.clear(); });
    EXPECT_TRUE(has_code(b.evaluate(), step, "step.no_bodies"));
}

// Plates with a drum between them: four holes through both plates, and nothing of the drum.
TEST(Ends, OnlyTickedBodiesAreCutAlsoWhenOthersLieBetween) {
    Builder b;
    b.set("upper", "10 mm");
    b.set("d", "12 mm");
    const int low = b.box("120", "120", "10");
    const int high = b.box("120", "120", "upper", "50");
    Stock stock;
    stock.shape.value = "cylinder";
    stock.diameter.text = "80";
    stock.height.text = "40";
    stock.z.text = "10";
    const int drum = b.step(stock);
    sketch::Sketch s;
    for (const auto& [x, y] :
         {std::pair(20.0, 20.0), std::pair(-20.0, 20.0), std::pair(-20.0, -20.0), std::pair(20.0, -20.0)}) {
        circle(s, x, y, 6, "d");
    }
    const int cut =
        b.cut(b.sketch(s), {{20, 20}, {-20, 20}, {-20, -20}, {20, -20}}, {std::to_string(low), std::to_string(high)});
    const auto removed = [&] {
        const auto evaluation = b.evaluate();
        EXPECT_FALSE(evaluation.failed());
        EXPECT_NEAR(volume_of(evaluation, std::to_string(drum)), 64000 * pi, 1e-6);
        return evaluation.report(cut)->output->removed;
    };
    EXPECT_NEAR(removed(), 2880 * pi, 1e-7);
    b.set("upper", "14 mm");
    EXPECT_NEAR(removed(), 3456 * pi, 1e-7);
    b.set("d", "10 mm");
    EXPECT_NEAR(removed(), 2400 * pi, 1e-7);
}
