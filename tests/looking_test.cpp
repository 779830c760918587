// Cutaways: what they take away, whom they concern, and the faces that they cut, against formulas.
#include "geom/make/stock.h"
#include "geom/measure/measure.h"
#include "io/document/document_json.h"
#include "model/document/groups_and_layers.h"
#include "model/looking/open_up.h"
#include "model/looking/taken_away.h"

#include <gtest/gtest.h>

#include <numbers>

using namespace kervo;
using namespace kervo::model;
using Form = Cutaway::Form;
using Scope = Cutaway::Scope;

namespace {

constexpr double pi = std::numbers::pi;
const gp_Ax3 here(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
const gp_Ax3 below(gp_Pnt(0, 0, -50), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));

BodyPtr body(const geom::ShapeWithRoles& made, int step = 10) {
    return name_fresh(step, made);
}

Cutaway of_form(Form shape, const std::string& letter = "A") {
    Cutaway cutaway;
    cutaway.letter = letter;
    cutaway.form = shape;
    cutaway.normal = {0, 0, 1};
    return cutaway;
}

double area_of(const Opened& opened, const std::string& letter) {
    double sum = 0;
    for (const CutFace& face : opened.faces) {
        sum += face.letter == letter ? face.area : 0;
    }
    return sum;
}

Opened open(const BodyPtr& body, const std::vector<Cutaway>& cutaways, const CuttingBodies& cutting = {}) {
    Progress progress;
    const auto opened = open_up(*body, cutaways, cutting, progress);
    EXPECT_TRUE(opened.ok()) << (opened.ok() ? "" : opened.finding().cause);
    return opened.ok() ? *opened : Opened{};
}

double left(const Opened& opened) {
    return opened.left ? geom::volume_of(opened.left->shape) : 0;
}

// How much of a line is left, between -1000 and 1000.
double left_of_line(const std::vector<Cutaway>& cutaways, const Line3& line) {
    double sum = 0;
    for (const auto& [from, to] : left_of(cutaways, line, [](const auto&, const auto&) { return Stretches(); })) {
        sum += std::max(std::min(to, 1000.0) - std::max(from, -1000.0), 0.0);
    }
    return sum;
}

} // namespace

TEST(Cutaways, APlaneAndASlabAreSections) {
    const auto rod = body(geom::make_cylinder(80, 100, below));
    Cutaway plane = of_form(Form::plane);
    plane.normal = {0, -1, 0};
    EXPECT_NEAR(area_of(open(rod, {plane}), "A"), 80 * 100, 1e-6);
    plane.origin = {0, 24, 0}; // a chord of 2 * sqrt(40^2 - 24^2)
    EXPECT_NEAR(area_of(open(rod, {plane}), "A"), 64 * 100, 1e-6);
    Cutaway slab = of_form(Form::slab);
    slab.size = {1, 1, 30};
    EXPECT_NEAR(area_of(open(rod, {slab}), "A"), 2 * pi * 40 * 40, 1e-6);
    slab.normal = {0, 1, 0};
    slab.size[2] = 48;
    slab.keeps = true;
    EXPECT_NEAR(area_of(open(rod, {slab}), "A"), 2 * 64 * 100, 1e-6);
    // Cut faces look to what is taken away.
    for (const CutFace& face : open(rod, {slab}).faces) {
        const auto [place, normal] =
            std::pair(geom::center_of(face.face), geom::plane_of(face.face)->Axis().Direction());
        const double out = face.face.Orientation() == TopAbs_REVERSED ? -1 : 1;
        EXPECT_GT(place.Y() * normal.Y() * out, 0);
    }
}

TEST(Cutaways, ABoxTakesAQuarterOfATube) {
    // Radii 40 and 30, 100 long.
    const auto outer = body(geom::make_cylinder(80, 100, below));
    Progress progress;
    const auto bore = geom::make_cylinder(60, 100, below);
    Cutaway hole = of_form(Form::body, "H");
    hole.body = "20";
    const auto tube = open(outer, {hole}, {{"20", body(bore, 20)}}).left;
    ASSERT_TRUE(tube);
    const double whole = pi * (40 * 40 - 30 * 30) * 100;
    EXPECT_NEAR(geom::volume_of(tube->shape), whole, 1e-6 * whole);

    Cutaway box = of_form(Form::box);
    box.origin = {50, 50, 0};
    box.size = {100, 100, 200};
    const Opened opened = open(tube, {box});
    EXPECT_NEAR(area_of(opened, "A"), 2 * 10 * 100, 1e-6);
    EXPECT_NEAR(left(opened), whole * 3 / 4, 1e-6 * whole);
    EXPECT_NEAR(geom::volume_of(tube->shape), whole, 1e-6 * whole); // it is whole itself
    box.keeps = true;
    EXPECT_NEAR(left(open(tube, {box})), whole / 4, 1e-6 * whole);
    box.normal = {1, 0, 0}; // lying, turned: the same quarter, half as long
    box.across = {0, 1, 1};
    box.origin = {0, 0, 0};
    box.size = {400, 400, 100};
    EXPECT_NEAR(area_of(open(tube, {box}), "A"), 0, 1e-9); // wholly within
}

