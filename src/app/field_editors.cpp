#include "app/field_editors.h"

#include "app/counted.h"
#include "app/drawing_editor.h"
#include "app/piece_editor.h"
#include "base/assignment.h"
#include "geom/measure.h"
#include "geom/profile.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QStyle>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

const model::StepReport* CardContext::report() const {
    return session.pictured_report(step);
}

QString CardContext::name_of(const model::BodyId& body) const {
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

QHBoxLayout* row_of(QWidget* owner) {
    auto* row = new QHBoxLayout(owner);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    return row;
}

QLabel* label_for(const model::FieldInfo& info, QWidget* owner) {
    auto* label = new QLabel(QString::fromStdString(info.label), owner);
    label->setFixedWidth(68);
    return label;
}

QComboBox* box_for(const model::FieldInfo& info, QWidget* owner) {
    auto* box = new QComboBox(owner);
    box->setAccessibleName(QString::fromStdString(info.label));
    box->setObjectName(QString::fromStdString("field_" + info.key));
    box->setToolTip(owner->toolTip());
    // Its longest choice may be longer than a card is wide.
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(8);
    return box;
}

class ExpressionEditor : public FieldEditor {
public:
    ExpressionEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* row = row_of(this);
        label_ = label_for(info_, this);
        row->addWidget(label_);
        field_ = new QLineEdit(this);
        field_->setAccessibleName(QString::fromStdString(info_.label));
        field_->setObjectName(QString::fromStdString("field_" + info_.key));
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
        setFixedWidth(84);
    }

    void refresh(const model::FieldValue& value) override {
        const QString text = QString::fromStdString(std::get<Expression>(value).text);
        if (!field_->hasFocus() || field_->text().trimmed() != text) {
            const QSignalBlocker quiet(field_);
            if (!field_->hasFocus()) {
                field_->setText(text);
            }
        }
        show_value(field_->text());
    }

private:
    bool show_value(const QString& text) {
        const auto parameters = context_.session.parameters();
        const auto number = evaluate_as(formula_in(text.toStdString()), parameters.values, info_.dimension);
        value_->setText(number ? QString::fromStdString(
                                     format_quantity(*number, info_.dimension == angle_dimension ? "deg" : "mm", 3)) +
                                     (info_.dimension == angle_dimension ? QString::fromUtf8("\u00b0") : QString())
                               : tr("?"));
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

class SketchLinkEditor : public FieldEditor {
public:
    SketchLinkEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* row = row_of(this);
        row->addWidget(label_for(info_, this));
        box_ = box_for(info_, this);
        for (const auto& step : context_.session.document().steps) {
            if (step->id == context_.step) {
                break;
            }
            if (std::holds_alternative<model::SketchStep>(step->definition)) {
                box_->addItem(QString("%1  %2").arg(step->number).arg(QString::fromStdString(step->name)), step->id);
            }
        }
        box_->setPlaceholderText(tr("draw a sketch first"));
        row->addWidget(box_, 1);
        connect(box_, &QComboBox::activated, this, [this] { set(model::SketchLink{box_->currentData().toInt()}); });
    }

    void refresh(const model::FieldValue& value) override {
        box_->setCurrentIndex(box_->findData(std::get<model::SketchLink>(value).step));
    }

private:
    QComboBox* box_;
};

class ParameterNameEditor : public FieldEditor {
public:
    ParameterNameEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* row = row_of(this);
        row->addWidget(label_for(info_, this));
        field_ = new QLineEdit(this);
        field_->setAccessibleName(QString::fromStdString(info_.label));
        field_->setObjectName(QString::fromStdString("field_" + info_.key));
        field_->setToolTip(toolTip());
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
            value_->setText(quantity_text(report->output->measured.begin()->second));
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

// A face or vertex: picked in the model, or chosen from a list by keyboard.
class PickEditor : public FieldEditor {
public:
    PickEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* row = row_of(this);
        row->addWidget(label_for(info_, this));
        box_ = box_for(info_, this);
        box_->setPlaceholderText(tr("nothing yet"));
        box_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box_->setMinimumContentsLength(4);
        pick_ = new QPushButton(QString::fromUtf8("\u2316"), this); // a cross to aim with
        pick_->setFixedWidth(28);
        pick_->setObjectName("plain");
        pick_->setCheckable(true);
        pick_->setAccessibleName(tr("Pick for %1").arg(QString::fromStdString(info_.label)));
        pick_->setToolTip(tr("Then click it in the model. Escape leaves it as it is."));
        row->addWidget(box_, 1);
        row->addWidget(pick_);
        connect(pick_, &QPushButton::clicked, this, [this](bool on) {
            context_.viewport.set_pick_target(on ? std::optional(PickTarget{info_.key, info_.accepts, info_.many})
                                                 : std::nullopt);
            context_.viewport.setFocus();
        });
        connect(&context_.viewport, &Viewport::marker_changed, this, [this] {
            pick_->setChecked(context_.viewport.pick_target() && context_.viewport.pick_target()->field == info_.key);
        });
        connect(&context_.viewport, &Viewport::picked, this, [this](const model::Reference& reference) {
            if (context_.viewport.pick_target() && context_.viewport.pick_target()->field == info_.key) {
                context_.viewport.set_pick_target(std::nullopt);
                set(model::References{reference});
            }
        });
        connect(box_, &QComboBox::activated, this,
                [this](int index) { set(model::References{offered_[static_cast<size_t>(index)]}); });
    }

    void refresh(const model::FieldValue& value) override {
        const auto& references = std::get<model::References>(value);
        const PicturePtr picture = context_.session.picture();
        if (picture != filled_from_) {
            fill(picture);
        }
        int current = -1;
        if (!references.empty()) {
            const auto at = std::find_if(offered_.begin(), offered_.end(), [&](const model::Reference& r) {
                return r.kind == references.front().kind && r.body == references.front().body &&
                       r.faces == references.front().faces && r.ends == references.front().ends;
            });
            if (at == offered_.end()) {
                offer(references.front(), words_for(references.front()));
                current = static_cast<int>(offered_.size()) - 1;
            } else {
                current = static_cast<int>(at - offered_.begin());
            }
        }
        box_->setCurrentIndex(current);
        box_->setToolTip((current < 0 ? QString() : box_->currentText() + ". ") + toolTip());
    }

private:
    QString words_for(const model::Reference& reference) const {
        QString text = context_.name_of(reference.body);
        if (reference.kind == model::ElementKind::face && !reference.faces.empty()) {
            text +=
                ", " + QString::fromStdString(model::describe_face(model::FaceName::parse(reference.faces.front())));
        } else if (reference.kind != model::ElementKind::body) {
            text += ", " + QString::fromStdString(to_string(reference.kind));
        }
        return text;
    }

    void offer(const model::Reference& reference, const QString& text) {
        offered_.push_back(reference);
        box_->addItem(text);
        box_->setItemData(box_->count() - 1, text, Qt::ToolTipRole);
    }

    void fill(const PicturePtr& picture) {
        constexpr size_t most = 80; // a list longer than that is no help; the model is for picking then
        filled_from_ = picture;
        box_->clear();
        offered_.clear();
        if (!picture || picture->as_of != context_.step) {
            return;
        }
        for (const auto& [id, body] : picture->before) {
            if (info_.accepts.contains(model::ElementKind::body)) {
                model::Reference reference;
                reference.body = id;
                offer(reference, words_for(reference));
            } else if (info_.accepts.contains(model::ElementKind::face)) {
                for (const TopoDS_Shape& face : geom::faces_of(body->shape)) {
                    const bool any = info_.accepts.size() > 1 || info_.question == model::Question::measured;
                    if (offered_.size() < most && (any || geom::plane_of(face))) {
                        const auto reference = model::refer_to(id, *body, face);
                        offer(reference, words_for(reference));
                    }
                }
            } else if (info_.accepts.contains(model::ElementKind::edge)) {
                for (const TopoDS_Shape& edge : geom::edges_of(body->shape)) {
                    if (offered_.size() < most) {
                        const auto reference = model::refer_to(id, *body, edge);
                        offer(reference, words_for(reference) + tr(" of %1 mm").arg(geom::length_of(edge), 0, 'f', 1));
                    }
                }
            } else if (info_.accepts.contains(model::ElementKind::vertex)) {
                for (const TopoDS_Shape& vertex : geom::vertices_of(body->shape)) {
                    if (offered_.size() < most) {
                        const auto reference = model::refer_to(id, *body, vertex);
                        offer(reference, words_for(reference) + QString(" %1, %2, %3")
                                                                    .arg((*reference.near)[0], 0, 'f', 1)
                                                                    .arg((*reference.near)[1], 0, 'f', 1)
                                                                    .arg((*reference.near)[2], 0, 'f', 1));
                    }
                }
            }
        }
    }

    QComboBox* box_;
    QPushButton* pick_;
    std::vector<model::Reference> offered_;
    PicturePtr filled_from_;
};

// Bodies to be ticked: those that the profile meets first.
class WorkpieceEditor : public FieldEditor {
public:
    WorkpieceEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        column_ = new QVBoxLayout(this);
        column_->setContentsMargins(0, 0, 0, 0);
        column_->setSpacing(2);
        connect(&context_.viewport, &Viewport::body_clicked, this, [this](const model::BodyId& id) { toggle(id); });
    }

    void refresh(const model::FieldValue& value) override {
        ticked_ = std::get<model::References>(value);
        const PicturePtr picture = context_.session.picture();
        if (!picture || picture->as_of != context_.step) {
            return;
        }
        std::vector<model::BodyId> wanted;
        for (const auto& [id, body] : picture->before) {
            wanted.push_back(id);
        }
        if (wanted != listed_) {
            rebuild(wanted);
        }
        for (size_t i = 0; i < listed_.size(); ++i) {
            const bool met = std::find(picture->met.begin(), picture->met.end(), listed_[i]) != picture->met.end();
            const bool on = is_ticked(listed_[i]);
            boxes_[i]->setChecked(on);
            boxes_[i]->setText(context_.name_of(listed_[i]) + (met && !on   ? tr(", met but not cut")
                                                               : !met && on ? tr(", not met")
                                                               : !met       ? tr(", clear of it")
                                                                            : QString()));
        }
    }

private:
    [[nodiscard]] bool is_ticked(const model::BodyId& id) const {
        return std::any_of(ticked_.begin(), ticked_.end(), [&](const model::Reference& r) { return r.body == id; });
    }

    void toggle(const model::BodyId& id) {
        auto next = ticked_;
        if (is_ticked(id)) {
            std::erase_if(next, [&](const model::Reference& r) { return r.body == id; });
        } else {
            model::Reference reference;
            reference.body = id;
            next.push_back(reference);
        }
        set(next);
    }

    void rebuild(const std::vector<model::BodyId>& bodies) {
        for (QCheckBox* box : boxes_) {
            box->deleteLater();
        }
        boxes_.clear();
        listed_ = bodies;
        for (const model::BodyId& id : bodies) {
            auto* box = new QCheckBox(this);
            box->setObjectName(QString::fromStdString("tick_" + id));
            box->setToolTip(tr("Ticked bodies are cut, all others pass untouched."));
            column_->addWidget(box);
            boxes_.push_back(box);
            connect(box, &QCheckBox::clicked, this, [this, id] { toggle(id); });
        }
    }

    QVBoxLayout* column_;
    model::References ticked_;
    std::vector<model::BodyId> listed_;
    std::vector<QCheckBox*> boxes_;
};

