// What a face or an edge is called for people: by what made it where that says something, else by what it looks like.
#pragma once

#include "geom/measure/looks.h"
#include "model/names/names.h"

namespace kervo::model {

/// "upper face", "hole 3, wall"; else as `geom::in_words`. `name` may be null; sizes in `unit`.
std::string face_in_words(const FaceName* name, const geom::Look& look, const std::string& unit);

/// "front face and upper face, 120"; else as `geom::in_words`, with a face beside it that says something. `beside`
/// are the names of the faces at the edge.
std::string edge_in_words(const std::vector<std::string>& beside, const geom::Look& look, const std::string& unit);

} // namespace kervo::model
