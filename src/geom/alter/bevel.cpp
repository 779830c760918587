#include "geom/alter/alteration.h"
#include "geom/alter/blended.h"

#include <ChFi3d_ChBuilder.hxx>
#include <ChFiDS_Spine.hxx>
#include <TopOpeBRepBuild_HBuilder.hxx>
#include <TopoDS.hxx>

#include <cmath>

namespace kervo::geom {

namespace {

// Bevels, as the kernel's own class makes them, which lets nobody say how closely.
class BevelMaker {
public:
    BevelMaker(const TopoDS_Shape& solid, Working working) : builder_(solid) { set_working(builder_, working); }

    void add(const TopoDS_Edge& edge, const TopoDS_Face& on, double distance, double other) {
        builder_.Add(distance, other, edge, on);
    }
    void add_by_angle(const TopoDS_Edge& edge, const TopoDS_Face& on, double distance, double angle) {
        builder_.AddDA(distance, angle, edge, on);
    }
    [[nodiscard]] int Contour(const TopoDS_Edge& edge) const { return builder_.Contains(edge); }
    [[nodiscard]] Chain chain(int contour) const {
        const Handle(ChFiDS_Spine) spine = builder_.Value(contour);
        std::vector<TopoDS_Edge> edges;
        for (int i = 1; i <= spine->NbEdges(); ++i) {
            edges.push_back(spine->Edges(i));
        }
        return Chain(edges);
    }
    void Build() { builder_.Compute(); }
    [[nodiscard]] bool IsDone() const { return builder_.IsDone(); }
    [[nodiscard]] TopoDS_Shape Shape() const { return builder_.Shape(); }
    const TopTools_ListOfShape& Generated(const TopoDS_Shape& source) { return builder_.Generated(source); }
    const TopTools_ListOfShape& Modified(const TopoDS_Shape& face) {
        modified_.Clear();
        for (const TopAbs_State state : {TopAbs_OUT, TopAbs_IN, TopAbs_ON}) {
            if (builder_.Builder()->IsSplit(face, state)) {
                TopTools_ListOfShape parts = builder_.Builder()->Splits(face, state);
                modified_.Append(parts);
            }
        }
        return modified_;
    }

private:
    ChFi3d_ChBuilder builder_;
    TopTools_ListOfShape modified_;
};

// How far the border of a bevel on one side is from where it belongs.
struct BorderOff {
    double by_distance = 0; ///< mm, from the first distance
    double by_other = 0;    ///< mm, from the other
    double by_angle = 0;    ///< rad
};

// In the plane square to the edge: the angle between a face and the bevel, whose normals these are.
double angle_between(const gp_Vec& face, const gp_Vec& bevel, const gp_Vec& along) {
    const double angle = face.Crossed(along).Angle(bevel.Crossed(along));
    return std::min(angle, std::numbers::pi - angle);
}

BorderOff border_off(const TopoDS_Edge& border, const TopoDS_Face& bevel, const TopoDS_Face& side, const Chain& chain,
                     const BevelledEdge& wanted) {
    BorderOff off;
    const auto on_side = places_along(border, side);
    const auto on_bevel = places_along(border, bevel);
    for (size_t i = 0; on_side.size() == on_bevel.size() && i < on_bevel.size(); ++i) {
        const auto foot = chain.foot_of(on_bevel[i].place);
        if (!foot) {
            continue;
        }
        off.by_distance = std::max(off.by_distance, std::fabs(foot->distance - wanted.distance));
        if (wanted.angle) {
            const double least = std::min(*wanted.angle, std::numbers::pi - *wanted.angle);
            off.by_angle = std::max(
                off.by_angle, std::fabs(angle_between(on_side[i].normal, on_bevel[i].normal, foot->along) - least));
        } else {
            off.by_other = std::max(off.by_other, std::fabs(foot->distance - wanted.other.value_or(wanted.distance)));
        }
    }
    return off;
}

// A chain that was bevelled, as its first edge wanted it.
struct BevelledChain {
    BevelledEdge wanted;
    Chain chain;
    TopTools_MapOfShape beside; ///< the faces at its edges
};

BevelledChain bevelled(const BevelledEdge& wanted, const Chain& chain, const EdgeFaces& before) {
    BevelledChain made{wanted, chain, {}};
    for (const TopoDS_Edge& edge : chain.edges()) {
        for (const TopoDS_Face& face : faces_at(before, edge)) {
            made.beside.Add(face);
        }
    }
    return made;
}

// How far the borders of a bevel are from where they belong, mm: as far from the edge as was asked, at some places of
// each border on a face that was beside the edge. `sources`: of the faces that are there `now`.
double bevel_off(const TopoDS_Face& bevel, const ByShape<TopoDS_Shape>& sources, const EdgeFaces& now,
                 const BevelledChain& along) {
    const auto& [wanted, chain, beside] = along;
    const auto is_side = [&sources, &beside = beside](const TopoDS_Face& face) {
        const TopoDS_Shape* source = sources.Seek(face);
        return source != nullptr && beside.Contains(*source);
    };
    std::vector<BorderOff> sides;
    for (const TopoDS_Shape& border : edges_of(bevel)) {
        for (const TopoDS_Face& face : faces_at(now, TopoDS::Edge(border))) {
            if (!face.IsSame(bevel) && is_side(face)) {
                sides.push_back(border_off(TopoDS::Edge(border), bevel, face, chain, wanted));
            }
        }
    }
    double worst = 0;
    if (wanted.angle) { // measured on one of the sides, that with the distance
        const auto least = std::min_element(sides.begin(), sides.end(), [](const BorderOff& a, const BorderOff& b) {
            return a.by_distance < b.by_distance;
        });
        return least == sides.end() ? 0 : std::max(least->by_distance, least->by_angle * wanted.distance);
    }
    for (const BorderOff& side : sides) {
        worst = std::max(worst, std::min(side.by_distance, side.by_other));
    }
    return worst;
}

Blended bevel_once(const TopoDS_Shape& solid, const std::vector<BevelledEdge>& edges, Working working) {
    Blended blended;
    try {
        BevelMaker maker(solid, working);
        const EdgeFaces before = faces_by_edge(solid);
        std::vector<BevelledChain> chains;
        for (const BevelledEdge& wanted : edges) {
            if (maker.Contour(wanted.edge) != 0) {
                continue;
            }
            if (wanted.angle) {
                maker.add_by_angle(wanted.edge, wanted.on, wanted.distance, *wanted.angle);
            } else {
                maker.add(wanted.edge, wanted.on, wanted.distance, wanted.other.value_or(wanted.distance));
            }
            const int contour = maker.Contour(wanted.edge);
            if (contour == 0) {
                return blended;
            }
            blended.chains.push_back(maker.chain(contour));
            chains.push_back(bevelled(wanted, blended.chains.back(), before));
        }
        build(maker, solid, blended, [&](const Altered& altered, const TopoDS_Shape& shape) {
            const EdgeFaces now = faces_by_edge(shape);
            ByShape<TopoDS_Shape> sources;
            for (const FaceOrigin& origin : altered.origins) {
                sources.Bind(origin.result, origin.source);
            }
            double worst = 0;
            for (const Altered::Made& made : altered.made) {
                const int contour =
                    made.source.ShapeType() == TopAbs_EDGE ? maker.Contour(TopoDS::Edge(made.source)) : 0;
                if (contour > 0) {
                    worst = std::max(worst, bevel_off(TopoDS::Face(made.face), sources, now,
                                                      chains.at(static_cast<size_t>(contour - 1))));
                }
            }
            return std::optional(worst);
        });
    } catch (const Standard_Failure&) {
        blended.outcome = Outcome::failed;
    }
    if (blended.outcome != Outcome::done && edges.size() == 1) {
        blended.faulty.push_back(middle_of(edges.front().edge));
    }
    return blended;
}

} // namespace

Result<Altered> bevel_edges(const TopoDS_Shape& body, const std::vector<BevelledEdge>& edges) {
    const bool two = !edges.empty() && edges.front().other;
    const double size = edges.empty() ? 0 : edges.front().distance;
    return blend(body, edges, "bevelled", size, !two, bevel_once);
}

} // namespace kervo::geom
