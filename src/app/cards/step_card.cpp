#include "app/cards/step_card.h"

#include "model/steps/planned/planned.h"

#include <QHBoxLayout>

#include <algorithm>

namespace kervo::app {

QFrame* make_rule(QWidget* parent) {
    auto* line = new QFrame(parent);
    line->setObjectName("rule");
    return line;
}

NoteEdit::NoteEdit(QWidget* parent) : QPlainTextEdit(parent) {
    setObjectName("note");
    setAccessibleName(tr("Note"));
    setToolTip(tr("What is worth knowing about this step; it stands in the file and on the route."));
    setPlaceholderText(tr("note"));
    setTabChangesFocus(true);
    setFrameShape(QFrame::NoFrame);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(this, &QPlainTextEdit::textChanged, this, &NoteEdit::fit);
    fit();
}

void NoteEdit::fit() {
    const int lines = std::clamp(static_cast<int>(document()->size().height()), 1, 6); // wrapped ones too
    setFixedHeight(lines * fontMetrics().lineSpacing() + 2 * static_cast<int>(document()->documentMargin()) + 2);
}

void NoteEdit::resizeEvent(QResizeEvent* event) {
    QPlainTextEdit::resizeEvent(event);
    fit();
}

void NoteEdit::focusOutEvent(QFocusEvent* event) {
    QPlainTextEdit::focusOutEvent(event);
    emit written(toPlainText().trimmed());
}

StepCard::StepCard(const CardContext& context, QWidget* parent) : QFrame(parent), context_(context) {
    setObjectName("card");
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(12, 8, 12, 12);
    column_->setSpacing(6);
    const auto step = context_.session.document().step(context_.step);
    auto* head = new QHBoxLayout;
    auto* number = new QLabel(QString::number(step->number), this);
    number->setObjectName("number");
    head->addWidget(number);
    head->addSpacing(4);
    title_ = new QLabel(this);
    title_->setObjectName("heading");
    head->addWidget(title_);
    name_ = new QLineEdit(QString::fromStdString(step->name), this);
    name_->setObjectName("step_name");
    name_->setAccessibleName(tr("Name of the step"));
    name_->setToolTip(tr("What this step is called on the route; a body that it makes is called so too."));
    name_->setPlaceholderText(tr("name"));
    head->addWidget(name_, 1);
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        const std::string text = name_->text().trimmed().toStdString();
        context_.session.edit([&](model::Document document) {
            return model::change_step(std::move(document), context_.step, [&](model::Step& s) { s.name = text; });
        });
    });
    column_->addLayout(head);
    column_->addWidget(make_rule(this));

    rebuild();
    column_->addWidget(make_rule(this));
    note_ = new NoteEdit(this);
    column_->addWidget(note_);
    connect(note_, &NoteEdit::written, this, [this](const QString& text) {
        context_.session.edit([&](model::Document document) {
            return model::change_step(std::move(document), context_.step,
                                      [&](model::Step& s) { s.note = text.toStdString(); });
        });
    });

    refresh();
}

void StepCard::rebuild() {
    const auto step = context_.session.document().step(context_.step);
    // The answer that is being given keeps the focus, though the lines around it change.
    const QWidget* focus = window()->focusWidget();
    const QString focused =
        body_ != nullptr && focus != nullptr && body_->isAncestorOf(focus) ? focus->objectName() : "";
    if (body_ != nullptr) {
        body_->hide();
        body_->deleteLater();
    }
    editors_.clear();
    asked_.clear();
    body_ = new QWidget(this);
    auto* list = new QVBoxLayout(body_);
    list->setContentsMargins(0, 0, 0, 0);
    list->setSpacing(6);
    if (step->definition.is<model::Planned>()) {
        auto* hint =
            new QLabel(tr("Still to come. Start any verb while this card is open, and the step becomes that."), body_);
        hint->setObjectName("quiet");
        hint->setWordWrap(true);
        list->addWidget(hint);
    }
    std::optional<model::Question> question;
    QHBoxLayout* line = nullptr;
    for (const model::Field& field : model::fields_of(step->definition, true)) {
        if (question != field.info.question) {
            if (question) {
                list->addWidget(make_rule(body_));
            }
            question = field.info.question;
            auto* title = new QLabel(QString::fromStdString(model::title_of(field.info.question)), body_);
            title->setObjectName("question");
            list->addWidget(title);
        }
        FieldEditor* editor = make_editor(field, context_, body_);
        if (field.info.goes_beside && line != nullptr) {
            editor->go_beside();
            line->addWidget(editor);
        } else {
            line = new QHBoxLayout;
            line->setSpacing(6);
            line->addWidget(editor, 1);
            list->addLayout(line);
        }
        editors_.push_back(editor);
        asked_.push_back(field.info.key);
    }
    column_->insertWidget(2, body_);
    if (auto* again = focused.isEmpty() ? nullptr : body_->findChild<QWidget*>(focused)) {
        again->setFocus(Qt::OtherFocusReason);
    }
}

void StepCard::refresh() {
    const auto step = context_.session.document().step(context_.step);
    if (!step) {
        return;
    }
    title_->setText(QString::fromStdString(model::title_of(step->definition)));
    if (!name_->hasFocus()) {
        name_->setText(QString::fromStdString(step->name));
    }
    if (const QString note = QString::fromStdString(step->note); !note_->hasFocus() && note_->toPlainText() != note) {
        note_->setPlainText(note);
    }
    const auto fields = model::fields_of(step->definition, true);
    std::vector<std::string> asked;
    for (const model::Field& field : fields) {
        asked.push_back(field.info.key);
    }
    if (asked != asked_) {
        rebuild();
    }
    for (size_t i = 0; i < fields.size(); ++i) {
        editors_[i]->refresh(fields[i].value);
    }
}

} // namespace kervo::app
