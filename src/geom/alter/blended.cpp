#include "geom/alter/blended.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRep_Tool.hxx>
#include <GeomLProp_SLProps.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Vertex.hxx>

namespace kervo::geom {

namespace {

std::optional<gp_Vec> normal_along(const TopoDS_Edge& edge, const TopoDS_Face& face, double parameter) {
    double first = 0;
    double last = 0;
    const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(edge, face, first, last);
    if (flat.IsNull()) {
        return std::nullopt;
    }
    const gp_Pnt2d at = flat->Value(parameter);
    GeomLProp_SLProps local(BRep_Tool::Surface(face), at.X(), at.Y(), 1, 1e-9);
    if (!local.IsNormalDefined()) {
        return std::nullopt;
    }
    const gp_Vec normal(local.Normal());
    return face.Orientation() == TopAbs_REVERSED ? -normal : normal;
}

} // namespace

EdgeFaces faces_by_edge(const TopoDS_Shape& shape) {
    EdgeFaces map;
    TopExp::MapShapesAndAncestors(shape, TopAbs_EDGE, TopAbs_FACE, map);
    return map;
}

std::vector<TopoDS_Face> faces_at(const EdgeFaces& map, const TopoDS_Edge& edge) {
    std::vector<TopoDS_Face> beside;
    if (const auto* found = map.Seek(edge)) {
        for (const TopoDS_Shape& face : *found) {
            beside.push_back(TopoDS::Face(face));
        }
    }
    return beside;
}

double turn_at(const TopoDS_Edge& edge, const std::vector<TopoDS_Face>& beside, double fraction) {
    const BRepAdaptor_Curve curve(edge);
    const double at = curve.FirstParameter() + fraction * (curve.LastParameter() - curve.FirstParameter());
    const auto one = normal_along(edge, beside.front(), at);
    const auto other = normal_along(edge, beside.back(), at);
    return one && other ? one->Angle(*other) : 0;
}

gp_Pnt middle_of(const TopoDS_Edge& edge) {
    const BRepAdaptor_Curve curve(edge);
    return curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2);
}

std::vector<BorderPlace> places_along(const TopoDS_Edge& edge, const TopoDS_Face& face) {
    constexpr int places = 8;
    std::vector<BorderPlace> along;
    if (BRep_Tool::Degenerated(edge)) {
        return along;
    }
    const BRepAdaptor_Curve curve(edge);
    for (int i = 0; i < places; ++i) {
        const double at =
            curve.FirstParameter() + (i + 0.5) / places * (curve.LastParameter() - curve.FirstParameter());
        if (const auto normal = normal_along(edge, face, at)) {
            along.push_back({curve.Value(at), *normal});
        }
    }
    return along;
}

bool are_within(const std::vector<Altered::Made>& made, const TopoDS_Shape& solid) {
    constexpr double slack = 1e-3; // mm; boxes of curved faces are as loose as that
    const auto outer = rough_box_of(solid);
    for (const auto& each : made) {
        const auto inner = box_of(each.face);
        for (size_t i = 0; i < 3; ++i) {
            if (inner[i] < outer[i] - slack || inner[i + 3] > outer[i + 3] + slack) {
                return false;
            }
        }
    }
    return true;
}

RoundedEdge in_the_copy(RoundedEdge wanted, const CopyNearOrigin& own, double share) {
    wanted.size *= share;
    if (wanted.end_size) {
        *wanted.end_size *= share;
    }
    wanted.edge = TopoDS::Edge(own.of(wanted.edge));
    wanted.from = own.of(wanted.from);
    return wanted;
}

BevelledEdge in_the_copy(BevelledEdge wanted, const CopyNearOrigin& own, double share) {
    wanted.distance *= share;
    if (wanted.other) {
        *wanted.other *= share;
    }
    wanted.edge = TopoDS::Edge(own.of(wanted.edge));
    wanted.on = TopoDS::Face(own.of(wanted.on));
    return wanted;
}

bool is_sharp(const TopoDS_Edge& edge, const std::vector<TopoDS_Face>& beside) {
    if (beside.size() != 2 || beside[0].IsSame(beside[1]) || BRep_Tool::Degenerated(edge)) {
        return false;
    }
    return turn_at(edge, beside, 0.5) > flat_angle || turn_at(edge, beside, 0.25) > flat_angle;
}

std::optional<Finding> smooth_edge(const TopoDS_Shape& body, const std::vector<TopoDS_Edge>& edges) {
    const EdgeFaces map = faces_by_edge(body);
    for (const TopoDS_Edge& edge : edges) {
        if (!is_sharp(edge, faces_at(map, edge))) {
            Finding finding = error_finding("blend.smooth", "The faces beside this edge do not meet at an angle.",
                                            "Take it off the list.");
            add_place(finding, middle_of(edge));
            return finding;
        }
    }
    return std::nullopt;
}

Finding blend_finding(const Blended& failed, const std::string& what, double size, bool only_size,
                      const std::function<bool(double)>& works) {
    Finding finding = failed.outcome == Outcome::open_end
                          ? error_finding("blend.open_end", "The size cannot change along this chain from there.",
                                          "Take an open chain, and let it begin at one of its ends.")
                          : error_finding("blend.failed", "These edges cannot be " + what + " by this size.",
                                          "Choose another size, or fewer edges.");
    for (const gp_Pnt& place : failed.faulty) {
        add_place(finding, place);
    }
    const double fits = failed.outcome == Outcome::open_end ? 0 : largest_share(12, works);
    if (fits > 0) {
        finding.cause += " The largest that fits is about " + fitting(fits * size) + ".";
        if (only_size) {
            finding.offers.push_back(offer_of_size(fits * size));
        }
    }
    return finding;
}

} // namespace kervo::geom
