// What is handed over: which bodies, how they are called, coloured and held together, and what other readers make of
// the files.
#include "io_fixture.h"

#include "geom/measure/measure.h"
#include "io/document/document_json.h"
#include "io/formats/hand_over.h"
#include "io/formats/step/part21_text.h"

#include <array>
#include <cstdio>
#include <cstring>
#include <map>
#include <memory>
#include <regex>
#include <set>

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

struct Made {
    Document document;
    Evaluation evaluation;
};

Made made_of(const std::string& json) {
    const auto document = document_from_text(json);
    EXPECT_TRUE(document) << (document ? "" : document.finding().cause);
    EvaluationCache cache;
    Progress progress;
    return {*document, evaluate(*document, cache, {}, progress)};
}

Result<Findings> hand_over(const Made& made, const std::string& path, const ExportOptions& options = {}) {
    return export_bodies(made.document, made.evaluation, path, options);
}

ImportedFile back(const std::string& path) {
    Progress progress;
    const auto file = import_in_child(
        {AssetName::like(std::filesystem::path(path).filename().string()), read_file(path), false}, limits(), progress);
    EXPECT_TRUE(file) << (file ? "" : file.finding().cause);
    return file ? *file : ImportedFile();
}

size_t count_of(const std::string& text, const std::string& word) {
    size_t count = 0;
    for (size_t at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) {
        ++count;
    }
    return count;
}

// A box and two copies of it; `appearance` and what else the document says.
std::string three_boxes(const std::string& more) {
    const std::string copy = R"("answers": {"bodies": [{"kind": "body", "body": "10"}], "copies": "copies",
        "way": "amounts", "x": )";
    return R"({"format": "kervo", "version": 2, "title": "Three", "unit": "mm", "last_id": 30, "steps": [
        {"id": 10, "number": 10, "kind": "stock", "name": "Base", "answers":
            {"shape": "box", "width": "10 mm", "depth": "20 mm", "height": "30 mm"}},
        {"id": 20, "number": 20, "kind": "place", "name": "Second", )" +
           copy + R"("50 mm"}}, {"id": 30, "number": 30, "kind": "place", "name": "Third", )" + copy +
           R"("100 mm"}}])" + more + "}";
}

const std::string looks = R"(, "appearance": {"10": {"name": "Base", "color": "#ff0000"},
    "20:10": {"name": "Second", "color": "#00ff00"}, "30:10": {"name": "Third", "color": "#0000ff"}})";

} // namespace

TEST(HandOver, CopiesAreOccurrencesOfOneProduct) {
    const TemporaryFolder folder;
    const Made made = made_of(three_boxes(looks));
    ASSERT_TRUE(hand_over(made, folder.file("a.step")));
    const std::string text = read_file(folder.file("a.step"));
    EXPECT_EQ(count_of(text, "MANIFOLD_SOLID_BREP("), 1u);
    EXPECT_EQ(count_of(text, "NEXT_ASSEMBLY_USAGE_OCCURRENCE("), 3u);
    const auto bodies = back(folder.file("a.step")).bodies;
    ASSERT_EQ(bodies.size(), 3u);
    const std::array<std::pair<const char*, const char*>, 3> wanted{
        {{"Base", "#ff0000"}, {"Second", "#00ff00"}, {"Third", "#0000ff"}}};
    for (size_t i = 0; i < 3; ++i) {
        EXPECT_EQ(bodies[i].name, wanted[i].first);
        EXPECT_EQ(bodies[i].color, wanted[i].second);
        EXPECT_NEAR(geom::volume_of(bodies[i].shape), 6000, 6e-6);
        EXPECT_NEAR(geom::box_of(bodies[i].shape)[0], -5 + 50 * static_cast<double>(i), 1e-6);
    }
    // Some of them, and one alone.
    ExportOptions options;
    options.only = {"Third", "Second"};
    ASSERT_TRUE(hand_over(made, folder.file("b.step"), options));
    EXPECT_EQ(back(folder.file("b.step")).bodies.at(1).color, "#0000ff");
    options.only = {"30:10"};
    ASSERT_TRUE(hand_over(made, folder.file("c.step"), options));
    const auto one = back(folder.file("c.step")).bodies;
    ASSERT_EQ(one.size(), 1u);
    EXPECT_EQ(one[0].name, "Third");
    EXPECT_NEAR(geom::box_of(one[0].shape)[0], 95, 1e-6);
}

