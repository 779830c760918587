// What a face or an edge looks like: as plain values, and in a few words, as a person would say it.
#pragma once

#include "base/space.h"
#include "geom/kernel/shape.h"

#include <array>
#include <optional>
#include <string>
#include <utility>

namespace kervo::geom {

/// Lengths in mm; what does not apply is 0.
struct Look {
    std::string kind;             ///< as `surface_kind` and `curve_kind` call it
    bool inner = false;           ///< of a round face: it is seen from inside, as the wall of a hole
    bool whole = false;           ///< goes all the way round
    std::string way;              ///< of a flat face: "upper", "under", "front", "back", "left", "right", "leaning"
    double radius = 0;            ///< of a cylinder, ball or arc; of a ring that of its middle line
    double tube = 0;              ///< radius of a ring's tube
    double width = 0, height = 0; ///< of a flat face, along level lines on it and square to them
    double length = 0;            ///< of an edge

    /// Of what is round; nothing for others.
    [[nodiscard]] std::optional<std::pair<double, double>> radii() const {
        return radius > 0 ? std::optional(std::pair(radius, tube)) : std::nullopt;
    }
};

Look look_of_face(const TopoDS_Shape& face);
/// Of an edge that has a length.
Look look_of_edge(const TopoDS_Shape& edge);

/// A point that the kernel keeps as an edge, as at the pole of a sphere.
bool is_degenerate(const TopoDS_Shape& edge);
/// Its first and its last vertex; null where it has none.
std::array<TopoDS_Shape, 2> ends_of(const TopoDS_Shape& edge);
/// Where an edge that has a length goes at these, out of them, of length 1; 0 where it has no direction.
std::array<Vector3, 2> ways_out(const TopoDS_Shape& edge);

/// "flat, front, 30 x 20", "round side, \u00d864", "hole, \u00d822", "hollow side, R11", "ball, \u00d840"; "rim,
/// \u00d822", "straight edge, 120", "arc, R96, 34.2", "curved edge, 34.2". Sizes in the unit that is asked for ("mm",
/// "m"), to a hundredth of a millimetre or a tenth of one.
std::string in_words(const Look& look, const std::string& unit);

} // namespace kervo::geom
