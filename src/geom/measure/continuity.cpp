#include "geom/measure/continuity.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRep_Tool.hxx>
#include <Geom2d_Curve.hxx>

#include <array>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr int places = 64;

class FaceAlong {
public:
    FaceAlong(const TopoDS_Edge& edge, const TopoDS_Face& face)
        : surface_(face, Standard_False), flat_(BRep_Tool::CurveOnSurface(edge, face, from_, to_)),
          reversed_(face.Orientation() == TopAbs_REVERSED) {}

    [[nodiscard]] bool known() const { return !flat_.IsNull(); }

    struct Here {
        gp_Pnt at;
        gp_Vec normal; // out of the face, unit
        double bend = 0;
    };
    /// At a share of the edge's parameters, across `along`; nothing where there is no normal.
    [[nodiscard]] std::optional<Here> look(double share, const gp_Vec& along) const {
        const gp_Pnt2d uv = flat_->Value(from_ + share * (to_ - from_));
        Here here;
        gp_Vec du;
        gp_Vec dv;
        gp_Vec duu;
        gp_Vec dvv;
        gp_Vec duv;
        surface_.D2(uv.X(), uv.Y(), here.at, du, dv, duu, dvv, duv);
        gp_Vec normal = du.Crossed(dv);
        if (normal.Magnitude() < 1e-12 * (1 + du.SquareMagnitude() + dv.SquareMagnitude())) {
            return std::nullopt;
        }
        normal.Normalize();
        // A way across, du a + dv b, of length 1; its curvature is the second fundamental form of it.
        const gp_Vec across = normal.Crossed(along);
        const double e = du.Dot(du);
        const double f = du.Dot(dv);
        const double g = dv.Dot(dv);
        const double under = e * g - f * f;
        const double a = (across.Dot(du) * g - across.Dot(dv) * f) / under;
        const double b = (across.Dot(dv) * e - across.Dot(du) * f) / under;
        const double second = duu.Dot(normal) * a * a + 2 * duv.Dot(normal) * a * b + dvv.Dot(normal) * b * b;
        here.normal = reversed_ ? normal.Reversed() : normal;
        here.bend = (reversed_ ? -second : second) / (e * a * a + 2 * f * a * b + g * b * b);
        return here;
    }

private:
    BRepAdaptor_Surface surface_;
    double from_ = 0, to_ = 0;
    Handle(Geom2d_Curve) flat_;
    bool reversed_;
};

void take(Continuity::Worst& worst, double value, const gp_Pnt& at, bool first) {
    if (first || value > worst.value) {
        worst = {value, at};
    }
}

} // namespace

std::optional<Continuity> continuity_along(const TopoDS_Edge& edge, const TopoDS_Face& one, const TopoDS_Face& other) {
    const FaceAlong first(edge, one);
    const FaceAlong second(edge, other);
    if (!first.known() || !second.known()) {
        return std::nullopt;
    }
    const BRepAdaptor_Curve curve(edge);
    Continuity found;
    for (int i = 0; i <= places; ++i) {
        const double share = i / double(places);
        gp_Pnt at;
        gp_Vec along;
        curve.D1(curve.FirstParameter() + share * (curve.LastParameter() - curve.FirstParameter()), at, along);
        if (along.Magnitude() < 1e-12) {
            return std::nullopt;
        }
        along.Normalize();
        const auto a = first.look(share, along);
        const auto b = second.look(share, along);
        if (!a || !b) {
            return std::nullopt;
        }
        take(found.gap, a->at.Distance(b->at), at, i == 0);
        take(found.angle, a->normal.Angle(b->normal), at, i == 0);
        take(found.bend, std::fabs(a->bend - b->bend), at, i == 0);
    }
    return found;
}

} // namespace kervo::geom
