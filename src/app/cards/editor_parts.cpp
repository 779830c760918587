#include "app/cards/editor_parts.h"

namespace kervo::app {

QHBoxLayout* row_of(QWidget* owner) {
    auto* row = new QHBoxLayout(owner);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    return row;
}

QLabel* label_for(const model::FieldInfo& info, QWidget* owner) {
    auto* label = new QLabel(QString::fromStdString(info.label), owner);
    label->setFixedWidth(label_width);
    return label;
}

QComboBox* box_for(const model::FieldInfo& info, QWidget* owner) {
    auto* box = new QComboBox(owner);
    dress(box, info, owner);
    return box;
}

void dress(QComboBox* box, const model::FieldInfo& info, const QWidget* owner) {
    box->setAccessibleName(QString::fromStdString(info.label));
    box->setObjectName(QString::fromStdString("field_" + info.key));
    box->setToolTip(owner->toolTip());
    // Its longest choice may be longer than a card is wide.
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(8);
}

} // namespace kervo::app
