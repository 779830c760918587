// STEP files written by hand, each a form that a file may take: its bodies have the names, colours and volumes that its
// numbers say, or it is told what is missing.
#include "io_fixture.h"
#include "part21.h"

#include "geom/measure/measure.h"
#include "io/formats/format.h"

#include <algorithm>
#include <functional>
#include <numeric>
#include <regex>

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

struct Form {
    const char* name;
    std::string text;
    std::vector<double> volumes;          ///< mm^3, of each body; 0: of a surface
    std::vector<std::string> called = {}; ///< empty: not asked for
    std::string told = {};                ///< a part of what is said; empty: nothing is missing
    std::vector<std::string> colors = {};
    double high = 0;         ///< mm: how far up it reaches; 0: not asked for
    std::string sorted = {}; ///< of the first body: "outer/inner@layer!", "!" where it is hidden
};

using Fill = std::function<void(Part21&)>;
std::string text_of(const Fill& fill) {
    Part21 file;
    fill(file);
    return file.text();
}
// A box of 2 by 3 by 4, called Plate.
std::string plain_box(const std::string& called = "Plate") {
    return text_of([&](Part21& f) { f.product(called, {f.solid(f.box({1, 1, 1}, {2, 3, 4}))}, f.context()); });
}
std::string in_units(const std::function<int(Part21&)>& context) {
    return text_of([&](Part21& f) {
        const int units = context(f);
        f.product("Plate", {f.solid(f.box({0, 0, 0}, {2, 3, 4}))}, units);
    });
}
std::string exchanged(const std::string& text, const std::string& pattern, const std::string& with) {
    return std::regex_replace(text, std::regex(pattern), with);
}
// The entities of the data section the other way round.
std::string backwards(const std::string& text) {
    const size_t begin = text.find("DATA;\n") + 6;
    const size_t end = text.find("ENDSEC;", begin);
    std::vector<std::string> lines;
    std::istringstream data(text.substr(begin, end - begin));
    for (std::string line; std::getline(data, line);) {
        lines.push_back(line + "\n");
    }
    std::reverse(lines.begin(), lines.end());
    return text.substr(0, begin) + std::accumulate(lines.begin(), lines.end(), std::string()) + text.substr(end);
}

std::vector<Form> of_writing() {
    const std::string box = plain_box();
    const std::vector<double> v{24};
    const std::vector<std::string> plate{"Plate"};
    const auto header = [](const std::string& text) {
        Part21 file;
        file.product("Plate", {file.solid(file.box({1, 1, 1}, {2, 3, 4}))}, file.context());
        return file.text({}, text);
    };
    return {
        {"as it is", box, v, plate},
        {"comments", exchanged(box, "\n#", " /* #1=nothing('; */\n#"), v, plate},
        {"all in one line", exchanged(box, "\n", ""), v, plate},
        {"spaces everywhere", exchanged(box, "([(,=)])", " $1 \n "), v, plate},
        {"tabs", exchanged(box, ",", ",\t"), v, plate},
        {"ends of lines as of other systems", exchanged(box, "\n", "\r\n"), v, plate},
        {"small letters in numbers", exchanged(box, "E\\+00", "e0"), v, plate},
        {"numbers without digits behind the point", exchanged(box, "([1-4])\\.0+E\\+00", "$1."), v, plate},
        {"last things first", backwards(box), v, plate},
        {"large numbers of entities", exchanged(box, "#([0-9]+)", "#7000$1"), v, plate},
        {"a quote in a name", plain_box("Tom''s plate"), v, {"Tom's plate"}},
        {"a name by number", plain_box("T\\X2\\00FC\\X0\\r"), v, {"T\u00fcr"}},
        {"a name by one byte", plain_box("T\\X\\FCr"), v, {"T\u00fcr"}},
        {"a name by a shifted letter", plain_box("T\\S\\|r"), v, {"T\u00fcr"}},
        {"a name beyond 16 bits", plain_box("a\\X4\\0001F52D\\X0\\"), v, {"a\U0001f52d"}},
        {"a backslash in a name", plain_box("a\\\\b"), v, {"a\\b"}},
        {"the schema of 1994", exchanged(box, "AUTOMOTIVE_DESIGN[^']*", "CONFIG_CONTROL_DESIGN"), v, plate},
        {"the schema of 2014",
         exchanged(box, "AUTOMOTIVE_DESIGN[^']*",
                   "AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF { 1 0 10303 442 1 1 4 }"),
         v, plate},
        {"a schema that nobody knows", exchanged(box, "AUTOMOTIVE_DESIGN[^']*", "SOME_DESIGN"), v, plate},
        {"an empty header",
         header("FILE_DESCRIPTION((''),'1');\nFILE_NAME('','',(''),(''),'','','');\n"
                "FILE_SCHEMA(('AUTOMOTIVE_DESIGN'));\n"),
         v, plate},
        {"a user's entity", exchanged(box, "ENDSEC;\nEND-ISO", "#90001=!OURS('a',(1,2));\nENDSEC;\nEND-ISO"), v, plate},
        {"an entity that nobody knows",
         exchanged(box, "ENDSEC;\nEND-ISO", "#90001=FOCUS_KNOB('a',#1,$,*,.T.,(1.,2.));\nENDSEC;\nEND-ISO"), v, plate},
        {"something behind the end", box + "\n\nand more\n", v, plate},
    };
}