TEST(Cutaways, RoundOnesByFormula) {
    const auto block = body(geom::make_box(100, 100, 100, below));
    Cutaway ball = of_form(Form::body);
    ball.body = "20";
    const double r = 30;
    // A ball about a corner: an eighth of its surface is cut.
    const auto corner = body(geom::make_sphere(2 * r, gp_Ax3(gp_Pnt(50, 50, 50 - r), gp_Dir(0, 0, 1))), 20);
    const Opened eighth = open(block, {ball}, {{"20", corner}});
    EXPECT_NEAR(area_of(eighth, "A"), 4 * pi * r * r / 8, 1e-6 * r * r);
    EXPECT_NEAR(left(eighth), 1e6 - 4.0 / 3 * pi * r * r * r / 8, 1e-3);
    ball.keeps = true;
    EXPECT_NEAR(left(open(block, {ball}, {{"20", corner}})), 4.0 / 3 * pi * r * r * r / 8, 1e-3);
    // A cylinder lying through the block.
    Cutaway round = of_form(Form::cylinder);
    round.normal = {1, 0, 0};
    round.size = {40, 1, 300};
    EXPECT_NEAR(area_of(open(block, {round}), "A"), pi * 40 * 100, 1e-6);
    round.size[2] = 60; // ends in the material
    EXPECT_NEAR(area_of(open(block, {round}), "A"), pi * 40 * 60 + 2 * pi * 20 * 20, 1e-6);
    EXPECT_NEAR(left(open(block, {round})), 1e6 - pi * 20 * 20 * 60, 1e-3);
}

TEST(Cutaways, SeveralTakeAwayTogether) {
    const auto block = body(geom::make_box(100, 100, 100, below));
    Cutaway a = of_form(Form::plane, "A"); // all above the middle
    Cutaway b = of_form(Form::plane, "B"); // all beyond x = 20
    b.normal = {1, 0, 0};
    b.origin = {20, 0, 0};
    const Opened both = open(block, {a, b});
    EXPECT_NEAR(area_of(both, "A"), 70 * 100, 1e-6);
    EXPECT_NEAR(area_of(both, "B"), 100 * 50, 1e-6);
    EXPECT_NEAR(left(both), 70 * 100 * 50, 1e-4);
    // What is left by one alone, and cut by the other.
    Cutaway c = of_form(Form::cylinder, "C");
    c.size = {40, 1, 300};
    c.keeps = true;
    const Opened rod = open(block, {a, c});
    EXPECT_NEAR(area_of(rod, "A"), pi * 20 * 20, 1e-6);
    EXPECT_NEAR(area_of(rod, "C"), pi * 40 * 50, 1e-6);
    // Nothing is left where they leave nothing.
    Cutaway d = flipped(a);
    d.letter = "D";
    const Opened none = open(block, {a, d});
    EXPECT_TRUE(none.divided);
    EXPECT_FALSE(none.left);
    // Off, they are none of the body's business: whoever asks leaves them out.
    a.on = false;
    EXPECT_FALSE(concerns(a, Document(), "10", 0, ""));
}

// Each face of what is left lies on the face of the body that it says, and cut faces on none.
TEST(Cutaways, FacesAreWhatTheyWere) {
    const auto block = body(geom::make_box(100, 100, 100, below));
    Cutaway box = of_form(Form::box);
    box.origin = {50, 50, 50};
    box.size = {60, 60, 60};
    const Opened opened = open(block, {box});
    const auto before = geom::faces_of(block->shape);
    const auto after = geom::faces_of(opened.left->shape);
    ASSERT_EQ(after.size(), 9u);
    ASSERT_EQ(opened.sources.size(), after.size());
    size_t cut = 0;
    for (size_t i = 0; i < after.size(); ++i) {
        const FaceName& name = opened.left->names.Find(after[i]);
        if (opened.sources[i] < 0) {
            ++cut;
            EXPECT_EQ(name.owner, cut_faces_of("A"));
            EXPECT_TRUE(is_cut_faces(name.owner));
        } else {
            const auto& source = before[static_cast<size_t>(opened.sources[i])];
            EXPECT_EQ(name.text(), block->names.Find(source).text());
            EXPECT_NEAR(geom::plane_of(source)->Distance(geom::center_of(after[i])), 0, 1e-9);
        }
    }
    EXPECT_EQ(cut, 3u);
    EXPECT_NEAR(area_of(opened, "A"), 3 * 30 * 30, 1e-6);
}

