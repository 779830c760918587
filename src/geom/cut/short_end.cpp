#include "geom/cut/short_end.h"

#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/outline/profile.h"

#include <BOPTools_AlgoTools3D.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepLProp_SLProps.hxx>
#include <IntTools_Context.hxx>
#include <TopExp.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::geom {

namespace {

gp_Dir normal_within(const TopoDS_Face& face) {
    gp_Pnt point;
    gp_Pnt2d place;
    Handle(IntTools_Context) context = new IntTools_Context;
    BOPTools_AlgoTools3D::PointInFace(face, point, place, context);
    BRepLProp_SLProps properties(BRepAdaptor_Surface(face, Standard_False), place.X(), place.Y(), 1, 1e-9);
    const gp_Dir normal = properties.IsNormalDefined() ? properties.Normal() : gp_Dir(0, 0, 1);
    return face.Orientation() == TopAbs_REVERSED ? normal.Reversed() : normal;
}

// From the face straight on through the material, the longest way out.
double missing_from(const TopoDS_Shape& face, const gp_Dir& way, const TopoDS_Shape& workpiece) {
    std::vector<gp_Pnt> starts{center_of(face)};
    for (const TopoDS_Shape& vertex : vertices_of(face)) {
        starts.push_back(center_of(vertex));
    }
    double most = 0;
    for (const gp_Pnt& start : starts) {
        for (const RayHit& hit : hits_along(workpiece, gp_Lin(start, way))) {
            if (hit.leaves && hit.at > coincidence) {
                most = std::max(most, hit.at);
                break;
            }
        }
    }
    return most;
}

} // namespace

std::optional<ShortEnd> short_end(const TopoDS_Shape& workpiece, const TopoDS_Shape& cutter,
                                  const std::vector<TopoDS_Shape>& plug, const std::vector<FaceOrigin>& origins) {
    TopTools_MapOfShape of_workpiece;
    TopTools_MapOfShape of_cutter;
    TopExp::MapShapes(workpiece, of_workpiece);
    TopExp::MapShapes(cutter, of_cutter);
    TopTools_MapOfShape on_skin;
    TopTools_MapOfShape on_cutter;
    for (const FaceOrigin& origin : origins) {
        if (of_workpiece.Contains(origin.source)) {
            on_skin.Add(origin.result);
        } else if (of_cutter.Contains(origin.source)) {
            on_cutter.Add(origin.result);
        }
    }
    std::vector<gp_Dir> open; // which ways the plug is open
    std::vector<TopoDS_Face> ends;
    for (const TopoDS_Shape& part : plug) {
        for (const TopoDS_Shape& face : faces_of(part)) {
            if (on_skin.Contains(face)) {
                open.push_back(normal_within(TopoDS::Face(face)));
            } else if (on_cutter.Contains(face) && plane_of(face)) {
                ends.push_back(TopoDS::Face(face));
            }
        }
    }
    for (const TopoDS_Face& end : open.empty() ? std::vector<TopoDS_Face>{} : ends) {
        const gp_Dir way = plane_of(end)->Axis().Direction();
        if (std::all_of(open.begin(), open.end(), [&](const gp_Dir& out) { return out.Dot(way) < -1e-6; })) {
            if (const double missing = missing_from(end, way, workpiece); missing > coincidence) {
                return ShortEnd{center_of(end), missing};
            }
        }
    }
    return std::nullopt;
}

} // namespace kervo::geom