TEST(HandOver, GroupsAreAssembliesAndTextIsWrittenByNumber) {
    const TemporaryFolder folder;
    Made made = made_of(three_boxes(R"(, "groups": [{"id": 1, "name": "Au\u00dfen"},
        {"id": 2, "name": "Innen", "within": 1}], "layers": [{"name": "Stahl"}], "appearance": {
        "10": {"name": "Tr\u00e4ger", "group": 2, "layer": "Stahl"}, "20:10": {"name": "x\ud835\udefc", "group": 1}})"));
    made.document.title = "Gr\u00f6\u00dfe";
    ExportOptions options;
    options.author = "Ana";
    ASSERT_TRUE(hand_over(made, folder.file("a.step"), options));
    const std::string text = read_file(folder.file("a.step"));
    EXPECT_TRUE(std::all_of(text.begin(), text.end(), [](char c) { return static_cast<signed char>(c) >= 0; }));
    for (const char* part : {"FILE_NAME('Gr\\X2\\00F600DF\\X0\\e'", "('Ana')", "'Kervo ",
                             "PRODUCT('Au\\X2\\00DF\\X0\\en'", "PRODUCT('Innen'", "'Tr\\X2\\00E4\\X0\\ger'",
                             "'x\\X4\\0001D6FC\\X0\\'", "PRESENTATION_LAYER_ASSIGNMENT('Stahl'"}) {
        EXPECT_NE(text.find(part), std::string::npos) << part;
    }
    const auto file = back(folder.file("a.step"));
    ASSERT_EQ(file.bodies.size(), 3u);
    std::set<std::string> names;
    std::map<std::string, Sorting> sorting;
    for (const auto& body : file.bodies) {
        names.insert(body.name);
        sorting[body.name] = body.sorting;
    }
    EXPECT_EQ(names, (std::set<std::string>{"Tr\u00e4ger", "x\U0001D6FC", "Tr\u00e4ger copy"}));
    EXPECT_TRUE(file.left_out.empty());
    const auto& inner = sorting.at("Tr\u00e4ger").groups;
    ASSERT_EQ(inner.size(), 2u);
    EXPECT_EQ(inner[0].name, "Au\u00dfen");
    EXPECT_EQ(inner[1].name, "Innen");
    EXPECT_EQ(sorting.at("Tr\u00e4ger").layer, "Stahl");
    EXPECT_EQ(sorting.at("x\U0001D6FC").groups.size(), 1u);
    EXPECT_EQ(sorting.at("Tr\u00e4ger copy").groups, inner); // where what it is a copy of is
    EXPECT_EQ(sorting.at("Tr\u00e4ger copy").layer, "Stahl");
    EXPECT_EQ(as_part21("a\u00e9\u20ac\U0001F600b"), "a\\X2\\00E920AC\\X0\\\\X4\\0001F600\\X0\\b");
    EXPECT_EQ(as_part21("plain"), "plain");
    EXPECT_EQ(as_part21("\xff"), "\\X2\\00FF\\X0\\"); // no UTF-8
}

