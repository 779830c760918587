// Documents on disk: both forms, and everything that can be wrong with them.
#include "io_fixture.h"

#include "io/document/document_schema.h"
#include "io/document/report.h"
#include "model/document/groups_and_layers.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/sketch/sketch_step.h"

#include <sys/stat.h>
#include <zip.h>

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

std::string code_of(const Result<Document>& result) {
    return result ? "read" : result.finding().code;
}

std::string changed(const std::function<void(Json&)>& change) {
    Json json = to_json(plate_with_hole().document);
    change(json);
    return json.dump();
}

} // namespace

TEST(DocumentFile, TextIsStableAndComplete) {
    const Document document = plate_with_hole().document;
    const std::string text = to_text(document);
    const auto again = document_from_text(text);
    ASSERT_TRUE(again);
    EXPECT_TRUE(same_content(*again, document));
    EXPECT_EQ(to_text(*again), text);
}

TEST(DocumentFile, EveryCurveAndConstraintComesBack) {
    Builder b;
    sketch::Sketch s;
    const int p = s.add_point(0, 0);
    const int q = s.add_point(20, 5);
    s.add_ellipse(p, q, 8);
    s.add_ellipse_arc(p, q, 8, q, s.add_point(1, 9));
    s.add_spline({p, q, s.add_point(30, -5)}, 2, true, false);
    const int free = s.add_spline({p, q, s.add_point(40, 1), s.add_point(50, 2)}, 3, false, true);
    s.add_spline({p, q, s.add_point(9, 9), s.add_point(12, 2)}, 2, false, false);
    s.curves.back().knots = {0, 0, 0, 0.3, 1, 1, 1};
    const int line = s.add_line(p, q);
    s.add_constraint(sketch::ConstraintKind::distance, {line}, "20");
    s.constraints.back().measured = true;
    s.add_constraint(sketch::ConstraintKind::midpoint, {s.add_point(10, 2), line});
    s.add_constraint(sketch::ConstraintKind::smooth, {line, free});
    ASSERT_TRUE(sketch::check_structure(s).empty());
    const int id = b.sketch(s);
    const auto again = document_from_text(to_text(b.document));
    ASSERT_TRUE(again) << again.finding().cause;
    EXPECT_EQ(again->step(id)->definition.as<SketchStep>()->drawing, s);
    const auto mistakes = check_schema(to_json(b.document));
    EXPECT_TRUE(mistakes.empty()) << mistakes[0].cause;
}

TEST(DocumentFile, HandWrittenDemoReadsTheSameAfterSaving) {
    const TemporaryFolder folder;
    const auto demo = open_document(demo_path());
    ASSERT_TRUE(demo) << demo.finding().cause;
    for (const char* name : {"a.kervo", "document.json"}) {
        ASSERT_FALSE(save_document(*demo, folder.file(name), {"not really a picture"}));
        const auto again = open_document(folder.file(name));
        ASSERT_TRUE(again) << name;
        EXPECT_TRUE(same_content(*again, *demo)) << name;
    }
}

TEST(DocumentFile, NumbersMayStandForFormulasAndNamesForBodies) {
    const auto document =
        document_from_text(R"({"format": "kervo", "version": 1, "parameters": [{"name": "w", "formula": 60}],
      "steps": [{"number": 10, "kind": "stock", "name": "Plate", "answers": {"width": "w * 1 mm", "depth": 40, "height": 10}},
                {"number": 20, "kind": "sketch", "answers": {"drawing": {
                   "points": [{"id": 1, "x": 5, "y": 5}], "curves": [{"id": 2, "kind": "circle", "points": [1], "radius": 4}]}}},
                {"number": 30, "kind": "extrude_cut", "answers": {"workpieces": ["Plate"], "sketch": 20,
                   "regions": [{"near": [5, 5]}], "to": "everything", "way": "ahead"}}]})");
    ASSERT_TRUE(document) << document.finding().cause;
    EvaluationCache cache;
    Progress progress;
    const auto evaluation = evaluate(*document, cache, {}, progress);
    EXPECT_FALSE(evaluation.failed());
    EXPECT_NEAR(evaluation.report(30)->output->removed, 160 * pi, 1e-9);
}

