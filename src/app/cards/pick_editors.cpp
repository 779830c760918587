#include "app/cards/pick_editors.h"
#include "app/view/tools/answer_tool.h"
#include "app/view/tools/piece_tool.h"

#include "app/cards/chosen_list.h"
#include "app/cards/editor_parts.h"
#include "app/cards/step_card.h"
#include "app/look/counted.h"
#include "model/names/border_names.h"
#include "model/names/words.h"

#include <QKeyEvent>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

namespace {

// Its name is another one's too, which its marks say ("?"); then only its place tells it.
bool has_a_twin(const model::Reference& reference) {
    const auto marked = [](const std::string& name) { return name.find('?') != std::string::npos; };
    return std::any_of(reference.ends.begin(), reference.ends.end(), marked) ||
           std::any_of(reference.faces.begin(), reference.faces.end(), marked);
}

// By their names; of elements that others share theirs with, by their places too.
bool same_element(const model::Reference& one, const model::Reference& other) {
    const bool named_alike =
        one.kind == other.kind && one.body == other.body && one.faces == other.faces && one.ends == other.ends;
    return named_alike && (!has_a_twin(one) || one.near == other.near);
}

// A list from which things are added: the arrows open it, so that they do not add what they pass.
class AddBox : public QComboBox {
public:
    using QComboBox::QComboBox;

protected:
    void keyPressEvent(QKeyEvent* event) override {
        if (event->key() == Qt::Key_Down || event->key() == Qt::Key_Up) {
            showPopup();
            return;
        }
        QComboBox::keyPressEvent(event);
    }
};

// What can be picked, as a list for the keyboard, and the button that waits for a click in the model.
class ElementEditor : public FieldEditor {
public:
    ElementEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {}

protected:
    /// The list and the button, on this line.
    void add_parts(QHBoxLayout* row) {
        box_ = info_.many ? new AddBox(this) : new QComboBox(this);
        dress(box_, info_, this);
        box_->setPlaceholderText(info_.many ? tr("add from a list") : tr("nothing yet"));
        box_->setMinimumContentsLength(2);
        pick_ = new QPushButton(QString::fromUtf8("\u2316"), this); // a cross to aim with
        pick_->setFixedWidth(28);
        pick_->setObjectName("plain");
        pick_->setCheckable(true);
        pick_->setAccessibleName(tr("Pick for %1").arg(QString::fromStdString(info_.label)));
        pick_->setToolTip(info_.many ? tr("Then click them in the model; again takes one off. Escape ends it.")
                                     : tr("Then click it in the model. Escape leaves it as it is."));
        row->addWidget(box_, 1);
        row->addWidget(pick_);
        connect(pick_, &QPushButton::clicked, this, [this](bool on) {
            context_.viewport.hand().set_target(on ? std::optional(PickTarget::of(info_)) : std::nullopt);
            context_.viewport.setFocus();
        });
        connect(&context_.viewport.hand(), &InHand::target_changed, this, [this] { pick_->setChecked(is_target()); });
        pick_->setChecked(is_target());
        connect(&context_.viewport.tool<AnswerTool>(), &AnswerTool::picked, this,
                [this](const model::Reference& reference, const std::string& field) {
                    if (field == info_.key) {
                        take_owner(reference);
                        take(reference);
                    }
                });
        box_->installEventFilter(this);
        connect(box_, &QComboBox::highlighted, this, [this](int index) { point_out(index); }); // in the open list
        connect(box_, &QComboBox::activated, this, [this](int index) { take(offered_[static_cast<size_t>(index)]); });
    }

    virtual void take(const model::Reference& reference) = 0;

    // Its body is the one that is changed, where none is yet.
    void take_owner(const model::Reference& reference) const {
        const auto step = context_.session.document().step(context_.step);
        for (const model::Field& field :
             step ? model::fields_of(step->definition, true) : std::vector<model::Field>{}) {
            const auto* bodies = std::get_if<model::References>(&field.value);
            if (bodies != nullptr && bodies->empty() && field.info.key != info_.key &&
                wants_changed_bodies(field.info)) {
                context_.set(field.info.key, model::References{model::whole(reference.body)});
                return;
            }
        }
    }

