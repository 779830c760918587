// Editors for answers that are picked in the model: one element, several, or bodies that are ticked.
#pragma once

#include "app/cards/field_editors.h"

namespace kervo::app {

FieldEditor* make_pick_editor(const model::FieldInfo& info, const CardContext& context, QWidget* parent);

/// Whether a click on a body with this marker is an answer to the field.
bool goes_here(const model::FieldInfo& info, Marker marker);
/// Bodies to be ticked: those that the profile meets first.
FieldEditor* make_body_editor(const model::FieldInfo& info, const CardContext& context, QWidget* parent);

} // namespace kervo::app
