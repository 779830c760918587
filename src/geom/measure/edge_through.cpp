#include "geom/measure/edge_through.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRep_Tool.hxx>
#include <ElSLib.hxx>
#include <GeomAPI_IntCS.hxx>
#include <Geom_ConicalSurface.hxx>
#include <Geom_CylindricalSurface.hxx>
#include <Geom_Plane.hxx>
#include <Geom_RectangularTrimmedSurface.hxx>
#include <Geom_SphericalSurface.hxx>
#include <Geom_ToroidalSurface.hxx>
#include <Geom_TrimmedCurve.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

SurfaceDistance::SurfaceDistance(const Handle(Geom_Surface) & surface)
    : axes_(Handle(Geom_ElementarySurface)::DownCast(surface)->Position()) {
    if (const auto cylinder = Handle(Geom_CylindricalSurface)::DownCast(surface); !cylinder.IsNull()) {
        kind_ = Kind::cylinder;
        radius_ = cylinder->Radius();
    } else if (const auto cone = Handle(Geom_ConicalSurface)::DownCast(surface); !cone.IsNull()) {
        kind_ = Kind::cone;
        radius_ = cone->RefRadius();
        angle_ = cone->SemiAngle();
    } else if (const auto sphere = Handle(Geom_SphericalSurface)::DownCast(surface); !sphere.IsNull()) {
        kind_ = Kind::sphere;
        radius_ = sphere->Radius();
    } else if (const auto torus = Handle(Geom_ToroidalSurface)::DownCast(surface); !torus.IsNull()) {
        kind_ = Kind::torus;
        radius_ = torus->MajorRadius();
        minor_ = torus->MinorRadius();
    }
}

std::optional<SurfaceDistance> SurfaceDistance::of(const Handle(Geom_Surface) & surface) {
    const auto trimmed = Handle(Geom_RectangularTrimmedSurface)::DownCast(surface);
    const Handle(Geom_Surface) basis = trimmed.IsNull() ? surface : trimmed->BasisSurface();
    return basis->IsKind(STANDARD_TYPE(Geom_ElementarySurface)) ? std::optional(SurfaceDistance(basis)) : std::nullopt;
}

double SurfaceDistance::operator()(const gp_Pnt& place) const {
    const gp_XYZ from = place.XYZ() - axes_.Location().XYZ();
    const double z = from * axes_.Direction().XYZ();
    if (kind_ == Kind::plane) {
        return z;
    }
    if (kind_ == Kind::sphere) {
        return from.Modulus() - radius_;
    }
    const double r = (from - axes_.Direction().XYZ() * z).Modulus();
    switch (kind_) {
    case Kind::cylinder:
        return r - radius_;
    case Kind::cone:
        return (r - radius_) * std::cos(angle_) - z * std::sin(angle_);
    default:
        return std::hypot(r - radius_, z) - minor_;
    }
}

gp_Pnt2d SurfaceDistance::parameters(const gp_Pnt& place) const {
    double u = 0;
    double v = 0;
    switch (kind_) {
    case Kind::plane:
        ElSLib::PlaneParameters(axes_, place, u, v);
        break;
    case Kind::cylinder:
        ElSLib::CylinderParameters(axes_, radius_, place, u, v);
        break;
    case Kind::cone:
        ElSLib::ConeParameters(axes_, radius_, angle_, place, u, v);
        break;
    case Kind::sphere:
        ElSLib::SphereParameters(axes_, radius_, place, u, v);
        break;
    case Kind::torus:
        ElSLib::TorusParameters(axes_, radius_, minor_, place, u, v);
        break;
    }
    return {u, v};
}

