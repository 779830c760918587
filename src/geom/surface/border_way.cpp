#include "geom/surface/border_way.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/surface/borders.h"

#include <BRepAdaptor_Curve.hxx>
#include <GCPnts_AbscissaPoint.hxx>
#include <TopExp.hxx>
#include <TopoDS_Vertex.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

Finding told_at(Finding finding, const TopoDS_Edge& edge) {
    add_place(finding, center_of(edge));
    return finding;
}

} // namespace

Result<BorderWay> BorderWay::through(const TopoDS_Shape& surface, const std::vector<TopoDS_Edge>& edges, bool whole) {
    ByShape<bool> wanted;
    for (const TopoDS_Edge& edge : edges) {
        wanted.Bind(edge, true);
    }
    for (const Border& border : whole ? free_borders(surface) : std::vector<Border>{}) {
        if (std::any_of(border.edges.begin(), border.edges.end(),
                        [&](const TopoDS_Edge& edge) { return edge.IsSame(edges.front()); })) {
            for (const TopoDS_Edge& edge : border.edges) {
                wanted.Bind(edge, true);
            }
        }
    }
    std::vector<BorderSide> left = border_sides(surface);
    std::erase_if(left, [&](const BorderSide& side) { return !wanted.IsBound(side.edge); });
    for (const TopoDS_Edge& edge : edges) {
        if (std::none_of(left.begin(), left.end(), [&](const BorderSide& side) { return side.edge.IsSame(edge); })) {
            return told_at(error_finding("border.none", "This edge is no free border of a surface.",
                                         "Pick an edge that is drawn as one."),
                           edge);
        }
    }
    // End to end: from an end that only one edge has, or from the first edge of a ring.
    const auto uses = [&](const TopoDS_Vertex& vertex) {
        return std::count_if(left.begin(), left.end(), [&](const BorderSide& side) {
            return TopExp::FirstVertex(side.edge).IsSame(vertex) || TopExp::LastVertex(side.edge).IsSame(vertex);
        });
    };
    BorderWay way;
    size_t next = 0;
    bool forward = true;
    for (size_t i = 0; i < left.size(); ++i) {
        const TopoDS_Vertex first = TopExp::FirstVertex(left[i].edge);
        const TopoDS_Vertex last = TopExp::LastVertex(left[i].edge);
        if (!first.IsSame(last) && (uses(first) == 1 || uses(last) == 1)) {
            next = i;
            forward = uses(first) == 1;
            break;
        }
    }
    way.starts_ = {0};
    TopoDS_Vertex begin;
    TopoDS_Vertex end;
    while (true) {
        const BorderSide side = left[next];
        left.erase(left.begin() + static_cast<std::ptrdiff_t>(next));
        const TopoDS_Vertex from = forward ? TopExp::FirstVertex(side.edge) : TopExp::LastVertex(side.edge);
        end = forward ? TopExp::LastVertex(side.edge) : TopExp::FirstVertex(side.edge);
        begin = way.parts_.empty() ? from : begin;
        way.parts_.push_back({side, forward});
        way.starts_.push_back(way.starts_.back() + length_of(side.edge));
        const auto on = std::find_if(left.begin(), left.end(), [&](const BorderSide& each) {
            return TopExp::FirstVertex(each.edge).IsSame(end) || TopExp::LastVertex(each.edge).IsSame(end);
        });
        if (on == left.end()) {
            break;
        }
        next = static_cast<size_t>(on - left.begin());
        forward = TopExp::FirstVertex(on->edge).IsSame(end);
    }
    if (!left.empty()) {
        return told_at(error_finding("border.broken", "These borders do not join end to end here.",
                                     "Pick those between as well, or take this one off."),
                       left.front().edge);
    }
    way.closed_ = begin.IsSame(end);
    return way;
}

BorderWay BorderWay::around(const std::vector<BorderSide>& sides) {
    BorderWay way;
    way.closed_ = true;
    way.starts_ = {0};
    for (size_t i = 0; i < sides.size(); ++i) {
        const BorderSide& next = sides[(i + 1) % sides.size()];
        const auto to_next = [&](double t) {
            const gp_Pnt at = sides[i].place(t)->at;
            return std::min(at.Distance(next.place(next.first())->at), at.Distance(next.place(next.last())->at));
        };
        bool forward = to_next(sides[i].last()) <= to_next(sides[i].first());
        if (sides.size() == 2 && i == 1) { // both ends are ends of the other: on from where that one ends
            const BorderSide& first = sides[0];
            const gp_Pnt from = first.place(way.parts_[0].forward ? first.last() : first.first())->at;
            forward = sides[1].place(sides[1].first())->at.Distance(from) <=
                      sides[1].place(sides[1].last())->at.Distance(from);
        }
        way.parts_.push_back({sides[i], forward});
        way.starts_.push_back(way.starts_.back() + length_of(sides[i].edge));
    }
    return way;
}

std::optional<BorderSide::Place> BorderWay::at(double share, bool ahead) const {
    if (closed_) {
        share -= std::floor(share);
    }
    const double wanted = share * length();
    const double slack = 1e-9 * length();
    size_t i = 0;
    while (i + 1 < parts_.size() && (ahead ? starts_[i + 1] <= wanted + slack : starts_[i + 1] < wanted - slack)) {
        ++i;
    }
    if (!ahead && closed_ && wanted < slack) {
        i = parts_.size() - 1;
    }
    const auto& [side, forward] = parts_[i];
    const double along = !ahead && closed_ && wanted < slack ? starts_[i + 1] - starts_[i] : wanted - starts_[i];
    const BRepAdaptor_Curve curve(side.edge);
    const double full = starts_[i + 1] - starts_[i];
    double t = forward ? side.first() : side.last();
    if (std::fabs(along - full) < slack) {
        t = forward ? side.last() : side.first();
    } else if (std::fabs(along) > slack) {
        const GCPnts_AbscissaPoint point(1e-10, curve, forward ? along : -along, t);
        t = point.IsDone() ? point.Parameter() : t;
    }
    auto place = side.place(t);
    if (place && (place->along.Dot(gp_Vec(curve.DN(t, 1))) > 0) != forward) {
        place->along.Reverse();
    }
    return place;
}

std::vector<double> BorderWay::vertices() const {
    std::vector<double> shares;
    for (size_t i = closed_ ? 0 : 1; i + 1 < starts_.size(); ++i) {
        shares.push_back(starts_[i] / length());
    }
    return shares;
}

} // namespace kervo::geom
