// A skin between outlines, and the solid inside it.
#pragma once

#include "geom/outline/profile.h"

#include <gp_Vec.hxx>

#include <functional>
#include <vector>

namespace kervo::geom {

/// One outline of a loft: a loop in the plane of a frame.
struct LoftSection {
    gp_Ax3 frame;
    OutlineLoop loop;
};

struct Lofting {
    bool straight = false; ///< from each section to the next, with creases between; or else one smooth skin
    double leaves = 0;     ///< how firmly it stands square on the first section (1 is usual); 0: as it likes
    double arrives = 0;    ///< the same at the last
    /// Where the sections are one outline on its way: they are joined as they are drawn, at these shares of the way (0
    /// to 1), and leave and arrive as places of the first and the last section move (mm for all of the way).
    struct OneOutline {
        std::vector<double> places;
        std::function<gp_Vec(const gp_Pnt&)> leaves, arrives;
    };
    std::optional<OneOutline> one_outline = {};
};

/// The solid through sections (two or more), in this order. Sections of as many pieces are joined piece by piece,
/// others by length; each is turned so that the skin is twisted least. The skin is a cubic spline from section to
/// section through the poles of their curves, which are made alike before; arcs become splines within 1e-7 mm. Roles:
/// side/c<curve of the first section>~<curve of the last>, start, end. Findings: loft.sections (fewer than two),
/// loft.failed (sections meet, or the skin would cross itself).
Result<ShapeWithRoles> loft_through(const std::vector<LoftSection>& sections, const Lofting& lofting);

} // namespace kervo::geom