TEST(DocumentFile, StepsOfVersionOneAreRead) {
    const auto document = document_from_text(R"({"format": "kervo", "version": 1, "steps": [
        {"number": 10, "kind": "extrude"}, {"number": 20, "kind": "extrude_cut"},
        {"number": 30, "kind": "extrude_cut", "answers": {"to": "next_face", "way": "ahead", "to_offset": "3 mm"}},
        {"number": 40, "kind": "extrude_cut", "answers": {"to": "vertex", "to_offset": "3 mm"}}]})");
    ASSERT_TRUE(document) << document.finding().cause;
    const auto step = [&](size_t i) { return *document->steps[i]->definition.as<Extrude>(); };
    EXPECT_EQ(step(0), Extrude());
    EXPECT_EQ(step(1), Extrude::cut());
    EXPECT_EQ(step(2).extent.way.value, "ahead");
    EXPECT_EQ(step(2).extent.to_offset.text, "0 mm"); // it was not asked for there
    EXPECT_EQ(step(3).extent.to_offset.text, "3 mm");
}

TEST(DocumentFile, GroupsLayersAndShowingComeBack) {
    Document document = plate_with_hole().document;
    document = make_group(document, {"10"}, {}, {}, "Plates", nullptr);
    document = make_group(document, {}, {1}, {}, "All", nullptr);
    document = add_layer(document, "Bought parts", nullptr);
    document.current_layer = "Bought parts";
    document = change_layer(document, "Bought parts", [](Layer& layer) { layer.locked = layer.hidden = true; });
    document = add_step(document, Stock(), "On it", -1, nullptr);
    document.appearance["10"].showing = Showing::edges;
    document.appearance["20"].group = -1;
    const auto again = document_from_text(to_text(document));
    ASSERT_TRUE(again) << again.finding().cause;
    EXPECT_TRUE(same_content(*again, document));
    EXPECT_EQ(again->steps.back()->layer, "Bought parts");
    EXPECT_TRUE(check_schema(to_json(document)).empty());
}

TEST(DocumentFile, WhatIsWrongIsSaid) {
    EXPECT_EQ(code_of(document_from_text("{\"format\": \"kervo\", ")), "file.json");
    EXPECT_EQ(code_of(document_from_text("[1, 2]")), "file.format");
    EXPECT_EQ(code_of(document_from_text("{}")), "file.format");
    EXPECT_EQ(code_of(document_from_text(R"({"format": "kervo"})")), "file.format");
    EXPECT_EQ(code_of(document_from_text(R"({"format": "kervo", "version": 99})")), "file.newer");
    EXPECT_EQ(code_of(open_document("/nowhere/at/all.kervo")), "file.read");
    EXPECT_EQ(code_of(open_document("/")), "file.read");
    const std::pair<const char*, std::function<void(Json&)>> cases[] = {
        {"unknown kind", [](Json& j) { j["steps"][0]["kind"] = "teleport"; }},
        {"unknown answer", [](Json& j) { j["steps"][0]["answers"]["wdith"] = "3"; }},
        {"answer out of range", [](Json& j) { j["steps"][0]["answers"]["shape"] = "teapot"; }},
        {"wrong type", [](Json& j) { j["steps"][0]["answers"]["width"] = Json::array(); }},
        {"double id", [](Json& j) { j["steps"][1]["id"] = j["steps"][0]["id"]; }},
        {"no number", [](Json& j) { j["steps"][0].erase("number"); }},
        {"parameter without formula", [](Json& j) { j["parameters"][0].erase("formula"); }},
        {"steps of the wrong type", [](Json& j) { j["steps"] = "none"; }},
        {"appearance of the wrong type", [](Json& j) { j["appearance"]["10"] = 5; }},
        {"unknown showing",
         [](Json& j) {
             j["appearance"]["10"] = {{"showing", "upside down"}};
         }},
        {"groups in a ring",
         [](Json& j) {
             j["groups"] = {{{"id", 1}, {"name", "a"}, {"within", 2}}, {{"id", 2}, {"name", "b"}, {"within", 1}}};
         }},
        {"two groups of one id",
         [](Json& j) {
             j["groups"] = {{{"id", 1}, {"name", "a"}}, {{"id", 1}, {"name", "b"}}};
         }},
        {"cutaway with two numbers", [](Json& j) {
             j["cutaways"][0]["origin"] = {1, 2};
         }}};
    for (const auto& [what, change] : cases) {
        const auto result = document_from_text(changed(change));
        EXPECT_EQ(code_of(result), "file.content") << what;
    }
    EXPECT_NE(document_from_text(changed(cases[1].second)).finding().cause.find("wdith"), std::string::npos);
}

