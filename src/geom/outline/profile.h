// From a flat outline to a face, and from a face to a prism.
//
//   ShapeWithRoles plug = make_prism(frame, {circle_loop}, 0, -16);      // roles: side/<curve>, start, end
#pragma once

#include "base/finding.h"
#include "geom/kernel/shape.h"

#include <gp_Pln.hxx>

#include <array>
#include <optional>

namespace kervo::geom {

/// One piece of an outline in the plane's own coordinates (mm): a straight line; an arc when `radius` > 0; a part of an
/// ellipse when `other_half` > 0; a B-spline when it has poles. Arcs run from angle `from` over `sweep` radians
/// (signed, |sweep| <= 2 pi) about `center`; so do ellipses, by the eccentric angle.
struct OutlinePiece {
    std::array<double, 2> start{}, end{};
    std::array<double, 2> center{};
    double radius = 0;
    double from = 0, sweep = 0;
    std::array<double, 2> axis{};             ///< of ellipses: from the centre to where the eccentric angle is 0
    double other_half = 0;                    ///< of ellipses: half of the axis across it
    int degree = 0;                           ///< of B-splines
    std::vector<std::array<double, 2>> poles; ///< clamped; run forward, also where `sweep` < 0 says that the piece
    std::vector<double> knots;                ///< runs backward; each knot as often as it counts
    std::string curve;                        ///< label of the sketch curve it lies on; becomes the side's name
    int start_vertex = 0;                     ///< pieces with equal numbers meet in one vertex
    int end_vertex = 0;
};
using OutlineLoop = std::vector<OutlinePiece>;

/// A planar face with the curve's label of each of its edges.
struct ProfileFace {
    TopoDS_Face face;
    std::vector<std::pair<TopoDS_Shape, std::string>> curve_of_edge;
    gp_Ax3 frame;
};

/// `loops`: the outer one first, counterclockwise, then the holes, clockwise.
ProfileFace make_profile_face(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops);

/// Edges for pieces that need bound nothing, as one compound; pieces with equal vertex numbers share the vertex. Roles:
/// curve/<label of the curve>.
ShapeWithRoles make_curves(const gp_Ax3& frame, const std::vector<OutlinePiece>& pieces);

/// The prism over the loops (the outer one first) from height `start` to height `end` along the frame's normal (mm,
/// start != end).
ShapeWithRoles make_prism(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, double start, double end);

/// The same, pushed aside: `rise` is what it covers while it rises by a millimetre over the frame's plane.
ShapeWithRoles make_oblique_prism(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, const gp_Vec& rise,
                                  double start, double end);

/// The prism over a face.
ShapeWithRoles prism_over(const ProfileFace& profile, const gp_Vec& way);

/// The solid over the profile turned from angle `start` by `sweep` (rad, 0 < |sweep| <= 2 pi) about `axis`, which lies
/// in the plane of the profile and does not cross it. Roles: side/<curve>; start and end, where it is no whole turn.
ShapeWithRoles make_revolution(const ProfileFace& profile, const gp_Ax1& axis, double start, double sweep);

/// The walls that curves sweep (as `make_curves` made them): shifted by `way`, or turned as a profile is. Roles:
/// side/<curve>; a curve along the way or on the axis makes none. Of edges that may end it: start, end, and
/// side/<curve>/first and /last of what the ends of curves sweep.
ShapeWithRoles extrude_curves(const ShapeWithRoles& curves, const gp_Vec& way);
ShapeWithRoles revolve_curves(const ShapeWithRoles& curves, const gp_Ax1& axis, double start, double sweep);

/// The prism with sides that lean inwards by `angle` (rad, signed, not 0) on the way from `start` to `end`. Sides over
/// lines and arcs lean; finding: profile.taper (others, and sides that would meet).
Result<ShapeWithRoles> make_tapered_prism(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, double start,
                                          double end, double angle);

/// The part of `solid` that holds its face of the role "start", up to where `end` (faces or a solid) cuts through; its
/// new faces have the role "end". Finding: profile.no_end (it does not cut through).
Result<ShapeWithRoles> end_at(const ShapeWithRoles& solid, const TopoDS_Shape& end);

/// The face as far as its surface goes: round ones all round, and along their axis past `reach` (mm) from the face.
TopoDS_Shape extended(const TopoDS_Shape& face, double reach);

/// What is left of `solid` on the side of `plane` where `keep` lies. The new face has the role `role`; the others keep
/// theirs.
Result<ShapeWithRoles> trim_by_plane(const ShapeWithRoles& solid, const gp_Pln& plane, const gp_Pnt& keep,
                                     const std::string& role);

/// The plane of a flat face, its normal pointing out of the material.
std::optional<gp_Pln> plane_of(const TopoDS_Shape& face);

/// The frame that a sketch on a flat face uses: origin where the document's origin projects onto the plane, x along the
/// projected document x (document y where the face looks along x), normal out of the material. It depends on nothing
/// but the plane, so that a sketch follows its face.
gp_Ax3 frame_on_plane(const gp_Pln& plane);

} // namespace kervo::geom
