#include "geom/cut/score.h"

#include "geom/cut/lines_within.h"
#include "geom/kernel/boolean.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/fuse.h"
#include "geom/kernel/too_much.h"
#include "geom/measure/measure.h"

#include <BRepAlgoAPI_Section.hxx>
#include <BRep_Builder.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

Finding failed() {
    return error_finding("score.failed", "The outlines could not be drawn into the faces cleanly.",
                         "Move the bodies a little, so that they touch or overlap clearly.");
}

// Shells and faces of a shape put together again from what became of its faces.
class Rebuilding {
public:
    explicit Rebuilding(const Fuse& fuse) : fuse_(fuse) {}

    std::vector<FaceOrigin> origins;
    std::vector<gp_Pnt> loose_ends;

    TopoDS_Shape rebuilt(const TopoDS_Shape& shape) {
        const BRep_Builder builder;
        switch (shape.ShapeType()) {
        case TopAbs_FACE:
            return gather(images_of(TopoDS::Face(shape)));
        case TopAbs_SHELL: {
            TopoDS_Shell shell;
            builder.MakeShell(shell);
            for (const TopoDS_Shape& face : faces_of(shape)) {
                for (const TopoDS_Shape& image : images_of(TopoDS::Face(face))) {
                    builder.Add(shell, image);
                }
            }
            shell.Closed(is_closed(shell));
            return shell;
        }
        case TopAbs_SOLID: {
            TopoDS_Solid solid;
            builder.MakeSolid(solid);
            for (TopoDS_Iterator it(shape); it.More(); it.Next()) {
                builder.Add(solid, rebuilt(it.Value()));
            }
            return solid;
        }
        case TopAbs_COMPOUND:
        case TopAbs_COMPSOLID: {
            std::vector<TopoDS_Shape> parts;
            for (TopoDS_Iterator it(shape); it.More(); it.Next()) {
                parts.push_back(rebuilt(it.Value()));
            }
            return gather(parts);
        }
        default:
            return shape; // curves
        }
    }

private:
    std::vector<TopoDS_Shape> images_of(const TopoDS_Face& face) {
        std::vector<TopoDS_Shape> images;
        for (const TopoDS_Face& part : fuse_.parts_like(face)) {
            for (const TopoDS_Shape& line : lines_within(part)) {
                loose_ends.push_back(loose_end(line, part));
            }
            images.push_back(without_lines_within(part));
            origins.push_back({images.back(), face});
        }
        return images;
    }

    const Fuse& fuse_;
};

} // namespace

Result<Scored> score(const std::vector<TopoDS_Shape>& bodies, Progress& progress) {
    if (auto much = too_much_overlaps(bodies)) {
        return *much;
    }
    for (const double fuzziness : {0.0, 1e-6, 1e-5}) {
        try {
            const Fuse fuse(bodies, fuzziness, progress);
            if (progress.cancelled()) {
                return error_finding("score.cancelled", "Scoring was cancelled.", "");
            }
            if (!fuse.done()) {
                continue;
            }
            Scored scored;
            ByShape<int> first;
            Rebuilding rebuilding(fuse);
            bool sound = true;
            for (size_t i = 0; i < bodies.size(); ++i) {
                scored.bodies.push_back(rebuilding.rebuilt(bodies[i]));
                const TopoDS_Shape& made = scored.bodies.back();
                const double area = area_of(bodies[i]);
                sound = sound && std::fabs(area_of(made) - area) <= 1e-7 * area;
                if (!solids_of(bodies[i]).empty()) {
                    const double volume = volume_of(bodies[i]);
                    sound = sound && is_closed(made) && std::fabs(volume_of(made) - volume) <= 1e-7 * volume;
                }
                for (const TopoDS_Shape& face : faces_of(made)) {
                    if (const int* other = first.Seek(face)) {
                        scored.contacts.push_back({*other, static_cast<int>(i), face});
                    } else {
                        first.Bind(face, static_cast<int>(i));
                    }
                }
            }
            scored.origins = std::move(rebuilding.origins);
            scored.loose_ends = std::move(rebuilding.loose_ends);
            if (sound) {
                return scored;
            }
        } catch (const Standard_Failure&) { // try with more tolerance
        }
    }
    return failed();
}

Result<std::vector<MeetingCurve>> meeting_curves(const TopoDS_Shape& one, const TopoDS_Shape& other) {
    BRepAlgoAPI_Section section;
    section.ComputePCurveOn1(Standard_True);
    if (!run_boolean(section, one, other)) {
        return failed();
    }
    std::vector<MeetingCurve> curves;
    for (const TopoDS_Shape& edge : edges_of(section.Shape())) {
        MeetingCurve curve{edge, {}, {}};
        section.HasAncestorFaceOn1(edge, curve.on_one);
        section.HasAncestorFaceOn2(edge, curve.on_other);
        curves.push_back(curve);
    }
    return curves;
}

} // namespace kervo::geom
