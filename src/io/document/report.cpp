#include "io/document/report.h"

#include "geom/measure/measure.h"
#include "geom/measure/self_crossing.h"
#include "geom/surface/borders.h"
#include "model/document/cutaways.h"
#include "model/document/groups_and_layers.h"

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <numbers>

namespace kervo::io {

using namespace model;

Json finding_to_json(const Finding& finding) {
    Json json{{"severity", to_string(finding.severity)},
              {"code", finding.code},
              {"cause", finding.cause},
              {"mend", finding.mend}};
    if (!finding.field.empty()) {
        json["field"] = finding.field;
    }
    if (!finding.places.empty()) {
        json["places"] = finding.places;
    }
    for (const Offer& offer : finding.offers) {
        json["offers"].push_back({{"says", offer.says}, {"step", offer.step}, {"answers", offer.answers}});
        if (offer.sorts) {
            json["offers"].back()["sorts"] = true;
        }
    }
    return json;
}

namespace {

Json findings_to_json(const Findings& findings) {
    Json list = Json::array();
    for (const Finding& finding : findings) {
        list.push_back(finding_to_json(finding));
    }
    return list;
}

Json step_to_json(const Step& step, const StepReport& report, bool times) {
    Json json{{"number", step.number},
              {"id", step.id},
              {"kind", kind_of(step.definition).kind},
              {"name", step.name},
              {"state", to_string(report.state)},
              {"findings", findings_to_json(report.findings)}};
    if (times) {
        json["seconds"] = report.seconds;
    }
    if (report.output) {
        for (const auto& [name, value] : report.output->facts) {
            json["facts"][name] = value;
        }
        json["removed"] = report.output->removed;
        json["added"] = report.output->added;
        if (!report.output->pieces.empty()) {
            json["imbalance"] = report.output->imbalance;
            json["pieces"] = Json::array();
            for (const Piece& piece : report.output->pieces) {
                json["pieces"].push_back({{"piece", piece.identity.text()},
                                          {"volume", piece.volume},
                                          {"verdict", to_string(piece.verdict)},
                                          {"decided", piece.decided}});
            }
        }
        if (report.output->sketch) {
            json["regions"] = report.output->sketch->regions.size();
            json["degrees_of_freedom"] = report.output->sketch->solution.degrees_of_freedom;
        }
    }
    return json;
}

Json body_to_json(const BodyId& id, const Body& body, const BodyTraits& traits, const Group* group) {
    const geom::Counts counts = geom::count(body.shape);
    const gp_Pnt centroid = geom::centroid_of(body.shape);
    return {{"id", id},
            {"name", traits.name},
            {"kind", body.blade         ? "blade"
                     : counts.lumps > 0 ? "solid"
                     : counts.faces > 0 ? "surface"
                                        : "curves"},
            {"borders", geom::free_borders(body.shape).size()},
            {"closed", counts.faces > 0 && geom::is_closed(body.shape)},
            {"valid", geom::is_sound_body(body.shape)},
            {"stale", traits.stale},
            {"volume", geom::volume_of(body.shape)},
            {"area", geom::area_of(body.shape)},
            {"centroid", {centroid.X(), centroid.Y(), centroid.Z()}},
            {"box", geom::box_of(body.shape)},
            {"lumps", counts.lumps},
            {"shells", counts.shells},
            {"faces", counts.faces},
            {"faces_by_surface", counts.faces_by_surface},
            {"loops", counts.loops},
            {"edges", counts.edges},
            {"vertices", counts.vertices},
            {"color", traits.color},
            {"layer", traits.layer},
            {"group", group == nullptr ? std::string() : group->name}};
}

// Numbers without the last bits, which only say that they are binary.
void shorten(Json& json) {
    if (json.is_number_float()) {
        char text[40];
        std::snprintf(text, sizeof text, "%.15g", json.get<double>());
        json = std::strtod(text, nullptr);
    } else if (json.is_structured()) {
        for (Json& each : json) {
            shorten(each);
        }
    }
}

} // namespace

std::vector<std::string> unsound_bodies(const Json& report) {
    std::vector<std::string> names;
    for (const Json& body : report.at("bodies")) {
        if (!body.at("valid").get<bool>()) {
            names.push_back(body.at("name"));
        }
    }
    return names;
}

Json report(const Document& document, const Evaluation& evaluation, const ReportOptions& options) {
    Json json{{"title", document.title}};
    json["parameters"] = Json::array();
    for (const Parameter& parameter : document.parameters) {
        Json item{{"name", parameter.name}, {"formula", parameter.formula}, {"unit", parameter.unit}};
        if (const auto value = evaluation.parameters.values.find(parameter.name);
            value != evaluation.parameters.values.end()) {
            const auto unit = find_unit(parameter.unit);
            item["value"] = unit ? value->second.value / unit->factor : value->second.value;
        }
        if (const auto finding = evaluation.parameters.findings.find(parameter.name);
            finding != evaluation.parameters.findings.end()) {
            item["finding"] = finding_to_json(finding->second);
        }
        json["parameters"].push_back(std::move(item));
    }
    for (const auto& [name, value] : evaluation.measured) {
        json["parameters"].push_back({{"name", name}, {"measured", true}, {"value", value.value}});
    }
    json["steps"] = Json::array();
    for (const StepReport& step : evaluation.steps) {
        json["steps"].push_back(step_to_json(*document.step(step.id), step, options.times));
    }
    json["bodies"] = Json::array();
    for (const auto& [id, body] : evaluation.bodies_as_of(options.as_of)) {
        const BodyTraits& traits = evaluation.traits.at(id);
        json["bodies"].push_back(body_to_json(id, *body, traits, find_group(document, traits.group)));
        if (const Material* material = material_of(document, id)) {
            Json& last = json["bodies"].back();
            constexpr double cubic_mm_per_cubic_cm = 1000;
            last["material"] = material->name;
            last["mass"] = last["volume"].get<double>() / cubic_mm_per_cubic_cm * material->density; // g
        }
    }
    json["ok"] = !evaluation.failed() && unsound_bodies(json).empty();
    shorten(json);
    return json;
}

} // namespace kervo::io
