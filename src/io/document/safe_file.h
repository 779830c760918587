// Files that are either written whole or not at all.
#pragma once

#include "base/finding.h"
#include "io/document/file_state.h"

#include <functional>
#include <optional>
#include <string>

namespace kervo::io {

enum class Readers { as_usual, only_the_owner };
struct Replacing {
    Readers readers = Readers::as_usual; ///< of a file that was not there; an older one's rights stay otherwise
    FileLock* lock = nullptr;            ///< will hold the new file, from before it can be seen
};

/// Lets `write` make a new file beside `path`, flushes it to the disk and puts it in the place of `path` in one move.
/// `write` gets the path of the new file and tells what went wrong, if anything. Finding: file.write, with the reason.
std::optional<Finding> write_atomically(const std::string& path,
                                        const std::function<std::optional<Finding>(const std::string&)>& write,
                                        const Replacing& how = {});
std::optional<Finding> write_text_atomically(const std::string& path, const std::string& text,
                                             const Replacing& how = {});

/// A regular file of at most a gigabyte. Finding: file.read, also for folders, devices and pipes.
Result<std::string> read_whole(const std::string& path);
/// The same of a file that a document names beside itself: one that is a link to elsewhere is not followed.
Result<std::string> read_beside(const std::string& path);

/// A fresh folder that is removed with all that is in it.
class TemporaryFolder {
public:
    TemporaryFolder();
    ~TemporaryFolder();
    TemporaryFolder(const TemporaryFolder&) = delete;
    TemporaryFolder& operator=(const TemporaryFolder&) = delete;
    [[nodiscard]] std::string file(const std::string& name) const { return path_ + "/" + name; }

private:
    std::string path_;
};

} // namespace kervo::io
