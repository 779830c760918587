#include "geom/view/section.h"

#include "geom/kernel/common_part.h"
#include "geom/measure/measure.h"
#include "geom/view/raster.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <GCPnts_QuasiUniformDeflection.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

std::optional<std::vector<TopoDS_Shape>> section_faces(const TopoDS_Shape& shape, const gp_Pln& plane) {
    const auto box = rough_box_of(shape);
    const gp_Pnt middle((box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2);
    const double reach = gp_Pnt(box[0], box[1], box[2]).Distance(gp_Pnt(box[3], box[4], box[5])) + 1;
    // How far the box reaches from its middle along the normal.
    const gp_Dir& across = plane.Axis().Direction();
    const double half = (std::fabs(across.X()) * (box[3] - box[0]) + std::fabs(across.Y()) * (box[4] - box[1]) +
                         std::fabs(across.Z()) * (box[5] - box[2])) /
                        2;
    if (plane.Distance(middle) > half + 1e-6) {
        return std::vector<TopoDS_Shape>{};
    }
    // The plane is cut down to what the body can meet, about the body's middle, so that numbers stay small.
    const gp_Vec normal(plane.Axis().Direction());
    const gp_Pnt foot = middle.Translated(normal * -gp_Vec(plane.Location(), middle).Dot(normal));
    const gp_Pln local(gp_Ax3(foot, plane.Axis().Direction(), plane.XAxis().Direction()));
    try {
        const TopoDS_Face sheet = BRepBuilderAPI_MakeFace(local, -reach, reach, -reach, reach).Face();
        const auto inside = common_part(sheet, shape);
        return inside ? std::optional(faces_of(*inside)) : std::nullopt;
    } catch (const Standard_Failure&) {
        return std::nullopt;
    }
}

namespace {

// Boundary of the face as straight bits, in coordinates along and across the hatch.
std::vector<FlatBit> boundary_bits(const TopoDS_Shape& face, const gp_Pnt& origin, const gp_Vec& along,
                                   const gp_Vec& across, double deflection) {
    std::vector<FlatBit> bits;
    const auto flat = [&](const gp_Pnt& p) {
        const gp_Vec from(origin, p);
        return Flat{from.Dot(along), from.Dot(across)};
    };
    for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
        const BRepAdaptor_Curve curve(TopoDS::Edge(it.Current()));
        std::vector<gp_Pnt> points;
        if (curve.GetType() == GeomAbs_Line) {
            points = {curve.Value(curve.FirstParameter()), curve.Value(curve.LastParameter())};
        } else {
            const GCPnts_QuasiUniformDeflection sampler(curve, deflection);
            for (int i = 1; sampler.IsDone() && i <= sampler.NbPoints(); ++i) {
                points.push_back(sampler.Value(i));
            }
        }
        for (size_t i = 1; i < points.size(); ++i) {
            bits.push_back({flat(points[i - 1]), flat(points[i])});
        }
    }
    return bits;
}

} // namespace

std::vector<Segment3> hatch_lines(const TopoDS_Shape& face, const gp_Ax3& frame, double spacing, double angle,
                                  double deflection) {
    const gp_Vec along = gp_Vec(frame.XDirection()) * std::cos(angle) + gp_Vec(frame.YDirection()) * std::sin(angle);
    const gp_Vec across = gp_Vec(frame.XDirection()) * -std::sin(angle) + gp_Vec(frame.YDirection()) * std::cos(angle);
    const auto bits = boundary_bits(face, frame.Location(), along, across, deflection);
    std::vector<Segment3> lines;
    for (const Span& span : spans_within(bits, spacing)) {
        const gp_Pnt base = frame.Location().Translated(across * span.v);
        lines.push_back({base.Translated(along * span.from), base.Translated(along * span.to)});
    }
    return lines;
}

} // namespace kervo::geom
