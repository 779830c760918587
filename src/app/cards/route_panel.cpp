#include "app/cards/route_panel.h"

#include "app/look/counted.h"
#include "model/names/altering.h"
#include "model/steps/planned/planned.h"

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

// In bodies that are curves alone.
size_t curves_made(const model::StepOutput& output) {
    size_t count = 0;
    for (const auto& [id, body] : output.bodies) {
        if (body && model::is_curves(*body)) {
            count += model::count_of(*body, model::ElementKind::edge);
        }
    }
    return count;
}

// One closed step: number, name, what it did. A button, so that the keyboard reaches it.
class RouteRow : public QPushButton {
public:
    RouteRow(int step, QWidget* parent) : QPushButton(parent) {
        setMinimumHeight(34);
        setObjectName(QString("step_%1").arg(step));
        auto* layout = new QHBoxLayout(this);
        layout->setContentsMargins(14, 0, 14, 0);
        layout->setSpacing(8);
        number_ = new QLabel(this);
        number_->setObjectName("number");
        number_->setFixedWidth(30);
        name_ = new QLabel(this);
        did_ = new QLabel(this);
        layout->addWidget(number_);
        layout->addWidget(name_, 1);
        layout->addWidget(did_);
    }

    std::function<void(const QPoint&)> menu;

    void show_step(const model::Step& step, const QString& did, const QColor& color, bool faint, bool marked,
                   const Theme& theme) {
        const QString title = QString::fromStdString(model::title_of(step.definition));
        const QString name = step.name.empty() ? title : QString::fromStdString(step.name);
        number_->setText(QString::number(step.number));
        name_->setText(name_->fontMetrics().elidedText(name, Qt::ElideRight, 150));
        name_->setStyleSheet(faint ? QString("color: %1").arg(theme.quiet.name()) : QString());
        did_->setText(did);
        did_->setStyleSheet(QString("color: %1").arg(color.name()));
        setAccessibleName(QString("%1 %2 %3, %4").arg(step.number).arg(title, name, did));
        setStyleSheet(
            marked
                ? QString("QPushButton { border-bottom: 2px solid %1; border-radius: 0; }").arg(theme.workpiece.name())
                : QString());
    }

protected:
    void contextMenuEvent(QContextMenuEvent* event) override { menu(event->globalPos()); }

private:
    QLabel* number_;
    QLabel* name_;
    QLabel* did_;
};

} // namespace

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

    findings_ = new FindingList(this);
    column->addWidget(findings_);
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
    connect(&session_, &Session::completed, this, [this] {
        refresh();
        if (follow_) {
            follow_ = false;
            QTimer::singleShot(0, this, &RoutePanel::scroll_to_card);
        }
    });
    refresh();
}

void RoutePanel::set_theme(const Theme& theme) {
    theme_ = theme;
    listed_.clear(); // every row and the card take the new colours
    open_ = -1;
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
                                (removed > 0 ? tr(" \u00b7 removed %1").arg(volume(removed)) : QString()));

    std::vector<int> wanted;
    for (const auto& step : document.steps) {
        wanted.push_back(step->id);
    }
    const int open = document.step(session_.card()) ? session_.card() : 0;
    if (list_ == nullptr || wanted != listed_ || open != open_) {
        rebuild(wanted, open);
    }
    for (const auto& step : document.steps) {
        if (step->id != open) {
            refresh_row(*step);
        }
    }
    if (card_ != nullptr) {
        card_->refresh();
    }
    findings_->refresh(CardContext{session_, viewport_, theme_, open});
}

void RoutePanel::rebuild(const std::vector<int>& steps, int open) {
    const QWidget* focus = list_ != nullptr ? list_->window()->focusWidget() : nullptr;
    const QString focused = qobject_cast<const QPushButton*>(focus) != nullptr ? focus->objectName() : QString();
    // The open card survives, so that what is typed in it is not disturbed.
    const bool same_card = card_ != nullptr && open == open_;
    if (card_ != nullptr && !same_card) {
        card_->deleteLater();
        card_ = nullptr;
    } else if (card_ != nullptr) {
        card_->setParent(this);
    }
    listed_ = steps;
    open_ = open;
    if (auto* old = scroll_->takeWidget()) {
        old->deleteLater();
    }
    list_ = new QWidget;
    list_->setObjectName("list");
    auto* rows = new QVBoxLayout(list_);
    rows->setContentsMargins(0, 0, 0, 8);
    rows->setSpacing(0);
    if (steps.empty()) {
        auto* hint = new QLabel(tr("Nothing here yet. Bring in stock or a file, or draw a sketch: every step will "
                                   "stand here, in order, and can be changed at any time."),
                                list_);
        hint->setObjectName("quiet");
        hint->setWordWrap(true);
        hint->setContentsMargins(14, 8, 14, 8);
        rows->addWidget(hint);
    }
    for (const int step : steps) {
        if (step == open) {
            if (card_ == nullptr) {
                card_ = new StepCard(CardContext{session_, viewport_, theme_, step}, this);
            }
            auto* frame = new QWidget(list_);
            auto* margin = new QVBoxLayout(frame);
            margin->setContentsMargins(8, 6, 8, 6);
            margin->addWidget(card_);
            card_->show();
            rows->addWidget(frame);
        } else {
            auto* row = new RouteRow(step, list_);
            connect(row, &QPushButton::clicked, this,
                    [this, step] { QTimer::singleShot(0, this, [this, step] { session_.open_card(step); }); });
            row->menu = [this, step](const QPoint& at) { open_menu(step, at); };
            rows->addWidget(row);
        }
        rows->addWidget(make_rule(list_));
    }
    rows->addStretch(1);
    scroll_->setWidget(list_);
    if (auto* again = focused.isEmpty() ? nullptr : list_->findChild<QPushButton*>(focused)) {
        again->setFocus();
    }
    if (card_ != nullptr && !same_card) {
        follow_ = true;
        QTimer::singleShot(0, card_, [this] { scroll_to_card(); });
    }
}

