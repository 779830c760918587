#include "io/document/earlier_documents.h"

#include <map>

namespace kervo::io {

using namespace model;

void replace_body_names(Document& document) {
    std::map<std::string, BodyId> by_name;
    for (const StepPtr& step : document.steps) {
        by_name.emplace(step->name, std::to_string(step->id));
    }
    for (const auto& [id, look] : document.appearance) {
        if (!look.name.empty()) {
            by_name[look.name] = id;
        }
    }
    const auto fix = [&](BodyId& body) {
        if (const auto known = by_name.find(body); maker_of(body) == 0 && known != by_name.end()) {
            body = known->second;
        }
    };
    for (StepPtr& step : document.steps) {
        auto copy = std::make_shared<Step>(*step);
        for_each_field(copy->definition, [&](const FieldInfo&, auto& value) {
            using Value = std::decay_t<decltype(value)>;
            if constexpr (std::is_same_v<Value, References>) {
                for (Reference& reference : value) {
                    fix(reference.body);
                }
            } else if constexpr (std::is_same_v<Value, VerdictRules>) {
                for (VerdictRule& rule : value) {
                    fix(rule.piece.workpiece);
                }
            }
        });
        step = std::move(copy);
    }
}

void bring_from_version_1(Json& json) {
    for (Json& step : json["steps"]) {
        const Json kind = step.is_object() ? step.value("kind", Json()) : Json();
        if (kind != "extrude" && kind != "extrude_cut") {
            continue;
        }
        Json answers = step.value("answers", Json::object());
        if (kind == "extrude_cut") {
            step["kind"] = "extrude";
            answers["result"] = "cut";
            for (const auto& [key, value] : {std::pair("to", "everything"), std::pair("way", "back")}) {
                if (!answers.contains(key)) {
                    answers[key] = value;
                }
            }
        }
        if (answers.value("to", Json()) == "next_face") {
            answers.erase("to_offset");
        }
        step["answers"] = std::move(answers);
    }
}

} // namespace kervo::io
