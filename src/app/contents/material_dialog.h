// Asks what a material is like.
#pragma once

#include "model/document/document.h"

#include <QWidget>

#include <optional>

namespace kervo::app {

/// Nothing where it was not accepted. A name that another material of the document has is not accepted.
std::optional<model::Material> ask_for_material(const model::Document& document, const model::Material& now,
                                                QWidget* parent);

} // namespace kervo::app
