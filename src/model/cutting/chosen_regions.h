// The regions of sketches that a step takes.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

/// A region as it is chosen, with the sketch that it is of.
struct TakenRegion {
    SketchResultPtr sketch;
    const sketch::Region* region = nullptr;
    std::string prefix; ///< of its names: "30/" for a region of another sketch than the step's own
    Expression own;     ///< its own answer; empty: as all

    [[nodiscard]] std::string key() const; ///< "5+,6-" or "30/5+": its identity as text
    [[nodiscard]] gp_Pnt inside() const;
};

/// A region as an outline in space, ready to be swept.
struct Profile {
    std::string key;
    gp_Ax3 frame;
    std::vector<geom::OutlineLoop> loops; ///< the outer one first; curves are called after sketch and curve
    sketch::Point2 inside{};
    Expression own;
};
Profile profile_of(const TakenRegion& taken);

/// Curves of a sketch that hang together, guides left out.
struct CurveChain {
    std::string key; ///< "along c5", after the first of them
    std::vector<geom::OutlinePiece> pieces;
};
/// All that a sketch draws, figures included. Finding on "sketch": profile.no_sketch, surface.no_curves.
std::vector<CurveChain> drawn_chains(const SketchLink& link, Answers& answers);

/// The regions that the references choose, found again in their sketches: in `link`'s where they name none. Findings on
/// the fields "sketch" and "regions". References made by hand are handed back in `output` with the names of what they
/// were found to mean.
std::vector<TakenRegion> chosen_regions(const SketchLink& link, const RegionReferences& references, Answers& answers,
                                        StepOutput& output);

} // namespace kervo::model
