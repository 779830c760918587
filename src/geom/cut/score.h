// Scoring: the outlines of bodies, and curves, drawn into the faces of others. Nothing is removed.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/kernel/shape.h"

namespace kervo::geom {

struct Scored {
    std::vector<TopoDS_Shape> bodies; ///< in the order of the inputs; curves as they were
    std::vector<FaceOrigin> origins;  ///< of the faces of all of them, each on a face of its own body
    struct Contact {
        int one = 0, other = 0; ///< bodies that share the face: they match there, vertex on vertex
        TopoDS_Shape face;
    };
    std::vector<Contact> contacts;
    std::vector<gp_Pnt> loose_ends; ///< of lines that end within a face: they divide nothing, and are left out
};

/// Each body's faces divided where those of the others meet them; bodies may touch, overlap, or be curves. What lies on
/// each other becomes the same face. Promises closed solids of the same volume. Findings: score.failed,
/// score.cancelled.
Result<Scored> score(const std::vector<TopoDS_Shape>& bodies, Progress& progress);

struct MeetingCurve {
    TopoDS_Shape edge;
    TopoDS_Shape on_one, on_other; ///< the faces that meet there; null where that is not known
};
/// Where the faces of two bodies meet. Finding: score.failed.
Result<std::vector<MeetingCurve>> meeting_curves(const TopoDS_Shape& one, const TopoDS_Shape& other);

} // namespace kervo::geom
