#include "geom/kernel/box_pairs.h"

#include "geom/kernel/rebuild.h"
#include "geom/measure/measure.h"
#include "geom/outline/flat_outline.h"
#include "geom/outline/profile.h"
#include "geom/view/flat_mesh.h"

#include <BRepCheck_Analyzer.hxx>
#include <BRepCheck_Shell.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::geom {

namespace {

constexpr size_t at_a_time = 24;

// That no two inner loops meet, and none lies in another: what the kernel asks of every pair, here of those alone whose
// boxes meet. Loops that are nearer than what can be proven are left to the kernel.
bool loops_are_apart(const TopoDS_Face& face, const std::vector<BodyIndex::Loop>& loops) {
    const gp_Ax3 frame = frame_on_plane(*plane_of(face));
    std::vector<FlatOutline> outlines;
    std::vector<Box> boxes;
    for (const BodyIndex::Loop& loop : loops) {
        auto outline = flatten(loop.wire, frame);
        if (!outline) {
            return false;
        }
        outlines.push_back(std::move(*outline));
        boxes.push_back(loop.box);
    }
    bool apart = true;
    each_meeting_pair(boxes, [&](size_t a, size_t b) { apart = apart && outlines[a].outside_of(outlines[b]); });
    return apart;
}

// A flat face with many loops: some at a time beside the outer one by the kernel, and all against each other here.
bool many_loops_are_valid(const TopoDS_Face& given) {
    const BRep_Builder builder;
    const TopoDS_Face face = TopoDS::Face(given.Oriented(TopAbs_FORWARD));
    std::vector<BodyIndex::Loop> inner = loops_of(face);
    const auto at = std::find_if(inner.begin(), inner.end(), [](const auto& loop) { return loop.outer; });
    const TopoDS_Wire outer = at->wire;
    inner.erase(at);
    if (!loops_are_apart(face, inner)) {
        return BRepCheck_Analyzer(face).IsValid();
    }
    for (size_t from = 0; from < inner.size(); from += at_a_time) {
        TopoDS_Face part = same_surface(face);
        builder.Add(part, outer);
        for (size_t i = from; i < std::min(inner.size(), from + at_a_time); ++i) {
            builder.Add(part, inner[i].wire);
        }
        if (!BRepCheck_Analyzer(part).IsValid()) {
            return false;
        }
    }
    return true;
}

} // namespace

bool is_valid(const TopoDS_Shape& shape) {
    const auto faces = faces_of(shape);
    const auto large = [](const TopoDS_Shape& face) { return face.NbChildren() >= many_loops && plane_of(face); };
    if (std::none_of(faces.begin(), faces.end(), large)) {
        return BRepCheck_Analyzer(shape).IsValid();
    }
    for (const TopoDS_Shape& face : faces) {
        if (large(face) ? !many_loops_are_valid(TopoDS::Face(face)) : !BRepCheck_Analyzer(face).IsValid()) {
            return false;
        }
    }
    for (TopExp_Explorer it(shape, TopAbs_SHELL); it.More(); it.Next()) {
        BRepCheck_Shell shell(TopoDS::Shell(it.Current()));
        if (shell.Closed() != BRepCheck_NoError || shell.Orientation() != BRepCheck_NoError) {
            return false;
        }
    }
    return true;
}

} // namespace kervo::geom
