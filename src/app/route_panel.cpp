#include "app/route_panel.h"

#include "app/counted.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QScrollBar>
#include <QTimer>

#include <functional>

namespace kervo::app {

namespace {

QString volume_text(double mm3) {
    const double cm3 = mm3 / 1000;
    return QString::number(cm3, 'f', std::abs(cm3) < 10 ? 2 : 1) + QString::fromUtf8(" cm\u00b3");
}

// One closed step: number, name, what it did. A button, so that the keyboard reaches it.
class RouteRow : public QPushButton {
public:
    explicit RouteRow(QWidget* parent) : QPushButton(parent) { setMinimumHeight(34); }
    std::function<void(const QPoint&)> menu;

protected:
    void contextMenuEvent(QContextMenuEvent* event) override { menu(event->globalPos()); }
};

QFrame* rule(QWidget* parent) {
    auto* line = new QFrame(parent);
    line->setObjectName("rule");
    return line;
}

} // namespace

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
    auto* title = new QLabel(QString::fromStdString(model::kind_of(step->definition).title), this);
    title->setObjectName("heading");
    head->addWidget(title);
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
    column_->addWidget(rule(this));

    findings_ = new QLabel(this);
    findings_->setObjectName("problem");
    findings_->setWordWrap(true);
    findings_->hide();
    rebuild();
    column_->addWidget(findings_);

    refresh();
}