std::vector<Form> of_units() {
    const std::vector<std::string> plate{"Plate"};
    const auto cone = [](bool degrees) {
        return text_of([&](Part21& f) {
            const double half = std::atan(0.5);
            const std::string surface = "CONICAL_SURFACE(''," + Part21::to(f.axis({0, 0, 0})) + ",2.," +
                                        Part21::number(degrees ? half * 180 / pi : half) + ")";
            const int up = f.line({2, 0, 0}, {1 / std::sqrt(5.0), 0, 2 / std::sqrt(5.0)});
            f.product("Cone", {f.turned(2, 4, 4, surface, up)}, f.context(".MILLI.", 0, degrees ? f.degrees() : 0));
        });
    };
    const double frustum = pi * 4 / 3 * (4 + 8 + 16);
    return {
        {"metres", in_units([](Part21& f) { return f.context("$"); }), {24e9}, plate},
        {"centimetres", in_units([](Part21& f) { return f.context(".CENTI."); }), {24e3}, plate},
        {"micrometres", in_units([](Part21& f) { return f.context(".MICRO."); }), {24e-9}, plate},
        {"inches",
         in_units([](Part21& f) { return f.context("", f.length_unit("INCH", 25.4)); }),
         {24 * std::pow(25.4, 3)},
         plate},
        {"feet of metres",
         in_units([](Part21& f) { return f.context("", f.length_unit("FOOT", 0.3048, "$")); }),
         {24 * std::pow(304.8, 3)},
         plate},
        {"a unit of its own",
         in_units([](Part21& f) { return f.context("", f.length_unit("SPAN", 228.6)); }),
         {24 * std::pow(228.6, 3)},
         plate},
        {"angles in radians", cone(false), {frustum}, {"Cone"}},
        {"angles in degrees", cone(true), {frustum}, {"Cone"}},
    };
}

