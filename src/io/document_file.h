// Documents on disk: *.kervo (a zip with document.json, the imported files and a preview) and bare document.json.
#pragma once

#include "io/document_json.h"

namespace kervo::io {

/// Opens either form, told by content. Imported files of a bare document lie beside it; a missing one does not keep the
/// document from opening, the step that needs it says so.
Result<model::Document> open_document(const std::string& path);

/// The document as it is written in either form.
Result<std::string> read_document_text(const std::string& path);

/// Saves atomically; a path that ends in .json gets the bare form, its imported files written beside it.
/// `preview`: bytes of a PNG, may be empty.
std::optional<Finding> save_document(const model::Document& document, const std::string& path,
                                     const std::string& preview = {});

/// An asset whose name is free in the document, and as much like the file's as may be.
model::AssetPtr new_asset(const model::Document& document, const std::string& file_name, std::string bytes);
/// The same of a file from outside. Finding: file.read.
Result<model::AssetPtr> load_asset(const model::Document& document, const std::string& path);

} // namespace kervo::io
