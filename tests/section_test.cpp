// Sections and slices: against formulas, and against what a hair beside them gives.
#include "geom/make/stock.h"
#include "geom/measure/pick.h"
#include "geom/measure/section_properties.h"
#include "geom/outline/profile.h"
#include "geom/view/section.h"
#include "geom/view/section_area.h"
#include "geom/view/section_of.h"
#include "geom/view/tessellate.h"
#include "proof.h"

#include <BRepCheck_Analyzer.hxx>

#include <random>

using namespace kervo;
using namespace kervo::test;

namespace {

// Numbers of a fact: "12.5 mm2", "1; 2; 3".
std::vector<double> numbers(const std::string& text) {
    std::vector<double> all;
    const char* at = text.c_str();
    while (*at != 0) {
        char* end = nullptr;
        const double value = std::strtod(at, &end);
        if (end == at) {
            ++at;
            continue;
        }
        all.push_back(value);
        at = end;
    }
    return all;
}

int section(Route& route, const std::vector<int>& bodies, Json more) {
    Json references = Json::array();
    for (const int body : bodies) {
        references.push_back({{"body", std::to_string(body)}, {"kind", "body"}});
    }
    return route.add("section", Route::with({{"bodies", references}}, std::move(more)));
}

const Json five{{"planes", "series"}, {"from", "-20"}, {"to", "20"}, {"count", "5"}, {"offset", "30"}};

// A ball of radius 30 that stands on the level plane: its middle lies at z = 30.
int ball(Route& route) {
    route.parameter("r", "30 mm");
    return route.add("stock", {{"shape", "sphere"}, {"diameter", "2 * r"}});
}

double all_areas(const Outcome& outcome, int step, int count) {
    double sum = 0;
    for (int i = 1; i <= count; ++i) {
        const auto body = outcome.body(std::to_string(step) + "." + std::to_string(i));
        sum += body ? geom::area_of(body->shape) : 0;
    }
    return sum;
}

} // namespace

TEST(Sections, SlicesOfABall) {
    Route route;
    const int body = ball(route);
    const int slices = section(route, {body}, five);
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(all_areas(outcome, slices, 5), 3500 * pi, 1e-6 * 3500 * pi);
    const auto areas = numbers(fact(outcome, slices, "areas"));
    ASSERT_EQ(areas.size(), 5u);
    EXPECT_NEAR(areas[0], 500 * pi, 1e-5);
    EXPECT_NEAR(areas[2], 900 * pi, 1e-5);
    // Of a larger ball, whose middle lies higher: it follows.
    const double wanted = (5 * 1600 - 900 - 400 - 100 - 0 - 100) * pi;
    EXPECT_NEAR(all_areas(route.run({{"r", "40 mm"}}), slices, 5), wanted, 1e-6 * wanted);
}

TEST(Sections, RibsAreAsThickAsTheyShould) {
    for (const std::string lies : {"centred", "front", "back"}) {
        Route route;
        const int body = ball(route);
        const int ribs = section(route, {body}, Route::with(five, {{"result", "ribs"}, {"lies", lies}}));
        const auto outcome = route.run();
        EXPECT_FALSE(outcome.told()) << outcome.codes();
        double volume = 0;
        for (int i = 1; i <= 5; ++i) {
            volume += geom::volume_of(outcome.body(std::to_string(ribs) + "." + std::to_string(i))->shape);
        }
        EXPECT_NEAR(volume, 7000 * pi, 1e-6 * 7000 * pi);
        const auto box = geom::box_of(outcome.body(std::to_string(ribs) + ".3")->shape);
        const double low = lies == "centred" ? 29 : lies == "front" ? 30 : 28;
        EXPECT_NEAR(box[2], low, 1e-6);
        EXPECT_NEAR(box[5], low + 2, 1e-6);
    }
}

TEST(Sections, CurvesGoIntoSketchesAndBodies) {
    Route route;
    const int body = ball(route);
    const int curves = section(route, {body}, {{"offset", "30"}, {"result", "curves"}});
    const int face = section(route, {body}, {{"offset", "12"}});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(length(outcome, curves), 60 * pi, 1e-6);
    EXPECT_NEAR(area(outcome, face), (900 - 18 * 18) * pi, 1e-4);
    // A flat section is a surface like others: made thick, it is a plug.
    const int thick =
        route.add("thicken", {{"surfaces", {{{"body", std::to_string(face)}, {"kind", "body"}}}}, {"thickness", "5"}});
    (void)thick;
    EXPECT_NEAR(route.run().volume(face), (900 - 18 * 18) * pi * 5, 1e-3);
}

