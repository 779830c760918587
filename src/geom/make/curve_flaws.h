// What can be wrong with points and curves, said in one way.
#pragma once

#include "base/finding.h"
#include "geom/kernel/finding_place.h"

#include <optional>
#include <vector>

namespace kervo::geom {

inline constexpr double curve_true_enough = 1e-6; ///< mm
inline constexpr int places_looked_at = 64;       ///< along a curve

inline Finding curve_flaw(const char* code, const std::string& cause, const char* mend, const gp_Pnt& at) {
    Finding finding = error_finding(code, cause, mend);
    add_place(finding, at);
    return finding;
}

inline Finding no_curve(const gp_Pnt& at) {
    return curve_flaw("space.no_curve", "No curve could be made of these points.",
                      "Move them, or take some of them out.", at);
}

/// What is wrong with points as a curve's.
inline std::optional<Finding> flaw_of(const std::vector<gp_Pnt>& points, bool closed) {
    const size_t least = closed ? 3 : 2;
    if (points.size() < least) {
        return error_finding(
            "space.no_curve",
            closed ? "A closed curve needs three points or more." : "A curve needs two points or more.", "Add some.");
    }
    for (size_t i = closed ? 0 : 1; i < points.size(); ++i) {
        if (points[i].Distance(points[(i + points.size() - 1) % points.size()]) < curve_true_enough) {
            return curve_flaw("space.no_curve", "Two points in a row are at the same place.",
                              "Take one of them out; a closed curve comes back by itself.", points[i]);
        }
    }
    return std::nullopt;
}

} // namespace kervo::geom