TEST(Cutaways, TouchingAndMissing) {
    const auto block = body(geom::make_box(100, 100, 100, below));
    const auto ball = body(geom::make_sphere(60, gp_Ax3(gp_Pnt(0, 0, -30), gp_Dir(0, 0, 1))));
    Cutaway plane = of_form(Form::plane);
    for (const double z : {30.0, 30.5, -31.0}) { // touching a ball, beside it
        plane.origin = {0, 0, z};
        EXPECT_NEAR(area_of(open(ball, {plane}), "A"), 0, 1e-3) << z;
    }
    Cutaway box = of_form(Form::box);
    box.size = {100, 100, 100}; // the very block
    EXPECT_FALSE(open(block, {box}).left);
    box.origin = {100, 0, 0}; // beside it, face on face
    EXPECT_NEAR(left(open(block, {box})), 1e6, 1e-3);
    EXPECT_TRUE(open(block, {box}).faces.empty());
    for (const Place& none : {Place{0, 10, 10}, Place{10, -3, 10}}) { // no room in it: it takes nothing away
        box.size = none;
        EXPECT_FALSE(open(block, {box}).divided);
        EXPECT_FALSE(concerns(box, Document(), "10", 0, ""));
    }
    // What it cuts with is not there, or is a surface.
    Cutaway by_body = of_form(Form::body);
    by_body.body = "77";
    Progress progress;
    EXPECT_EQ(open_up(*block, {by_body}, {}, progress).finding().code, "cutaway.no_body");
    by_body.body = "20";
    const CuttingBodies sheet{{"20", body(geom::make_rectangle(500, 500, here), 20)}};
    EXPECT_EQ(open_up(*block, {by_body}, sheet, progress).finding().code, "cutaway.no_body");
}

TEST(Cutaways, SurfacesAreOpenedWithoutCutFaces) {
    const auto sheet = body(geom::make_rectangle(100, 80, here));
    Cutaway round = of_form(Form::cylinder);
    round.size = {40, 1, 100};
    const Opened opened = open(sheet, {round});
    EXPECT_TRUE(opened.faces.empty());
    EXPECT_NEAR(geom::area_of(opened.left->shape), 100 * 80 - pi * 20 * 20, 1e-6);
}

TEST(TakenAway, WhatIsLeftOfLines) {
    const Line3 along_x{{0, 0, 0}, {1, 0, 0}};
    Cutaway plane = of_form(Form::plane);
    plane.normal = {1, 0, 0};
    plane.origin = {100, 0, 0};
    EXPECT_NEAR(left_of_line({plane}, along_x), 1100, 1e-9);
    EXPECT_NEAR(left_of_line({flipped(plane)}, along_x), 900, 1e-9);
    plane.keeps = true;
    EXPECT_NEAR(left_of_line({plane}, along_x), 900, 1e-9);
    Cutaway box = of_form(Form::box);
    box.size = {200, 100, 60};
    EXPECT_NEAR(left_of_line({box}, along_x), 1800, 1e-9);
    EXPECT_NEAR(left_of_line({flipped(box)}, along_x), 200, 1e-9);
    EXPECT_NEAR(left_of_line({box}, {{0, 0, 31}, {1, 0, 0}}), 2000, 1e-9); // above it
    const Cutaway leaning = turned(box, {0, 0, 0}, {0, 0, 1}, pi / 4);
    EXPECT_NEAR(left_of_line({leaning}, along_x), 2000 - 100 * std::sqrt(2.0), 1e-9);
    Cutaway slab = of_form(Form::slab);
    slab.size[2] = 60;
    EXPECT_NEAR(left_of_line({slab}, {{0, 0, 0}, {0.6, 0, 0.8}}), 2000 - 60 / 0.8, 1e-9);
    EXPECT_NEAR(left_of_line({slab}, along_x), 0, 1e-9);
    Cutaway round = of_form(Form::cylinder);
    round.size = {100, 1, 60};
    EXPECT_NEAR(left_of_line({round}, {{0, 30, 0}, {1, 0, 0}}), 2000 - 80, 1e-9);
    EXPECT_NEAR(left_of_line({round}, {{0, 30, 0}, {0, 0, 1}}), 2000 - 60, 1e-9);
    EXPECT_NEAR(left_of_line({round}, {{0, 51, 0}, {0, 0, 1}}), 2000, 1e-9);
    // Together: the union of what they take.
    EXPECT_NEAR(left_of_line({box, round}, along_x), 1800, 1e-9);
    EXPECT_NEAR(left_of_line({flipped(box), round}, along_x), 200 - 100, 1e-9);
}