    [[nodiscard]] bool is_target() const {
        return context_.viewport.hand().target() && context_.viewport.hand().target()->field == info_.key;
    }

    // By what it looks like, or, where it is lost, by its name; without the body's name where there is only one.
    QString words_for(const model::Reference& reference) const {
        const PicturePtr picture = context_.session.picture();
        if (reference.kind == model::ElementKind::body) {
            return context_.name_of(reference.body);
        }
        const auto owner = picture ? scene::find_body(picture->before, reference.body) : nullptr;
        const auto element = picture ? picture->meant(reference) : std::nullopt;
        return with_body(reference.body, element ? words_for(*element, *owner->elements) : words_for_lost(reference));
    }

    QString words_for(const model::Element& element, const model::Elements& elements) const {
        const std::string& unit = context_.session.document().unit;
        if (element.kind != model::ElementKind::vertex) {
            return QString::fromStdString(elements.words(element, unit));
        }
        const Point3 at = elements.center(element);
        return tr("vertex %1, %2, %3")
            .arg(length_number(at.x, unit), length_number(at.y, unit), length_number(at.z, unit));
    }

    static QString words_for_lost(const model::Reference& reference) {
        const auto face = [](const std::string& name) {
            return QString::fromStdString(model::describe_face(model::FaceName::parse(name)));
        };
        if (reference.kind == model::ElementKind::face && !reference.faces.empty()) {
            return face(reference.faces.front());
        }
        if (reference.kind == model::ElementKind::edge && reference.faces.size() == 2 &&
            model::is_border_name(reference.faces[1])) {
            return tr("border of %1").arg(face(reference.faces[0]));
        }
        return reference.kind == model::ElementKind::edge && reference.faces.size() == 2
                   ? tr("%1 and %2").arg(face(reference.faces[0]), face(reference.faces[1]))
                   : QString::fromStdString(to_string(reference.kind));
    }

    QString with_body(const model::BodyId& body, const QString& text) const {
        const PicturePtr picture = context_.session.picture();
        const bool one = picture && picture->before.size() == 1 && picture->before.begin()->first == body;
        return one ? text : context_.name_of(body) + ", " + text;
    }

    void point_out(int index) {
        context_.viewport.hand().point_out(index >= 0 && index < static_cast<int>(offered_.size())
                                               ? std::optional(offered_[static_cast<size_t>(index)])
                                               : std::nullopt);
    }

    // What is chosen is lit up while the line is under the pointer or has the focus.
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (watched == box_) {
            if (event->type() == QEvent::Enter || event->type() == QEvent::FocusIn) {
                point_out(box_->currentIndex());
            } else if (event->type() == QEvent::Leave || event->type() == QEvent::FocusOut) {
                point_out(-1);
            }
        }
        return FieldEditor::eventFilter(watched, event);
    }

    void offer(const model::Reference& reference, const QString& text) {
        offered_.push_back(reference);
        box_->addItem(text);
        box_->setItemData(box_->count() - 1, text, Qt::ToolTipRole);
    }

    void fill() {
        const PicturePtr picture = context_.session.picture();
        if (picture == filled_from_) {
            return;
        }
        filled_from_ = picture;
        box_->clear();
        offered_.clear();
        if (!picture || picture->as_of != context_.step) {
            return;
        }
        using Kind = model::ElementKind;
        if (info_.many && info_.accepts.contains(Kind::body)) {
            for (const model::Group& group : context_.session.document().groups) {
                const auto reference = model::whole(model::reference_to_group(group.id));
                offer(reference, words_for(reference));
            }
        }
        for (const auto& [id, body] : picture->before) {
            if (info_.accepts.contains(Kind::body)) {
                offer(model::whole(id), words_for(model::whole(id)));
                continue;
            }
            const model::Elements& elements = *body->elements;
            if (elements.faces.size() > most_faces) {
                continue;
            }
            const bool any = info_.accepts.size() > 1 || info_.many || info_.question == model::Question::measured;
            for (const Kind kind : {Kind::face, Kind::edge, Kind::vertex}) {
                for (int i = 0; info_.accepts.contains(kind) && i < static_cast<int>(elements.count(kind)); ++i) {
                    const bool fits = any || kind != Kind::face || elements.faces[static_cast<size_t>(i)].plane;
                    if (fits && offered_.size() < most) {
                        offer(elements.reference(id, {kind, i}), with_body(id, words_for({kind, i}, elements)));
                    }
                }
            }
        }
    }

