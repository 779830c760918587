// The journal: every change of a document, on the disk before the next one, so that a crash or a power cut loses
// nothing.
//
// One record a line: checksum, then JSON, numbered. The first record is the document as it is saved, and what its file
// held; each later one is either a JSON patch (RFC 6902) or a whole document, with the files that came with the change
// and the time. A torn line is what a crash or a full disk leaves; it is left out, and what follows counts again from
// the next record that is a whole document. A journal is complete in itself: recovery needs no other file.
#pragma once

#include "io/document/document_json.h"
#include "io/document/file_state.h"

#include <atomic>
#include <memory>

namespace kervo::io {

/// How far a document that is not saved is from the one that is.
struct Beyond {
    int changes = 1;
    std::string until = {}; ///< when the last was made; empty: now
};

class Journal {
public:
    Journal() = default;
    ~Journal();
    Journal(Journal&& other) noexcept;
    Journal& operator=(Journal&& other) noexcept;
    Journal(const Journal&) = delete;
    Journal& operator=(const Journal&) = delete;

    /// Starts a journal at `path`, replacing an old one in one move, once all of it is on the disk: the document as it
    /// is saved, then as it stands `now`. `file`: what its file holds. It is locked against other processes for as long
    /// as it is open. Finding: file.write.
    static Result<Journal> start(const std::string& path, const model::Document& saved, const model::Document& now,
                                 const std::optional<FileState>& file = {}, const Beyond& beyond = {});
    /// Writes what changed since the last record; nothing where nothing did. After a failure the next call makes good:
    /// by what has changed since the last whole record or, where the file is gone or can no longer be trusted, all
    /// anew. Finding: file.write.
    std::optional<Finding> append(const model::Document& document);
    /// Closes and deletes the journal: all is saved.
    void discard();
    [[nodiscard]] const std::string& path() const { return path_; }

private:
    std::optional<Finding> write_anew(const model::Document& now, const Beyond& beyond);
    std::optional<Finding> open_to_append();
    void flush();

    std::string path_;
    int file_ = -1;
    FileLock lock_;
    model::Document saved_;
    std::optional<FileState> saved_as_;
    Json last_;
    int number_ = 0; ///< of the next record
    std::vector<std::string> files_known_;
    bool torn_ = false; ///< a part of a record that failed is still in the file
    std::shared_ptr<std::atomic<bool>> lost_ = std::make_shared<std::atomic<bool>>(false); ///< not all reached the disk
};

struct Recovered {
    model::Document document;
    int changes = 0;                ///< since it was saved
    int skipped = 0;                ///< lines that were not
    std::string until;              ///< when the last change was made: "2026-11-29T14:05:09Z"; may be empty
    std::optional<FileState> saved; ///< what the document's file held
};

/// The last state that the journal holds; nullopt when there is no journal or not even its first record is whole.
/// `unreadable` becomes why, where there is one that cannot be read.
std::optional<Recovered> recover(const std::string& journal_path, std::optional<Finding>* unreadable = nullptr);

/// Whether a running process has this journal open.
bool journal_in_use(const std::string& journal_path);

/// Where the journal of a document at `path` lies: a hidden file beside it, or beside what it is a link to.
std::string journal_path_for(const std::string& document_path);

} // namespace kervo::io
