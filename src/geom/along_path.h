// Profiles carried along a path.
#pragma once

#include "base/progress.h"
#include "geom/profile.h"

#include <TopoDS_Edge.hxx>
#include <TopoDS_Wire.hxx>

namespace kervo::geom {

/// Edges end to end, from one end to the other, each forward or reversed as it is passed, with what it is called.
struct Path {
    struct Part {
        TopoDS_Edge edge;
        std::string name;
        [[nodiscard]] gp_Pnt start() const;
        [[nodiscard]] gp_Pnt end() const;
        [[nodiscard]] gp_Vec heading(bool at_start) const; ///< unit
    };
    std::vector<Part> parts;
    bool closed = false;
};
/// The edges in any order as one path, from the end (of closed ones: the vertex) that is nearest to `near`. Finding:
/// path.broken (they do not join, or branch).
Result<Path> path_of(const std::vector<Path::Part>& edges, const gp_Pnt& near);

struct Carrying {
    bool turning = true; ///< with the path; or else the profile keeps its direction
    double twist = 0;    ///< rad, on the whole way, evenly; only where it turns
};

/// The solid that the profile covers on its way. Along lines and arcs it is exact, with mitred corners between lines;
/// along other curves, and where it twists, within 1e-5 mm, by the kernel's pipes. Roles: side/c<curve>/<name of the
/// part>, start, end. Findings: path.sideways (it is moved within its own plane), path.corner, path.failed (the path
/// bends more tightly than the profile is wide), path.apart (of pipes: the profile does not lie at the start).
Result<ShapeWithRoles> sweep_along(const ProfileFace& profile, const Path& path, const Carrying& carrying,
                                   Progress& progress);

} // namespace kervo::geom
