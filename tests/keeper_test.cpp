// Nothing that was accepted is lost: whatever system call fails, and whenever the process dies.
#include "failing_calls.h"
#include "io_fixture.h"

#include "io/document/keeper.h"

#include <cerrno>
#include <fcntl.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;
using kervo::test::FailingCalls;

namespace {

Document with_count(int count) {
    Document document;
    document.title = "after " + std::to_string(count);
    document.parameters.push_back({"count", std::to_string(count), "", ""});
    return document;
}

int count_in(const Document& document) {
    return document.parameters.empty() ? 0 : std::stoi(document.parameters.at(0).formula);
}

// What somebody finds who opens the document after a crash.
int count_on_disk(const std::string& path) {
    const auto file = open_document(path);
    const auto journal = recover(journal_path_for(path));
    return std::max(file ? count_in(*file) : 0, journal ? count_in(journal->document) : 0);
}

// A day with a document: opened, changed, saved, changed; then a crash; brought back, changed, saved under another
// name, changed. Tells what was tried, and what was accepted: recorded without trouble, or saved.
class Day {
public:
    explicit Day(const TemporaryFolder& folder) : path_(folder.file("day.kervo")), other_(folder.file("other.kervo")) {
        std::filesystem::remove(journal_path_for(path_));
        std::filesystem::remove(journal_path_for(other_));
        std::filesystem::remove(other_);
        EXPECT_FALSE(save_document(with_count(1), path_));
        tried_ = accepted_ = 1;
    }

    void live(const std::function<void()>& make_room = {}) {
        keeper_ = std::make_unique<Keeper>();
        if (!keeper_->open(path_)) {
            make_room ? make_room() : void();
            EXPECT_TRUE(keeper_->open(path_));
        }
        change();
        change();
        save(path_);
        change();
        keeper_ = std::make_unique<Keeper>(); // the process died, the next one opens
        auto opened = keeper_->open(path_);
        if (!opened) {
            opened = keeper_->open(path_);
        }
        ASSERT_TRUE(opened) << opened.finding().cause;
        EXPECT_GE(count_in(opened->unsaved ? opened->unsaved->document : opened->saved), accepted_);
        if (make_room) {
            make_room();
        }
        change();
        EXPECT_TRUE(!make_room || !keeper_->trouble()) << "there is room again, and no healing";
        save(other_);
        change();
    }

    /// Whether the disk holds all that was accepted, and nothing that nobody made.
    void check(const char* before) const {
        const int there = std::max(count_on_disk(path_), count_on_disk(other_));
        ASSERT_GE(there, accepted_) << "before " << before;
        ASSERT_LE(there, tried_) << "before " << before;
    }
    /// Once a change is accepted after the failure, everything is there.
    void end() {
        change();
        EXPECT_FALSE(keeper_->trouble());
        EXPECT_EQ(std::max(count_on_disk(path_), count_on_disk(other_)), tried_);
        keeper_->leave();
    }

private:
    void change() {
        keeper_->record(with_count(++tried_));
        accepted_ = keeper_->trouble() ? accepted_ : tried_;
    }
    void save(const std::string& path) {
        if (!keeper_->save(with_count(tried_), path, {}, Keeper::Others::stay)) {
            accepted_ = tried_;
        }
    }

    std::string path_, other_;
    std::unique_ptr<Keeper> keeper_;
    int tried_ = 0, accepted_ = 0;
};

} // namespace

TEST(Keeper, HoldsAllAtEveryMoment) {
    const TemporaryFolder folder;
    Day day(folder);
    int moments = 0;
    FailingCalls::watch([&](const char* call) {
        ++moments;
        day.check(call);
    });
    day.live();
    FailingCalls::watch({});
    EXPECT_GT(moments, 100);
    day.end();
}