TEST(TakenAway, TurningGoesAboutAPlace) {
    Cutaway plane = of_form(Form::plane);
    plane.origin = {0, 0, 10};
    const Cutaway upright = turned(plane, {0, 0, 0}, {1, 0, 0}, pi / 2);
    EXPECT_EQ(upright.normal, (Place{0, -1, 0}));
    EXPECT_NEAR(upright.origin[1], -10, 1e-12);
    Cutaway back = upright;
    for (int i = 0; i < 3; ++i) {
        back = turned(back, {0, 0, 0}, {1, 0, 0}, pi / 2);
    }
    EXPECT_EQ(back.normal, plane.normal);
    EXPECT_NEAR(back.origin[2], 10, 1e-12);
}

// --- Documents ------------------------------------------------------------------------------------------------------

TEST(Scopes, BodiesGroupsAndLayers) {
    Document document;
    document.groups = {{1, "Drive", 0}, {2, "Gears", 1}};
    document.layers = {{"Walls"}};
    Cutaway cutaway;
    EXPECT_TRUE(concerns(cutaway, document, "10", 0, ""));
    cutaway.scope = Scope::only;
    EXPECT_FALSE(concerns(cutaway, document, "10", 0, ""));
    cutaway.members = {reference_to_group(1), reference_to_layer("Walls"), "70"};
    EXPECT_TRUE(concerns(cutaway, document, "10", 2, "")); // in a group of the group
    EXPECT_TRUE(concerns(cutaway, document, "20", 0, "Walls"));
    EXPECT_TRUE(concerns(cutaway, document, "70", 0, ""));
    EXPECT_FALSE(concerns(cutaway, document, "71", 0, "Floors"));
    cutaway.scope = Scope::all_but;
    EXPECT_FALSE(concerns(cutaway, document, "10", 2, ""));
    EXPECT_TRUE(concerns(cutaway, document, "71", 0, "Floors"));

    document = put_cutaway(document, cutaway);
    EXPECT_EQ(rename_layer(document, "Walls", "Outer walls").cutaways[0].members[1], "70");
    EXPECT_EQ(rename_layer(document, "Walls", "Outer walls").cutaways[0].members[2], reference_to_layer("Outer walls"));
    EXPECT_EQ(remove_layer(document, "Walls").cutaways[0].members.size(), 2u);
    const auto dissolved = dissolve_group(document, 1, {{"10", 2}, {"11", 1}, {"12", 0}}).cutaways[0].members;
    EXPECT_EQ(dissolved, (std::vector<std::string>{reference_to_layer("Walls"), "70", "10", "11"}));
}

TEST(Scopes, OneBodyMoreOrLess) {
    Cutaway cutaway;
    cutaway = with_body(cutaway, "10", false);
    EXPECT_EQ(cutaway.scope, Scope::all_but);
    EXPECT_EQ(cutaway.members, std::vector<std::string>{"10"});
    EXPECT_TRUE(with_body(cutaway, "10", true).members.empty());
    cutaway.scope = Scope::only;
    EXPECT_EQ(with_body(cutaway, "20", true).members, (std::vector<std::string>{"10", "20"}));
    EXPECT_TRUE(with_body(cutaway, "10", false).members.empty());
}

TEST(Letters, AreThoseThatDrawingsUse) {
    std::vector<Cutaway> all;
    std::string letters;
    for (int i = 0; i < 26; ++i) {
        all.emplace_back();
        all.back().letter = free_letter({all.begin(), all.end() - 1});
        letters += all.back().letter;
    }
    EXPECT_EQ(letters, "ABCDEFGHJKLMNPQRSTUVWXYZAAAB");
    all.erase(all.begin() + 2);
    EXPECT_EQ(free_letter(all), "C");
}

