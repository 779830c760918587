// What an area in a plane is to the bending of beams: its size, its middle, its second moments.
#pragma once

#include "geom/kernel/shape.h"

#include <gp_Ax3.hxx>

namespace kervo::geom {

struct SectionProperties {
    double area = 0;         ///< mm^2
    double perimeter = 0;    ///< mm, holes included
    double x = 0, y = 0;     ///< of the centroid, in the frame (mm)
    double ixx = 0, iyy = 0; ///< second moments about axes through the centroid along x and y of the frame (mm^4)
    double ixy = 0;          ///< product of inertia there (mm^4)
    double wx = 0, wy = 0;   ///< section moduli: ixx and iyy over how far the area reaches from the axis (mm^3)
};

/// Of flat faces in the plane of x and y of the frame, all together. Integrals along their borders (Green), span by
/// span; nothing (all 0) of no faces.
SectionProperties section_properties(const std::vector<TopoDS_Shape>& faces, const gp_Ax3& frame);

} // namespace kervo::geom
