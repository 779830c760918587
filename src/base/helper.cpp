#include "base/helper.h"

#include <cerrno>
#include <chrono>
#include <csignal>
#include <fcntl.h>
#include <filesystem>
#include <sys/mman.h>
#include <sys/personality.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

namespace kervo {

static_assert(std::atomic<std::uint32_t>::is_always_lock_free, "it is seen by two processes");

MemoryFile::MemoryFile() {
    const int made = ::memfd_create("kervo", MFD_CLOEXEC);
    if (made >= 0) {
        file_ = ::fcntl(made, F_DUPFD_CLOEXEC, helper_headway + 1);
        ::close(made);
    }
}

MemoryFile::~MemoryFile() {
    if (file_ >= 0) {
        ::close(file_);
    }
}

bool write_all(int file, const std::string& bytes) {
    size_t done = 0;
    while (done < bytes.size()) {
        const ssize_t written = ::pwrite(file, bytes.data() + done, bytes.size() - done, static_cast<off_t>(done));
        if (written < 0 && errno != EINTR) {
            return false;
        }
        done += written > 0 ? static_cast<size_t>(written) : 0;
    }
    return true;
}

Result<std::string> read_all(int file, size_t most) {
    struct stat status {};
    const Finding unreadable = error_finding("file.read", "A file in memory cannot be read.", "Try again.");
    if (::fstat(file, &status) != 0) {
        return unreadable;
    }
    const auto size = static_cast<size_t>(status.st_size);
    if (size > most) {
        return error_finding("file.too_large", "There is more than " + std::to_string(most >> 20U) + " MB of it.",
                             "Take a smaller file.");
    }
    std::string bytes(size, '\0');
    size_t done = 0;
    while (done < size) {
        const ssize_t read = ::pread(file, bytes.data() + done, size - done, static_cast<off_t>(done));
        if (read == 0 || (read < 0 && errno != EINTR)) {
            return unreadable;
        }
        done += read > 0 ? static_cast<size_t>(read) : 0;
    }
    return bytes;
}

Headway* share_headway(int file) {
    if (::ftruncate(file, sizeof(Headway)) != 0) {
        return nullptr;
    }
    void* at = ::mmap(nullptr, sizeof(Headway), PROT_READ | PROT_WRITE, MAP_SHARED, file, 0);
    return at == MAP_FAILED ? nullptr : static_cast<Headway*>(at); // zeroes are where it starts
}

void forget_headway(Headway* headway) {
    if (headway != nullptr) {
        ::munmap(headway, sizeof(Headway));
    }
}

namespace {

void limit(int resource, rlim_t most) {
    const rlimit both{most, most};
    ::setrlimit(static_cast<__rlimit_resource>(resource), &both);
}

constexpr int no_such_program = 127;

// Between fork and exec only calls that are safe in a process with threads.
[[noreturn]] void become_helper(char* const* arguments, const HelperLimits& limits, std::array<int, 4> files) {
    constexpr rlim_t gigabyte = 1ULL << 30U;
    const auto seconds = static_cast<rlim_t>(limits.processor) + 1;
    const rlimit processor{seconds, seconds + 5}; // the softer one says what it was that ended it
    ::setrlimit(RLIMIT_CPU, &processor);
    limit(RLIMIT_AS, static_cast<rlim_t>(limits.megabytes) << 20U);
    limit(RLIMIT_FSIZE, 4 * gigabyte); // also of files in memory
    limit(RLIMIT_CORE, 0);
    if (limits.same_memory) {
        ::personality(ADDR_NO_RANDOMIZE);
    }
    ::prctl(PR_SET_PDEATHSIG, SIGKILL); // it ends with the one who asked
    const int nothing = ::open("/dev/null", O_RDWR);
    ::dup2(nothing, 0);
    ::dup2(nothing, 1);
    ::dup2(nothing, 2);
    for (int i = 0; i < 4; ++i) {
        ::dup2(files[static_cast<size_t>(i)], helper_input + i);
    }
    ::close_range(helper_headway + 1, ~0U, 0);
    ::execv(arguments[0], arguments);
    ::_exit(no_such_program);
}

std::string beside_this_program() {
    std::error_code unknown;
    const auto self = std::filesystem::read_symlink("/proc/self/exe", unknown);
    return (self.parent_path() / "kervo-reader").string();
}

} // namespace

Helper::End Helper::run(const std::string& task, const std::string& input, const HelperLimits& limits,
                        Progress& progress) {
    using Clock = std::chrono::steady_clock;
    if (how_far_ == nullptr || !write_all(input_.descriptor(), input)) {
        return End::crashed;
    }
    std::string program = limits.program.empty() ? beside_this_program() : limits.program;
    std::string word = task;
    const std::array<char*, 3> arguments{program.data(), word.data(), nullptr};
    const pid_t parent = ::getpid();
    const pid_t child = ::fork();
    if (child == 0) {
        if (::getppid() != parent) { // it ended in between
            ::_exit(no_such_program);
        }
        become_helper(arguments.data(), limits,
                      {input_.descriptor(), output_.descriptor(), more_.descriptor(), headway_.descriptor()});
    }
    if (child < 0) {
        return End::crashed;
    }
    const auto patience = std::chrono::duration<double>(limits.still);
    auto moved = Clock::now();
    std::uint32_t count = 0;
    int status = 0;
    while (::waitpid(child, &status, WNOHANG) == 0) {
        if (const std::uint32_t now = how_far_->count; now != count) {
            count = now;
            moved = Clock::now();
            progress.report(how_far_->permille / 1000.0, "read");
        }
        const bool stands_still = Clock::now() - moved > patience;
        if (stands_still || progress.cancelled()) {
            ::kill(child, SIGKILL);
            ::waitpid(child, &status, 0);
            return stands_still ? End::too_long : End::cancelled;
        }
        std::this_thread::sleep_for(std::chrono::milliseconds(2));
    }
    if (WIFSIGNALED(status)) {
        return WTERMSIG(status) == SIGXCPU ? End::too_long : End::crashed;
    }
    switch (WEXITSTATUS(status)) {
    case 0:
        return End::done;
    case 1:
        return End::refused;
    case no_such_program:
        return End::missing;
    default:
        return End::crashed;
    }
}

} // namespace kervo
