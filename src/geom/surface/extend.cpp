#include "geom/surface/extend.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/measure/self_crossing.h"
#include "geom/surface/assemble.h"
#include "geom/surface/border_side.h"
#include "geom/surface/sew.h"
#include "geom/surface/strip.h"

#include <BRep_Tool.hxx>
#include <Standard_Failure.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Vertex.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr double join_tolerance = 1e-5; // mm: parts are made where their border is

Finding failed() {
    return error_finding("extend.failed", "The surface could not go on there.",
                         "Choose another amount, or let it go on straight.");
}

// A border edge, and how it goes on.
struct Growing {
    BorderSide side;
    double amount = 0; // 0: it stays
    std::optional<FlatSide> flat;
};

class Growth {
public:
    Growth(const TopoDS_Shape& surface, const std::vector<BorderExtension>& borders, Continuation continuation)
        : continuation_(continuation) {
        for (BorderSide& side : border_sides(surface)) {
            double amount = 0;
            for (const BorderExtension& each : borders) {
                amount = each.edge.IsSame(side.edge) ? each.amount : amount;
            }
            auto flat = bends_beyond(side, continuation) ? std::nullopt : flat_side(side);
            all_.push_back({std::move(side), amount, std::move(flat)});
        }
        for (size_t i = 0; i < all_.size(); ++i) {
            for (const TopoDS_Vertex& end :
                 {TopExp::FirstVertex(all_[i].side.edge), TopExp::LastVertex(all_[i].side.edge)}) {
                entry(at_vertex_, end).push_back(i);
            }
        }
    }

    Result<std::vector<Strip>> strips() {
        std::vector<Strip> made;
        for (size_t i = 0; i < all_.size(); ++i) {
            const Growing& each = all_[i];
            if (each.amount == 0) {
                continue;
            }
            auto strip = each.flat ? flat_strip(i) : round_or_ruled_strip(each.side, each.amount, continuation_);
            if (!strip) {
                return strip.finding();
            }
            made.push_back(std::move(*strip));
        }
        return made;
    }

    /// Of what is added beyond a border, the edges that end it: that border as it is now, and those beside it.
    [[nodiscard]] std::vector<FaceOrigin> ends_of(const Strip& strip) const {
        const auto own = std::find_if(all_.begin(), all_.end(),
                                      [&](const Growing& each) { return each.side.edge.IsSame(strip.edge); });
        const auto is_at = [](const TopoDS_Shape& end, const TopoDS_Shape& edge) {
            return distance_to(edge, BRep_Tool::Pnt(TopoDS::Vertex(end))) < join_tolerance;
        };
        std::vector<FaceOrigin> ends;
        for (const TopoDS_Shape& edge : edges_of(strip.face)) {
            const auto corners = vertices_of(edge);
            const auto touching = std::find_if(corners.begin(), corners.end(),
                                               [&](const TopoDS_Shape& end) { return is_at(end, strip.edge); });
            if (touching == corners.end()) {
                ends.push_back({edge, strip.edge});
            } else if (!is_at(corners.back(), strip.edge) || !is_at(corners.front(), strip.edge)) {
                const Growing* beside =
                    neighbour(static_cast<size_t>(own - all_.begin()), BRep_Tool::Pnt(TopoDS::Vertex(*touching)));
                if (beside != nullptr) {
                    ends.push_back({edge, beside->side.edge});
                }
            }
        }
        return ends;
    }

private:
    Result<Strip> flat_strip(size_t i) {
        const FlatSide& flat = *all_[i].flat;
        const gp_Pnt outer[2]{corner(i, flat.ends[0]), corner(i, flat.ends[1])};
        if (gp_Vec(outer[0], outer[1]).Dot(flat.along) <= coincidence) {
            Finding finding = error_finding("extend.too_far", "Its neighbours leave no room for it to go on so far.",
                                            "Choose a smaller amount here.");
            add_place(finding, flat.ends[0]);
            return finding;
        }
        return quad(flat, outer[0], outer[1]);
    }