std::vector<Form> of_shapes() {
    const auto body = [](const std::function<int(Part21&)>& fill, const std::string& kind = {}) {
        return text_of([&](Part21& f) {
            const int item = fill(f);
            kind.empty() ? f.product("Part", {item}, f.context()) : f.product("Part", {item}, f.context(), kind);
        });
    };
    const auto to = [](int entity) { return Part21::to(entity); };
    const std::string surfaces = "MANIFOLD_SURFACE_SHAPE_REPRESENTATION";
    const auto plate_with_window = [](Part21& f) {
        auto corners = Part21::box_corners({0, 0, 0}, {10, 8, 3});
        const auto inner = Part21::box_corners({3, 2, 0}, {4, 4, 3});
        corners.insert(corners.end(), inner.begin(), inner.end());
        auto faces = Part21::box_faces();
        faces[0].push_back({8, 9, 11, 10});   // in the floor
        faces[1].push_back({12, 14, 15, 13}); // in the roof
        faces.push_back({{8, 12, 13, 9}});
        faces.push_back({{10, 11, 15, 14}});
        faces.push_back({{8, 10, 14, 12}});
        faces.push_back({{9, 13, 15, 11}});
        return f.flat_faces(corners, faces);
    };
    return {
        {"planes that look inwards",
         body([](Part21& f) {
             return f.solid(f.box({0, 0, 0}, {2, 3, 4}, true));
         }),
         {24}},
        {"no outer bound",
         body([](Part21& f) {
             return f.solid(
                 f.flat_faces(Part21::box_corners({0, 0, 0}, {2, 3, 4}), Part21::box_faces(), false, "FACE_BOUND"));
         }),
         {24}},
        {"a window", body([&](Part21& f) { return f.solid(plate_with_window(f)); }), {(80 - 16) * 3}},
        {"a hollow",
         body([&](Part21& f) {
             const int outer = f.shell(f.box({0, 0, 0}, {10, 10, 10}));
             const int inner = f.shell(f.box({3, 3, 3}, {2, 3, 4}));
             const int turned = f.add("ORIENTED_CLOSED_SHELL('',*," + to(inner) + ",.F.)");
             return f.add("BREP_WITH_VOIDS(''," + to(outer) + ",(" + to(turned) + "))");
         }),
         {1000 - 24}},
        {"flat facets",
         body(
             [&](Part21& f) {
                 const auto corners = Part21::box_corners({0, 0, 0}, {2, 3, 4});
                 std::vector<int> points;
                 for (const Triple& p : corners) {
                     points.push_back(f.point(p));
                 }
                 std::vector<int> faces;
                 for (const auto& loops : Part21::box_faces()) {
                     std::vector<int> around;
                     for (const int corner : loops[0]) {
                         around.push_back(points[static_cast<size_t>(corner)]);
                     }
                     const int loop = f.add("POLY_LOOP(''," + Part21::list(around) + ")");
                     const Triple& o = corners[static_cast<size_t>(loops[0][0])];
                     const Triple& q = corners[static_cast<size_t>(loops[0][1])];
                     const Triple& r = corners[static_cast<size_t>(loops[0][2])];
                     const int plane = f.plane(o, q, r);
                     faces.push_back(
                         f.add("FACE_SURFACE(''," + Part21::list({f.bound(loop)}) + "," + to(plane) + ",.T.)"));
                 }
                 return f.add("FACETED_BREP(''," + to(f.shell(faces)) + ")");
             },
             "FACETED_BREP_SHAPE_REPRESENTATION"),
         {24}},
        {"a cylinder", body([](Part21& f) { return f.cylinder(3, 5); }), {45 * pi}},
        {"a cylinder by a spline of its wall",
         body([&](Part21& f) {
             const int profile = f.circle({0, 0, 0}, 3);
             const int way = f.add("VECTOR(''," + to(f.direction({0, 0, 1})) + ",1.)");
             return f.turned(3, 3, 5, "SURFACE_OF_LINEAR_EXTRUSION(''," + to(profile) + "," + to(way) + ")",
                             f.line({3, 0, 0}, {0, 0, 1}));
         }),
         {45 * pi}},
        {"a cylinder by turning a line",
         body([&](Part21& f) {
             const int axis =
                 f.add("AXIS1_PLACEMENT(''," + to(f.point({0, 0, 0})) + "," + to(f.direction({0, 0, 1})) + ")");
             return f.turned(3, 3, 5,
                             "SURFACE_OF_REVOLUTION(''," + to(f.line({3, 0, 0}, {0, 0, 1})) + "," + to(axis) + ")",
                             f.line({3, 0, 0}, {0, 0, 1}));
         }),
         {45 * pi}},
        {"a sphere without an edge",
         body([&](Part21& f) {
             const int loop = f.add("VERTEX_LOOP(''," + to(f.vertex({0, 0, 5})) + ")");
             const int surface = f.add("SPHERICAL_SURFACE(''," + to(f.axis({0, 0, 0})) + ",5.)");
             return f.solid({f.face({f.bound(loop, "FACE_BOUND")}, surface)});
         }),
         {500 * pi / 3}},
        {"a torus without an edge",
         body([&](Part21& f) {
             const int loop = f.add("VERTEX_LOOP(''," + to(f.vertex({7, 0, 0})) + ")");
             const int surface = f.add("TOROIDAL_SURFACE(''," + to(f.axis({0, 0, 0})) + ",5.,2.)");
             return f.solid({f.face({f.bound(loop, "FACE_BOUND")}, surface)});
         }),
         {2 * pi * 5 * pi * 4}},
        {"an open shell",
         body(
             [&](Part21& f) {
                 auto faces = f.box({0, 0, 0}, {2, 3, 4});
                 faces.pop_back();
                 return f.add("SHELL_BASED_SURFACE_MODEL('',(" + to(f.shell(faces, "OPEN_SHELL")) + "))");
             },
             surfaces),
         {0}},
        {"a closed shell that is a surface",
         body(
             [&](Part21& f) {
                 return f.add("SHELL_BASED_SURFACE_MODEL('',(" + to(f.shell(f.box({0, 0, 0}, {2, 3, 4}))) + "))");
             },
             surfaces),
         {0}},
        {"two solids of one product",
         text_of([](Part21& f) {
             const int one = f.solid(f.box({0, 0, 0}, {2, 3, 4}));
             const int two = f.solid(f.box({9, 0, 0}, {1, 1, 1}));
             f.product("Pair", {one, two}, f.context());
         }),
         {24, 1},
         {"Pair 1", "Pair 2"}},
        {"a solid and a surface",
         text_of([&](Part21& f) {
             const int solid = f.solid(f.box({0, 0, 0}, {2, 3, 4}));
             const int sheet = f.add("SHELL_BASED_SURFACE_MODEL('',(" +
                                     to(f.shell({f.box({9, 0, 0}, {2, 3, 4}).front()}, "OPEN_SHELL")) + "))");
             f.product("Both", {solid, sheet}, f.context(), "SHAPE_REPRESENTATION");
         }),
         {24, 0}},
        {"loose curves beside a solid",
         text_of([&](Part21& f) {
             const int solid = f.solid(f.box({0, 0, 0}, {2, 3, 4}));
             const int wires = f.add("GEOMETRIC_CURVE_SET('',(" + to(f.circle({9, 9, 9}, 1)) + "))");
             f.product("Part", {solid, wires}, f.context(), "SHAPE_REPRESENTATION");
         }),
         {24},
         {},
         "loose curve"},
        {"triangles beside a solid",
         text_of([&](Part21& f) {
             const int solid = f.solid(f.box({0, 0, 0}, {2, 3, 4}));
             const int points = f.add("COORDINATES_LIST('',3,((0.,0.,0.),(1.,0.,0.),(0.,1.,0.)))");
             const int face = f.add("TRIANGULATED_FACE(''," + to(points) + ",3,((0.,0.,1.)),$,(1,2,3),((1,2,3)))");
             const int other = f.add("TESSELLATED_SHELL('',(" + to(face) + "),$)");
             f.product("Part", {solid, other}, f.context(), "SHAPE_REPRESENTATION");
         }),
         {24},
         {},
         "triangles"},
        {"a block of construction beside a solid",
         text_of([&](Part21& f) {
             const int solid = f.solid(f.box({0, 0, 0}, {2, 3, 4}));
             const int block = f.add("BLOCK(''," + to(f.axis({0, 0, 0})) + ",1.,1.,1.)");
             const int csg = f.add("CSG_SOLID(''," + to(block) + ")");
             f.product("Part", {solid, csg}, f.context(), "SHAPE_REPRESENTATION");
         }),
         {24},
         {},
         "could not be read"},
        {"a solid without a shell",
         text_of([&](Part21& f) {
             const int good = f.solid(f.box({0, 0, 0}, {2, 3, 4}));
             const int bad = f.add("MANIFOLD_SOLID_BREP('',$)");
             f.product("Part", {good, bad}, f.context());
         }),
         {24},
         {},
         "could not be read"},
    };
}

