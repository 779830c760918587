// References survive changes. What a reference must find is decided by geometry alone, never by the names.
#include "model_fixture.h"

#include "geom/outline/profile.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/sketch/sketch_step.h"

#include <random>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

// A face as geometry knows it: which way it looks and a place that must lie on it.
using Oracle = std::function<bool(const TopoDS_Shape&)>;

bool lies_on(const TopoDS_Shape& face, double x, double y, double z) {
    return geom::distance_to(face, gp_Pnt(x, y, z)) < 1e-6;
}

} // namespace

TEST(Names, FacesOfStockAreNamedAndUnique) {
    Builder b;
    const int box = b.box("100", "60", "20");
    const BodyPtr body = body_of(b.evaluate(), std::to_string(box));
    std::set<std::string> names;
    for (const TopoDS_Shape& face : geom::faces_of(body->shape)) {
        names.insert(body->names.Find(face).text());
    }
    EXPECT_EQ(names.size(), 6u);
    EXPECT_TRUE(names.contains("10:top"));
}

TEST(Names, TextAndBack) {
    const FaceName name{"10:top", {"10:left", "30:side/c4"}, true};
    EXPECT_EQ(FaceName::parse(name.text()), name);
    EXPECT_EQ(name.text(), "10:top[+10:left][+30:side/c4][?]");
    EXPECT_EQ(FaceName::parse("20:side"), (FaceName{"20:side", {}, false}));
}

TEST(Names, PartsAreToldApartByTheirNeighbours) {
    const auto apart = tell_apart({{"a", "b", "left"}, {"a", "b", "right"}});
    EXPECT_EQ(apart[0].own, std::vector<std::string>{"left"});
    EXPECT_FALSE(apart[0].ambiguous);
    const auto alike = tell_apart({{"a"}, {"a"}});
    EXPECT_TRUE(alike[0].ambiguous);
}

TEST(Names, EveryElementIsFoundAgainUnchanged) {
    Builder b;
    const int block = b.box("60", "40", "20");
    sketch::Sketch s;
    circle(s, 10, 5, 4);
    s.add_rectangle({-40, -3}, {0, 3}); // opens the left side
    b.cut(b.sketch(s), {{10, 5}, {-10, 0}}, {std::to_string(block)});
    const BodyPtr body = body_of(b.evaluate(), std::to_string(block));
    ASSERT_TRUE(body);
    for (const auto& elements :
         {geom::faces_of(body->shape), geom::edges_of(body->shape), geom::vertices_of(body->shape)}) {
        for (const TopoDS_Shape& element : elements) {
            const Reference reference = refer_to(std::to_string(block), *body, element);
            const Resolved found = resolve(reference, body.get());
            ASSERT_FALSE(found.element.IsNull()) << reference.faces.size();
            EXPECT_TRUE(found.element.IsSame(element));
        }
    }
}

TEST(Names, HandMadePicksBecomeNames) {
    Builder b;
    b.set("h", "20");
    const int block = b.box("60", "40", "h");
    SketchStep on_top;
    on_top.plane.value = "face";
    on_top.face = {{ElementKind::face, std::to_string(block), {}, {}, Place{1, 1, 20}}};
    const int drawn = b.step(on_top);
    b.evaluate();
    EXPECT_EQ(b.document.step(drawn)->definition.as<SketchStep>()->face[0].faces, std::vector<std::string>{"10:top"});
    b.set("h", "55");
    EXPECT_NEAR(b.evaluate().sketches.at(drawn)->frame.Location().Z(), 55, 1e-12);
    b.change<SketchStep>(drawn, [](SketchStep& s) {
        s.face[0] = {ElementKind::face, s.face[0].body, {}, {}, Place{0, 0, 27.5}};
    });
    EXPECT_TRUE(
        has_code(b.evaluate(), drawn, "names.ambiguous")); // the middle of the block is as far from above as from below
}

// A plate cut in two by a slot, holes, dimensions, an extra step: whatever changes, a reference finds the right element
// or there is a finding.
class Survival : public ::testing::TestWithParam<int> {};

