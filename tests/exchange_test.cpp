// STEP, BREP and STL out and in; and what happens when a file from a stranger is hostile.
#include "io/formats/csv/parameters_csv.h"
#include "io_fixture.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/import/import.h"

#include "geom/kernel/private_copy.h"
#include "geom/kernel/tolerances.h"
#include "geom/make/stock.h"
#include "geom/measure/self_crossing.h"
#include "io/formats/brep/brep.h"
#include "io/formats/hand_over.h"
#include "io/reader/sandbox.h"

#include <BRepTools.hxx>
#include <BRep_TVertex.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <ShapeFix_ShapeTolerance.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <functional>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

#include <random>

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

Result<ImportedFile> import(const std::string& name, const std::string& bytes, const ImportLimits& with = limits()) {
    Progress progress;
    return import_in_child({AssetName::like(name), bytes, false}, with, progress);
}

// A reader that does what a script says: a stand-in for one that a hostile file has got hold of.
ImportLimits reader_that(const TemporaryFolder& folder, const std::string& script, double seconds = 0.4) {
    const std::string path = folder.file("reader.sh");
    write_file(path, "#!/bin/bash\n" + script + "\n");
    ::chmod(path.c_str(), 0755);
    ImportLimits with = limits(seconds);
    with.reader = path;
    return with;
}

std::string demo_step(const TemporaryFolder& folder) {
    const auto document = open_document(demo_path());
    EvaluationCache cache;
    Progress progress;
    EXPECT_TRUE(export_bodies(*document, evaluate(*document, cache, {}, progress), folder.file("table.step"), {}));
    return read_file(folder.file("table.step"));
}

double volume_of_stl(const std::string& bytes, uint32_t& triangles) {
    std::memcpy(&triangles, bytes.data() + 80, 4);
    double volume = 0;
    for (uint32_t i = 0; i < triangles; ++i) {
        float p[9];
        std::memcpy(p, bytes.data() + 84 + 50 * static_cast<size_t>(i) + 12, sizeof p);
        const double x = p[3] * p[8] - p[5] * p[6]; // of b x c
        volume += p[0] * (p[4] * p[8] - p[5] * p[7]) - p[1] * x + p[2] * (p[3] * p[7] - p[4] * p[6]);
    }
    return volume / 6;
}

} // namespace

TEST(Step, NamesColoursAndVolumesComeBack) {
    const TemporaryFolder folder;
    const std::string bytes = demo_step(folder);
    EXPECT_NE(bytes.find("AP242"), std::string::npos);
    const auto bodies = import("table.step", bytes);
    ASSERT_TRUE(bodies) << bodies.finding().cause;
    ASSERT_EQ(bodies->bodies.size(), 4u);
    const double hole = pi * 121, slot = pi / 10 * (108 * 108 - 96 * 96), plate = 240 * 240 * 16;
    const std::tuple<const char*, const char*, double> wanted[] = {
        {"Bottom plate", "#c3cdc6", plate - 16 * (4 * hole + slot)},
        {"Roller ring", "#e2c690", pi * (100 * 100 - 75 * 75) * 40},
        {"Top plate", "#dbe1db", plate - 16 * (4 * hole + slot + pi * 16 * 16) - engraved_volume()},
        {"Spindle", "#b4bccb", pi * 225 * 80}};
    for (size_t i = 0; i < 4; ++i) {
        EXPECT_EQ(bodies->bodies[i].name, std::get<0>(wanted[i]));
        EXPECT_EQ(bodies->bodies[i].color, std::get<1>(wanted[i]));
        EXPECT_NEAR(geom::volume_of(bodies->bodies[i].shape) / std::get<2>(wanted[i]), 1, 1e-9);
    }
}