class RegionEditor : public FieldEditor {
public:
    RegionEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* row = row_of(this);
        count_ = new QLabel(this);
        row->addWidget(count_, 1);
        for (const bool all : {true, false}) {
            auto* button = new QPushButton(all ? tr("All") : tr("None"), this);
            button->setObjectName("plain");
            button->setAccessibleName(all ? tr("Take all regions") : tr("Take no region"));
            button->setToolTip(
                all ? tr("Takes every region of the sketch. Click regions in the model to take them one by one; a "
                         "click "
                         "on words, a ring or a row takes all of it, with Shift only what is under the pointer.")
                    : tr("Leaves all regions."));
            connect(button, &QPushButton::clicked, this, [this, all] {
                model::RegionReferences next;
                const auto sketch = context_.viewport.card_sketch();
                for (int i = 0; all && sketch && i < static_cast<int>(sketch->regions.size()); ++i) {
                    if (!taken(*sketch, next).contains(i)) {
                        next.push_back(reference_to(*sketch, i));
                    }
                }
                set(next);
            });
            row->addWidget(button);
        }
        connect(&context_.viewport, &Viewport::region_clicked, this, [this](int index) { toggle({index}); });
        connect(&context_.viewport, &Viewport::regions_framed, this, [this](const auto& all) { toggle(all); });
    }

    void refresh(const model::FieldValue& value) override {
        chosen_ = std::get<model::RegionReferences>(value);
        const auto sketch = context_.viewport.card_sketch();
        count_->setText(sketch ? tr("%1 of %2 regions").arg(taken(*sketch, chosen_).size()).arg(sketch->regions.size())
                               : tr("no regions yet"));
    }

