#include "io/formats/drawn_outlines.h"

#include "sketch/arrangement.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <map>

namespace kervo::io {

namespace {

using Corner = std::array<long long, 2>;

Corner corner_of(const sketch::Point2& place) {
    return {std::llround(place[0] / sketch::joining_tolerance), std::llround(place[1] / sketch::joining_tolerance)};
}

} // namespace

std::vector<std::vector<sketch::Stretch>> chained(const std::vector<sketch::Stretch>& stretches) {
    std::map<Corner, std::vector<size_t>> at; // those that end there
    for (size_t i = 0; i < stretches.size(); ++i) {
        at[corner_of(stretches[i].start)].push_back(i);
        at[corner_of(stretches[i].end)].push_back(i);
    }
    std::vector<bool> done(stretches.size());
    // On from the end of the last one, as far as there is one way.
    const auto run_on = [&](std::vector<sketch::Stretch>& chain) {
        while (true) {
            const Corner end = corner_of(chain.back().end);
            const auto& here = at[end];
            const auto next = here.size() != 2
                                  ? here.end()
                                  : std::find_if(here.begin(), here.end(), [&](size_t i) { return !done[i]; });
            if (next == here.end()) {
                return;
            }
            done[*next] = true;
            const sketch::Stretch& stretch = stretches[*next];
            chain.push_back(corner_of(stretch.start) == end ? stretch : stretch.reversed());
        }
    };
    std::vector<std::vector<sketch::Stretch>> chains;
    for (size_t i = 0; i < stretches.size(); ++i) {
        if (done[i]) {
            continue;
        }
        done[i] = true;
        std::vector<sketch::Stretch> back{stretches[i].reversed()};
        run_on(back);
        std::vector<sketch::Stretch> chain;
        for (auto each = back.rbegin(); each != back.rend(); ++each) {
            chain.push_back(each->reversed());
        }
        run_on(chain);
        chains.push_back(std::move(chain));
    }
    return chains;
}

DrawnOutlines drawn_outlines(const sketch::Sketch& drawing) {
    DrawnOutlines all;
    std::vector<sketch::Stretch> outlines;
    for (const auto& curve : drawing.curves) {
        if (!sketch::is_sound(drawing, curve)) {
            continue;
        }
        sketch::Stretch stretch = sketch::stretch_of(drawing, curve);
        if (curve.construction) {
            all.guides.push_back(std::move(stretch));
        } else {
            outlines.push_back(std::move(stretch));
        }
    }
    for (auto& chain : chained(outlines)) {
        all.shapes.push_back({sketch::FillRule::none, std::move(chain)});
    }
    auto figures = sketch::figure_outlines(drawing);
    all.shapes.insert(all.shapes.end(), std::make_move_iterator(figures.begin()),
                      std::make_move_iterator(figures.end()));
    return all;
}

} // namespace kervo::io