// The card's head stands at the top, with the step before it still in sight.
void RoutePanel::scroll_to_card() {
    if (card_ != nullptr) {
        list_->layout()->activate();
        list_->adjustSize();
        scroll_->verticalScrollBar()->setValue(card_->mapTo(list_, QPoint(0, 0)).y() - 44);
    }
}

QString RoutePanel::volume(double mm3) const {
    const std::string& unit = session_.document().unit;
    return volume_number(mm3, unit) + " " + volume_unit(unit);
}

void RoutePanel::refresh_row(const model::Step& step) {
    const model::StepReport* report = session_.report(step.id);
    QString did;
    QColor color = theme_.quiet;
    if (report == nullptr) {
        did = tr("\u2026");
    } else if (report->state == model::StepState::failed || report->state == model::StepState::stale) {
        did = report->state == model::StepState::failed ? tr("failed") : tr("stale");
        color = theme_.finding;
    } else if (report->state == model::StepState::suspended) {
        did = tr("suspended");
    } else if (step.definition.is<model::Planned>()) {
        did = tr("planned");
    } else if (report->output->sketch) {
        const model::SketchResult& drawn = *report->output->sketch;
        const auto regions = static_cast<qsizetype>(drawn.regions.size());
        const auto curves = static_cast<qsizetype>(drawn.solution.sketch.curves.size());
        did = regions == 0 && curves > 0 ? counted(curves, tr("curve"), tr("curves"))
                                         : counted(regions, tr("region"), tr("regions"));
    } else if (!report->output->measured.empty()) {
        did = quantity_text(report->output->measured.begin()->second, session_.document().unit);
    } else if (report->output->removed > 0) {
        did = QString::fromUtf8("\u2212 ") + volume(report->output->removed);
    } else if (const size_t curves = curves_made(*report->output); curves > 0) {
        did = counted(static_cast<qsizetype>(curves), tr("curve"), tr("curves"));
    } else if (report->output->added > 0) {
        did = "+ " + volume(report->output->added);
    } else if (!report->output->pieces.empty()) {
        did = counted(static_cast<qsizetype>(report->output->pieces.size()), tr("piece"), tr("pieces"));
    } else if (!report->output->blades.empty()) {
        did = tr("blade");
    }
    if (report != nullptr && report->state == model::StepState::warning) {
        color = theme_.cutter;
        did += tr(" !");
    }
    const auto& document = session_.document();
    const int as_of = session_.card() != 0 ? 0 : session_.as_of();
    const bool later = as_of != 0 && document.index_of(step.id) > document.index_of(as_of);
    const bool faint = report == nullptr || later || report->state == model::StepState::suspended;
    auto* row = static_cast<RouteRow*>(list_->findChild<QPushButton*>(QString("step_%1").arg(step.id)));
    row->show_step(step, did, color, faint, as_of == step.id, theme_);
    const model::StepKind& kind = model::kind_of(step.definition);
    QString tip = QString::fromStdString(model::title_of(step.definition) + ". " + kind.summary);
    if (!step.note.empty()) {
        tip += "\n" + QString::fromStdString(step.note);
    }
    for (const Finding& finding : report != nullptr ? report->findings : Findings{}) {
        tip += "\n" + QString::fromStdString(finding.cause + " " + finding.mend);
    }
    row->setToolTip(tip);
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
    menu.addAction(tr("Duplicate"), this, [=, this] {
        session_.edit([&](model::Document next) {
            int copy = 0;
            return model::duplicate_step(std::move(next), step, &copy);
        });
    });
    const auto is_sketch = [&](int id) {
        const auto found = document.step(id);
        return found && model::draws(found->definition);
    };
    if (is_sketch(step) && is_sketch(session_.card()) && step != session_.card()) {
        menu.addAction(tr("Merge into the open sketch"), this, [=, this] {
            if (const auto problem = session_.merge_sketch(step)) {
                emit session_.failed(*problem);
            }
        });
    }
    menu.addSeparator();
    menu.addAction(tr("Delete"), this, [=, this] {
        session_.edit([&](model::Document next) { return model::remove_step(std::move(next), step); });
    });
    menu.exec(at);
}

} // namespace kervo::app