TEST_P(Survival, RightElementOrFinding) {
    std::mt19937 random(static_cast<unsigned>(GetParam()));
    const auto pick = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random);
    };
    Builder b;
    b.set("w", "100");
    b.set("h", "20");
    b.set("slot", "10");
    b.set("place", "0");
    const int plate = b.box("w", "60", "h");
    const std::string id = std::to_string(plate);
    // The slot: a rectangle through the whole depth, its left side at `place`.
    sketch::Sketch slot;
    const int origin = slot.add_point(0, 0);
    slot.add_constraint(sketch::ConstraintKind::fixed, {origin});
    const auto sides = slot.add_rectangle({0, -40}, {10, 40});
    slot.add_constraint(sketch::ConstraintKind::horizontal_distance, {origin, slot.curve(sides[0])->points[0]},
                        "place");
    slot.add_constraint(sketch::ConstraintKind::vertical_distance, {origin, slot.curve(sides[0])->points[0]}, "-40");
    slot.add_constraint(sketch::ConstraintKind::distance, {sides[0]}, "slot");
    slot.add_constraint(sketch::ConstraintKind::distance, {sides[1]}, "80");
    const int slot_sketch = b.sketch(slot);
    sketch::Sketch hole;
    circle(hole, -30, 10, 4);
    const int hole_sketch = b.sketch(hole);
    const int slot_cut = b.cut(slot_sketch, {{5, 0}}, {id});
    const int hole_cut = b.cut(hole_sketch, {{-30, 10}}, {id});

    auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed()) << evaluation.report(slot_cut)->findings.size();
    const BodyPtr before = body_of(evaluation, id);
    const auto value = [&](const char* name) { return evaluation.parameters.values.at(name).value; };
    // References, each with the oracle that says what it means.
    struct Watched {
        const char* what;
        Reference reference;
        Oracle right;
    };
    const auto looks = [](const TopoDS_Shape& face, const gp_Dir& way) {
        const auto plane = geom::plane_of(face);
        return plane && plane->Axis().Direction().IsEqual(way, 1e-9);
    };
    bool slotted = true;
    std::vector<Watched> watched{
        {"upper face, left part", refer_to(id, *before, face_near(before, -49, -29, 20)),
         [&](const TopoDS_Shape& f) {
             return looks(f, gp_Dir(0, 0, 1)) && lies_on(f, -value("w") / 2 + 1e-3, -29, value("h"));
         }},
        {"upper face, right part", refer_to(id, *before, face_near(before, 49, -29, 20)),
         [&](const TopoDS_Shape& f) {
             return looks(f, gp_Dir(0, 0, 1)) && lies_on(f, value("w") / 2 - 1e-3, -29, value("h"));
         }},
        {"front face, right part", refer_to(id, *before, face_near(before, 45, -30, 10)),
         [&](const TopoDS_Shape& f) {
             return looks(f, gp_Dir(0, -1, 0)) && lies_on(f, value("w") / 2 - 1e-3, -30, 1);
         }},
        {"slot, left wall", refer_to(id, *before, face_near(before, 0, 0, 10)),
         [&](const TopoDS_Shape& f) { return looks(f, gp_Dir(1, 0, 0)) && lies_on(f, value("place"), 1, 1); }},
        {"slot, right wall", refer_to(id, *before, face_near(before, 10, 0, 10)),
         [&](const TopoDS_Shape& f) {
             return looks(f, gp_Dir(-1, 0, 0)) && lies_on(f, value("place") + value("slot"), 1, 1);
         }},
        {"hole", refer_to(id, *before, face_near(before, -26, 10, 10)),
         [&](const TopoDS_Shape& f) { return geom::surface_kind(f) == "cylinder" && lies_on(f, -26, 10, 1); }},
        {"left end", refer_to(id, *before, face_near(before, -50, 0, 10)),
         [&](const TopoDS_Shape& f) { return looks(f, gp_Dir(-1, 0, 0)) && lies_on(f, -value("w") / 2, 0, 1); }}};

    int found = 0;
    for (int round = 0; round < 12; ++round) {
        switch (std::uniform_int_distribution<int>(0, 7)(random)) {
        case 0:
            b.set("w", std::to_string(pick(80, 160)));
            break;
        case 1:
            b.set("h", std::to_string(pick(8, 40)));
            break;
        case 2:
            b.set("slot", std::to_string(pick(3, 16)));
            break;
        case 3:
            b.set("place", std::to_string(pick(-18, 15)));
            break;
        case 7: // the curve that came last goes again, with all that hangs on it
            b.change<SketchStep>(hole_sketch, [&](SketchStep& s) {
                if (s.drawing.curves.size() > 1) {
                    s.drawing.remove(s.drawing.curves.back().id);
                }
            });
            b.change<Extrude>(hole_cut, [&](Extrude& c) {
                const auto& left = b.document.step(hole_sketch)->definition.as<SketchStep>()->drawing.curves;
                std::erase_if(c.regions, [&](const sketch::RegionReference& region) {
                    return std::none_of(left.begin(), left.end(), [&](const sketch::Curve& curve) {
                        return region.bounds == std::vector<std::string>{std::to_string(curve.id) + "+"};
                    });
                });
            });
            break;
        case 4: { // a curve more in the slot's sketch, and a hole more
            b.change<SketchStep>(hole_sketch,
                                 [&](SketchStep& s) { circle(s.drawing, pick(25, 35), pick(-15, -5), pick(1, 3)); });
            b.change<Extrude>(hole_cut, [&](Extrude& c) {
                const auto& added = b.document.step(hole_sketch)->definition.as<SketchStep>()->drawing;
                const auto* center = added.point(added.curves.back().points[0]);
                c.regions.push_back({{std::to_string(added.curves.back().id) + "+"}, {center->x, center->y}});
            });
            break;
        }
        case 5:
            slotted = !slotted;
            b.document = change_step(b.document, slot_cut, [&](Step& s) { s.suspended = !slotted; });
            break;
        case 6: // the two cuts change places
            b.document = move_step(b.document, hole_cut, b.document.index_of(slot_cut));
            break;
        }
        evaluation = b.evaluate();
        const BodyPtr after = body_of(evaluation, id);
        ASSERT_TRUE(after);
        for (const Watched& w : watched) {
            const Resolved resolved = resolve(w.reference, after.get());
            if (resolved.element.IsNull()) {
                ASSERT_TRUE(resolved.finding.has_value()) << w.what;
                // A hole that has come to lie across the slot's wall leaves parts of it, and none of them is the whole.
                const auto& holes = b.document.step(hole_sketch)->definition.as<SketchStep>()->drawing;
                const bool crossed = std::any_of(holes.curves.begin(), holes.curves.end(), [&](const sketch::Curve& c) {
                    return std::fabs(holes.point(c.points[0])->x - value("place") - value("slot")) < c.radius;
                });
                EXPECT_FALSE(slotted && !crossed && evaluation.report(slot_cut)->state == StepState::ok)
                    << w.what << " was lost though it is there, round " << round;
                continue;
            }
            const bool right = w.right(resolved.element);
            EXPECT_TRUE(right || resolved.finding.has_value())
                << w.what << " silently became another element, round " << round << ", slotted " << slotted
                << ", wanted " << w.reference.faces[0] << ", got " << after->names.Find(resolved.element).text();
            found += right ? 1 : 0;
        }
    }
    EXPECT_GT(found, 12); // finding nothing at all would be safe, but no use
}

