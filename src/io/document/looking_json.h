// How a document is looked into, as JSON: bodies' looks, cutaways, materials, views.
#pragma once

#include "model/document/document.h"

#include <nlohmann/json.hpp>

namespace kervo::io {

/// Into the document's appearance, cutaways, materials and views. Throws std::invalid_argument or a JSON exception
/// where the text says something that there is not.
void read_looking(const nlohmann::ordered_json& json, model::Document& document);
void write_looking(const model::Document& document, nlohmann::ordered_json& json);
/// The schemas of these keys of a document, by key.
nlohmann::ordered_json looking_schemas();

} // namespace kervo::io
