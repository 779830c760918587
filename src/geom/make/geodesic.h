// Straightest lines on a surface: the shortest between two places, and where one comes to that starts in a direction.
#pragma once

#include <Geom_Surface.hxx>
#include <gp_Pnt2d.hxx>
#include <gp_Vec.hxx>

#include <optional>
#include <vector>

namespace kervo::geom {

struct Geodesic {
    std::vector<gp_Pnt2d> places; ///< in the surface's parameters, evenly by length: 129, both ends among them
    double length = 0;            ///< mm
};

/// All that are shorter than those beside them, the shortest first: around a closed surface the short way, and once
/// more around each way. The places come from minimising the energy of chains of 128, 256 and 512 chords (Newton's
/// method, damped, on a block-tridiagonal system) and taking their errors, which go with the square of the chords, off
/// (Romberg). None where that does not come to rest, as at a pole.
std::vector<Geodesic> geodesics_between(const Handle(Geom_Surface) & surface, const gp_Pnt2d& from, const gp_Pnt2d& to);

/// Where the straightest line comes to after `length` mm that starts at a place in a direction (any length, brought
/// into the tangent plane): the equation of geodesics, by Runge and Kutta's method of fourth order in 32 and 64 steps.
/// Nothing where both disagree by more than 1e-7 mm, or the surface has no tangent plane on the way.
struct GeodesicEnd {
    gp_Pnt2d at;
    gp_Vec way; ///< on, of length 1
};
std::optional<GeodesicEnd> geodesic_from(const Handle(Geom_Surface) & surface, const gp_Pnt2d& from, const gp_Vec& way,
                                         double length);

/// How much a curve given by three parameter-space derivatives bends sideways on the surface, 1/mm: 0 of a straightest
/// line.
double geodesic_curvature(const Handle(Geom_Surface) & surface, const gp_Pnt2d& at, const gp_Vec2d& first,
                          const gp_Vec2d& second);

} // namespace kervo::geom
