// What is drawn in a sketch, as JSON.
#pragma once

#include "sketch/figures.h"

#include <nlohmann/json.hpp>

namespace kervo::io {

nlohmann::json sketch_to_json(const sketch::Sketch& drawing);
/// Throws std::invalid_argument or a JSON exception where the text makes no sketch.
sketch::Sketch sketch_from_json(const nlohmann::json& json);

nlohmann::json artwork_to_json(const sketch::Artwork& artwork);
sketch::Artwork artwork_from_json(const nlohmann::json& json);

} // namespace kervo::io
