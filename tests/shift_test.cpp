// Shifted faces, against closed formulas: neighbours are cut anew, names and counts stay.
#include "model_fixture.h"

#include "geom/alter/shift.h"
#include "geom/make/stock.h"
#include "geom/outline/profile.h"
#include "model/steps/draft_faces/draft_faces.h"
#include "model/steps/round_edges/round_edges.h"
#include "model/steps/shift_faces/shift_faces.h"
#include "model/steps/sketch/sketch_step.h"

#include <TopoDS.hxx>

#include <random>

using namespace kervo;
using namespace kervo::model;
using namespace kervo::model::test;

namespace {

Reference face_at(int body, double x, double y, double z) {
    return {ElementKind::face, std::to_string(body), {}, {}, Place{x, y, z}};
}

struct Shifts : ::testing::Test {
    Builder b;
    int block = b.box("40", "30", "20");
    int step = 0;

    void shift(const References& faces, const std::function<void(ShiftFaces&)>& edit = {}) {
        ShiftFaces definition;
        definition.faces = faces;
        if (edit) {
            edit(definition);
        }
        step = b.step(definition);
    }
    void change(const std::function<void(ShiftFaces&)>& edit) { b.change<ShiftFaces>(step, edit); }
    double volume() {
        const auto evaluation = b.evaluate();
        for (const auto& finding : evaluation.report(step)->findings) {
            ADD_FAILURE() << finding.code << ": " << finding.cause;
        }
        return volume_of(evaluation, std::to_string(block));
    }
    std::string says() {
        const auto evaluation = b.evaluate();
        const auto& findings = evaluation.report(step)->findings;
        return findings.empty() ? "" : findings.front().code;
    }
    void drill(double x, double y, double r, const std::string& plane = "xy") {
        SketchStep definition;
        definition.plane.value = plane;
        circle(definition.drawing, x, y, r);
        const int drawn = b.step(definition);
        b.cut(drawn, {{x, y}}, {std::to_string(block)});
    }
};

TEST_F(Shifts, FlatOnesOutwardsAlongAndTurned) {
    shift({face_at(block, 0, 0, 20)}, [](ShiftFaces& s) { s.distance.text = "up"; });
    b.set("up", "5 mm");
    EXPECT_NEAR(volume(), 40 * 30 * 25, 1e-7);
    b.set("up", "-8 mm");
    EXPECT_NEAR(volume(), 40 * 30 * 12, 1e-7);
    const auto report = b.evaluate().report(step)->output;
    EXPECT_NEAR(report->removed, 40 * 30 * 8, 1e-7);
    b.set("up", "-20 mm");
    EXPECT_EQ(says(), "shift.runs_past");
    b.set("up", "4 mm");
    change([](ShiftFaces& s) { s.motion.value = "along"; });
    EXPECT_NEAR(volume(), 40 * 30 * 24, 1e-7);
    change([](ShiftFaces& s) {
        s.motion.value = "turned";
        s.axis.value = "y";
        s.angle.text = "10 deg";
    });
    // About the y-axis below the block, the upper face turns to z = (20 - x sin 10) / cos 10.
    EXPECT_NEAR(volume(), 40 * 30 * 20 / std::cos(10 * pi / 180), 1e-6);
    change([&](ShiftFaces& s) {
        s.axis.value = "element";
        s.about = {{ElementKind::edge, std::to_string(block), {}, {}, Place{20, 0, 20}}};
    });
    const double rise = std::fabs(40 * std::tan(10 * pi / 180));
    const double turned = volume();
    EXPECT_NEAR(std::fabs(turned - 24000), rise * 40 / 2 * 30, 1e-6);
    const auto body = body_of(b.evaluate(), std::to_string(block));
    EXPECT_EQ(geom::faces_of(body->shape).size(), 6U);
    EXPECT_EQ(body->names.Find(face_near(body, 20, 0, 10)).text(), "10:right");
}

TEST_F(Shifts, SlopingNeighboursStayOnTheirPlanes) {
    DraftFaces draft;
    draft.faces = {face_at(block, 20, 0, 10), face_at(block, -20, 0, 10)};
    draft.neutral = {face_at(block, 0, 0, 0)};
    draft.way.value = "in";
    draft.angle.text = "20 deg";
    b.step(draft);
    const double lean = std::tan(20 * pi / 180);
    shift({face_at(block, 0, 0, 20)}, [](ShiftFaces& s) { s.distance.text = "6"; });
    EXPECT_NEAR(volume(), 30 * (40 * 26 - lean * 26 * 26), 1e-6);
    change([](ShiftFaces& s) { s.distance.text = "-9"; });
    EXPECT_NEAR(volume(), 30 * (40 * 11 - lean * 11 * 11), 1e-6);
}

TEST_F(Shifts, BoresGrowShrinkAndMove) {
    drill(5, 0, 6);
    const double whole = 40 * 30 * 20;
    shift({face_at(block, 11, 0, 10)}, [](ShiftFaces& s) { s.distance.text = "2"; });
    EXPECT_NEAR(volume(), whole - pi * 16 * 20, 1e-6); // out of the material: the bore gets narrower
    change([](ShiftFaces& s) { s.distance.text = "-3"; });
    EXPECT_NEAR(volume(), whole - pi * 81 * 20, 1e-6);
    change([](ShiftFaces& s) { s.distance.text = "6"; });
    EXPECT_EQ(says(), "shift.surface"); // nothing is left of it
    change([](ShiftFaces& s) {
        s.motion.value = "along";
        s.direction.value = "x";
        s.distance.text = "-12";
    });
    EXPECT_NEAR(volume(), whole - pi * 36 * 20, 1e-6);
    const auto body = body_of(b.evaluate(), std::to_string(block));
    EXPECT_LT(geom::nearest_element(body->shape, TopAbs_FACE, gp_Pnt(-1, 0, 10)).distance, 1e-7);
    change([](ShiftFaces& s) { s.distance.text = "-30"; });
    EXPECT_EQ(says(), "shift.runs_past"); // out of the block
    // And the face that it opens in.
    change([&](ShiftFaces& s) {
        s.faces = {face_at(block, -15, 10, 20)};
        s.motion.value = "outwards";
        s.distance.text = "4";
    });
    EXPECT_NEAR(volume(), (40 * 30 - pi * 36) * 24, 1e-6);
}

TEST_F(Shifts, WhereBoresCross) {
    drill(0, 0, 5);
    drill(0, 10, 5, "xz");
    const auto before = volume_of(b.evaluate(), std::to_string(block));
    shift({face_at(block, 15, 10, 20), face_at(block, 20, 10, 15)}, [](ShiftFaces& s) { s.distance.text = "3"; });
    // Two equal bores that cross share 16 r^3 / 3; the shifted faces add a plate each, less the bore that opens there.
    EXPECT_NEAR(before, 24000 - pi * 25 * (20 + 30) + 16 * 125 / 3.0, 1e-3);
    EXPECT_NEAR(volume(), before + 43 * 30 * 23 - 24000 - pi * 25 * 3, 1e-3);
}

TEST_F(Shifts, AWallGetsLowerAndItsDoorWider) {
    Builder building;
    b = std::move(building);
    block = b.box("10 m", "0.3 m", "3 m");
    sketch::Sketch front;
    front.add_rectangle({-4000, 0}, {-3000, 2100});
    front.add_rectangle({-1000, 900}, {200, 2100});
    SketchStep on;
    on.plane.value = "xz";
    on.drawing = front;
    const int drawn = b.step(on);
    b.cut(drawn, {{-3500, 100}, {0, 1000}}, {std::to_string(block)});
    const double m3 = 1e9;
    const double holes = (2.1 + 1.44) * 0.3;
    EXPECT_NEAR(volume_of(b.evaluate(), std::to_string(block)) / m3, 9 - holes, 1e-9);
    shift({face_at(block, 0, 0, 3000)}, [](ShiftFaces& s) { s.distance.text = "-0.3 m"; });
    EXPECT_NEAR(volume() / m3, 8.1 - holes, 1e-9);
    shift({face_at(block, -3000, 0, 1000)}, [](ShiftFaces& s) { s.distance.text = "-0.2 m"; });
    EXPECT_NEAR(volume() / m3, 8.1 - holes - 0.2 * 2.1 * 0.3, 1e-9);
    const auto body = body_of(b.evaluate(), std::to_string(block));
    EXPECT_EQ(geom::faces_of(body->shape).size(), 6U + 3U + 4U + 1U); // the floor is in two parts
    for (const auto& face : geom::faces_of(body->shape)) {
        EXPECT_TRUE(geom::plane_of(face).has_value()); // flat stays flat
    }
}

TEST_F(Shifts, RoundsMustComeAlong) {
    RoundEdges round;
    round.radius.text = "4";
    round.choice.edges = {{ElementKind::edge, std::to_string(block), {}, {}, Place{20, 0, 20}}};
    b.step(round);
    const double rounded = (16 - pi * 4) * 30;
    shift({face_at(block, 0, 0, 20)}, [](ShiftFaces& s) { s.distance.text = "3"; });
    EXPECT_EQ(says(), "shift.smooth");
    change([&](ShiftFaces& s) {
        s.faces.push_back(face_at(block, 18.8, 0, 18.8));
        s.faces.push_back(face_at(block, 20, 0, 8));
    });
    // All three outwards: the round grows to a radius of 7 about its old axis.
    EXPECT_NEAR(volume(), 43 * 30 * 23 - (49 - pi * 49 / 4) * 30, 1e-6);
    EXPECT_NEAR(rounded, (16 - pi * 4) * 30, 1e-12);
}

TEST_F(Shifts, FacesWithoutAHistory) {
    // What is referred to by hand alone, as on a body from a file; and two bodies in one step.
    const int other = b.box("10", "10", "10", "0", "60");
    shift({face_at(block, 0, 0, 20), face_at(other, 60, 0, 10)}, [](ShiftFaces& s) {
        s.motion.value = "along";
        s.distance.text = "7";
    });
    EXPECT_NEAR(volume(), 40 * 30 * 27, 1e-7);
    EXPECT_NEAR(volume_of(b.evaluate(), std::to_string(other)), 1700, 1e-7);
}

// A block with random planes cut off it, and what the same planes give with one of them elsewhere.
struct Faceted {
    std::vector<gp_Pln> planes; ///< normals out of the material
    std::mt19937 random;

