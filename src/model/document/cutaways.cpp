#include "model/document/cutaways.h"

#include "model/document/groups_and_layers.h"

#include <algorithm>

namespace kervo::model {

namespace {

const std::string layer_mark = "layer:";

bool is_member(const Cutaway& cutaway, const Document& document, const BodyId& body, int group,
               const std::string& layer) {
    return std::any_of(cutaway.members.begin(), cutaway.members.end(), [&](const std::string& member) {
        const auto on_layer = layer_of(member);
        return on_layer ? *on_layer == layer : refers_to(document, whole(member), body, group);
    });
}

} // namespace

std::string reference_to_layer(const std::string& name) {
    return layer_mark + name;
}

std::optional<std::string> layer_of(const std::string& member) {
    return member.starts_with(layer_mark) ? std::optional(member.substr(layer_mark.size())) : std::nullopt;
}

bool has_room(const Cutaway& cutaway) {
    constexpr double least = 1e-6; // mm
    const auto& [x, y, z] = cutaway.size;
    switch (cutaway.form) {
    case Cutaway::Form::slab:
        return z > least;
    case Cutaway::Form::box:
        return std::min({x, y, z}) > least;
    case Cutaway::Form::cylinder:
        return std::min(x, z) > least;
    case Cutaway::Form::plane:
    case Cutaway::Form::body:
        break;
    }
    return true;
}

bool concerns(const Cutaway& cutaway, const Document& document, const BodyId& body, int group,
              const std::string& layer) {
    if (!cutaway.on || !has_room(cutaway) || (cutaway.form == Cutaway::Form::body && cutaway.body == body)) {
        return false;
    }
    return cutaway.scope == Cutaway::Scope::all ||
           (cutaway.scope == Cutaway::Scope::only) == is_member(cutaway, document, body, group, layer);
}

bool cuts_with(const std::vector<Cutaway>& cutaways, const BodyId& body) {
    return std::any_of(cutaways.begin(), cutaways.end(), [&](const Cutaway& each) {
        return each.on && each.form == Cutaway::Form::body && each.body == body;
    });
}

const Cutaway* find_cutaway(const std::vector<Cutaway>& cutaways, const std::string& letter) {
    const auto at =
        std::find_if(cutaways.begin(), cutaways.end(), [&](const Cutaway& each) { return each.letter == letter; });
    return at == cutaways.end() ? nullptr : &*at;
}

const View* find_view(const Document& document, const std::string& name) {
    const auto& all = document.views;
    const auto at = std::find_if(all.begin(), all.end(), [&](const View& each) { return each.name == name; });
    return at == all.end() ? nullptr : &*at;
}

const Material* find_material(const Document& document, const std::string& name) {
    const auto& all = document.materials;
    const auto at = std::find_if(all.begin(), all.end(), [&](const Material& each) { return each.name == name; });
    return at == all.end() ? nullptr : &*at;
}

const Material* material_of(const Document& document, const BodyId& body) {
    const std::string& name = look_of(document, body).material;
    return name.empty() ? nullptr : find_material(document, name);
}

std::string free_letter(const std::vector<Cutaway>& cutaways) {
    const std::string letters = "ABCDEFGHJKLMNPQRSTUVWXYZ";
    for (std::string before;; before += letters.front()) {
        for (const char letter : letters) {
            if (find_cutaway(cutaways, before + letter) == nullptr) {
                return before + letter;
            }
        }
    }
}

Document put_cutaway(Document document, const Cutaway& cutaway) {
    const auto at = std::find_if(document.cutaways.begin(), document.cutaways.end(),
                                 [&](const Cutaway& each) { return each.letter == cutaway.letter; });
    if (at == document.cutaways.end()) {
        document.cutaways.push_back(cutaway);
    } else {
        *at = cutaway;
    }
    return document;
}

Document remove_cutaway(Document document, const std::string& letter) {
    std::erase_if(document.cutaways, [&](const Cutaway& each) { return each.letter == letter; });
    return document;
}

Cutaway with_body(Cutaway cutaway, const BodyId& body, bool opened) {
    if (cutaway.scope == Cutaway::Scope::all) {
        cutaway.members.clear();
        cutaway.scope = Cutaway::Scope::all_but;
    }
    std::erase(cutaway.members, body);
    if (opened == (cutaway.scope == Cutaway::Scope::only)) {
        cutaway.members.push_back(body);
    }
    return cutaway;
}

Document replace_member(Document document, const std::string& member, const std::vector<std::string>& by) {
    const auto replace = [&](std::vector<Cutaway>& cutaways) {
        for (Cutaway& cutaway : cutaways) {
            if (std::erase(cutaway.members, member) > 0) {
                cutaway.members.insert(cutaway.members.end(), by.begin(), by.end());
            }
        }
    };
    replace(document.cutaways);
    for (View& view : document.views) {
        replace(view.cutaways);
    }
    return document;
}

Document put_material(Document document, const std::string& from, const Material& material) {
    if (material.name.empty() || (material.name != from && find_material(document, material.name) != nullptr)) {
        return document;
    }
    const auto at = std::find_if(document.materials.begin(), document.materials.end(),
                                 [&](const Material& each) { return each.name == from; });
    if (at == document.materials.end()) {
        document.materials.push_back(material);
        return document;
    }
    *at = material;
    for (auto& [body, look] : document.appearance) {
        look.material = look.material == from ? material.name : look.material;
    }
    return document;
}

Document remove_material(Document document, const std::string& name) {
    std::erase_if(document.materials, [&](const Material& each) { return each.name == name; });
    for (auto& [body, look] : document.appearance) {
        look.material = look.material == name ? std::string() : look.material;
    }
    return document;
}

View view_of(const Document& document, const std::string& name) {
    View view;
    view.name = name;
    for (const auto& [body, look] : document.appearance) {
        if (look.hidden) {
            view.hidden.insert(body);
        }
        if (look.showing != Showing::full) {
            view.showing[body] = to_string(look.showing);
        }
    }
    for (const Layer& layer : document.layers) {
        if (layer.hidden) {
            view.hidden_layers.insert(layer.name);
        }
    }
    view.cutaways = document.cutaways;
    return view;
}

Document as_in_view(Document document, const View& view) {
    for (const BodyId& body : view.hidden) {
        document.appearance[body].hidden = true;
    }
    for (const auto& [body, word] : view.showing) {
        document.appearance[body]; // so that the loop below comes by
    }
    for (auto& [body, look] : document.appearance) {
        const auto showing = view.showing.find(body);
        look.hidden = view.hidden.contains(body);
        look.showing =
            showing == view.showing.end() ? Showing::full : showing_from(showing->second).value_or(Showing::full);
    }
    for (Layer& layer : document.layers) {
        layer.hidden = view.hidden_layers.contains(layer.name);
    }
    document.cutaways = view.cutaways;
    return document;
}

std::string free_view_name(const Document& document, const std::string& name) {
    std::string free = name;
    for (int number = 2; find_view(document, free) != nullptr; ++number) {
        free = name + " " + std::to_string(number);
    }
    return free;
}

} // namespace kervo::model
