#include "io/formats/outline_joins.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace kervo::io {

using sketch::Point2;
using sketch::Stretch;

namespace {

constexpr double gap = 1e-5; // mm

struct End {
    Stretch* stretch;
    bool start;

    [[nodiscard]] Point2 place() const { return start ? stretch->at(0) : stretch->at(1); }
    [[nodiscard]] bool can_move() const { return stretch->kind == sketch::StretchKind::line; }
};

using Cell = std::array<long long, 2>;
Cell cell_of(const Point2& place) {
    return {std::llround(place[0] / gap), std::llround(place[1] / gap)};
}

// Ends that stay come first, so that those of lines are drawn to them.
std::vector<End> ends_of(std::vector<sketch::ArtShape>& shapes) {
    std::vector<End> ends;
    for (sketch::ArtShape& shape : shapes) {
        for (auto& chain : shape.chains) {
            for (Stretch& stretch : chain) {
                ends.push_back({&stretch, true});
                ends.push_back({&stretch, false});
            }
        }
    }
    std::stable_partition(ends.begin(), ends.end(), [](const End& end) { return !end.can_move(); });
    return ends;
}

} // namespace

void join_ends(std::vector<sketch::ArtShape>& shapes, std::set<std::string>& told) {
    std::map<Cell, Point2> places;
    bool moved = false;
    for (const End& end : ends_of(shapes)) {
        const Point2 place = end.place();
        const Cell cell = cell_of(place);
        const Point2* near = nullptr;
        for (int i = -1; i <= 1 && near == nullptr; ++i) {
            for (int j = -1; j <= 1 && near == nullptr; ++j) {
                const auto known = places.find({cell[0] + i, cell[1] + j});
                if (known != places.end() && sketch::distance(known->second, place) < gap) {
                    near = &known->second;
                }
            }
        }
        if (near == nullptr) {
            places.emplace(cell, place);
        } else if (end.can_move() && *near != place) {
            Point2& at = end.start ? end.stretch->start : end.stretch->end;
            const Point2& other = end.start ? end.stretch->end : end.stretch->start;
            const double miss = sketch::distance(*near, place);
            if (sketch::distance(*near, other) > gap) { // or else nothing is left of the line
                at = *near;
                constexpr double rounding = 1e-9; // what no one needs to hear of
                moved = moved || miss > rounding;
            }
        }
    }
    if (moved) {
        told.insert("that ends missed each other by less than 0.00001 mm: they are joined");
    }
}

std::vector<long long> likeness_of(const std::vector<Stretch>& chain) {
    double length = 0;
    double area = 0;
    Point2 along{};
    std::array<double, 4> around{1e300, 1e300, -1e300, -1e300};
    for (const Stretch& stretch : chain) {
        constexpr int steps = 16;
        const double own = stretch.length();
        const auto box = stretch.box();
        length += own;
        area += stretch.area_term();
        for (size_t k = 0; k < 2; ++k) {
            for (int i = 0; i < steps; ++i) {
                along[k] += own / steps *
                            (stretch.at(static_cast<double>(i) / steps)[k] + stretch.at((i + 1.0) / steps)[k]) / 2;
            }
            around[k] = std::min(around[k], box[k]);
            around[k + 2] = std::max(around[k + 2], box[k + 2]);
        }
    }
    std::vector<long long> likeness;
    const double whole = std::max(length, 1e-12);
    for (const double value :
         {length, std::fabs(area), along[0] / whole, along[1] / whole, around[0], around[1], around[2], around[3]}) {
        likeness.push_back(std::llround(value / gap));
    }
    return likeness;
}

} // namespace kervo::io
