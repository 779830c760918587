// How a surface ends at a free border edge: where the edge runs, and which way leads off the face.
#pragma once

#include "geom/kernel/shape.h"

#include <Geom_Curve.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <gp_Vec.hxx>

#include <optional>

namespace kervo::geom {

class BorderSide {
public:
    /// `edge` as it lies in the face, of which it is a border; without a face it has places, but no way off.
    BorderSide(const TopoDS_Edge& edge, const TopoDS_Face& face);

    struct Place {
        gp_Pnt at;
        gp_Vec along; ///< as the face's border runs, with the face on the left of who looks against its normal
        gp_Vec off;   ///< square to it, tangent to the face, away from it; both unit; null where there is no face
    };
    /// At a parameter of the edge's curve; nothing where the face has no normal.
    [[nodiscard]] std::optional<Place> place(double t) const;
    [[nodiscard]] double first() const { return first_; }
    [[nodiscard]] double last() const { return last_; }

    TopoDS_Edge edge;
    TopoDS_Face face;

private:
    Handle(Geom_Curve) curve_;
    double first_ = 0, last_ = 0;
};

/// All free border edges of a surface.
std::vector<BorderSide> border_sides(const TopoDS_Shape& surface);

} // namespace kervo::geom