std::vector<Form> of_structure() {
    const auto to = [](int entity) { return Part21::to(entity); };
    // A foot of 2 x 3 x 4 in a stand, at places.
    const auto stand = [](const std::vector<std::pair<std::string, Triple>>& places, bool nested) {
        return text_of([&](Part21& f) {
            const int units = f.context();
            const int here = f.axis({0, 0, 0});
            const auto foot = f.product("Foot", {f.solid(f.box({0, 0, 0}, {2, 3, 4})), here}, units);
            std::vector<int> axes{f.axis({0, 0, 0})};
            for (const auto& [name, p] : places) {
                axes.push_back(f.axis(p, {0, 0, 1}, {0, 1, 0})); // turned by 90 degrees
            }
            const auto whole = f.product("Stand", axes, units, "SHAPE_REPRESENTATION");
            for (size_t i = 0; i < places.size(); ++i) {
                f.place(foot, whole, places[i].first, here, axes[i + 1]);
            }
            if (nested) {
                const int at = f.axis({0, 0, 100});
                const auto room = f.product("Room", {at}, units, "SHAPE_REPRESENTATION");
                f.place(whole, room, "", axes[0], at);
            }
        });
    };
    const auto colored = [&](double r, double g, double b) {
        return text_of([&](Part21& f) {
            const int solid = f.solid(f.box({0, 0, 0}, {2, 3, 4}));
            const int units = f.context();
            f.product("Part", {solid}, units);
            const int style = f.add("STYLED_ITEM('',(" + to(f.color(r, g, b)) + ")," + to(solid) + ")");
            f.add("MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION('',(" + to(style) + ")," + to(units) + ")");
        });
    };
    return {
        {"one occurrence", stand({{"", {5, 0, 1}}}, false), {24}, {"Foot"}, {}, {}, 5},
        {"two occurrences", stand({{"", {5, 0, 1}}, {"", {50, 0, 7}}}, false), {24, 24}, {"Foot", "Foot"}, {}, {}, 11},
        {"occurrences with names",
         stand({{"left", {5, 0, 1}}, {"right", {50, 0, 7}}}, false),
         {24, 24},
         {"left", "right"}},
        {"numbered occurrences",
         stand({{"Foot:1", {5, 0, 1}}, {"Foot:2", {50, 0, 7}}}, false),
         {24, 24},
         {"Foot", "Foot"}},
        {"an assembly in an assembly", stand({{"", {5, 0, 1}}}, true), {24}, {"Foot"}, {}, {}, 105, "Stand"},
        {"a mapped item",
         text_of([&](Part21& f) {
             const int units = f.context();
             const int from = f.axis({0, 0, 0});
             const int solid = f.solid(f.box({0, 0, 0}, {2, 3, 4}));
             const int shape = f.add("SHAPE_REPRESENTATION('',(" + to(solid) + "," + to(from) + ")," + to(units) + ")");
             const int map = f.add("REPRESENTATION_MAP(" + to(from) + "," + to(shape) + ")");
             const int item = f.add("MAPPED_ITEM(''," + to(map) + "," + to(f.axis({0, 0, 30})) + ")");
             f.product("Mapped", {item}, units, "SHAPE_REPRESENTATION");
         }),
         {24},
         {"Mapped"},
         {},
         {},
         34},
        {"two products side by side",
         text_of([](Part21& f) {
             const int units = f.context();
             f.product("One", {f.solid(f.box({0, 0, 0}, {2, 3, 4}))}, units);
             f.product("Two", {f.solid(f.box({9, 0, 0}, {1, 1, 1}))}, units);
         }),
         {24, 1},
         {"One", "Two"}},
        {"products in different units",
         text_of([](Part21& f) {
             f.product("One", {f.solid(f.box({0, 0, 0}, {2, 3, 4}))}, f.context());
             f.product("Two", {f.solid(f.box({9, 0, 0}, {1, 1, 1}))}, f.context(".CENTI."));
         }),
         {24, 1000},
         {"One", "Two"}},
        {"a red body", colored(1, 0, 0), {24}, {"Part"}, {}, {"#ff0000"}},
        {"a white body", colored(1, 1, 1), {24}, {"Part"}, {}, {"#ffffff"}},
        {"a face of another colour",
         text_of([&](Part21& f) {
             const auto faces = f.box({0, 0, 0}, {2, 3, 4});
             const int solid = f.solid(faces);
             const int units = f.context();
             f.product("Part", {solid}, units);
             const int base = f.add("STYLED_ITEM('',(" + to(f.color(0, 0, 1)) + ")," + to(solid) + ")");
             const int over = f.add("OVER_RIDING_STYLED_ITEM('',(" + to(f.color(1, 0, 0)) + ")," + to(faces[1]) + "," +
                                    to(base) + ")");
             f.add("MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION('',(" + to(base) + "," + to(over) + ")," +
                   to(units) + ")");
         }),
         {24},
         {"Part"},
         "colour of a face",
         {"#0000ff"}},
        {"a layer",
         text_of([&](Part21& f) {
             const int solid = f.solid(f.box({0, 0, 0}, {2, 3, 4}));
             f.product("Part", {solid}, f.context());
             f.add("PRESENTATION_LAYER_ASSIGNMENT('Frame','',(" + to(solid) + "))");
         }),
         {24},
         {"Part"},
         {},
         {},
         0,
         "@Frame"},
        {"not to be seen",
         text_of([&](Part21& f) {
             const int solid = f.solid(f.box({0, 0, 0}, {2, 3, 4}));
             const int units = f.context();
             f.product("Part", {solid}, units);
             const int style = f.add("STYLED_ITEM('',(" + to(f.color(1, 0, 0)) + ")," + to(solid) + ")");
             f.add("MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION('',(" + to(style) + ")," + to(units) + ")");
             f.add("INVISIBILITY((" + to(style) + "))");
         }),
         {24},
         {"Part"},
         {},
         {},
         0,
         "!"},
    };
}

