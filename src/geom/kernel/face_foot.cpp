#include "geom/kernel/face_foot.h"

#include <BRep_Tool.hxx>
#include <GeomAPI_ProjectPointOnSurf.hxx>
#include <GeomLProp_SLProps.hxx>

namespace kervo::geom {

std::optional<FaceFoot> foot_on(const TopoDS_Face& face, const gp_Pnt& from) {
    const Handle(Geom_Surface) surface = BRep_Tool::Surface(face);
    const GeomAPI_ProjectPointOnSurf feet(from, surface);
    if (feet.NbPoints() == 0) {
        return std::nullopt;
    }
    FaceFoot foot{feet.NearestPoint(), feet.LowerDistance(), {}};
    double u = 0;
    double v = 0;
    feet.LowerDistanceParameters(u, v);
    GeomLProp_SLProps local(surface, u, v, 1, 1e-9);
    if (local.IsNormalDefined()) {
        foot.normal = face.Orientation() == TopAbs_REVERSED ? local.Normal().Reversed() : local.Normal();
    }
    return foot;
}

} // namespace kervo::geom
