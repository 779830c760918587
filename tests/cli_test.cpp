// kervo-cli as scripts see it: standard output, standard error, exit codes.
#include "io_fixture.h"
#include "model/document/groups_and_layers.h"
#include "model/steps/sketch/sketch_step.h"

#include <nlohmann/json.hpp>

#include <sys/wait.h>

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

struct Ran {
    int code = -1;
    std::string out, err;
};

Ran run(const std::string& arguments, const std::string& in = "/dev/null") {
    const TemporaryFolder folder;
    const std::string command = std::string(KERVO_BIN) + "/kervo-cli " + arguments + " >" + folder.file("out") + " 2>" +
                                folder.file("err") + " <" + in;
    const int status = std::system(command.c_str());
    return {WEXITSTATUS(status), read_file(folder.file("out")), read_file(folder.file("err"))};
}

double volume(const Json& report, const std::string& name) {
    for (const Json& body : report["bodies"]) {
        if (body["name"] == name) {
            return body["volume"];
        }
    }
    return -1;
}

double removed(const Json& report, int number) {
    for (const Json& step : report["steps"]) {
        if (step["number"] == number) {
            return step["removed"];
        }
    }
    return -1;
}

void expect_table(const Json& report, double plate) {
    const double holes = 4 * pi * 121 + pi / 10 * (108 * 108 - 96 * 96);
    const double around_spindle = pi * 16 * 16;
    const auto same = [](double value, double wanted) { EXPECT_NEAR(value / wanted, 1, 1e-9) << wanted; };
    same(volume(report, "Roller ring"), pi * (100 * 100 - 75 * 75) * 40);
    same(volume(report, "Spindle"), pi * 15 * 15 * (40 + plate + 24));
    same(volume(report, "Bottom plate"), plate * (240 * 240 - holes));
    same(volume(report, "Top plate"), plate * (240 * 240 - holes - around_spindle) - engraved_volume());
    same(removed(report, 70), 2 * plate * holes);
    same(removed(report, 90), plate * around_spindle);
    same(removed(report, 110), engraved_volume());
    for (const Json& step : report["steps"]) {
        EXPECT_EQ(step["state"], "ok") << step["number"];
    }
    for (const Json& body : report["bodies"]) {
        EXPECT_EQ(body["closed"], true) << body["name"];
        EXPECT_EQ(body["valid"], true) << body["name"];
        EXPECT_EQ(body["lumps"], 1) << body["name"];
    }
}

// A turned weight with a round groove and a flat: Pappus, and the area of a segment summed over the height.
void expect_counterweight(const std::string& changes, double d, double h, double bore, double r, double flat,
                          double rim = 2, double lead_in = 1) {
    const Ran ran = run("report " + std::string(KERVO_SOURCE) + "/demo/counterweight/document.json" + changes);
    ASSERT_EQ(ran.code, 0) << ran.err;
    const Json report = Json::parse(ran.out);
    const double big = d / 2;
    const double away = big - flat; // of the flat from the axis
    const auto segment_at = [](double radius, double distance) {
        return radius <= distance ? 0
                                  : radius * radius * std::acos(distance / radius) -
                                        distance * std::sqrt(radius * radius - distance * distance);
    };
    const auto segment = [&](double radius) { return segment_at(radius, away); };
    double flattened = segment(big) * (h - 2 * r);
    const int slices = 400000;
    for (int i = 0; i < slices; ++i) {
        const double z = r * (2 * (i + 0.5) / slices - 1);
        flattened += segment(big - std::sqrt(r * r - z * z)) * 2 * r / slices;
    }
    // Within a round, each level is the outline set in by so much.
    double rounded = 0;
    for (int i = 0; i < slices; ++i) {
        const double t = rim * (i + 0.5) / slices;
        const double in = rim - std::sqrt(rim * rim - t * t);
        const double level = pi * (big - in) * (big - in) - segment_at(big - in, away - in);
        rounded += 2 * (pi * big * big - segment(big) - level) * rim / slices;
    }
    const double bevelled = 2 * pi * (bore / 2 * lead_in * lead_in + lead_in * lead_in * lead_in / 3);
    const double groove = 2 * pi * (big * pi * r * r / 2 - 2 * r * r * r / 3);
    const double whole = pi * (big * big - bore * bore / 4) * h;
    EXPECT_NEAR(removed(report, 40) / groove, 1, 1e-9);
    EXPECT_NEAR(removed(report, 60) / flattened, 1, 1e-6);
    EXPECT_NEAR(removed(report, 70) / rounded, 1, 1e-6);
    EXPECT_NEAR(removed(report, 80) / bevelled, 1, 1e-9);
    EXPECT_NEAR(volume(report, "Counterweight") / (whole - groove - flattened - rounded - bevelled), 1, 1e-7);
    EXPECT_EQ(report["bodies"].size(), 1U);
    EXPECT_EQ(report["bodies"][0]["valid"], true);
    EXPECT_EQ(report["bodies"][0]["faces_by_surface"]["torus"], 3); // the groove and the round rims
}

} // namespace

