#include "model/steps/blend/blend.h"

#include "geom/surface/blend_borders.h"
#include "model/document/step_of.h"
#include "model/route/spanned.h"

#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::model {

namespace {

constexpr double gap_told = 1e-5; // mm

// The border that is picked, all of it of one body, whose id is handed back.
std::optional<geom::BorderWay> border(const char* field, const References& picked, bool whole, Answers& answers,
                                      BodyId& id) {
    std::vector<TopoDS_Edge> edges;
    for (const auto& [body, edge, own] : answers.elements(field, picked)) {
        if (!id.empty() && body != id) {
            answers.report(field, error_finding("span.two_surfaces", "These edges are of two bodies.",
                                                "Pick edges of one surface."));
        }
        id = body;
        edges.push_back(TopoDS::Edge(edge));
    }
    const BodyPtr body = answers.body(id);
    if (!answers.ok() || !body || edges.empty()) {
        return std::nullopt;
    }
    auto way = geom::BorderWay::through(body->shape, edges, whole);
    if (!way) {
        answers.report(field, way.finding());
        return std::nullopt;
    }
    return std::move(*way);
}

void tell_worst(const geom::Blended& blended, Answers& answers) {
    if (blended.gap > gap_told) {
        answers.report("second", warning_finding("span.gap",
                                                 "It comes only within " + format_quantity(blended.gap, "mm", 3) +
                                                     " mm of its borders.",
                                                 "Shift one of them, or split their edges where they bend sharply."));
    }
    tell_lean(blended.angle, blended.worst, "span.not_tangent",
              "Let it leave its borders less firmly, or shift one of them.", "first_leaves", answers);
}

} // namespace

StepOutput Blend::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    BodyId one;
    BodyId other;
    const bool whole_borders = takes.value == "whole";
    const auto from = border("first", first, whole_borders, answers, one);
    const auto to = border("second", second, whole_borders, answers, other);
    geom::Blending blending;
    const auto end = [&](size_t i, const Choice& leaves, const char* field, const Expression& firmly) {
        blending.tangent[i] = leaves.value == "tangent";
        blending.firmness[i] = blending.tangent[i] ? answers.firmness(field, firmly) : 1;
    };
    end(0, first_leaves, "first_firmly", first_firmly);
    end(1, second_leaves, "second_firmly", second_firmly);
    blending.shift = answers.number("shift", shift, length_dimension);
    blending.turned_over = turned.value == "other";
    if (!answers.ok() || !from || !to) {
        return output;
    }
    const auto blended = geom::blend_borders(*from, *to, blending);
    if (!blended) {
        answers.report("second", blended.finding());
        return output;
    }
    tell_worst(*blended, answers);
    hand_out_spanned(inputs.step, blended->shape, blended->gap, "blend",
                     one == other ? std::vector<BodyId>{one} : std::vector<BodyId>{one, other}, result.value == "sewn",
                     "result", answers, output);
    return output;
}

std::vector<StepVerb> Blend::verbs() {
    return {{"blend_surface", StepVerb::Group::join, "Blend", "Spans a surface from one free border to another.", "",
             "Blend", [] { return Blend(); }, true, "sew"}};
}

template struct StepOf<Blend>;

} // namespace kervo::model