INSTANTIATE_TEST_SUITE_P(ManyChanges, Survival, ::testing::Range(1, 25));

TEST(Names, EdgesAndVerticesFollowDimensions) {
    Builder b;
    b.set("w", "100");
    const int plate = b.box("w", "60", "20");
    sketch::Sketch s;
    circle(s, 10, 0, 8);
    b.cut(b.sketch(s), {{10, 0}}, {std::to_string(plate)});
    const BodyPtr before = body_of(b.evaluate(), std::to_string(plate));
    const auto rim =
        refer_to("10", *before, geom::nearest_element(before->shape, TopAbs_EDGE, gp_Pnt(18, 0, 20)).element);
    const auto corner =
        refer_to("10", *before, geom::nearest_element(before->shape, TopAbs_VERTEX, gp_Pnt(50, 30, 20)).element);
    for (const char* w : {"120", "60", "44.5"}) {
        b.set("w", w);
        const BodyPtr after = body_of(b.evaluate(), std::to_string(plate));
        const auto found_rim = resolve(rim, after.get());
        const auto found_corner = resolve(corner, after.get());
        ASSERT_FALSE(found_rim.element.IsNull());
        ASSERT_FALSE(found_corner.element.IsNull());
        EXPECT_NEAR(geom::length_of(found_rim.element), 16 * pi, 1e-9);
        EXPECT_NEAR(geom::center_of(found_rim.element).Z(), 20, 1e-9);
        EXPECT_LT(geom::center_of(found_corner.element).Distance(gp_Pnt(std::stod(w) / 2, 30, 20)), 1e-9);
    }
}

