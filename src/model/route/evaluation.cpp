// What an evaluation says, and what is kept of it for the next one.
#include "model/document/groups_and_layers.h"
#include "model/route/born.h"
#include "model/route/evaluate.h"

#include <algorithm>

namespace kervo::model {

std::string to_string(StepState state) {
    switch (state) {
    case StepState::ok:
        return "ok";
    case StepState::warning:
        return "warning";
    case StepState::failed:
        return "failed";
    case StepState::stale:
        return "stale";
    case StepState::suspended:
        break;
    }
    return "suspended";
}

namespace {

// A step hands out what it changed; null: the body is gone.
void change_bodies(std::map<BodyId, BodyPtr>& bodies, const StepOutput& output) {
    for (const auto& [id, body] : output.bodies) {
        if (body) {
            bodies[id] = body;
        } else {
            bodies.erase(id);
        }
    }
}

} // namespace

const StepReport* Evaluation::report(int step) const {
    const auto at = std::find_if(steps.begin(), steps.end(), [step](const StepReport& r) { return r.id == step; });
    return at == steps.end() ? nullptr : &*at;
}

std::vector<std::pair<BodyId, BodyPtr>> Evaluation::bodies_as_of(int step) const {
    if (step != 0 && report(step) == nullptr) {
        return {};
    }
    std::map<BodyId, BodyPtr> there;
    for (const StepReport& each : steps) {
        if (each.output) {
            change_bodies(there, *each.output);
        }
        if (each.id == step) {
            break;
        }
    }
    std::vector<std::pair<BodyId, BodyPtr>> bodies(there.begin(), there.end());
    std::sort(bodies.begin(), bodies.end(), [](const auto& a, const auto& b) {
        return maker_of(a.first) != maker_of(b.first) ? maker_of(a.first) < maker_of(b.first) : a.first < b.first;
    });
    return bodies;
}

bool Evaluation::failed() const {
    return !parameters.findings.empty() || std::any_of(steps.begin(), steps.end(), [](const StepReport& report) {
        return report.state == StepState::failed || report.state == StepState::stale;
    });
}

namespace {

bool same_quantity(const Quantity& a, const Quantity& b) {
    return a.value == b.value && a.dimension == b.dimension;
}

bool matches(const EvaluationCache::Key& a, const EvaluationCache::Key& b) {
    const bool same_parameters = std::equal(
        a.parameters.begin(), a.parameters.end(), b.parameters.begin(), b.parameters.end(),
        [](const auto& x, const auto& y) { return x.first == y.first && same_quantity(x.second, y.second); });
    return same_parameters && a.inputs == b.inputs && (a.step == b.step || a.step->definition == b.step->definition);
}

} // namespace

StepOutputPtr EvaluationCache::find(const Key& key) {
    const std::lock_guard lock(guard_);
    auto& entries = entries_[key.step->id];
    const auto at =
        std::find_if(entries.begin(), entries.end(), [&](const Entry& entry) { return matches(entry.key, key); });
    if (at == entries.end()) {
        return nullptr;
    }
    std::rotate(at, at + 1, entries.end()); // the last used stands last
    return entries.back().output;
}

void EvaluationCache::store(Key key, StepOutputPtr output) {
    const std::lock_guard lock(guard_);
    auto& entries = entries_[key.step->id];
    if (entries.size() >= entries_per_step) {
        entries.erase(entries.begin());
    }
    entries.push_back({std::move(key), std::move(output)});
}

std::shared_ptr<const Dependencies> EvaluationCache::dependencies(const StepPtr& step) {
    const std::lock_guard lock(guard_);
    Known& known = dependencies_[step->id];
    if (known.step != step) {
        known = {step, std::make_shared<const Dependencies>(dependencies_of(step->definition))};
    }
    return known.reads;
}

int group_of_born(const Document& document, const Birth& birth, int inherited) {
    const int said = look_of(document, birth.id).group;
    const int group = said == 0 ? inherited : said;
    return find_group(document, group) == nullptr ? 0 : group;
}

void name_born(Evaluation& evaluation, const Birth& birth, const Step& step, const Document& document) {
    BodyTraits traits{birth.name.empty() ? step.name : birth.name, birth.color, step.layer};
    if (const auto like = evaluation.traits.find(birth.like); like != evaluation.traits.end()) {
        traits.name = like->second.name + " " + birth.name;
        const auto taken = [&](const std::string& name) {
            return std::any_of(evaluation.traits.begin(), evaluation.traits.end(),
                               [&](const auto& known) { return known.second.name == name; });
        };
        const std::string base = traits.name;
        for (int number = 2; taken(traits.name); ++number) {
            traits.name = base + " " + std::to_string(number);
        }
        traits.color = like->second.color;
        traits.layer = like->second.layer;
        traits.group = like->second.group;
    }
    traits.group = group_of_born(document, birth, traits.group);
    const Appearance& look = look_of(document, birth.id);
    traits.name = look.name.empty() ? traits.name : look.name;
    traits.color = look.color.empty() ? traits.color : look.color;
    traits.layer = look.layer.empty() ? traits.layer : look.layer;
    if (traits.name.empty()) {
        traits.name = "Body " + birth.id;
    }
    evaluation.traits[birth.id] = std::move(traits);
}

std::vector<BodyId> members_of(int group, const std::vector<BodyId>& bodies, const Document& document,
                               const Evaluation& evaluation) {
    std::vector<BodyId> members;
    for (const BodyId& id : bodies) {
        const auto traits = evaluation.traits.find(id);
        if (traits != evaluation.traits.end() && traits->second.group != 0 &&
            lies_in(document, traits->second.group, group)) {
            members.push_back(id);
        }
    }
    return members;
}

Document adopt_names(Document document, const Evaluation& evaluation) {
    for (const StepReport& report : evaluation.steps) {
        if (!report.output || (report.output->learned.empty() && !report.output->named_regions)) {
            continue;
        }
        if (document.step(report.id) != report.step) {
            continue; // it has changed since, and may mean something else
        }
        document = change_step(std::move(document), report.id, [&](Step& step) {
            if (report.output->named_regions) {
                set_field(step.definition, "regions", *report.output->named_regions);
            }
            for (const Learned& learned : report.output->learned) {
                for_each_field(step.definition, [&](const FieldInfo& info, auto& value) {
                    if constexpr (std::is_same_v<std::decay_t<decltype(value)>, References>) {
                        if (info.key == learned.field && learned.index < value.size()) {
                            value[learned.index] = learned.reference;
                        }
                    }
                });
            }
        });
    }
    return document;
}

StepInputs inputs_before(const Document& document, const Evaluation& evaluation, int step, const Services& services,
                         Progress& progress) {
    StepInputs inputs;
    inputs.step = step;
    inputs.parameters = &evaluation.parameters.values;
    inputs.services = &services;
    inputs.progress = &progress;
    const int index = document.index_of(step);
    const auto before = index < 0 ? evaluation.steps.size() : static_cast<size_t>(index);
    const Dependencies reads = index < 0 ? Dependencies() : dependencies_of(document.steps[before]->definition);
    std::optional<std::map<BodyId, BodyPtr>> bodies_then;
    for (size_t i = 0; i < std::min(before, evaluation.steps.size()); ++i) {
        if (evaluation.steps[i].output) {
            change_bodies(inputs.bodies, *evaluation.steps[i].output);
        }
        const bool sound = evaluation.steps[i].state != StepState::failed;
        if (const auto& output = evaluation.steps[i].output; sound && output && output->sketch) {
            inputs.sketches[evaluation.steps[i].id] = output->sketch;
        } else if (sound && output && output->swept) {
            inputs.sweeps[evaluation.steps[i].id] = output->swept;
        }
        if (evaluation.steps[i].id == reads.as_after) {
            bodies_then = inputs.bodies;
        }
    }
    if (bodies_then) {
        for (const BodyId& body : reads.writes) {
            (*bodies_then)[body] = inputs.bodies[body];
        }
        inputs.bodies = std::move(*bodies_then);
    }
    for (const auto& [name, asset] : document.assets) {
        inputs.assets[name.text()] = asset;
    }
    return inputs;
}

} // namespace kervo::model