// One plate, used three times in an assembly: turned, shifted, coloured as an instance.
TEST(Step, AssembliesPlaceTheirParts) {
    const TemporaryFolder folder;
    Handle(TDocStd_Document) document;
    XCAFApp_Application::GetApplication()->NewDocument("BinXCAF", document);
    const auto shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
    const auto colors = XCAFDoc_DocumentTool::ColorTool(document->Main());
    const gp_Ax3 here(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
    const TDF_Label part = shapes->AddShape(geom::make_box(30, 20, 5, here).shape, Standard_False);
    TDataStd_Name::Set(part, "Foot");
    colors->SetColor(part, Quantity_Color(1, 0, 0, Quantity_TOC_sRGB), XCAFDoc_ColorSurf);
    const TDF_Label assembly = shapes->NewShape();
    TDataStd_Name::Set(assembly, "Stand");
    gp_Trsf turned;
    turned.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1)), pi / 2);
    gp_Trsf shifted;
    shifted.SetTranslation(gp_Vec(100, 0, 7));
    for (const gp_Trsf& place : {gp_Trsf(), shifted * turned, shifted * shifted}) {
        shapes->AddComponent(assembly, part, TopLoc_Location(place));
    }
    shapes->UpdateAssemblies();
    STEPCAFControl_Writer writer;
    writer.SetNameMode(Standard_True);
    writer.SetColorMode(Standard_True);
    ASSERT_TRUE(writer.Transfer(document, STEPControl_AsIs));
    ASSERT_EQ(writer.Write(folder.file("stand.step").c_str()), IFSelect_RetDone);
    const auto bodies = import("stand.step", read_file(folder.file("stand.step")));
    ASSERT_TRUE(bodies) << bodies.finding().cause;
    ASSERT_EQ(bodies->bodies.size(), 3u);
    const double boxes[3][6] = {{-15, -10, 0, 15, 10, 5}, {90, -15, 7, 110, 15, 12}, {185, -10, 14, 215, 10, 19}};
    for (size_t i = 0; i < 3; ++i) {
        EXPECT_EQ(bodies->bodies[i].name, "Foot");
        EXPECT_EQ(bodies->bodies[i].color, "#ff0000");
        EXPECT_NEAR(geom::volume_of(bodies->bodies[i].shape), 3000, 1e-6);
        const auto box = geom::box_of(bodies->bodies[i].shape);
        for (size_t k = 0; k < 6; ++k) {
            EXPECT_NEAR(box[k], boxes[i][k], 1e-6) << i << ' ' << k;
        }
    }
}

TEST(Step, ImportedBodiesAreStepsWithNamedFaces) {
    const TemporaryFolder folder;
    Builder b;
    b.services.read_import = [](const Asset& asset, Progress& progress) {
        return import_in_child(asset, limits(), progress);
    };
    b.document.assets[AssetName::like("table.step")] =
        std::make_shared<Asset>(Asset{AssetName::like("table.step"), demo_step(folder), false});
    Import import_step;
    import_step.file.name = "table.step";
    const int id = b.step(import_step);
    const std::string ring = std::to_string(id) + ".2";
    const auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    EXPECT_EQ(evaluation.traits.at(ring).name, "Roller ring");
    const auto top = refer_to(ring, *body_of(evaluation, ring), face_near(body_of(evaluation, ring), 87, 0, 56));
    // A cut through the imported ring: its upper face is still the same one.
    sketch::Sketch s;
    circle(s, 0, 87, 4);
    b.cut(b.sketch(s), {{0, 87}}, {ring});
    const auto after = b.evaluate();
    EXPECT_NEAR(volume_of(after, ring), pi * (10000 - 5625 - 16) * 40, 1e-6);
    const auto found = resolve(top, body_of(after, ring).get());
    ASSERT_FALSE(found.element.IsNull());
    EXPECT_FALSE(found.finding);
    EXPECT_NEAR(geom::distance_to(found.element, gp_Pnt(87, 0, 56)), 0, 1e-9);
    EXPECT_NEAR(geom::area_of(found.element), pi * (10000 - 5625 - 16), 1e-6);
}

TEST(Step, TruncatedFilesAreRefusedOrReadWhole) {
    const TemporaryFolder folder;
    const std::string whole = demo_step(folder);
    for (int part = 0; part < 10; ++part) {
        const auto result = import("table.step", whole.substr(0, whole.size() * static_cast<size_t>(part) / 10));
        if (!result) {
            EXPECT_EQ(result.finding().code.rfind("import.", 0), 0u);
            EXPECT_FALSE(result.finding().cause.empty());
        } else {
            EXPECT_LE(result->bodies.size(), 4u);
        }
    }
    EXPECT_FALSE(import("table.step", ""));
    EXPECT_FALSE(import("table.step", std::string(100000, '(')));
    EXPECT_FALSE(import("table.step", "ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=#1;\nENDSEC;\nEND-ISO-10303-21;\n"));
}

