// A single step that cuts a body by all regions of a drawing, without a document around it.
#pragma once

#include "model/route/evaluate.h"
#include "model/steps/extrude/extrude.h"

namespace kervo::model::test {

/// The body is "10", the sketch step 20; the first cut is step 30.
struct OneCut {
    StepInputs inputs;
    Extrude cut = Extrude::cut();
    ParameterValues parameters;
    Services services;
    Progress progress;

    explicit OneCut(const geom::ShapeWithRoles& body) {
        inputs.bodies["10"] = name_fresh(10, body);
        inputs.step = 30;
        inputs.parameters = &parameters;
        inputs.services = &services;
        inputs.progress = &progress;
        cut.workpieces = {{ElementKind::body, "10", {}, {}, {}}};
        cut.sketch.step = 20;
        cut.extent.to.value = "everything_both";
    }
    void draw(const sketch::Sketch& drawing, double height = 0) {
        auto sketch = std::make_shared<SketchResult>();
        sketch->frame = gp_Ax3(gp_Pnt(0, 0, height), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
        sketch->regions = sketch::find_regions(drawing);
        sketch->solution.sketch = drawing;
        cut.regions.clear();
        for (const auto& region : sketch->regions) {
            cut.regions.push_back({region.bounds, region.inside});
        }
        inputs.sketches[20] = sketch;
    }
    /// The next cut goes into this.
    void go_on_with(const BodyPtr& body) {
        inputs.bodies["10"] = body;
        inputs.step += 10;
    }
    void go_on() { go_on_with(cut.evaluate(inputs).bodies.at("10")); }
};

} // namespace kervo::model::test
