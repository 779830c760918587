#include "model/document/groups_and_layers.h"

#include "model/document/cutaways.h"

#include <algorithm>

namespace kervo::model {

namespace {

int around(const Document& document, int group) {
    const Group* known = find_group(document, group);
    return known == nullptr ? 0 : known->within;
}

// As an appearance says it: there, 0 would be the group of the body's source.
int said_of(int group) {
    return group == 0 ? -1 : group;
}

Document each_step(Document document, const std::function<bool(const Step&)>& concerned,
                   const std::function<void(Step&)>& change) {
    for (StepPtr& step : document.steps) {
        if (concerned(*step)) {
            auto copy = std::make_shared<Step>(*step);
            change(*copy);
            step = std::move(copy);
        }
    }
    return document;
}

} // namespace

const Group* find_group(const Document& document, int id) {
    const auto at = std::find_if(document.groups.begin(), document.groups.end(),
                                 [id](const Group& group) { return group.id == id; });
    return at == document.groups.end() ? nullptr : &*at;
}

bool lies_in(const Document& document, int group, int outer) {
    for (size_t deep = 0; group != 0 && deep <= document.groups.size(); ++deep) {
        if (group == outer) {
            return true;
        }
        group = around(document, group);
    }
    return false;
}

int seen_from(const Document& document, int group, int outer) {
    for (size_t deep = 0; group != 0 && deep <= document.groups.size(); ++deep) {
        const int next = around(document, group);
        if (next == outer) {
            return group;
        }
        group = next;
    }
    return 0;
}

StepDefinition without_groups(StepDefinition definition, const std::function<std::vector<BodyId>(int)>& members) {
    for_each_field(definition, [&](const FieldInfo&, auto& value) {
        if constexpr (std::is_same_v<std::decay_t<decltype(value)>, References>) {
            References plain;
            const auto take = [&](const Reference& reference) {
                if (std::find(plain.begin(), plain.end(), reference) == plain.end()) {
                    plain.push_back(reference);
                }
            };
            for (const Reference& reference : value) {
                const int group = group_meant(reference.body);
                const auto inside = group == 0 ? std::vector<BodyId>{} : members(group);
                if (inside.empty()) {
                    take(reference);
                }
                for (const BodyId& body : inside) {
                    Reference one = reference;
                    one.body = body;
                    take(one);
                }
            }
            value = std::move(plain);
        }
    });
    return definition;
}

bool means_groups(const StepDefinition& definition) {
    bool means = false;
    for_each_field(definition, [&](const FieldInfo&, const auto& value) {
        if constexpr (std::is_same_v<std::decay_t<decltype(value)>, References>) {
            means = means || std::any_of(value.begin(), value.end(),
                                         [](const Reference& reference) { return group_meant(reference.body) != 0; });
        }
    });
    return means;
}

std::vector<BodyId> said_members(const Document& document, int group) {
    std::vector<BodyId> bodies;
    for (const auto& [id, look] : document.appearance) {
        if (look.group > 0 && lies_in(document, look.group, group)) {
            bodies.push_back(id);
        }
    }
    return bodies;
}

Document make_group(Document document, const std::vector<BodyId>& bodies, const std::vector<int>& groups,
                    const std::map<BodyId, int>& now, const std::string& name, int* id) {
    std::set<int> around_all;
    for (const BodyId& body : bodies) {
        const auto at = now.find(body);
        around_all.insert(at == now.end() ? 0 : at->second);
    }
    for (const int group : groups) {
        around_all.insert(around(document, group));
    }
    Group made;
    made.id = ++document.last_group;
    made.name = name.empty() ? "Group " + std::to_string(made.id) : name;
    made.within = around_all.size() == 1 ? *around_all.begin() : 0;
    document.groups.push_back(made);
    if (id != nullptr) {
        *id = made.id;
    }
    return put_into_group(std::move(document), bodies, groups, made.id);
}

namespace {

bool is_unsorted(const Document& document, const BodyId& body) {
    const Appearance& look = look_of(document, body);
    return look.group == 0 && look.layer.empty() && !look.hidden;
}

} // namespace

bool can_be_sorted(const Document& document, const std::map<BodyId, Sorting>& sorting) {
    return std::any_of(sorting.begin(), sorting.end(), [&](const auto& each) {
        return !each.second.says_nothing() && is_unsorted(document, each.first);
    });
}

Document sort_as_in_file(Document document, const std::map<BodyId, Sorting>& sorting) {
    std::map<std::vector<Sorting::Holder>, int> made{{{}, 0}};
    for (const auto& [body, sorted] : sorting) {
        if (sorted.says_nothing() || !is_unsorted(document, body)) {
            continue;
        }
        std::vector<Sorting::Holder> path;
        int group = 0;
        for (const Sorting::Holder& holder : sorted.groups) {
            path.push_back(holder);
            const auto [known, fresh] = made.try_emplace(path, document.last_group + 1);
            if (fresh) {
                ++document.last_group;
                const std::string name = holder.name.empty() ? "Group " + std::to_string(known->second) : holder.name;
                document.groups.push_back({known->second, name, group});
            }
            group = known->second;
        }
        if (!sorted.layer.empty() && find_layer(document, sorted.layer) == nullptr) {
            document.layers.push_back({sorted.layer});
        }
        Appearance& look = document.appearance[body];
        look.group = group;
        look.layer = sorted.layer;
        look.hidden = sorted.hidden;
    }
    return document;
}

Document dissolve_group(Document document, int group, const std::map<BodyId, int>& now) {
    const Group* known = find_group(document, group);
    if (known == nullptr) {
        return document;
    }
    const int outer = known->within;
    std::vector<BodyId> inside;
    for (const auto& [body, in] : now) {
        if (in == group) {
            document.appearance[body].group = said_of(outer);
        }
        if (in != 0 && lies_in(document, in, group)) {
            inside.push_back(body);
        }
    }
    document = each_step(
        std::move(document), [](const Step& step) { return means_groups(step.definition); },
        [&](Step& step) {
            step.definition = without_groups(
                std::move(step.definition), [&](int meant) { return meant == group ? inside : std::vector<BodyId>{}; });
        });
    for (auto& [body, look] : document.appearance) {
        look.group = look.group == group ? said_of(outer) : look.group;
    }
    for (Group& each : document.groups) {
        each.within = each.within == group ? outer : each.within;
    }
    std::erase_if(document.groups, [group](const Group& each) { return each.id == group; });
    return replace_member(std::move(document), reference_to_group(group), inside);
}

Document put_into_group(Document document, const std::vector<BodyId>& bodies, const std::vector<int>& groups,
                        int target) {
    if (std::any_of(groups.begin(), groups.end(), [&](int group) { return lies_in(document, target, group); })) {
        return document;
    }
    for (const BodyId& body : bodies) {
        document.appearance[body].group = said_of(target);
    }
    for (Group& each : document.groups) {
        if (std::find(groups.begin(), groups.end(), each.id) != groups.end()) {
            each.within = target;
        }
    }
    return document;
}

Document rename_group(Document document, int group, const std::string& name) {
    for (Group& each : document.groups) {
        each.name = each.id == group && !name.empty() ? name : each.name;
    }
    return document;
}

const Layer* find_layer(const Document& document, const std::string& name) {
    const auto at = std::find_if(document.layers.begin(), document.layers.end(),
                                 [&](const Layer& layer) { return layer.name == name; });
    return at == document.layers.end() ? nullptr : &*at;
}

const Appearance& look_of(const Document& document, const BodyId& body) {
    static const Appearance unsaid;
    const auto look = document.appearance.find(body);
    return look == document.appearance.end() ? unsaid : look->second;
}

bool refers_to(const Document& document, const Reference& reference, const BodyId& body, int group) {
    const int meant = group_meant(reference.body);
    return reference.body == body || (meant != 0 && lies_in(document, group, meant));
}

bool is_hidden(const Document& document, const BodyId& body, const std::string& layer) {
    const Layer* on = find_layer(document, layer);
    return look_of(document, body).hidden || (on != nullptr && on->hidden);
}

std::set<int> sketches_shown(const Document& document) {
    std::set<int> used;
    for (const StepPtr& step : document.steps) {
        if (!step->suspended) {
            used.merge(dependencies_of(step->definition).sketches);
        }
    }
    std::set<int> shown;
    for (const StepPtr& step : document.steps) {
        if (draws(step->definition) && !step->suspended && step->shown.value_or(!used.contains(step->id))) {
            shown.insert(step->id);
        }
    }
    return shown;
}

bool can_be_picked(const Document& document, const BodyId& body, const std::string& layer) {
    const Layer* on = find_layer(document, layer);
    return look_of(document, body).showing != Showing::aside && (on == nullptr || !on->locked);
}

Document add_layer(Document document, const std::string& name, std::string* added) {
    Layer layer;
    layer.name = name;
    for (int number = 2; find_layer(document, layer.name) != nullptr; ++number) {
        layer.name = name + " " + std::to_string(number);
    }
    if (added != nullptr) {
        *added = layer.name;
    }
    document.layers.push_back(std::move(layer));
    return document;
}

Document rename_layer(Document document, const std::string& from, const std::string& to) {
    if (to.empty() || find_layer(document, to) != nullptr) {
        return document;
    }
    document = change_layer(std::move(document), from, [&](Layer& layer) { layer.name = to; });
    document.current_layer = document.current_layer == from ? to : document.current_layer;
    for (auto& [body, look] : document.appearance) {
        look.layer = look.layer == from ? to : look.layer;
    }
    document = replace_member(std::move(document), reference_to_layer(from), {reference_to_layer(to)});
    return each_step(
        std::move(document), [&](const Step& step) { return step.layer == from; },
        [&](Step& step) { step.layer = to; });
}

Document remove_layer(Document document, const std::string& name) {
    std::erase_if(document.layers, [&](const Layer& layer) { return layer.name == name; });
    document.current_layer = document.current_layer == name ? std::string() : document.current_layer;
    for (auto& [body, look] : document.appearance) {
        look.layer = look.layer == name ? std::string() : look.layer;
    }
    document = replace_member(std::move(document), reference_to_layer(name), {});
    return each_step(
        std::move(document), [&](const Step& step) { return step.layer == name; },
        [](Step& step) { step.layer.clear(); });
}

Document change_layer(Document document, const std::string& name, const std::function<void(Layer&)>& change) {
    for (Layer& layer : document.layers) {
        if (layer.name == name) {
            change(layer);
            break;
        }
    }
    return document;
}

} // namespace kervo::model
