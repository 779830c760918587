#include "model/steps/projected_curves/projected_curves.h"

#include "base/text.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/outline/one_way.h"
#include "geom/surface/projected_curves.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"
#include "model/sketching/drawn_curves.h"

#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace kervo::model {

// What is projected; the frame is the sketch's.
struct ProjectedCurves::Sources {
    std::vector<TopoDS_Edge> edges;
    std::vector<std::string> labels;
    gp_Ax3 frame;
};

ProjectedCurves::Sources ProjectedCurves::sources(Answers& answers) const {
    Sources all;
    if (source.value == "edges") {
        for (const auto& [body, edge, own] : answers.elements("edges", edges)) {
            const BodyPtr of = answers.body(body);
            const Reference name = refer_to(body, *of, edge);
            std::string label;
            for (const std::string& face : name.faces) {
                label += (label.empty() ? "" : "&") + FaceName::parse(face).origin;
            }
            all.edges.push_back(TopoDS::Edge(edge));
            all.labels.push_back("(" + label + ")");
        }
        return all;
    }
    const auto drawn = answers.sketch("sketch", sketch);
    if (!drawn) {
        return all;
    }
    all.frame = drawn->frame;
    for (const geom::FaceRole& role : geom::make_curves(drawn->frame, drawn_pieces(*drawn, "outlines")).roles) {
        all.edges.push_back(TopoDS::Edge(role.face));
        all.labels.push_back(role.role.substr(std::string("curve/").size()));
    }
    if (all.edges.empty()) {
        answers.report("sketch", error_finding("project.no_curves", "This sketch draws no curves but guides.",
                                               "Draw some, or choose another sketch."));
    }
    return all;
}

std::optional<gp_Dir> ProjectedCurves::way(const gp_Ax3& frame, Answers& answers) const {
    const bool of_sketch = direction.value == "behind" || direction.value == "before";
    if (of_sketch && source.value != "sketch") {
        answers.report("direction", error_finding("project.no_way", "Edges do not say which way they are projected.",
                                                  "Choose an edge or a face that they follow, or numbers."));
        return std::nullopt;
    }
    if (of_sketch) {
        return direction.value == "before" ? frame.Direction() : frame.Direction().Reversed();
    }
    if (direction.value == "numbers") {
        const gp_Vec wanted(answers.number("along_x", along_x, plain_number),
                            answers.number("along_y", along_y, plain_number),
                            answers.number("along_z", along_z, plain_number));
        if (answers.ok() && wanted.Magnitude() < 1e-9) {
            answers.report("along_z", error_finding("project.no_way", "Three zeros are no direction.",
                                                    "Give one of them a value."));
        }
        return answers.ok() ? std::optional(gp_Dir(wanted)) : std::nullopt;
    }
    const gp_Ax1 axis = answers.axis("along", Choice{"element"}, along);
    if (!answers.ok()) {
        return std::nullopt;
    }
    return direction.value == "against" ? axis.Direction().Reversed() : axis.Direction();
}

namespace {

// Those that are wanted, with a note on how many there are.
void choose(std::vector<geom::ProjectedPart>& parts, const Choice& hits, int number, Answers& answers,
            StepOutput& output) {
    std::map<int, double> nearest;
    for (const geom::ProjectedPart& part : parts) {
        const auto [at, fresh] = nearest.try_emplace(part.hit, part.far);
        at->second = std::min(at->second, part.far);
    }
    const int most = nearest.rbegin()->first;
    output.facts["hits"] = std::to_string(most);
    if (hits.value == "all") {
        return;
    }
    const int wanted = hits.value == "number" ? number : 1;
    std::erase_if(parts, [&](const auto& part) { return part.hit != wanted; });
    if (parts.empty()) {
        answers.report("number",
                       error_finding("project.no_hit",
                                     "The curves are met " + counted(static_cast<size_t>(most), "time", "times") +
                                         ", so there is no hit " + std::to_string(wanted) + ".",
                                     "Choose a smaller number, or more faces."));
    }
}

} // namespace

StepOutput ProjectedCurves::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const Sources from = sources(answers);
    std::vector<TopoDS_Shape> targets;
    FaceNames names;
    for (const auto& [body, element, own] : answers.elements("onto", onto)) {
        targets.push_back(element);
        names.add(answers.body(body)->names);
    }
    const double which = hits.value == "number" ? answers.number("number", number, plain_number) : 1;
    if (answers.ok() && (which < 1 || which != std::floor(which))) {
        answers.report("number", error_finding("project.number", "Hits are counted from 1.", "Give a whole number."));
    }
    const auto along_way = answers.ok() ? way(from.frame, answers) : std::nullopt;
    if (!along_way) {
        return output;
    }
    const gp_Dir up = source.value == "sketch" ? from.frame.Direction() : along_way->Reversed();
    auto parts = geom::projected_curves(geom::one_way(from.edges, up), up, targets, *along_way,
                                        hits.value == "far" ? geom::HitOrder::far_to_near : geom::HitOrder::near_to_far,
                                        *inputs.progress);
    if (!parts) {
        answers.report("onto", parts.finding());
        return output;
    }
    choose(*parts, hits, static_cast<int>(which), answers, output);
    if (!answers.ok()) {
        return output;
    }
    const BodyId id = std::to_string(inputs.step);
    const auto origin_of = [&](const geom::ProjectedPart& part) {
        const std::string hit = hits.value == "far" ? "last" : "hit" + std::to_string(part.hit);
        return id + ":" + hit + "/" + from.labels[part.curve];
    };
    std::map<std::string, std::set<std::string>> on; // what of one curve lies on several faces is told by these
    for (const geom::ProjectedPart& part : *parts) {
        on[origin_of(part)].insert(names.Find(part.on).origin);
    }
    std::vector<TopoDS_Shape> made;
    FaceNames called;
    for (const geom::ProjectedPart& part : *parts) {
        FaceName name{origin_of(part), {}, false};
        if (on[name.origin].size() > 1) {
            name.parts = {names.Find(part.on).origin};
        }
        called.Bind(part.edge, name);
        made.push_back(part.edge);
    }
    output.bodies[id] = body_of_edges(made, called);
    output.births.push_back({id, {}, {}});
    return output;
}

std::vector<StepVerb> ProjectedCurves::verbs() {
    return {{"projected_curves", StepVerb::Group::draw, "Project curves", "Projects curves of a sketch onto faces.", "",
             "Projected curves", [] { return ProjectedCurves(); }, true, "curves"}};
}

template struct StepOf<ProjectedCurves>;

} // namespace kervo::model
