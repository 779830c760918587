#include "model/swept_region.h"

#include "geom/copy.h"
#include "geom/measure.h"

#include <algorithm>
#include <cmath>

namespace kervo::model {

SweptRegion::SweptRegion(std::string region, geom::ShapeWithRoles solid)
    : SweptRegion(std::move(region), std::nullopt, false, std::move(solid)) {}

SweptRegion::SweptRegion(std::string region, geom::StraightCutter cutter, bool turned_over)
    : key(std::move(region)), straight(std::move(cutter)), down(turned_over), built_(std::make_shared<Built>()) {}

SweptRegion::SweptRegion(std::string region, std::optional<geom::StraightCutter> cutter, bool turned_over,
                         geom::ShapeWithRoles solid)
    : key(std::move(region)), straight(std::move(cutter)), down(turned_over), built_(std::make_shared<Built>()) {
    std::call_once(built_->once, [&] { built_->solid = std::move(solid); });
}

const geom::ShapeWithRoles& SweptRegion::solid() const {
    std::call_once(built_->once, [this] {
        const auto& [frame, loops, low, high] = *straight;
        built_->solid = down ? geom::make_prism(frame, loops, high.height, low.height)
                             : geom::make_prism(frame, loops, low.height, high.height);
    });
    return built_->solid;
}

bool SweptRegion::is_blade() const {
    if (straight) {
        return false;
    }
    const auto& roles = solid().roles;
    return std::any_of(roles.begin(), roles.end(), [](const auto& role) { return role.role.starts_with("blade"); });
}

SweptRegion SweptRegion::copied(const gp_Trsf& move, double scale, const std::string& copy) const {
    const std::string name = key + "@" + copy;
    const bool turns = move.IsNegative(); // mirrored
    if (straight && !turns && straight->low.flat() && straight->high.flat()) {
        geom::StraightCutter there = *straight;
        there.frame.Transform(move);
        if (scale != 1) {
            there.loops = geom::scaled(there.loops, scale);
        }
        for (auto& loop : there.loops) {
            for (auto& piece : loop) {
                piece.curve += "@" + copy;
            }
        }
        return {name, std::move(there), down};
    }
    geom::ShapeWithRoles there = solid();
    if (scale != 1) {
        gp_Trsf grow;
        grow.SetScale(geom::centroid_of(there.shape), scale);
        there = geom::transformed(there, grow);
    }
    there = geom::transformed(there, move);
    for (auto& role : there.roles) {
        role.role += "@" + copy;
    }
    return {name, std::move(there)};
}

} // namespace kervo::model
