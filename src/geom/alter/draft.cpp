#include "geom/alter/draft.h"

#include "geom/alter/alteration.h"
#include "geom/kernel/face_foot.h"
#include "geom/measure/pick.h"

#include <BRepLib.hxx>
#include <BRepOffsetAPI_DraftAngle.hxx>
#include <BRep_Tool.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS.hxx>

#include <cmath>

namespace kervo::geom {

namespace {

Finding at_face(const char* code, const char* cause, const char* mend, const TopoDS_Shape& face) {
    Finding finding = error_finding(code, cause, mend);
    add_place(finding, center_of(face));
    return finding;
}

// Where side and round follow each other smoothly, the kernel's corners may lie a little off the edges. Its own
// tolerances then say how far. Null where they would be too loose.
TopoDS_Shape with_true_tolerances(const TopoDS_Shape& made) {
    constexpr double loosest = 1e-5; // mm
    BRepLib::UpdateTolerances(made, Standard_True);
    for (const TopoDS_Shape& vertex : vertices_of(made)) {
        if (BRep_Tool::Tolerance(TopoDS::Vertex(vertex)) > loosest) {
            return {};
        }
    }
    return made;
}

// Whether a face leans as it should: by the angle, at some of its places; and the lines that lead down its slope from
// there meet the neutral plane where they meet the face as it was.
bool leans(const TopoDS_Face& now, const TopoDS_Face& before, const gp_Pln& neutral, double angle) {
    constexpr double close = 1e-6; // rad, mm
    const gp_Dir up = neutral.Axis().Direction();
    for (const gp_Pnt& place : places_on(now)) {
        const auto foot = foot_on(now, place);
        if (!foot) {
            return false;
        }
        if (!foot->normal) {
            continue; // the tip of a cone
        }
        const double leaning = foot->normal->Dot(up);
        if (std::fabs(std::fabs(std::asin(leaning)) - std::fabs(angle)) > close) {
            return false;
        }
        const gp_Vec slope = gp_Vec(up) - leaning * gp_Vec(*foot->normal);
        const double height = gp_Vec(neutral.Location(), place).Dot(up);
        const gp_Pnt stood = place.Translated(slope * (-height / slope.Dot(up)));
        const auto on = foot_on(before, stood);
        if (!on || on->distance > close * (1 + std::fabs(height))) {
            return false;
        }
    }
    return true;
}

} // namespace

Result<Altered> draft_faces(const TopoDS_Shape& body, const std::vector<TopoDS_Face>& faces, const gp_Pln& neutral,
                            double angle) {
    Altered altered;
    std::vector<TopoDS_Shape> solids;
    for (const TopoDS_Shape& solid : solids_of(body)) {
        const auto here = those_on(solid, faces, [](const TopoDS_Face& face) { return face; });
        if (here.empty()) {
            keep(solid, altered, solids);
            continue;
        }
        try {
            const CopyNearOrigin own(solid);
            const gp_Pln stands_on = neutral.Transformed(own.way_there());
            BRepOffsetAPI_DraftAngle maker(own.shape());
            for (const TopoDS_Face& face : here) {
                maker.Add(TopoDS::Face(own.of(face)), neutral.Axis().Direction(), angle, stands_on);
                if (!maker.AddDone()) {
                    return at_face("draft.face", "This face cannot lean about that plane.",
                                   "Pick flat, cylindrical or conical faces that stand on the neutral plane.", face);
                }
            }
            maker.Build();
            TopoDS_Shape made = maker.IsDone() ? maker.Shape() : TopoDS_Shape();
            if (!made.IsNull() && !is_valid(made)) {
                made = with_true_tolerances(made);
            }
            if (!is_sound_after(own.shape(), made)) {
                return at_face("draft.failed", "These faces cannot lean so far.",
                               "Choose a smaller angle, or let their neighbours lean as well.", here.front());
            }
            // The kernel rebuilds the solid face by face, in their order; its own history forgets wires that it mended.
            const auto before = faces_of(solid);
            const auto now = faces_of(made);
            for (size_t i = 0; now.size() == before.size() && i < now.size(); ++i) {
                const bool wanted =
                    std::any_of(here.begin(), here.end(), [&](const auto& face) { return face.IsSame(before[i]); });
                if (wanted && !leans(TopoDS::Face(now[i]), TopoDS::Face(own.of(before[i])), stands_on, angle)) {
                    return at_face("draft.failed", "This face would not lean as it should.",
                                   "Choose another angle, or let fewer faces lean at once.", before[i]);
                }
                altered.origins.push_back({own.back(now[i]), before[i]});
            }
            made = own.back(made);
            solids.push_back(made);
        } catch (const Standard_Failure&) {
            return at_face("draft.failed", "These faces cannot lean so far.",
                           "Choose a smaller angle, or let their neighbours lean as well.", here.front());
        }
    }
    altered.shape = gather(solids);
    return altered;
}

} // namespace kervo::geom