TEST(Cli, ReportsTheTableByItsFormulas) {
    const Ran as_drawn = run("report " + demo_path());
    ASSERT_EQ(as_drawn.code, 0) << as_drawn.err;
    EXPECT_EQ(as_drawn.err, "");
    expect_table(Json::parse(as_drawn.out), 16);
    const Ran thicker = run("report " + demo_path() + " --set plate=22");
    ASSERT_EQ(thicker.code, 0) << thicker.err;
    expect_table(Json::parse(thicker.out), 22);
    const Json inches = Json::parse(run("report " + demo_path() + " --set 'plate=0.5 in'").out);
    expect_table(inches, 12.7);
}

TEST(Cli, OnlyWhatDependsOnAParameterChanges) {
    const Json before = Json::parse(run("report " + demo_path()).out);
    const Json after = Json::parse(run("report " + demo_path() + " --set clearance=2.5 --set ports=118").out);
    EXPECT_EQ(volume(after, "Roller ring"), volume(before, "Roller ring"));
    EXPECT_EQ(volume(after, "Spindle"), volume(before, "Spindle"));
    EXPECT_NEAR(volume(after, "Bottom plate"), volume(before, "Bottom plate"), 1e-6);
    EXPECT_NEAR(removed(after, 90), 16 * pi * 17.5 * 17.5, 1e-6);
}

TEST(Cli, AsOfAStep) {
    const Json early = Json::parse(run("report " + demo_path() + " --as-of 40").out);
    EXPECT_EQ(early["bodies"].size(), 3u);
    EXPECT_NEAR(volume(early, "Top plate"), 240 * 240 * 16, 1e-6);
    EXPECT_EQ(run("report " + demo_path() + " --as-of 41").code, 3);
}

TEST(Cli, ExitCodesAndMessages) {
    EXPECT_EQ(run("report /nowhere.kervo").code, 2);
    EXPECT_NE(run("report /nowhere.kervo").err.find("nowhere"), std::string::npos);
    EXPECT_EQ(run("report").code, 3);
    EXPECT_EQ(run("frobnicate x").code, 3);
    EXPECT_EQ(run("report " + demo_path() + " --set platte=3").code, 3);
    EXPECT_EQ(run("report " + demo_path() + " --set plate").code, 3);
    EXPECT_EQ(run("--help").code, 0);
    const Ran failed = run("report " + demo_path() + " --set plate=-4");
    EXPECT_EQ(failed.code, 1);
    EXPECT_NE(failed.err.find("step 10"), std::string::npos);
    EXPECT_EQ(Json::parse(failed.out)["ok"], false); // the report is there all the same
    const Ran cyclic = run("report " + demo_path() + " --set slot_in='slot_out - 12 mm'");
    EXPECT_EQ(cyclic.code, 1);
    EXPECT_NE(cyclic.err.find("slot_in"), std::string::npos);
}

TEST(Cli, ChecksDocuments) {
    EXPECT_EQ(run("check " + demo_path()).code, 0);
    const TemporaryFolder folder;
    std::string text = read_file(demo_path());
    text.insert(text.find("\"parameters\""), "\"colour\": \"red\",\n ");
    write_file(folder.file("document.json"), text);
    const Ran stray = run("check " + folder.file("document.json"));
    EXPECT_EQ(stray.code, 1);
    EXPECT_NE(stray.err.find("file.schema"), std::string::npos);
    EXPECT_EQ(stray.out, "");
    const Ran piped = run("check -", folder.file("document.json")); // what came in, not what would be written
    EXPECT_EQ(piped.code, 1);
    EXPECT_NE(piped.err.find("file.schema"), std::string::npos);
}

TEST(Cli, ExportsAndReadsBack) {
    const TemporaryFolder folder;
    ASSERT_EQ(run("export " + demo_path() + " " + folder.file("t.step") + " --set plate=20 --only 'Top plate'").code,
              0);
    Progress progress;
    const auto bodies =
        import_in_child({AssetName::like("t.step"), read_file(folder.file("t.step")), false}, limits(), progress);
    ASSERT_TRUE(bodies);
    ASSERT_EQ(bodies->bodies.size(), 1u);
    EXPECT_EQ(bodies->bodies.front().name, "Top plate");
    EXPECT_NEAR(geom::box_of(bodies->bodies.front().shape)[5], 80, 1e-6);
    EXPECT_EQ(run("export " + demo_path() + " " + folder.file("t.brep")).code, 0);
    EXPECT_EQ(run("export " + demo_path() + " " + folder.file("t.stl") + " --chord 0.5").code, 0);
    EXPECT_EQ(run("export " + demo_path() + " " + folder.file("t.dwg")).code, 3);
    EXPECT_EQ(run("export " + demo_path() + " /nowhere/t.step").code, 2);
    EXPECT_EQ(run("export " + demo_path() + " " + folder.file("u.step") + " --only Saucer").code, 3);
    EXPECT_EQ(run("export " + demo_path() + " " + folder.file("u.step") + " --set port_d=-1").code, 1);
    EXPECT_FALSE(std::filesystem::exists(folder.file("u.step")));
}

