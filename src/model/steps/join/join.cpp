#include "model/steps/join/join.h"

#include "geom/cut/unite.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "model/cutting/cutting.h"
#include "model/document/step_of.h"

#include <algorithm>

namespace kervo::model {

namespace {

Standard standard_of(const std::string& operation, size_t bodies) {
    return [operation, bodies](const PieceIdentity& part) {
        const bool common = part.inside.size() == bodies;
        const bool stays = operation == "unite" || common == (operation == "common");
        return stays ? Verdict::stays : Verdict::goes;
    };
}

// What is joined, each body once.
struct Sources {
    std::vector<std::string> keys;
    std::vector<TopoDS_Shape> shapes;
    FaceNames names;
    double volume = 0; ///< mm^3, of all
};

Sources sources_of(const References& bodies, Answers& answers) {
    Sources sources;
    for (const Reference& reference : bodies) {
        const BodyPtr body = answers.body(reference.body);
        if (std::find(sources.keys.begin(), sources.keys.end(), reference.body) == sources.keys.end()) {
            sources.keys.push_back(reference.body);
            sources.shapes.push_back(body->shape);
            const bool first = reference.body == bodies.front().body;
            sources.names.add(first ? body->names : body->names.owned_by(reference.body));
            sources.volume += volume_of(*body);
        }
    }
    return sources;
}

void hand_out_nothing(StepOutput& output) {
    output.bodies.clear();
    output.births.clear();
}

void report_contacts(const TopoDS_Shape& united, bool unites, Answers& answers) {
    const auto contacts = geom::bare_contacts(united);
    if (unites && contacts.empty()) {
        if (auto apart = lies_apart(united, 1, Severity::note)) {
            answers.report("operation", std::move(*apart));
        }
    }
    for (const gp_Pnt& place : contacts) {
        Finding note = note_finding("join.touching", "Lumps of the result touch here in an edge or a point only.",
                                    "That is no connection: let them overlap, or separate them.");
        geom::add_place(note, place);
        answers.report("operation", std::move(note));
    }
}

} // namespace

StepOutput Join::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto found = answers.bodies("bodies", bodies);
    if (answers.ok() && found.size() < 2) {
        answers.report("bodies", error_finding("join.one_body", "There is only one body.", "Tick two or more."));
    }
    const bool solids = std::all_of(found.begin(), found.end(),
                                    [](const BodyPtr& body) { return !geom::solids_of(body->shape).empty(); });
    if (answers.ok() && !solids) {
        answers.report("bodies", error_finding("join.no_solid", "Only solids can be joined.", "Take the others off."));
    }
    if (!answers.ok()) {
        return output;
    }
    const BodyId& id = bodies.front().body;
    const auto [keys, shapes, names, before] = sources_of(bodies, answers);
    const auto cells = geom::cells_of(shapes, *inputs.progress);
    if (!cells) {
        answers.report("bodies", cells.finding());
        return output;
    }
    output.imbalance = cells->imbalance;
    if (cells->free_form) {
        answers.report("bodies", now_free_form());
    }
    auto parts = identify_pieces(id, *cells, keys, names);
    for (const Finding& finding : apply_verdicts(parts, verdicts, standard_of(operation.value, keys.size()))) {
        answers.report("verdicts", finding);
    }
    for (Piece& part : parts) {
        part.by_sides = true;
    }
    output.pieces = parts;
    if (!answers.ok()) {
        return output;
    }
    std::vector<TopoDS_Shape> staying;
    for (const Piece& part : parts) {
        if (part.verdict == Verdict::stays) {
            staying.push_back(part.shape);
        } else if (part.verdict == Verdict::apart) {
            const BodyId own = free_id(std::to_string(inputs.step) + ":" + part.identity.text(), output);
            output.bodies[own] = name_result(part.shape, cells->origins, names);
            output.births.push_back({own, {}, {}});
        }
    }
    if (staying.empty()) {
        answers.report("operation",
                       error_finding("join.nothing", "Nothing is left: these bodies have nothing in common.",
                                     "Bring them together first, or keep something else."));
        hand_out_nothing(output);
        return output;
    }
    const auto united = geom::unite(staying, {seams.value == "cleaned", true}, *inputs.progress);
    if (!united) {
        answers.report("operation", united.finding());
        hand_out_nothing(output);
        return output;
    }
    for (const std::string& key : keys) {
        if (key != id && sources.value == "used_up") {
            output.bodies[key] = nullptr;
        }
    }
    const auto body = name_united(united->shape, geom::traced_back(united->origins, cells->origins), names);
    output.bodies[id] = body;
    const double change = volume_of(*body) - before;
    (change < 0 ? output.removed : output.added) += std::abs(change);
    report_contacts(united->shape, operation.value == "unite", answers);
    return output;
}

template struct StepOf<Join>;

} // namespace kervo::model
