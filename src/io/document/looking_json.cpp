#include "io/document/looking_json.h"

#include "io/document/schema_parts.h"

namespace kervo::io {

using namespace model;

namespace {

// The value of a word, or what is wrong with it.
template <class Value>
Value said(std::optional<Value> (*value_of)(const std::string&), const std::string& word, const std::string& what) {
    const auto value = value_of(word);
    if (!value) {
        throw std::invalid_argument("there is no " + what + " \u201c" + word + "\u201d");
    }
    return *value;
}

Showing showing_of(const Json& look) {
    return said(showing_from, look.value("showing", to_string(Showing::full)), "way of showing a body called");
}

Appearance appearance_of(const Json& look) {
    return {look.value("name", std::string{}),
            look.value("color", std::string{}),
            look.value("layer", std::string{}),
            look.value("hidden", false),
            showing_of(look),
            look.value("group", 0),
            look.value("material", std::string{})};
}

Json to_json(const Appearance& look) {
    Json item = Json::object();
    for (const auto& [key, text] : {std::pair("name", look.name), std::pair("color", look.color),
                                    std::pair("layer", look.layer), std::pair("material", look.material)}) {
        if (!text.empty()) {
            item[key] = text;
        }
    }
    if (look.hidden) {
        item["hidden"] = true;
    }
    if (look.showing != Showing::full) {
        item["showing"] = to_string(look.showing);
    }
    if (look.group != 0) {
        item["group"] = look.group;
    }
    return item;
}

Cutaway cutaway_of(const Json& item) {
    Cutaway cutaway;
    cutaway.letter = item.value("letter", cutaway.letter);
    cutaway.name = item.value("name", std::string{});
    cutaway.on = item.value("on", true);
    cutaway.form = said(cutaway_form_from, item.value("shape", std::string("plane")), "shape of a cutaway");
    cutaway.keeps = item.value("keeps", false);
    cutaway.origin = item.at("origin").get<Place>();
    cutaway.normal = item.at("normal").get<Place>();
    cutaway.across = item.value("across", cutaway.across);
    cutaway.size = item.value("size", cutaway.size);
    cutaway.body = item.value("body", std::string{});
    cutaway.scope = said(cutaway_scope_from, item.value("concerns", std::string("all")), "scope of a cutaway");
    cutaway.members = item.value("members", std::vector<std::string>{});
    cutaway.fill = item.value("fill", std::string{});
    if (const auto whole = item.value("left_whole", std::vector<std::string>{}); !whole.empty()) { // earlier documents
        cutaway.scope = Cutaway::Scope::all_but;
        cutaway.members = whole;
    }
    return cutaway;
}

// What is as a new one has it is not said.
Json to_json(const Cutaway& cutaway) {
    const Cutaway fresh;
    Json item{{"letter", cutaway.letter}};
    const auto say = [&item](const char* key, const auto& value, bool different) {
        if (different) {
            item[key] = value;
        }
    };
    say("name", cutaway.name, !cutaway.name.empty());
    item["on"] = cutaway.on;
    say("shape", to_string(cutaway.form), cutaway.form != fresh.form);
    say("keeps", cutaway.keeps, cutaway.keeps);
    item["origin"] = cutaway.origin;
    item["normal"] = cutaway.normal;
    say("across", cutaway.across, cutaway.across != fresh.across);
    say("size", cutaway.size, cutaway.size != fresh.size);
    say("body", cutaway.body, !cutaway.body.empty());
    say("concerns", to_string(cutaway.scope), cutaway.scope != fresh.scope);
    say("members", cutaway.members, !cutaway.members.empty());
    say("fill", cutaway.fill, !cutaway.fill.empty());
    return item;
}

Json to_json(const std::vector<Cutaway>& cutaways) {
    Json list = Json::array();
    for (const Cutaway& cutaway : cutaways) {
        list.push_back(to_json(cutaway));
    }
    return list;
}

std::vector<Cutaway> cutaways_of(const Json& json) {
    std::vector<Cutaway> cutaways;
    std::set<std::string> letters;
    for (const Json& item : json.value("cutaways", Json::array())) {
        cutaways.push_back(cutaway_of(item));
        if (!letters.insert(cutaways.back().letter).second) {
            throw std::invalid_argument("two cutaways have the letter \u201c" + cutaways.back().letter + "\u201d");
        }
    }
    return cutaways;
}

Material material_of(const Json& item) {
    Material material;
    material.name = item.at("name").get<std::string>();
    material.color = item.value("color", material.color);
    material.density = item.value("density", material.density);
    material.hatch = said(hatch_from, item.value("hatch", std::string("lines")), "hatch called");
    material.glass = item.value("glass", false);
    return material;
}

Json to_json(const Material& material) {
    return {{"name", material.name},
            {"color", material.color},
            {"density", material.density},
            {"hatch", to_string(material.hatch)},
            {"glass", material.glass}};
}

View view_of(const Json& item) {
    View view;
    view.name = item.at("name").get<std::string>();
    view.note = item.value("note", std::string{});
    view.middle = item.at("middle").get<Place>();
    view.along = item.at("along").get<Place>();
    view.up = item.at("up").get<Place>();
    view.height = item.at("height").get<double>();
    view.hidden = item.value("hidden", std::set<std::string>{});
    const Json showing = item.value("showing", Json::object());
    for (const auto& [body, word] : showing.items()) {
        view.showing[body] = to_string(showing_of({{"showing", word}}));
    }
    view.hidden_layers = item.value("hidden_layers", std::set<std::string>{});
    view.cutaways = cutaways_of(item);
    return view;
}

Json to_json(const View& view) {
    Json item{{"name", view.name}};
    if (!view.note.empty()) {
        item["note"] = view.note;
    }
    item["middle"] = view.middle;
    item["along"] = view.along;
    item["up"] = view.up;
    item["height"] = view.height;
    item["hidden"] = view.hidden;
    item["showing"] = view.showing;
    item["hidden_layers"] = view.hidden_layers;
    item["cutaways"] = to_json(view.cutaways);
    return item;
}

} // namespace

void read_looking(const Json& json, Document& document) {
    const Json appearance = json.value("appearance", Json::object());
    for (const auto& [id, look] : appearance.items()) {
        document.appearance[id] = appearance_of(look);
    }
    document.cutaways = cutaways_of(json);
    for (const Json& item : json.value("materials", Json::array())) {
        document.materials.push_back(material_of(item));
    }
    for (const Json& item : json.value("views", Json::array())) {
        document.views.push_back(view_of(item));
    }
}

void write_looking(const Document& document, Json& json) {
    json["appearance"] = Json::object();
    for (const auto& [id, look] : document.appearance) {
        json["appearance"][id] = to_json(look);
    }
    json["cutaways"] = to_json(document.cutaways);
    for (const Material& material : document.materials) {
        json["materials"].push_back(to_json(material));
    }
    for (const View& view : document.views) {
        json["views"].push_back(to_json(view));
    }
}

// --- Schema ---------------------------------------------------------------------------------------------------------

Json looking_schemas() {
    const Json color{{"type", "string"}, {"pattern", "^#[0-9a-fA-F]{6}$"}};
    const Json showing{{"enum", {"full", "see_through", "edges", "aside"}}};
    const Json look = object_of({{"name", text()},
                                 {"color", color},
                                 {"layer", text()},
                                 {"hidden", truth()},
                                 {"showing", showing},
                                 {"group", whole()},
                                 {"material", text()}},
                                {});
    const Json cutaway = object_of({{"letter", text()},
                                    {"name", text()},
                                    {"on", truth()},
                                    {"shape", {{"enum", {"plane", "slab", "box", "cylinder", "body"}}}},
                                    {"keeps", truth()},
                                    {"origin", numbers(3)},
                                    {"normal", numbers(3)},
                                    {"across", numbers(3)},
                                    {"size", numbers(3)},
                                    {"body", text()},
                                    {"concerns", {{"enum", {"all", "all_but", "only"}}}},
                                    {"members", list_of(text())},
                                    {"fill", color},
                                    {"left_whole", list_of(text())}},
                                   {"origin", "normal"});
    const Json material = object_of({{"name", text()},
                                     {"color", color},
                                     {"density", {{"type", "number"}, {"exclusiveMinimum", 0}}},
                                     {"hatch", {{"enum", {"lines", "pairs", "crossed", "dashes", "filled", "none"}}}},
                                     {"glass", truth()}},
                                    {"name"});
    const Json view = object_of({{"name", text()},
                                 {"note", text()},
                                 {"middle", numbers(3)},
                                 {"along", numbers(3)},
                                 {"up", numbers(3)},
                                 {"height", {{"type", "number"}, {"exclusiveMinimum", 0}}},
                                 {"hidden", list_of(text())},
                                 {"showing", {{"type", "object"}, {"additionalProperties", showing}}},
                                 {"hidden_layers", list_of(text())},
                                 {"cutaways", list_of(cutaway)}},
                                {"name", "middle", "along", "up", "height"});
    return {{"appearance", {{"type", "object"}, {"additionalProperties", look}}},
            {"cutaways", list_of(cutaway)},
            {"materials", list_of(material)},
            {"views", list_of(view)}};
}

} // namespace kervo::io