namespace {

// A box, a copy of it of the same name, a blade, and a sketch; `w` is a parameter.
std::string boxes_path(const TemporaryFolder& folder) {
    write_file(folder.file("boxes.json"), R"({"format": "kervo", "version": 2, "title": "Boxes", "unit": "mm",
        "parameters": [{"name": "width", "formula": "10 mm", "unit": "mm"}], "last_id": 50, "steps": [
        {"id": 10, "number": 10, "kind": "stock", "name": "Twin", "answers":
            {"shape": "box", "width": "width", "depth": "20 mm", "height": "30 mm"}},
        {"id": 20, "number": 20, "kind": "stock", "name": "Twin", "answers":
            {"shape": "box", "width": "10 mm", "depth": "20 mm", "height": "30 mm", "x": "50 mm"}},
        {"id": 30, "number": 30, "kind": "blade", "name": "Edge", "answers":
            {"result": "blade", "plane": "principal", "principal": "xy", "offset": "-5 mm"}},
        {"id": 40, "number": 40, "kind": "sketch", "name": "Plan", "answers": {"plane": "xy", "drawing":
            {"points": [{"id": 1, "x": 5, "y": 7}], "curves": [{"id": 2, "kind": "circle", "points": [1], "radius": 3}],
             "constraints": []}}}]})");
    return folder.file("boxes.json");
}

} // namespace

// Out, in as a document, and out again.
TEST(Cli, StepFilesComeBackAsTheyWent) {
    const std::map<std::string, std::string> demos{
        {"azimuth-table", ""},  {"counterweight", ""},        {"finder-clamp", ""},
        {"observing-deck", ""}, {"spectrograph-housing", ""}, {"sun-screen", " --set columns=6 --set rows=4"}};
    for (const auto& [demo, settings] : demos) {
        const TemporaryFolder folder;
        const std::string document = std::string(KERVO_SOURCE) + "/demo/" + demo + "/document.json";
        ASSERT_EQ(run("export " + document + " " + folder.file("a.step") + settings).code, 0) << demo;
        ASSERT_EQ(run("import " + folder.file("a.step") + " " + folder.file("b.kervo")).code, 0) << demo;
        ASSERT_EQ(run("export " + folder.file("b.kervo") + " " + folder.file("b.step")).code, 0) << demo;
        std::vector<ImportedFile> files;
        for (const std::string name : {"a.step", "b.step"}) {
            Progress progress;
            const auto file =
                import_in_child({AssetName::like(name), read_file(folder.file(name)), false}, limits(), progress);
            ASSERT_TRUE(file) << demo;
            files.push_back(*file);
            std::sort(files.back().bodies.begin(), files.back().bodies.end(), [](const auto& a, const auto& b) {
                return std::pair(a.name, geom::box_of(a.shape)[0]) < std::pair(b.name, geom::box_of(b.shape)[0]);
            });
        }
        ASSERT_EQ(files[0].bodies.size(), files[1].bodies.size()) << demo;
        for (size_t i = 0; i < files[0].bodies.size(); ++i) {
            const ImportedBody& one = files[0].bodies[i];
            const ImportedBody& other = files[1].bodies[i];
            EXPECT_EQ(one.name, other.name) << demo;
            EXPECT_EQ(one.color, other.color) << demo;
            const double volume = geom::volume_of(one.shape);
            EXPECT_NEAR(geom::volume_of(other.shape), volume, 1e-9 * volume) << demo << ' ' << one.name;
            EXPECT_EQ(geom::count(one.shape).faces, geom::count(other.shape).faces) << demo << ' ' << one.name;
        }
    }
}