TEST(Names, LostReferencesSayWhereTheyWere) {
    Builder b;
    const int plate = b.box("100", "60", "20");
    sketch::Sketch s;
    circle(s, 10, 0, 8);
    const int cut = b.cut(b.sketch(s), {{10, 0}}, {std::to_string(plate)});
    const BodyPtr before = body_of(b.evaluate(), std::to_string(plate));
    const auto wall = refer_to("10", *before, face_near(before, 18, 0, 10));
    b.document = remove_step(b.document, cut);
    const auto lost = resolve(wall, body_of(b.evaluate(), "10").get());
    EXPECT_TRUE(lost.element.IsNull());
    ASSERT_TRUE(lost.finding.has_value());
    EXPECT_EQ(lost.finding->code, "names.lost");
    ASSERT_EQ(lost.finding->places.size(), 1u);
    EXPECT_NEAR(lost.finding->places[0][0], 10, 1e-6);
    EXPECT_EQ(resolve(wall, nullptr).finding->code, "names.no_body");
}

TEST(Names, SurviveUniting) {
    Builder b;
    b.set("boss", "10");
    const int plate = b.box("60", "60", "10");
    sketch::Sketch s;
    circle(s, 0, 0, 10);
    Extrude boss;
    boss.sketch.step = b.sketch(s, "10");
    boss.regions = {{{}, {0, 0}}};
    boss.extent.distance.text = "boss";
    boss.result.value = "united";
    boss.unite_with = {{ElementKind::body, std::to_string(plate), {}, {}, {}}};
    b.step(boss);
    const BodyPtr before = body_of(b.evaluate(), "10");
    const auto top = refer_to("10", *before, face_near(before, 0, 0, 20));
    const auto deck = refer_to("10", *before, face_near(before, 25, 25, 10));
    b.set("boss", "33");
    const BodyPtr after = body_of(b.evaluate(), "10");
    EXPECT_NEAR(geom::center_of(resolve(top, after.get()).element).Z(), 43, 1e-9);
    EXPECT_NEAR(geom::center_of(resolve(deck, after.get()).element).Z(), 10, 1e-9);
}

// An id of a deleted step is not given again: what referred to its body must not find another one.
TEST(Names, IdsOfDeletedStepsStayTaken) {
    Builder b;
    const int first = b.box("60", "60", "10");
    const int second = b.box("60", "60", "10", "10");
    b.document = move_step(b.document, first, 1);
    b.document = remove_step(b.document, second);
    const int third = b.box("5", "5", "5");
    EXPECT_NE(third, second);
    EXPECT_GT(third, second);
    Reference reference;
    reference.body = std::to_string(second);
    EXPECT_EQ(body_of(b.evaluate(), reference.body), nullptr);
}

// Two cuts that divide the same face one after the other: parts of parts keep their names.
TEST(Names, PartsOfPartsFollow) {
    Builder b;
    b.set("gap", "6");
    const std::string plate = std::to_string(b.box("100", "100", "10"));
    for (const bool upright : {true, false}) {
        sketch::Sketch s;
        const int origin = s.add_point(0, 0);
        s.add_constraint(sketch::ConstraintKind::fixed, {origin});
        const auto sides = upright ? s.add_rectangle({-3, -60}, {3, 60}) : s.add_rectangle({-60, -3}, {60, 3});
        const size_t narrow = upright ? 0 : 1;
        s.add_constraint(sketch::ConstraintKind::distance, {sides[narrow]}, "gap");
        s.add_constraint(sketch::ConstraintKind::distance, {sides[1 - narrow]}, "120");
        const int corner = s.curve(sides[0])->points[0];
        s.add_constraint(sketch::ConstraintKind::horizontal_distance, {corner, origin}, upright ? "gap / 2" : "60");
        s.add_constraint(sketch::ConstraintKind::vertical_distance, {corner, origin}, upright ? "60" : "gap / 2");
        b.cut(b.sketch(s), {{0, 0}}, {plate});
    }
    const auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    const BodyPtr before = body_of(evaluation, plate);
    ASSERT_EQ(geom::count(before->shape).lumps, 4);
    const double corners[4][2] = {{-49, -49}, {49, -49}, {49, 49}, {-49, 49}};
    std::vector<Reference> tops;
    for (const auto& corner : corners) {
        tops.push_back(refer_to(plate, *before, face_near(before, corner[0], corner[1], 10)));
    }
    for (const char* gap : {"2", "14", "30"}) {
        b.set("gap", gap);
        const BodyPtr after = body_of(b.evaluate(), plate);
        for (size_t i = 0; i < 4; ++i) {
            const auto found = resolve(tops[i], after.get());
            ASSERT_FALSE(found.element.IsNull()) << gap << ' ' << i << ' ' << tops[i].faces[0];
            EXPECT_FALSE(found.finding) << gap << ' ' << i << ' ' << tops[i].faces[0];
            EXPECT_TRUE(lies_on(found.element, corners[i][0], corners[i][1], 10)) << gap << ' ' << i;
        }
    }
}
