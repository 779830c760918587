// How verbs start steps: what is selected answers their first questions.
#include "app/main_window.h"

#include "app/blade_start.h"
#include "model/steps/blade/blade.h"
#include "model/steps/join/join.h"
#include "model/steps/place/place.h"
#include "model/steps/remove/remove.h"
#include "model/steps/repeat/repeat.h"
#include "model/steps/sketch/sketch_step.h"

#include <algorithm>

namespace kervo::app {

void MainWindow::start_sketch() {
    model::SketchStep sketch;
    for (const model::Reference& reference : viewport_->selection()) {
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

void MainWindow::start_step(model::StepDefinition definition, const QString& name) {
    // The sketch drawn last is the likely one.
    model::SketchLink link;
    for (const auto& step : session_.document().steps) {
        if (model::draws(step->definition)) {
            link.step = step->id;
        }
    }
    model::set_field(definition, "sketch", link);
    const auto target = take_selection(definition);
    const bool profile = model::sketch_of(definition) != 0;
    session_.add_step(std::move(definition), name.toStdString());
    viewport_->set_marker(profile ? Marker::cutter : Marker::work);
    if (target) {
        viewport_->set_pick_target(target);
    }
}

// Of the last step that sweeps something, for the same bodies.
void MainWindow::start_repeat() {
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
    start_step(std::move(repeat), tr("Repeat"));
}

// Made from what is selected, as far as that makes a plane.
void MainWindow::start_blade(model::BladeStep blade) {
    const QString name = blade.cuts() ? tr("Blade cut") : tr("Blade");
    const model::References selected = viewport_->selection();
    take_plane(blade.plane, selected,
               [this](const model::Reference& reference) { return viewport_->shape_of(reference); });
    start_step(std::move(blade), name);
}

model::BladeStep MainWindow::blade_from_view() const {
    model::BladeStep blade;
    const auto [place, normal] = viewport_->upright_plane();
    const auto text = [](double value, const char* unit) { return Expression{format_quantity(value, "", 4) + unit}; };
    blade.plane.plane.value = "numbers";
    blade.plane.origin_x = text(place.X(), " mm");
    blade.plane.origin_y = text(place.Y(), " mm");
    blade.plane.origin_z = text(place.Z(), " mm");
    blade.plane.normal_x = text(normal.X(), "");
    blade.plane.normal_y = text(normal.Y(), "");
    blade.plane.normal_z = text(normal.Z(), "");
    return blade;
}

// Whole bodies that are selected are placed; a selected element is what is carried, another one where to.
void MainWindow::start_place(const std::string& way, const QString& name) {
    model::PlaceBodies place;
    place.way.value = way;
    for (const model::Reference& reference : viewport_->selection()) {
        if (reference.kind == model::ElementKind::body) {
            place.bodies.push_back(reference);
        } else if (place.carried.empty() && way != "amounts" && way != "align") {
            place.carried.push_back(reference);
        } else if (place.target.empty()) {
            place.target.push_back(reference);
        }
    }
    if (way == "to_origin" && session_.picture()) {
        place.origin = std::exchange(place.carried, {});
        place.target.clear();
        for (const auto& [id, body] : place.bodies.empty() ? session_.picture()->after : decltype(Picture::after){}) {
            place.bodies.push_back(model::whole(id));
        }
    }
    if (place.bodies.empty() && !place.carried.empty()) {
        place.bodies.push_back(model::whole(place.carried.front().body));
    }
    session_.add_step(place, name.toStdString());
    viewport_->set_marker(Marker::work);
    if (!place.bodies.empty()) {
        viewport_->set_pick_target(PickTarget::next_open(place));
    }
}

// As a file that the document keeps, which an import step brings in again.
void MainWindow::start_frozen_copy() {
    const auto chosen = viewport_->selected_bodies();
    if (chosen.empty()) {
        tell(tr("Select the bodies first."));
        return;
    }
    session_.add_frozen_copies(chosen);
}

void MainWindow::start_delete() {
    model::Remove step;
    const auto& selection = viewport_->selection();
    const bool faces = std::any_of(selection.begin(), selection.end(),
                                   [](const model::Reference& each) { return each.kind == model::ElementKind::face; });
    step.what.value = faces ? "faces" : "bodies";
    start_step(std::move(step), tr("Deleted"));
}

void MainWindow::start_join(const std::string& operation, const QString& name) {
    model::Join join;
    join.operation.value = operation;
    start_step(std::move(join), name);
}

// What is selected answers the first question for elements, and for the body that is changed; the next clicks go there
// too, but for elements that only say how far.
std::optional<PickTarget> MainWindow::take_selection(model::StepDefinition& definition) const {
    for (const model::Field& field : model::fields_of(definition, true)) {
        const auto& info = field.info;
        const bool of_bodies = info.accepts.contains(model::ElementKind::body);
        if (info.many && info.clicked && of_bodies && info.question != model::Question::what_cuts_it) {
            model::References bodies;
            std::copy_if(viewport_->selection().begin(), viewport_->selection().end(), std::back_inserter(bodies),
                         [](const model::Reference& each) { return each.kind == model::ElementKind::body; });
            if (!bodies.empty()) {
                model::set_field(definition, info.key, bodies);
            }
        }
        if (!info.many && info.writes && of_bodies) { // a group is no single body
            const auto& selected = viewport_->selection();
            const auto one = std::find_if(selected.begin(), selected.end(),
                                          [](const model::Reference& each) { return !model::group_meant(each.body); });
            if (one != selected.end()) {
                model::set_field(definition, info.key, model::References{model::whole(one->body)});
            }
        }
        if (info.accepts.empty() || of_bodies || (!info.many && !info.writes)) {
            continue;
        }
        model::References chosen;
        for (const model::Reference& reference : viewport_->selection()) {
            if (info.accepts.contains(reference.kind) && (info.many || chosen.empty())) {
                chosen.push_back(reference);
            }
        }
        if (chosen.empty() && info.question == model::Question::how_far) {
            continue;
        }
        model::set_field(definition, info.key, chosen);
        return info.many || chosen.empty() ? std::optional(PickTarget::of(info)) : std::nullopt;
    }
    return std::nullopt;
}

} // namespace kervo::app