TEST(Cli, ImportsGroupsAndLayers) {
    const TemporaryFolder folder;
    const auto box = [](int id, const std::string& x) {
        return R"({"id": )" + std::to_string(id) + R"(, "number": )" + std::to_string(id) +
               R"(, "kind": "stock", "name": "Box", "answers": {"shape": "box", "width": "10 mm", "depth": "20 mm",
                  "height": "30 mm", "x": ")" +
               x + R"("}})";
    };
    // Two groups of one name in one that holds both, and a body of its own.
    write_file(folder.file("a.json"),
               R"({"format": "kervo", "version": 2, "title": "Dome", "unit": "mm", "last_id": 40,
        "steps": [)" +
                   box(10, "0 mm") + "," + box(20, "50 mm") + "," + box(30, "100 mm") + "," + box(40, "150 mm") +
                   R"(], "groups": [{"id": 1, "name": "Whole"}, {"id": 2, "name": "Pair", "within": 1},
        {"id": 3, "name": "Pair", "within": 1}], "layers": [{"name": "Steel"}], "appearance": {
        "10": {"name": "A", "group": 2, "layer": "Steel"}, "20": {"name": "B", "group": 3},
        "30": {"name": "C", "group": 3, "hidden": true}, "40": {"name": "D"}}})");
    ASSERT_EQ(run("export " + folder.file("a.json") + " " + folder.file("a.step") + " --hidden-too").code, 0);
    const Ran made = run("import " + folder.file("a.step") + " " + folder.file("a.step") + " " + folder.file("b.json"));
    ASSERT_EQ(made.code, 0) << made.err;
    EXPECT_NE(made.err.find("3 groups, 1 layer, 1 hidden body"), std::string::npos) << made.err;
    const auto document = open_document(folder.file("b.json"));
    ASSERT_TRUE(document);
    EXPECT_EQ(document->title, "a");
    ASSERT_EQ(document->steps.size(), 2u);
    EXPECT_EQ(document->assets.size(), 2u);
    ASSERT_EQ(document->groups.size(), 6u); // three of each file
    ASSERT_EQ(document->layers.size(), 1u);
    for (const std::string file : {"10", "20"}) {
        const auto look = [&](const std::string& body) { return look_of(*document, file + "." + body); };
        const auto within = [&](int group) { return find_group(*document, group)->within; };
        const int first = look("1").group;
        const int second = look("2").group;
        EXPECT_NE(first, second);
        EXPECT_EQ(look("3").group, second);
        EXPECT_EQ(look("4").group, 0);
        EXPECT_EQ(find_group(*document, first)->name, "Pair");
        EXPECT_EQ(find_group(*document, second)->name, "Pair");
        EXPECT_EQ(within(first), within(second));
        EXPECT_EQ(find_group(*document, within(first))->name, "Whole");
        EXPECT_EQ(look("1").layer, "Steel");
        EXPECT_TRUE(look("3").hidden);
        EXPECT_FALSE(look("2").hidden);
    }
    // Sorted once more, nothing changes.
    const std::map<BodyId, Sorting> again{{"10.1", {{{1, "Else"}}, "", false}}};
    EXPECT_FALSE(can_be_sorted(*document, again));
    EXPECT_EQ(sort_as_in_file(*document, again).groups, document->groups);
    // What cannot be: a name that is no document's, files that are none.
    EXPECT_EQ(run("import " + folder.file("a.step") + " " + folder.file("c.step")).code, 3);
    EXPECT_EQ(run("import " + folder.file("none.step") + " " + folder.file("c.json")).code, 2);
    EXPECT_EQ(run("export " + folder.file("a.json") + " " + folder.file("x") + " --apart --format stl").code, 3);
    const Ran wrong = run("report " + folder.file("a.json") + " --as-of 15");
    const std::string housing = std::string(KERVO_SOURCE) + "/demo/spectrograph-housing/document.json";
    EXPECT_NE(run("report " + housing + " --as-of 15").err.find("their numbers go from 10 to"), std::string::npos);
    EXPECT_EQ(wrong.code, 3);
    EXPECT_NE(wrong.err.find("there are 10, 20, 30, 40"), std::string::npos) << wrong.err;
}

TEST(Cli, NamesTheWordThatIsMeant) {
    const TemporaryFolder folder;
    const std::string boxes = boxes_path(folder);
    const auto told = [&](const std::string& arguments, const std::string& meant) {
        const Ran ran = run(arguments);
        EXPECT_EQ(ran.code, 3) << arguments;
        EXPECT_NE(ran.err.find(meant), std::string::npos) << arguments << ": " << ran.err;
        EXPECT_EQ(ran.out, "") << arguments;
    };
    told("reprot " + boxes, "did you mean \u201creport\u201d");
    told("report " + boxes + " --sett width=3", "did you mean \u201c--set\u201d");
    told("report " + boxes + " --set widht=3", "did you mean \u201cwidth\u201d");
    told("report " + boxes + " --as-of 41", "10, 20, 30, 40");
    told("export " + boxes + " " + folder.file("a.txt") + " --format setp", "did you mean \u201cstep\u201d");
    told("export " + boxes + " " + folder.file("a.step") + " --only Edge", "is a blade");
    told("export " + boxes + " " + folder.file("a.step") + " --chord 0.1", "--chord says nothing for STEP");
    told("outlines " + boxes + " --step 0 --write " + folder.file("a.svg"), "is no sketch");
    told("outlines " + boxes + " --step 40 --write " + folder.file("a.svg") + " --turn 5", "--take");
    const Ran version = run("--version");
    EXPECT_EQ(version.code, 0);
    EXPECT_EQ(version.out.rfind("kervo-cli ", 0), 0u);
    write_file(folder.file("broken.json"), "{\"format\": oops");
    const Ran broken = run("report " + folder.file("broken.json"));
    EXPECT_EQ(broken.code, 2);
    EXPECT_EQ(broken.err.find("json.exception"), std::string::npos) << broken.err;
    EXPECT_NE(broken.err.find("line 1"), std::string::npos) << broken.err;
}

