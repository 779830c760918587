// Where an edge goes from one side of a surface to the other.
#pragma once

#include <Geom_Surface.hxx>
#include <TopoDS_Edge.hxx>
#include <gp_Ax3.hxx>
#include <gp_Pnt.hxx>
#include <gp_Pnt2d.hxx>

#include <optional>
#include <vector>

namespace kervo::geom {

/// How far places are from a plane, cylinder, cone, sphere or torus, by its formula; negative within (below, of a
/// plane). Of a cone, the nappe that is its reference circle's.
class SurfaceDistance {
public:
    /// Nothing for other surfaces.
    static std::optional<SurfaceDistance> of(const Handle(Geom_Surface) & surface);
    [[nodiscard]] double operator()(const gp_Pnt& place) const; ///< mm
    [[nodiscard]] gp_Pnt2d parameters(const gp_Pnt& place) const;

private:
    explicit SurfaceDistance(const Handle(Geom_Surface) & surface);
    gp_Ax3 axes_;
    enum class Kind { plane, cylinder, cone, sphere, torus } kind_ = Kind::plane;
    double radius_ = 0, minor_ = 0, angle_ = 0; ///< of its circle; of a torus's tube; half, of a cone
};

struct Through {
    gp_Pnt place;
    gp_Pnt2d at; ///< parameters on the surface
};

/// The places where it goes through at an angle (over 1e-4); where it only touches, or lies in the surface, there is
/// none. For surfaces with a formula by bisection, leaving out what is shorter than its way to the surface; else by the
/// kernel.
std::vector<Through> edge_through(const TopoDS_Edge& edge, const Handle(Geom_Surface) & surface,
                                  const std::optional<SurfaceDistance>& distance);

} // namespace kervo::geom
