// Outlines for tests: counterclockwise unless they say otherwise.
#pragma once

#include "geom/outline/profile.h"

#include <cmath>

namespace kervo::geom::test {

inline constexpr double pi = 3.14159265358979323846;

inline int next_vertex = 1;

inline OutlinePiece line(double x0, double y0, double x1, double y1, int a, int b) {
    OutlinePiece piece;
    piece.start = {x0, y0};
    piece.end = {x1, y1};
    piece.start_vertex = a;
    piece.end_vertex = b;
    piece.curve = std::to_string(a);
    return piece;
}
inline OutlinePiece arc(double x, double y, double r, double from, double sweep, int a, int b) {
    OutlinePiece piece;
    piece.center = {x, y};
    piece.radius = r;
    piece.from = from;
    piece.sweep = sweep;
    piece.start = {x + r * std::cos(from), y + r * std::sin(from)};
    piece.end = {x + r * std::cos(from + sweep), y + r * std::sin(from + sweep)};
    piece.start_vertex = a;
    piece.end_vertex = b;
    piece.curve = std::to_string(a);
    return piece;
}
inline OutlineLoop circle(double x, double y, double r) {
    const int v = next_vertex++;
    return {arc(x, y, r, 0, 2 * pi, v, v)};
}
inline OutlineLoop polygon(const std::vector<std::array<double, 2>>& corners) {
    OutlineLoop loop;
    const int first = next_vertex;
    const int count = static_cast<int>(corners.size());
    next_vertex += count;
    for (int i = 0; i < count; ++i) {
        const auto& a = corners[static_cast<size_t>(i)];
        const auto& b = corners[static_cast<size_t>((i + 1) % count)];
        loop.push_back(line(a[0], a[1], b[0], b[1], first + i, first + (i + 1) % count));
    }
    return loop;
}
inline OutlineLoop slot(double x, double y, double length, double r) {
    const int v = next_vertex;
    next_vertex += 4;
    return {line(x, y - r, x + length, y - r, v, v + 1), arc(x + length, y, r, -pi / 2, pi, v + 1, v + 2),
            line(x + length, y + r, x, y + r, v + 2, v + 3), arc(x, y, r, pi / 2, pi, v + 3, v)};
}
// A plate's corner with a hollow: an arc that runs clockwise.
inline OutlineLoop bitten(double x, double y, double size) {
    const int v = next_vertex;
    next_vertex += 5;
    const double r = size / 2;
    return {line(x, y, x + size, y, v, v + 1), line(x + size, y, x + size, y + r, v + 1, v + 2),
            arc(x + size, y + size, r, -pi / 2, -pi / 2, v + 2, v + 3),
            line(x + r, y + size, x, y + size, v + 3, v + 4), line(x, y + size, x, y, v + 4, v)};
}
// Closed and smooth: the hull of its poles is a square.
inline OutlineLoop cushion(double x, double y, double size) {
    const int v = next_vertex;
    next_vertex += 2;
    OutlinePiece one;
    one.degree = 3;
    one.knots = {0, 0, 0, 0, 1, 1, 1, 1};
    one.poles = {{x, y - size}, {x + size, y - size}, {x + size, y + size}, {x, y + size}};
    one.sweep = 1;
    one.start = one.poles.front();
    one.end = one.poles.back();
    one.start_vertex = v;
    one.end_vertex = v + 1;
    one.curve = std::to_string(v);
    OutlinePiece two = one;
    two.poles = {{x, y + size}, {x - size, y + size}, {x - size, y - size}, {x, y - size}};
    two.start = two.poles.front();
    two.end = two.poles.back();
    two.start_vertex = v + 1;
    two.end_vertex = v;
    two.curve = std::to_string(v + 1);
    return {one, two};
}
inline OutlineLoop reversed(const OutlineLoop& loop) {
    OutlineLoop back(loop.rbegin(), loop.rend());
    for (OutlinePiece& piece : back) {
        std::swap(piece.start, piece.end);
        std::swap(piece.start_vertex, piece.end_vertex);
        piece.from += piece.sweep;
        piece.sweep = -piece.sweep;
    }
    return back;
}

} // namespace kervo::geom::test