TEST(Cli, WritesWhatTheNameSaysOrNothing) {
    const TemporaryFolder folder;
    const std::string boxes = boxes_path(folder);
    const std::string before = read_file(boxes);
    for (const char* name : {"o.pdf", "o", "copy.json", "boxes.json", "o.kervo", "o.png"}) {
        EXPECT_EQ(run("outlines " + boxes + " --step 40 --write " + folder.file(name)).code, 3) << name;
        EXPECT_EQ(run("graph " + boxes + " " + folder.file(name)).code, 3) << name;
        EXPECT_EQ(run("export " + boxes + " " + folder.file(name)).code, 3) << name;
    }
    EXPECT_EQ(run("graph " + boxes + " " + folder.file("o.dxf")).code, 3);
    EXPECT_EQ(read_file(boxes), before);
    EXPECT_FALSE(std::filesystem::exists(folder.file("o.pdf")));
    EXPECT_EQ(run("outlines " + boxes + " --step 40 --write " + folder.file("o.DXF")).code, 0);
    EXPECT_NE(read_file(folder.file("o.DXF")).find("CIRCLE"), std::string::npos);
    // By an option, where the name says nothing.
    EXPECT_EQ(run("export " + boxes + " " + folder.file("bodies") + " --format stl").code, 0);
    EXPECT_EQ(read_file(folder.file("bodies")).size(), 84 + 50 * 24u);
    const Ran out = run("export " + boxes + " - --format step --only Twin");
    EXPECT_EQ(out.code, 0);
    EXPECT_EQ(out.out.rfind("ISO-10303-21;", 0), 0u);
    EXPECT_EQ(run("outlines " + boxes + " --step 40 --write - --format svg").out.rfind("<?xml", 0), 0u);
    EXPECT_EQ(run("graph " + boxes + " -").out.rfind("<?xml", 0), 0u);
    EXPECT_EQ(run("export " + boxes + " -").code, 3);
    EXPECT_EQ(run("export " + boxes + " " + folder.file("t.stl") + " --apart --text").code, 0);
    EXPECT_TRUE(std::filesystem::exists(folder.file("t-Twin.stl")));
    EXPECT_TRUE(std::filesystem::exists(folder.file("t-Twin 2.stl")));
}

TEST(Cli, ReadsSeveralDocumentsAndStandardInput) {
    const TemporaryFolder folder;
    const std::string boxes = boxes_path(folder);
    const Ran both = run("report " + boxes + " " + demo_path() + " --as-of 20");
    EXPECT_EQ(both.code, 0) << both.err;
    const Json list = Json::parse(both.out);
    ASSERT_EQ(list.size(), 2u);
    EXPECT_EQ(list[0]["file"], boxes);
    const Ran again = run("report " + boxes);
    EXPECT_EQ(again.out, run("report " + boxes).out); // byte by byte, since no times are among it
    EXPECT_EQ(Json::parse(again.out)["steps"][0].count("seconds"), 0u);
    EXPECT_EQ(Json::parse(run("report " + boxes + " --times").out)["steps"][0].count("seconds"), 1u);
    EXPECT_NEAR(volume(Json::parse(run("report - --set width=3", boxes).out), "Twin"), 1800, 1e-9);
    EXPECT_EQ(run("check " + boxes + " /nowhere.json").code, 2);
    EXPECT_EQ(run("export " + boxes + " " + folder.file("a.stl") + " --as-of 10").code, 0);
    EXPECT_EQ(read_file(folder.file("a.stl")).size(), 84 + 50 * 12u);
}

