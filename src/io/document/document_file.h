// Documents on disk: *.kervo (a zip with document.json, the imported files and a preview) and bare document.json.
#pragma once

#include "io/document/document_json.h"
#include "io/document/file_state.h"

namespace kervo::io {

struct OpenedFile {
    model::Document document;
    FileState state; ///< of the file
};

/// Opens either form, told by content. Imported files of a bare document lie beside it; a missing one does not keep the
/// document from opening, the step that needs it says so.
Result<OpenedFile> open_file(const std::string& path);
/// The document alone.
Result<model::Document> open_document(const std::string& path);

/// The document as it is written in either form.
Result<std::string> read_document_text(const std::string& path);

struct Saving {
    std::string preview = {};                  ///< bytes of a PNG, may be empty
    FileLock* lock = nullptr;                  ///< holds the file, and will hold the new one
    std::optional<FileState> expected = {};    ///< what the file should hold that is replaced; nothing: whatever it is
    std::optional<FileState>* saved = nullptr; ///< becomes what is written
};

/// Saves atomically; a path that ends in .json gets the bare form, its imported files written beside it. Findings:
/// file.write, file.taken, file.in_use (a window has it open), file.changed (it is there and not as expected).
std::optional<Finding> save_document(const model::Document& document, const std::string& path,
                                     const Saving& saving = {});

/// An asset whose name is free in the document, and as much like the file's as may be.
model::AssetPtr new_asset(const model::Document& document, const std::string& file_name, std::string bytes);
/// The same of a file from outside. Finding: file.read.
Result<model::AssetPtr> load_asset(const model::Document& document, const std::string& path);

} // namespace kervo::io
