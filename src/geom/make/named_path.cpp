#include "geom/make/named_path.h"

#include "geom/outline/path.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepTools_WireExplorer.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_IntCS.hxx>
#include <Geom_Plane.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::geom {

gp_Pnt Path::Part::start() const {
    return BRep_Tool::Pnt(TopExp::FirstVertex(edge, Standard_True));
}

gp_Pnt Path::Part::end() const {
    return BRep_Tool::Pnt(TopExp::LastVertex(edge, Standard_True));
}

gp_Vec Path::Part::heading(bool at_start) const {
    const BRepAdaptor_Curve curve(edge);
    const bool back = edge.Orientation() == TopAbs_REVERSED;
    gp_Pnt place;
    gp_Vec along;
    curve.D1(at_start != back ? curve.FirstParameter() : curve.LastParameter(), place, along);
    return (back ? along.Reversed() : along).Normalized();
}

Result<Path> path_of(const std::vector<Path::Part>& edges, const gp_Pnt& near) {
    std::vector<TopoDS_Shape> loose;
    for (const auto& part : edges) {
        loose.push_back(part.edge);
    }
    const auto chain = chain_of(loose);
    if (!chain) {
        return chain.finding();
    }
    Path path;
    for (BRepTools_WireExplorer it(*chain); it.More(); it.Next()) {
        const auto named =
            std::find_if(edges.begin(), edges.end(), [&](const auto& part) { return part.edge.IsSame(it.Current()); });
        path.parts.push_back(
            {it.Current(), named == edges.end() ? std::to_string(path.parts.size() + 1) : named->name});
    }
    if (path.parts.size() != edges.size()) {
        return error_finding("path.broken", "These edges do not join to one chain.",
                             "Take edges that follow each other end to end.");
    }
    path.closed = path.parts.front().start().Distance(path.parts.back().end()) < 1e-5;
    if (path.closed) {
        const auto first =
            std::min_element(path.parts.begin(), path.parts.end(), [&](const auto& one, const auto& other) {
                return one.start().Distance(near) < other.start().Distance(near);
            });
        std::rotate(path.parts.begin(), first, path.parts.end());
    } else if (path.parts.back().end().Distance(near) < path.parts.front().start().Distance(near)) {
        std::reverse(path.parts.begin(), path.parts.end());
        for (auto& part : path.parts) {
            part.edge.Reverse();
        }
    }
    return path;
}

std::optional<Turn> turn_of(const Path::Part& part) {
    const BRepAdaptor_Curve curve(part.edge);
    if (curve.GetType() != GeomAbs_Circle) {
        return std::nullopt;
    }
    const double angle = curve.LastParameter() - curve.FirstParameter();
    const bool back = part.edge.Orientation() == TopAbs_REVERSED;
    return Turn{curve.Circle().Axis(), back ? -angle : angle};
}
bool is_line(const Path::Part& part) {
    return BRepAdaptor_Curve(part.edge).GetType() == GeomAbs_Line;
}

Finding path_lies_apart() {
    return error_finding("path.apart", "The profile does not lie at the start of the path.",
                         "Draw it on a plane through the start, or let it be laid square to the path there.");
}

namespace {

// A part of the path from `from` to `to`, in the parameters of its curve, as it is passed.
Path::Part part_between(const Path::Part& part, double from, double to) {
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(part.edge, first, last);
    const TopoDS_Edge edge = BRepBuilderAPI_MakeEdge(curve, from, to).Edge();
    return {TopoDS::Edge(edge.Oriented(part.edge.Orientation())), part.name};
}

} // namespace

Result<BegunPath> begun_at(const Path& path, const gp_Pln& plane, const gp_Pnt& center, bool turning) {
    constexpr double near = 1e-5; // mm
    if (plane.Distance(path.parts.front().start()) < near) {
        return BegunPath{path, {}};
    }
    if (!path.closed) {
        return path_lies_apart();
    }
    size_t part = 0;
    double at = 0;
    double least = -1;
    for (size_t i = 0; i < path.parts.size(); ++i) {
        double first = 0;
        double last = 0;
        const Handle(Geom_Curve) curve = BRep_Tool::Curve(path.parts[i].edge, first, last);
        const GeomAPI_IntCS meeting(new Geom_TrimmedCurve(curve, first, last), new Geom_Plane(plane));
        for (int k = 1; meeting.IsDone() && k <= meeting.NbPoints(); ++k) {
            const double away = meeting.Point(k).Distance(center);
            if (least < 0 || away < least) {
                double u = 0;
                double v = 0;
                meeting.Parameters(k, u, v, at);
                part = i;
                least = away;
            }
        }
    }
    if (least < 0) {
        return path_lies_apart();
    }
    BegunPath result{path, {}};
    Path& begun = result.path;
    const Path::Part cut = path.parts[part];
    std::rotate(begun.parts.begin(), begun.parts.begin() + static_cast<long>(part), begun.parts.end());
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(cut.edge, first, last);
    const bool back = cut.edge.Orientation() == TopAbs_REVERSED;
    if (curve->Value(back ? last : first).Distance(curve->Value(at)) < near) {
        return result;
    }
    if (curve->Value(back ? first : last).Distance(curve->Value(at)) < near) {
        std::rotate(begun.parts.begin(), begun.parts.begin() + 1, begun.parts.end());
        return result;
    }
    const double half = (first + last) / 2;
    if (is_line(cut)) {
        result.carried.SetTranslation(curve->Value(at), curve->Value(half));
        at = half;
    } else if (turning && turn_of(cut)) { // a circle's parameter is its angle
        result.carried.SetRotation(BRepAdaptor_Curve(cut.edge).Circle().Axis(), half - at);
        at = half;
    }
    begun.parts.front() = back ? part_between(cut, first, at) : part_between(cut, at, last);
    begun.parts.push_back(back ? part_between(cut, at, last) : part_between(cut, first, at));
    return result;
}

} // namespace kervo::geom
