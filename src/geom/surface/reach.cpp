#include "geom/surface/reach.h"

#include "geom/measure/pick.h"

#include <BRepClass3d_SolidClassifier.hxx>
#include <gp_Lin.hxx>

#include <algorithm>
#include <array>
#include <cmath>

namespace kervo::geom {

namespace {

class Ways {
public:
    Ways(const BorderSide& side, const TopoDS_Shape& solid) : side_(side), solid_(solid), within_(solid) {}

    /// How far it is from there straight out of the solid; -1 where the place is not inside of it.
    double out_of(double t) {
        const auto place = side_.place(t);
        if (!place) {
            return -1;
        }
        within_.Perform(place->at, coincidence);
        if (within_.State() != TopAbs_IN) {
            return -1;
        }
        for (const RayHit& hit : hits_along(solid_, gp_Lin(place->at, gp_Dir(place->off)))) {
            if (hit.at > coincidence && hit.leaves) {
                return hit.at;
            }
        }
        return -1;
    }

    /// The most between two parameters of which `best` is known.
    std::pair<double, double> largest(double low, double high, std::pair<double, double> best) {
        const double ratio = (std::sqrt(5.0) - 1) / 2;
        std::array<double, 2> at{high - ratio * (high - low), low + ratio * (high - low)};
        std::array<double, 2> far{out_of(at[0]), out_of(at[1])};
        for (int i = 0; i < 60 && high - low > 1e-12 * (side_.last() - side_.first()); ++i) {
            for (const size_t k : {0U, 1U}) {
                best = std::max(best, {far[k], at[k]});
            }
            if (far[0] > far[1]) {
                high = at[1];
                at = {high - ratio * (high - low), at[0]};
                far = {out_of(at[0]), far[0]};
            } else {
                low = at[0];
                at = {at[1], low + ratio * (high - low)};
                far = {far[1], out_of(at[1])};
            }
        }
        return best;
    }

private:
    const BorderSide& side_;
    const TopoDS_Shape& solid_;
    BRepClass3d_SolidClassifier within_;
};

} // namespace

std::vector<ShortBorder> short_borders(const TopoDS_Shape& surface, const TopoDS_Shape& solid) {
    constexpr int places = 24;
    std::vector<ShortBorder> all;
    for (const BorderSide& side : border_sides(surface)) {
        Ways ways(side, solid);
        const double step = (side.last() - side.first()) / places;
        std::pair<double, double> best{-1, 0}; // how far, and where on the edge
        for (int i = 0; i <= places; ++i) {
            const double t = side.first() + i * step;
            best = std::max(best, {ways.out_of(t), t});
        }
        if (best.first < 0) {
            continue;
        }
        best =
            ways.largest(std::max(side.first(), best.second - step), std::min(side.last(), best.second + step), best);
        all.push_back({side.edge, best.first, side.place(best.second)->at});
    }
    return all;
}

} // namespace kervo::geom