TEST(Keeper, AnyCallMayFail) {
    const TemporaryFolder folder;
    FailingCalls::fail(0, 0, false);
    Day(folder).live();
    const int calls = FailingCalls::count();
    ASSERT_GT(calls, 100);
    for (const int error : {ENOSPC, EIO}) {
        for (int at = 1; at <= calls; ++at) {
            SCOPED_TRACE("call " + std::to_string(at) + ", error " + std::to_string(error));
            Day day(folder);
            FailingCalls::watch([&](const char* call) { day.check(call); });
            FailingCalls::fail(at, error, false);
            day.live();
            FailingCalls::stop_failing();
            FailingCalls::watch({});
            day.end();
            if (HasFailure()) {
                return;
            }
        }
    }
}

TEST(Keeper, AFullDiskHeals) {
    const TemporaryFolder folder;
    FailingCalls::fail(0, 0, false);
    Day(folder).live();
    const int calls = FailingCalls::count();
    for (int at = 1; at <= calls; at += 3) {
        SCOPED_TRACE("full from call " + std::to_string(at));
        Day day(folder);
        FailingCalls::watch([&](const char* call) { day.check(call); });
        FailingCalls::fail(at, ENOSPC, true);
        day.live([] { FailingCalls::stop_failing(); });
        FailingCalls::stop_failing();
        FailingCalls::watch({});
        day.end();
        if (HasFailure()) {
            return;
        }
    }
}

TEST(Keeper, JournalsThatGoAreWrittenAnew) {
    const TemporaryFolder folder;
    const std::string path = folder.file("d.kervo");
    const std::string journal = journal_path_for(path);
    ASSERT_FALSE(save_document(with_count(1), path));
    Keeper keeper;
    ASSERT_TRUE(keeper.open(path));
    keeper.record(with_count(2));
    std::filesystem::remove(journal); // somebody tidies up
    keeper.record(with_count(3));
    EXPECT_FALSE(keeper.trouble());
    EXPECT_EQ(count_on_disk(path), 3);
    write_file(journal + "x", "another's");
    std::filesystem::rename(journal + "x", journal); // or puts something else in its place
    keeper.record(with_count(4));
    EXPECT_EQ(count_on_disk(path), 4);
}

TEST(Keeper, DamagedRecordsAreSkippedAndToldOf) {
    const TemporaryFolder folder;
    const std::string path = folder.file("d.kervo");
    const std::string journal = journal_path_for(path);
    ASSERT_FALSE(save_document(with_count(1), path));
    {
        Keeper keeper;
        ASSERT_TRUE(keeper.open(path));
        for (int i = 2; i <= 5; ++i) {
            keeper.record(with_count(i));
        }
    }
    const std::string whole = read_file(journal);
    const auto line_start = [&](int line) {
        size_t at = 0;
        for (int i = 0; i < line; ++i) {
            at = whole.find('\n', at) + 1;
        }
        return at;
    };
    EXPECT_EQ(recover(journal)->changes, 4);
    EXPECT_EQ(recover(journal)->skipped, 0);
    // A line is gone: what follows would be patched upon the wrong thing.
    write_file(journal, whole.substr(0, line_start(2)) + whole.substr(line_start(3)));
    EXPECT_EQ(count_in(recover(journal)->document), 2);
    EXPECT_EQ(recover(journal)->skipped, 2);
    // A line that is there twice, or in the wrong order, counts once.
    write_file(journal, whole + whole.substr(line_start(4)));
    EXPECT_EQ(count_in(recover(journal)->document), 5);
    EXPECT_EQ(recover(journal)->skipped, 1);
    for (const char* hostile :
         {R"({"number": 5, "patch": [{"op": "copy", "from": "", "path": "/title"}], "files": {}})",
          R"({"number": 5, "patch": [{"op": "add", "path": ")"}) {
        const std::string record = hostile;
        std::array<char, 18> sum{};
        std::snprintf(sum.data(), sum.size(), "%016llx ", static_cast<unsigned long long>(content_hash(record)));
        write_file(journal, whole + sum.data() + record + "\n");
        EXPECT_EQ(count_in(recover(journal)->document), 5);
        EXPECT_EQ(recover(journal)->skipped, 1);
    }
}