TEST(Cli, SaysThatAFullDiskTookNothing) {
    if (!std::filesystem::exists("/dev/full")) {
        GTEST_SKIP() << "this system has no full device";
    }
    const TemporaryFolder folder;
    const std::string boxes = boxes_path(folder);
    for (const std::string& arguments :
         {"report " + boxes, std::string("schema"), std::string("reference"), "parameters " + boxes,
          "graph " + boxes + " -", "export " + boxes + " - --format stl", "adopt " + boxes + " -"}) {
        const std::string command =
            std::string(KERVO_BIN) + "/kervo-cli " + arguments + " >/dev/full 2>" + folder.file("err");
        EXPECT_EQ(WEXITSTATUS(std::system(command.c_str())), 2) << arguments;
        EXPECT_NE(read_file(folder.file("err")).find("not written"), std::string::npos) << arguments;
    }
}

// A sketch whose ends miss each other by a millionth makes a body that is not closed: nobody gets it unasked.
TEST(Cli, UnsoundBodiesAreNotWell) {
    const TemporaryFolder folder;
    write_file(folder.file("gap.json"),
               R"({"format": "kervo", "version": 2, "title": "gap", "unit": "mm", "last_id": 20,
        "steps": [{"id": 10, "number": 10, "kind": "sketch", "name": "S", "answers": {"plane": "xy", "drawing": {
        "constraints": [], "curves": [], "points": [{"id": 1, "x": 0, "y": 0}, {"id": 2, "x": 10, "y": 0}],
        "figures": [{"id": 3, "kind": "artwork", "points": [1, 2], "size": "10 mm", "fill": "own", "artwork": {
            "name": "gap.dxf", "shapes": [{"fill": "none", "chains": [[{"line": [0, 0, 10, 0]}],
            [{"line": [10, 0, 10, 10]}], [{"line": [10, 10.000001, 0, 0]}]]}]}}]}}},
        {"id": 20, "number": 20, "kind": "extrude", "name": "E", "answers": {"result": "new_body", "sketch": 10,
            "regions": [{"figure": 3}], "to": "distance", "distance": "1 mm"}}]})");
    const Ran report = run("report " + folder.file("gap.json"));
    EXPECT_EQ(report.code, 1) << report.err;
    EXPECT_EQ(Json::parse(report.out)["ok"], false);
    EXPECT_NE(report.err.find("body.unsound"), std::string::npos);
    EXPECT_EQ(run("check " + folder.file("gap.json")).code, 1);
    EXPECT_EQ(run("export " + folder.file("gap.json") + " " + folder.file("g.step")).code, 1);
    EXPECT_FALSE(std::filesystem::exists(folder.file("g.step")));
    EXPECT_EQ(run("export " + folder.file("gap.json") + " " + folder.file("g.step") + " --unsound-too").code, 0);
}

// Faces that are meant by a nearby point become names before parameters change, so that they follow.
TEST(Cli, DrawsWhatHangsOnWhat) {
    const TemporaryFolder folder;
    EXPECT_EQ(run("graph " + demo_path() + " " + folder.file("graph.svg")).code, 0);
    EXPECT_NE(read_file(folder.file("graph.svg")).find("Engraved scale"), std::string::npos);
    EXPECT_EQ(run("graph " + demo_path() + " /nowhere/graph.svg").code, 2);
}

TEST(Cli, OutlinesOutOfASketchAndIntoOne) {
    const TemporaryFolder folder;
    const std::string outlines = std::string(KERVO_SOURCE) + "/tests/outlines/";
    write_file(folder.file("in.json"),
               R"({"format": "kervo", "version": 1, "steps": [{"id": 10, "number": 10, "kind": "sketch", "name": "Plan",
        "answers": {}}]})");
    const std::string in = "outlines " + folder.file("in.json") + " --step 10 ";
    const std::string save = " --save " + folder.file("out.json");
    const auto taken = run(in + "--take " + outlines + "words-and-dimensions.dxf --width '20 mm' --at 5 7" + save);
    EXPECT_EQ(taken.code, 0);
    EXPECT_NE(taken.err.find("not read: a point"), std::string::npos);
    const auto document = open_document(folder.file("out.json"));
    ASSERT_TRUE(document);
    const auto& drawing = document->steps[0]->definition.as<model::SketchStep>()->drawing;
    ASSERT_EQ(drawing.figures.size(), 1U);
    EXPECT_EQ(drawing.figures[0].size.formula.text, "20 mm");
    EXPECT_EQ(run("check " + folder.file("out.json")).code, 0);
    // Out again, twice as large as it was: 4 x 40 mm2.
    for (const char* name : {"out.svg", "out.dxf"}) {
        EXPECT_EQ(run("outlines " + folder.file("out.json") + " --step 10 --write " + folder.file(name)).code, 0);
        EXPECT_EQ(run(in + "--take " + folder.file(name) + save).code, 0) << name;
        const auto report = run("report " + folder.file("out.json"));
        EXPECT_EQ(report.code, 0);
        EXPECT_EQ(run(in + "--take " + outlines + "words-and-dimensions.dxf --width '20 mm' --at 5 7" + save).code, 0);
    }
    EXPECT_EQ(run(in + "--take " + outlines + "nothing.dxf" + save).code, 2);
    EXPECT_EQ(run(in + "--take no.svg" + save).code, 2);
    EXPECT_EQ(run(in + "--take " + outlines + "flange.dxf").code, 3);
    EXPECT_EQ(run(in).code, 3);
    EXPECT_EQ(run("outlines " + folder.file("in.json") + " --step 30 --write a.svg").code, 3);
}

