#include "io/document/document_json.h"

#include "io/document/earlier_documents.h"
#include "io/document/json_text.h"
#include "io/document/looking_json.h"
#include "io/document/sketch_json.h"
#include "model/document/groups_and_layers.h"

#include <algorithm>
#include <map>
#include <set>

namespace kervo::io {

using namespace model;

namespace {

// --- Values to JSON -----------------------------------------------------------------------------------------------

Json value_to_json(const Expression& value) {
    return value.text;
}
Json value_to_json(const Choice& value) {
    return value.value;
}
Json value_to_json(const SketchLink& value) {
    return value.step;
}
Json value_to_json(const SweepLink& value) {
    return value.step;
}
Json value_to_json(const StateLink& value) {
    return value.step;
}
Json value_to_json(const ParameterName& value) {
    return value.text;
}
Json value_to_json(const CopyNames& value) {
    return value.all;
}
Json value_to_json(const AssetLink& value) {
    return value.name;
}
Json value_to_json(const References& references) {
    Json list = Json::array();
    for (const Reference& reference : references) {
        Json item{{"kind", to_string(reference.kind)}, {"body", reference.body}};
        if (!reference.faces.empty()) {
            item["faces"] = reference.faces;
        }
        if (!reference.ends.empty()) {
            item["ends"] = reference.ends;
        }
        if (reference.near) {
            item["near"] = *reference.near;
        }
        if (!reference.own.text.empty()) {
            item["own"] = reference.own.text;
        }
        if (!reference.name.empty()) {
            item["name"] = reference.name;
        }
        list.push_back(std::move(item));
    }
    return list;
}
Json value_to_json(const Rows& rows) {
    Json list = Json::array();
    for (const Row& row : rows) {
        Json item{{"name", row.name}, {"makes", row.makes}};
        if (!row.of.empty()) {
            item["of"] = row.of;
        }
        if (row.at != Row().at) {
            item["at"] = {row.at[0].text, row.at[1].text, row.at[2].text};
        }
        list.push_back(std::move(item));
    }
    return list;
}
Json value_to_json(const RegionReferences& regions) {
    Json list = Json::array();
    for (const auto& region : regions) {
        Json item = Json::object();
        if (!region.bounds.empty()) {
            item["bounds"] = region.bounds;
        }
        if (region.figure != 0) {
            item["figure"] = region.figure;
        }
        item["near"] = region.near;
        if (region.sketch != 0) {
            item["sketch"] = region.sketch;
        }
        if (!region.own.text.empty()) {
            item["own"] = region.own.text;
        }
        list.push_back(std::move(item));
    }
    return list;
}
Json value_to_json(const VerdictRules& rules) {
    Json list = Json::array();
    for (const VerdictRule& rule : rules) {
        Json item{{"workpiece", rule.piece.workpiece}, {"inside", rule.piece.inside}, {"beside", rule.piece.beside}};
        if (rule.piece.ambiguous) {
            item["ambiguous"] = true;
        }
        item["verdict"] = to_string(rule.verdict);
        if (rule.near) {
            item["near"] = *rule.near;
        }
        list.push_back(std::move(item));
    }
    return list;
}
Json value_to_json(const sketch::Sketch& drawing) {
    return sketch_to_json(drawing);
}

// --- JSON to values -----------------------------------------------------------------------------------------------
// Problems are thrown within this file only, as Bad with the place in the document, and leave it as findings.

struct Bad {
    std::string what;
};

void value_from_json(const Json& json, Expression& value) {
    value.text = json.is_number() ? json.dump() : json.get<std::string>();
}
void value_from_json(const Json& json, Choice& value) {
    value.value = json.get<std::string>();
}
void value_from_json(const Json& json, SketchLink& value) {
    value.step = json.get<int>();
}
void value_from_json(const Json& json, SweepLink& value) {
    value.step = json.get<int>();
}
void value_from_json(const Json& json, StateLink& value) {
    value.step = json.get<int>();
}
void value_from_json(const Json& json, CopyNames& value) {
    value.all = json.get<std::vector<std::string>>();
}
void value_from_json(const Json& json, ParameterName& value) {
    value.text = json.get<std::string>();
}
void value_from_json(const Json& json, AssetLink& value) {
    value.name = json.get<std::string>();
}
ElementKind element_kind(const std::string& text) {
    for (const ElementKind kind : {ElementKind::body, ElementKind::face, ElementKind::edge, ElementKind::vertex}) {
        if (to_string(kind) == text) {
            return kind;
        }
    }
    throw Bad{"\u201c" + text + "\u201d is no kind of element"};
}
void value_from_json(const Json& json, References& references) {
    for (const Json& item : json) {
        Reference reference;
        if (item.is_string()) { // by hand: just a body
            reference.body = item.get<std::string>();
        } else {
            reference.kind = element_kind(item.value("kind", "body"));
            reference.body = item.at("body").get<std::string>();
            reference.faces = item.value("faces", std::vector<std::string>{});
            reference.ends = item.value("ends", std::vector<std::string>{});
            if (item.contains("near")) {
                reference.near = item.at("near").get<Place>();
            }
            if (item.contains("own")) {
                value_from_json(item.at("own"), reference.own);
            }
            reference.name = item.value("name", std::string{});
        }
        references.push_back(std::move(reference));
    }
}
void value_from_json(const Json& json, Rows& rows) {
    for (const Json& item : json) {
        Row row{item.at("name").get<std::string>(), item.at("makes").get<std::string>(),
                item.value("of", std::vector<std::string>{})};
        if (const auto at = item.find("at"); at != item.end()) {
            if (at->size() != row.at.size()) {
                throw Bad{"a place has x, y and z"};
            }
            for (size_t i = 0; i < row.at.size(); ++i) {
                value_from_json((*at)[i], row.at[i]);
            }
        }
        rows.push_back(std::move(row));
    }
}
void value_from_json(const Json& json, RegionReferences& regions) {
    for (const Json& item : json) {
        regions.push_back({item.value("bounds", std::vector<std::string>{}), item.value("near", sketch::Point2{}),
                           item.value("figure", 0), item.value("sketch", 0)});
        if (item.contains("own")) {
            value_from_json(item.at("own"), regions.back().own);
        }
    }
}
void value_from_json(const Json& json, VerdictRules& rules) {
    for (const Json& item : json) {
        VerdictRule rule;
        rule.piece.workpiece = item.at("workpiece").get<std::string>();
        rule.piece.inside = item.value("inside", std::vector<std::string>{});
        rule.piece.beside = item.value("beside", std::vector<std::string>{});
        rule.piece.ambiguous = item.value("ambiguous", false);
        const auto verdict = verdict_from(item.at("verdict").get<std::string>());
        if (!verdict) {
            throw Bad{"a verdict is stays, goes or apart"};
        }
        rule.verdict = *verdict;
        if (item.contains("near")) {
            rule.near = item.at("near").get<Place>();
        }
        rules.push_back(std::move(rule));
    }
}
void value_from_json(const Json& json, sketch::Sketch& drawing) {
    drawing = sketch_from_json(json);
}

void check_option(const FieldInfo& info, const std::string& value) {
    if (info.option(value) == nullptr) {
        throw Bad{"\u201c" + value + "\u201d is not among the answers"};
    }
}

StepPtr step_from_json(const Json& json) {
    auto step = std::make_shared<Step>();
    step->number = json.at("number").get<int>();
    step->id = json.value("id", step->number);
    step->name = json.value("name", std::string{});
    step->note = json.value("note", std::string{});
    step->suspended = json.value("suspended", false);
    step->layer = json.value("layer", std::string{});
    if (json.contains("shown")) {
        step->shown = json["shown"].get<bool>();
    }
    const auto kind = json.at("kind").get<std::string>();
    auto definition = make_definition(kind);
    if (!definition) {
        throw Bad{"step " + std::to_string(step->number) + " is of an unknown kind, \u201c" + kind + "\u201d"};
    }
    step->definition = std::move(*definition);
    Json answers = json.value("answers", Json::object());
    std::string at;
    try {
        for_each_field(step->definition, [&](const FieldInfo& info, auto& value) {
            if (const auto answer = answers.find(info.key); answer != answers.end()) {
                at = info.key;
                value = {};
                value_from_json(*answer, value);
                if constexpr (std::is_same_v<std::decay_t<decltype(value)>, Choice>) {
                    check_option(info, value.value);
                } else if constexpr (std::is_same_v<std::decay_t<decltype(value)>, Rows>) {
                    for (const Row& row : value) {
                        check_option(info, row.makes);
                    }
                }
                answers.erase(answer);
            }
        });
        at = answers.empty() ? "" : answers.begin().key();
        if (!answers.empty()) {
            throw Bad{"there is no such question"};
        }
    } catch (const Bad& bad) {
        throw Bad{"step " + std::to_string(step->number) + ", answer \u201c" + at + "\u201d: " + bad.what};
    } catch (const std::exception& error) {
        throw Bad{"step " + std::to_string(step->number) + ", answer \u201c" + at + "\u201d: " + in_plain_words(error)};
    }
    return step;
}

// Ids of their own, and none within itself; linear in their number, however deep they are.
void check_groups(const std::vector<Group>& groups) {
    std::map<int, const Group*> by_id;
    for (const Group& group : groups) {
        if (group.id <= 0 || !by_id.emplace(group.id, &group).second) {
            throw Bad{"two groups have the id " + std::to_string(group.id)};
        }
    }
    std::map<int, int> seen_from; // group -> the one from which it was first come to
    for (const Group& first : groups) {
        const Group* group = &first;
        while (group != nullptr && seen_from.emplace(group->id, first.id).second) {
            const auto around = by_id.find(group->within);
            group = around == by_id.end() ? nullptr : around->second;
        }
        if (group != nullptr && seen_from.at(group->id) == first.id) {
            throw Bad{"the group \u201c" + group->name + "\u201d lies in itself"};
        }
    }
}

Document read_document(const Json& json) {
    Document document;
    document.title = json.value("title", document.title);
    document.unit = json.value("unit", document.unit);
    document.last_id = json.value("last_id", 0);
    for (const Json& item : json.value("parameters", Json::array())) {
        Expression formula;
        value_from_json(item.at("formula"), formula);
        document.parameters.push_back({item.at("name").get<std::string>(), formula.text,
                                       item.value("unit", std::string{}), item.value("comment", std::string{}),
                                       item.value("group", std::string{})});
    }
    std::set<int> ids;
    for (const Json& item : json.value("steps", Json::array())) {
        document.steps.push_back(step_from_json(item));
        if (!ids.insert(document.steps.back()->id).second || document.steps.back()->id <= 0) {
            throw Bad{"two steps have the id " + std::to_string(document.steps.back()->id)};
        }
        document.last_id = std::max(document.last_id, document.steps.back()->id);
    }
    read_looking(json, document);
    for (const Json& item : json.value("groups", Json::array())) {
        document.groups.push_back(
            {item.at("id").get<int>(), item.at("name").get<std::string>(), item.value("within", 0)});
        document.last_group = std::max(document.last_group, document.groups.back().id);
    }
    document.last_group = std::max(document.last_group, json.value("last_group", 0));
    check_groups(document.groups);
    for (const Json& item : json.value("layers", Json::array())) {
        document.layers.push_back(
            {item.at("name").get<std::string>(), item.value("hidden", false), item.value("locked", false)});
    }
    document.current_layer = json.value("current_layer", std::string{});
    for (const Json& name : json.value("assets", Json::array())) {
        if (const auto plain = AssetName::from(name.get<std::string>())) { // others are missing to what asks for them
            document.assets[*plain] = std::make_shared<Asset>(Asset{*plain, {}, true});
        }
    }
    replace_body_names(document);
    return document;
}

Json to_json(const Step& step) {
    Json item{{"id", step.id}, {"number", step.number}, {"kind", kind_of(step.definition).kind}, {"name", step.name}};
    if (!step.note.empty()) {
        item["note"] = step.note;
    }
    if (step.suspended) {
        item["suspended"] = true;
    }
    if (!step.layer.empty()) {
        item["layer"] = step.layer;
    }
    if (step.shown) {
        item["shown"] = *step.shown;
    }
    Json answers = Json::object();
    for_each_field(step.definition,
                   [&](const FieldInfo& info, const auto& value) { answers[info.key] = value_to_json(value); });
    item["answers"] = std::move(answers);
    return item;
}

} // namespace

Json to_json(const Document& document) {
    Json json{{"format", "kervo"},
              {"version", format_version},
              {"title", document.title},
              {"unit", document.unit},
              {"last_id", document.last_id}};
    json["parameters"] = Json::array();
    for (const Parameter& parameter : document.parameters) {
        json["parameters"].push_back({{"name", parameter.name},
                                      {"formula", parameter.formula},
                                      {"unit", parameter.unit},
                                      {"comment", parameter.comment}});
        if (!parameter.group.empty()) {
            json["parameters"].back()["group"] = parameter.group;
        }
    }
    json["steps"] = Json::array();
    for (const StepPtr& step : document.steps) {
        json["steps"].push_back(to_json(*step));
    }
    if (document.last_group != 0) {
        json["last_group"] = document.last_group;
        json["groups"] = Json::array();
    }
    for (const Group& group : document.groups) {
        json["groups"].push_back({{"id", group.id}, {"name", group.name}, {"within", group.within}});
    }
    for (const Layer& layer : document.layers) {
        json["layers"].push_back({{"name", layer.name}, {"hidden", layer.hidden}, {"locked", layer.locked}});
    }
    if (!document.current_layer.empty()) {
        json["current_layer"] = document.current_layer;
    }
    write_looking(document, json);
    json["assets"] = Json::array();
    for (const auto& [name, asset] : document.assets) {
        json["assets"].push_back(name.text());
    }
    return json;
}

std::string to_text(const Document& document) {
    return to_json(document).dump(1) + "\n";
}

Result<Document> document_from_json(const Json& json) {
    if (!json.is_object() || json.value("format", Json()) != "kervo") {
        return error_finding("file.format", "This is not a Kervo document.", "Choose another file.");
    }
    const Json version = json.value("version", Json());
    if (!version.is_number_integer()) {
        return error_finding("file.format", "The document does not say which version of the format it has.",
                             "Choose another file.");
    }
    if (version.get<int>() > format_version) {
        return error_finding("file.newer",
                             "The document was written in version " + version.dump() +
                                 " of the format; this program reads up to version " + std::to_string(format_version) +
                                 ".",
                             "Open it with a newer Kervo. The file was not changed.");
    }
    try {
        if (version.get<int>() < 2 && json.contains("steps")) {
            Json newer = json;
            bring_from_version_1(newer);
            return read_document(newer);
        }
        return read_document(json);
    } catch (const Bad& bad) {
        return error_finding("file.content", "The document does not make sense: " + bad.what + ".",
                             "Correct the file. It was not changed.");
    } catch (const std::exception& error) {
        return error_finding("file.content", "The document does not make sense: " + in_plain_words(error) + ".",
                             "Correct the file. It was not changed.");
    }
}

Result<Document> document_from_text(const std::string& text) {
    const auto json = parse_json(text);
    return json ? document_from_json(*json) : json.finding();
}

} // namespace kervo::io
