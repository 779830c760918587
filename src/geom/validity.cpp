#include <CGAL/box_intersection_d.h>

#include "geom/measure.h"

#include "geom/body_index.h"
#include "geom/flat_outline.h"
#include "geom/profile.h"

#include <BRepCheck_Analyzer.hxx>
#include <BRepCheck_Shell.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>

namespace kervo::geom {

namespace {

constexpr int many_loops = 64;
constexpr size_t at_a_time = 24;

// That no two inner loops meet, and none lies in another: what the kernel asks of every pair, here of those alone whose
// boxes meet. Loops that are nearer than what can be proven are left to the kernel.
bool loops_are_apart(const TopoDS_Face& face, const std::vector<TopoDS_Shape>& loops) {
    using Entry = CGAL::Box_intersection_d::Box_with_info_d<double, 3, int>;
    const gp_Ax3 frame = frame_on_plane(*plane_of(face));
    std::vector<FlatOutline> outlines;
    std::vector<Entry> boxes;
    for (const TopoDS_Shape& loop : loops) {
        auto outline = flatten(loop, frame);
        if (!outline) {
            return false;
        }
        outlines.push_back(std::move(*outline));
        const Box box = box_of_wire(loop);
        boxes.emplace_back(CGAL::Bbox_3(box.low[0], box.low[1], box.low[2], box.high[0], box.high[1], box.high[2]),
                           static_cast<int>(boxes.size()));
    }
    bool apart = true;
    CGAL::box_self_intersection_d(boxes.begin(), boxes.end(), [&](const Entry& one, const Entry& other) {
        const FlatOutline& a = outlines[static_cast<size_t>(one.info())];
        const FlatOutline& b = outlines[static_cast<size_t>(other.info())];
        apart = apart && a.apart_from(b) && !a.contains(b.start) && !b.contains(a.start);
    });
    return apart;
}

// A flat face with many loops: some at a time beside the outer one by the kernel, and all against each other here.
bool many_loops_are_valid(const TopoDS_Face& given) {
    const BRep_Builder builder;
    const TopoDS_Face face = TopoDS::Face(given.Oriented(TopAbs_FORWARD));
    std::vector<TopoDS_Shape> loops;
    for (TopoDS_Iterator it(face); it.More(); it.Next()) {
        loops.push_back(it.Value());
    }
    const auto reach = [](const TopoDS_Shape& loop) {
        const Box box = box_of_wire(loop);
        return box.high[0] - box.low[0] + box.high[1] - box.low[1] + box.high[2] - box.low[2];
    };
    std::vector<double> reaches;
    std::transform(loops.begin(), loops.end(), std::back_inserter(reaches), reach);
    const auto outer = std::max_element(reaches.begin(), reaches.end()) - reaches.begin();
    std::swap(loops.front(), loops[static_cast<size_t>(outer)]);
    const std::vector<TopoDS_Shape> inner(loops.begin() + 1, loops.end());
    if (!loops_are_apart(face, inner)) {
        return BRepCheck_Analyzer(face).IsValid();
    }
    TopLoc_Location location;
    const Handle(Geom_Surface) surface = BRep_Tool::Surface(face, location);
    for (size_t from = 0; from < inner.size(); from += at_a_time) {
        TopoDS_Face part;
        builder.MakeFace(part, surface, location, BRep_Tool::Tolerance(face));
        builder.Add(part, loops.front());
        for (size_t i = from; i < std::min(inner.size(), from + at_a_time); ++i) {
            builder.Add(part, inner[i]);
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