TEST(Sections, SecondMomentsOfARing) {
    Route route;
    const int outer = route.add("stock", {{"shape", "cylinder"}, {"diameter", "60"}, {"height", "100"}, {"x", "12"}});
    const int bore = route.add("stock", {{"shape", "cylinder"}, {"diameter", "40"}, {"height", "100"}, {"x", "12"}});
    route.add("body_cut", {{"workpieces", {{{"body", std::to_string(outer)}, {"kind", "body"}}}},
                           {"cutters", {{{"body", std::to_string(bore)}, {"kind", "body"}}}}});
    const int one = section(route, {outer}, {{"offset", "40"}});
    const auto outcome = route.run();
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    const double wanted = pi * (std::pow(30, 4) - std::pow(20, 4)) / 4;
    const auto moments = numbers(fact(outcome, one, "second moments"));
    ASSERT_GE(moments.size(), 3u);
    EXPECT_NEAR(moments[0], wanted, 1e-7 * wanted);
    EXPECT_NEAR(moments[1], wanted, 1e-7 * wanted);
    EXPECT_NEAR(moments[2], 0, 1e-5 * wanted);
    const auto moduli = numbers(fact(outcome, one, "section moduli"));
    EXPECT_NEAR(moduli[0], wanted / 30, 1e-6 * wanted);
    const auto middle = numbers(fact(outcome, one, "centroid"));
    EXPECT_NEAR(middle[0], 12, 1e-6);
    EXPECT_NEAR(middle[1], 0, 1e-6);
    EXPECT_NEAR(numbers(fact(outcome, one, "perimeter"))[0], 100 * pi, 1e-5);
}

