#include "app/view/in_hand.h"

#include "model/steps/registry.h"

namespace kervo::app {

std::optional<PickTarget> PickTarget::next_open(const model::StepDefinition& step, const std::string& after) {
    bool asked = after.empty();
    for (const model::Field& field : model::fields_of(step, true)) {
        const auto* references = std::get_if<model::References>(&field.value);
        if (asked && references != nullptr && references->empty() && !field.info.many) {
            return of(field.info);
        }
        asked = asked || field.info.key == after;
    }
    return std::nullopt;
}

std::optional<PickTarget> PickTarget::open_for_bodies(const model::StepDefinition& step) {
    for (const model::Field& field : model::fields_of(step, true)) {
        const auto* references = std::get_if<model::References>(&field.value);
        if (references != nullptr && references->empty() && field.info.accepts.contains(model::ElementKind::body)) {
            return of(field.info);
        }
    }
    return std::nullopt;
}

bool wants_changed_bodies(const model::FieldInfo& info) {
    return info.accepts.contains(model::ElementKind::body) &&
           (info.many ? info.clicked && info.question != model::Question::what_cuts_it : info.writes);
}

void InHand::set_marker(Marker marker) {
    marker_ = marker;
    emit marker_changed();
}

void InHand::take_cutaway(const std::string& letter) {
    if (letter != cutaway_) {
        cutaway_ = letter;
        emit cutaway_changed();
    }
}

void InHand::set_shading(scene::Shading shading) {
    if (shading_ != shading) {
        shading_ = shading;
        emit shading_changed();
    }
}

void InHand::set_target(const std::optional<PickTarget>& target) {
    target_ = target;
    emit target_changed();
}

void InHand::set_level(PickLevel level) {
    level_ = level;
    emit level_changed();
}

void InHand::step_level(int by) {
    constexpr int count = static_cast<int>(PickLevel::vertex) + 1;
    set_level(static_cast<PickLevel>((static_cast<int>(level_) + by + count) % count));
}

void InHand::point_out(const std::optional<model::Reference>& reference) {
    if (pointed_out_ != reference) {
        pointed_out_ = reference;
        emit pointed_out_changed();
    }
}

void InHand::select(std::vector<model::Reference> selection) {
    selection_ = std::move(selection);
    emit selection_changed();
}

} // namespace kervo::app
