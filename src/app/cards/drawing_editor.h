// The drawing on a sketch card: constraints for what is selected, checks, and all dimensions with their formulas. Its
// tools stand beside the drawing (drawing/tool_strip.h).
#pragma once

#include "app/cards/field_editors.h"
#include "app/cards/figure_list.h"
#include "app/cards/point_list.h"

#include "sketch/check.h"

#include <QCheckBox>
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
    void show_selection();
    void add_title(const QString& text, QVBoxLayout* column);
    void add_constraints(QVBoxLayout* column);
    void rebuild_dimensions();
    void change_dimension(int constraint, const std::string& formula);
    void set_measured(int constraint, bool on);
    [[nodiscard]] std::optional<QString> measured_value(int constraint) const;
    [[nodiscard]] std::string formula_for(sketch::ConstraintKind kind) const;
    void show_flaws();

    QLabel* state_;
    QLabel* trouble_;
    FigureList* figures_;
    QWidget* for_selection_;
    PointList* points_;
    QWidget* dimensions_ = nullptr;
    QVBoxLayout* column_;
    std::vector<int> listed_;
    std::vector<QLineEdit*> fields_;
    std::vector<QCheckBox*> measures_;
    bool checks_ = false; ///< flaws are asked for, and shown again after every change
    QWidget* flaws_ = nullptr;
    model::SketchResultPtr checked_;
    sketch::Sketch drawing_;
};

} // namespace kervo::app
