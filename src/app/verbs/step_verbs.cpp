#include "app/verbs/step_verbs.h"

#include "app/verbs/blade_start.h"
#include "model/steps/blade/blade.h"
#include "model/steps/join/join.h"
#include "model/steps/place/place.h"
#include "model/steps/planned/planned.h"
#include "model/steps/projected_curves/projected_curves.h"
#include "model/steps/remove/remove.h"
#include "model/steps/repeat/repeat.h"
#include "model/steps/sketch/sketch_step.h"

#include <algorithm>

namespace kervo::app {

std::vector<Verb> StepVerbs::all() {
    std::vector<Verb> verbs{
        {"planned", BarGroup::draw, tr("Planned step"),
         tr("Puts a step that is still to come on the route, with a note."), "",
         [this] { session_.add_step(model::Planned(), {}); }},
        {"sketch", BarGroup::draw, tr("Sketch"), tr("Draws on the selected flat face, or on the level plane."), "D",
         [this] { start_sketch(); }},
        {"repeat", BarGroup::cut, tr("Repeat"),
         tr("Repeats the last cut or sweep in a line, grid or ring, or mirrored."), "Shift+D",
         [this] { start_repeat(); }, has_steps()},
        {"delete", BarGroup::shape, tr("Delete"),
         tr("Deletes the selected bodies or faces, as a step that can be undone later."), "Delete",
         [this] { start_delete(); },
         [this] { return !session_.document().steps.empty() && viewport_.hand().drawn_step() == 0; }},
    };
    for (auto& more : {of_blades(), of_joining(), of_placing(), of_kinds(), of_views()}) {
        add_verbs(verbs, more);
    }
    return verbs;
}

std::function<bool()> StepVerbs::has_steps() const {
    return [this] { return !session_.document().steps.empty(); };
}

std::vector<Verb> StepVerbs::of_blades() {
    return {
        {"blade_cut", BarGroup::cut, tr("Blade cut"),
         tr("Cuts bodies with a plane, made from the selected faces, edges or vertices."), "B",
         [this] { start_blade(model::BladeStep()); }, has_steps(), "first"},
        {"blade", BarGroup::cut, tr("Blade"), tr("Makes a plane that later steps cut with."), "Shift+V",
         [this] {
             model::BladeStep blade;
             blade.result.value = "blade";
             start_blade(std::move(blade));
         },
         has_steps(), "blade_cut"},
        {"blade_from_view", BarGroup::cut, tr("Blade from the view"),
         tr("Cuts upright through the middle of what is seen."), "", [this] { start_blade(blade_from_view()); },
         has_steps(), "blade"},
    };
}

std::vector<Verb> StepVerbs::of_joining() {
    const auto join = [this](const char* id, const char* operation, const QString& title, const QString& name,
                             const QString& help, const QString& shortcut) {
        return Verb{id,
                    BarGroup::join,
                    title,
                    help,
                    shortcut,
                    [this, operation, name] {
                        model::Join step;
                        step.operation.value = operation;
                        start(std::move(step), name);
                    },
                    has_steps()};
    };
    return {
        join("unite", "unite", tr("Unite"), tr("United"),
             tr("Makes one body of the selected ones, or of those clicked next."), "J"),
        join("common", "common", tr("Common part"), tr("Common part"), tr("Keeps what is common to bodies."), ""),
        join("all_but_common", "all_but_common", tr("All but the common part"), tr("All but the common part"),
             tr("Keeps what is not common to bodies."), ""),
    };
}

std::vector<Verb> StepVerbs::of_placing() {
    const auto place = [this](const char* id, const char* way, const QString& title, const QString& name,
                              const QString& help, const QString& shortcut = {}) {
        return Verb{id,         BarGroup::join, title, help, shortcut, [this, way, name] { start_place(way, name); },
                    has_steps()};
    };
    return {
        place("move", "amounts", tr("Move and turn"), tr("Moved"),
              tr("Moves and turns the selected bodies, by handles or numbers."), "Shift+M"),
        place("to_point", "to_point", tr("Carry to a point"), tr("Carried to a point"),
              tr("Carries a point of a body to another point.")),
        place("parallel", "parallel", tr("Turn parallel"), tr("Turned parallel"),
              tr("Turns a face or edge of a body parallel to another.")),
        place("flush", "flush", tr("Bring flush"), tr("Brought flush"),
              tr("Brings a flat face of a body flush with another face."), "Shift+L"),
        place("concentric", "concentric", tr("Make concentric"), tr("Concentric"),
              tr("Brings an axis of a body into another axis.")),
        place("between", "between", tr("Bring between"), tr("Brought between"),
              tr("Brings a body midway between two faces, edges or points.")),
        place("align", "align", tr("Align"), tr("Aligned"),
              tr("Brings low, middle or high sides of bodies in line with the first.")),
        place("origin", "to_origin", tr("Set the origin"), tr("Origin"),
              tr("Carries bodies so that a point of theirs is the origin; up and front too.")),
        {"frozen_copy", BarGroup::join, tr("Frozen copy"),
         tr("Copies the selected bodies as they are now; the copies follow nothing."), "",
         [this] { start_frozen_copy(); }, has_steps()},
    };
}

std::vector<Verb> StepVerbs::of_views() {
    return {{"project_from_view", BarGroup::draw, tr("Project from the view"),
             tr("Projects curves of a sketch onto faces the way the view looks now."), "",
             [this] { start_projection_from_view(); }, has_steps(), "projected_curves"}};
}

// In the order of their kinds.
std::vector<Verb> StepVerbs::of_kinds() {
    const std::map<model::StepVerb::Group, BarGroup> groups{
        {model::StepVerb::Group::bring_in, BarGroup::bring_in}, {model::StepVerb::Group::draw, BarGroup::draw},
        {model::StepVerb::Group::cut, BarGroup::cut},           {model::StepVerb::Group::join, BarGroup::join},
        {model::StepVerb::Group::shape, BarGroup::shape},       {model::StepVerb::Group::check, BarGroup::check}};
    std::vector<Verb> verbs;
    for (const model::StepKind& kind : model::step_kinds()) {
        for (const model::StepVerb& verb : kind.verbs) {
            const QString name = QString::fromStdString(verb.name);
            verbs.push_back({QString::fromStdString(verb.id), groups.at(verb.group), QString::fromStdString(verb.title),
                             QString::fromStdString(verb.help), QString::fromStdString(verb.shortcut),
                             [this, made = verb.made, name] { start(made(), name); },
                             verb.wants_steps ? has_steps() : [] { return true; },
                             QString::fromStdString(verb.behind)});
        }
    }
    return verbs;
}

void StepVerbs::start_sketch() {
    model::SketchStep sketch;
    for (const model::Reference& reference : selection()) {
        if (reference.kind == model::ElementKind::face) {
            sketch.plane.value = "face";
            sketch.face = {reference};
        }
    }
    int number = 1;
    for (const auto& step : session_.document().steps) {
        number += model::draws(step->definition) ? 1 : 0;
    }
    session_.add_step(sketch, "Sketch " + std::to_string(number));
}

void StepVerbs::start(model::StepDefinition definition, const QString& name) {
    // The sketch drawn last is the likely one.
    model::SketchLink link;
    for (const auto& step : session_.document().steps) {
        if (model::draws(step->definition)) {
            link.step = step->id;
        }
    }
    model::set_field(definition, "sketch", link);
    auto target = take_selection(definition);
    if (!target && selection().empty() && !model::sets_verdicts(definition)) { // clicks on a cut tick bodies anyway
        target = PickTarget::open_for_bodies(definition);
    }
    const bool profile = model::sketch_of(definition) != 0;
    session_.add_step(std::move(definition), name.toStdString());
    viewport_.hand().set_marker(profile ? Marker::cutter : Marker::work);
    if (target) {
        viewport_.hand().set_target(target);
    }
}

// Of the last step that sweeps something, for the same bodies.
void StepVerbs::start_repeat() {
    model::Repeat repeat;
    for (const auto& step : session_.document().steps) {
        if (!model::sweeps(step->definition)) {
            continue;
        }
        repeat = {};
        repeat.of.step = step->id;
        if (const model::Purpose* purpose = step->definition.step().purpose()) {
            static_cast<model::Purpose&>(repeat) = *purpose;
            repeat.verdicts.clear();
            continue;
        }
        repeat.result.value = "cut";
        model::StepDefinition like(repeat);
        for (const model::Field& field : model::fields_of(step->definition)) {
            if (field.info.key == "workpieces" || field.info.key == "spared" || field.info.key == "spared_are") {
                model::set_field(like, field.info.key, field.value);
            }
        }
        repeat = *like.as<model::Repeat>();
    }
    start(std::move(repeat), tr("Repeat"));
}

// Made from what is selected, as far as that makes a plane.
void StepVerbs::start_blade(model::BladeStep blade) {
    const QString name = blade.cuts() ? tr("Blade cut") : tr("Blade");
    const model::References selected = selection();
    take_plane(blade.plane, selected, viewport_.shown());
    start(std::move(blade), name);
}

model::BladeStep StepVerbs::blade_from_view() const {
    model::BladeStep blade;
    const auto [place, normal] = viewport_.upright_plane();
    const auto text = [](double value, const char* unit) { return Expression{format_quantity(value, "", 4) + unit}; };
    blade.plane.plane.value = "numbers";
    blade.plane.origin_x = text(place.x, " mm");
    blade.plane.origin_y = text(place.y, " mm");
    blade.plane.origin_z = text(place.z, " mm");
    blade.plane.normal_x = text(normal.x, "");
    blade.plane.normal_y = text(normal.y, "");
    blade.plane.normal_z = text(normal.z, "");
    return blade;
}

// The direction is kept as numbers: it does not turn with the view later.
void StepVerbs::start_projection_from_view() {
    model::ProjectedCurves step;
    const Vector3 way = viewport_.looking_along();
    step.direction.value = "numbers";
    step.along_x.text = format_quantity(way.x, "", 4);
    step.along_y.text = format_quantity(way.y, "", 4);
    step.along_z.text = format_quantity(way.z, "", 4);
    start(std::move(step), tr("Projected curves"));
}

// Whole bodies that are selected are placed; a selected element is what is carried, another one where to.
void StepVerbs::start_place(const std::string& way, const QString& name) {
    model::PlaceBodies place;
    place.way.value = way;
    for (const model::Reference& reference : selection()) {
        if (reference.kind == model::ElementKind::body) {
            place.bodies.push_back(reference);
        } else if (way == "amounts" || way == "align") { // no question for elements
            place.bodies.push_back(model::whole(reference.body));
        } else if (place.carried.empty()) {
            place.carried.push_back(reference);
        } else if (place.target.empty()) {
            place.target.push_back(reference);
        }
    }
    if (way == "to_origin" && session_.picture()) {
        place.origin = std::exchange(place.carried, {});
        place.target.clear();
        for (const auto& [id, body] : place.bodies.empty() ? session_.picture()->after : scene::ShownBodies{}) {
            place.bodies.push_back(model::whole(id));
        }
    }
    if (place.bodies.empty() && !place.carried.empty()) {
        place.bodies.push_back(model::whole(place.carried.front().body));
    }
    session_.add_step(place, name.toStdString());
    viewport_.hand().set_marker(Marker::work);
    const auto open = PickTarget::next_open(place); // an element means its body as well
    viewport_.hand().set_target(open || !place.bodies.empty() ? open : PickTarget::open_for_bodies(place));
}

// As a file that the document keeps, which an import step brings in again.
void StepVerbs::start_frozen_copy() {
    auto chosen = viewport_.shown().selected_bodies();
    for (const model::Reference& each : chosen.empty() ? selection() : model::References()) {
        chosen.push_back(each.body); // of an element
    }
    if (chosen.empty()) {
        emit viewport_.hinted(tr("Select the bodies first."));
        return;
    }
    session_.add_frozen_copies(chosen);
}

void StepVerbs::start_delete() {
    model::Remove step;
    const bool faces = std::any_of(selection().begin(), selection().end(),
                                   [](const model::Reference& each) { return each.kind == model::ElementKind::face; });
    step.what.value = faces ? "faces" : "bodies";
    start(std::move(step), tr("Deleted"));
}

namespace {

bool holds(const model::StepDefinition& definition, const model::Reference& reference) {
    for (const model::Field& field : model::fields_of(definition, true)) {
        const auto* references = std::get_if<model::References>(&field.value);
        if (references != nullptr &&
            std::find(references->begin(), references->end(), reference) != references->end()) {
            return true;
        }
    }
    return false;
}

} // namespace

// What is selected answers the first question for elements, and for the body that is changed; the next clicks go there
// too, but for elements that only say how far. What no question takes means its body, where bodies are wanted.
std::optional<PickTarget> StepVerbs::take_selection(model::StepDefinition& definition) const {
    take_elements(definition);
    std::optional<PickTarget> next;
    for (const model::Field& field : model::fields_of(definition, true)) {
        const auto& info = field.info;
        const auto* answered = std::get_if<model::References>(&field.value);
        if (info.many && wants_changed_bodies(info)) {
            const auto bodies = selected_bodies(definition, answered == nullptr || answered->empty());
            if (!bodies.empty()) {
                model::set_field(definition, info.key, bodies);
            }
        }
        if (!info.many && wants_changed_bodies(info)) { // a group is no single body
            const auto one = std::find_if(selection().begin(), selection().end(),
                                          [](const model::Reference& each) { return !model::group_meant(each.body); });
            if (one != selection().end()) {
                model::set_field(definition, info.key, model::References{model::whole(one->body)});
            }
        }
        const bool may_stay_open = info.folded && answered != nullptr && answered->empty();
        if (!next && !may_stay_open && takes_elements(info) && answered != nullptr &&
            (!answered->empty() || info.question != model::Question::how_far)) {
            next = info.many || answered->empty() ? std::optional(PickTarget::of(info)) : std::nullopt;
            break;
        }
    }
    return next;
}

bool StepVerbs::takes_elements(const model::FieldInfo& info) {
    return !info.accepts.empty() && !info.accepts.contains(model::ElementKind::body) &&
           (info.many || info.writes || info.clicked);
}

// Into the first question that wants elements, and is not only about how far.
void StepVerbs::take_elements(model::StepDefinition& definition) const {
    for (const model::Field& field : model::fields_of(definition, true)) {
        if (!takes_elements(field.info)) {
            continue;
        }
        model::References chosen;
        for (const model::Reference& reference : selection()) {
            if (field.info.accepts.contains(reference.kind) && (field.info.many || chosen.empty())) {
                chosen.push_back(reference);
            }
        }
        if (!chosen.empty() || field.info.question != model::Question::how_far) {
            model::set_field(definition, field.info.key, chosen);
            return;
        }
    }
}

// Those that are selected; where none is, and `elements_too`, those of elements that answer nothing else.
model::References StepVerbs::selected_bodies(const model::StepDefinition& definition, bool elements_too) const {
    model::References bodies;
    for (const model::Reference& each : selection()) {
        if (each.kind == model::ElementKind::body) {
            bodies.push_back(each);
        }
    }
    for (const model::Reference& each : bodies.empty() && elements_too ? selection() : model::References()) {
        const model::Reference whole = model::whole(each.body);
        if (!holds(definition, each) && std::find(bodies.begin(), bodies.end(), whole) == bodies.end()) {
            bodies.push_back(whole);
        }
    }
    return bodies;
}

} // namespace kervo::app
