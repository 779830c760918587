#include "model/steps/sew/sew.h"

#include "base/text.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/surface/sew.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"

namespace kervo::model {

namespace {

constexpr double near_enough_to_tell = 100; // times the tolerance: where a wider one may be what is wanted

// What was closed, and what is still open.
void tell(const geom::Sewn& sewn, double tolerance, bool wants_solid, Answers& answers) {
    if (!sewn.gaps.empty()) {
        Finding note = note_finding("sew.gaps",
                                    counted(sewn.gaps.size(), "gap was closed: ", "gaps were closed, the widest ") +
                                        format_quantity(sewn.gaps.front().width, "mm", 3) + " mm.",
                                    "");
        for (const auto& gap : sewn.gaps) {
            geom::add_place(note, gap.place);
        }
        answers.report("tolerance", std::move(note));
    }
    if (sewn.open.empty() || !wants_solid) {
        return;
    }
    const auto gaps = geom::gaps_between(sewn.open, near_enough_to_tell * tolerance);
    Finding finding = (gaps.empty() ? note_finding : warning_finding)(
        "sew.open", "It stays a surface: " + counted(sewn.open.size(), "border is open.", "borders are open."),
        "Close it by another surface, or let it stay open.");
    for (const auto& gap : gaps) {
        geom::add_place(finding, gap.place);
    }
    if (!gaps.empty()) {
        const std::string width = format_quantity(gaps.front().width * 1.01, "mm", 3) + " mm";
        finding.cause += " Borders are up to " + format_quantity(gaps.front().width, "mm", 3) + " mm apart.";
        finding.offers = {{"Close gaps up to " + width, {{"tolerance", width}}}};
    } else {
        for (const geom::Border& border : sewn.open) {
            geom::add_place(finding, geom::center_of(border.edges.front()));
        }
    }
    answers.report("surfaces", std::move(finding));
}

} // namespace

StepOutput Sew::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    std::vector<TopoDS_Shape> shapes;
    FaceNames names;
    for (const BodyPtr& body : answers.bodies("surfaces", surfaces)) {
        if (!is_surface(*body)) {
            answers.report("surfaces", error_finding("sew.no_surface", "Only surfaces can be sewn.",
                                                     "Take the others off the list."));
        }
        shapes.push_back(body->shape);
        names.add(body->names);
    }
    const double gap = answers.positive("tolerance", tolerance);
    if (!answers.ok()) {
        return output;
    }
    auto sewn = geom::sew(shapes, gap, *inputs.progress);
    if (!sewn) {
        answers.report("surfaces", sewn.finding());
        return output;
    }
    const bool wants_solid = becomes.value == "solid";
    tell(*sewn, gap, wants_solid, answers);
    if (wants_solid && sewn->open.empty()) {
        const auto solid = geom::solids_within(sewn->shape);
        if (!solid) {
            answers.report("surfaces", solid.finding());
            return output;
        }
        sewn->shape = *solid;
        output.added = geom::volume_of(*solid);
    }
    for (const Reference& reference : surfaces) {
        output.bodies[reference.body] = nullptr;
    }
    output.bodies[surfaces.front().body] = name_result(sewn->shape, sewn->origins, names);
    output.facts["borders"] = std::to_string(sewn->open.size());
    return output;
}

std::vector<StepVerb> Sew::verbs() {
    return {{"sew", StepVerb::Group::join, "Sew", "Joins surfaces along their borders, to a solid where they close.",
             "", "Sew", [] { return Sew(); }, true, "separate"}};
}

template struct StepOf<Sew>;

} // namespace kervo::model