TEST(SectionProperties, OfRectanglesAndSplines) {
    const auto block = geom::make_box(30, 20, 10, gp_Ax3());
    const gp_Ax3 level(gp_Pnt(3, 4, 5), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
    const auto made = geom::section_of(block.shape, level);
    ASSERT_TRUE(made.ok());
    const auto of = geom::section_properties({made->faces[0].face}, level);
    EXPECT_NEAR(of.area, 600, 1e-9);
    EXPECT_NEAR(of.perimeter, 100, 1e-9);
    EXPECT_NEAR(of.x, -3, 1e-9);
    EXPECT_NEAR(of.y, -4, 1e-9);
    EXPECT_NEAR(of.ixx, 30 * std::pow(20, 3) / 12, 1e-6);
    EXPECT_NEAR(of.iyy, 20 * std::pow(30, 3) / 12, 1e-6);
    EXPECT_NEAR(of.wx, 30 * 400 / 6.0, 1e-6);
    EXPECT_NEAR(of.wy, 20 * 900 / 6.0, 1e-6);
    // Far from the frame's origin, and turned: what it is to itself stays.
    const gp_Ax3 far(gp_Pnt(500, -300, 5), gp_Dir(0, 0, 1), gp_Dir(0, 1, 0));
    const auto seen = geom::section_properties({made->faces[0].face}, far);
    EXPECT_NEAR(seen.ixx, of.iyy, 1e-5);
    EXPECT_NEAR(seen.wx, of.wy, 1e-6);
    EXPECT_NEAR(seen.x, 300, 1e-9);
    EXPECT_NEAR(seen.y, 500, 1e-9);
    // Turned by 45 degrees the product of inertia is half of the difference.
    const gp_Ax3 turned(gp_Pnt(0, 0, 5), gp_Dir(0, 0, 1), gp_Dir(1, 1, 0));
    EXPECT_NEAR(std::fabs(geom::section_properties({made->faces[0].face}, turned).ixy), (of.iyy - of.ixx) / 2, 1e-6);
    EXPECT_EQ(geom::section_properties({}, level).area, 0);
}

// What a plane touches exactly is what a plane a hair in front of it gives, and it is told.
TEST(Sections, TouchingFacesEdgesAndVertices) {
    Route route;
    const int block = route.box(40, 30, 20);
    route.parameter("at", "0 mm");
    const int cut = section(route, {block}, {{"offset", "at"}});
    const auto at = [&](double z) {
        const auto outcome = route.run({{"at", mm(z)}});
        return std::pair(outcome.told("section.none") ? 0 : area(outcome, cut), outcome.told("section.touches"));
    };
    EXPECT_NEAR(at(10).first, 1200, 1e-6);
    EXPECT_FALSE(at(10).second);
    const auto below = at(0); // on its lower face: in front of that is material
    EXPECT_NEAR(below.first, 1200, 1e-6);
    EXPECT_TRUE(below.second);
    const auto above = at(20); // on its upper face: there is none
    EXPECT_EQ(above.first, 0);
    EXPECT_TRUE(above.second);
    // Through edges and vertices: nothing special about it.
    Route diagonal;
    const int other = diagonal.box(40, 30, 20);
    const int across =
        section(diagonal, {other}, {{"plane", "numbers"}, {"normal_x", "30"}, {"normal_y", "-40"}, {"normal_z", "0"}});
    EXPECT_NEAR(area(diagonal.run(), across), 50 * 20, 1e-5);
    Route corner;
    const int cube = corner.box(10, 10, 10);
    const int hexagon =
        section(corner, {cube},
                {{"plane", "numbers"}, {"origin_z", "5"}, {"normal_x", "1"}, {"normal_y", "1"}, {"normal_z", "1"}});
    EXPECT_NEAR(area(corner.run(), hexagon), 0.75 * std::sqrt(3.0) * 100, 1e-4);
}

TEST(Sections, SeveralBodiesAndSurfaces) {
    Route route;
    const int block = route.box(40, 30, 20);
    const int other = route.add("stock", {{"shape", "cylinder"}, {"diameter", "10"}, {"height", "20"}, {"x", "60"}});
    const int sheet = route.add(
        "stock", {{"shape", "rectangle"}, {"width", "50"}, {"depth", "30"}, {"turn_x", "90 deg"}, {"y", "80"}});
    const int both = section(route, {block, other}, {{"offset", "10"}});
    auto outcome = route.run();
    EXPECT_NEAR(area(outcome, both), 1200 + 25 * pi, 1e-5) << outcome.codes();
    const int line = section(route, {sheet}, {{"offset", "10"}});
    outcome = route.run();
    EXPECT_NEAR(length(outcome, line), 50, 1e-6);
    EXPECT_TRUE(outcome.told("section.open"));
    section(route, {block, sheet}, {{"offset", "10"}});
    EXPECT_TRUE(route.run().told("section.mixed"));
}

TEST(Sections, SeriesByDistanceAndNonsense) {
    Route route;
    const int block = route.box(40, 30, 20);
    const int slices = section(
        route, {block}, {{"planes", "series"}, {"from", "5"}, {"to", "16"}, {"spaced", "spacing"}, {"spacing", "3"}});
    EXPECT_NEAR(all_areas(route.run(), slices, 9), 4 * 1200, 1e-5); // 5, 8, 11, 14
    for (const Json& wrong : {Json{{"planes", "series"}, {"count", "2.5"}}, Json{{"planes", "series"}, {"count", "0"}},
                              Json{{"planes", "series"}, {"count", "2001"}},
                              Json{{"planes", "series"}, {"spaced", "spacing"}, {"spacing", "0"}}}) {
        Route bad;
        section(bad, {bad.box(10, 10, 10)}, wrong);
        EXPECT_TRUE(bad.run().told()) << wrong;
    }
    Route away;
    section(away, {away.box(10, 10, 10)}, {{"offset", "500"}});
    EXPECT_TRUE(away.run().told("section.none"));
}

// Each edge of a section knows the face that it lies in.
TEST(SectionOf, EdgesComeFromFaces) {
    const auto rod = geom::make_cylinder(20, 50, gp_Ax3());
    const auto made = geom::section_of(rod.shape, gp_Ax3(gp_Pnt(0, 0, 20), gp_Dir(0, 0.6, 0.8)));
    ASSERT_TRUE(made.ok());
    ASSERT_EQ(made->faces.size(), 1u);
    EXPECT_NEAR(made->area, pi * 100 / 0.8, 1e-6);
    const auto faces = geom::faces_of(rod.shape);
    for (const auto& [edge, source] : made->faces[0].cut) {
        ASSERT_GE(source, 0);
        EXPECT_FALSE(geom::plane_of(faces[static_cast<size_t>(source)]));
    }
}

// Random planes through balls, rods and rings, half of them touching: never wrong, and the same as a hair beside.
TEST(SectionOf, RandomPlanesAgreeWithAHairBeside) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> any(-1, 1);
    const gp_Ax3 here;
    const std::vector<TopoDS_Shape> bodies{geom::make_box(30, 20, 10, here).shape,
                                           geom::make_cylinder(20, 30, here).shape, geom::make_sphere(24, here).shape,
                                           geom::make_ring(40, 10, here).shape, geom::make_cone(20, 6, 15, here).shape};
    const char* rounds = std::getenv("KERVO_SECTIONS");
    const int count = rounds != nullptr ? std::atoi(rounds) : 60;
    int failed = 0;
    for (int i = 0; i < count; ++i) {
        const TopoDS_Shape& body = bodies[static_cast<size_t>(i) % bodies.size()];
        const bool rastered = i % 2 == 0;
        const auto pick = [&](double reach) {
            return rastered ? std::round(any(random) * 2) * reach / 2 : any(random) * reach;
        };
        const gp_Vec normal(pick(1), pick(1), pick(1));
        if (normal.Magnitude() < 0.1) {
            continue;
        }
        const auto box = geom::box_of(body);
        const gp_Pnt place(pick(box[3]), pick(box[4]),
                           rastered ? box[5] * (1 + std::round(any(random))) / 2 : box[5] * std::fabs(any(random)));
        const gp_Ax3 plane(place, gp_Dir(normal));
        const auto made = geom::section_of(body, plane);
        if (!made) {
            ++failed;
            continue;
        }
        // What touches is what the hair in front of it says; all else hardly changes over a few hairs.
        const double away = made->touches ? 1e-5 : 3.7e-5;
        const auto beside = geom::section_of(body, plane.Translated(gp_Vec(plane.Direction()) * away));
        // Just off a place that it touches in a point it still touches it, and goes on by a hair of its own.
        if (beside && !(made->touches && beside->touches)) {
            EXPECT_NEAR(made->area, beside->area, made->touches ? 1e-6 : 0.02 + 2e-3 * beside->area) << i;
        }
    }
    EXPECT_LE(failed, count / 20);
}

