#include "app/cards/field_editors.h"

#include "app/cards/drawing_editor.h"
#include "app/cards/editor_parts.h"
#include "app/cards/pick_editors.h"
#include "app/cards/piece_editor.h"
#include "app/cards/region_editor.h"
#include "app/cards/row_editor.h"
#include "app/look/counted.h"
#include "base/assignment.h"

#include "model/document/groups_and_layers.h"
#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>

#include <QLineEdit>
#include <QSignalBlocker>
#include <QStyle>

#include <algorithm>

namespace kervo::app {

const model::StepReport* CardContext::report() const {
    return session.pictured_report(step);
}

QString CardContext::name_of(const model::BodyId& body) const {
    if (const model::Group* group = model::find_group(session.document(), model::group_meant(body))) {
        return QObject::tr("group %1").arg(QString::fromStdString(group->name));
    }
    if (const PicturePtr picture = session.picture()) {
        if (const auto traits = picture->evaluation->traits.find(body); traits != picture->evaluation->traits.end()) {
            return QString::fromStdString(traits->second.name);
        }
    }
    return QString::fromStdString(body);
}

FieldEditor::FieldEditor(model::FieldInfo info, const CardContext& context, QWidget* parent)
    : QWidget(parent), info_(std::move(info)), context_(context) {
    setToolTip(QString::fromStdString(info_.help));
}

namespace {

// A line to type in, named after its field.
QLineEdit* line_for(const model::FieldInfo& info, QWidget* owner) {
    auto* line = new QLineEdit(owner);
    line->setAccessibleName(QString::fromStdString(info.label));
    line->setObjectName(QString::fromStdString("field_" + info.key));
    line->setToolTip(owner->toolTip());
    return line;
}

class ExpressionEditor : public FieldEditor {
public:
    ExpressionEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* row = row_of(this);
        label_ = label_for(info_, this);
        row->addWidget(label_);
        field_ = line_for(info_, this);
        field_->setToolTip(toolTip() +
                           tr(" A number, a unit or a formula; \u201cname = formula\u201d makes a parameter."));
        value_ = new QLabel(this);
        value_->setObjectName("quiet");
        value_->setMinimumWidth(64);
        value_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        row->addWidget(field_, 1);
        row->addWidget(value_);
        // Every keystroke that makes sense is previewed; one that does not is marked and waits.
        connect(field_, &QLineEdit::textEdited, this, [this](const QString& text) {
            if (show_value(text) && !split_assignment(text.toStdString())) { // a name is taken when it is complete
                set(Expression{text.trimmed().toStdString()});
            }
        });
        connect(field_, &QLineEdit::editingFinished, this,
                [this] { set(Expression{field_->text().trimmed().toStdString()}); });
    }

    void go_beside() override {
        label_->hide();
        value_->hide();
        setFixedWidth(68);
    }

    void refresh(const model::FieldValue& value) override {
        const QString text = QString::fromStdString(std::get<Expression>(value).text);
        if (!field_->hasFocus() || field_->text().trimmed() != text) {
            const QSignalBlocker quiet(field_);
            if (!field_->hasFocus()) {
                field_->setText(text);
                field_->setCursorPosition(0); // of a long formula the beginning is seen
            }
        }
        show_value(field_->text());
    }

private:
    bool show_value(const QString& text) {
        const auto parameters = context_.session.parameters();
        ParameterValues values = parameters.values;
        for (const auto& [name, dimension] : info_.own_names) { // any value: what matters is that it makes sense
            values[name] = {1, dimension};
        }
        const auto number = evaluate_as(formula_in(text.toStdString()), values, info_.dimension);
        value_->setText(!number                               ? tr("?")
                        : info_.dimension == length_dimension ? length_number(*number, context_.session.document().unit)
                        : info_.dimension == angle_dimension  ? quantity_text({*number, angle_dimension}, {})
                                                             : QString::fromStdString(format_quantity(*number, "", 3)));
        field_->setToolTip(number ? toolTip()
                                  : QString::fromStdString(number.finding().cause + " " + number.finding().mend));
        if (field_->property("wrong").toBool() == number.ok()) {
            field_->setProperty("wrong", !number.ok());
            field_->style()->polish(field_);
        }
        return number.ok();
    }

    QLabel* label_;
    QLineEdit* field_;
    QLabel* value_;
};

class ChoiceEditor : public FieldEditor {
public:
    ChoiceEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* row = row_of(this);
        row->addWidget(label_for(info_, this));
        box_ = box_for(info_, this);
        for (const model::FieldOption& option : info_.options) {
            box_->addItem(QString::fromStdString(option.label), QString::fromStdString(option.value));
        }
        row->addWidget(box_, 1);
        connect(box_, &QComboBox::activated, this,
                [this] { set(model::Choice{box_->currentData().toString().toStdString()}); });
    }

    void refresh(const model::FieldValue& value) override {
        box_->setCurrentIndex(box_->findData(QString::fromStdString(std::get<model::Choice>(value).value)));
    }

private:
    QComboBox* box_;
};

// A step before this one.
template <class Link> class StepLinkEditor : public FieldEditor {
public:
    StepLinkEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* row = row_of(this);
        row->addWidget(label_for(info_, this));
        box_ = box_for(info_, this);
        if constexpr (std::is_same_v<Link, model::StateLink>) {
            box_->addItem(tr("As they are here"), 0);
        }
        for (const auto& step : context_.session.document().steps) {
            if (step->id == context_.step) {
                break;
            }
            if (can_be_meant(step->definition)) {
                const QString called = QString("%1  %2").arg(step->number).arg(QString::fromStdString(step->name));
                box_->addItem(std::is_same_v<Link, model::StateLink> ? tr("As after %1").arg(called) : called,
                              step->id);
            }
        }
        box_->setPlaceholderText(std::is_same_v<Link, model::SketchLink>  ? tr("draw a sketch first")
                                 : std::is_same_v<Link, model::SweepLink> ? tr("cut or sweep something first")
                                                                          : tr("a step that is not there"));
        row->addWidget(box_, 1);
        connect(box_, &QComboBox::activated, this, [this] { set(Link{box_->currentData().toInt()}); });
    }

    void refresh(const model::FieldValue& value) override {
        box_->setCurrentIndex(box_->findData(std::get<Link>(value).step));
    }

