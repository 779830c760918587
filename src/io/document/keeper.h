// Keeps the document that is worked on: its file, held against others and watched, and its journal. At no moment is
// there less on the disk than what was accepted: the old journal goes when the new one, or the file, is whole.
#pragma once

#include "io/document/document_file.h"
#include "io/document/journal.h"

namespace kervo::io {

class Keeper {
public:
    struct Opened {
        model::Document saved;            ///< what the file holds
        std::optional<Recovered> unsaved; ///< what its journal holds beyond that
        bool changed_outside = false;     ///< the file is not the one that the journal goes on from
    };
    /// Takes the document at `path` instead of what was kept before. A document that cannot be read is opened from its
    /// journal; a journal that makes no sense, or may not be read, is put aside. Findings: file.read (also of the
    /// journal), file.json, file.zip, file.newer, file.in_use; what was kept before stays then.
    Result<Opened> open(const std::string& path);

    /// Keeps a document without a file, with a journal in `folder`.
    void start_untitled(const std::string& folder);
    /// Keeps, as one without a file, the newest document that a crash left in `folder`; nothing where there is none.
    std::optional<Recovered> bring_back(const std::string& folder);

    /// Puts the document, as it stands, on the disk. Where that fails, `trouble` says why, until a later call succeeds.
    void record(const model::Document& now);
    [[nodiscard]] const std::optional<Finding>& trouble() const { return trouble_; }

    enum class Others { stay, are_replaced };
    /// Saves at `path`, which is the document's place from then on. Others::stay: what another program has written
    /// there since it was read or saved. Findings: those of `save_document`.
    std::optional<Finding> save(const model::Document& document, const std::string& path, const std::string& preview,
                                Others others);
    /// Whether the file holds something else than when it was read or saved; not when it is gone. Reads it, if it looks
    /// otherwise than when this was asked last.
    [[nodiscard]] bool changed_outside();
    /// What the other program has written is known, and may be replaced.
    void accept_outside() { saved_as_ = state_of(path_); }

    /// Whether the journal stays on the disk when this document is left: what it holds is not decided upon.
    void let_journal_stay(bool stays) { stays_ = stays; }
    /// All is saved, or meant to be gone.
    void leave();
    [[nodiscard]] const std::string& path() const { return path_; }

private:
    void drop_journal();
    void start_journal(const std::string& place, const model::Document& now, const Beyond& beyond = {});

    std::string path_;  ///< empty: untitled
    std::string place_; ///< of the journal
    FileLock lock_;
    model::Document saved_;
    std::optional<FileState> saved_as_;
    std::optional<Journal> journal_;
    std::optional<Finding> trouble_;
    bool stays_ = false;
    bool outdated_ = false; ///< the journal goes on from something else than the file
    std::string looked_;    ///< what the file looked like when it was last read: size and times
    bool differs_ = false;
};

} // namespace kervo::io
