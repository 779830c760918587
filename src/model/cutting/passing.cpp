#include "model/cutting/passing.h"

#include "geom/cut/unite.h"
#include "geom/kernel/copy.h"
#include "geom/measure/measure.h"
#include "model/sketching/place_of.h"
#include "model/sketching/sketch_plane.h"

#include <algorithm>
#include <cmath>

namespace kervo::model {

double height_over(const gp_Pnt& base, const gp_Vec& rise, const gp_Pln& plane) {
    const gp_Vec n(plane.Axis().Direction());
    return gp_Vec(base, plane.Location()).Dot(n) / rise.Dot(n);
}

namespace {

// Places spread over a loop.
std::vector<sketch::Point2> places_on(const geom::OutlineLoop& loop) {
    std::vector<sketch::Point2> places;
    for (const geom::OutlinePiece& piece : loop) {
        for (const double t : {0.0, 0.25, 0.5, 0.75}) {
            places.push_back(geom::place_on(piece, t));
        }
    }
    return places;
}

std::optional<geom::Level> level_at(const SweepEnd& at, const gp_Ax3& frame) {
    return at.oblique ? geom::level_of(*at.oblique, frame) : geom::Level{at.height, 0, 0};
}

double overshoot(const Passing& way, const gp_Pln& plane, const geom::OutlineLoop& loop, double height) {
    double most = 1;
    for (const auto& p : places_on(loop)) {
        most = std::max(most, std::fabs(height_over(in_space(way.frame, p), way.rise, plane) - height));
    }
    return 2 * most + 1; // arcs bulge beyond the sampled places by less than that
}

} // namespace

Result<SweptRegion> Passing::over(const std::vector<geom::OutlineLoop>& loops, const sketch::Point2& inside) const {
    const gp_Pnt base = in_space(frame, inside);
    const auto height = [&](const SweepEnd& at) {
        return at.oblique ? height_over(base, rise, *at.oblique) : at.height;
    };
    const double from = height(start);
    const double to = height(end);
    const double up = to > from ? 1 : -1;
    // An oblique end is cut from a prism that is long enough to pass it everywhere.
    const double first = start.oblique ? from - up * overshoot(*this, *start.oblique, loops.front(), from) : from;
    const double last = end.oblique ? to + up * overshoot(*this, *end.oblique, loops.front(), to) : to;
    std::optional<geom::StraightCutter> straight; // none where an end all but stands upright
    const auto low = level_at(up < 0 ? end : start, frame);
    const auto high = level_at(up < 0 ? start : end, frame);
    if (low && high && taper == 0 && end_shape.IsNull() && square) {
        straight = geom::StraightCutter{frame, loops, *low, *high};
    }
    if (straight && !start.oblique && !end.oblique) {
        return SweptRegion(key, std::move(*straight), up < 0);
    }
    Result<geom::ShapeWithRoles> swept = geom::ShapeWithRoles();
    if (!square) {
        swept = geom::make_oblique_prism(frame, loops, rise, first, last);
    } else if (taper == 0) {
        swept = geom::make_prism(frame, loops, first, last);
    } else {
        swept = geom::make_tapered_prism(frame, loops, first, last, taper);
    }
    if (swept && !end_shape.IsNull()) {
        swept = geom::end_at(*swept, end_shape);
    }
    if (!swept) {
        return swept.finding();
    }
    auto solid = std::move(*swept);
    const gp_Pnt keep = base.Translated(rise * ((from + to) / 2));
    for (const auto& [plane, role] : {std::pair(start.oblique, "start"), std::pair(end.oblique, "end")}) {
        if (!plane) {
            continue;
        }
        // The flat cap that falls away must not lend its name to anything.
        std::erase_if(solid.roles, [role = role](const geom::FaceRole& r) { return r.role == role; });
        auto trimmed = geom::trim_by_plane(solid, *plane, keep, role);
        if (!trimmed) {
            return trimmed.finding();
        }
        solid = *trimmed;
    }
    return SweptRegion(key, std::move(straight), up < 0, std::move(solid));
}

namespace {

// Two ways together are one solid.
Result<SweptRegion> swept_over(const std::vector<Passing>& passings, const std::vector<geom::OutlineLoop>& loops,
                               const sketch::Point2& inside) {
    auto ahead = passings.front().over(loops, inside);
    if (!ahead || passings.size() == 1) {
        return ahead;
    }
    const auto back = passings.back().over(loops, inside);
    if (!back) {
        return back;
    }
    Progress progress;
    const auto united = geom::unite({ahead->solid().shape, back->solid().shape}, {}, progress);
    if (!united) {
        return united.finding();
    }
    geom::ShapeWithRoles solid{united->shape, {}};
    const auto take_roles = [&](const SweptRegion& half, bool is_back) {
        for (const geom::FaceRole& role : half.solid().roles) {
            for (const geom::FaceOrigin& origin : united->origins) {
                if (origin.source.IsSame(role.face)) {
                    solid.roles.push_back({origin.result, !is_back             ? role.role
                                                          : role.role == "end" ? "start"
                                                                               : role.role + ".back"});
                }
            }
        }
    };
    take_roles(*back, true);
    take_roles(*ahead, false); // what both have is called after this one
    return SweptRegion(passings.front().key, std::move(solid));
}

// The same, with its far ends beyond these heights as well.
std::vector<Passing> lengthened(std::vector<Passing> passings, const FarEnds& far,
                                const std::pair<double, double>& heights) {
    const auto put = [&](SweepEnd& end, bool ahead) {
        end.height = ahead ? std::max(end.height, heights.second) : std::min(end.height, heights.first);
    };
    const bool ahead = passings.front().end.height > passings.front().start.height;
    if (far.end) {
        put(passings.front().end, ahead);
    }
    if (far.start) { // of two ways, the other one's end
        put(passings.size() > 1 ? passings.back().end : passings.front().start, !ahead);
    }
    return passings;
}

} // namespace

Result<SweptRegion> through(const std::vector<Passing>& passings, const Profile& region, const FarEnds& far) {
    auto made = swept_over(passings, region.loops, region.inside);
    if (!made) {
        return made;
    }
    made->with_profile = [passings, region, far](double scale) {
        const auto middle = geom::middle_of(region.loops);
        Profile larger = region;
        larger.loops = geom::scaled(region.loops, scale, middle);
        larger.inside = {middle[0] + (region.inside[0] - middle[0]) * scale,
                         middle[1] + (region.inside[1] - middle[1]) * scale};
        return through(passings, larger, far);
    };
    if (far.start || far.end) {
        made->beyond = [passings, region,
                        far](const gp_Trsf& move,
                             const std::vector<BodyPtr>& bodies) -> Result<std::optional<SweptRegion>> {
            const auto heights = heights_over(passings.front().frame, bodies, move.Inverted());
            auto longer = lengthened(passings, far, heights);
            const bool same = longer.front().start.height == passings.front().start.height &&
                              longer.front().end.height == passings.front().end.height &&
                              longer.back().end.height == passings.back().end.height;
            if (same) {
                return std::optional<SweptRegion>();
            }
            auto again = through(longer, region, far);
            return again ? Result<std::optional<SweptRegion>>(std::move(*again)) : again.finding();
        };
    }
    return made;
}

} // namespace kervo::model
