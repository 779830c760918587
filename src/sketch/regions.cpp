// Regions found again, and their outlines for the geometry.
#include "sketch/arrangement.h"

#include <algorithm>

namespace kervo::sketch {

bool Region::contains(const Point2& p) const {
    int total = 0;
    for (const auto& loop : loops) {
        total += winding(loop, p);
    }
    return total > 0;
}

namespace {

int nearest_of(const std::vector<int>& candidates, const std::vector<Region>& regions, const Point2& near) {
    if (candidates.size() == 1) {
        return candidates.front();
    }
    int best = -1;
    double least = 0;
    for (const int candidate : candidates) {
        const Region& region = regions[static_cast<size_t>(candidate)];
        const double d = region.contains(near) ? -1 : distance(region.inside, near);
        if (best < 0 || d < least) {
            best = candidate;
            least = d;
        }
    }
    return best;
}

std::string joined(const std::vector<std::string>& bounds) {
    std::string text;
    for (const std::string& bound : bounds) {
        text += bound;
        text += '\n';
    }
    return text;
}

} // namespace

FoundRegion find_again(const RegionReference& reference, const std::vector<Region>& regions) {
    return RegionFinder(regions).find_again(reference);
}

RegionFinder::RegionFinder(const std::vector<Region>& regions) : regions_(regions) {
    for (size_t i = 0; i < regions.size(); ++i) {
        with_bounds_[joined(regions[i].bounds)].push_back(static_cast<int>(i));
    }
}

FoundRegion RegionFinder::find_again(const RegionReference& reference) const {
    const std::vector<Region>& regions = regions_;
    if (!reference.bounds.empty()) {
        if (const auto same = with_bounds_.find(joined(reference.bounds)); same != with_bounds_.end()) {
            return {nearest_of(same->second, regions, reference.near), same->second.size() == 1};
        }
    }
    std::vector<int> around;
    for (size_t i = 0; i < regions.size(); ++i) {
        if (regions[i].contains(reference.near)) {
            around.push_back(static_cast<int>(i));
        }
    }
    if (reference.bounds.empty()) {
        return around.empty() ? FoundRegion{} : FoundRegion{around.front(), true};
    }
    FoundRegion best;
    size_t most = 0;
    for (const int candidate : around) {
        const auto& bounds = regions[static_cast<size_t>(candidate)].bounds;
        const auto shared =
            static_cast<size_t>(std::count_if(bounds.begin(), bounds.end(), [&](const std::string& bound) {
                return bound != twin_mark &&
                       std::find(reference.bounds.begin(), reference.bounds.end(), bound) != reference.bounds.end();
            }));
        if (shared > most) {
            most = shared;
            best.index = candidate;
        }
    }
    return best;
}

namespace {

geom::OutlinePiece piece_of(const Stretch& s, int start_vertex, int end_vertex) {
    geom::OutlinePiece piece;
    piece.start = s.start;
    piece.end = s.end;
    piece.center = s.center;
    piece.radius = s.round() ? s.radius : 0;
    piece.from = s.from;
    piece.sweep = s.sweep;
    piece.curve = s.label();
    piece.start_vertex = start_vertex;
    piece.end_vertex = end_vertex;
    if (s.kind == StretchKind::ellipse) {
        piece.axis = s.axis;
        piece.other_half = s.radius;
    } else if (s.kind == StretchKind::spline) {
        const Spline part = s.spline->segment(std::min(s.from, s.from + s.sweep), std::max(s.from, s.from + s.sweep));
        piece.degree = part.degree;
        piece.poles = part.poles;
        piece.knots = part.knots;
    }
    return piece;
}

} // namespace

std::vector<geom::OutlineLoop> outline_of(const Region& region) {
    std::vector<geom::OutlineLoop> loops;
    for (size_t l = 0; l < region.loops.size(); ++l) {
        geom::OutlineLoop loop;
        const auto& vertices = region.vertices[l];
        for (size_t i = 0; i < region.loops[l].size(); ++i) {
            loop.push_back(piece_of(region.loops[l][i], vertices[i], vertices[(i + 1) % vertices.size()]));
        }
        loops.push_back(std::move(loop));
    }
    return loops;
}

std::vector<geom::OutlinePiece> pieces_of(const std::vector<Stretch>& stretches) {
    std::vector<Point2> places;
    const auto vertex_at = [&](const Point2& place) {
        const auto known = std::find_if(places.begin(), places.end(),
                                        [&](const Point2& p) { return distance(p, place) <= joining_tolerance; });
        if (known != places.end()) {
            return static_cast<int>(known - places.begin());
        }
        places.push_back(place);
        return static_cast<int>(places.size()) - 1;
    };
    std::vector<geom::OutlinePiece> pieces;
    for (const Stretch& stretch : stretches) {
        const int start = vertex_at(stretch.at(0));
        pieces.push_back(piece_of(stretch, start, vertex_at(stretch.at(1))));
    }
    return pieces;
}

} // namespace kervo::sketch
