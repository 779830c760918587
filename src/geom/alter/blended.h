// What rounds and bevels have in common: solid by solid, as closely as the kernel can, measured by other means.
#pragma once

#include "geom/alter/alteration.h"
#include "geom/alter/blend.h"
#include "geom/alter/chain.h"
#include "geom/alter/largest_fit.h"
#include "geom/kernel/tolerances.h"

#include <Standard_Failure.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>

#include <algorithm>
#include <functional>

namespace kervo::geom {

using EdgeFaces = TopTools_IndexedDataMapOfShapeListOfShape;
EdgeFaces faces_by_edge(const TopoDS_Shape& shape);
std::vector<TopoDS_Face> faces_at(const EdgeFaces& map, const TopoDS_Edge& edge);

constexpr double flat_angle = 1e-4; // rad; the kernel takes less for a smooth border

/// By how much the outside turns there from one face to the other, rad: 0 where they are smooth, a right angle at a
/// box. `fraction` of the edge, from 0 to 1.
double turn_at(const TopoDS_Edge& edge, const std::vector<TopoDS_Face>& beside, double fraction);

gp_Pnt middle_of(const TopoDS_Edge& edge);

/// A place on the border of a face, with the face's normal to the outside there.
struct BorderPlace {
    gp_Pnt place;
    gp_Vec normal; ///< of length 1
};
/// Some, spread along an edge of the face, none at its ends.
std::vector<BorderPlace> places_along(const TopoDS_Edge& edge, const TopoDS_Face& face);

/// How far, in mm, what was made may lie from what was asked for, that nobody needs to be told: `size` in mm.
inline double close_to(double size) {
    return 1e-5 * (1 + size);
}

/// How closely the kernel works.
enum class Working { closely, loosely };

template <class Maker> void set_working(Maker& maker, Working working) {
    // Its own sizes of what it lets pass leave borders that are off by 1e-4 mm; these, by 1e-7, take as long.
    constexpr double angle = 1e-2; // rad, at which a chain goes on
    constexpr double deflection = 1e-3;
    if (working == Working::closely) {
        maker.SetParams(angle, 1e-5, 1e-6, 1e-7, 1e-7, deflection);
    }
}

enum class Outcome { done, open_end, failed };

/// What was made of one solid.
struct Blended {
    Outcome outcome = Outcome::failed;
    Altered altered; ///< its shape is left out
    std::vector<TopoDS_Shape> solids;
    std::vector<Chain> chains; ///< the edges along which it went
    std::vector<gp_Pnt> faulty;
};

// What became of the solid's faces, edges and vertices.
template <class Maker> void take_over(Maker& maker, const TopoDS_Shape& solid, Altered& altered) {
    TopTools_IndexedMapOfShape present;
    TopExp::MapShapes(maker.Shape(), TopAbs_FACE, present);
    for (const TopoDS_Shape& face : faces_of(solid)) {
        const TopTools_ListOfShape& modified = maker.Modified(face);
        for (const TopoDS_Shape& now : modified) {
            if (present.Contains(now)) {
                altered.origins.push_back({now, face});
            }
        }
        if (modified.IsEmpty() && present.Contains(face)) {
            altered.origins.push_back({face, face});
        }
    }
    auto sources = edges_of(solid);
    const auto vertices = vertices_of(solid);
    sources.insert(sources.end(), vertices.begin(), vertices.end());
    for (const TopoDS_Shape& source : sources) {
        for (const TopoDS_Shape& face : maker.Generated(source)) {
            if (face.ShapeType() == TopAbs_FACE && present.Contains(face)) {
                altered.made.push_back({face, source});
            }
        }
    }
}

/// Whether none of the new faces reaches beyond the body, which is nonsense.
bool are_within(const std::vector<Altered::Made>& made, const TopoDS_Shape& solid);

/// Lets the maker work, and takes over what it made if that is sound and no nonsense. `measure`, a function of the
/// altered faces and the shape made, says how far these are from what was asked for, mm; none where that is nonsense.
template <class Maker, class Measure>
void build(Maker& maker, const TopoDS_Shape& solid, Blended& blended, Measure&& measure) {
    maker.Build();
    if (!maker.IsDone()) {
        return;
    }
    const TopoDS_Shape made = maker.Shape();
    tighten_tolerances(made);
    if (!is_sound_after(solid, made)) {
        return;
    }
    take_over(maker, solid, blended.altered);
    if (!are_within(blended.altered.made, solid)) {
        return;
    }
    if (const std::optional<double> off = measure(blended.altered, made)) {
        blended.altered.off = *off;
        blended.solids = solids_of(made);
        blended.outcome = Outcome::done;
    }
}

/// The closest of what the kernel makes: as it is; with curves along which it does not lose its way; or working as it
/// does when nobody says how. `attempt` is a function of how it works.
template <class Attempt> Blended as_close_as_possible(double size, Attempt&& attempt) {
    Blended best = attempt(Working::closely);
    const auto better = [&](Blended&& other) {
        if (other.outcome == Outcome::done && (best.outcome != Outcome::done || other.altered.off < best.altered.off)) {
            best = std::move(other);
        }
    };
    const auto is_close = [&] {
        return best.outcome == Outcome::open_end ||
               (best.outcome == Outcome::done && best.altered.off <= close_to(size));
    };
    if (!is_close()) {
        bool smoothed = false;
        for (Chain& chain : best.chains) {
            smoothed = chain.smooth() || smoothed;
        }
        if (smoothed) {
            better(attempt(Working::closely));
        }
    }
    if (!is_close()) {
        better(attempt(Working::loosely));
    }
    constexpr double share = 1e-2; // of the size: more is another shape
    if (best.outcome == Outcome::done && best.altered.off > share * size) {
        best.outcome = Outcome::failed;
    }
    if (best.altered.off <= close_to(size)) {
        best.altered.off = 0;
    }
    return best;
}

/// Brings what is wanted of an edge into a copy of its solid, to a share of the size.
RoundedEdge in_the_copy(RoundedEdge wanted, const CopyNearOrigin& own, double share);
BevelledEdge in_the_copy(BevelledEdge wanted, const CopyNearOrigin& own, double share);

/// What is said of the first edge that is not sharp.
std::optional<Finding> smooth_edge(const TopoDS_Shape& body, const std::vector<TopoDS_Edge>& edges);

/// What is said where nothing was made: `what` was to be done, to sizes of `size` mm. `works` asks whether it would by
/// a share of the size; the one that does is offered where it is the `only_size`.
Finding blend_finding(const Blended& failed, const std::string& what, double size, bool only_size,
                      const std::function<bool(double)>& works);

/// Solid by solid; where one fails, by smaller sizes, to tell what would fit. `once` makes a `Blended` of a solid that
/// nobody else holds and what is wanted there, working so closely.
template <class Wanted>
Result<Altered> blend(const TopoDS_Shape& body, const std::vector<Wanted>& edges, const std::string& what, double size,
                      bool only_size,
                      Blended (*once)(const TopoDS_Shape& solid, const std::vector<Wanted>& here, Working working)) {
    std::vector<TopoDS_Edge> all;
    std::transform(edges.begin(), edges.end(), std::back_inserter(all), [](const Wanted& w) { return w.edge; });
    if (const auto smooth = smooth_edge(body, all)) {
        return *smooth;
    }
    const auto attempt = [&](double share, Altered& blended) {
        std::vector<TopoDS_Shape> solids;
        for (const TopoDS_Shape& solid : solids_of(body)) {
            auto here = those_on(solid, edges, [](const Wanted& wanted) { return wanted.edge; });
            if (here.empty()) {
                keep(solid, blended, solids);
                continue;
            }
            const CopyNearOrigin own(solid);
            for (Wanted& wanted : here) {
                wanted = in_the_copy(wanted, own, share);
            }
            Blended made =
                as_close_as_possible(share * size, [&](Working working) { return once(own.shape(), here, working); });
            if (made.outcome != Outcome::done) {
                for (gp_Pnt& place : made.faulty) {
                    place.Transform(own.way_there().Inverted());
                }
                return made;
            }
            add_from_copy(made.altered, own, blended);
            blended.off = std::max(blended.off, made.altered.off);
            std::transform(made.solids.begin(), made.solids.end(), std::back_inserter(solids),
                           [&](const TopoDS_Shape& each) { return own.back(each); });
        }
        blended.shape = gather(solids);
        Blended done;
        done.outcome = Outcome::done;
        return done;
    };
    Altered blended;
    const Blended made = attempt(1, blended);
    if (made.outcome == Outcome::done) {
        return blended;
    }
    return blend_finding(made, what, size, only_size, [&](double share) {
        Altered trial;
        return attempt(share, trial).outcome == Outcome::done;
    });
}

} // namespace kervo::geom
