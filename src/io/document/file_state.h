// What a file holds, and who works on it.
#pragma once

#include "base/finding.h"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace kervo::io {

/// 64-bit FNV-1a (Fowler, Noll, Vo): tells contents apart that were not made to be alike.
std::uint64_t content_hash(std::string_view bytes);

/// What a file held when it was last seen: size and content, since times tell little (copies and version control set
/// them as they like).
struct FileState {
    std::uint64_t size = 0; ///< bytes
    std::uint64_t hash = 0;
    static FileState of(std::string_view bytes) { return {bytes.size(), content_hash(bytes)}; }
    friend bool operator==(const FileState&, const FileState&) = default;
};
/// Nothing where there is no such file, or none that can be read.
std::optional<FileState> state_of(const std::string& path);

/// Whether the open file is the one that the name leads to now.
bool is_file_at(int file, const std::string& path);

/// Holds a file against other processes for as long as it lives, whatever names lead to the file, and across users
/// where the file system can (flock(2)). Replacing the file hands the hold on: see `write_atomically`.
class FileLock {
public:
    FileLock() = default;
    ~FileLock();
    FileLock(FileLock&& other) noexcept;
    FileLock& operator=(FileLock&& other) noexcept;
    FileLock(const FileLock&) = delete;
    FileLock& operator=(const FileLock&) = delete;

    /// In one atomic call. Holds nothing where there is no such file, or no lock to be had on its file system.
    /// Finding: file.in_use.
    static Result<FileLock> take(const std::string& path);
    [[nodiscard]] bool holds(const std::string& path) const;
    [[nodiscard]] bool empty() const { return file_ < 0; }

private:
    int file_ = -1;
};

} // namespace kervo::io
