// Rows across what straight bits enclose: for hatches, and for filling what is cut while it is dragged.
#pragma once

#include <array>
#include <vector>

namespace kervo::geom {

struct Flat {
    double u = 0, v = 0;
};
using FlatBit = std::array<Flat, 2>;

/// A part of the row at `v`.
struct Span {
    double v = 0, from = 0, to = 0;
};

/// The rows v = k * spacing inside of the bits (even-odd: bits in any order that together enclose something). Time
/// grows with the bits and the places where rows cross them.
std::vector<Span> spans_within(const std::vector<FlatBit>& bits, double spacing);

} // namespace kervo::geom
