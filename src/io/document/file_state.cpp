#include "io/document/file_state.h"

#include "io/document/safe_file.h"

#include <cerrno>
#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>

namespace kervo::io {

std::uint64_t content_hash(std::string_view bytes) {
    std::uint64_t hash = 1469598103934665603ULL;
    for (const char c : bytes) {
        hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    }
    return hash;
}

std::optional<FileState> state_of(const std::string& path) {
    const auto content = read_whole(path);
    return content ? std::optional(FileState::of(*content)) : std::nullopt;
}

bool is_file_at(int file, const std::string& path) {
    struct stat open {};
    struct stat there {};
    return ::fstat(file, &open) == 0 && ::stat(path.c_str(), &there) == 0 && open.st_dev == there.st_dev &&
           open.st_ino == there.st_ino;
}

FileLock::~FileLock() {
    if (file_ >= 0) {
        ::close(file_);
    }
}

FileLock::FileLock(FileLock&& other) noexcept : file_(std::exchange(other.file_, -1)) {}

FileLock& FileLock::operator=(FileLock&& other) noexcept {
    std::swap(file_, other.file_);
    return *this;
}

Result<FileLock> FileLock::take(const std::string& path) {
    const Finding in_use =
        error_finding("file.in_use", "\u201c" + path + "\u201d is open in another window.", "Close it there first.");
    constexpr int tries = 10; // the file may be replaced between opening and holding it
    for (int i = 0; i < tries; ++i) {
        FileLock lock;
        lock.file_ = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
        if (lock.file_ < 0) {
            return FileLock();
        }
        if (::flock(lock.file_, LOCK_EX | LOCK_NB) != 0) {
            return errno == EWOULDBLOCK ? Result<FileLock>(in_use) : FileLock();
        }
        if (is_file_at(lock.file_, path)) {
            return lock;
        }
    }
    return in_use;
}

bool FileLock::holds(const std::string& path) const {
    return file_ >= 0 && is_file_at(file_, path);
}

} // namespace kervo::io
