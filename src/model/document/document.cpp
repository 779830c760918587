#include "model/document/document.h"

#include <algorithm>

namespace kervo::model {

StepPtr Document::step(int id) const {
    const int index = index_of(id);
    return index < 0 ? nullptr : steps[static_cast<size_t>(index)];
}

int Document::index_of(int id) const {
    const auto at = std::find_if(steps.begin(), steps.end(), [id](const StepPtr& step) { return step->id == id; });
    return at == steps.end() ? -1 : static_cast<int>(at - steps.begin());
}

bool same_content(const Document& a, const Document& b) {
    const auto same_steps = std::equal(a.steps.begin(), a.steps.end(), b.steps.begin(), b.steps.end(),
                                       [](const StepPtr& x, const StepPtr& y) { return x == y || *x == *y; });
    const auto same_assets = std::equal(
        a.assets.begin(), a.assets.end(), b.assets.begin(), b.assets.end(), [](const auto& x, const auto& y) {
            return x.first == y.first && (x.second == y.second || (x.second->bytes == y.second->bytes &&
                                                                   x.second->missing == y.second->missing));
        });
    return a.title == b.title && a.unit == b.unit && a.last_id == b.last_id && a.last_group == b.last_group &&
           a.parameters == b.parameters && same_steps && a.appearance == b.appearance && a.groups == b.groups &&
           a.layers == b.layers && a.current_layer == b.current_layer && a.cutaways == b.cutaways &&
           a.materials == b.materials && a.views == b.views && same_assets;
}

namespace {

constexpr std::pair<Showing, const char*> showings[] = {{Showing::full, "full"},
                                                        {Showing::see_through, "see_through"},
                                                        {Showing::edges, "edges"},
                                                        {Showing::aside, "aside"}};

} // namespace

std::string to_string(Showing showing) {
    return std::find_if(std::begin(showings), std::end(showings), [&](const auto& s) { return s.first == showing; })
        ->second;
}

std::optional<Showing> showing_from(const std::string& text) {
    const auto* at =
        std::find_if(std::begin(showings), std::end(showings), [&](const auto& s) { return s.second == text; });
    return at == std::end(showings) ? std::nullopt : std::optional(at->first);
}

namespace {

// Keeps a number where the order allows it; otherwise the middle between its neighbours, or, where there is no room,
// all anew.
void renumber(Document& document) {
    const auto ascending = [&] {
        return std::adjacent_find(document.steps.begin(), document.steps.end(), [](const StepPtr& a, const StepPtr& b) {
                   return a->number >= b->number;
               }) == document.steps.end();
    };
    if (ascending()) {
        return;
    }
    int number = 0;
    for (StepPtr& step : document.steps) {
        number += 10;
        if (step->number != number) {
            auto copy = std::make_shared<Step>(*step);
            copy->number = number;
            step = std::move(copy);
        }
    }
}

int number_at(const Document& document, size_t position) {
    const int before = position == 0 ? 0 : document.steps[position - 1]->number;
    if (position == document.steps.size()) {
        return before / 10 * 10 + 10;
    }
    const int after = document.steps[position]->number;
    return before + (after - before) / 2;
}

} // namespace

Document add_step(Document document, StepDefinition definition, const std::string& name, int position, int* id) {
    const size_t at =
        position < 0 ? document.steps.size() : std::min(static_cast<size_t>(position), document.steps.size());
    for (const StepPtr& step : document.steps) {
        document.last_id = std::max(document.last_id, step->id);
    }
    document.last_id = document.last_id / 10 * 10 + 10;
    auto step = std::make_shared<Step>();
    step->id = document.last_id;
    step->number = number_at(document, at);
    step->name = name;
    step->layer = document.current_layer;
    step->definition = std::move(definition);
    if (id != nullptr) {
        *id = step->id;
    }
    document.steps.insert(document.steps.begin() + static_cast<long>(at), std::move(step));
    renumber(document);
    return document;
}

Document duplicate_step(Document document, int id, int* copy) {
    const StepPtr step = document.step(id);
    if (step == nullptr) {
        return document;
    }
    const int behind = document.index_of(id) + 1;
    document = add_step(std::move(document), step->definition, step->name + " copy", behind, copy);
    return change_step(std::move(document), *copy, [&](Step& fresh) { fresh.note = step->note; });
}

Document remove_step(Document document, int id) {
    std::erase_if(document.steps, [id](const StepPtr& step) { return step->id == id; });
    return document;
}

Document move_step(Document document, int id, int position) {
    const int from = document.index_of(id);
    if (from < 0) {
        return document;
    }
    const StepPtr step = document.steps[static_cast<size_t>(from)];
    document.steps.erase(document.steps.begin() + from);
    const auto to = std::clamp<long>(position, 0, static_cast<long>(document.steps.size()));
    document.steps.insert(document.steps.begin() + to, step);
    renumber(document);
    return document;
}

Document change_step(Document document, int id, const std::function<void(Step&)>& change) {
    const int index = document.index_of(id);
    if (index >= 0) {
        auto copy = std::make_shared<Step>(*document.steps[static_cast<size_t>(index)]);
        change(*copy);
        document.steps[static_cast<size_t>(index)] = std::move(copy);
    }
    return document;
}

Document change_field(Document document, int id, const std::string& key, const FieldValue& value) {
    return change_step(std::move(document), id, [&](Step& step) { set_field(step.definition, key, value); });
}

namespace {

// What an offer's text means as the answer of this field; null where the field takes no such answer.
std::optional<FieldValue> as_answer(const Field& field, const std::string& text) {
    if (std::holds_alternative<Expression>(field.value)) {
        return Expression{text};
    }
    return field.info.option(text) != nullptr ? std::optional<FieldValue>(Choice{text}) : std::nullopt;
}

} // namespace

bool can_take(const Document& document, const Offer& offer) {
    const auto step = document.step(offer.step);
    if (!step) {
        return false;
    }
    const auto fields = fields_of(step->definition);
    return std::all_of(offer.answers.begin(), offer.answers.end(), [&](const auto& answer) {
        return std::any_of(fields.begin(), fields.end(), [&](const Field& field) {
            return field.info.key == answer.first && as_answer(field, answer.second);
        });
    });
}

Document take_offer(Document document, const Offer& offer) {
    return change_step(std::move(document), offer.step, [&](Step& step) {
        for (const Field& field : fields_of(step.definition)) {
            if (const auto answer = offer.answers.find(field.info.key); answer != offer.answers.end()) {
                if (const auto value = as_answer(field, answer->second)) {
                    set_field(step.definition, field.info.key, *value);
                }
            }
        }
    });
}

Document rename_parameter(Document document, const std::string& from, const std::string& to) {
    for (Parameter& parameter : document.parameters) {
        parameter.formula = rename_in_formula(parameter.formula, from, to);
        if (parameter.name == from) {
            parameter.name = to;
        }
    }
    for (StepPtr& step : document.steps) {
        const Dependencies names = dependencies_of(step->definition);
        if (!names.parameters.contains(from) && !names.measures.contains(from)) {
            continue;
        }
        auto copy = std::make_shared<Step>(*step);
        for_each_field(copy->definition, [&](const FieldInfo& info, auto& value) {
            using Value = std::decay_t<decltype(value)>;
            if constexpr (std::is_same_v<Value, ParameterName>) {
                value.text = value.text == from ? to : value.text;
            }
            for_each_formula(info, value, [&](Expression& formula, const Dimension&) {
                formula.text = rename_in_formula(formula.text, from, to);
            });
        });
        step = std::move(copy);
    }
    return document;
}

std::vector<std::string> uses_of_parameter(const Document& document, const std::string& name) {
    std::vector<std::string> uses;
    for (const Parameter& parameter : document.parameters) {
        if (names_read(parameter.formula).contains(name)) {
            uses.push_back(parameter.name);
        }
    }
    for (const StepPtr& step : document.steps) {
        if (dependencies_of(step->definition).parameters.contains(name)) {
            uses.push_back(std::to_string(step->number) + " " + step->name);
        }
    }
    return uses;
}

} // namespace kervo::model
