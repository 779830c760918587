// The editor for the regions that a step takes.
#pragma once

#include "app/cards/field_editors.h"

namespace kervo::app {

FieldEditor* make_region_editor(const model::FieldInfo& info, const CardContext& context, QWidget* parent);

} // namespace kervo::app