TEST(Brep, RoundTripAndDamage) {
    const TemporaryFolder folder;
    Builder b = plate_with_hole();
    ASSERT_TRUE(export_bodies(b.document, b.evaluate(), folder.file("p.brep"), {}));
    const std::string whole = read_file(folder.file("p.brep"));
    const auto bodies = import("p.brep", whole);
    ASSERT_TRUE(bodies);
    ASSERT_EQ(bodies->bodies.size(), 1u);
    EXPECT_NEAR(geom::volume_of(bodies->bodies[0].shape), 24000 - 160 * pi, 1e-8);
    for (int part = 0; part < 8; ++part) {
        const auto damaged = import("p.brep", whole.substr(0, whole.size() * static_cast<size_t>(part) / 8), limits(3));
        EXPECT_FALSE(damaged) << part;
    }
}

// Files say how far their edges may be from where they are: taken at their word, what is a little apart is pulled
// together by the next cut.
TEST(Import, ToleranceIsWhatEdgesAreApart) {
    const TemporaryFolder folder;
    Builder b = plate_with_hole();
    ASSERT_TRUE(export_bodies(b.document, b.evaluate(), folder.file("p.brep"), {}));
    const TopoDS_Shape plate = import("p.brep", read_file(folder.file("p.brep")))->bodies[0].shape;
    const auto said = [&](double tolerance, double off) { // one corner lies `off` its edges
        const geom::PrivateCopy own(plate);
        ShapeFix_ShapeTolerance().SetTolerance(own.shape(), tolerance);
        const Handle(BRep_TVertex) vertex =
            Handle(BRep_TVertex)::DownCast(geom::vertices_of(own.shape()).front().TShape());
        vertex->Pnt(vertex->Pnt().Translated({0, 0, off}));
        std::ostringstream out;
        BRepTools::Write(own.shape(), out);
        const auto bodies = import("p.brep", out.str());
        EXPECT_TRUE(bodies && bodies->bodies[0].sound);
        EXPECT_NEAR(geom::volume_of(bodies->bodies[0].shape), 24000 - 160 * pi, 1e-8);
        return geom::largest_tolerance(bodies->bodies[0].shape);
    };
    EXPECT_LT(said(0.01, 0), 1e-6);
    EXPECT_LT(said(0.5, 0), 1e-6);
    EXPECT_NEAR(said(0.01, 2e-3), 2e-3, 1e-4);
}

TEST(Import, ReadersThatMisbehaveCostNothing) {
    const TemporaryFolder folder;
    EXPECT_EQ(import("a.step", "x", reader_that(folder, "sleep 60")).finding().code, "import.too_long");
    EXPECT_EQ(import("a.step", "x", reader_that(folder, "kill -SEGV $$")).finding().code, "import.crashed");
    EXPECT_EQ(import("a.step", "x", reader_that(folder, "exit 0")).finding().code, "import.crashed");
    EXPECT_EQ(import("a.step", "x", reader_that(folder, "echo '{\"bodies\": 5}' >&4; exit 0")).finding().code,
              "import.crashed");
    EXPECT_EQ(import("a.step", "x", reader_that(folder, "echo garbage >&4; exit 1")).finding().code,
              "import.unreadable");
    EXPECT_EQ(import("a.step", "x", reader_that(folder, "echo garbage >&5; echo '{}' >&4; exit 0")).finding().code,
              "import.crashed");
    EXPECT_EQ(import("a.dwg", "x").finding().code, "import.format");
    ImportLimits nowhere = limits();
    nowhere.reader = "/nowhere/kervo-reader";
    EXPECT_EQ(import("a.step", "x", nowhere).finding().code, "import.crashed");
}