TEST(DocumentFile, EveryOneByteDamageIsReadOrRefused) {
    const std::string text = to_text(plate_with_hole().document);
    for (size_t i = 0; i < text.size(); i += 7) {
        std::string damaged = text;
        damaged[i] = damaged[i] == 'x' ? '"' : 'x';
        const auto result = document_from_text(damaged);
        if (!result) {
            EXPECT_EQ(result.finding().code.rfind("file.", 0), 0u);
            EXPECT_FALSE(result.finding().mend.empty());
        }
    }
}

TEST(DocumentFile, DamagedZipsAreRefused) {
    const TemporaryFolder folder;
    const std::string path = folder.file("a.kervo");
    ASSERT_FALSE(save_document(plate_with_hole().document, path));
    const std::string whole = read_file(path);
    for (size_t length = 2; length < whole.size(); length += whole.size() / 40) {
        write_file(path, whole.substr(0, length));
        EXPECT_EQ(code_of(open_document(path)), "file.zip") << length;
    }
}

TEST(DocumentFile, CyclicFormulasAreFindingsAndTheDocumentOpens) {
    const auto document = document_from_text(changed([](Json& j) {
        j["parameters"] = {{{"name", "d"}, {"formula", "e"}}, {{"name", "e"}, {"formula", "d"}}};
    }));
    ASSERT_TRUE(document);
    EvaluationCache cache;
    Progress progress;
    const auto evaluation = evaluate(*document, cache, {}, progress);
    EXPECT_TRUE(evaluation.failed());
    EXPECT_EQ(evaluation.parameters.findings.at("d").code, "parameter.cycle");
    EXPECT_TRUE(has_code(evaluation, 20, "formula.unknown_name"));
    EXPECT_EQ(evaluation.report(30)->state, StepState::failed);
    EXPECT_EQ(document->parameters.size(), 2u); // nothing of the document is lost
}

TEST(DocumentFile, MissingImportsOpenAndSaySo) {
    const TemporaryFolder folder;
    const auto document =
        document_from_text(R"({"format": "kervo", "version": 1, "assets": ["arm.step", "../../etc/passwd"],
      "steps": [{"number": 10, "kind": "import", "answers": {"file": "arm.step"}},
                {"number": 20, "kind": "import", "answers": {"file": "../../etc/passwd"}}]})");
    ASSERT_TRUE(document);
    ASSERT_FALSE(save_document(*document, folder.file("document.json")));
    const auto opened = open_document(folder.file("document.json"));
    ASSERT_TRUE(opened);
    EvaluationCache cache;
    Progress progress;
    const auto evaluation = evaluate(*opened, cache, standard_services(), progress);
    EXPECT_TRUE(has_code(evaluation, 10, "import.missing"));
    EXPECT_TRUE(has_code(evaluation, 20, "import.missing")); // a name that leads elsewhere is not followed
    EXPECT_TRUE(same_content(*opened, *document));
}

TEST(DocumentFile, ImportsTravelWithTheDocument) {
    const TemporaryFolder folder;
    Document document;
    write_file(folder.file("arm.brep"), std::string("a\0b", 3));
    const auto first = load_asset(document, folder.file("arm.brep"));
    ASSERT_TRUE(first);
    document.assets.emplace((*first)->name, *first);
    const auto second = load_asset(document, folder.file("arm.brep"));
    ASSERT_TRUE(second);
    EXPECT_EQ((*second)->name.text(), "arm-2.brep"); // two files of one name are kept apart
    document.assets.emplace((*second)->name, *second);
    for (const char* name : {"sub.kervo", "sub.json"}) {
        std::filesystem::create_directories(folder.file("to"));
        const std::string path = folder.file(std::string("to/") + name);
        ASSERT_FALSE(save_document(document, path));
        const auto again = open_document(path);
        ASSERT_TRUE(again);
        EXPECT_TRUE(same_content(*again, document)) << name;
    }
    EXPECT_FALSE(load_asset(document, folder.file("nothing.step")));
}

TEST(DocumentFile, SavingIntoNowhereLeavesTheOldFile) {
    const TemporaryFolder folder;
    const Document document = plate_with_hole().document;
    const auto problem = save_document(document, folder.file("no/such/folder/a.kervo"));
    ASSERT_TRUE(problem);
    EXPECT_EQ(problem->code, "file.write");
    const auto as_folder = folder.file("taken.kervo");
    std::filesystem::create_directory(as_folder);
    EXPECT_TRUE(save_document(document, as_folder));
    EXPECT_TRUE(std::filesystem::is_directory(as_folder));
    EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.file("")), {}), 1); // nothing half written stays
}

