#include "app/cards/step_card.h"

#include "model/steps/planned/planned.h"

#include <QHBoxLayout>
#include <QKeyEvent>

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

FoldedAnswers::FoldedAnswers(const QString& words, QWidget* parent) : QLabel(parent) {
    say(words);
    setObjectName("folded");
    setToolTip(tr("As the step began. Click, or type while it has the focus, to change them."));
    setWordWrap(true);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
}

void FoldedAnswers::say(const QString& words) {
    setText(QString::fromUtf8("\u25b8 ") + words);
    setAccessibleName(tr("Folded: %1").arg(words));
}

// Plain keys are for it, not for verbs.
bool FoldedAnswers::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (!key->text().isEmpty() && key->text()[0].isPrint() && key->modifiers() == Qt::NoModifier) {
            event->accept();
            return true;
        }
    }
    return QLabel::event(event);
}

void FoldedAnswers::mouseReleaseEvent(QMouseEvent* /*event*/) {
    emit opened();
}

void FoldedAnswers::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || (!event->text().isEmpty() && event->text()[0].isPrint())) {
        emit opened();
    } else {
        QLabel::keyPressEvent(event);
    }
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
    std::vector<model::Field> fields = model::fields_of(step->definition, true);
    asked_ = shown_now(fields);
    for (auto from = fields.begin(); from != fields.end();) {
        const auto to = std::find_if(
            from, fields.end(), [&](const model::Field& field) { return field.info.question != from->info.question; });
        if (from != fields.begin()) {
            list->addWidget(make_rule(body_));
        }
        add_question(list, {from, to});
        from = to;
    }
    column_->insertWidget(2, body_);
    if (auto* again = focused.isEmpty() ? nullptr : body_->findChild<QWidget*>(focused)) {
        again->setFocus(Qt::OtherFocusReason);
    }
}

bool StepCard::is_folded(const model::StepDefinition& definition, const model::Field& field) const {
    return field.info.folded && !opened_.contains(field.info.question) && model::is_as_begun(definition, field);
}

std::vector<std::string> StepCard::shown_now(const std::vector<model::Field>& fields) const {
    const auto step = context_.session.document().step(context_.step);
    std::vector<std::string> shown;
    for (const model::Field& field : fields) {
        shown.push_back(field.info.key + (is_folded(step->definition, field) ? " folded" : ""));
    }
    return shown;
}

void StepCard::open(model::Question question) {
    opened_.insert(question);
    rebuild();
    refresh();
}

namespace {

// "From: The sketch plane" -> "from the sketch plane".
QString in_words(const model::Field& field) {
    const auto small = [](const std::string& text) {
        QString words = QString::fromStdString(text);
        return words.isEmpty() ? words : words.front().toLower() + words.mid(1);
    };
    QString answer = StepCard::tr("none");
    if (const auto* choice = std::get_if<model::Choice>(&field.value)) {
        const model::FieldOption* option = field.info.option(choice->value);
        answer = option == nullptr ? answer : small(option->label);
    } else if (const auto* formula = std::get_if<Expression>(&field.value)) {
        answer = QString::fromStdString(formula->text);
    } else if (std::holds_alternative<model::StateLink>(field.value)) { // folded: as the step began
        answer = StepCard::tr("they are here");
    }
    return small(field.info.label) + " " + answer;
}

} // namespace

void StepCard::add_question(QVBoxLayout* list, const std::vector<model::Field>& fields) {
    const auto step = context_.session.document().step(context_.step);
    const model::Question question = fields.front().info.question;
    auto* title = new QLabel(QString::fromStdString(model::title_of(question)), body_);
    title->setObjectName("question");
    list->addWidget(title);
    QStringList folded;
    QHBoxLayout* line = nullptr;
    for (const model::Field& field : fields) {
        if (is_folded(step->definition, field)) {
            folded << in_words(field);
            continue;
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
        editors_.emplace_back(field.info.key, editor);
    }
    if (!folded.isEmpty()) {
        auto* words = new FoldedAnswers(folded.join(tr(", ")), body_);
        // The line is gone by the time that its own event has ended.
        connect(
            words, &FoldedAnswers::opened, this, [this, question] { open(question); }, Qt::QueuedConnection);
        list->addWidget(words);
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
    if (shown_now(fields) != asked_) {
        rebuild();
    }
    for (const auto& [key, editor] : editors_) {
        const auto field = std::find_if(fields.begin(), fields.end(),
                                        [&key = key](const model::Field& each) { return each.info.key == key; });
        editor->refresh(field->value);
    }
}

} // namespace kervo::app
