// What is half drawn, and what it will become.
#include "app/drawing/drawing.h"
#include "app/drawing/shape_maker.h"

#include <algorithm>
#include <iterator>

namespace kervo::app {

using sketch::Sketch;

std::optional<Sketch> Drawing::with_shape(const std::vector<Snap>& places, const std::vector<std::string>& formulas,
                                          const ParameterValues& parameters) const {
    return ShapeMaker(sketch_, places, {formulas, parameters}, wanted_, reach_).make(tool_);
}

std::vector<sketch::Stretch> Drawing::added_in(const Sketch& next) const {
    std::vector<sketch::Stretch> added;
    for (const sketch::Curve& curve : next.curves) {
        if (curve.id > sketch_.last_id) {
            added.push_back(sketch::stretch_of(next, curve));
        }
    }
    if (next.figures.size() == sketch_.figures.size()) {
        return added;
    }
    for (const sketch::FilledOutline& outline : sketch::figure_outlines(next)) {
        std::copy_if(outline.stretches.begin(), outline.stretches.end(), std::back_inserter(added),
                     [this](const sketch::Stretch& stretch) { return stretch.curve > sketch_.last_id; });
    }
    return added;
}

std::vector<sketch::Stretch> Drawing::rubber() const {
    std::vector<sketch::Stretch> out;
    if (placed_.empty() || info_of(tool_).changes) {
        return out;
    }
    std::vector<Snap> places = placed_;
    if (sketch::distance(places.back().at, pointer_.at) > 1e-9) {
        places.push_back(pointer_);
    }
    const size_t wanted = info_of(tool_).places;
    if (places.size() >= 2 && (wanted == 0 || places.size() == wanted)) {
        if (const auto next = with_shape(places, {}, {})) {
            out = added_in(*next);
        }
    }
    if (out.empty() && places.size() >= 2) { // the first picks of a shape, or places that make none
        out.push_back(sketch::line_between(places[places.size() - 2].at, places.back().at));
    }
    return out;
}

} // namespace kervo::app
