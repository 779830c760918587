#include "model/steps/flat_surface/flat_surface.h"

#include "geom/surface/sew.h"
#include "model/document/step_of.h"
#include "model/names/names.h"

namespace kervo::model {

StepOutput FlatSurface::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    std::vector<TopoDS_Shape> faces;
    FaceNames names;
    for (const TakenRegion& taken : chosen_regions(sketch, regions, answers, output)) {
        const Profile profile = profile_of(taken);
        faces.push_back(geom::make_profile_face(profile.frame, profile.loops).face);
        names.add(name_fresh(inputs.step, {faces.back(), {{faces.back(), "region/" + profile.key}}})->names);
    }
    if (!answers.ok()) {
        return output;
    }
    constexpr double same_border = 1e-6; // mm: regions side by side have it exactly
    const auto sewn = geom::sew(faces, same_border, *inputs.progress);
    if (!sewn) {
        answers.report("regions", sewn.finding());
        return output;
    }
    const BodyId id = std::to_string(inputs.step);
    output.bodies[id] = name_result(sewn->shape, sewn->origins, names);
    output.births.push_back({id, {}, {}});
    return output;
}

std::vector<StepVerb> FlatSurface::verbs() {
    return {{"flat_surface", StepVerb::Group::join, "Flat surface", "Makes regions of a sketch a flat surface.", "",
             "Flat surface", [] { return FlatSurface(); }, true, "loft"}};
}

template struct StepOf<FlatSurface>;

} // namespace kervo::model
