// Where a finding is, told by a point of the model.
#pragma once

#include "base/finding.h"

#include <gp_Pnt.hxx>

namespace kervo::geom {

inline void add_place(Finding& finding, const gp_Pnt& p) {
    finding.places.push_back({p.X(), p.Y(), p.Z()});
}

} // namespace kervo::geom