    // A list longer than that is no help; the model is for picking then.
    static constexpr size_t most = 80, most_faces = 400;
    QComboBox* box_ = nullptr;
    QPushButton* pick_ = nullptr;
    std::vector<model::Reference> offered_;
    PicturePtr filled_from_;
};

// One face, edge, vertex or body.
class PickEditor : public ElementEditor {
public:
    PickEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : ElementEditor(info, context, parent) {
        auto* row = row_of(this);
        row->addWidget(label_for(info_, this));
        add_parts(row);
    }

    void refresh(const model::FieldValue& value) override {
        const auto& references = std::get<model::References>(value);
        fill();
        int current = -1;
        if (!references.empty()) {
            const auto at = std::find_if(offered_.begin(), offered_.end(),
                                         [&](const auto& known) { return same_element(known, references.front()); });
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

protected:
    void take(const model::Reference& reference) override {
        const bool clicked = is_target();
        if (clicked) {
            context_.viewport.hand().set_target(std::nullopt);
        }
        set(model::References{reference});
        const auto step = context_.session.document().step(context_.step);
        if (clicked && step) { // Escape ends it
            context_.viewport.hand().set_target(PickTarget::next_open(step->definition, info_.key));
        }
    }
};

// Several elements: each has a line, from which it can be taken off again.
class PickListEditor : public ElementEditor {
public:
    PickListEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : ElementEditor(info, context, parent) {
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(4);
        auto* head = new QWidget(this);
        auto* row = row_of(head);
        row->addWidget(label_for(info_, this));
        add_parts(row);
        column->addWidget(head);
        list_ = new ChosenList(info_, this);
        column->addWidget(list_);
        if (info_.clicked && info_.accepts.contains(model::ElementKind::body)) {
            connect(&context_.viewport.tool<PieceTool>(), &PieceTool::body_clicked, this,
                    [this](const model::BodyId& id) {
                        if (goes_here(info_, context_.viewport.hand().marker())) {
                            take(model::whole(id));
                        }
                    });
        }
        connect(list_, &ChosenList::pointed_at, this, [this](int index) {
            context_.viewport.hand().point_out(index >= 0 ? std::optional(chosen_[static_cast<size_t>(index)])
                                                          : std::nullopt);
        });
        connect(list_, &ChosenList::taken_off, this, [this](int index) { take(chosen_[static_cast<size_t>(index)]); });
        connect(list_, &ChosenList::own_given, this, [this](int index, const QString& formula) {
            auto next = chosen_;
            next[static_cast<size_t>(index)].own.text = formula.trimmed().toStdString();
            set(next);
        });
    }

    void refresh(const model::FieldValue& value) override {
        fill();
        box_->setCurrentIndex(-1);
        const auto& references = std::get<model::References>(value);
        if (references == chosen_ && named_from_ == filled_from_) {
            return;
        }
        chosen_ = references;
        named_from_ = filled_from_;
        std::vector<ChosenList::Line> lines;
        for (const model::Reference& reference : chosen_) {
            const QString name = QString::fromStdString(reference.name);
            lines.push_back({(name.isEmpty() ? name : name + "  ") + words_for(reference),
                             QString::fromStdString(reference.own.text)});
        }
        list_->show_lines(lines, !info_.each_label.empty());
    }

protected:
    void take(const model::Reference& reference) override {
        auto next = chosen_;
        const auto known =
            std::find_if(next.begin(), next.end(), [&](const auto& one) { return same_element(one, reference); });
        if (known != next.end()) {
            next.erase(known);
        } else {
            next.push_back(reference);
        }
        set(next);
    }

private:
    ChosenList* list_;
    model::References chosen_;
    PicturePtr named_from_;
};

} // namespace

FieldEditor* make_pick_editor(const model::FieldInfo& info, const CardContext& context, QWidget* parent) {
    if (!info.many) {
        return new PickEditor(info, context, parent);
    }
    return info.accepts.contains(model::ElementKind::body) && !info.listed ? make_body_editor(info, context, parent)
                                                                           : new PickListEditor(info, context, parent);
}

} // namespace kervo::app
