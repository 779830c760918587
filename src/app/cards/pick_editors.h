// Editors for answers that are picked in the model: one element, several, or bodies that are ticked.
#pragma once

#include "app/cards/field_editors.h"

namespace kervo::app {

FieldEditor* make_pick_editor(const model::FieldInfo& info, const CardContext& context, QWidget* parent);

} // namespace kervo::app
