#include "io/safe_file.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <stdexcept>
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
    ::close(file);
    return done;
}

} // namespace

std::optional<Finding> write_atomically(const std::string& path,
                                        const std::function<std::optional<Finding>(const std::string&)>& write) {
    const std::string fresh = path + ".new-" + std::to_string(::getpid());
    if (auto problem = write(fresh)) {
        ::unlink(fresh.c_str());
        return problem;
    }
    if (!flush_to_disk(fresh, O_RDWR) || ::rename(fresh.c_str(), path.c_str()) != 0) {
        const int error = errno;
        ::unlink(fresh.c_str());
        return cannot_write(path, error);
    }
    const auto folder = std::filesystem::path(path).parent_path();
    flush_to_disk(folder.empty() ? "." : folder.string(), O_RDONLY | O_DIRECTORY);
    return std::nullopt;
}

std::optional<Finding> write_text_atomically(const std::string& path, const std::string& text) {
    return write_atomically(path, [&](const std::string& fresh) -> std::optional<Finding> {
        std::ofstream out(fresh, std::ios::binary);
        out << text;
        out.close();
        return out ? std::nullopt : std::optional<Finding>(cannot_write(path, errno));
    });
}

Result<std::string> read_whole(const std::string& path) {
    std::ifstream in(path, std::ios::binary);
    std::ostringstream content;
    content << in.rdbuf();
    if (!in || std::filesystem::is_directory(path)) {
        return error_finding(
            "file.read", "\u201c" + path + "\u201d cannot be read: " + std::strerror(errno == 0 ? ENOENT : errno) + ".",
            "Choose another file.");
    }
    return content.str();
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
