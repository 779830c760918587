#include "model/cutting/chosen_regions.h"

#include "geom/kernel/finding_place.h"
#include "model/sketching/drawn_curves.h"
#include "model/sketching/sketch_plane.h"

#include <boost/pending/disjoint_sets.hpp>

#include <map>
#include <set>

namespace kervo::model {

namespace {

// The regions of one sketch, to be found again.
struct Drawn {
    SketchResultPtr sketch;
    std::shared_ptr<sketch::RegionFinder> finder;
    std::string prefix;
};

class Choosing {
public:
    Choosing(const SketchLink& link, const RegionReferences& references, Answers& answers)
        : named(references), link_(link), answers_(answers) {}

    std::vector<TakenRegion> chosen;
    RegionReferences named; ///< the references, with what was learned

    void take(size_t index) {
        const ChosenRegion reference = named[index];
        const Drawn& drawn = sketch_of(reference);
        if (!drawn.sketch) {
            return;
        }
        if (reference.figure != 0) {
            const auto covered = drawn.sketch->meant_by(reference);
            if (covered.empty()) {
                answers_.report("regions", error_finding("profile.region_lost",
                                                         "A chosen figure of the sketch covers nothing, or is gone.",
                                                         "Choose the regions again."));
            }
            for (const int each : covered) {
                add(drawn, each, reference);
            }
            return;
        }
        const auto found = drawn.finder->find_again(reference);
        if (found.index < 0) {
            report(drawn, reference,
                   error_finding("profile.region_lost", "A chosen region is gone from the sketch.",
                                 "Choose the regions again."));
            return;
        }
        if (!found.exact) {
            report(drawn, reference,
                   warning_finding("profile.region_changed",
                                   "A chosen region has new borders; the one at its old place is used.",
                                   "Look whether it is the right one, and choose it again."));
        }
        add(drawn, found.index, reference);
        if (reference.bounds.empty()) {
            named[index].bounds = chosen.back().region->bounds;
            named[index].near = chosen.back().region->inside;
        }
    }

private:
    const Drawn& sketch_of(const ChosenRegion& reference) {
        auto [at, fresh] = sketches_.try_emplace(reference.sketch);
        if (fresh) {
            const bool own = reference.sketch == 0;
            Drawn& drawn = at->second;
            drawn.sketch = answers_.sketch(own ? "sketch" : "regions", own ? link_ : SketchLink{reference.sketch});
            drawn.prefix = own ? "" : std::to_string(reference.sketch) + "/";
            if (drawn.sketch) {
                drawn.finder = std::make_shared<sketch::RegionFinder>(drawn.sketch->regions);
            }
        }
        return at->second;
    }

    void add(const Drawn& drawn, int index, const ChosenRegion& reference) {
        const sketch::Region* region = &drawn.sketch->regions[static_cast<size_t>(index)];
        if (known_.insert(region).second) {
            chosen.push_back({drawn.sketch, region, drawn.prefix, reference.own});
        }
    }

    void report(const Drawn& drawn, const ChosenRegion& reference, Finding finding) {
        geom::add_place(finding, in_space(drawn.sketch->frame, reference.near));
        answers_.report("regions", std::move(finding));
    }

    const SketchLink& link_;
    Answers& answers_;
    std::map<int, Drawn> sketches_;
    std::set<const sketch::Region*> known_;
};

} // namespace

std::string TakenRegion::key() const {
    std::string key;
    for (const std::string& bound : region->bounds) {
        key += (key.empty() ? "" : ",") + bound;
    }
    return prefix + key;
}

gp_Pnt TakenRegion::inside() const {
    return in_space(sketch->frame, region->inside);
}

Profile profile_of(const TakenRegion& taken) {
    Profile profile{taken.key(), taken.sketch->frame, sketch::outline_of(*taken.region), taken.region->inside,
                    taken.own};
    if (!taken.prefix.empty()) {
        for (auto& loop : profile.loops) {
            for (auto& piece : loop) {
                piece.curve = taken.prefix + piece.curve;
            }
        }
    }
    return profile;
}

std::vector<CurveChain> drawn_chains(const SketchLink& link, Answers& answers) {
    const auto drawn = answers.sketch("sketch", link);
    const auto pieces = drawn ? drawn_pieces(*drawn, "outlines") : std::vector<geom::OutlinePiece>{};
    if (drawn && pieces.empty()) {
        answers.report("sketch", error_finding("surface.no_curves", "This sketch draws no curves but guides.",
                                               "Draw some, or choose another sketch."));
    }
    boost::disjoint_sets_with_storage<> sets(pieces.size());
    std::map<int, size_t> at_vertex;
    for (size_t i = 0; i < pieces.size(); ++i) {
        for (const int vertex : {pieces[i].start_vertex, pieces[i].end_vertex}) {
            sets.union_set(at_vertex.try_emplace(vertex, i).first->second, i);
        }
    }
    std::vector<CurveChain> chains;
    std::map<size_t, size_t> chain_of;
    for (size_t i = 0; i < pieces.size(); ++i) {
        const auto [at, fresh] = chain_of.try_emplace(sets.find_set(i), chains.size());
        if (fresh) {
            chains.push_back({"along c" + pieces[i].curve, {}});
        }
        chains[at->second].pieces.push_back(pieces[i]);
    }
    return chains;
}

std::vector<int> SketchResult::meant_by(const sketch::RegionReference& reference) const {
    if (reference.figure == 0) {
        const int index = sketch::find_again(reference, regions).index;
        return index < 0 ? std::vector<int>{} : std::vector{index};
    }
    const auto known = covered.find(reference.figure);
    return known == covered.end() ? std::vector<int>{} : known->second;
}

std::vector<TakenRegion> chosen_regions(const SketchLink& link, const RegionReferences& references, Answers& answers,
                                        StepOutput& output) {
    if (references.empty() && answers.sketch("sketch", link)) {
        answers.report("regions", error_finding("profile.unanswered", "No region is chosen yet.",
                                                "Click a region of the sketch."));
    }
    Choosing choosing(link, references, answers);
    for (size_t i = 0; i < references.size(); ++i) {
        choosing.take(i);
    }
    if (choosing.named != references) {
        output.named_regions = std::move(choosing.named);
    }
    return std::move(choosing.chosen);
}

} // namespace kervo::model