// The second way to the area, by formulas; and where it has nothing to say.
TEST(SectionArea, OfFlatAndRoundFaces) {
    const gp_Ax3 here;
    const auto at = [](double x, double y, double z, const gp_Dir& normal) { return gp_Ax3(gp_Pnt(x, y, z), normal); };
    const auto area = [](const geom::ShapeWithRoles& body, const gp_Ax3& plane) {
        return geom::section_area(body.shape, plane).value_or(-1);
    };
    const auto box = geom::make_box(30, 20, 10, here);
    EXPECT_NEAR(area(box, at(0, 0, 4, {0, 0, 1})), 600, 1e-9);
    EXPECT_NEAR(area(box, at(0, 0, 4, {0, 0, -1})), 600, 1e-9);
    EXPECT_NEAR(area(box, at(1, 0, 5, {0.8, 0.6, 0})), 20 / 0.8 * 10, 1e-9); // from side to side
    EXPECT_NEAR(area(box, at(0, 0, 40, {0, 0, 1})), 0, 1e-12);
    EXPECT_EQ(area(box, at(0, 0, 10, {0, 0, 1})), -1); // on a face: it says nothing
    const auto rod = geom::make_cylinder(20, 30, here);
    EXPECT_NEAR(area(rod, at(0, 0, 7, {0, 0, 1})), 100 * pi, 1e-8);
    EXPECT_NEAR(area(rod, at(0, 0, 15, {0, 0.6, 0.8})), 100 * pi / 0.8, 1e-8); // an ellipse
    EXPECT_NEAR(area(rod, at(0, 6, 15, {0, 1, 0})), 2 * 8 * 30, 1e-8);         // along its axis
    const auto ball = geom::make_sphere(60, here);
    for (const double h : {-29.0, -7.0, 0.1, 24.0}) {
        EXPECT_NEAR(area(ball, at(0, 0, 30 + h, {0, 0, 1})), pi * (900 - h * h), 1e-7) << h;
        const gp_Dir aslant(1, 2, 3);
        const gp_Pnt place = gp_Pnt(0, 0, 30).Translated(gp_Vec(aslant) * h);
        EXPECT_NEAR(area(ball, gp_Ax3(place, aslant)), pi * (900 - h * h), 1e-7) << h;
    }
    const auto cone = geom::make_cone(20, 8, 12, here); // it narrows by 1 in 2
    EXPECT_NEAR(area(cone, at(0, 0, 4, {0, 0, 1})), pi * 8 * 8, 1e-8);
    // Two lines and a hyperbola: through it, parallel to the axis, by Simpson's rule over the height.
    const double y = 1.5;
    double sum = 0;
    constexpr int steps = 4000;
    for (int i = 0; i <= steps; ++i) {
        const double r = 10 - 6.0 * i / steps;
        sum += (i == 0 || i == steps ? 1 : i % 2 == 1 ? 4 : 2) * 2 * std::sqrt(r * r - y * y);
    }
    EXPECT_NEAR(area(cone, at(0, y, 0, {0, 1, 0})), sum * 12 / steps / 3, 1e-6);
    EXPECT_EQ(area(geom::make_ring(40, 10, here), at(0, 0, 5, {0, 0, 1})), -1); // it knows no rings
}