// What the reader may do once it reads, tried in a process that has given up the same.
TEST(Import, TheReaderOpensNothingAndCallsNobody) {
    const TemporaryFolder folder;
    write_file(folder.file("secret"), "42");
    const std::string path = folder.file("secret");
    const auto may = [&](const std::function<bool()>& act) {
        const pid_t child = ::fork();
        if (child == 0) {
            ::_exit(shut_all_doors() ? (act() ? 1 : 0) : 2);
        }
        int status = 0;
        ::waitpid(child, &status, 0);
        EXPECT_TRUE(WIFEXITED(status));
        EXPECT_NE(WEXITSTATUS(status), 2) << "this system has no seccomp";
        return WEXITSTATUS(status) == 1;
    };
    EXPECT_TRUE(may([] { return std::string(1 << 22, 'x').size() > 0; })); // it may work,
    EXPECT_TRUE(may([] {
        bool ran = false;
        std::thread([&] { ran = true; }).join();
        return ran;
    }));                                                                    // with threads,
    EXPECT_FALSE(may([&] { return ::open(path.c_str(), O_RDONLY) >= 0; })); // but read no other file,
    EXPECT_FALSE(may([&] { return ::openat(AT_FDCWD, "secret", O_RDONLY) >= 0; }));
    EXPECT_FALSE(may([&] { return ::syscall(SYS_openat2, AT_FDCWD, path.c_str(), nullptr, 0) >= 0; }));
    EXPECT_FALSE(may([&] { return ::open((path + "2").c_str(), O_WRONLY | O_CREAT, 0600) >= 0; })); // write none,
    EXPECT_FALSE(may([&] { return ::unlink(path.c_str()) == 0 || ::rename(path.c_str(), "/tmp/x") == 0; }));
    EXPECT_FALSE(may([&] { return ::socket(AF_INET, SOCK_STREAM, 0) >= 0 || ::socket(AF_UNIX, SOCK_STREAM, 0) >= 0; }));
    EXPECT_FALSE(may([&] { return ::fork() >= 0; })); // start nothing
    EXPECT_FALSE(may([&] { return ::execl("/bin/true", "true", nullptr) == 0; }));
    EXPECT_FALSE(may([&] { return ::kill(::getppid(), 0) == 0; })); // and signal nobody.
    EXPECT_EQ(read_file(path), "42");
    EXPECT_FALSE(std::filesystem::exists(path + "2"));
}

