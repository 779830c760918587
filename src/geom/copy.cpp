#include "geom/copy.h"

#include <BRepBuilderAPI_Transform.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

ShapeWithRoles transformed(const ShapeWithRoles& made, const gp_Trsf& move) {
    const bool own_geometry = move.IsNegative() || std::fabs(std::fabs(move.ScaleFactor()) - 1) > 1e-15;
    BRepBuilderAPI_Transform mover(made.shape, move, own_geometry);
    ShapeWithRoles there{mover.Shape(), {}};
    for (const FaceRole& role : made.roles) {
        there.roles.push_back({mover.ModifiedShape(role.face), role.role});
    }
    return there;
}

std::vector<OutlineLoop> scaled(const std::vector<OutlineLoop>& loops, double scale) {
    std::array<double, 2> low{1e300, 1e300};
    std::array<double, 2> high{-1e300, -1e300};
    const auto reach = [&](const std::array<double, 2>& p, double around) {
        for (size_t k = 0; k < 2; ++k) {
            low[k] = std::min(low[k], p[k] - around);
            high[k] = std::max(high[k], p[k] + around);
        }
    };
    for (const OutlinePiece& piece : loops.front()) {
        const bool round = piece.radius > 0 && std::fabs(piece.sweep) > 2 * M_PI - 1e-9;
        reach(round ? piece.center : piece.start, round ? piece.radius : 0);
        for (const auto& pole : piece.poles) {
            reach(pole, 0);
        }
    }
    const std::array middle{(low[0] + high[0]) / 2, (low[1] + high[1]) / 2};
    const auto move = [&](std::array<double, 2>& p) {
        for (size_t k = 0; k < 2; ++k) {
            p[k] = middle[k] + (p[k] - middle[k]) * scale;
        }
    };
    auto larger = loops;
    for (OutlineLoop& loop : larger) {
        for (OutlinePiece& piece : loop) {
            move(piece.start);
            move(piece.end);
            move(piece.center);
            piece.radius *= scale;
            piece.other_half *= scale;
            piece.axis = {piece.axis[0] * scale, piece.axis[1] * scale};
            for (auto& pole : piece.poles) {
                move(pole);
            }
        }
    }
    return larger;
}

} // namespace kervo::geom
