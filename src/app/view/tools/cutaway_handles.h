// What of a cutaway can be pulled in the model: where the knobs are, and what pulling one does.
#pragma once

#include "model/document/looking.h"

#include <functional>
#include <vector>

namespace kervo::app {

struct CutawayHandle {
    enum class Kind {
        move,  ///< along one direction, or freely in the picture
        size,  ///< along one direction
        rotate ///< about an axis
    };
    Kind kind = Kind::move;
    Point3 foot;   ///< where its stalk begins
    Point3 knob;   //
    Vector3 along; ///< of length 1: to be pulled; of no length: wherever the pointer goes
    /// What the cutaway is when the knob has been pulled by so many mm along that, or by that way.
    std::function<model::Cutaway(double mm, const Vector3& way)> pulled;
};

/// `arm`: how long stalks are in the model, mm; `step`: to which numbers are rounded, mm. Of planes and slabs the knobs
/// stand over the middle of the box.
std::vector<CutawayHandle> handles_of(const model::Cutaway& cutaway, const Box3& box, double arm, double step);

} // namespace kervo::app
