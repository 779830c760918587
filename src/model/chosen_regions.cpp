#include "model/chosen_regions.h"

#include "model/sketch_plane.h"

#include <set>

namespace kervo::model {

std::string region_key(const sketch::Region& region) {
    std::string key;
    for (const std::string& bound : region.bounds) {
        key += (key.empty() ? "" : ",") + bound;
    }
    return key;
}

std::vector<int> SketchResult::meant_by(const sketch::RegionReference& reference) const {
    if (reference.figure == 0) {
        const int index = sketch::find_again(reference, regions).index;
        return index < 0 ? std::vector<int>{} : std::vector{index};
    }
    const auto known = covered.find(reference.figure);
    return known == covered.end() ? std::vector<int>{} : known->second;
}

std::vector<const sketch::Region*> chosen_regions(const SketchResult& sketch, const RegionReferences& references,
                                                  Answers& answers, StepOutput& output) {
    std::vector<const sketch::Region*> chosen;
    RegionReferences named = references;
    if (references.empty()) {
        answers.report("regions", error_finding("profile.unanswered", "No region is chosen yet.",
                                                "Click a region of the sketch."));
    }
    std::set<const sketch::Region*> known;
    const auto add = [&](const sketch::Region* region) {
        if (known.insert(region).second) {
            chosen.push_back(region);
        }
    };
    const sketch::RegionFinder finder(sketch.regions);
    for (size_t i = 0; i < references.size(); ++i) {
        const sketch::RegionReference& reference = references[i];
        if (reference.figure != 0) {
            const auto covered = sketch.meant_by(reference);
            if (covered.empty()) {
                answers.report("regions", error_finding("profile.region_lost",
                                                        "A chosen figure of the sketch covers nothing, or is gone.",
                                                        "Choose the regions again."));
                continue;
            }
            for (const int index : covered) {
                add(&sketch.regions[static_cast<size_t>(index)]);
            }
            continue;
        }
        const auto found = finder.find_again(reference);
        const gp_Pnt place = in_space(sketch.frame, reference.near);
        if (found.index < 0) {
            Finding finding = error_finding("profile.region_lost", "A chosen region is gone from the sketch.",
                                            "Choose the regions again.");
            finding.places.push_back({place.X(), place.Y(), place.Z()});
            answers.report("regions", finding);
            continue;
        }
        if (!found.exact) {
            Finding finding = warning_finding("profile.region_changed",
                                              "A chosen region has new borders; the one at its old place is used.",
                                              "Look whether it is the right one, and choose it again.");
            finding.places.push_back({place.X(), place.Y(), place.Z()});
            answers.report("regions", finding);
        }
        const sketch::Region* region = &sketch.regions[static_cast<size_t>(found.index)];
        if (reference.bounds.empty()) {
            named[i] = {region->bounds, region->inside, 0};
        }
        add(region);
    }
    if (named != references) {
        output.named_regions = std::move(named);
    }
    return chosen;
}

} // namespace kervo::model
