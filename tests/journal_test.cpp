// The journal brings back everything that was acknowledged, whenever the process dies.
#include "io_fixture.h"

#include "io/document/journal.h"

#include <csignal>
#include <random>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

Document with_count(Document document, int count) {
    document.title = "after " + std::to_string(count);
    document.parameters.resize(1);
    document.parameters[0] = {"count", std::to_string(count), "", ""};
    return document;
}

int count_in(const Document& document) {
    return document.parameters.empty() ? 0 : std::stoi(document.parameters.at(0).formula);
}

} // namespace

TEST(Journal, BringsBackTheLastState) {
    const TemporaryFolder folder;
    const std::string path = folder.file("j");
    Document document = plate_with_hole().document;
    {
        auto journal = Journal::start(path, document, document);
        ASSERT_TRUE(journal);
        EXPECT_EQ(std::filesystem::status(path).permissions(), // nobody else's business
                  std::filesystem::perms::owner_read | std::filesystem::perms::owner_write);
        EXPECT_EQ(recover(path)->changes, 0);
        document = with_count(document, 1);
        ASSERT_FALSE(journal->append(document));
        ASSERT_FALSE(journal->append(document)); // nothing changed, nothing is written
        document.assets[AssetName::like("arm.brep")] =
            std::make_shared<Asset>(Asset{AssetName::like("arm.brep"), std::string("\0\xff\n bytes", 9), false});
        ASSERT_FALSE(journal->append(document));
        EXPECT_TRUE(journal_in_use(path));
    }
    EXPECT_FALSE(journal_in_use(path));
    const auto back = recover(path);
    ASSERT_TRUE(back);
    EXPECT_EQ(back->changes, 2);
    EXPECT_TRUE(same_content(back->document, document));
}

TEST(Journal, DiscardedOnesAreGone) {
    const TemporaryFolder folder;
    auto journal = Journal::start(folder.file("j"), {}, {});
    ASSERT_TRUE(journal);
    journal->discard();
    EXPECT_FALSE(std::filesystem::exists(folder.file("j")));
    EXPECT_FALSE(recover(folder.file("j")));
    EXPECT_FALSE(Journal::start(folder.file("no/such/folder/j"), {}, {}));
}

TEST(Journal, TornAtAnyByteGivesTheStateBefore) {
    const TemporaryFolder folder;
    const std::string path = folder.file("j");
    const Document base = plate_with_hole().document;
    std::vector<size_t> ends; // length of the file after each record
    {
        auto journal = Journal::start(path, with_count(base, 0), with_count(base, 0));
        ASSERT_TRUE(journal);
        ends.push_back(std::filesystem::file_size(path));
        for (int i = 1; i <= 5; ++i) {
            ASSERT_FALSE(journal->append(with_count(base, i)));
            ends.push_back(std::filesystem::file_size(path));
        }
    }
    const std::string whole = read_file(path);
    for (size_t length = 0; length <= whole.size(); length += length > ends[0] - 5 ? 1 : 97) {
        write_file(path, whole.substr(0, length));
        const auto back = recover(path);
        // The line feed that ends a record is not needed to know that it is whole.
        const auto records = std::count_if(ends.begin(), ends.end(), [&](size_t end) { return end <= length + 1; });
        ASSERT_EQ(back.has_value(), records > 0) << length;
        if (back) {
            ASSERT_EQ(count_in(back->document), records - 1) << length;
        }
    }
    std::string mixed = whole;
    mixed[ends[2] + 30] ^= 1; // a flipped bit in the third change
    write_file(path, mixed);
    EXPECT_EQ(count_in(recover(path)->document), 2);
}

// A child process edits and saves in a loop, and tells of each change once it is safe. Killed at any moment, also in
// the middle of a save, the file is whole and journal and file together hold everything that was told.
TEST(Journal, NothingIsLostByKilling) {
    const TemporaryFolder folder;
    const Document base = plate_with_hole().document;
    std::mt19937 random(7);
    int killed_while_saving = 0;
    for (int round = 0; round < 60; ++round) {
        const std::string path = folder.file("doc" + std::to_string(round) + (round % 2 == 0 ? ".kervo" : ".json"));
        const std::string journal_path = journal_path_for(path);
        ASSERT_FALSE(save_document(with_count(base, 0), path));
        int tell[2];
        ASSERT_EQ(::pipe(tell), 0);
        const pid_t child = ::fork();
        if (child == 0) {
            auto journal = Journal::start(journal_path, with_count(base, 0), with_count(base, 0));
            for (int i = 1;; ++i) {
                const Document next = with_count(base, i);
                if (journal->append(next)) {
                    ::_exit(1);
                }
                ::write(tell[1], "e", 1) == 1 ? void() : ::_exit(1);
                if (i % 3 == 0) {
                    ::write(tell[1], "s", 1) == 1 ? void() : ::_exit(1);
                    if (save_document(next, path)) {
                        ::_exit(1);
                    }
                    journal = Journal::start(journal_path, next, next);
                    ::write(tell[1], "d", 1) == 1 ? void() : ::_exit(1);
                }
            }
        }
        ::close(tell[1]);
        std::this_thread::sleep_for(std::chrono::microseconds(std::uniform_int_distribution<int>(500, 40000)(random)));
        ::kill(child, SIGKILL);
        int status = 0;
        ::waitpid(child, &status, 0);
        ASSERT_TRUE(WIFSIGNALED(status));
        int told = 0;
        bool saving = false;
        char c = 0;
        while (::read(tell[0], &c, 1) == 1) {
            told += c == 'e' ? 1 : 0;
            saving = c == 's' || (saving && c != 'd');
        }
        ::close(tell[0]);
        killed_while_saving += saving ? 1 : 0;
        const auto file = open_document(path);
        ASSERT_TRUE(file) << file.finding().cause;
        const auto back = recover(journal_path);
        const int known = std::max(count_in(*file), back ? count_in(back->document) : 0);
        ASSERT_GE(known, told) << "round " << round;
        ASSERT_LE(known, told + 1);
    }
    EXPECT_GT(killed_while_saving, 3); // otherwise the test has not tested that
}
