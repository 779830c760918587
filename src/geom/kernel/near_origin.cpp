#include "geom/kernel/near_origin.h"

#include "geom/measure/measure.h"

#include <Bnd_Box.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {
constexpr double far_away = 1e4; // mm
} // namespace

NearOrigin::NearOrigin(const std::vector<TopoDS_Shape>& shapes) {
    Bnd_Box box;
    for (const TopoDS_Shape& shape : shapes) {
        const Bnd_Box own = bounds_of(shape);
        if (!own.IsOpen()) { // what has no end is as near as what has
            box.Add(own);
        }
    }
    if (box.IsVoid()) {
        return;
    }
    const gp_XYZ middle = (box.CornerMin().XYZ() + box.CornerMax().XYZ()) / 2;
    const double reach = box.CornerMin().Distance(box.CornerMax());
    if (middle.Modulus() < std::max(far_away, 2 * reach)) {
        return;
    }
    gp_Trsf move;
    move.SetTranslation(gp_Vec(-std::round(middle.X()), -std::round(middle.Y()), -std::round(middle.Z())));
    place_ = TopLoc_Location(move);
    back_ = place_.Inverted();
}

} // namespace kervo::geom
