// Paths: chains of edges that are passed one after the other, each with its name.
#pragma once

#include "base/finding.h"
#include "geom/kernel/shape.h"

#include <TopoDS_Edge.hxx>
#include <gp_Ax1.hxx>
#include <gp_Pln.hxx>
#include <gp_Trsf.hxx>

#include <optional>
#include <string>
#include <vector>

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

/// An arc of a path: what a profile on it turns about, and by how much (rad).
struct Turn {
    gp_Ax1 axis;
    double angle = 0;
};
/// Nothing where the part is no arc.
std::optional<Turn> turn_of(const Path::Part& part);
bool is_line(const Path::Part& part);

/// path.apart: the profile does not lie at the start of the path.
Finding path_lies_apart();

/// A path begun where a profile lies on it.
struct BegunPath {
    Path path;
    gp_Trsf carried; ///< of the profile
};
/// A closed path may be entered anywhere, an open one at its start. A line, or where the profile is `turning` an arc,
/// is entered at its middle, far from its corners, and the profile is carried there first. `center`: of the profile.
/// Finding: path.apart (the plane does not meet the path, or an open one elsewhere).
Result<BegunPath> begun_at(const Path& path, const gp_Pln& plane, const gp_Pnt& center, bool turning);

} // namespace kervo::geom
