// Prisms with leaning sides, and sweeps that end in the shape of what they meet.
#include "geom/alter/draft.h"
#include "geom/kernel/fuse.h"
#include "geom/measure/measure.h"
#include "geom/outline/leaning_walls.h"
#include "geom/outline/profile.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRep_Tool.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

Result<ShapeWithRoles> make_tapered_prism(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, double start,
                                          double end, double angle) {
    if (ShapeWithRoles leaning = make_leaning_prism(frame, loops, start, end, angle); !leaning.shape.IsNull()) {
        return leaning;
    }
    const ShapeWithRoles straight = make_prism(frame, loops, start, end);
    std::vector<TopoDS_Face> sides;
    for (const FaceRole& role : straight.roles) {
        if (role.role != "start" && role.role != "end") {
            sides.push_back(TopoDS::Face(role.face));
        }
    }
    const gp_Vec way = gp_Vec(frame.Direction()) * (end > start ? 1 : -1);
    const gp_Pnt foot = frame.Location().Translated(gp_Vec(frame.Direction()) * start);
    const auto leaning = draft_faces(straight.shape, sides, gp_Pln(foot, gp_Dir(way)), angle);
    if (!leaning) {
        return error_finding("profile.taper", "These sides cannot lean so far.",
                             "Choose a smaller taper; only sides over lines and arcs lean.");
    }
    ShapeWithRoles made{leaning->shape, {}};
    for (const FaceRole& role : straight.roles) {
        for (const FaceOrigin& origin : leaning->origins) {
            if (origin.source.IsSame(role.face)) {
                made.roles.push_back({origin.result, role.role});
            }
        }
    }
    return made;
}

Result<ShapeWithRoles> end_at(const ShapeWithRoles& solid, const TopoDS_Shape& end) {
    const Finding misses =
        error_finding("profile.no_end", "What it should end at does not lie across the whole profile.",
                      "Choose another end, or a smaller profile.");
    Progress progress;
    const Fuse fuse({solid.shape, end}, 0, progress);
    if (!fuse.done()) {
        return misses;
    }
    std::vector<TopoDS_Shape> starts;
    for (const FaceRole& role : solid.roles) {
        if (role.role == "start") {
            starts = fuse.images_of(role.face);
        }
    }
    std::vector<TopoDS_Shape> parts;
    for (const TopoDS_Shape& each : solids_of(solid.shape)) {
        const auto images = fuse.images_of(each);
        parts.insert(parts.end(), images.begin(), images.end());
    }
    if (starts.size() != 1 || parts.size() < 2) {
        return misses;
    }
    const auto holds = [](const TopoDS_Shape& part, const TopoDS_Shape& face) {
        const auto faces = faces_of(part);
        return std::any_of(faces.begin(), faces.end(), [&](const TopoDS_Shape& f) { return f.IsSame(face); });
    };
    const auto part =
        std::find_if(parts.begin(), parts.end(), [&](const TopoDS_Shape& p) { return holds(p, starts.front()); });
    if (part == parts.end()) {
        return misses;
    }
    ShapeWithRoles made{*part, {}};
    TopTools_MapOfShape known;
    for (const FaceRole& role : solid.roles) {
        for (const TopoDS_Shape& image : fuse.images_of(role.face)) {
            if (holds(*part, image)) {
                if (role.role == "end") {
                    return misses; // it runs past what it should end at
                }
                made.roles.push_back({image, role.role});
                known.Add(image);
            }
        }
    }
    for (const TopoDS_Shape& face : faces_of(*part)) {
        if (!known.Contains(face)) {
            made.roles.push_back({face, "end"});
        }
    }
    return made;
}

TopoDS_Shape extended(const TopoDS_Shape& face, double reach) {
    const BRepAdaptor_Surface surface(TopoDS::Face(face));
    const Handle(Geom_Surface) whole = BRep_Tool::Surface(TopoDS::Face(face));
    double u0 = 0;
    double u1 = 0;
    double v0 = 0;
    double v1 = 0;
    whole->Bounds(u0, u1, v0, v1);
    if (surface.GetType() == GeomAbs_Cylinder || surface.GetType() == GeomAbs_Cone) {
        v0 = surface.FirstVParameter() - reach;
        v1 = surface.LastVParameter() + reach;
        if (surface.GetType() == GeomAbs_Cone) { // not past its tip
            const gp_Cone cone = surface.Cone();
            const double tip = -cone.RefRadius() / std::sin(cone.SemiAngle());
            (surface.FirstVParameter() >= tip - coincidence ? v0 : v1) =
                surface.FirstVParameter() >= tip - coincidence ? std::max(v0, tip) : std::min(v1, tip);
        }
    }
    return BRepBuilderAPI_MakeFace(whole, u0, u1, v0, v1, coincidence).Face();
}

} // namespace kervo::geom
