#include "model/steps/extend/extend.h"

#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/surface/borders.h"
#include "geom/surface/extend.h"
#include "geom/surface/reach.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"

#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::model {

namespace {

// The borders of one body, each with its amount; 0 where that is what is missing.
using Amounts = std::vector<geom::BorderExtension>;

void add(Amounts& amounts, const TopoDS_Edge& edge, double amount) {
    const auto known =
        std::find_if(amounts.begin(), amounts.end(), [&](const auto& each) { return each.edge.IsSame(edge); });
    if (known == amounts.end()) {
        amounts.push_back({edge, amount});
    } else {
        known->amount = amount;
    }
}

// What is picked of a surface, or all of the border that it is of. False where it is no free border.
bool add_picked(Amounts& amounts, const TopoDS_Shape& surface, const TopoDS_Shape& picked, bool whole, double amount) {
    for (const geom::Border& border : geom::free_borders(surface)) {
        const bool has = std::any_of(border.edges.begin(), border.edges.end(),
                                     [&](const TopoDS_Edge& edge) { return edge.IsSame(picked); });
        for (const TopoDS_Edge& edge : border.edges) {
            if (has && (whole || edge.IsSame(picked))) {
                add(amounts, edge, amount);
            }
        }
        if (has) {
            return true;
        }
    }
    return false;
}

// Each border by what it is short of passing through the bodies; those that pass through already are dropped.
void take_what_is_missing(Amounts& amounts, const TopoDS_Shape& surface, const std::vector<BodyPtr>& through) {
    for (const BodyPtr& body : through) {
        for (const geom::ShortBorder& missing : geom::short_borders(surface, body->shape)) {
            for (geom::BorderExtension& each : amounts) {
                each.amount = each.edge.IsSame(missing.edge) ? std::max(each.amount, missing.missing) : each.amount;
            }
        }
    }
    std::erase_if(amounts, [](const auto& each) { return each.amount == 0; });
}

} // namespace

StepOutput Extend::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const bool reaches = by.value == "through";
    const double far = reaches ? 0 : answers.positive("amount", amount);
    const auto bodies = reaches ? answers.bodies("through", through) : std::vector<BodyPtr>{};
    std::map<BodyId, Amounts> by_body;
    for (const auto& [id, edge, own] : answers.elements("borders", borders)) {
        const double own_amount = reaches || own.text.empty() ? far : answers.positive("borders", own);
        const TopoDS_Shape& surface = answers.body(id)->shape;
        if (!geom::solids_of(surface).empty() ||
            !add_picked(by_body[id], surface, edge, chain.value == "whole", own_amount)) {
            Finding finding = error_finding("extend.no_border", "This edge is no free border of a surface.",
                                            "Pick edges that are drawn as free borders.");
            geom::add_place(finding, geom::center_of(edge));
            answers.report("borders", std::move(finding));
        }
    }
    for (auto& [id, amounts] : by_body) {
        const BodyPtr before = answers.body(id);
        if (!answers.ok()) {
            break;
        }
        if (reaches) {
            take_what_is_missing(amounts, before->shape, bodies);
        }
        if (amounts.empty()) {
            answers.report("through", note_finding("extend.reaches", "The surface passes through already.", ""));
            continue;
        }
        const auto grown = geom::extended_borders(before->shape, amounts,
                                                  continues.value == "bends" ? geom::Continuation::as_it_bends
                                                                             : geom::Continuation::straight,
                                                  *inputs.progress);
        if (!grown) {
            answers.report(reaches ? "through" : "amount", grown.finding());
            break;
        }
        output.bodies[id] = name_altered(inputs.step, "extension", *before, *grown);
    }
    if (!answers.ok()) {
        output.bodies.clear();
    }
    return output;
}

std::vector<StepVerb> Extend::verbs() {
    return {{"extend_surface", StepVerb::Group::shape, "Extend surface",
             "Lets the selected free borders of surfaces, or those clicked next, go on.", "", "Extended",
             [] { return Extend(); }, true, "copied_faces"}};
}

template struct StepOf<Extend>;

} // namespace kervo::model
