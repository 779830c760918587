#include "model/steps/flat_surface/flat_surface.h"

#include "geom/surface/sew.h"
#include "model/document/step_of.h"
#include "model/names/border_names.h"

namespace kervo::model {

StepOutput FlatSurface::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    std::vector<TopoDS_Shape> faces;
    FaceNames names;
    for (const TakenRegion& taken : chosen_regions(sketch, regions, answers, output)) {
        const Profile profile = profile_of(taken);
        const geom::ProfileFace made = geom::make_profile_face(profile.frame, profile.loops);
        const std::string step = std::to_string(inputs.step) + ":";
        faces.push_back(made.face);
        names.Bind(made.face, {step + "region/" + profile.key, {}, false});
        for (const auto& [edge, curve] : made.curve_of_edge) {
            names.Bind(edge, border_towards(step + curve));
        }
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
