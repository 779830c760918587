// What the tests of proven results share: right without a word, or told.
#pragma once

#include "route.h"

namespace kervo::test {

inline void expect_volume(const Outcome& outcome, double found, double wanted, double tolerance = 1e-6) {
    EXPECT_FALSE(outcome.told()) << outcome.codes();
    EXPECT_NEAR(found, wanted, tolerance * wanted);
}
/// Right, or told.
inline void expect_volume_or_word(const Outcome& outcome, double found, double wanted, double tolerance = 1e-6) {
    if (!outcome.told()) {
        EXPECT_NEAR(found, wanted, tolerance * wanted);
    }
}

inline double area(const Outcome& outcome, int id) {
    const auto found = outcome.body(std::to_string(id));
    return found ? geom::area_of(found->shape) : 0;
}

/// Of all edges of a body.
inline double length(const Outcome& outcome, int id) {
    const auto found = outcome.body(std::to_string(id));
    return found ? geom::length_of(found->shape) : 0;
}

/// What a step says of itself; empty where it says nothing at all.
inline std::string fact(const Outcome& outcome, int id, const std::string& name) {
    const auto* report = outcome.evaluation.report(id);
    return report == nullptr || !report->output ? "" : report->output->facts.at(name);
}

/// Of the box around a body.
inline std::array<double, 3> middle(const Outcome& outcome, int id) {
    const auto box = geom::box_of(outcome.body(std::to_string(id))->shape);
    return {(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2};
}

} // namespace kervo::test
