// The border of a section, traced without the kernel's Booleans: pieces of lines and conics, each in one face of the
// solid, from one crossing of an edge to the next.
#pragma once

#include "geom/kernel/shape.h"

#include <Geom_Conic.hxx>
#include <gp_Ax3.hxx>
#include <gp_Vec.hxx>

#include <functional>
#include <optional>

namespace kervo::geom {

/// The curve in which a round face's surface meets the plane, by an angle (rad).
struct SectionConic {
    std::function<gp_Pnt(double)> at;
    std::function<gp_Vec(double)> way; ///< its derivative
    std::function<double(const gp_Pnt&)> angle;
    bool closed = true;
    Handle(Geom_Conic) curve; ///< the same as a circle or an ellipse; null where it is none
    /// Above or below 0, but never both along what is one branch of an open one.
    std::function<double(double)> branch = [](double) { return 1.0; };
};

struct BorderPiece {
    int face = 0;             ///< among `faces_of` the solid
    gp_Pnt from, to;          //
    int start = -1, end = -1; ///< numbers of the crossings where it begins and ends; -1: it is a closed curve
    std::optional<SectionConic> conic = {}; ///< none: straight
    double angle = 0, sweep = 0;            ///< of the conic, from where and how far
};

/// The inside of the section lies to the left of each piece, seen along the normal of the frame's plane. Nothing where
/// the plane passes within 1e-6 mm of a vertex or touches a rim, for faces that are neither flat nor parts of
/// cylinders, cones and spheres, and where the pieces do not close.
std::optional<std::vector<BorderPiece>> section_border(const TopoDS_Shape& solid, const gp_Ax3& plane);

} // namespace kervo::geom
