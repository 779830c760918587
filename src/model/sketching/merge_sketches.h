// Several sketches become one.
#pragma once

#include "model/document/document.h"

namespace kervo::model {

struct MergedSketches {
    Document document;
    bool kept = false;   ///< the merged sketch stays as well, since other steps read it
    size_t left_out = 0; ///< constraints that make no sense in a plane that is turned
};
/// Draws sketch step `from` into sketch step `into`, where it lies in space; both as they are solved. A merged sketch
/// that no step reads is deleted. Finding: sketch.not_parallel.
Result<MergedSketches> merge_sketches(const Document& document, int into, int from, const SketchResult& into_now,
                                      const SketchResult& from_now);

} // namespace kervo::model
