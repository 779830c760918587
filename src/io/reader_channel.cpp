#include "io/reader_channel.h"

#include <cerrno>
#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

namespace kervo::io {

static_assert(std::atomic<std::uint32_t>::is_always_lock_free, "it is seen by two processes");

MemoryFile::MemoryFile() {
    const int made = ::memfd_create("kervo", MFD_CLOEXEC);
    if (made >= 0) {
        file_ = ::fcntl(made, F_DUPFD_CLOEXEC, reader_headway + 1);
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

} // namespace kervo::io
