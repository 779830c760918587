#include "model/steps/score/score.h"

#include "geom/cut/score.h"
#include "geom/kernel/finding_place.h"
#include "geom/kernel/is_curves.h"
#include "geom/make/curves_on_face.h"
#include "geom/measure/measure.h"
#include "model/document/step_of.h"

namespace kervo::model {

namespace {

void tell_loose_ends(const geom::Scored& scored, bool curves, Answers& answers) {
    if (scored.loose_ends.empty()) {
        return;
    }
    Finding finding = warning_finding("score.ends_within", "Lines end within a face here, and divide nothing there.",
                                      "Let what scores go on to the border.");
    for (const gp_Pnt& end : scored.loose_ends) {
        geom::add_place(finding, end);
    }
    if (curves) {
        finding.offers = {{"Go on to the border", {{"curves_reach", "extended"}}}};
    }
    answers.report("by", std::move(finding));
}

void tell_contacts(const geom::Scored& scored, const References& all, Answers& answers, StepOutput& output) {
    output.facts["contacts"] = std::to_string(scored.contacts.size());
    int number = 0;
    double area = 0;
    Finding note = note_finding("score.contacts", "", "");
    for (const auto& contact : scored.contacts) {
        const auto name = [&](int body) {
            const BodyId& id = all[static_cast<size_t>(body)].body;
            const auto made = output.bodies.find(id);
            const FaceName* face = made == output.bodies.end() ? nullptr : made->second->names.Seek(contact.face);
            return id + " " + (face != nullptr ? face->text() : "not scored");
        };
        const double own = geom::area_of(contact.face);
        area += own;
        output.facts["contact " + std::to_string(++number)] =
            name(contact.one) + " = " + name(contact.other) + ", " + format_fixed(own, "") + " mm2";
        geom::add_place(note, geom::center_of(contact.face));
    }
    if (number > 0) {
        note.cause = (number == 1 ? "A pair of faces matches, vertex on vertex: "
                                  : std::to_string(number) + " pairs of faces match, vertex on vertex: ") +
                     format_fixed(area, "") + " mm2 in all.";
        answers.report("ways", std::move(note));
    }
}

} // namespace

void Score::let_reach(TopoDS_Shape& curves, Answers& answers) const {
    std::vector<geom::GoneOn> added;
    for (const Reference& reference : workpieces) {
        const auto more = geom::gone_on_to_borders(curves, answers.body(reference.body)->shape, answers.progress());
        if (!more) {
            answers.report("curves_reach", more.finding());
            return;
        }
        added.insert(added.end(), more->begin(), more->end());
    }
    const auto edges = geom::joined_with(curves, added);
    curves = geom::gather({edges.begin(), edges.end()});
}

StepOutput Score::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    answers.bodies("workpieces", workpieces);
    References all = workpieces;
    for (const Reference& reference : by) {
        const bool known =
            std::any_of(all.begin(), all.end(), [&](const auto& one) { return one.body == reference.body; });
        if (!answers.body(reference.body)) {
            answers.bodies("by", {reference}); // which says what is wrong
        } else if (!known) {
            all.push_back(reference);
        }
    }
    if (answers.ok() && all.size() < 2) {
        answers.report("by", error_finding("score.alone", "There is nothing to score it by.", "Add another body."));
    }
    if (!answers.ok()) {
        return output;
    }
    std::vector<TopoDS_Shape> shapes;
    FaceNames names;
    for (const Reference& reference : all) {
        shapes.push_back(answers.body(reference.body)->shape);
        if (curves_reach.value == "extended" && geom::is_curves(shapes.back())) {
            let_reach(shapes.back(), answers);
        }
        names.add(answers.body(reference.body)->names);
    }
    if (!answers.ok()) {
        return output;
    }
    const auto scored = geom::score(shapes, *inputs.progress);
    if (!scored) {
        answers.report("workpieces", scored.finding());
        return output;
    }
    tell_loose_ends(*scored, std::any_of(shapes.begin(), shapes.end(), geom::is_curves), answers);
    bool changed = false;
    for (size_t i = 0; i < all.size(); ++i) {
        const TopoDS_Shape& made = scored->bodies[i];
        if (geom::faces_of(made).empty() || (i >= workpieces.size() && ways.value != "both")) {
            continue;
        }
        changed = changed || geom::faces_of(made).size() != geom::faces_of(shapes[i]).size();
        // A face that two bodies share lies on a face of each; each gets the name of its own.
        std::vector<geom::FaceOrigin> own;
        const FaceNames& known = answers.body(all[i].body)->names;
        for (const geom::FaceOrigin& origin : scored->origins) {
            if (known.IsBound(origin.source)) {
                own.push_back(origin);
            }
        }
        output.bodies[all[i].body] = name_result(made, own, known);
    }
    if (!changed && scored->contacts.empty()) {
        answers.report("by", error_finding("score.nothing", "These bodies do not meet, so nothing is marked.",
                                           "Bring them together first."));
        output.bodies.clear();
        return output;
    }
    tell_contacts(*scored, all, answers, output);
    return output;
}

std::vector<StepVerb> Score::verbs() {
    return {{"score", StepVerb::Group::join, "Score",
             "Marks the outlines of bodies into the faces of others, for matching contacts.", "", "Score",
             [] { return Score(); }, true, "all_but_common"}};
}

template struct StepOf<Score>;

} // namespace kervo::model
