#include "model/steps/copy_bodies/copy_bodies.h"

#include "geom/cut/unite.h"
#include "model/cutting/cutting.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"

namespace kervo::model {

StepOutput CopyBodies::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    answers.bodies("bodies", bodies);
    if (!answers.ok()) {
        return output;
    }
    const bool unites = result.value == "united";
    for (const Reference& reference : bodies) {
        const BodyPtr body = answers.body(reference.body);
        const bool solid = !geom::solids_of(body->shape).empty();
        std::vector<TopoDS_Shape> shapes;
        FaceNames names;
        std::vector<geom::FaceOrigin> origins;
        const BodyId base = std::to_string(inputs.step) + ":" + reference.body;
        for (const auto& copy : pattern.copies(middle_of(*body), answers, output)) {
            if (unites && !solid) {
                answers.report("bodies", error_finding("join.no_solid", "Only solids can be united.",
                                                       "Take the others off, or leave the copies apart."));
                break;
            }
            const BodyPtr made = copied(*body, copy.move, copy.scale);
            output.added += solid && !unites ? volume_of(*made) : 0;
            if (result.value == "apart") {
                const BodyId id = base + "@" + copy.name;
                output.bodies[id] = made;
                output.births.push_back({id, copy.name, {}, reference.body});
                continue;
            }
            shapes.push_back(made->shape);
            for (const TopoDS_Shape& face : geom::faces_of(made->shape)) {
                FaceName name = made->names.Find(face);
                name.origin += "@" + copy.name;
                names.Bind(face, name);
                origins.push_back({face, face});
            }
        }
        if (!shapes.empty() && unites) {
            shapes.insert(shapes.begin(), body->shape);
            names.add(body->names);
            const auto united = geom::unite(shapes, {}, *inputs.progress);
            if (!united) {
                answers.report("result", united.finding());
                break;
            }
            if (auto apart = lies_apart(united->shape, geom::solids_of(body->shape).size(), Severity::note)) {
                answers.report("result", std::move(*apart));
            }
            const BodyPtr whole = name_united(united->shape, united->origins, names);
            output.bodies[reference.body] = whole;
            output.added += volume_of(*whole) - volume_of(*body);
        } else if (!shapes.empty()) {
            output.bodies[base] = name_result(geom::gather(shapes), origins, names);
            output.births.push_back({base, "copies", {}, reference.body});
        }
    }
    if (!answers.ok()) {
        output.bodies.clear();
        output.births.clear();
        output.added = 0;
    }
    return output;
}

std::vector<StepVerb> CopyBodies::verbs() {
    return {{"copy_bodies", StepVerb::Group::join, "Copies", "Copies bodies in a line, grid or ring, or mirrored.",
             "Shift+C", "Copies", [] { return CopyBodies(); }, true, "loft"}};
}

template struct StepOf<CopyBodies>;

} // namespace kervo::model