TEST(LookingFile, ComesBackAsItWas) {
    Document document;
    Cutaway box = of_form(Form::box, "B");
    box.name = "Stairwell";
    box.on = false;
    box.keeps = true;
    box.origin = {1.5, 2, 3};
    box.across = {0, 1, 0};
    box.size = {10, 20, 30};
    box.scope = Scope::only;
    box.members = {"10", "#3", "layer:Walls"};
    box.fill = "#aa3311";
    document.cutaways = {Cutaway{}, box};
    document.materials = {{"Oak", "#b08040", 0.72, Hatch::pairs, false}, {"Pane", "#d0e8f0", 2.5, Hatch::none, true}};
    View view;
    view.name = "From the ladder";
    view.note = "for the joiner";
    view.along = {0.6, 0.8, 0};
    view.height = 750;
    view.hidden = {"20"};
    view.showing = {{"30", "edges"}};
    view.hidden_layers = {"Walls"};
    view.cutaways = {box};
    document.views = {view};
    document.appearance["10"].material = "Oak";
    const auto text = io::to_text(document);
    const auto read = io::document_from_text(text);
    ASSERT_TRUE(read.ok());
    EXPECT_EQ(read->cutaways, document.cutaways);
    EXPECT_EQ(read->materials, document.materials);
    EXPECT_EQ(read->views, document.views);
    EXPECT_EQ(read->appearance, document.appearance);
    EXPECT_TRUE(same_content(*read, document));
}

TEST(LookingFile, EarlierDocumentsAndNonsense) {
    const auto read = [](const std::string& keys) {
        return io::document_from_text(R"({"format": "kervo", "version": 2, "steps": [], )" + keys + "}");
    };
    const auto earlier = read(R"("cutaways": [{"origin": [0, 1, 0], "normal": [0, -1, 0], "left_whole": ["10"]}])");
    ASSERT_TRUE(earlier.ok());
    EXPECT_EQ(earlier->cutaways[0].scope, Scope::all_but);
    EXPECT_EQ(earlier->cutaways[0].members, std::vector<std::string>{"10"});
    for (const char* wrong :
         {R"("cutaways": [{"origin": [0, 1, 0], "normal": [0, -1, 0], "shape": "egg"}])",
          R"("cutaways": [{"origin": [0, 1, 0], "normal": [0, -1, 0]}, {"origin": [0, 1, 0], "normal": [0, -1, 0]}])",
          R"("cutaways": [{"normal": [0, -1, 0]}])", R"("materials": [{"color": "#ffffff"}])",
          R"("views": [{"name": "x"}])", R"("appearance": {"10": {"showing": "upside down"}})"}) {
        const auto bad = read(wrong);
        ASSERT_FALSE(bad.ok()) << wrong;
        EXPECT_EQ(bad.finding().code, "file.content") << wrong;
    }
}

TEST(Materials, AreATable) {
    Document document;
    document = put_material(document, "", {"Oak", "#b08040", 0.72, Hatch::pairs, false});
    document.appearance["10"].material = "Oak";
    EXPECT_EQ(material_of(document, "10")->density, 0.72);
    EXPECT_EQ(material_of(document, "20"), nullptr);
    document = put_material(document, "", {"Steel", "#8899aa", 7.85, Hatch::lines, false});
    EXPECT_EQ(put_material(document, "Steel", {"Oak", "#8899aa", 7.85, Hatch::lines, false}).materials,
              document.materials); // the name is taken
    document = put_material(document, "Oak", {"Ash", "#c0a070", 0.69, Hatch::pairs, false});
    EXPECT_EQ(material_of(document, "10")->name, "Ash");
    document = remove_material(document, "Ash");
    EXPECT_EQ(material_of(document, "10"), nullptr);
    EXPECT_TRUE(document.appearance["10"].material.empty());
}

TEST(Views, KeepWhatIsSeen) {
    Document document;
    document.layers = {{"Walls"}, {"Floors", true}};
    document.appearance["10"].hidden = true;
    document.appearance["20"].showing = Showing::edges;
    document.appearance["20"].color = "#123456";
    document.cutaways = {Cutaway{}};
    const View view = view_of(document, "First");
    Document other = document;
    other.appearance["10"].hidden = false;
    other.appearance["20"].showing = Showing::full;
    other.appearance["30"].hidden = true;
    other.layers[1].hidden = false;
    other.cutaways.clear();
    const Document again = as_in_view(other, view);
    EXPECT_TRUE(again.appearance.at("10").hidden);
    EXPECT_EQ(again.appearance.at("20").showing, Showing::edges);
    EXPECT_EQ(again.appearance.at("20").color, "#123456");
    EXPECT_FALSE(again.appearance.at("30").hidden);
    EXPECT_TRUE(again.layers[1].hidden);
    EXPECT_EQ(again.cutaways, document.cutaways);
    document.views = {view};
    EXPECT_EQ(free_view_name(document, "First"), "First 2");
    EXPECT_EQ(free_view_name(document, "Second"), "Second");
}