// A plate with a bore, a pocket and a leaning wall, by planes of all kinds: the two ways agree, or one is silent.
TEST(SectionArea, AgreesWithTheKernel) {
    Route route;
    const int plate = route.box(60, 40, 20);
    const int bore = route.cylinder(16, 30, 10, 5, -5);
    const int drill = route.add(
        "stock", {{"shape", "cone"}, {"diameter", "14"}, {"top_diameter", "0"}, {"height", "15"}, {"x", "-15"}});
    const int dent =
        route.add("stock", {{"shape", "sphere"}, {"diameter", "24"}, {"x", "-12"}, {"y", "8"}, {"z", "12"}});
    Json cutters = Json::array();
    for (const int each : {bore, drill, dent}) {
        cutters.push_back({{"body", std::to_string(each)}, {"kind", "body"}});
    }
    route.add("body_cut",
              {{"workpieces", {{{"body", std::to_string(plate)}, {"kind", "body"}}}}, {"cutters", cutters}});
    const auto body = route.run().body(std::to_string(plate));
    ASSERT_TRUE(body);
    std::mt19937 random(3);
    std::uniform_real_distribution<double> any(-1, 1);
    int spoken = 0;
    int made = 0;
    for (int i = 0; i < 40; ++i) {
        const gp_Ax3 plane(gp_Pnt(20 * any(random), 15 * any(random), 10 + 9 * any(random)),
                           gp_Dir(any(random), any(random), any(random)));
        const auto own = geom::section_area(body->shape, plane);
        const auto faces = geom::section_faces(body->shape, gp_Pln(plane));
        ASSERT_TRUE(faces);
        double kernel = 0;
        for (const TopoDS_Shape& face : *faces) {
            kernel += geom::area_of(face);
        }
        spoken += own ? 1 : 0;
        const auto border = geom::section_border(body->shape, plane);
        const auto own_faces = border ? geom::faces_within(*border, plane) : std::nullopt;
        if (own_faces) { // sound ones, as many as the kernel's, as large, looking the way of the plane
            ++made;
            double sum = 0;
            for (const geom::SectionFace& each : *own_faces) {
                EXPECT_TRUE(BRepCheck_Analyzer(each.face).IsValid()) << i;
                EXPECT_GT(geom::plane_of(each.face)->Axis().Direction().Dot(plane.Direction()), 0.999);
                EXPECT_EQ(each.face.Orientation(), TopAbs_FORWARD);
                sum += geom::area_of(each.face);
                for (const auto& [edge, source] : each.cut) {
                    const TopoDS_Shape face = geom::faces_of(body->shape)[static_cast<size_t>(source)];
                    for (const gp_Pnt& place : geom::polyline_of(edge, 0.1)) {
                        EXPECT_LT(geom::distance_to(face, place), 1e-6) << i;
                    }
                }
            }
            EXPECT_EQ(own_faces->size(), faces->size()) << i;
            EXPECT_NEAR(sum, kernel, 1e-6 * kernel + 1e-6) << i;
        }
        EXPECT_NEAR(own.value_or(kernel), kernel, 1e-6 * kernel + 1e-6) << i;
    }
    EXPECT_GE(spoken, 30);
    EXPECT_GE(made, 20);
}
