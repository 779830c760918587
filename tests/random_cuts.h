// Cutters at random, and whether two divisions of a body are the same.
#pragma once

#include "outlines.h"

#include "geom/cut/straight_cut.h"

#include <BRep_Tool.hxx>
#include <TopoDS.hxx>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <random>

namespace kervo::geom::test {

/// From the environment, for sets that take long.
inline int number_given(const char* name, int otherwise) {
    const char* given = std::getenv(name);
    return given != nullptr ? std::atoi(given) : otherwise;
}

struct Dice {
    std::mt19937 source;
    double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(source); }
    int upto(int count) { return std::uniform_int_distribution<int>(0, count - 1)(source); }
};

inline OutlineLoop any_profile(Dice& dice, double x, double y) {
    switch (dice.upto(12)) {
    case 0:
        return polygon({{x, y}, {x + dice.between(2, 9), y - 1}, {x + 3, y + dice.between(2, 8)}});
    case 1:
        return slot(x, y, dice.between(1, 12), dice.between(0.5, 3));
    case 2:
        return bitten(x, y, dice.between(2, 8));
    case 3:
        return cushion(x, y, dice.between(1, 5));
    default:
        return circle(x, y, dice.between(0.5, 5));
    }
}

inline TopoDS_Shape solid_of(const StraightCutter& cutter) {
    const double reach = 400;
    ShapeWithRoles solid = make_prism(cutter.frame, cutter.loops, cutter.low.flat() ? cutter.low.height : -reach,
                                      cutter.high.flat() ? cutter.high.height : reach);
    const gp_Vec up(cutter.frame.Direction());
    for (const Level& level : {cutter.low, cutter.high}) {
        if (!level.flat()) {
            const gp_Vec normal = up - gp_Vec(cutter.frame.XDirection()) * level.slope_x -
                                  gp_Vec(cutter.frame.YDirection()) * level.slope_y;
            const gp_Pnt on = cutter.frame.Location().Translated(up * level.height);
            const gp_Pnt keep = on.Translated(up * (&level == &cutter.low ? 100 : -100));
            solid = *trim_by_plane(solid, gp_Pln(on, gp_Dir(normal)), keep, "end");
        }
    }
    return solid.shape;
}

// The largest tolerance (mm): the kernel only comes near to some curves between faces.
inline double loosest_edge(const TopoDS_Shape& shape) {
    double most = 0;
    for (const TopoDS_Shape& edge : edges_of(shape)) {
        most = std::max(most, BRep_Tool::Tolerance(TopoDS::Edge(edge)));
    }
    return most;
}

struct Piece {
    std::vector<int> inside;
    double volume = 0;
    Counts counts;
    TopoDS_Shape shape;
};
inline std::vector<Piece> sorted(const Division& division) {
    std::vector<Piece> pieces;
    for (const DividedPiece& piece : division.pieces) {
        pieces.push_back({piece.inside, piece.volume, count(piece.shape), piece.shape});
    }
    std::sort(pieces.begin(), pieces.end(), [](const Piece& one, const Piece& other) {
        return one.inside != other.inside ? one.inside < other.inside : one.volume < other.volume;
    });
    return pieces;
}

inline void expect_same(const Division& fast, const Division& general, double size, const std::string& what) {
    const auto ours = sorted(fast);
    const auto theirs = sorted(general);
    ASSERT_EQ(ours.size(), theirs.size()) << what;
    for (size_t i = 0; i < ours.size(); ++i) {
        EXPECT_EQ(ours[i].inside, theirs[i].inside) << what;
        // where edges are loose, the volume depends a little on where it is measured from
        const double near = (loosest_edge(ours[i].shape) < 1e-6 ? 1e-9 : 1e-6) * size;
        EXPECT_NEAR(ours[i].volume, theirs[i].volume, near) << what;
        EXPECT_NEAR(ours[i].volume, volume_of(ours[i].shape), near) << what;
        EXPECT_EQ(ours[i].counts.faces, theirs[i].counts.faces) << what;
        EXPECT_EQ(ours[i].counts.edges, theirs[i].counts.edges) << what;
        EXPECT_EQ(ours[i].counts.vertices, theirs[i].counts.vertices) << what;
        EXPECT_EQ(ours[i].counts.loops, theirs[i].counts.loops) << what;
        EXPECT_EQ(ours[i].counts.faces_by_surface, theirs[i].counts.faces_by_surface) << what;
        EXPECT_TRUE(is_closed(ours[i].shape)) << what;
        EXPECT_TRUE(is_valid(ours[i].shape)) << what << " piece " << i;
    }
}

} // namespace kervo::geom::test
