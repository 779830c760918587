#include "model/steps/meeting/meeting.h"

#include "geom/cut/score.h"
#include "geom/kernel/by_shape.h"
#include "geom/measure/measure.h"
#include "model/document/step_of.h"

namespace kervo::model {

namespace {

// What is picked on a blade is its plane, as far as the other body goes.
TopoDS_Shape shape_for(const Body& body, const Body& other) {
    if (!body.blade || !body.blade->endless()) {
        return body.shape;
    }
    for (const auto& role : geom::in_front_of(body.blade->frame, 0, box_of(other)).roles) {
        if (role.role == "blade") {
            return role.face;
        }
    }
    return body.shape;
}

} // namespace

StepOutput Meeting::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    answers.bodies("bodies", bodies);
    answers.bodies("others", others);
    geom::ShapeWithRoles made;
    std::vector<TopoDS_Shape> edges;
    double length = 0;
    for (const Reference& one : answers.ok() ? bodies : References{}) {
        for (const Reference& other : others) {
            const BodyPtr a = answers.body(one.body);
            const BodyPtr b = answers.body(other.body);
            if (a == b) {
                continue;
            }
            const auto curves = geom::meeting_curves(shape_for(*a, *b), shape_for(*b, *a));
            if (!curves) {
                answers.report("others", curves.finding());
                continue;
            }
            const auto name = [](const Body& body, const TopoDS_Shape& face) {
                const FaceName* known = face.IsNull() ? nullptr : body.names.Seek(face);
                return known != nullptr ? known->origin : std::string("edge");
            };
            for (const geom::MeetingCurve& curve : *curves) {
                made.roles.push_back({curve.edge, "meet/" + name(*a, curve.on_one) + "&" + name(*b, curve.on_other)});
                edges.push_back(curve.edge);
                length += geom::length_of(curve.edge);
            }
        }
    }
    if (!answers.ok()) {
        return output;
    }
    if (edges.empty()) {
        answers.report("others",
                       error_finding("meeting.none", "These bodies do not meet.", "Bring them together first."));
        return output;
    }
    made.shape = geom::gather(edges);
    const BodyId id = std::to_string(inputs.step);
    output.bodies[id] = name_fresh(inputs.step, made);
    output.births.push_back({id, {}, {}});
    output.facts["curves"] = std::to_string(edges.size());
    output.facts["length"] = format_fixed(length, "mm") + " mm";
    return output;
}

std::vector<StepVerb> Meeting::verbs() {
    return {{"meeting_curves", StepVerb::Group::join, "Curves where bodies meet",
             "Makes the curves in which bodies meet.", "", "Meeting curves", [] { return Meeting(); }, true, "score"}};
}

template struct StepOf<Meeting>;

} // namespace kervo::model
