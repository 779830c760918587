#include "geom/view/raster.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kervo::geom {

namespace {

// Rows that a bit crosses: its lower end does not count, its upper one does, so that two bits that meet on a row cross
// it once, or not at all.
struct Rows {
    long first, last;
};

Rows rows_of(const FlatBit& bit, double spacing) {
    const auto row_below = [&](double v) { return static_cast<long>(std::floor(v / spacing)); };
    const auto [low, high] = std::minmax(bit[0].v, bit[1].v);
    return {row_below(low) + 1, row_below(high)};
}

} // namespace

std::vector<Span> spans_within(const std::vector<FlatBit>& bits, double spacing) {
    long lowest = std::numeric_limits<long>::max();
    long highest = std::numeric_limits<long>::min();
    for (const FlatBit& bit : bits) {
        const Rows rows = rows_of(bit, spacing);
        if (rows.first <= rows.last) {
            lowest = std::min(lowest, rows.first);
            highest = std::max(highest, rows.last);
        }
    }
    if (lowest > highest) {
        return {};
    }
    // The places of a row stand one behind the other, row by row.
    std::vector<size_t> begin(static_cast<size_t>(highest - lowest) + 2, 0);
    const auto slot = [&](long row) { return static_cast<size_t>(row - lowest); };
    for (const FlatBit& bit : bits) {
        const Rows rows = rows_of(bit, spacing);
        for (long row = rows.first; row <= rows.last; ++row) {
            ++begin[slot(row) + 1];
        }
    }
    for (size_t i = 1; i < begin.size(); ++i) {
        begin[i] += begin[i - 1];
    }
    std::vector<double> places(begin.back());
    std::vector<size_t> next(begin.begin(), begin.end() - 1);
    for (const FlatBit& bit : bits) {
        const Rows rows = rows_of(bit, spacing);
        const auto& [a, b] = bit;
        for (long row = rows.first; row <= rows.last; ++row) {
            const double v = static_cast<double>(row) * spacing;
            places[next[slot(row)]++] = a.u + (b.u - a.u) * (v - a.v) / (b.v - a.v);
        }
    }
    std::vector<Span> spans;
    for (long row = lowest; row <= highest; ++row) {
        const auto from = places.begin() + static_cast<std::ptrdiff_t>(begin[slot(row)]);
        const auto to = places.begin() + static_cast<std::ptrdiff_t>(begin[slot(row) + 1]);
        std::sort(from, to);
        for (auto at = from; to - at > 1; at += 2) {
            spans.push_back({static_cast<double>(row) * spacing, *at, *(at + 1)});
        }
    }
    return spans;
}

} // namespace kervo::geom
