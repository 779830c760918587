// The way of a profile between two ends, as an extrude sweeps it.
#pragma once

#include "model/cutting/extent.h"

namespace kervo::model {

/// A height over the sketch plane, and for a face that is not parallel to it, the plane itself.
struct SweepEnd {
    double height = 0; ///< mm, along the frame's normal; of an oblique plane: over the region's inner point
    std::optional<gp_Pln> oblique;
};

/// How far over a place the plane is, in millimetres of height, for what covers `rise` while it rises by one.
double height_over(const gp_Pnt& base, const gp_Vec& rise, const gp_Pln& plane);

/// All that is needed to sweep a profile, or another one in its stead.
struct Passing {
    std::string key;
    gp_Ax3 frame;
    gp_Vec rise; ///< what it covers while it rises by a millimetre over the frame
    bool square = true;
    double taper = 0; ///< rad
    SweepEnd start, end;
    TopoDS_Shape end_shape; ///< it ends where it meets this

    /// What these loops cover on the way; `inside` is a point within them. Findings: those of the kernel's sweeps.
    [[nodiscard]] Result<SweptRegion> over(const std::vector<geom::OutlineLoop>& loops,
                                           const sketch::Point2& inside) const;
};

/// Which ends of a sweep lie beyond everything.
struct FarEnds {
    bool start = false, end = false;
};

/// One way, or two that begin at one place, each with its own taper; able to be swept anew, over a profile of another
/// size, or farther. Findings: those of the kernel's sweeps, and of uniting the two ways.
Result<SweptRegion> through(const std::vector<Passing>& passings, const Profile& region, const FarEnds& far);

} // namespace kervo::model
