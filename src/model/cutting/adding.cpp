// Bodies from profiles, of their own or united with one that is there; and which bodies a cut would meet.
#include "geom/cut/curve_division.h"
#include "geom/cut/local_cut.h"
#include "geom/cut/unite.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/measure/self_crossing.h"
#include "model/cutting/cutting.h"
#include "model/cutting/named_cutters.h"
#include "model/names/altering.h"

#include <algorithm>
#include <optional>

namespace kervo::model {

BodyId free_id(const BodyId& wanted, const StepOutput& output) {
    BodyId id = wanted;
    for (int twin = 2; output.bodies.contains(id); ++twin) {
        id = wanted + "#" + std::to_string(twin);
    }
    return id;
}

std::optional<Finding> lies_apart(const TopoDS_Shape& united, size_t wanted_lumps, Severity severity) {
    const auto lumps = geom::solids_of(united);
    if (lumps.size() <= wanted_lumps) {
        return std::nullopt;
    }
    Finding finding;
    finding.severity = severity;
    finding.code = "unite.apart";
    finding.mend = "Let them overlap, or keep them as bodies of their own.";
    std::string missing;
    if (lumps.size() == 2) { // of more, nobody knows which should meet
        const auto gap = geom::gap_between(lumps[0], lumps[1]);
        missing = "; " + format_fixed(gap.width, "mm") + " mm are missing";
        geom::add_place(finding, gap.on_second);
    }
    finding.cause = "What is united here does not hang together: it is " + std::to_string(lumps.size()) +
                    " lumps of one body" + missing + ".";
    return finding;
}

void add_bodies(const std::vector<SweptRegion>& made, const References* unite_with, const StepInputs& inputs,
                StepOutput& output, Answers& answers) {
    BodyPtr target;
    if (unite_with != nullptr && unite_with->empty()) {
        answers.report("unite_with",
                       error_finding("extrude.no_body", "There is no body to unite it with.", "Pick a body."));
    } else if (unite_with != nullptr) {
        target = answers.picked_body("unite_with", *unite_with);
        if (!target) {
            return;
        }
        if (geom::solids_of(target->shape).empty()) {
            answers.report("unite_with", error_finding("extrude.no_body", "There is no solid to unite it with.",
                                                       "Pick a solid body."));
        }
    }
    if (!answers.ok() || made.empty()) {
        return;
    }
    output.swept = std::make_shared<SweptRegions>(made);
    std::vector<BodyPtr> parts;
    if (target) {
        parts.push_back(target);
    }
    for (const SweptRegion& region : made) {
        parts.push_back(name_fresh(inputs.step, region.solid()));
    }
    std::vector<TopoDS_Shape> shapes;
    FaceNames names;
    for (const BodyPtr& part : parts) {
        shapes.push_back(part->shape);
        names.add(part->names);
    }
    const auto united = geom::unite(shapes, {}, *inputs.progress);
    if (!united) {
        answers.report("unite_with", united.finding());
        return;
    }
    const BodyId id = target ? unite_with->front().body : std::to_string(inputs.step);
    if (target) {
        if (auto apart = lies_apart(united->shape, geom::solids_of(target->shape).size(), Severity::warning)) {
            answers.report("unite_with", std::move(*apart));
        }
    }
    output.bodies[id] = name_united(united->shape, united->origins, names);
    output.added = geom::volume_of(united->shape) - (target ? geom::volume_of(target->shape) : 0);
    if (!target) {
        output.births.push_back({id, {}, {}});
    }
}

void add_surface(const std::vector<SweptRegion>& made, const StepInputs& inputs, StepOutput& output, Answers& answers) {
    SweptRegions solids;
    std::vector<TopoDS_Shape> faces;
    FaceNames names;
    for (const SweptRegion& region : made) {
        if (!region.is_surface()) {
            solids.push_back(region);
            continue;
        }
        names.add(name_fresh(inputs.step, region.solid())->names);
        for (const TopoDS_Shape& face : geom::faces_of(region.solid().shape)) {
            faces.push_back(face);
        }
    }
    add_bodies(solids, nullptr, inputs, output, answers);
    if (!answers.ok() || made.empty()) {
        return;
    }
    const BodyId id = std::to_string(inputs.step);
    if (!solids.empty()) {
        const BodyPtr whole = output.bodies.at(id);
        for (const TopoDS_Shape& face : geom::faces_of(whole->shape)) {
            const FaceName& name = whole->names.Find(face);
            if (name.origin != id + ":start" && name.origin != id + ":end") {
                faces.push_back(face);
            }
        }
        names.add(whole->names);
    } else {
        output.births.push_back({id, {}, {}});
    }
    output.swept = std::make_shared<SweptRegions>(made);
    output.added = 0;
    output.bodies[id] = body_of_faces(faces, names);
    const auto crossing = made.size() > 1 ? geom::self_crossing(output.bodies.at(id)->shape) : std::nullopt;
    if (crossing) {
        Finding finding = error_finding("surface.crosses", "Two of the surfaces run through each other here.",
                                        "Make them by steps of their own, or trim what sweeps them.");
        geom::add_place(finding, crossing->place);
        answers.report("sketch", std::move(finding));
        output.bodies.clear();
        output.births.clear();
    }
}

namespace {

// The ways of a cut, from the cheapest on, until one of them knows.
bool meet(const std::vector<SweptRegion>& swept, const Body& body) {
    std::string why_not;
    const NamedCutters cutters(0, swept);
    if (const auto straight = cutters.straight(); !straight.empty()) {
        const auto division = geom::divide_straight(*body.index, straight, why_not);
        if (division && (!division->made.empty() || division->unproven.empty())) {
            return !division->made.empty();
        }
    }
    Progress progress;
    const auto solids = cutters.solids(cutters.all());
    const bool plain =
        std::none_of(swept.begin(), swept.end(), [](const auto& each) { return each.is_blade() || each.is_surface(); });
    if (!plain || geom::solids_of(body.shape).empty()) { // a blade's front is no place to lie in
        const auto division = geom::divide(body.shape, solids, progress);
        return division && (division->pieces.size() > 1 || !division->hanging.empty() ||
                            (plain && !division->pieces.front().inside.empty()));
    }
    if (const auto reached = geom::divide_reached(*body.index, solids, progress, why_not)) {
        const auto& pieces = reached->division.pieces;
        return std::any_of(pieces.begin(), pieces.end(), [](const auto& piece) { return !piece.inside.empty(); });
    }
    return std::any_of(solids.begin(), solids.end(),
                       // Where nobody can tell, the body is offered all the same.
                       [&](const TopoDS_Shape& solid) { return geom::overlap(solid, body.shape).value_or(true); });
}

bool are_met(const std::vector<SweptRegion>& swept, const Body& curves) {
    Progress progress;
    const NamedCutters cutters(0, swept);
    const auto divided = geom::divide_curves(curves.shape, cutters.solids(cutters.all()), progress);
    return !divided || !divided->cuts.empty() ||
           std::any_of(divided->division.pieces.begin(), divided->division.pieces.end(),
                       [](const geom::DividedPiece& piece) { return !piece.inside.empty(); });
}

} // namespace

std::vector<BodyId> bodies_met(const std::vector<SweptRegion>& cutters, const std::map<BodyId, BodyPtr>& bodies,
                               const std::set<BodyId>& changed) {
    std::vector<BodyId> met;
    std::vector<SweptRegion> of_solids; // curves meet surfaces alone
    std::copy_if(cutters.begin(), cutters.end(), std::back_inserter(of_solids),
                 [](const SweptRegion& each) { return !each.is_curves(); });
    for (const auto& [id, body] : bodies) {
        if (is_curves(*body) && changed.contains(id) && are_met(cutters, *body)) {
            met.push_back(id);
        }
        if (body->blade || geom::faces_of(body->shape).empty()) {
            continue;
        }
        const bool surface = is_surface(*body);
        if ((surface || !of_solids.empty()) && meet(surface ? cutters : of_solids, *body)) {
            met.push_back(id);
        }
    }
    return met;
}

} // namespace kervo::model
