// The published JSON schema of the document, and the reference page of the steps: both made from the field lists.
#pragma once

#include "io/document/document_json.h"

namespace kervo::io {

/// JSON Schema, draft 7.
Json document_schema();
/// Findings file.schema, one for each place where `document` breaks the schema.
Findings check_schema(const Json& document);
/// docs/steps.md.
std::string steps_reference();

} // namespace kervo::io
