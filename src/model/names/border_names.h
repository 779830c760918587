// What the free borders of surfaces are called: a face has several, and nothing beyond them but what was there once.
//
// The name of a border is "|" and the origin of what it parted the face from: the end that was left off ("|10:end"),
// the neighbour of a copied face, the face that cut, the curve of a region ("|10:side/c4"). It stands among the faces
// of an edge like that of a second face, and does not change with sizes.
#pragma once

#include "model/names/names.h"

namespace kervo::model {

FaceName border_towards(const std::string& origin);
/// Whether a text among the faces or ends of an element is the name of a border.
bool is_border_name(const std::string& text);

/// Of a vertex at which a curve that bounds no face begins or ends, by the name of the curve.
inline std::string name_at_start(const std::string& curve) {
    return curve + ">";
}
inline std::string name_at_end(const std::string& curve) {
    return ">" + curve;
}

/// Names the free borders of a surface that have no name yet: as the border among `inputs` that they are a part of, or
/// that is a part of them; else after the face among `inputs` that they bound as well, or lie on. What nothing is known
/// of stays without. `inputs` may hold borders of their own, wherever these lie.
void name_borders(Body& body, const FaceNames& inputs);

} // namespace kervo::model
