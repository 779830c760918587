// A process of its own for work that may crash, never end, or be led astray by a stranger's file. It is given files
// that have no name and lie in memory alone, so that nothing is left behind when either side ends, however it ends.
#pragma once

#include "base/finding.h"
#include "base/progress.h"

#include <array>
#include <atomic>
#include <cstdint>
#include <string>

namespace kervo {

/// The helper finds these open, and nothing else.
enum HelperFile { helper_input = 3, helper_output = 4, helper_more_output = 5, helper_headway = 6 };

/// How far the helper is, in memory that both sides see. A count that stands still is a helper that hangs.
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
    int file_ = -1; ///< -1 where the system refuses; above those of `HelperFile`
};

/// All of `bytes` from the start of the file. False where that fails.
bool write_all(int file, const std::string& bytes);
/// All that is in it, from its start. Findings: file.read, file.too_large above `most` bytes.
Result<std::string> read_all(int file, size_t most);
/// Null where that fails; stays until the process ends or `forget_headway`.
Headway* share_headway(int file);
void forget_headway(Headway* headway);

struct HelperLimits {
    double still = 60;              ///< seconds without any headway
    double processor = 7200;        ///< seconds of processor time
    unsigned long megabytes = 4096; ///< of address space
    std::string program = {};       ///< path; empty: kervo-reader beside the running program
    bool same_memory = false; ///< it finds its memory where it was the last time, if the system can do that; for what
                              ///< depends on the order of addresses, and must come out the same again
};

/// Runs kervo-reader once. What it is given stands in its input, what it leaves in its outputs.
class Helper {
public:
    Helper() : how_far_(share_headway(headway_.descriptor())) {}
    ~Helper() { forget_headway(how_far_); }
    Helper(const Helper&) = delete;
    Helper& operator=(const Helper&) = delete;

    enum class End {
        done,
        refused,   ///< exit code 1: the output says why
        crashed,   ///< ended in any other way, or could not be given its input
        too_long,  ///< beyond its limits of time
        cancelled, ///< Stop was heard
        missing    ///< there is no such program
    };
    /// Blocks. Tells `progress` how far it is, and asks it for cancelling. It ends with this process, if not before.
    End run(const std::string& task, const std::string& input, const HelperLimits& limits, Progress& progress);
    [[nodiscard]] Result<std::string> output(size_t most) const { return read_all(output_.descriptor(), most); }
    [[nodiscard]] Result<std::string> more_output(size_t most) const { return read_all(more_.descriptor(), most); }

private:
    MemoryFile input_, output_, more_, headway_;
    Headway* how_far_;
};

} // namespace kervo
