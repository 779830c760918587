#include "app/shell/history_buttons.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <functional>

namespace kervo::app {

namespace {

constexpr int icon_size = 16;
constexpr size_t most_listed = 15; // on either side of now

QIcon drawn(const Theme& theme, const std::function<void(QPainter&)>& draw) {
    QIcon icon;
    for (const auto& [mode, color] : {std::pair(QIcon::Normal, theme.ink), std::pair(QIcon::Disabled, theme.quiet)}) {
        QPixmap pixmap(icon_size * 2, icon_size * 2);
        pixmap.setDevicePixelRatio(2);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(color, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        draw(painter);
        icon.addPixmap(pixmap, mode);
    }
    return icon;
}

// An arrow that turns back.
void draw_arrow(QPainter& painter) {
    QPainterPath path(QPointF(3, 6));
    path.lineTo(9.5, 6);
    path.arcTo(QRectF(5.5, 6, 8, 7), 90, -180);
    path.lineTo(6, 13);
    path.moveTo(6, 3);
    path.lineTo(3, 6);
    path.lineTo(6, 9);
    painter.drawPath(path);
}

} // namespace

HistoryButtons::HistoryButtons(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    undo_ = add_button(tr("Undo"), tr("Takes back the last change (Ctrl+Z)."));
    redo_ = add_button(tr("Redo"), tr("Makes it again (Ctrl+Shift+Z)."));
    list_ = add_button(tr("History"), tr("All changes since the document was opened."));
    list_->setFixedWidth(20);
    connect(undo_, &QToolButton::clicked, &session_, &Session::undo);
    connect(redo_, &QToolButton::clicked, &session_, &Session::redo);
    connect(list_, &QToolButton::clicked, this, &HistoryButtons::open_list);
    connect(&session_, &Session::changed, this, &HistoryButtons::refresh);
    refresh();
}

QToolButton* HistoryButtons::add_button(const QString& name, const QString& help) {
    auto* button = new QToolButton(this);
    button->setObjectName("icon");
    button->setAccessibleName(name);
    button->setToolTip(help);
    button->setIconSize({icon_size, icon_size});
    button->setFixedSize(28, 26);
    button->installEventFilter(this);
    layout()->addWidget(button);
    return button;
}

// What they would do is worked out for those who look.
bool HistoryButtons::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const QString undone = session_.undoes();
        const QString redone = session_.redoes();
        undo_->setToolTip(undone.isEmpty() ? tr("Undo (Ctrl+Z)") : tr("Undo (Ctrl+Z): %1").arg(undone));
        redo_->setToolTip(redone.isEmpty() ? tr("Redo (Ctrl+Shift+Z)") : tr("Redo (Ctrl+Shift+Z): %1").arg(redone));
        list_->setToolTip(session_.card() != 0 ? tr("Accept or cancel the open step to see the history.")
                                               : tr("All changes since the document was opened."));
    }
    return QWidget::eventFilter(watched, event);
}

void HistoryButtons::set_theme(const Theme& theme) {
    undo_->setIcon(drawn(theme, draw_arrow));
    redo_->setIcon(drawn(theme, [](QPainter& painter) {
        painter.translate(icon_size, 0);
        painter.scale(-1, 1);
        draw_arrow(painter);
    }));
    list_->setIcon(drawn(theme, [](QPainter& painter) {
        painter.drawPolyline(QPolygonF({{5, 7}, {8, 10}, {11, 7}}));
    }));
}

void HistoryButtons::refresh() {
    undo_->setEnabled(session_.can_undo());
    redo_->setEnabled(session_.can_redo());
    list_->setEnabled(session_.card() == 0 && session_.changes() > 0);
}

void HistoryButtons::open_list() {
    QMenu menu(this);
    const size_t made = session_.changes_made();
    const size_t first = made > most_listed ? made - most_listed : 0;
    const size_t last = std::min(session_.changes(), made + most_listed);
    const auto add = [&](size_t changes_made, const QString& text) {
        QAction* action = menu.addAction(text, this, [this, changes_made] { session_.go_to(changes_made); });
        action->setCheckable(true);
        action->setChecked(changes_made == made);
    };
    add(first, first == 0 ? tr("As it was opened") : tr("Before that"));
    for (size_t i = first; i < last; ++i) {
        add(i + 1, session_.change_in_words(i));
    }
    menu.exec(list_->mapToGlobal(QPoint(0, list_->height() + 4)));
}

} // namespace kervo::app
