// From the kernel's points and directions to the numbers that documents and outputs hold.
#pragma once

#include "model/document/references.h"

#include <gp_Dir.hxx>
#include <gp_Pnt.hxx>

namespace kervo::model {

inline Place place_of(const gp_Pnt& p) {
    return {p.X(), p.Y(), p.Z()};
}
inline Place place_of(const gp_Dir& d) {
    return {d.X(), d.Y(), d.Z()};
}

} // namespace kervo::model
