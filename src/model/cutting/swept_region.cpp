#include "model/cutting/swept_region.h"

#include "geom/kernel/copy.h"
#include "geom/kernel/is_curves.h"
#include "geom/measure/measure.h"

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

bool SweptRegion::is_surface() const {
    return !straight && geom::solids_of(solid().shape).empty() && !is_curves();
}

bool SweptRegion::is_curves() const {
    return !straight && geom::is_curves(solid().shape);
}

Result<SweptRegion> SweptRegion::copied(const gp_Trsf& move, double scale, const std::string& copy) const {
    if (scale != 1 && with_profile) {
        const auto resized = with_profile(scale);
        return resized ? resized->copied(move, 1, copy) : resized;
    }
    const std::string name = key + "@" + copy;
    const bool turns = move.IsNegative(); // mirrored
    const auto there = [&]() -> SweptRegion {
        if (scale == 1 && straight && !turns && straight->low.flat() && straight->high.flat()) {
            geom::StraightCutter elsewhere = *straight;
            elsewhere.frame.Transform(move);
            for (auto& loop : elsewhere.loops) {
                for (auto& piece : loop) {
                    piece.curve += "@" + copy;
                }
            }
            return {name, std::move(elsewhere), down};
        }
        geom::ShapeWithRoles elsewhere = solid();
        if (scale != 1) {
            gp_Trsf grow;
            grow.SetScale(geom::centroid_of(elsewhere.shape), scale);
            elsewhere = geom::transformed(elsewhere, grow);
        }
        elsewhere = geom::transformed(elsewhere, move);
        for (auto& role : elsewhere.roles) {
            role.role += "@" + copy;
        }
        return {name, std::move(elsewhere)};
    };
    SweptRegion copied = there();
    if (with_profile) { // a copy of the copy may have another size again
        copied.with_profile = [from = *this, move, copy](double more) -> Result<SweptRegion> {
            const auto resized = from.with_profile(more);
            return resized ? resized->copied(move, 1, copy) : resized;
        };
    }
    if (beyond) {
        copied.beyond = [from = *this, move,
                         copy](const gp_Trsf& more,
                               const std::vector<BodyPtr>& bodies) -> Result<std::optional<SweptRegion>> {
            const auto longer = from.beyond(more * move, bodies);
            if (!longer || !*longer) {
                return longer;
            }
            auto elsewhere = (*longer)->copied(move, 1, copy);
            return elsewhere ? Result<std::optional<SweptRegion>>(std::move(*elsewhere)) : elsewhere.finding();
        };
    }
    return copied;
}

Result<SweptRegion> SweptRegion::copied_through(const gp_Trsf& move, double scale, const std::string& copy,
                                                const std::vector<BodyPtr>& bodies) const {
    const auto longer = beyond ? beyond(move, bodies) : Result<std::optional<SweptRegion>>(std::nullopt);
    if (!longer) {
        return longer.finding();
    }
    return (*longer ? **longer : *this).copied(move, scale, copy);
}

} // namespace kervo::model