TEST(Cli, ParametersAsATable) {
    const TemporaryFolder folder;
    const auto table = run("parameters " + demo_path());
    EXPECT_EQ(table.code, 0);
    EXPECT_NE(table.out.find("plate,16 mm,16,mm,"), std::string::npos);
    std::string changed = table.out;
    changed.replace(changed.find("16 mm"), 5, "22 mm");
    write_file(folder.file("table.csv"), changed);
    const auto take = [&](const std::string& from) {
        return run("parameters " + demo_path() + " --take " + folder.file(from) + " --save " + folder.file("out.json"));
    };
    EXPECT_EQ(take("table.csv").code, 0);
    EXPECT_EQ(open_document(folder.file("out.json"))->parameters[0].formula, "22 mm");
    EXPECT_EQ(take("no.csv").code, 2);
    EXPECT_EQ(run("parameters " + demo_path() + " --take " + folder.file("table.csv")).code, 3);
}

TEST(Cli, PicksByNearbyPoint) {
    const TemporaryFolder folder;
    const std::string path = folder.file("document.json");
    write_file(path, R"({"format": "kervo", "version": 2,
      "parameters": [{"name": "h", "formula": "10 mm", "unit": "mm"}],
      "steps": [
        {"number": 10, "kind": "stock", "name": "Block", "answers": {"width": "50", "depth": "50", "height": "h"}},
        {"number": 20, "kind": "sketch", "answers": {"plane": "face",
           "face": [{"kind": "face", "body": "Block", "near": [3, 4, 10]}],
           "drawing": {"points": [{"id": 1, "x": 0, "y": 0}], "curves": [{"id": 2, "kind": "circle", "points": [1], "radius": 5}]}}},
        {"number": 30, "kind": "extrude", "answers": {"result": "cut", "workpieces": ["Block"], "sketch": 20, "regions": [{"near": [0, 0]}],
           "to": "face", "to_face": [{"kind": "face", "body": "Block", "near": [3, 4, 0]}], "to_offset": "4"}}]})");
    for (const double h : {10.0, 35.0}) {
        const Ran ran = run("report " + path + " --set h=" + std::to_string(h));
        ASSERT_EQ(ran.code, 0) << ran.err;
        EXPECT_NEAR(removed(Json::parse(ran.out), 30), pi * 25 * (h - 4), 1e-8) << h;
    }
    ASSERT_EQ(run("adopt " + path + " " + folder.file("named.kervo")).code, 0);
    const auto named = open_document(folder.file("named.kervo"));
    ASSERT_TRUE(named);
    EXPECT_EQ(named->step(20)->definition.as<SketchStep>()->face[0].faces, std::vector<std::string>{"10:top"});
}

// 2,400 openings by a formula: the open share of the pattern, whatever its pitch.
TEST(Cli, TheSunScreenLetsThroughItsShare) {
    const auto expect_share = [](const std::string& changes, double columns, double rows, double pitch, double share) {
        const Ran ran = run("report " + std::string(KERVO_SOURCE) + "/demo/sun-screen/document.json" + changes);
        ASSERT_EQ(ran.code, 0) << ran.err;
        const Json report = Json::parse(ran.out);
        const double pattern = columns * rows * pitch * pitch * 3;
        EXPECT_NEAR(removed(report, 30) / (pattern * share), 1, 1e-9);
        const double sheet = (columns * pitch + 40) * (rows * pitch + 40) * 3;
        EXPECT_NEAR(volume(report, "Sun screen") / (sheet - pattern * share), 1, 1e-9);
        EXPECT_EQ(report["bodies"][0]["valid"], true);
        EXPECT_EQ(report["bodies"][0]["faces_by_surface"]["cylinder"], columns * rows);
        EXPECT_EQ(report["bodies"][0]["lumps"], 1);
    };
    expect_share("", 60, 40, 20, 0.4);
    expect_share(" --set open_share=0.25 --set pitch=16", 60, 40, 16, 0.25);
    expect_share(" --set columns=12 --set rows=7", 12, 7, 20, 0.4);
}

