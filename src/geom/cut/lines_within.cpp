#include "geom/cut/lines_within.h"

#include "geom/kernel/rebuild.h"
#include "geom/measure/measure.h"

#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>
#include <TopoDS_Wire.hxx>

#include <algorithm>

namespace kervo::geom {

std::vector<TopoDS_Shape> lines_within(const TopoDS_Face& face) {
    std::vector<TopoDS_Shape> lines;
    for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
        if (it.Current().Orientation() == TopAbs_INTERNAL) {
            lines.push_back(it.Current());
        }
    }
    return lines;
}

TopoDS_Face without_lines_within(const TopoDS_Face& face) {
    const auto is_within = [](const TopoDS_Shape& edge) {
        return edge.Orientation() == TopAbs_INTERNAL || edge.Orientation() == TopAbs_EXTERNAL;
    };
    const BRep_Builder builder;
    std::vector<TopoDS_Shape> loops;
    bool any = false;
    for (TopoDS_Iterator loop(face.Oriented(TopAbs_FORWARD)); loop.More(); loop.Next()) {
        TopoDS_Wire left;
        builder.MakeWire(left);
        bool bounds = false;
        for (TopoDS_Iterator edge(loop.Value()); edge.More(); edge.Next()) {
            if (is_within(edge.Value()) || is_within(loop.Value())) {
                any = true;
            } else {
                builder.Add(left, edge.Value());
                bounds = true;
            }
        }
        if (bounds) {
            left.Closed(Standard_True);
            loops.push_back(left);
        }
    }
    return any ? face_with_loops(face, loops) : face;
}

gp_Pnt loose_end(const TopoDS_Shape& line, const TopoDS_Face& face) {
    for (const TopoDS_Shape& vertex : vertices_of(line)) {
        const auto all = edges_of(face);
        const auto uses = std::count_if(all.begin(), all.end(), [&](const TopoDS_Shape& edge) {
            const auto ends = vertices_of(edge);
            return std::any_of(ends.begin(), ends.end(), [&](const TopoDS_Shape& end) { return end.IsSame(vertex); });
        });
        if (uses == 1) {
            return BRep_Tool::Pnt(TopoDS::Vertex(vertex));
        }
    }
    return center_of(line);
}

} // namespace kervo::geom
