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

/// Rows of points p1, p2 ... at these places.
inline Json rows_of_points(const std::vector<std::array<std::string, 3>>& places) {
    Json rows = Json::array();
    for (size_t i = 0; i < places.size(); ++i) {
        rows.push_back({{"name", "p" + std::to_string(i + 1)}, {"makes", "point"}, {"at", places[i]}});
    }
    return rows;
}
/// A curve in space made so.
inline int space_curve(Route& route, const std::string& made, Json answers) {
    answers["made"] = made;
    return route.add("space_curve", std::move(answers));
}

/// The pieces of a cut of which it is true go.
template <class Goes> void click_away(Route& route, int step, const Goes& goes) {
    const auto outcome = route.run();
    Json verdicts = Json::array();
    for (const auto& piece : outcome.evaluation.report(step)->output->pieces) {
        if (goes(piece)) {
            verdicts.push_back({{"workpiece", piece.identity.workpiece},
                                {"inside", piece.identity.inside},
                                {"beside", piece.identity.beside},
                                {"ambiguous", piece.identity.ambiguous},
                                {"verdict", "goes"},
                                {"near", piece.center}});
        }
    }
    EXPECT_FALSE(verdicts.empty());
    for (auto& each : route.json()["steps"]) {
        if (each["id"] == step) {
            each["answers"]["verdicts"] = verdicts;
        }
    }
}

/// Of the box around a body.
inline std::array<double, 3> middle(const Outcome& outcome, int id) {
    const auto box = geom::box_of(outcome.body(std::to_string(id))->shape);
    return {(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2};
}

} // namespace kervo::test
