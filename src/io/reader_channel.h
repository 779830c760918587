// What Kervo and its reader of strangers' files share: files that have no name and lie in memory alone, so that nothing
// is left behind when either of them ends, however it ends.
#pragma once

#include "base/finding.h"

#include <atomic>
#include <cstdint>
#include <string>

namespace kervo::io {

/// The reader finds these open, and nothing else.
enum ReaderFile { reader_input = 3, reader_list = 4, reader_bodies = 5, reader_headway = 6 };

/// How far the reader is, in memory that both of them see. A count that stands still is a reader that hangs.
struct Headway {
    std::atomic<std::uint32_t> count{0};
    std::atomic<std::uint32_t> permille{0};
};

/// A file in memory.
class MemoryFile {
public:
    MemoryFile();
    ~MemoryFile();
    MemoryFile(const MemoryFile&) = delete;
    MemoryFile& operator=(const MemoryFile&) = delete;
    [[nodiscard]] int descriptor() const { return file_; }

private:
    int file_ = -1; ///< -1 where the system refuses; above those of `ReaderFile`
};

/// All of `bytes` from the start of the file. False where that fails.
bool write_all(int file, const std::string& bytes);
/// All that is in it, from its start. Findings: file.read, file.too_large above `most` bytes.
Result<std::string> read_all(int file, size_t most);
/// Null where that fails; stays until the process ends or `forget_headway`.
Headway* share_headway(int file);
void forget_headway(Headway* headway);

} // namespace kervo::io
