// What curves that are projected lie over, and what lines from them along the direction meet.
#pragma once

#include "geom/kernel/shape.h"

#include <BRepAdaptor_Curve.hxx>
#include <IntCurvesFace_ShapeIntersector.hxx>
#include <TopoDS_Edge.hxx>
#include <gp_Dir.hxx>

#include <optional>
#include <vector>

namespace kervo::geom {

inline constexpr double same_hit = 1e-5;        // mm
inline constexpr double under_the_curve = 1e-4; // mm: of a place from the line that should pass through it

/// A curve from which the direction looks. Parameters are those of its edge.
class ProjectedSource {
public:
    ProjectedSource(const TopoDS_Edge& edge, const gp_Dir& along);

    /// `share` from 0 to 1 along its parameters.
    [[nodiscard]] double parameter(double share) const;
    [[nodiscard]] gp_Pnt at(double parameter) const { return curve_.Value(parameter); }
    /// As the edge runs.
    [[nodiscard]] gp_Vec way_on(double parameter) const;
    /// It is a line along the direction, which meets nothing but points.
    [[nodiscard]] bool runs_along() const;
    /// The parameter under which the place lies along the direction; of several the nearest. Source: Newton on
    /// the slope of the distance from the nearest of 64 places; golden section where it does not come to rest.
    [[nodiscard]] double below(const gp_Pnt& place) const;
    /// mm, square to the direction.
    [[nodiscard]] double aside(const gp_Pnt& one, const gp_Pnt& other) const;

private:
    [[nodiscard]] double closest(const gp_Pnt& place, double low, double high) const;
    [[nodiscard]] std::optional<double> at_rest(const gp_Pnt& place, double t, double low, double high) const;
    [[nodiscard]] gp_Vec level(const gp_Vec& v) const;

    BRepAdaptor_Curve curve_;
    gp_Vec along_;
    bool forward_;
    std::vector<gp_Pnt> places_;
};

enum class HitOrder { near_to_far, far_to_near };

/// Lines along the direction, and the faces they meet. Used by one thread at a time.
class ProjectionRays {
public:
    ProjectionRays(const TopoDS_Shape& onto, const gp_Dir& along, HitOrder order);

    struct Hit {
        double far; ///< mm; what lies less than 1e-5 before the place counts too
        bool grazes;
    };
    /// Meetings nearer to each other than 1e-5 mm are one.
    std::vector<Hit> from(const gp_Pnt& place);

private:
    gp_Dir along_;
    HitOrder order_;
    IntCurvesFace_ShapeIntersector meets_;
};

} // namespace kervo::geom
