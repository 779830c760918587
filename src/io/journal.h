// The journal: every change of a document, on the disk before the next one, so that a crash or a power cut loses
// nothing.
//
// One record a line: checksum, then JSON. The first record is the whole document; each later one is a JSON patch (RFC
// 6902) and the files that came with the change. A torn line is what a crash or a full disk leaves; it is left out, and
// what follows counts again from the next record that is a whole document: after a write that failed, that is the next
// one. A journal is complete in itself: recovery needs no other file.
#pragma once

#include "io/document_json.h"

namespace kervo::io {

class Journal {
public:
    Journal() = default;
    ~Journal();
    Journal(Journal&& other) noexcept;
    Journal& operator=(Journal&& other) noexcept;
    Journal(const Journal&) = delete;
    Journal& operator=(const Journal&) = delete;

    /// Starts a journal at `path` from this document, replacing an old one in one move. It is locked against other
    /// processes for as long as it is open.
    static Result<Journal> start(const std::string& path, const model::Document& document);
    /// Writes what changed since the last record and flushes it; nothing where nothing did. Finding: file.write.
    std::optional<Finding> append(const model::Document& document);
    /// Closes and deletes the journal: all is saved.
    void discard();
    [[nodiscard]] const std::string& path() const { return path_; }

private:
    std::string path_;
    int file_ = -1;
    Json last_;
    std::vector<std::string> files_known_;
    bool torn_ = false; ///< a part of a record that failed is still in the file
};

struct Recovered {
    model::Document document;
    int changes = 0; ///< records after the first that were found whole
};

/// The last state that the journal holds; nullopt when there is no journal or not even its first record is whole.
std::optional<Recovered> recover(const std::string& journal_path);

/// Whether a running process has this journal open.
bool journal_in_use(const std::string& journal_path);

/// Where the journal of a document at `path` lies: a hidden file beside it.
std::string journal_path_for(const std::string& document_path);

} // namespace kervo::io