private:
    // What is chosen goes, where all of these are; else what is missing comes.
    void toggle(const std::vector<int>& regions) {
        const auto sketch = context_.viewport.card_sketch();
        if (!sketch) {
            return;
        }
        auto next = chosen_;
        std::set<int> known = taken(*sketch, next);
        if (std::all_of(regions.begin(), regions.end(), [&](int index) { return known.contains(index); })) {
            std::erase_if(next, [&](const sketch::RegionReference& reference) {
                const auto meant = sketch->meant_by(reference);
                return std::any_of(meant.begin(), meant.end(), [&](int index) {
                    return std::find(regions.begin(), regions.end(), index) != regions.end();
                });
            });
            set(next);
            return;
        }
        const bool alone = QGuiApplication::keyboardModifiers().testFlag(Qt::ShiftModifier);
        for (const int index : regions) {
            if (known.contains(index)) {
                continue; // also by a figure that covers it
            }
            const auto& region = sketch->regions[static_cast<size_t>(index)];
            next.push_back(alone ? sketch::RegionReference{region.bounds, region.inside, 0}
                                 : reference_to(*sketch, index));
            known = taken(*sketch, next);
        }
        set(next);
    }
    static std::set<int> taken(const model::SketchResult& sketch, const model::RegionReferences& references) {
        std::set<int> all;
        for (const auto& reference : references) {
            const auto meant = sketch.meant_by(reference);
            all.insert(meant.begin(), meant.end());
        }
        return all;
    }
    /// All of the figure that covers the region, the newest where several do; else the region alone.
    static sketch::RegionReference reference_to(const model::SketchResult& sketch, int index) {
        const auto& region = sketch.regions[static_cast<size_t>(index)];
        for (auto at = sketch.covered.rbegin(); at != sketch.covered.rend(); ++at) {
            if (std::find(at->second.begin(), at->second.end(), index) != at->second.end()) {
                return {{}, region.inside, at->first};
            }
        }
        return {region.bounds, region.inside, 0};
    }

    QLabel* count_;
    model::RegionReferences chosen_;
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
        return new SketchLinkEditor(field.info, context, parent);
    }
    if (std::holds_alternative<model::ParameterName>(field.value)) {
        return new ParameterNameEditor(field.info, context, parent);
    }
    if (std::holds_alternative<model::AssetLink>(field.value)) {
        return new FileEditor(field.info, context, parent);
    }
    if (std::holds_alternative<model::References>(field.value)) {
        return field.info.many ? static_cast<FieldEditor*>(new WorkpieceEditor(field.info, context, parent))
                               : new PickEditor(field.info, context, parent);
    }
    if (std::holds_alternative<model::RegionReferences>(field.value)) {
        return new RegionEditor(field.info, context, parent);
    }
    if (std::holds_alternative<model::VerdictRules>(field.value)) {
        return new PieceEditor(field.info, context, parent);
    }
    return new DrawingEditor(field.info, context, parent);
}

} // namespace kervo::app