    // Where the outer line of a straight border ends, beyond an end of the border.
    [[nodiscard]] gp_Pnt corner(size_t i, const gp_Pnt& at) const {
        const Growing& mine = all_[i];
        const FlatSide& flat = *mine.flat;
        const gp_Pnt square = at.Translated(flat.off * mine.amount);
        const Growing* other = neighbour(i, at);
        if (other == nullptr || !other->flat) {
            return square;
        }
        const gp_Vec way = way_beside(flat, mine.amount, *other->flat, other->amount);
        const double rise = way.Dot(flat.off);
        return rise < 1e-9 * way.Magnitude() ? square : at.Translated(way * (mine.amount / rise));
    }

    // The line along which what is added ends there: where the two go on together, or the neighbour's own.
    static gp_Vec way_beside(const FlatSide& mine, double amount, const FlatSide& other, double others_amount) {
        const gp_Vec across = mine.normal.Crossed(other.normal);
        if (across.Magnitude() > 1e-9) { // two planes: their common line
            return across.Dot(mine.off) < 0 ? across.Reversed() : across;
        }
        if (others_amount == 0) {
            return other.along.Dot(mine.off) < 0 ? other.along.Reversed() : other.along;
        }
        // In one plane: the lines beyond both meet at so much of each way off.
        const double c = mine.off.Dot(other.off);
        const double s2 = 1 - c * c;
        if (s2 < 1e-12) {
            return mine.off;
        }
        return mine.off * ((amount - c * others_amount) / s2) + other.off * ((others_amount - c * amount) / s2);
    }

    [[nodiscard]] const Growing* neighbour(size_t i, const gp_Pnt& at) const {
        const TopoDS_Edge& edge = all_[i].side.edge;
        for (const TopoDS_Vertex& end : {TopExp::FirstVertex(edge), TopExp::LastVertex(edge)}) {
            const auto* here = at_vertex_.Seek(end);
            if (BRep_Tool::Pnt(end).Distance(at) < 1e-6 && here != nullptr && here->size() == 2) {
                return &all_[(*here)[0] == i ? (*here)[1] : (*here)[0]];
            }
        }
        return nullptr;
    }

    Continuation continuation_;
    std::vector<Growing> all_;
    ByShape<std::vector<size_t>> at_vertex_;
};

} // namespace

Result<Altered> extended_borders(const TopoDS_Shape& surface, const std::vector<BorderExtension>& borders,
                                 Continuation continuation, Progress& progress) try {
    Growth growth(surface, borders, continuation);
    const auto strips = growth.strips();
    if (!strips) {
        return strips.finding();
    }
    std::vector<TopoDS_Shape> parts{surface};
    ByShape<TopoDS_Shape> border_of;
    double wanted = area_of(surface);
    for (const Strip& strip : *strips) {
        parts.push_back(strip.face);
        border_of.Bind(strip.face, strip.edge);
        wanted += strip.area;
    }
    const auto sewn = sew(parts, join_tolerance, progress);
    if (!sewn) {
        return sewn.finding();
    }
    const Merged merged = side_by_side({sewn->shape});
    if (std::fabs(area_of(merged.shape) - wanted) > 1e-6 * wanted) {
        return failed();
    }
    if (const auto crossing = self_crossing(merged.shape)) {
        Finding finding = error_finding("extend.clash", "What is added would run through the surface here.",
                                        "Choose smaller amounts, or cut the surface there first.");
        add_place(finding, crossing->place);
        return finding;
    }
    Altered grown;
    grown.shape = merged.shape;
    ByShape<TopoDS_Shape> source_of;
    for (const FaceOrigin& origin : sewn->origins) {
        source_of.Bind(origin.result, origin.source);
    }
    ByShape<bool> known;
    std::vector<FaceOrigin> added;
    for (const FaceOrigin& origin : merged.origins) {
        const TopoDS_Shape& source = source_of.Find(origin.source);
        if (!border_of.IsBound(source)) {
            known.Bind(origin.result, true);
            grown.origins.push_back({origin.result, source});
        } else {
            added.push_back({origin.result, border_of.Find(source)});
        }
    }
    for (const Strip& strip : *strips) {
        const auto ends = growth.ends_of(strip);
        grown.origins.insert(grown.origins.end(), ends.begin(), ends.end());
    }
    for (const FaceOrigin& each : added) {
        if (!known.IsBound(each.result)) {
            known.Bind(each.result, true);
            grown.made.push_back({each.result, each.source});
        }
    }
    return grown;
} catch (const Standard_Failure&) {
    return failed();
}

} // namespace kervo::geom
