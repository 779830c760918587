// What documents of earlier versions, or written by hand, say in another way.
#pragma once

#include "io/document/document_json.h"

namespace kervo::io {

/// Version 1 had a kind of its own for extrude cuts, and offset the ends at faces and vertices alone. `json` has steps.
void bring_from_version_1(Json& json);
/// A reference made by hand may say a body by its name.
void replace_body_names(model::Document& document);

} // namespace kervo::io
