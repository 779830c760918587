// Where a place is nearest to the surface of a face.
#pragma once

#include <TopoDS_Face.hxx>
#include <gp_Dir.hxx>
#include <gp_Pnt.hxx>

#include <optional>

namespace kervo::geom {

struct FaceFoot {
    gp_Pnt place;
    double distance = 0;          ///< mm
    std::optional<gp_Dir> normal; ///< of the face, to its outside; none at the tip of a cone
};
/// On the whole surface, beyond the borders of the face too; none where the kernel finds none.
std::optional<FaceFoot> foot_on(const TopoDS_Face& face, const gp_Pnt& from);

} // namespace kervo::geom