    explicit Faceted(unsigned seed) : random(seed) {
        for (const auto& [x, y, z] :
             std::vector<std::array<double, 3>>{{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}}) {
            planes.emplace_back(gp_Pnt(20 * x, 20 * y, 20 * z), gp_Dir(x, y, z));
        }
        for (int i = 0; i < 5; ++i) {
            const gp_Dir out(pick(-1, 1), pick(-1, 1), pick(-1, 1));
            planes.emplace_back(gp_Pnt(0, 0, 0).Translated(gp_Vec(out) * pick(14, 26)), out);
        }
    }
    double pick(double low, double high) { return std::uniform_real_distribution<double>(low, high)(random); }

    [[nodiscard]] TopoDS_Shape solid() const {
        geom::ShapeWithRoles made = geom::make_box(200, 200, 200, gp_Ax3(gp_Pnt(0, 0, -100), gp::DZ(), gp::DX()));
        for (const gp_Pln& plane : planes) {
            if (const auto trimmed = geom::trim_by_plane(made, plane, gp_Pnt(0, 0, 0), "cut")) {
                made = *trimmed;
            }
        }
        return geom::solids_of(made.shape).front();
    }
};

TEST(ShiftedFaces, AgreeWithTheSamePlanesElsewhere) {
    int shifted = 0;
    int refused = 0;
    for (unsigned seed = 1; seed <= 16; ++seed) {
        Faceted block(seed);
        const TopoDS_Shape before = block.solid();
        std::erase_if(block.planes, [&](const gp_Pln& plane) { // those that touch nothing
            const auto faces = geom::faces_of(before);
            return std::none_of(faces.begin(), faces.end(), [&](const TopoDS_Shape& face) {
                return geom::plane_of(face)->Axis().Direction().IsEqual(plane.Axis().Direction(), 1e-9);
            });
        });
        for (const TopoDS_Shape& face : geom::faces_of(before)) {
            const auto plane = geom::plane_of(face);
            const auto which = std::find_if(block.planes.begin(), block.planes.end(), [&](const gp_Pln& one) {
                return one.Axis().Direction().IsEqual(plane->Axis().Direction(), 1e-9);
            });
            ASSERT_NE(which, block.planes.end());
            geom::Shift shift;
            shift.outwards = block.pick(-4, 4);
            const auto made = geom::shift_faces(before, {TopoDS::Face(face)}, shift);
            Faceted moved = block;
            moved.planes[static_cast<size_t>(which - block.planes.begin())].Translate(
                gp_Vec(which->Axis().Direction()) * shift.outwards);
            const TopoDS_Shape wanted = moved.solid();
            // Which plane has how many edges: a shift may also swap an edge for one between two others.
            const auto structure = [](const TopoDS_Shape& shape) {
                std::map<std::array<long, 3>, size_t> edges;
                for (const TopoDS_Shape& each : geom::faces_of(shape)) {
                    const gp_Dir out = geom::plane_of(each)->Axis().Direction();
                    edges[{std::lround(out.X() * 1e6), std::lround(out.Y() * 1e6), std::lround(out.Z() * 1e6)}] =
                        geom::edges_of(each).size();
                }
                return edges;
            };
            if (made) {
                ++shifted;
                EXPECT_NEAR(geom::volume_of(made->shape), geom::volume_of(wanted), 1e-6) << seed;
                EXPECT_EQ(structure(made->shape), structure(wanted)) << seed;
            } else { // only where the shift would make or swallow faces or edges
                ++refused;
                EXPECT_NE(structure(before), structure(wanted)) << seed << " " << made.finding().code;
            }
        }
    }
    EXPECT_GT(shifted, 80);
    EXPECT_GT(refused, 5);
    RecordProperty("shifted", shifted);
    RecordProperty("refused", refused);
}

} // namespace
