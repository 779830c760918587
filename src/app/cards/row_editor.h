// Rows that are worked through from top to bottom: what each makes, and of what.
#pragma once

#include "app/cards/field_editors.h"

namespace kervo::app {

FieldEditor* make_row_editor(const model::FieldInfo& info, const CardContext& context, QWidget* parent);

} // namespace kervo::app