TEST(Cli, TheCounterweightFollowsEveryParameter) {
    expect_counterweight("", 64, 70, 16, 5, 4);
    expect_counterweight(" --set body_d=50 --set flat=2.5", 50, 70, 16, 5, 2.5);
    expect_counterweight(" --set body_h=90 --set bore_d=0.5in", 64, 90, 12.7, 5, 4);
    expect_counterweight(" --set flat=6", 64, 70, 16, 5, 6);
    expect_counterweight(" --set groove_r=3", 64, 70, 16, 3, 4);
    expect_counterweight(" --set rim_r=3.5 --set lead_in=2", 64, 70, 16, 5, 4, 3.5, 2);
}

// A tube of radii 40 and 30, 100 long: a plane through its axis, and a box around a half.
TEST(Cli, CutawaysSayHowMuchTheyCut) {
    const TemporaryFolder folder;
    const std::string path = folder.file("tube.json");
    write_file(path, R"({"format": "kervo", "version": 2, "unit": "mm", "last_id": 3,
      "parameters": [{"name": "length", "formula": "100 mm", "unit": "mm"}],
      "steps": [
        {"id": 1, "number": 10, "kind": "stock", "name": "Tube",
         "answers": {"shape": "cylinder", "diameter": "80", "height": "length"}},
        {"id": 2, "number": 20, "kind": "stock", "name": "Bore",
         "answers": {"shape": "cylinder", "diameter": "60", "height": "length"}},
        {"id": 3, "number": 30, "kind": "body_cut", "name": "Bored",
         "answers": {"workpieces": [{"body": "1", "kind": "body"}], "cutters": [{"body": "2", "kind": "body"}]}}],
      "materials": [{"name": "Brass", "color": "#c8a850", "density": 8.5}],
      "appearance": {"1": {"material": "Brass"}},
      "cutaways": [
        {"letter": "A", "origin": [0, 0, 0], "normal": [0, -1, 0]},
        {"letter": "B", "on": false, "shape": "box", "origin": [100, 0, 50], "normal": [0, 0, 1],
         "size": [200, 200, 300]},
        {"letter": "C", "on": false, "origin": [0, 0, 0], "normal": [0, -1, 0], "concerns": "only",
         "members": ["2"]}]})");
    const auto area = [&](const std::string& options, const std::string& letter) {
        const Ran ran = run("cutaways " + path + options);
        EXPECT_EQ(ran.code, 0) << ran.err;
        const Json told = Json::parse(ran.out);
        for (const Json& each : told["cutaways"]) {
            if (each["letter"] == letter) {
                return each["area"].get<double>();
            }
        }
        return -1.0;
    };
    EXPECT_NEAR(area("", "A"), 2 * 10 * 100, 1e-6);
    EXPECT_EQ(area("", "B"), 0);
    EXPECT_NEAR(area(" --on B", "B"), 2 * 10 * 100, 1e-6);
    EXPECT_NEAR(area(" --set length=60", "A"), 2 * 10 * 60, 1e-6);
    EXPECT_EQ(area(" --on C", "C"), 0);                       // that body is used up
    EXPECT_NEAR(area(" --on A --on B", "A"), 10 * 100, 1e-6); // half of it is gone by B
    EXPECT_EQ(run("cutaways " + path + " --on Q").code, 3);
    const Ran report = run("report " + path);
    EXPECT_NEAR(Json::parse(report.out)["bodies"][0]["mass"].get<double>(), pi * (1600 - 900) * 100 / 1000 * 8.5, 1e-6);
    EXPECT_EQ(Json::parse(report.out)["bodies"][0]["material"], "Brass");
}

// A view opens the clamp through two pins, which stay whole: the halves less half of the bore, and two holes.
TEST(Cli, CutawaysOfAView) {
    const std::string clamp = std::string(KERVO_SOURCE) + "/demo/finder-clamp/document.json";
    const Ran ran = run("cutaways " + clamp + " --view 'Through the pins'");
    ASSERT_EQ(ran.code, 0) << ran.err;
    const Json told = Json::parse(ran.out);
    const double half = (90 - 1.5) / 2;
    const double lost = 30 * 0.75 * std::sqrt(1 - 0.025 * 0.025) + 900 * std::asin(0.025); // of the bore, by the kerf
    const double wanted = 140 * half - (pi * 900 / 2 - lost) - 2 * 6 * half;
    ASSERT_EQ(told["cutaways"].size(), 1u);
    int halves = 0;
    for (const Json& body : told["cutaways"][0]["bodies"]) {
        const std::string name = body["name"];
        EXPECT_FALSE(name.starts_with("Pin")) << name;
        if (name.ends_with("half")) {
            ++halves;
            EXPECT_NEAR(body["area"].get<double>(), wanted, 1e-6 * wanted) << name;
        }
    }
    EXPECT_EQ(halves, 2);
    EXPECT_EQ(run("cutaways " + clamp + " --view Nowhere").code, 3);
}