namespace {

constexpr double least_angle = 1e-4; // between an edge and the surface that it goes through

bool at_an_angle(const gp_Vec& along, const Handle(Geom_Surface) & surface, const gp_Pnt2d& at) {
    gp_Pnt on;
    gp_Vec du;
    gp_Vec dv;
    surface->D1(at.X(), at.Y(), on, du, dv);
    const gp_Vec normal = du.Crossed(dv);
    return normal.Magnitude() > 1e-12 && along.Magnitude() > 1e-12 &&
           std::fabs(normal.Normalized().Dot(along.Normalized())) > least_angle;
}

// Goes down to where the distance changes its sign. A stretch that is shorter than what both of its ends are away has
// no place on the surface, since the distance changes by no more than one goes.
class Bisection {
public:
    Bisection(const BRepAdaptor_Curve& curve, const SurfaceDistance& distance, const Handle(Geom_Surface) & surface)
        : curve_(curve), distance_(distance), surface_(surface), near_(std::max(1e-6, 2 * curve.Tolerance())) {}

    std::vector<Through> find() {
        const double first = curve_.FirstParameter();
        const double last = curve_.LastParameter();
        const int stretches = curve_.GetType() == GeomAbs_Line ? 1 : 16;
        End from = end(first);
        for (int i = 1; i <= stretches; ++i) {
            const End to = end(first + (last - first) * i / stretches);
            look_between(from, to, 0);
            from = to;
        }
        return std::move(found_);
    }

private:
    struct End {
        double t = 0, away = 0, speed = 0;
    };
    [[nodiscard]] End end(double t) const {
        gp_Pnt place;
        gp_Vec along;
        curve_.D1(t, place, along);
        return {t, distance_(place), along.Magnitude()};
    }
    void look_between(const End& from, const End& to, int depth) {
        constexpr double spare = 1.5; // the speed between two ends may be somewhat higher
        constexpr int deepest = 40;
        const double length = spare * std::max(from.speed, to.speed) * (to.t - from.t);
        const double away = std::fabs(from.away) + std::fabs(to.away);
        const bool other_side = (from.away < 0) != (to.away < 0);
        if (!other_side && away >= length) {
            return;
        }
        const End middle = end((from.t + to.t) / 2);
        if (length < near_ || depth == deepest) {
            if (other_side) {
                add(middle.t);
            }
            return;
        }
        // Long, and near it all along: it lies in the surface as well as it knows how.
        constexpr double slope = 100;
        constexpr int enough = 3;
        if (depth >= enough && length > slope * near_ && std::fabs(from.away) < near_ &&
            std::fabs(middle.away) < near_ && std::fabs(to.away) < near_) {
            return;
        }
        look_between(from, middle, depth + 1);
        look_between(middle, to, depth + 1);
    }
    void add(double t) {
        gp_Pnt place;
        gp_Vec along;
        curve_.D1(t, place, along);
        const gp_Pnt2d at = distance_.parameters(place);
        if (at_an_angle(along, surface_, at)) {
            found_.push_back({place, at});
        }
    }

    const BRepAdaptor_Curve& curve_;
    const SurfaceDistance& distance_;
    const Handle(Geom_Surface) & surface_;
    const double near_; ///< mm: an edge that was made to lie in the surface is off it by less
    std::vector<Through> found_;
};

} // namespace

std::vector<Through> edge_through(const TopoDS_Edge& edge, const Handle(Geom_Surface) & surface,
                                  const std::optional<SurfaceDistance>& distance) {
    const BRepAdaptor_Curve adaptor(edge);
    if (distance && adaptor.Is3DCurve()) {
        return Bisection(adaptor, *distance, surface).find();
    }
    std::vector<Through> found;
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, first, last);
    if (curve.IsNull()) {
        return found;
    }
    const Handle(Geom_TrimmedCurve) part = new Geom_TrimmedCurve(curve, first, last);
    const GeomAPI_IntCS meeting(part, surface);
    for (int k = 1; meeting.IsDone() && k <= meeting.NbPoints(); ++k) {
        double u = 0;
        double v = 0;
        double t = 0;
        meeting.Parameters(k, u, v, t);
        gp_Pnt place;
        gp_Vec along;
        curve->D1(t, place, along);
        if (at_an_angle(along, surface, {u, v})) {
            found.push_back({meeting.Point(k), {u, v}});
        }
    }
    return found;
}

} // namespace kervo::geom
