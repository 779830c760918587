#include "model/steps/separate/separate.h"

#include "model/document/step_of.h"
#include "model/names/altering.h"
#include "model/names/border_names.h"

namespace kervo::model {

namespace {

// Each face a surface, called after it; the body is gone.
void take_faces_apart(int step, const BodyId& id, const Body& body, StepOutput& output) {
    const geom::Neighbours neighbours(body.shape);
    for (const TopoDS_Shape& face : geom::faces_of(body.shape)) {
        FaceNames names;
        names.Bind(face, body.names.Find(face));
        for (const TopoDS_Shape& edge : geom::edges_of(face)) {
            if (const FaceName* border = body.names.Seek(edge)) {
                names.Bind(edge, *border);
            }
            for (const int beside : neighbours.faces_at(edge)) {
                const TopoDS_Shape& other = neighbours.faces()[static_cast<size_t>(beside)];
                if (!other.IsSame(face)) {
                    names.Bind(edge, border_towards(body.names.Find(other).origin));
                }
            }
        }
        const BodyId own = free_id(std::to_string(step) + ":" + id + "/" + body.names.Find(face).text(), output);
        output.bodies[own] = body_of_faces({face}, names);
        output.births.push_back({own, describe_face(body.names.Find(face)), {}, id});
    }
    output.bodies[id] = nullptr;
}

} // namespace

StepOutput Separate::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto bodies = answers.bodies("workpieces", workpieces);
    if (into.value == "faces") {
        for (const Reference& reference : workpieces) {
            const BodyPtr body = answers.body(reference.body);
            if (answers.ok() && body && !output.bodies.contains(reference.body)) {
                take_faces_apart(inputs.step, reference.body, *body, output);
            }
        }
        return output;
    }
    CutRules rules;
    rules.all_become = lumps.value == "apart" ? Verdict::apart : Verdict::stays;
    rules.grow_together = false;
    rules.cutters_field = "workpieces";
    cut_bodies(bodies, {}, verdicts, rules, inputs, output, answers);
    return output;
}

std::vector<StepVerb> Separate::verbs() {
    return {{"separate", StepVerb::Group::join, "Separate",
             "Takes bodies apart into their lumps, or drops some of them.", "Shift+S", "Separate",
             [] { return Separate(); }, true, "meeting_curves"}};
}

template struct StepOf<Separate>;

} // namespace kervo::model
