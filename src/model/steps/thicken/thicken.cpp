#include "model/steps/thicken/thicken.h"

#include "geom/measure/measure.h"
#include "geom/surface/thicken.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"
#include "model/names/shifted_surface.h"

namespace kervo::model {

namespace {

// Faces along the surface keep its names, in front or behind; walls are called after the borders that they stand on.
BodyPtr named(int step, const Body& surface, const geom::Thickened& thick) {
    const geom::Neighbours neighbours(surface.shape);
    FaceNames names;
    std::vector<geom::FaceOrigin> origins;
    for (const auto& [face, source, side] : thick.made) {
        const std::string role = side == geom::Thickened::Side::front  ? "front"
                                 : side == geom::Thickened::Side::back ? "back"
                                                                       : "rim";
        names.Bind(face, {source.IsNull() ? std::to_string(step) + ":" + role
                                          : name_after(step, role, surface, neighbours, source),
                          {},
                          false});
        origins.push_back({face, face});
    }
    return name_result(thick.solid, origins, names);
}

} // namespace

StepOutput Thicken::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    answers.bodies("surfaces", surfaces);
    const double wide = answers.positive("thickness", thickness);
    const double back = side.value == "both"     ? answers.positive("behind", behind)
                        : side.value == "back"   ? wide
                        : side.value == "middle" ? wide / 2
                                                 : 0;
    const double front = side.value == "back" ? 0 : side.value == "middle" ? wide / 2 : wide;
    if (becomes.value == "shifted" && front > 0 && back > 0) {
        answers.report("side", error_finding("thicken.two_ways", "A surface is shifted to one side.",
                                             "Choose in front or behind."));
    }
    for (const Reference& reference : surfaces) {
        const BodyPtr body = answers.body(reference.body);
        if (!answers.ok() || !body) {
            break;
        }
        if (!is_surface(*body)) {
            answers.report("surfaces", error_finding("thicken.no_surface", "Only surfaces become thick.",
                                                     "Take the others off the list."));
            break;
        }
        if (becomes.value == "shifted") {
            const auto away = shifted_surface(*body, back > 0 ? -back : front, *inputs.progress);
            if (!away) {
                answers.report("thickness", away.finding());
                break;
            }
            output.bodies[reference.body] = *away;
            continue;
        }
        const auto thick = geom::thickened(body->shape, front, back, *inputs.progress);
        if (!thick) {
            answers.report("thickness", thick.finding());
            break;
        }
        output.bodies[reference.body] = named(inputs.step, *body, *thick);
        output.added += geom::volume_of(thick->solid);
    }
    if (!answers.ok()) {
        output.bodies.clear();
        output.added = 0;
    }
    return output;
}

std::vector<StepVerb> Thicken::verbs() {
    return {{"thicken", StepVerb::Group::shape, "Thicken", "Makes surfaces solids of a thickness.", "", "Thicken",
             [] { return Thicken(); }, true, "copied_faces"},
            {"offset_surface", StepVerb::Group::shape, "Offset surface",
             "Shifts surfaces by a distance from themselves.", "", "Offset",
             [] {
                 Thicken step;
                 step.becomes.value = "shifted";
                 return step;
             },
             true, "thicken"}};
}

template struct StepOf<Thicken>;

} // namespace kervo::model