// What cannot be made sense of may be somebody's work all the same.
TEST(Keeper, JournalsThatMakeNoSenseAreKeptAside) {
    const TemporaryFolder folder;
    const std::string path = folder.file("d.kervo");
    ASSERT_FALSE(save_document(with_count(1), path));
    write_file(journal_path_for(path), "no journal of ours");
    Keeper keeper;
    ASSERT_TRUE(keeper.open(path));
    EXPECT_EQ(read_file(journal_path_for(path) + ".aside-1"), "no journal of ours");
    keeper.leave();
    EXPECT_TRUE(std::filesystem::exists(journal_path_for(path) + ".aside-1"));
}

TEST(Keeper, OneDocumentIsHeldByOneProcess) {
    const TemporaryFolder folder;
    const std::string path = folder.file("d.kervo");
    ASSERT_FALSE(save_document(with_count(1), path));
    std::filesystem::create_symlink(path, folder.file("link.kervo"));
    std::filesystem::create_hard_link(path, folder.file("hard.kervo"));
    Keeper first;
    ASSERT_TRUE(first.open(path));
    const auto others_are_refused = [&] {
        for (const char* name : {"d.kervo", "link.kervo"}) {
            Keeper second;
            const auto opened = second.open(folder.file(name));
            ASSERT_FALSE(opened) << name;
            EXPECT_EQ(opened.finding().code, "file.in_use");
            EXPECT_EQ(save_document(with_count(9), folder.file(name))->code, "file.in_use");
        }
    };
    others_are_refused();
    EXPECT_EQ(Keeper().open(folder.file("hard.kervo")).finding().code, "file.in_use");
    ASSERT_FALSE(first.save(with_count(2), folder.file("link.kervo"), {}, Keeper::Others::stay));
    others_are_refused(); // the new file is held as well
    EXPECT_EQ(count_on_disk(path), 2);
    first.leave();
    EXPECT_TRUE(Keeper().open(path));
    // Many at the same instant: one has it.
    int won = 0;
    std::vector<pid_t> children;
    int start[2];
    ASSERT_EQ(::pipe(start), 0);
    for (int i = 0; i < 8; ++i) {
        const pid_t child = ::fork();
        if (child == 0) {
            char c = 0;
            ::close(start[1]);
            [[maybe_unused]] const ssize_t told = ::read(start[0], &c, 1); // until the other end closes
            Keeper keeper;
            const bool mine = keeper.open(i % 2 == 0 ? path : folder.file("link.kervo")).ok();
            ::usleep(300000);
            ::_exit(mine ? 1 : 0);
        }
        children.push_back(child);
    }
    ::close(start[0]);
    ::close(start[1]);
    for (const pid_t child : children) {
        int status = 0;
        ::waitpid(child, &status, 0);
        won += WIFEXITED(status) ? WEXITSTATUS(status) : 100;
    }
    EXPECT_EQ(won, 1);
}