TEST(Schema, TheDemoAndAllThatIsSavedFollowIt) {
    EXPECT_TRUE(check_schema(Json::parse(read_file(demo_path()))).empty());
    EXPECT_TRUE(check_schema(to_json(plate_with_hole().document)).empty());
    Builder all;
    for (const StepKind& kind : step_kinds()) {
        all.step(*make_definition(kind.kind), kind.title);
    }
    EXPECT_TRUE(check_schema(to_json(all.document)).empty());
}

TEST(Schema, RefusesWhatTheReaderRefuses) {
    for (const auto& change : std::vector<std::function<void(Json&)>>{
             [](Json& j) { j["steps"][0]["kind"] = "teleport"; },
             [](Json& j) { j["steps"][0]["answers"]["wdith"] = 3; }, [](Json& j) { j["version"] = 99; },
             [](Json& j) { j["steps"][1]["answers"]["drawing"]["points"] = 3; }}) {
        EXPECT_FALSE(check_schema(Json::parse(changed(change))).empty());
    }
}

TEST(Schema, PublishedPagesAreCurrent) {
    const std::string docs = std::string(KERVO_SOURCE) + "/docs/";
    EXPECT_EQ(read_file(docs + "document.schema.json"), document_schema().dump(1) + "\n")
        << "run: kervo-cli schema > docs/document.schema.json";
    EXPECT_EQ(read_file(docs + "steps.md"), steps_reference()) << "run: kervo-cli reference > docs/steps.md";
}

TEST(Report, HoldsWhatScriptsNeed) {
    Builder b = plate_with_hole();
    const Json json = report(b.document, b.evaluate());
    EXPECT_EQ(json["ok"], true);
    EXPECT_EQ(json["parameters"][0]["value"], 8.0);
    EXPECT_EQ(json["steps"].size(), 3u);
    EXPECT_EQ(json["steps"][2]["state"], "ok");
    EXPECT_EQ(json["steps"][2]["pieces"].size(), 2u);
    const Json& body = json["bodies"].at(0);
    EXPECT_EQ(body["name"], "Plate");
    EXPECT_EQ(body["color"], "#88aa66");
    EXPECT_EQ(body["layer"], "metal");
    EXPECT_EQ(body["kind"], "solid");
    EXPECT_EQ(body["closed"], true);
    EXPECT_EQ(body["valid"], true);
    EXPECT_NEAR(body["volume"].get<double>(), 24000 - 160 * pi, 1e-8);
    EXPECT_NEAR(body["area"].get<double>(), 2 * (2400 + 600 + 400) - 32 * pi + 80 * pi, 1e-8);
    EXPECT_EQ(body["faces"], 7);
    EXPECT_EQ(body["faces_by_surface"]["cylinder"], 1);
    EXPECT_EQ(body["loops"], 9); // two per pierced face; a full cylinder is bounded by one
    EXPECT_EQ(body["edges"], 15);
    EXPECT_EQ(body["vertices"], 10);
    EXPECT_EQ(body["lumps"], 1);
    EXPECT_NEAR(body["box"][5].get<double>(), 10, 1e-9);
}

// --- What strangers' documents must not do
// ------------------------------------------------------------------------------------

TEST(AssetNames, ArePlainFileNames) {
    for (const char* bad : {"", ".", "..", ".hidden", "/etc/passwd", "../up", "a/b", "a\\b", "a\nb", "a\x7f"}) {
        EXPECT_FALSE(AssetName::from(bad)) << bad;
        EXPECT_TRUE(AssetName::from(AssetName::like(bad).text())) << bad;
    }
    EXPECT_FALSE(AssetName::from(std::string(AssetName::longest + 1, 'a')));
    EXPECT_EQ(AssetName::like("..arm.step").text(), "arm.step");
    EXPECT_EQ(AssetName::like(std::string(300, 'a') + ".step").text(),
              std::string(AssetName::longest - 5, 'a') + ".step");
    EXPECT_EQ(AssetName::like(std::string(AssetName::longest - 6, 'a') + "\xc3\xa9.step").text(), // no half characters
              std::string(AssetName::longest - 6, 'a') + ".step");
    EXPECT_EQ(AssetName::from("Tür 2.step")->text(), "Tür 2.step");
}