TEST(Import, OtherFilesThatAFileRefersToAreToldAndNotRead) {
    const TemporaryFolder folder;
    Handle(TDocStd_Document) document;
    XCAFApp_Application::GetApplication()->NewDocument("BinXCAF", document);
    const auto shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
    const gp_Ax3 here(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
    const TDF_Label part = shapes->AddShape(geom::make_box(30, 20, 5, here).shape, Standard_False);
    TDataStd_Name::Set(part, "Foot");
    const TDF_Label assembly = shapes->NewShape();
    TDataStd_Name::Set(assembly, "Stand");
    shapes->AddComponent(assembly, part, TopLoc_Location());
    shapes->UpdateAssemblies();
    STEPCAFControl_Writer writer;
    ASSERT_TRUE(writer.Transfer(document, STEPControl_AsIs, (folder.file("part_")).c_str())); // a file for each part
    ASSERT_EQ(writer.Write(folder.file("stand.step").c_str()), IFSelect_RetDone);
    const std::string bytes = read_file(folder.file("stand.step"));
    const size_t named = bytes.find("Foot.stp");
    ASSERT_NE(named, std::string::npos);
    const auto alone = import("stand.step", bytes);
    ASSERT_FALSE(alone);
    EXPECT_NE(alone.finding().cause.find("Foot.stp"), std::string::npos) << alone.finding().cause;
    // The same name in a file that holds a body of its own.
    std::string both = demo_step(folder);
    both.insert(both.rfind("ENDSEC;"), "#900001=DOCUMENT_FILE('" + folder.file("table.step") +
                                           "','',$,#900002,'',$);\n#900002=DOCUMENT_TYPE('STEP');\n");
    const auto with = import("both.step", both);
    ASSERT_TRUE(with) << with.finding().cause;
    EXPECT_EQ(with->bodies.size(), 4u);
    EXPECT_EQ(with->not_followed, std::vector{folder.file("table.step")});
    Builder b;
    b.services.read_import = [](const Asset& asset, Progress& progress) {
        return import_in_child(asset, limits(), progress);
    };
    b.document.assets[AssetName::like("both.step")] =
        std::make_shared<Asset>(Asset{AssetName::like("both.step"), both, false});
    Import import_step;
    import_step.file.name = "both.step";
    const int id = b.step(import_step);
    const auto evaluation = b.evaluate();
    ASSERT_EQ(evaluation.report(id)->findings.size(), 1u);
    EXPECT_EQ(evaluation.report(id)->findings[0].code, "import.not_followed");
}

// One wrong number at a time, anywhere in a file: what the kernel makes of it is tried out in the reader, so that
// whatever comes back can be checked here.
TEST(Import, WrongNumbersEndInTheReader) {
    const TemporaryFolder folder;
    Builder b = plate_with_hole();
    ASSERT_TRUE(export_bodies(b.document, b.evaluate(), folder.file("p.brep"), {}));
    const std::string whole = read_file(folder.file("p.brep"));
    std::mt19937 random(11);
    int refused = 0;
    int unsound = 0;
    for (int round = 0; round < 40; ++round) {
        std::string bytes = whole;
        for (size_t at = random() % bytes.size();; at = (at + 1) % bytes.size()) {
            if (std::isdigit(static_cast<unsigned char>(bytes[at])) != 0) {
                bytes[at] = static_cast<char>('0' + (bytes[at] - '0' + 1 + static_cast<int>(random() % 9)) % 10);
                break;
            }
        }
        const auto file = import("p.brep", bytes, limits(5));
        refused += file ? 0 : 1;
        for (const auto& body : file ? file->bodies : std::vector<ImportedBody>{}) {
            unsound += body.sound ? 0 : 1;
            EXPECT_EQ(geom::is_valid(body.shape) && !geom::self_crossing(body.shape), body.sound); // without a crash
        }
    }
    EXPECT_GT(refused + unsound, 10); // otherwise nothing was wrong
}

TEST(Import, NothingIsLeftBehindWhenKervoIsKilled) {
    const auto readers = [] {
        int count = 0;
        for (const auto& process : std::filesystem::directory_iterator("/proc")) {
            std::ifstream line(process.path() / "cmdline");
            std::string words;
            std::getline(line, words);
            count += words.find("sleep-of-the-reader") != std::string::npos ? 1 : 0;
        }
        return count;
    };
    const TemporaryFolder folder;
    const auto with = reader_that(folder, "exec -a sleep-of-the-reader sleep 60", 60);
    const pid_t child = ::fork();
    if (child == 0) {
        import("a.step", "x", with);
        ::_exit(0);
    }
    for (int i = 0; i < 200 && readers() == 0; ++i) {
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    EXPECT_EQ(readers(), 1);
    ::kill(child, SIGKILL);
    ::waitpid(child, nullptr, 0);
    for (int i = 0; i < 200 && readers() > 0; ++i) {
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    EXPECT_EQ(readers(), 0);
}

TEST(Import, TooMuchMemoryIsStopped) {
    const TemporaryFolder folder;
    ImportLimits small = limits();
    small.megabytes = 40; // not enough to load the kernel's libraries
    EXPECT_EQ(import("table.step", demo_step(folder), small).finding().code, "import.crashed");
}

TEST(Import, CanBeCancelled) {
    const TemporaryFolder folder;
    Progress progress;
    std::thread soon([&] {
        std::this_thread::sleep_for(std::chrono::milliseconds(50));
        progress.cancel();
    });
    const auto result =
        import_in_child({AssetName::like("a.step"), "x", false}, reader_that(folder, "sleep 60", 30), progress);
    soon.join();
    EXPECT_EQ(result.finding().code, "import.cancelled");
}

TEST(Import, AFailedImportLeavesTheDocumentAsItWas) {
    Builder b;
    b.services.read_import = [](const Asset& asset, Progress& progress) {
        return import_in_child(asset, limits(), progress);
    };
    b.box("10", "10", "10");
    b.document.assets[AssetName::like("bad.step")] =
        std::make_shared<Asset>(Asset{AssetName::like("bad.step"), "not a STEP file", false});
    Import import_step;
    import_step.file.name = "bad.step";
    const int id = b.step(import_step);
    const Document before = b.document;
    const auto evaluation = b.evaluate();
    EXPECT_EQ(evaluation.report(id)->state, StepState::failed);
    EXPECT_TRUE(same_content(before, b.document));
    EXPECT_NEAR(volume_of(evaluation, "10"), 1000, 1e-9);
}

TEST(Stl, EnclosesTheVolumeWithinTheChord) {
    const TemporaryFolder folder;
    Builder b = plate_with_hole();
    double last = 1e9;
    for (const double chord : {1.0, 0.1, 0.01}) {
        ExportOptions options;
        options.answers["chord"] = chord;
        ASSERT_TRUE(export_bodies(b.document, b.evaluate(), folder.file("p.stl"), options));
        const std::string bytes = read_file(folder.file("p.stl"));
        uint32_t triangles = 0;
        const double error = std::fabs(volume_of_stl(bytes, triangles) - (24000 - 160 * pi));
        EXPECT_EQ(bytes.size(), 84 + 50 * static_cast<size_t>(triangles));
        EXPECT_LT(error, 10 * pi * 8 * chord + 0.1); // the hole's wall times the chord, and what floats lose
        EXPECT_LE(error, last + 1e-2);
        last = error;
    }
}

TEST(Export, ChoosesAndRefuses) {
    const TemporaryFolder folder;
    Builder b = plate_with_hole();
    b.box("5", "5", "5", "50");
    const auto evaluation = b.evaluate();
    ExportOptions only;
    only.only = {"Plate"};
    ASSERT_TRUE(export_bodies(b.document, evaluation, folder.file("one.step"), only));
    EXPECT_EQ(import("one.step", read_file(folder.file("one.step")))->bodies.size(), 1u);
    only.only = {"Saucer"};
    EXPECT_EQ(export_bodies(b.document, evaluation, folder.file("x.step"), only).finding().code, "export.no_body");
    EXPECT_EQ(export_bodies(b.document, evaluation, folder.file("x.dwg"), {}).finding().code, "export.format");
    EXPECT_EQ(export_bodies(b.document, evaluation, folder.file("no/such/x.step"), {}).finding().code, "file.write");
    EXPECT_FALSE(std::filesystem::exists(folder.file("x.step")));
    // A body behind a failed step is stale: it is handed over only when that is asked for.
    b.change<Extrude>(30, [](Extrude& cut) { cut.regions = {{{"77+"}, {300, 300}}}; });
    const auto failed = b.evaluate();
    EXPECT_EQ(export_bodies(b.document, failed, folder.file("x.step"), {}).finding().code, "export.stale");
    ExportOptions anyway;
    anyway.stale_too = true;
    EXPECT_TRUE(export_bodies(b.document, failed, folder.file("x.step"), anyway));
}

TEST(ParameterTable, ComesBackAsItWas) {
    Builder b;
    b.set("plate", "16 mm");
    b.set("half", "plate / 2");
    b.document.parameters.push_back({"tilt", "30 deg", "deg", "says \"steep\", and more\nthan one line"});
    b.document.parameters.push_back({"count", "4", "", "", "Holes, all"});
    const std::string text = parameters_to_csv(b.document);
    EXPECT_TRUE(
        text.starts_with("name,formula,value,unit,comment,group\r\nplate,16 mm,16,mm,,\r\nhalf,plate / 2,8,mm,"));
    model::Document empty;
    const auto again = with_parameters_from_csv(empty, text);
    ASSERT_TRUE(again) << again.finding().cause;
    EXPECT_EQ(again->parameters, b.document.parameters);
    EXPECT_EQ(with_parameters_from_csv(b.document, text)->parameters, b.document.parameters);
}

TEST(ParameterTable, TakesColumnsInAnyOrderAndKeepsTheRest) {
    Builder b;
    b.set("plate", "16 mm");
    b.document.parameters[0].comment = "kept";
    const auto changed =
        with_parameters_from_csv(b.document, "\xef\xbb\xbf"
                                             "formula,name\n\n22 mm,plate\n\"max(plate, 2 mm)\",gap\n");
    ASSERT_TRUE(changed) << changed.finding().cause;
    ASSERT_EQ(changed->parameters.size(), 2u);
    EXPECT_EQ(changed->parameters[0], (Parameter{"plate", "22 mm", "mm", "kept"}));
    EXPECT_EQ(changed->parameters[1].formula, "max(plate, 2 mm)");
}

TEST(ParameterTable, SaysWhereItIsWrong) {
    Builder b;
    b.set("plate", "16 mm");
    for (const auto& [text, code, words] :
         {std::tuple("", "csv.columns", "name"), std::tuple("title,value\nplate,3\n", "csv.columns", "name"),
          std::tuple("name,formula\nplate,\"16 mm\n", "csv.row", "never closed"),
          std::tuple("name,formula\na,1\n2b,3 mm\n", "csv.row", "Line 3"),
          std::tuple("name,formula,unit\na,1,furlong\n", "csv.row", "furlong")}) {
        const auto changed = with_parameters_from_csv(b.document, text);
        ASSERT_FALSE(changed.ok()) << text;
        EXPECT_EQ(changed.finding().code, code);
        EXPECT_NE(changed.finding().cause.find(words), std::string::npos) << changed.finding().cause;
    }
    std::mt19937 random(81);
    std::string table = parameters_to_csv(b.document);
    for (int round = 0; round < 2000; ++round) { // no damage brings the reader down
        std::string damaged = table;
        for (int i = 0; i < 3; ++i) {
            damaged[random() % damaged.size()] = static_cast<char>(random() % 256);
        }
        with_parameters_from_csv(b.document, damaged);
    }
}
