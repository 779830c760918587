// Findings that only say that a question has no answer yet. In a step that is being made nothing is wrong about that.
#pragma once

#include "base/finding.h"

#include <algorithm>
#include <array>
#include <string_view>

namespace kervo::model {

inline bool is_unanswered(const Finding& finding) {
    static constexpr std::array<std::string_view, 6> codes{"step.unanswered",    "step.no_bodies",
                                                           "profile.unanswered", "profile.no_sketch",
                                                           "import.unanswered",  "join.one_body"};
    return std::find(codes.begin(), codes.end(), finding.code) != codes.end();
}

} // namespace kervo::model
