// The section of a solid in a plane, proven: flat faces, and which face of the solid each of their edges comes from.
#pragma once

#include "base/finding.h"
#include "geom/view/bordered_faces.h"

#include <gp_Ax3.hxx>

namespace kervo::geom {

struct Section {
    std::vector<SectionFace> faces;
    double area = 0; ///< mm^2
    bool touches =
        false; ///< the plane touches a face, an edge or a vertex: the section is that of a plane a hair above
};

/// The section in the plane of x and y of the frame; a hair above is a hair along z. Where its border
/// can be traced (`section_border`), and encloses as much as the kernel's faces, it is made of that. Else sections a
/// hair above and a hair below must agree with it (over a hair an area changes by as little as that); where the two
/// differ, the plane touches something, and what the hair above gives counts. Then lines across it are followed through
/// the solid by rays, and must be inside as long as they are in the faces. Findings: section.failed.
Result<Section> section_of(const TopoDS_Shape& solid, const gp_Ax3& plane);

/// The same without the kernel's Booleans: nothing where the border cannot be traced, or rays say otherwise.
std::optional<Section> traced_section(const TopoDS_Shape& solid, const gp_Ax3& plane);

} // namespace kervo::geom
