// Which steps have changed which bodies, along the route.
#pragma once

#include "model/document/references.h"

#include <algorithm>
#include <set>
#include <unordered_map>
#include <vector>

namespace kervo::model {

class Writers {
public:
    /// The step, which comes after all that were named before, changes these bodies.
    void add(int step, const std::set<BodyId>& bodies) {
        for (const BodyId& body : bodies) {
            writers_[body].push_back({place_, step});
        }
    }
    /// The route goes on behind this step.
    void pass(int step) { places_[step] = place_++; }

    /// The step that left the body as it was after step `as_after` (0: as it is now): the last one that changed it, or
    /// else its maker. Constant time for 0.
    [[nodiscard]] int last(const BodyId& body, int as_after) const {
        const auto known = writers_.find(body);
        if (known == writers_.end()) {
            return maker_of(body);
        }
        const auto& all = known->second;
        const auto until = places_.find(as_after);
        const auto behind = until == places_.end()
                                ? all.end()
                                : std::upper_bound(all.begin(), all.end(), until->second,
                                                   [](size_t place, const auto& one) { return place < one.first; });
        return behind == all.begin() ? maker_of(body) : std::prev(behind)->second;
    }

private:
    size_t place_ = 0;
    std::unordered_map<int, size_t> places_;
    std::unordered_map<BodyId, std::vector<std::pair<size_t, int>>> writers_; ///< place on the route and step
};

} // namespace kervo::model
