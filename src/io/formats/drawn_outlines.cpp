#include "io/formats/drawn_outlines.h"

#include <iterator>

namespace kervo::io {

DrawnOutlines drawn_outlines(const sketch::Sketch& drawing) {
    DrawnOutlines all;
    for (const auto& curve : drawing.curves) {
        if (!sketch::is_sound(drawing, curve)) {
            continue;
        }
        sketch::Stretch stretch = sketch::stretch_of(drawing, curve);
        if (curve.construction) {
            all.guides.push_back(std::move(stretch));
        } else {
            all.shapes.push_back({sketch::FillRule::none, {std::move(stretch)}});
        }
    }
    auto figures = sketch::figure_outlines(drawing);
    all.shapes.insert(all.shapes.end(), std::make_move_iterator(figures.begin()),
                      std::make_move_iterator(figures.end()));
    return all;
}

} // namespace kervo::io
