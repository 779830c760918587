// A format that is added from outside: the reader process, documents and the command line take it like any other.
#include "cli/cli.h"
#include "io/formats/hand_over.h"
#include "io/reader/import_child.h"
#include "io_fixture.h"
#include "model/steps/import/import.h"
#include "own_format.h"

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

struct OwnFormat : ::testing::Test {
    static void SetUpTestSuite() {
        add_format(balls_format());
        use_reader(std::string(KERVO_BIN) + "/own_reader");
    }
    static Result<model::ImportedFile> import(const std::string& name, const std::string& bytes) {
        Progress progress;
        return import_in_child({model::AssetName::like(name), bytes, false}, {}, progress);
    }
    static int run(std::vector<std::string> words) {
        words.insert(words.begin(), "kervo-cli");
        std::vector<const char*> argv;
        for (const std::string& word : words) {
            argv.push_back(word.c_str());
        }
        return cli::run(static_cast<int>(argv.size()), argv.data());
    }
    /// A document that imports a file of that name beside it.
    static std::string document_with(const TemporaryFolder& folder, const std::string& name, const std::string& bytes) {
        Builder b;
        model::Import step;
        step.file.name = name;
        b.step(step);
        b.document.assets[model::AssetName::like(name)] =
            std::make_shared<const model::Asset>(model::Asset{model::AssetName::like(name), bytes, false});
        const std::string path = folder.file("document.json");
        EXPECT_FALSE(save_document(b.document, path));
        return path;
    }
};

TEST_F(OwnFormat, is_read_in_the_process_that_is_let_in_nowhere) {
    const auto file = import("two.BALLS", "0 0 0 10\n50 0 0 20\n");
    ASSERT_TRUE(file) << file.finding().cause;
    ASSERT_EQ(file->bodies.size(), 2u);
    EXPECT_EQ(file->bodies[1].name, "Ball 2");
    EXPECT_EQ(file->bodies[1].color, "#aa7744");
    EXPECT_NEAR(geom::volume_of(file->bodies[1].shape), 4 * pi / 3 * 8000, 1e-6);
    EXPECT_EQ(import("none.balls", "nothing").finding().code, "import.unreadable");
    EXPECT_EQ(import("flat.balls", "0 0 0 -1").finding().code, "import.unreadable");
    EXPECT_EQ(import("evil.ball", "0 0 0 666").finding().code, "import.crashed");
    EXPECT_EQ(import("two.bells", "0 0 0 10").finding().code, "import.format");
}

TEST_F(OwnFormat, is_what_a_step_imports_and_the_command_line_writes) {
    const TemporaryFolder folder;
    const std::string path = document_with(folder, "two.balls", "0 0 0 10\n50 0 0 20\n");
    ASSERT_EQ(run({"export", path, folder.file("out.balls"), "--factor", "2"}), 0);
    const auto back = import("out.balls", read_file(folder.file("out.balls")));
    ASSERT_TRUE(back) << back.finding().cause;
    ASSERT_EQ(back->bodies.size(), 2u);
    EXPECT_NEAR(geom::volume_of(back->bodies[0].shape) / (4 * pi / 3 * 8000), 1, 1e-4); // six digits in the file
    EXPECT_NEAR(geom::center_of(back->bodies[1].shape).X(), 50, 1e-3);
    ::testing::internal::CaptureStderr();
    EXPECT_EQ(run({"export", path, folder.file("out.balls"), "--factor", "0.01"}), 3);
    EXPECT_NE(::testing::internal::GetCapturedStderr().find("Larger by"), std::string::npos);
}

TEST_F(OwnFormat, stands_among_the_others) {
    EXPECT_EQ(format_of("a.ball")->id, "balls");
    EXPECT_EQ(writers_of(Content::bodies).back()->id, "balls");
    EXPECT_TRUE(extensions_of(readers_of(Content::bodies)).ends_with(" or .balls"));
    EXPECT_TRUE(writers_of(Content::outlines).back()->id != "balls");
    add_format(balls_format()); // once more: instead of itself
    EXPECT_EQ(std::count_if(formats().begin(), formats().end(), [](const Format& f) { return f.id == "balls"; }), 1);
}

} // namespace
