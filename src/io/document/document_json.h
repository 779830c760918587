// The document as JSON: stable order, one field a line, every answer from the step's field list.
#pragma once

#include "model/document/document.h"

#include <nlohmann/json.hpp>

namespace kervo::io {

using Json = nlohmann::ordered_json;

/// The version that this program writes, and the newest it reads. 2: extrude and extrude cut are one kind of step.
inline constexpr int format_version = 2;

Json to_json(const model::Document& document);
/// Pretty text, ends with a line feed.
std::string to_text(const model::Document& document);

/// Findings: file.json (not JSON; says where), file.format (not a Kervo document), file.newer (a newer version),
/// file.content (an answer that makes no sense; says which). Assets come out as missing: their bytes are not in the
/// JSON.
Result<model::Document> document_from_json(const Json& json);
Result<model::Document> document_from_text(const std::string& text);

} // namespace kervo::io
