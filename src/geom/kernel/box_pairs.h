// Which boxes meet, without asking every pair. To be included before the kernel's headers, whose macros collide with
// CGAL's.
#pragma once

#include <CGAL/box_intersection_d.h>

#include "geom/measure/body_index.h"

#include <vector>

namespace kervo::geom {

namespace box_pairs {

using Entry = CGAL::Box_intersection_d::Box_with_info_d<double, 3, size_t>;

inline std::vector<Entry> entries(const std::vector<Box>& boxes) {
    std::vector<Entry> all;
    for (size_t i = 0; i < boxes.size(); ++i) {
        const auto& [low, high] = boxes[i];
        all.emplace_back(CGAL::Bbox_3(low[0], low[1], low[2], high[0], high[1], high[2]), i);
    }
    return all;
}

} // namespace box_pairs

/// Visits the indices of all pairs that meet within one set, each pair once.
template <class Visit> void each_meeting_pair(const std::vector<Box>& boxes, const Visit& visit) {
    auto all = box_pairs::entries(boxes);
    CGAL::box_self_intersection_d(all.begin(), all.end(),
                                  [&](const auto& one, const auto& other) { visit(one.info(), other.info()); });
}

/// The same between two sets.
template <class Visit>
void each_meeting_pair(const std::vector<Box>& ones, const std::vector<Box>& others, const Visit& visit) {
    constexpr size_t few = 16; // not worth the sorting
    if (ones.size() <= few) {
        for (size_t i = 0; i < ones.size(); ++i) {
            for (size_t k = 0; k < others.size(); ++k) {
                if (ones[i].meets(others[k])) {
                    visit(i, k);
                }
            }
        }
        return;
    }
    auto a = box_pairs::entries(ones);
    auto b = box_pairs::entries(others);
    CGAL::box_intersection_d(a.begin(), a.end(), b.begin(), b.end(),
                             [&](const auto& one, const auto& other) { visit(one.info(), other.info()); });
}

} // namespace kervo::geom
