#include "model/sketching/drawn_curves.h"

#include "geom/outline/profile.h"
#include "model/cutting/swept_region.h"
#include "sketch/figures.h"

#include <algorithm>
#include <iterator>

namespace kervo::model {

std::vector<geom::OutlinePiece> drawn_pieces(const SketchResult& sketch, const std::string& which) {
    const sketch::Sketch& solved = sketch.solution.sketch;
    std::vector<sketch::Stretch> wanted = sketch::stretches_of(solved, true);
    std::erase_if(wanted, [&](const sketch::Stretch& stretch) {
        const auto* curve = solved.curve(stretch.curve);
        const bool guide = curve != nullptr && curve->construction;
        return which != "all" && guide != (which == "guides");
    });
    if (which != "guides") {
        for (const auto& outline : sketch::figure_outlines(solved)) {
            std::copy_if(outline.stretches.begin(), outline.stretches.end(), std::back_inserter(wanted),
                         [](const auto& stretch) { return stretch.length() > sketch::joining_tolerance; });
        }
    }
    return sketch::pieces_of(wanted);
}

BodyPtr body_of_curves(int step, const SketchResult& sketch, const std::string& which) {
    const auto pieces = drawn_pieces(sketch, which);
    return pieces.empty() ? nullptr : name_fresh(step, geom::make_curves(sketch.frame, pieces));
}

} // namespace kervo::model
