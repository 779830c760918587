// How two faces meet along an edge: how far apart they are, and how their tangent planes and curvatures differ.
#pragma once

#include "geom/kernel/shape.h"

#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>

#include <optional>

namespace kervo::geom {

struct Continuity {
    struct Worst {
        double value = 0;
        gp_Pnt at;
    };
    Worst gap;   ///< mm, between the faces
    Worst angle; ///< rad, between their normals; 0 where they run smoothly into each other
    Worst bend;  ///< 1/mm, between their curvatures across the edge
};

/// Both have the edge. Looked at in 65 places along it; the curvature is that of the normal section square to the edge
/// (do Carmo, Differential Geometry of Curves and Surfaces, 3-2), bent to the outside of the first face counting
/// positive. Nothing where one of them has no normal along it.
std::optional<Continuity> continuity_along(const TopoDS_Edge& edge, const TopoDS_Face& one, const TopoDS_Face& other);

} // namespace kervo::geom
