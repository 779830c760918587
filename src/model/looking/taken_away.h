// The part of space that a cutaway takes away, in plain numbers: for the graphics card, for picks, for handles.
#pragma once

#include "model/document/looking.h"

#include <functional>

namespace kervo::model {

/// All that lies in front of a plane, or on it.
struct HalfSpace {
    Point3 origin;
    Vector3 normal; ///< to what lies in it
    friend bool operator==(const HalfSpace&, const HalfSpace&) = default;
};
/// What lies in all of them.
using Wedge = std::vector<HalfSpace>;

/// Places of a line from one to another, in mm along it, ascending; apart from each other.
using Stretches = std::vector<std::array<double, 2>>;

/// The planes that bound a plane, slab or box cutaway, each looking out of what it spans: there its caps lie. None for
/// others.
std::vector<Frame3> planes_of(const Cutaway& cutaway);
/// What a cutaway by planes takes away: whatever lies in one of the wedges. None for cylinders and bodies.
std::vector<Wedge> wedges_of(const Cutaway& cutaway);

/// Whether planes bound each of them: triangles show at once what they take away.
bool by_planes_alone(const std::vector<Cutaway>& cutaways);

/// What is left of a line whose direction has length 1. `within`: where a line runs inside of the body that a cutaway
/// cuts with.
Stretches left_of(const std::vector<Cutaway>& cutaways, const Line3& line,
                  const std::function<Stretches(const BodyId&, const Line3&)>& within);

} // namespace kervo::model
