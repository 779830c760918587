#include "io/document/safe_file.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <stdexcept>
#include <sys/stat.h>
#include <unistd.h>

namespace kervo::io {

namespace {

Finding cannot_write(const std::string& path, int error) {
    return error_finding("file.write", "\u201c" + path + "\u201d cannot be written: " + std::strerror(error) + ".",
                         "Choose another place; the old file is as it was.");
}

bool flush_to_disk(const std::string& path, int flags) {
    const int file = ::open(path.c_str(), flags | O_CLOEXEC);
    if (file < 0) {
        return false;
    }
    const bool done = ::fsync(file) == 0;
    const int error = errno;
    ::close(file);
    errno = error;
    return done;
}

// An empty file that nobody may read who must not read what comes into it.
bool make_file(const std::string& path, mode_t mode) {
    ::unlink(path.c_str()); // a process of the same number may have left one
    const int file = ::open(path.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, mode);
    return file >= 0 && ::close(file) == 0;
}

} // namespace

std::optional<Finding> write_atomically(const std::string& path,
                                        const std::function<std::optional<Finding>(const std::string&)>& write,
                                        const Replacing& how) {
    // A link stays one: what it leads to is written.
    std::error_code none;
    const auto led_to = std::filesystem::canonical(path, none);
    const std::string target = none ? path : led_to.string();
    const std::string fresh = target + ".new-" + std::to_string(::getpid());
    struct stat old {};
    const bool is_there = ::stat(target.c_str(), &old) == 0;
    const bool owners = how.readers == Readers::only_the_owner;
    const auto failed = [&] {
        const int error = errno;
        ::unlink(fresh.c_str());
        return cannot_write(path, error);
    };
    if (!make_file(fresh, owners ? 0600 : is_there ? old.st_mode & 0600 : 0666)) {
        return failed();
    }
    if (auto problem = write(fresh)) {
        ::unlink(fresh.c_str());
        return problem;
    }
    if (is_there && !owners) { // as far as we may say so
        [[maybe_unused]] const int owned = ::chown(fresh.c_str(), old.st_uid, old.st_gid);
        [[maybe_unused]] const int allowed = ::chmod(fresh.c_str(), old.st_mode & 07777);
    }
    FileLock lock;
    if (how.lock != nullptr) {
        if (auto taken = FileLock::take(fresh)) {
            lock = std::move(*taken);
        }
    }
    if (!flush_to_disk(fresh, O_RDONLY) || ::rename(fresh.c_str(), target.c_str()) != 0) {
        return failed();
    }
    if (how.lock != nullptr) {
        *how.lock = std::move(lock);
    }
    const auto folder = std::filesystem::path(target).parent_path();
    flush_to_disk(folder.empty() ? "." : folder.string(), O_RDONLY | O_DIRECTORY);
    return std::nullopt;
}

std::optional<Finding> write_text_atomically(const std::string& path, const std::string& text, const Replacing& how) {
    return write_atomically(
        path,
        [&](const std::string& fresh) -> std::optional<Finding> {
            const int file = ::open(fresh.c_str(), O_WRONLY | O_TRUNC | O_NOFOLLOW | O_CLOEXEC);
            if (file < 0) {
                return cannot_write(path, errno);
            }
            int error = 0;
            for (size_t done = 0; done < text.size() && error == 0;) {
                const ssize_t written = ::write(file, text.data() + done, text.size() - done);
                if (written >= 0) {
                    done += static_cast<size_t>(written);
                } else if (errno != EINTR) {
                    error = errno;
                }
            }
            if (::close(file) != 0 && error == 0) {
                error = errno;
            }
            return error == 0 ? std::nullopt : std::optional(cannot_write(path, error));
        },
        how);
}

namespace {

constexpr off_t largest = 1LL << 30; // bytes

Finding cannot_read(const std::string& path, const std::string& why) {
    return error_finding("file.read", "\u201c" + path + "\u201d cannot be read: " + why + ".", "Choose another file.");
}

Result<std::string> read_regular(const std::string& path, int flags) {
    // A pipe that nobody writes to must not be waited for.
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK | flags);
    if (file < 0) {
        return cannot_read(path, errno == ELOOP ? "it is a link to elsewhere" : std::strerror(errno));
    }
    struct stat status {};
    std::string why;
    if (::fstat(file, &status) != 0) {
        why = std::strerror(errno);
    } else if (!S_ISREG(status.st_mode)) {
        why = S_ISDIR(status.st_mode) ? std::strerror(EISDIR) : "it is no regular file";
    } else if (status.st_size > largest) {
        why = "it is larger than a gigabyte";
    }
    std::string content;
    content.resize(why.empty() ? static_cast<size_t>(status.st_size) : 0);
    size_t done = 0;
    while (why.empty() && done < content.size()) {
        const ssize_t read = ::read(file, content.data() + done, content.size() - done);
        if (read < 0 && errno != EINTR) {
            why = std::strerror(errno);
        } else if (read == 0) {
            content.resize(done); // it was made shorter meanwhile
        } else if (read > 0) {
            done += static_cast<size_t>(read);
        }
    }
    ::close(file);
    return why.empty() ? Result<std::string>(std::move(content)) : cannot_read(path, why);
}

} // namespace

Result<std::string> read_whole(const std::string& path) {
    return read_regular(path, 0);
}

Result<std::string> read_beside(const std::string& path) {
    return read_regular(path, O_NOFOLLOW);
}

TemporaryFolder::TemporaryFolder() {
    std::string pattern = (std::filesystem::temp_directory_path() / "kervo-XXXXXX").string();
    if (::mkdtemp(pattern.data()) == nullptr) {
        throw std::runtime_error("no temporary folder can be made");
    }
    path_ = pattern;
}

TemporaryFolder::~TemporaryFolder() {
    std::error_code ignored;
    std::filesystem::remove_all(path_, ignored);
}

} // namespace kervo::io
