#include "app/cards/drawing_editor.h"
#include "app/view/tools/mark_tool.h"
#include "app/view/tools/sketch_tool.h"

#include "app/drawing/draw_tools.h"
#include "app/look/counted.h"

#include <QGridLayout>
#include <QHBoxLayout>

namespace kervo::app {

using sketch::ConstraintKind;

namespace {

constexpr int columns = 4;

QGridLayout* grid_in(QVBoxLayout* column) {
    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    for (int i = 0; i < columns; ++i) {
        grid->setColumnStretch(i, 1);
    }
    column->addLayout(grid);
    return grid;
}

QPushButton* small_button(const QString& name, const QString& help, QWidget* owner) {
    auto* button = new QPushButton(name, owner);
    button->setObjectName("tool");
    button->setToolTip(help);
    return button;
}

} // namespace

DrawingEditor::DrawingEditor(model::FieldInfo info, const CardContext& context, QWidget* parent)
    : FieldEditor(std::move(info), context, parent) {
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(0, 0, 0, 0);
    column_->setSpacing(6);
    for_selection_ = new QWidget(this);
    auto* selected = new QVBoxLayout(for_selection_);
    selected->setContentsMargins(0, 0, 0, 0);
    selected->setSpacing(6);
    add_title(tr("Constraints for what is selected"), selected);
    add_constraints(selected);
    points_ = new PointList(context_.viewport, for_selection_);
    selected->addWidget(points_);
    connect(points_, &PointList::changed, this, [this](const sketch::Sketch& next) { set(next); });
    column_->addWidget(for_selection_);
    trouble_ = new QLabel(this);
    trouble_->setObjectName("problem");
    trouble_->setWordWrap(true);
    trouble_->hide();
    column_->addWidget(trouble_);
    auto* state_row = new QHBoxLayout;
    state_ = new QLabel(this);
    state_->setObjectName("quiet");
    state_->setWordWrap(true);
    state_row->addWidget(state_, 1);
    auto* check = small_button(
        tr("Check"), tr("Looks for gaps, doubles, tiny curves and crossings, and shows where they are."), this);
    check->setAccessibleName(tr("Check the sketch"));
    connect(check, &QPushButton::clicked, &context_.viewport.tool<SketchTool>(), &SketchTool::check_asked);
    connect(&context_.viewport.tool<SketchTool>(), &SketchTool::check_asked, this, [this] {
        checks_ = true;
        show_flaws();
    });
    state_row->addWidget(check);
    column_->addLayout(state_row);
    figures_ = new FigureList(context_.viewport, this);
    column_->addWidget(figures_);
    connect(figures_, &FigureList::changed, this, [this](const sketch::Sketch& next) { set(next); });
    connect(&context_.viewport.tool<SketchTool>(), &SketchTool::drawing_changed, this, &DrawingEditor::show_selection);
    show_selection();
}

void DrawingEditor::show_selection() {
    for_selection_->setVisible(!context_.viewport.tool<SketchTool>().drawing().selected().empty());
    points_->refresh();
}

void DrawingEditor::add_title(const QString& text, QVBoxLayout* column) {
    auto* title = new QLabel(text, this);
    title->setObjectName("question");
    column->addWidget(title);
}

void DrawingEditor::add_constraints(QVBoxLayout* column) {
    const std::tuple<ConstraintKind, QString, QString> kinds[] = {
        {ConstraintKind::horizontal, tr("level"), tr("Makes lines, or two points, level (horizontal).")},
        {ConstraintKind::vertical, tr("plumb"), tr("Makes lines, or two points, plumb (vertical).")},
        {ConstraintKind::parallel, tr("parallel"), tr("Makes two lines parallel.")},
        {ConstraintKind::perpendicular, tr("square"), tr("Makes two lines perpendicular.")},
        {ConstraintKind::tangent, tr("tangent"), tr("Lets a line and a circle, or two circles, touch.")},
        {ConstraintKind::equal, tr("equal"), tr("Makes two lines equally long, or two circles equally large.")},
        {ConstraintKind::concentric, tr("centred"), tr("Gives two circles one centre.")},
        {ConstraintKind::coincident, tr("on"), tr("Brings two points together, or a point onto a curve.")},
        {ConstraintKind::fixed, tr("fixed"), tr("Keeps a point or curve where it is drawn.")},
        {ConstraintKind::symmetric, tr("mirrored"), tr("Two points, or two circles, mirror each other about a line.")},
        {ConstraintKind::midpoint, tr("middle"), tr("Keeps a point in the middle of a line, or of two points.")},
        {ConstraintKind::collinear, tr("in line"), tr("Lays two lines on one.")},
        {ConstraintKind::smooth, tr("smooth"), tr("Two curves that share an end run on there, bent alike.")},
        {ConstraintKind::pattern, tr("even"), tr("Spaces three or more points evenly on a line, in their order.")},
        {ConstraintKind::arc_length, tr("length"), tr("Fixes the length of an arc as it is drawn; change it below.")}};
    auto* grid = grid_in(column);
    int at = 0;
    for (const auto& [kind, name, help] : kinds) {
        auto* button = small_button(name, help, this);
        connect(button, &QPushButton::clicked, this, [this, chosen = kind] {
            const QString problem =
                context_.viewport.tool<SketchTool>().drawing().constrain(chosen, formula_for(chosen));
            trouble_->setText(problem);
            trouble_->setVisible(!problem.isEmpty());
            context_.viewport.setFocus();
        });
        grid->addWidget(button, at / columns, at % columns);
        ++at;
    }
}

// The flaws as of now, each with its place on the drawing and, where there is one mend, a button for it.
void DrawingEditor::show_flaws() {
    if (flaws_ != nullptr) {
        flaws_->hide();
        flaws_->deleteLater();
        flaws_ = nullptr;
    }
    const auto sketch = context_.viewport.shown().card_sketch();
    checked_ = sketch;
    if (!sketch) {
        return;
    }
    flaws_ = new QWidget(this);
    auto* list = new QVBoxLayout(flaws_);
    list->setContentsMargins(0, 0, 0, 0);
    list->setSpacing(3);
    const auto found = sketch::check(sketch->solution.sketch);
    std::vector<std::array<double, 3>> places;
    for (const sketch::Flaw& flaw : found) {
        auto* row = new QHBoxLayout;
        auto* told = new QLabel(QString::fromStdString(flaw.told), flaws_);
        told->setWordWrap(true);
        row->addWidget(told, 1);
        if (flaw.mendable) {
            auto* mend = small_button(tr("Mend"), tr("Joins the gap, or takes what is too much away."), flaws_);
            mend->setAccessibleName(tr("Mend: %1").arg(told->text()));
            connect(mend, &QPushButton::clicked, this, [this, flaw] {
                if (const auto now = context_.viewport.shown().card_sketch()) {
                    set(sketch::mend(now->solution.sketch, flaw));
                }
            });
            row->addWidget(mend);
        }
        list->addLayout(row);
        places.push_back(sketch->plane().at(flaw.at).array());
    }
    if (found.empty()) {
        list->addWidget(new QLabel(tr("No gaps, doubles, tiny curves or crossings."), flaws_));
    }
    column_->addWidget(flaws_);
    context_.viewport.tool<MarkTool>().mark(places);
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
    figures_->refresh(drawing_);
    show_selection();
    size_t row = 0;
    for (const auto& constraint : drawing_.constraints) {
        if (sketch::is_dimension(constraint.kind)) {
            const auto measured = measured_value(constraint.id);
            if (constraint.measured && measured) {
                fields_[row]->setText(*measured);
            } else if (!fields_[row]->hasFocus()) {
                fields_[row]->setText(QString::fromStdString(constraint.value.text));
                fields_[row]->setCursorPosition(0); // of a long formula the beginning is seen
            }
            fields_[row]->setEnabled(!constraint.measured);
            measures_[row]->setChecked(constraint.measured);
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
    if (checks_ && context_.viewport.shown().card_sketch() != checked_) {
        show_flaws();
    }
}

// A dimension starts out as long as what is drawn.
std::string DrawingEditor::formula_for(ConstraintKind kind) const {
    if (!sketch::is_dimension(kind)) {
        return {};
    }
    const auto& drawing = context_.viewport.tool<SketchTool>().drawing();
    for (const int id : drawing.selected()) {
        if (const auto* curve = drawing.drawn().curve(id)) {
            return format_quantity(sketch::stretch_of(drawing.drawn(), *curve).length(), "mm", 3) + " mm";
        }
    }
    return "10 mm";
}

void DrawingEditor::rebuild_dimensions() {
    if (dimensions_ != nullptr) {
        dimensions_->hide();
        dimensions_->deleteLater();
    }
    fields_.clear();
    measures_.clear();
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
        auto* measures = new QCheckBox(tr("measures"), dimensions_);
        measures->setAccessibleName(tr("%1 only measures").arg(name));
        measures->setToolTip(tr("It tells its value and holds nothing; so a dimension too many does no harm."));
        connect(measures, &QCheckBox::clicked, this, [this, id = constraint.id](bool on) { set_measured(id, on); });
        grid->addWidget(new QLabel(name, dimensions_), row, 0);
        grid->addWidget(field, row, 1);
        grid->addWidget(measures, row, 2);
        fields_.push_back(field);
        measures_.push_back(measures);
        ++row;
    }
    column_->addWidget(dimensions_);
}

std::optional<QString> DrawingEditor::measured_value(int constraint) const {
    const model::StepReport* report = context_.report();
    if (report == nullptr || !report->output || !report->output->sketch) {
        return std::nullopt;
    }
    const auto& values = report->output->sketch->solution.dimension;
    const auto at = values.find(constraint);
    const auto kind = std::find_if(drawing_.constraints.begin(), drawing_.constraints.end(),
                                   [constraint](const auto& c) { return c.id == constraint; });
    if (at == values.end() || kind == drawing_.constraints.end()) {
        return std::nullopt;
    }
    const std::string unit = kind->kind == ConstraintKind::angle ? "deg" : context_.session.document().unit;
    return QString::fromStdString(format_quantity(at->second, unit, 3) + " " + unit);
}

void DrawingEditor::set_measured(int constraint, bool on) {
    auto next = drawing_;
    for (auto& each : next.constraints) {
        if (each.id == constraint) {
            const auto value = measured_value(constraint);
            if (!on && each.value.text.empty() && value) {
                each.value.text = value->toStdString();
            }
            each.measured = on;
        }
    }
    set(next);
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