TEST(HandOver, HiddenBodiesStayUnlessTheyAreAskedFor) {
    const TemporaryFolder folder;
    const Made made = made_of(three_boxes(R"(, "layers": [{"name": "Off", "hidden": true}],
        "appearance": {"10": {"hidden": true}, "30:10": {"layer": "Off"}})"));
    const auto told = hand_over(made, folder.file("a.step"));
    ASSERT_TRUE(told);
    ASSERT_EQ(told->size(), 1u);
    EXPECT_EQ(told->front().code, "export.hidden");
    EXPECT_EQ(told->front().cause, "2 hidden bodies are left out.");
    EXPECT_EQ(back(folder.file("a.step")).bodies.size(), 1u);
    ExportOptions all;
    all.hidden_too = true;
    ASSERT_TRUE(hand_over(made, folder.file("b.step"), all));
    EXPECT_EQ(back(folder.file("b.step")).bodies.size(), 3u);
    EXPECT_NE(read_file(folder.file("b.step")).find("INVISIBILITY"), std::string::npos);
    const auto hidden = back(folder.file("b.step")).bodies;
    EXPECT_EQ(std::count_if(hidden.begin(), hidden.end(), [](const auto& body) { return body.sorting.hidden; }), 2);
    ExportOptions one; // by its name it is asked for
    one.only = {"Base"};
    ASSERT_TRUE(hand_over(made, folder.file("c.step"), one));
    EXPECT_EQ(back(folder.file("c.step")).bodies.size(), 1u);
    const Made none = made_of(three_boxes(
        R"(, "appearance": {"10": {"hidden": true}, "20:10": {"hidden": true}, "30:10": {"hidden": true}})"));
    EXPECT_EQ(hand_over(none, folder.file("d.step")).finding().code, "export.no_body");
}

TEST(HandOver, ANameMeansAllBodiesThatHaveIt) {
    const TemporaryFolder folder;
    const Made made = made_of(three_boxes(R"(, "appearance": {"20:10": {"name": "Twin"}, "30:10": {"name": "Twin"}})"));
    ExportOptions options;
    options.only = {"Twin"};
    ASSERT_TRUE(hand_over(made, folder.file("a.step"), options));
    EXPECT_EQ(back(folder.file("a.step")).bodies.size(), 2u);
    options.only = {"Twin", "Triplet"};
    EXPECT_EQ(hand_over(made, folder.file("b.step"), options).finding().code, "export.no_body");
    options.only = {"Twin"};
    options.apart = true;
    ASSERT_TRUE(hand_over(made, folder.file("c.stl"), options));
    EXPECT_TRUE(std::filesystem::exists(folder.file("c-Twin.stl")));
    EXPECT_TRUE(std::filesystem::exists(folder.file("c-Twin 2.stl")));
    EXPECT_FALSE(std::filesystem::exists(folder.file("c.stl")));
}

// Nothing is left to mend: admesh counts what it had to, of every body of every demonstration.
TEST(Stl, OthersFindNothingToMend) {
    const TemporaryFolder folder;
    const auto mended = [&](const std::string& path) {
        const std::string command = "admesh --no-check --exact '" + path + "' 2>&1";
        const std::unique_ptr<FILE, int (*)(FILE*)> pipe(::popen(command.c_str(), "r"), ::pclose);
        std::string out;
        char line[256];
        while (std::fgets(line, sizeof line, pipe.get()) != nullptr) {
            out += line;
        }
        return out;
    };
    for (const char* demo : {"azimuth-table", "finder-clamp", "counterweight", "observing-deck"}) {
        const auto document = open_document(std::string(KERVO_SOURCE) + "/demo/" + demo + "/document.json");
        ASSERT_TRUE(document);
        EvaluationCache cache;
        Progress progress;
        const Made made{*document, evaluate(*document, cache, standard_services(), progress)};
        ExportOptions options;
        options.apart = true;
        options.hidden_too = true;
        const auto written = hand_over(made, folder.file(std::string(demo) + ".stl"), options);
        ASSERT_TRUE(written) << written.finding().cause;
        EXPECT_TRUE(written->empty()) << written->front().cause;
    }
    int files = 0;
    for (const auto& entry : std::filesystem::directory_iterator(folder.file(""))) {
        const std::string told = mended(entry.path().string());
        ++files;
        std::smatch found;
        const std::regex disconnected("Total disconnected facets *: *([0-9]+)");
        ASSERT_TRUE(std::regex_search(told, found, disconnected)) << told;
        EXPECT_EQ(found[1], "0") << entry.path();
    }
    EXPECT_GT(files, 6);
}

TEST(Stl, TextHasASolidForEachBody) {
    const TemporaryFolder folder;
    const Made made = made_of(three_boxes(looks));
    ExportOptions options;
    options.answers["text"] = 1;
    ASSERT_TRUE(hand_over(made, folder.file("a.stl"), options));
    const std::string text = read_file(folder.file("a.stl"));
    for (const char* name : {"Base", "Second", "Third"}) {
        EXPECT_EQ(count_of(text, std::string("solid ") + name + "\n"), 2u); // where it begins and where it ends
    }
    EXPECT_EQ(count_of(text, "facet normal"), 36u);
    EXPECT_EQ(text.find("-0 "), std::string::npos);
}

TEST(Stl, TouchingBodiesAreTold) {
    const TemporaryFolder folder;
    const auto pair = [](const std::string& x) {
        return made_of(R"({"format": "kervo", "version": 2, "unit": "mm", "last_id": 20, "steps": [
            {"id": 10, "number": 10, "kind": "stock", "name": "One", "answers":
                {"shape": "box", "width": "10 mm", "depth": "20 mm", "height": "30 mm"}},
            {"id": 20, "number": 20, "kind": "stock", "name": "Other", "answers":
                {"shape": "box", "width": "10 mm", "depth": "20 mm", "height": "30 mm", "x": ")" +
                       x + R"("}}]})");
    };
    const auto touching = hand_over(pair("10 mm"), folder.file("a.stl"));
    ASSERT_TRUE(touching);
    ASSERT_EQ(touching->size(), 1u);
    EXPECT_EQ(touching->front().code, "stl.touching");
    EXPECT_TRUE(hand_over(pair("11 mm"), folder.file("a.stl"))->empty());
    ExportOptions text;
    text.answers["text"] = 1;
    EXPECT_TRUE(hand_over(pair("10 mm"), folder.file("a.stl"), text)->empty());
}