TEST(Keeper, OtherProgramsChangesAreNoticed) {
    const TemporaryFolder folder;
    const std::string path = folder.file("d.json");
    ASSERT_FALSE(save_document(with_count(1), path));
    const std::string theirs = to_text(with_count(7));
    Keeper keeper;
    ASSERT_TRUE(keeper.open(path));
    EXPECT_FALSE(keeper.changed_outside());
    write_file(path, read_file(path)); // written again, and nothing else
    EXPECT_FALSE(keeper.changed_outside());
    struct stat before {};
    ::stat(path.c_str(), &before);
    write_file(path, theirs); // as long as ours, and with our time
    const timespec times[2] = {before.st_atim, before.st_mtim};
    ::utimensat(AT_FDCWD, path.c_str(), times, 0);
    keeper.record(with_count(2));
    EXPECT_EQ(keeper.save(with_count(2), path, {}, Keeper::Others::stay)->code, "file.changed");
    EXPECT_EQ(read_file(path), theirs);
    write_file(path, theirs + "\n");
    EXPECT_TRUE(keeper.changed_outside());
    keeper.accept_outside();
    EXPECT_FALSE(keeper.save(with_count(2), path, {}, Keeper::Others::stay));
    EXPECT_EQ(count_on_disk(path), 2);
    EXPECT_FALSE(keeper.changed_outside());
    std::filesystem::remove(path); // there is nothing to be lost
    EXPECT_FALSE(keeper.changed_outside());
    EXPECT_FALSE(keeper.save(with_count(3), path, {}, Keeper::Others::stay));
    // After a crash: what was not saved goes on from another file than is there.
    keeper.record(with_count(4));
    keeper = Keeper();
    Keeper again;
    EXPECT_FALSE(again.open(path)->changed_outside);
    again = Keeper();
    write_file(path, theirs);
    const auto opened = again.open(path);
    ASSERT_TRUE(opened);
    EXPECT_TRUE(opened->changed_outside);
    EXPECT_EQ(count_in(opened->saved), 7);
    EXPECT_EQ(count_in(opened->unsaved->document), 4);
}

TEST(Keeper, UntitledWorkComesBackOnce) {
    const TemporaryFolder folder;
    {
        Keeper lost;
        lost.start_untitled(folder.file("left"));
        lost.record(with_count(1));
        lost.record(with_count(2));
        Keeper meanwhile;
        EXPECT_FALSE(meanwhile.bring_back(folder.file("left"))); // it is open
    }
    Keeper again;
    const auto back = again.bring_back(folder.file("left"));
    ASSERT_TRUE(back);
    EXPECT_EQ(count_in(back->document), 2);
    EXPECT_EQ(back->changes, 2);
    EXPECT_FALSE(Keeper().bring_back(folder.file("left")));
    again = Keeper(); // and once more
    const auto twice = again.bring_back(folder.file("left"));
    ASSERT_TRUE(twice);
    EXPECT_EQ(twice->changes, 2);
    EXPECT_EQ(twice->until, back->until);
    again.leave();
    EXPECT_FALSE(Keeper().bring_back(folder.file("left")));
    EXPECT_TRUE(std::filesystem::is_empty(folder.file("left")));
}

TEST(Keeper, PrivateFilesArePrivateAllAlong) {
    const TemporaryFolder folder;
    const std::string path = folder.file("d.kervo");
    ASSERT_FALSE(save_document(with_count(1), path));
    ::chmod(path.c_str(), 0600);
    Keeper keeper;
    ASSERT_TRUE(keeper.open(path));
    FailingCalls::watch([&](const char*) {
        for (const auto& entry : std::filesystem::directory_iterator(std::filesystem::path(path).parent_path())) {
            struct stat status {};
            if (::stat(entry.path().c_str(), &status) == 0) { // else it went just now
                EXPECT_EQ(status.st_mode & 0077, 0U) << entry.path();
            }
        }
    });
    keeper.record(with_count(2));
    EXPECT_FALSE(keeper.save(with_count(2), path, {}, Keeper::Others::stay));
    FailingCalls::watch({});
}

TEST(Keeper, SavingSaysWhyAndWhat) {
    const TemporaryFolder folder;
    const std::string path = folder.file("d.kervo");
    FailingCalls::fail(1000, 0, false);
    EXPECT_FALSE(save_document(with_count(1), path));
    const int calls = FailingCalls::count();
    for (int at = 1; at <= calls; ++at) {
        FailingCalls::fail(at, ENOSPC, true);
        const auto problem = save_document(with_count(2), path);
        FailingCalls::stop_failing();
        if (problem) {
            EXPECT_NE(problem->cause.find("\u201c" + path + "\u201d"), std::string::npos) << problem->cause;
            EXPECT_TRUE(problem->cause.find("No space left") != std::string::npos ||
                        problem->cause.find("Input/output error") != std::string::npos) // of what fails on closing
                << problem->cause;
        }
    }
}