void expect_right_or_told(const std::vector<Form>& forms) {
    for (const Form& form : forms) {
        Progress quiet;
        const auto read = format_of("a.step")->read_bodies(form.text, quiet);
        ASSERT_TRUE(read) << form.name << ": " << read.finding().cause;
        ASSERT_EQ(read->bodies.size(), form.volumes.size()) << form.name;
        double high = 0;
        for (size_t i = 0; i < form.volumes.size(); ++i) {
            const NamedBody& body = read->bodies[i];
            const double wanted = form.volumes[i];
            EXPECT_EQ(geom::solids_of(body.shape).size(), wanted > 0 ? 1u : 0u) << form.name;
            EXPECT_NEAR(geom::volume_of(body.shape), wanted, 1e-9 * wanted) << form.name;
            EXPECT_TRUE(form.called.empty() || body.name == form.called.at(i)) << form.name << ": " << body.name;
            EXPECT_TRUE(form.colors.empty() || body.color == form.colors.at(i)) << form.name << ": " << body.color;
            high = std::max(high, geom::box_of(body.shape)[5]);
        }
        std::string sorted;
        const auto& sorting = read->bodies.front().sorting;
        for (const auto& [number, group] : sorting.groups) {
            sorted += (sorted.empty() ? "" : "/") + group;
        }
        sorted += (sorting.layer.empty() ? "" : "@" + sorting.layer) + (sorting.hidden ? "!" : "");
        EXPECT_EQ(sorted, form.sorted) << form.name;
        EXPECT_TRUE(form.high == 0 || std::fabs(high - form.high) < 1e-6) << form.name << ": " << high;
        expect_told(read->left_out, form.told, form.name);
    }
}

} // namespace

TEST(StepForms, AsTheyAreWritten) {
    expect_right_or_told(of_writing());
}

TEST(StepForms, InTheirUnits) {
    expect_right_or_told(of_units());
}

TEST(StepForms, OfTheirShapes) {
    expect_right_or_told(of_shapes());
}

TEST(StepForms, InTheirStructure) {
    expect_right_or_told(of_structure());
}
