// Flat surface: regions of a sketch as a surface.
#pragma once

#include "model/cutting/chosen_regions.h"

namespace kervo::model {

struct FlatSurface {
    static constexpr const char* kind = "flat_surface";
    static constexpr const char* title = "Flat surface";
    static constexpr const char* summary = "Makes regions of a sketch a flat surface.";

    SketchLink sketch;
    RegionReferences regions;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("sketch", "Sketch", Q::source, "The sketch whose regions are wanted."), self.sketch);
        visit(FieldInfo("regions", "Regions", Q::source, "Click regions of the sketch to take them or leave them."),
              self.regions);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const FlatSurface&, const FlatSurface&) = default;
};

} // namespace kervo::model
