// Where the numbers are small. Far from the origin the kernel misses where faces meet: what is to be fused there is
// brought near the origin and back.
#pragma once

#include "geom/kernel/shape.h"

#include <TopLoc_Location.hxx>

namespace kervo::geom {

class NearOrigin {
public:
    NearOrigin() = default;
    /// For all of these together; where they are near enough, nothing is moved.
    explicit NearOrigin(const std::vector<TopoDS_Shape>& shapes);
    /// The same shape there; one that has not changed meanwhile comes back as the very same.
    [[nodiscard]] TopoDS_Shape bring(const TopoDS_Shape& shape) const { return shape.Moved(place_); }
    [[nodiscard]] TopoDS_Shape take_back(const TopoDS_Shape& shape) const { return shape.Moved(back_); }
    /// From where things are to there.
    [[nodiscard]] gp_Trsf way() const { return place_.Transformation(); }

private:
    TopLoc_Location place_, back_;
};

} // namespace kervo::geom
