// Outlines as they are seen along an axis, by chords and how far the curve bulges from each: enough to prove that two
// are apart.
#pragma once

#include "geom/outline/profile.h"

#include <array>
#include <optional>
#include <vector>

namespace kervo::geom {

struct Chord {
    std::array<double, 2> a{}, b{}; ///< ends, on the curve
    double bulge = 0;               ///< mm, the curve stays so near
};

struct FlatOutline {
    using Place = std::array<double, 2>;
    /// Nearer than this (mm), nothing counts as apart.
    static constexpr double gap = 1e-5;

    std::vector<Chord> chords; ///< none of a circle
    Place start{};             ///< on the outline
    Place center{};            ///< of a circle that holds the outline
    double reach = 0;          ///< its radius
    bool circle = false;       ///< it is that circle itself

    /// Whether the two keep `gap`; one may lie within the other.
    [[nodiscard]] bool apart_from(const FlatOutline& other) const;
    /// Whether the two keep `gap`, and neither lies within the other.
    [[nodiscard]] bool outside_of(const FlatOutline& other) const {
        return apart_from(other) && !contains(other.start) && !other.contains(start);
    }
    /// Of a place that is apart from the outline.
    [[nodiscard]] bool contains(const Place& place) const;
};

/// A loop of a profile; nothing where it passes a vertex twice.
std::optional<FlatOutline> flatten(const OutlineLoop& loop);
/// A wire of lines, circles, ellipses and B-splines, seen along the frame's normal; nothing for other curves.
std::optional<FlatOutline> flatten(const TopoDS_Shape& wire, const gp_Ax3& frame);

} // namespace kervo::geom
