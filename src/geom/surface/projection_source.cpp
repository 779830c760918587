#include "geom/surface/projection_source.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace kervo::geom {

namespace {

constexpr int samples = 64;

size_t index(int i) {
    return static_cast<size_t>(i);
}

} // namespace

ProjectedSource::ProjectedSource(const TopoDS_Edge& edge, const gp_Dir& along)
    : curve_(edge), along_(along), forward_(edge.Orientation() != TopAbs_REVERSED) {
    for (int i = 0; i <= samples; ++i) {
        places_.push_back(curve_.Value(parameter(static_cast<double>(i) / samples)));
    }
}

double ProjectedSource::parameter(double share) const {
    return curve_.FirstParameter() + share * (curve_.LastParameter() - curve_.FirstParameter());
}

gp_Vec ProjectedSource::way_on(double parameter) const {
    const gp_Vec way = curve_.DN(parameter, 1);
    return forward_ ? way : way.Reversed();
}

bool ProjectedSource::runs_along() const {
    return std::all_of(places_.begin(), places_.end(),
                       [this](const gp_Pnt& place) { return aside(places_.front(), place) < coincidence; });
}

double ProjectedSource::below(const gp_Pnt& place) const {
    double best = std::numeric_limits<double>::infinity();
    double found = curve_.FirstParameter();
    double nearest = std::numeric_limits<double>::infinity();
    double fallback = found;
    std::array<double, samples + 1> off_by{}; // mm^2
    for (int i = 0; i <= samples; ++i) {
        off_by[index(i)] = gp_Vec(places_[index(i)], place).CrossSquareMagnitude(along_);
    }
    for (int i = 0; i <= samples; ++i) {
        if ((i > 0 && off_by[index(i)] > off_by[index(i - 1)]) ||
            (i < samples && off_by[index(i)] > off_by[index(i + 1)])) {
            continue;
        }
        const double t = closest(place, parameter((i - 1.0) / samples), parameter((i + 1.0) / samples));
        const double off = aside(curve_.Value(t), place);
        const double far = gp_Vec(curve_.Value(t), place).Dot(along_);
        if (off < under_the_curve && far > -under_the_curve && far < best) {
            best = far;
            found = t;
        }
        if (off < nearest) {
            nearest = off;
            fallback = t;
        }
    }
    return std::isinf(best) ? fallback : found;
}

double ProjectedSource::aside(const gp_Pnt& one, const gp_Pnt& other) const {
    return gp_Vec(one, other).CrossMagnitude(along_);
}

// Newton's method from the middle; where it leaves the range or does not come to rest, from where golden section ends.
double ProjectedSource::closest(const gp_Pnt& place, double low, double high) const {
    low = std::max(low, curve_.FirstParameter());
    high = std::min(high, curve_.LastParameter());
    if (const auto t = at_rest(place, (low + high) / 2, low, high)) {
        return *t;
    }
    const std::array<double, 2> ends{low, high};
    const double share = (std::sqrt(5.0) - 1) / 2;
    double a = high - share * (high - low);
    double b = low + share * (high - low);
    for (int i = 0; i < 12; ++i) {
        if (aside(curve_.Value(a), place) < aside(curve_.Value(b), place)) {
            high = b;
            b = a;
            a = high - share * (high - low);
        } else {
            low = a;
            a = b;
            b = low + share * (high - low);
        }
    }
    const double t = (low + high) / 2;
    return at_rest(place, t, ends[0], ends[1]).value_or(t);
}

std::optional<double> ProjectedSource::at_rest(const gp_Pnt& place, double t, double low, double high) const {
    constexpr int most = 12;
    const double range = high - low;
    for (int i = 0; i < most; ++i) {
        gp_Pnt on;
        gp_Vec first;
        gp_Vec second;
        curve_.D2(t, on, first, second);
        const gp_Vec flat = level(gp_Vec(place, on));
        const double slope = flat.Dot(first);
        const double bend = level(first).SquareMagnitude() + flat.Dot(second);
        if (bend < 1e-30) { // no lowest place near here
            return std::nullopt;
        }
        const double next = std::clamp(t - slope / bend, low, high);
        const bool rests = std::fabs(next - t) <= 1e-14 * std::max(std::fabs(t), range);
        t = next;
        if (rests) {
            return t;
        }
    }
    return std::nullopt;
}

gp_Vec ProjectedSource::level(const gp_Vec& v) const {
    return v - along_ * v.Dot(along_);
}

ProjectionRays::ProjectionRays(const TopoDS_Shape& onto, const gp_Dir& along, HitOrder order)
    : along_(along), order_(order) {
    meets_.Load(onto, coincidence);
}

std::vector<ProjectionRays::Hit> ProjectionRays::from(const gp_Pnt& place) {
    meets_.Perform(gp_Lin(place, along_), -1e7, 1e7);
    std::vector<Hit> hits;
    for (int i = 1; i <= meets_.NbPnt(); ++i) {
        if (meets_.WParameter(i) > -same_hit) {
            hits.push_back({meets_.WParameter(i), meets_.Transition(i) == IntCurveSurface_Tangent});
        }
    }
    std::sort(hits.begin(), hits.end(), [](const Hit& a, const Hit& b) { return a.far < b.far; });
    hits.erase(
        std::unique(hits.begin(), hits.end(), [](const Hit& a, const Hit& b) { return b.far - a.far < same_hit; }),
        hits.end());
    if (order_ == HitOrder::far_to_near) {
        std::reverse(hits.begin(), hits.end());
    }
    return hits;
}

} // namespace kervo::geom
