// What the lines of a step card are put together from.
#pragma once

#include "model/document/fields.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>

namespace kervo::app {

/// A line without borders, for `owner`.
QHBoxLayout* row_of(QWidget* owner);
inline constexpr int label_width = 80;
/// The label before an answer, as wide as all of them.
QLabel* label_for(const model::FieldInfo& info, QWidget* owner);
/// A list to choose from, named after its field; as narrow as a card needs.
QComboBox* box_for(const model::FieldInfo& info, QWidget* owner);
void dress(QComboBox* box, const model::FieldInfo& info, const QWidget* owner);

} // namespace kervo::app
