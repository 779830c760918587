// Profiles carried along a path.
#pragma once

#include "base/progress.h"
#include "geom/outline/profile.h"

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
/// along other curves within 1e-5 mm, by the kernel's pipes, or where it twists by a skin (twisted_sweep.h). A closed
/// path begins where the profile lies on it. The volume must be what `swept_volume` says. Roles: side/c<curve>/<name of
/// the part>, start, end. Findings: path.sideways (it is moved within its own plane), path.corner, path.failed (the
/// path bends more tightly than the profile is wide), path.apart (the profile does not lie at the start), path.crosses.
Result<ShapeWithRoles> sweep_along(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, const Path& path,
                                   const Carrying& carrying, Progress& progress);

/// The first solid less the others, which lie in it as its holes; the roles of all. Finding: path.failed, and those of
/// `divide`.
Result<ShapeWithRoles> less_holes(const std::vector<ShapeWithRoles>& solids, Progress& progress);

} // namespace kervo::geom