void StepCard::rebuild() {
    const auto step = context_.session.document().step(context_.step);
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
    std::optional<model::Question> question;
    QHBoxLayout* line = nullptr;
    for (const model::Field& field : model::fields_of(step->definition, true)) {
        if (question != field.info.question) {
            if (question) {
                list->addWidget(rule(body_));
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
}

void StepCard::refresh() {
    const auto step = context_.session.document().step(context_.step);
    if (!step) {
        return;
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
    show_findings();
}

void StepCard::show_findings() {
    const model::StepReport* report = context_.report();
    QString text;
    std::vector<std::array<double, 3>> places;
    if (report != nullptr) {
        for (const Finding& finding : report->findings) {
            text += (text.isEmpty() ? "" : "\n") +
                    QString::fromStdString(finding.cause + (finding.mend.empty() ? "" : " " + finding.mend));
            places.insert(places.end(), finding.places.begin(), finding.places.end());
        }
        findings_->setObjectName(has_error(report->findings) ? "problem" : "caution");
        findings_->setStyleSheet(
            QString("color: %1")
                .arg((has_error(report->findings) ? context_.theme.finding : context_.theme.cutter).name()));
    }
    findings_->setText(text);
    findings_->setVisible(!text.isEmpty());
    context_.viewport.point_out_places(places);
}

RoutePanel::RoutePanel(Session& session, Viewport& viewport, const Theme& theme, QWidget* parent)
    : QWidget(parent), session_(session), viewport_(viewport), theme_(theme) {
    setObjectName("right");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 10, 0, 0);
    column->setSpacing(4);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(14, 0, 14, 0);
    auto* title = new QLabel(tr("Route"), this);
    title->setObjectName("heading");
    summary_ = new QLabel(this);
    summary_->setObjectName("quiet");
    head->addWidget(title, 1);
    head->addWidget(summary_);
    column->addLayout(head);
    scroll_ = new QScrollArea(this);
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setFocusPolicy(Qt::NoFocus);
    column->addWidget(scroll_, 1);

    footer_ = new QWidget(this);
    auto* buttons = new QHBoxLayout(footer_);
    buttons->setContentsMargins(14, 8, 14, 10);
    auto* accept = new QPushButton(tr("Accept"), footer_);
    accept->setObjectName("main");
    accept->setToolTip(tr("Keeps the open step as it stands (Ctrl+Enter)."));
    auto* cancel = new QPushButton(tr("Cancel"), footer_);
    cancel->setObjectName("second");
    cancel->setToolTip(tr("Leaves everything as it was before the card was opened."));
    buttons->addWidget(accept);
    buttons->addWidget(cancel);
    buttons->addStretch(1);
    column->addWidget(footer_);
    connect(accept, &QPushButton::clicked, &session_, &Session::accept_card);
    connect(cancel, &QPushButton::clicked, &session_, &Session::cancel_card);
    connect(&session_, &Session::changed, this, &RoutePanel::refresh);
    connect(&session_, &Session::pictured, this, &RoutePanel::refresh);
    connect(&session_, &Session::completed, this, &RoutePanel::refresh);
    refresh();
}

void RoutePanel::set_theme(const Theme& theme) {
    theme_ = theme;
    refresh();
}

void RoutePanel::refresh() {
    const auto& document = session_.document();
    footer_->setVisible(session_.card() != 0);
    double removed = 0;
    for (const auto& step : document.steps) {
        const auto* report = session_.report(step->id);
        removed += report != nullptr && report->output ? report->output->removed : 0;
    }
    summary_->setText(document.steps.empty()
                          ? tr("empty")
                          : counted(static_cast<qsizetype>(document.steps.size()), tr("step"), tr("steps")) +
                                (removed > 0 ? tr(" \u00b7 removed %1").arg(volume_text(removed)) : QString()));

    // The open card survives, so that what is typed in it is not disturbed.
    const bool same_card = card_ != nullptr && card_->step() == session_.card();
    if (card_ != nullptr && !same_card) {
        card_->deleteLater();
        card_ = nullptr;
    }
    if (card_ != nullptr) {
        card_->setParent(this);
    }
    auto* old = scroll_->takeWidget();
    const QString focused = old != nullptr && old->focusWidget() != nullptr &&
                                    qobject_cast<QPushButton*>(old->focusWidget()) != nullptr &&
                                    old->focusWidget()->hasFocus()
                                ? old->focusWidget()->objectName()
                                : QString();
    list_ = new QWidget;
    list_->setObjectName("list");
    auto* rows = new QVBoxLayout(list_);
    rows->setContentsMargins(0, 0, 0, 8);
    rows->setSpacing(0);
    if (document.steps.empty()) {
        auto* hint = new QLabel(tr("Nothing here yet. Bring in stock or a file, or draw a sketch: every step will "
                                   "stand here, in order, and can be changed at any time."),
                                list_);
        hint->setObjectName("quiet");
        hint->setWordWrap(true);
        hint->setContentsMargins(14, 8, 14, 8);
        rows->addWidget(hint);
    }
    for (const auto& step : document.steps) {
        if (step->id == session_.card()) {
            if (card_ == nullptr) {
                card_ = new StepCard(CardContext{session_, viewport_, theme_, step->id}, this);
            }
            auto* frame = new QWidget(list_);
            auto* margin = new QVBoxLayout(frame);
            margin->setContentsMargins(8, 6, 8, 6);
            margin->addWidget(card_);
            card_->show();
            card_->refresh();
            rows->addWidget(frame);
        } else {
            rows->addWidget(row_for(*step));
        }
        rows->addWidget(rule(list_));
    }
    rows->addStretch(1);
    scroll_->setWidget(list_);
    if (!focused.isEmpty()) {
        if (auto* again = list_->findChild<QPushButton*>(focused)) {
            again->setFocus();
        }
    }
    if (old != nullptr) {
        old->deleteLater();
    }
    if (card_ != nullptr && !same_card) {
        QTimer::singleShot(0, this, [this] {
            if (card_ != nullptr) {
                // Its head stands at the top, with the step before it still in sight.
                list_->layout()->activate();
                scroll_->verticalScrollBar()->setValue(card_->mapTo(list_, QPoint(0, 0)).y() - 44);
            }
        });
    }
}

QWidget* RoutePanel::row_for(const model::Step& step) {
    const model::StepReport* report = session_.report(step.id);
    const QString title = QString::fromStdString(model::kind_of(step.definition).title);
    const QString name = QString::fromStdString(step.name);
    auto* row = new RouteRow(list_);
    row->setObjectName(QString("step_%1").arg(step.id));
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(14, 0, 14, 0);
    layout->setSpacing(8);
    auto* number = new QLabel(QString::number(step.number), row);
    number->setObjectName("number");
    number->setFixedWidth(30);
    layout->addWidget(number);
    auto* words = new QLabel(row);
    const QString text = name.isEmpty() ? title : name;
    words->setText(words->fontMetrics().elidedText(text, Qt::ElideRight, 150));
    layout->addWidget(words, 1);

    QString state;
    QColor color = theme_.quiet;
    const bool later = session_.card() == 0 &&

                       session_.as_of() != 0 &&
                       session_.document().index_of(step.id) > session_.document().index_of(session_.as_of());
    if (report == nullptr) {
        state = tr("\u2026");
    } else if (report->state == model::StepState::failed) {
        state = tr("failed");
        color = theme_.finding;
    } else if (report->state == model::StepState::stale) {
        state = tr("stale");
        color = theme_.finding;
    } else if (report->state == model::StepState::suspended) {
        state = tr("suspended");
    } else if (report->output->sketch) {
        state = counted(static_cast<qsizetype>(report->output->sketch->regions.size()), tr("region"), tr("regions"));
    } else if (report->output->removed > 0) {
        state = QString::fromUtf8("\u2212 ") + volume_text(report->output->removed);
    } else {
        state = "+ " + volume_text(report->output->added);
    }
    if (report != nullptr && report->state == model::StepState::warning) {
        color = theme_.cutter;
        state += tr(" !");
    }
    auto* right = new QLabel(state, row);
    right->setStyleSheet(QString("color: %1").arg(color.name()));
    layout->addWidget(right);
    if (report == nullptr || later || report->state == model::StepState::suspended) {
        words->setStyleSheet(QString("color: %1").arg(theme_.quiet.name()));
    }
    QString tip = title + ". " + QString::fromStdString(model::kind_of(step.definition).summary);
    for (const Finding& finding : report != nullptr ? report->findings : Findings{}) {
        tip += "\n" + QString::fromStdString(finding.cause + " " + finding.mend);
    }
    row->setToolTip(tip);
    row->setAccessibleName(QString("%1 %2 %3, %4").arg(step.number).arg(title, name, state));
    if (session_.as_of() == step.id) {
        row->setStyleSheet(
            QString("QPushButton { border-bottom: 2px solid %1; border-radius: 0; }").arg(theme_.workpiece.name()));
    }
    connect(row, &QPushButton::clicked, this,
            [this, id = step.id] { QTimer::singleShot(0, this, [this, id] { session_.open_card(id); }); });
    row->menu = [this, id = step.id](const QPoint& at) { open_menu(id, at); };
    return row;
}

void RoutePanel::open_menu(int step, const QPoint& at) {
    const auto& document = session_.document();
    const int index = document.index_of(step);
    const bool suspended = document.step(step)->suspended;
    QMenu menu(this);
    menu.addAction(tr("Open"), this, [=, this] { session_.open_card(step); });
    menu.addAction(session_.as_of() == step ? tr("Show the whole route") : tr("Show as of here"), this,
                   [=, this] { session_.show_as_of(session_.as_of() == step ? 0 : step); });
    menu.addSeparator();
    menu.addAction(suspended ? tr("Take up again") : tr("Suspend"), this, [=, this] {
        session_.edit([&](model::Document next) {
            return model::change_step(std::move(next), step, [&](model::Step& s) { s.suspended = !s.suspended; });
        });
    });
    menu.addAction(tr("Move up"), this,
                   [=, this] {
                       session_.edit(
                           [&](model::Document next) { return model::move_step(std::move(next), step, index - 1); });
                   })
        ->setEnabled(index > 0);
    menu.addAction(tr("Move down"), this,
                   [=, this] {
                       session_.edit(
                           [&](model::Document next) { return model::move_step(std::move(next), step, index + 1); });
                   })
        ->setEnabled(index + 1 < static_cast<int>(document.steps.size()));
    menu.addSeparator();
    menu.addAction(tr("Delete"), this, [=, this] {
        session_.edit([&](model::Document next) { return model::remove_step(std::move(next), step); });
    });
    menu.exec(at);
}

} // namespace kervo::app
