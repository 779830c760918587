// The drawing on a sketch card: tools, constraints, and all dimensions with their formulas.
#pragma once

#include "app/field_editors.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace kervo::app {

class DrawingEditor : public FieldEditor {
    Q_OBJECT
public:
    DrawingEditor(model::FieldInfo info, const CardContext& context, QWidget* parent);
    void refresh(const model::FieldValue& value) override;

private:
    void add_tools(QVBoxLayout* column);
    void add_constraints(QVBoxLayout* column);
    void rebuild_dimensions();
    void change_dimension(int constraint, const std::string& formula);

    std::vector<std::pair<DrawTool, QPushButton*>> tools_;
    QLabel* state_;
    QLabel* trouble_;
    QWidget* dimensions_ = nullptr;
    QVBoxLayout* column_;
    std::vector<int> listed_;
    std::vector<QLineEdit*> fields_;
    sketch::Sketch drawing_;
};

} // namespace kervo::app
