#include "app/drawing_editor.h"

#include "app/counted.h"

#include <QGridLayout>
#include <QHBoxLayout>

namespace kervo::app {

using sketch::ConstraintKind;

DrawingEditor::DrawingEditor(model::FieldInfo info, const CardContext& context, QWidget* parent)
    : FieldEditor(std::move(info), context, parent) {
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(0, 0, 0, 0);
    column_->setSpacing(6);
    add_tools(column_);
    add_constraints(column_);
    trouble_ = new QLabel(this);
    trouble_->setObjectName("problem");
    trouble_->setWordWrap(true);
    trouble_->hide();
    column_->addWidget(trouble_);
    state_ = new QLabel(this);
    state_->setObjectName("quiet");
    state_->setWordWrap(true);
    column_->addWidget(state_);
    connect(&context_.viewport, &Viewport::drawing_changed, this, [this] {
        for (const auto& [tool, button] : tools_) {
            button->setChecked(context_.viewport.drawing().tool() == tool);
        }
    });
}

void DrawingEditor::add_tools(QVBoxLayout* column) {
    const std::tuple<DrawTool, QString, QString> tools[] = {
        {DrawTool::select, tr("Select"), tr("Selects points and curves; Delete removes them.")},
        {DrawTool::line, tr("Line"), tr("Lines end to end; type a length to fix it.")},
        {DrawTool::rectangle, tr("Rectangle"), tr("From corner to corner; type width and height to fix them.")},
        {DrawTool::circle, tr("Circle"), tr("From centre to border; type a diameter to fix it.")},
        {DrawTool::arc, tr("Arc"), tr("Centre, start, end, counterclockwise.")},
        {DrawTool::dimension, tr("Dimension"), tr("Click a line, a circle or two points, then type.")}};
    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    int at = 0;
    for (const auto& [tool, name, help] : tools) {
        auto* button = new QPushButton(name, this);
        button->setObjectName("plain");
        button->setCheckable(true);
        button->setChecked(tool == context_.viewport.drawing().tool());
        button->setToolTip(help);
        connect(button, &QPushButton::clicked, this, [this, chosen = tool] {
            context_.viewport.set_draw_tool(chosen);
            context_.viewport.setFocus();
        });
        grid->addWidget(button, at / 3, at % 3);
        tools_.emplace_back(tool, button);
        ++at;
    }
    column->addLayout(grid);
}

void DrawingEditor::add_constraints(QVBoxLayout* column) {
    const std::tuple<ConstraintKind, QString, QString> kinds[] = {
        {ConstraintKind::horizontal, tr("level"), tr("Makes lines, or two points, level (horizontal).")},
        {ConstraintKind::vertical, tr("plumb"), tr("Makes lines, or two points, plumb (vertical).")},
        {ConstraintKind::parallel, tr("parallel"), tr("Makes two lines parallel.")},
        {ConstraintKind::perpendicular, tr("square"), tr("Makes two lines perpendicular.")},
        {ConstraintKind::tangent, tr("tangent"), tr("Lets a line and a circle, or two circles, touch.")},
        {ConstraintKind::equal, tr("equal"), tr("Makes two lines equally long, or two circles equally large.")},
        {ConstraintKind::concentric, tr("concentric"), tr("Gives two circles one centre.")},
        {ConstraintKind::coincident, tr("coincident"), tr("Brings two points together, or a point onto a curve.")},
        {ConstraintKind::fixed, tr("fixed"), tr("Keeps a point or curve where it is drawn.")}};
    auto* title = new QLabel(tr("Constraints for what is selected"), this);
    title->setObjectName("question");
    column->addWidget(title);
    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    int at = 0;
    for (const auto& [kind, name, help] : kinds) {
        auto* button = new QPushButton(name, this);
        button->setObjectName("plain");
        button->setToolTip(help);
        connect(button, &QPushButton::clicked, this, [this, chosen = kind] {
            const QString problem = context_.viewport.drawing().constrain(chosen);
            trouble_->setText(problem);
            trouble_->setVisible(!problem.isEmpty());
            context_.viewport.setFocus();
        });
        grid->addWidget(button, at / 3, at % 3);
        ++at;
    }
    column->addLayout(grid);
}

void DrawingEditor::refresh(const model::FieldValue& value) {
    drawing_ = std::get<sketch::Sketch>(value);
    std::vector<int> wanted;
    for (const auto& constraint : drawing_.constraints) {
        if (sketch::is_dimension(constraint.kind)) {
            wanted.push_back(constraint.id);
        }
    }
    if (wanted != listed_) {
        listed_ = wanted;
        rebuild_dimensions();
    }
    size_t row = 0;
    for (const auto& constraint : drawing_.constraints) {
        if (sketch::is_dimension(constraint.kind)) {
            if (!fields_[row]->hasFocus()) {
                fields_[row]->setText(QString::fromStdString(constraint.value.text));
            }
            ++row;
        }
    }
    const model::StepReport* report = context_.report();
    if (report != nullptr && report->output && report->output->sketch) {
        const auto& result = *report->output->sketch;
        const int freedom = result.solution.degrees_of_freedom;
        state_->setText((freedom == 0 ? tr("Fully constrained")
                                      : counted(freedom, tr("degree of freedom left"), tr("degrees of freedom left"))) +
                        tr(" \u00b7 ") +
                        counted(static_cast<qsizetype>(result.regions.size()), tr("region"), tr("regions")));
    }
}

void DrawingEditor::rebuild_dimensions() {
    if (dimensions_ != nullptr) {
        dimensions_->hide();
        dimensions_->deleteLater();
    }
    fields_.clear();
    dimensions_ = new QWidget(this);
    auto* grid = new QGridLayout(dimensions_);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(4);
    int row = 0;
    for (const auto& constraint : drawing_.constraints) {
        if (!sketch::is_dimension(constraint.kind)) {
            continue;
        }
        QString name = QString::fromStdString(sketch::constraint_names()[static_cast<size_t>(constraint.kind)].second);
        name.replace('_', ' ');
        auto* field = new QLineEdit(QString::fromStdString(constraint.value.text), dimensions_);
        field->setAccessibleName(name);
        field->setToolTip(tr("Formula of this dimension; it stands on the drawing as well."));
        connect(field, &QLineEdit::editingFinished, this,
                [this, field, id = constraint.id] { change_dimension(id, field->text().trimmed().toStdString()); });
        grid->addWidget(new QLabel(name, dimensions_), row, 0);
        grid->addWidget(field, row, 1);
        fields_.push_back(field);
        ++row;
    }
    column_->addWidget(dimensions_);
}

void DrawingEditor::change_dimension(int constraint, const std::string& formula) {
    auto next = drawing_;
    for (auto& each : next.constraints) {
        if (each.id == constraint) {
            each.value.text = formula;
        }
    }
    set(next);
}

} // namespace kervo::app
