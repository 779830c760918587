// Faces that continue each other: on one surface, side by side, looking the same way.
#pragma once

#include "geom/kernel/shape.h"

#include <BRepAdaptor_Surface.hxx>
#include <TopoDS_Edge.hxx>
#include <gp_Pnt2d.hxx>

namespace kervo::geom {

inline constexpr double continuing_tolerance = 1e-7; ///< mm

/// As many whole periods as lie in a value, in its unit.
double whole_periods(double value, double period);
/// A plane, cylinder, cone, sphere or torus.
bool is_elementary(const BRepAdaptor_Surface& surface);
/// Where a place lies on an elementary surface, in its parameters.
gp_Pnt2d parameters_on(const BRepAdaptor_Surface& surface, const gp_Pnt& place);
/// Evenly along the edge as its curve runs, both ends among them: one more than `number`.
std::vector<gp_Pnt> places_along(const TopoDS_Edge& edge, int number);
/// Whether an edge runs as the one does that it lies on: then what it borders, which is on its left, is left of that.
bool runs_along(const TopoDS_Edge& edge, const TopoDS_Edge& on);
/// Whether two faces that border in the edge lie on one surface with the material on the same side. True without
/// looking closer where they share it; of others, only elementary surfaces are compared.
bool continue_each_other(const TopoDS_Face& one, const TopoDS_Face& other, const TopoDS_Edge& between);

} // namespace kervo::geom