private:
    static bool can_be_meant(const model::StepDefinition& definition) {
        if constexpr (std::is_same_v<Link, model::SketchLink>) {
            return model::draws(definition);
        } else if constexpr (std::is_same_v<Link, model::SweepLink>) {
            return model::sweeps(definition);
        } else {
            return !model::draws(definition); // a sketch leaves bodies as they are
        }
    }

    QComboBox* box_;
};

class ParameterNameEditor : public FieldEditor {
public:
    ParameterNameEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* row = row_of(this);
        row->addWidget(label_for(info_, this));
        field_ = line_for(info_, this);
        value_ = new QLabel(this);
        value_->setObjectName("quiet");
        row->addWidget(field_, 1);
        row->addWidget(value_);
        connect(field_, &QLineEdit::editingFinished, this, [this] { rename(field_->text().trimmed().toStdString()); });
    }
    void refresh(const model::FieldValue& value) override {
        if (!field_->hasFocus()) {
            field_->setText(QString::fromStdString(std::get<model::ParameterName>(value).text));
        }
        const model::StepReport* report = context_.report();
        value_->clear();
        if (report != nullptr && report->output && !report->output->measured.empty()) {
            value_->setText(quantity_text(report->output->measured.begin()->second, context_.session.document().unit));
        }
    }

private:
    // Every formula that reads it reads the new name.
    void rename(const std::string& name) {
        const auto& document = context_.session.document();
        const auto& all = document.parameters;
        const auto old = model::dependencies_of(document.step(context_.step)->definition).measures;
        const bool taken = std::any_of(all.begin(), all.end(), [&](const Parameter& p) { return p.name == name; });
        if (old.contains(name)) {
            return;
        }
        if (taken || old.empty() || !is_parameter_name(name)) {
            set(model::ParameterName{name}); // the step says what is wrong with it
            return;
        }
        context_.session.edit(
            [&](const model::Document& before) { return model::rename_parameter(before, *old.begin(), name); });
    }

    QLineEdit* field_;
    QLabel* value_;
};

// Numbers of copies, with commas between.
class CopyNamesEditor : public FieldEditor {
public:
    CopyNamesEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* row = row_of(this);
        row->addWidget(label_for(info_, this));
        field_ = line_for(info_, this);
        field_->setPlaceholderText(tr("none"));
        row->addWidget(field_, 1);
        connect(field_, &QLineEdit::editingFinished, this, [this] {
            model::CopyNames names;
            for (const QString& name : field_->text().split(',', Qt::SkipEmptyParts)) {
                names.all.push_back(name.trimmed().toStdString());
            }
            set(names);
        });
    }
    void refresh(const model::FieldValue& value) override {
        QStringList names;
        for (const std::string& name : std::get<model::CopyNames>(value).all) {
            names << QString::fromStdString(name);
        }
        if (!field_->hasFocus()) {
            field_->setText(names.join(", "));
        }
    }

private:
    QLineEdit* field_;
};

class FileEditor : public FieldEditor {
public:
    FileEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* row = row_of(this);
        row->addWidget(label_for(info_, this));
        name_ = new QLabel(this);
        row->addWidget(name_, 1);
    }
    void refresh(const model::FieldValue& value) override {
        name_->setText(QString::fromStdString(std::get<model::AssetLink>(value).name));
    }

private:
    QLabel* name_;
};

} // namespace

FieldEditor* make_editor(const model::Field& field, const CardContext& context, QWidget* parent) {
    if (std::holds_alternative<Expression>(field.value)) {
        return new ExpressionEditor(field.info, context, parent);
    }
    if (std::holds_alternative<model::Choice>(field.value)) {
        return new ChoiceEditor(field.info, context, parent);
    }
    if (std::holds_alternative<model::SketchLink>(field.value)) {
        return new StepLinkEditor<model::SketchLink>(field.info, context, parent);
    }
    if (std::holds_alternative<model::SweepLink>(field.value)) {
        return new StepLinkEditor<model::SweepLink>(field.info, context, parent);
    }
    if (std::holds_alternative<model::StateLink>(field.value)) {
        return new StepLinkEditor<model::StateLink>(field.info, context, parent);
    }
    if (std::holds_alternative<model::ParameterName>(field.value)) {
        return new ParameterNameEditor(field.info, context, parent);
    }
    if (std::holds_alternative<model::CopyNames>(field.value)) {
        return new CopyNamesEditor(field.info, context, parent);
    }
    if (std::holds_alternative<model::AssetLink>(field.value)) {
        return new FileEditor(field.info, context, parent);
    }
    if (std::holds_alternative<model::References>(field.value)) {
        return make_pick_editor(field.info, context, parent);
    }
    if (std::holds_alternative<model::RegionReferences>(field.value)) {
        return make_region_editor(field.info, context, parent);
    }
    if (std::holds_alternative<model::VerdictRules>(field.value)) {
        return new PieceEditor(field.info, context, parent);
    }
    if (std::holds_alternative<model::Rows>(field.value)) {
        return make_row_editor(field.info, context, parent);
    }
    return new DrawingEditor(field.info, context, parent);
}

} // namespace kervo::app
