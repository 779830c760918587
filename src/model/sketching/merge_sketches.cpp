#include "model/sketching/merge_sketches.h"

#include "model/sketching/sketch_plane.h"
#include "sketch/merge.h"

#include <algorithm>

namespace kervo::model {

Result<MergedSketches> merge_sketches(const Document& document, int into, int from, const SketchResult& into_now,
                                      const SketchResult& from_now) {
    const auto moved = between_planes(from_now.frame, into_now.frame);
    if (!moved) {
        return error_finding("sketch.not_parallel", "The planes of these sketches are not parallel.",
                             "Merge sketches whose planes are parallel; take edges of what is made from the others.");
    }
    sketch::Merged merged = sketch::merge(into_now.solution.sketch, from_now.solution.sketch, *moved);
    MergedSketches result{change_field(document, into, "drawing", std::move(merged.sketch)), false, merged.left_out};
    result.kept = std::any_of(document.steps.begin(), document.steps.end(), [&](const StepPtr& step) {
        return step->id != from && dependencies_of(step->definition).sketches.contains(from);
    });
    if (!result.kept) {
        result.document = remove_step(std::move(result.document), from);
    }
    return result;
}

} // namespace kervo::model