TEST(StrangersDocuments, WriteNothingButTheirOwnFiles) {
    const TemporaryFolder folder;
    write_file(folder.file("arm.brep"), "mine");
    auto document = document_from_text(
        R"({"format": "kervo", "version": 2, "assets": ["arm.brep", "../up.brep", "/tmp/up.brep", ".rc", "own.json"]})");
    ASSERT_TRUE(document);
    EXPECT_EQ(document->assets.size(), 2u); // the others are no names
    for (auto& [name, asset] : document->assets) {
        asset = std::make_shared<Asset>(Asset{name, "theirs", false});
    }
    EXPECT_EQ(save_document(*document, folder.file("document.json"))->code, "file.taken");
    EXPECT_EQ(*read_whole(folder.file("arm.brep")), "mine");
    EXPECT_EQ(save_document(*document, folder.file("own.json"))->code, "file.taken"); // would be in its own way
    document->assets.erase(document->assets.find(std::string("own.json")));
    std::filesystem::remove(folder.file("arm.brep"));
    EXPECT_FALSE(save_document(*document, folder.file("document.json")));
    EXPECT_FALSE(save_document(*document, folder.file("document.json"))); // its own file is no other's
    EXPECT_EQ(*read_whole(folder.file("arm.brep")), "theirs");
    std::filesystem::remove(folder.file("arm.brep"));
    std::filesystem::create_symlink(folder.file("elsewhere"), folder.file("arm.brep"));
    EXPECT_EQ(save_document(*document, folder.file("document.json"))->code, "file.taken");
    EXPECT_FALSE(std::filesystem::exists(folder.file("elsewhere")));
}

TEST(StrangersDocuments, ReadNothingButWhatLiesBesideThem) {
    const TemporaryFolder folder;
    write_file(folder.file("secret"), "secret");
    std::filesystem::create_symlink(folder.file("secret"), folder.file("arm.step"));
    ASSERT_EQ(::mkfifo(folder.file("pipe.step").c_str(), 0600), 0);
    write_file(folder.file("document.json"), R"({"format": "kervo", "version": 2,
      "assets": ["arm.step", "pipe.step", "gone.step"]})");
    const auto opened = open_document(folder.file("document.json"));
    ASSERT_TRUE(opened);
    for (const auto& [name, asset] : opened->assets) {
        EXPECT_TRUE(asset->missing) << name.text();
    }
    EXPECT_EQ(open_document(folder.file("pipe.step")).finding().code, "file.read"); // and waits for nobody
    EXPECT_EQ(open_document("/dev/zero").finding().code, "file.read");
}

TEST(StrangersDocuments, TakeNoMoreMemoryThanTheyHold) {
    const TemporaryFolder folder;
    const std::string path = folder.file("bomb.kervo");
    zip_t* zip = zip_open(path.c_str(), ZIP_CREATE, nullptr);
    const std::string spaces(65 << 20, ' ');
    zip_file_add(zip, "document.json", zip_source_buffer(zip, spaces.data(), spaces.size(), 0), 0);
    ASSERT_EQ(zip_close(zip), 0);
    EXPECT_LT(std::filesystem::file_size(path), 100'000u);
    const auto opened = open_document(path);
    ASSERT_FALSE(opened);
    EXPECT_EQ(opened.finding().code, "file.too_large");
    EXPECT_NE(opened.finding().cause.find("64 MB"), std::string::npos);
}

TEST(DocumentFile, LinksAndRightsStay) {
    const TemporaryFolder folder;
    const Document document = plate_with_hole().document;
    const std::string real = folder.file("real.kervo");
    ASSERT_FALSE(save_document(document, real));
    std::filesystem::permissions(real, std::filesystem::perms::owner_read | std::filesystem::perms::owner_write);
    std::filesystem::create_symlink("real.kervo", folder.file("link.kervo"));
    ASSERT_FALSE(save_document(document, folder.file("link.kervo")));
    EXPECT_TRUE(std::filesystem::is_symlink(folder.file("link.kervo")));
    EXPECT_EQ(std::filesystem::status(real).permissions(),
              std::filesystem::perms::owner_read | std::filesystem::perms::owner_write);
    EXPECT_TRUE(open_document(folder.file("link.kervo")));
}

TEST(DocumentFile, ImportsWithNamesOfAnyBytes) {
    const TemporaryFolder folder;
    write_file(folder.file("t\xfcr.step"), "x");
    const auto asset = load_asset({}, folder.file("t\xfcr.step"));
    ASSERT_TRUE(asset);
    Document document;
    document.assets.emplace((*asset)->name, *asset);
    EXPECT_FALSE(save_document(document, folder.file("d.kervo")));
    EXPECT_TRUE(same_content(*open_document(folder.file("d.kervo")), document));
}
