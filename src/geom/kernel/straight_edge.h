// The ends of an edge on a plain line, without the kernel's adaptors: most edges are such, and are asked for often.
#pragma once

#include <BRep_Tool.hxx>
#include <Geom_Line.hxx>
#include <TopLoc_Location.hxx>
#include <TopoDS_Edge.hxx>
#include <gp_Pnt.hxx>

#include <optional>
#include <utility>

namespace kervo::geom {

/// From the first to the last parameter; nothing for edges on other curves.
inline std::optional<std::pair<gp_Pnt, gp_Pnt>> straight_ends(const TopoDS_Edge& edge) {
    double first = 0;
    double last = 0;
    TopLoc_Location place;
    const Handle(Geom_Curve)& curve = BRep_Tool::Curve(edge, place, first, last);
    if (curve.IsNull() || curve->DynamicType() != STANDARD_TYPE(Geom_Line)) {
        return std::nullopt;
    }
    return std::pair(curve->Value(first).Transformed(place), curve->Value(last).Transformed(place));
}

} // namespace kervo::geom
