#include "io/document/document_schema.h"

#include "io/document/looking_json.h"
#include "io/document/schema_parts.h"

#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validation_results.hpp>
#include <valijson/validator.hpp>

namespace kervo::io {

using namespace model;

namespace {

Json formula() {
    return {{"type", {"string", "number"}}};
}
template <class Kind> Json names(const std::vector<std::pair<Kind, std::string>>& list) {
    Json values = Json::array();
    for (const auto& [kind, name] : list) {
        values.push_back(name);
    }
    return {{"enum", values}};
}

Json drawing_schema() {
    const Json point = object_of({{"id", whole()}, {"x", number()}, {"y", number()}}, {"id", "x", "y"});
    const Json source = object_of({{"kind", {{"enum", {"edge", "section", "silhouette"}}}},
                                   {"body", text()},
                                   {"faces", list_of(text())},
                                   {"ends", list_of(text())},
                                   {"number", whole()},
                                   {"frozen", truth()}},
                                  {"kind", "body"});
    const Json curve = object_of({{"id", whole()},
                                  {"kind", names(sketch::curve_names())},
                                  {"points", list_of(whole())},
                                  {"radius", number()},
                                  {"construction", truth()},
                                  {"degree", whole()},
                                  {"closed", truth()},
                                  {"through", truth()},
                                  {"knots", list_of(number())},
                                  {"source", source}},
                                 {"id", "kind", "points"});
    const Json constraint = object_of({{"id", whole()},
                                       {"kind", names(sketch::constraint_names())},
                                       {"on", list_of(whole())},
                                       {"value", formula()},
                                       {"measured", truth()}},
                                      {"id", "kind", "on"});
    const Json stretch = object_of({{"line", numbers(4)},
                                    {"arc", numbers(5)},
                                    {"ellipse", numbers(7)},
                                    {"poles", list_of(numbers(2))},
                                    {"degree", whole()},
                                    {"knots", list_of(number())}},
                                   {});
    const Json shape = object_of(
        {{"layer", text()}, {"fill", names(sketch::fill_names())}, {"chains", list_of(list_of(stretch))}}, {"chains"});
    const Json figure =
        object_of({{"id", whole()},
                   {"kind", names(sketch::figure_names())},
                   {"points", list_of(whole())},
                   {"of", list_of(whole())},
                   {"size", formula()},
                   {"spacing", formula()},
                   {"text", text()},
                   {"font", text()},
                   {"align", names(sketch::align_names())},
                   {"along", whole()},
                   {"reversed", truth()},
                   {"fill", names(sketch::fill_names())},
                   {"artwork", object_of({{"name", text()}, {"shapes", list_of(shape)}, {"skipped", list_of(text())}},
                                         {"shapes"})}},
                  {"id", "kind", "points", "size"});
    return object_of({{"points", list_of(point)},
                      {"curves", list_of(curve)},
                      {"constraints", list_of(constraint)},
                      {"figures", list_of(figure)}},
                     {});
}

Json values_of(const FieldInfo& info) {
    Json values = Json::array();
    for (const FieldOption& option : info.options) {
        values.push_back(option.value);
    }
    return {{"enum", values}};
}

Json schema_of(const FieldInfo& info, const FieldValue& value) {
    Json schema;
    switch (value.index()) {
    case 0:
        schema = formula();
        break;
    case 1:
        schema = values_of(info);
        break;
    case 2:
    case 9:
    case 11:
        schema = whole();
        break;
    case 3:
    case 8:
        schema = text();
        break;
    case 4: {
        const Json reference = object_of({{"kind", {{"enum", {"body", "face", "edge", "vertex"}}}},
                                          {"body", text()},
                                          {"faces", list_of(text())},
                                          {"ends", list_of(text())},
                                          {"near", numbers(3)},
                                          {"own", text()},
                                          {"name", text()}},
                                         {"body"});
        schema = list_of({{"anyOf", {text(), reference}}});
        break;
    }
    case 5:
        schema = list_of(
            {{"anyOf",
              {object_of({{"bounds", list_of(text())}, {"near", numbers(2)}, {"sketch", whole()}, {"own", text()}},
                         {"near"}),
               object_of({{"figure", whole()}, {"near", numbers(2)}, {"sketch", whole()}, {"own", text()}},
                         {"figure"})}}});
        break;
    case 6:
        schema = list_of(object_of({{"workpiece", text()},
                                    {"inside", list_of(text())},
                                    {"beside", list_of(text())},
                                    {"ambiguous", truth()},
                                    {"verdict", {{"enum", {"stays", "goes", "apart"}}}},
                                    {"near", numbers(3)}},
                                   {"workpiece", "verdict"}));
        break;
    case 10:
        schema = list_of(text());
        break;
    case 12: {
        Json at = list_of(formula());
        at["minItems"] = at["maxItems"] = 3;
        schema = list_of(object_of({{"name", text()}, {"makes", values_of(info)}, {"of", list_of(text())}, {"at", at}},
                                   {"name", "makes"}));
        break;
    }
    default:
        schema = drawing_schema();
        break;
    }
    schema["description"] = info.help;
    return schema;
}

Json step_schema(const StepKind& kind) {
    Json answers = Json::object();
    for (const Field& field : fields_of(*make_definition(kind.kind))) {
        answers[field.info.key] = schema_of(field.info, field.value);
    }
    Json step = object_of({{"id", whole()},
                           {"number", whole()},
                           {"kind", {{"const", kind.kind}}},
                           {"name", text()},
                           {"note", text()},
                           {"suspended", truth()},
                           {"layer", text()},
                           {"shown", truth()},
                           {"answers", object_of(answers, {})}},
                          {"number", "kind"});
    step["description"] = kind.summary;
    return step;
}

} // namespace

Json document_schema() {
    Json steps = Json::array();
    for (const StepKind& kind : step_kinds()) {
        steps.push_back(step_schema(kind));
    }
    const Json parameter = object_of({{"name", text()},
                                      {"formula", formula()},
                                      {"unit", {{"enum", {"", "mm", "cm", "m", "in", "ft", "deg", "rad"}}}},
                                      {"comment", text()},
                                      {"group", text()}},
                                     {"name", "formula"});
    const Json group = object_of({{"id", whole()}, {"name", text()}, {"within", whole()}}, {"id", "name"});
    const Json layer = object_of({{"name", text()}, {"hidden", truth()}, {"locked", truth()}}, {"name"});
    Json keys{{"format", {{"const", "kervo"}}},
              {"version", {{"type", "integer"}, {"minimum", 1}, {"maximum", format_version}}},
              {"title", text()},
              {"unit", {{"enum", {"mm", "cm", "m", "in", "ft"}}}},
              {"last_id", whole()},
              {"parameters", list_of(parameter)},
              {"steps", list_of({{"anyOf", steps}})},
              {"last_group", whole()},
              {"groups", list_of(group)},
              {"layers", list_of(layer)},
              {"current_layer", text()},
              {"assets", list_of(text())}};
    keys.update(looking_schemas());
    const Json schema = object_of(std::move(keys), {"format", "version"});
    Json out{{"$schema", "http://json-schema.org/draft-07/schema#"}, {"title", "Kervo document"}};
    out.update(schema);
    return out;
}

Findings check_schema(const Json& document) {
    // The validator's adapter wants the unordered flavour.
    const nlohmann::json rules = nlohmann::json::parse(document_schema().dump());
    const nlohmann::json target = nlohmann::json::parse(document.dump());
    valijson::Schema schema;
    valijson::SchemaParser parser;
    const valijson::adapters::NlohmannJsonAdapter rules_adapter(rules);
    parser.populateSchema(rules_adapter, schema);
    valijson::Validator validator;
    valijson::ValidationResults results;
    const valijson::adapters::NlohmannJsonAdapter target_adapter(target);
    Findings findings;
    if (validator.validate(schema, target_adapter, &results)) {
        return findings;
    }
    valijson::ValidationResults::Error error;
    while (results.popError(error)) {
        std::string place;
        for (const std::string& part : error.context) {
            place += part;
        }
        findings.push_back(error_finding("file.schema", place + ": " + error.description,
                                         "Correct the file after the schema in docs/document.schema.json."));
    }
    return findings;
}

std::string steps_reference() {
    std::string out = "# Steps\n\nMade by `kervo-cli reference` from the field lists; do not edit by hand.\n";
    for (const StepKind& kind : step_kinds()) {
        out += "\n## " + kind.title + " (`" + kind.kind + "`)\n\n" + kind.summary +
               "\n\n| question | answer | key | meaning |\n|---|---|---|---|\n";
        for (const Field& field : fields_of(*make_definition(kind.kind))) {
            std::string meaning = field.info.help;
            if (!field.info.options.empty()) {
                std::string options;
                for (const FieldOption& option : field.info.options) {
                    options += (options.empty() ? "" : ", ") + ("`" + option.value + "` (" + option.label + ")");
                }
                meaning += " One of " + options + ".";
            }
            for (const FieldInfo::Condition& condition : field.info.asked_when) {
                const bool first = &condition == &field.info.asked_when.front();
                meaning += (first ? " Asked when `" : " and `") + condition.choice + "` is ";
                for (const std::string& value : condition.values) {
                    meaning += (&value == &condition.values.front() ? "`" : ", `") + value + "`";
                }
            }
            meaning += field.info.asked_when.empty() ? "" : ".";
            out += "| " + title_of(field.info.question) + " | " + field.info.label + " | `" + field.info.key + "` | " +
                   meaning + " |\n";
        }
    }
    return out;
}

} // namespace kervo::io
