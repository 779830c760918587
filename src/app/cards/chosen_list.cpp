#include "app/cards/chosen_list.h"

#include "app/cards/editor_parts.h"

#include <QEvent>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

ChosenList::ChosenList(model::FieldInfo info, QWidget* parent) : QWidget(parent), info_(std::move(info)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    hide();
}

void ChosenList::show_lines(const std::vector<Line>& lines, bool with_own) {
    if (lines == shown_ && with_own == shown_with_own_) {
        return; // what is half typed stays
    }
    shown_ = lines;
    shown_with_own_ = with_own;
    // What is being typed into keeps the focus, though the lines are new.
    const QWidget* focus = window()->focusWidget();
    const QString focused = focus != nullptr && isAncestorOf(focus) ? focus->objectName() : QString();
    for (QWidget* line : lines_) {
        line->hide();
        line->deleteLater();
    }
    lines_.clear();
    for (size_t i = 0; i < std::min(lines.size(), most_lines); ++i) {
        add_line(lines[i], static_cast<int>(i), with_own);
    }
    if (lines.size() > most_lines) {
        add_line({tr("and %1 more").arg(lines.size() - most_lines), {}}, -1, false);
    }
    setVisible(!lines.empty());
    for (const QWidget* line : lines_) {
        if (auto* again = focused.isEmpty() ? nullptr : line->findChild<QWidget*>(focused)) {
            again->setFocus(Qt::OtherFocusReason);
        }
    }
}

void ChosenList::add_line(const Line& line, int index, bool with_own) {
    auto* widget = new QWidget(this);
    auto* row = row_of(widget);
    row->addSpacing(label_width + 6); // under the answers
    auto* label = new QLabel(widget);
    label->setObjectName("quiet");
    label->setText(label->fontMetrics().elidedText(line.words, Qt::ElideRight, with_own ? 92 : 164));
    label->setToolTip(line.words);
    row->addWidget(label, 1);
    if (with_own) {
        const QString words = QString::fromStdString(info_.each_label);
        auto* own = new QLineEdit(line.own, widget);
        own->setObjectName(QString("own_%1_%2").arg(QString::fromStdString(info_.key)).arg(index));
        own->setPlaceholderText(tr("as all"));
        own->setAccessibleName(tr("%1 of %2").arg(words, line.words));
        own->setToolTip(tr("%1 of its own, a number or formula; empty: as all.").arg(words));
        own->setFixedWidth(68);
        connect(own, &QLineEdit::editingFinished, this, [this, own, index] { emit own_given(index, own->text()); });
        row->addWidget(own);
    }
    if (index >= 0) {
        auto* off = new QPushButton(QString::fromUtf8("\u00d7"), widget);
        off->setObjectName("plain");
        off->setFixedWidth(28);
        off->setAccessibleName(tr("Take off %1").arg(line.words));
        off->setToolTip(tr("Takes it off the list."));
        connect(off, &QPushButton::clicked, this, [this, index] { emit taken_off(index); });
        row->addWidget(off);
    }
    widget->setProperty("index", index);
    widget->installEventFilter(this);
    for (QWidget* part : widget->findChildren<QWidget*>()) {
        part->setProperty("index", index);
        part->installEventFilter(this);
    }
    layout()->addWidget(widget);
    lines_.push_back(widget);
}

bool ChosenList::eventFilter(QObject* watched, QEvent* event) {
    const bool line = watched->parent() == this;
    if ((event->type() == QEvent::Enter && line) || event->type() == QEvent::FocusIn) {
        emit pointed_at(watched->property("index").toInt());
    } else if ((event->type() == QEvent::Leave && line) || event->type() == QEvent::FocusOut) {
        emit pointed_at(-1);
    }
    return QWidget::eventFilter(watched, event);
}

} // namespace kervo::app
