#include "app/shell/find_verb.h"

#include <QKeyEvent>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

FindVerb::FindVerb(const std::vector<Verb>& verbs, QWidget* parent) : QFrame(parent), verbs_(verbs) {
    setObjectName("card");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    typed_ = new QLineEdit(this);
    typed_->setPlaceholderText(tr("What do you want to do?"));
    typed_->setAccessibleName(tr("Find a verb"));
    typed_->setToolTip(tr("Type a part of a verb's name; arrows choose, Enter runs it, Escape closes."));
    list_ = new QListWidget(this);
    list_->setAccessibleName(tr("Verbs found"));
    list_->setToolTip(tr("Verbs that fit what you typed."));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(typed_);
    column->addWidget(list_);
    typed_->installEventFilter(this);
    connect(typed_, &QLineEdit::textChanged, this, &FindVerb::fill);
    connect(list_, &QListWidget::itemClicked, this, [this] { run(); });
    hide();
}

void FindVerb::open() {
    setFixedSize(460, 420);
    move(parentWidget()->width() - width() - 14, 46);
    typed_->clear();
    fill({});
    show();
    raise();
    typed_->setFocus();
}

void FindVerb::fill(const QString& typed) {
    found_ = find_verbs(verbs_, typed);
    // What can be done now stands before what cannot.
    std::stable_partition(found_.begin(), found_.end(), [](const Verb* verb) { return verb->possible(); });
    list_->clear();
    for (const Verb* verb : found_) {
        const QString shortcut = verb->shortcut.isEmpty() ? QString() : "   [" + verb->shortcut + "]";
        auto* item = new QListWidgetItem(verb->title + shortcut + "\n" + verb->help, list_);
        item->setToolTip(verb->help);
        if (!verb->possible()) {
            item->setForeground(palette().color(QPalette::Disabled, QPalette::Text));
        }
    }
    list_->setCurrentRow(found_.empty() ? -1 : 0);
}

void FindVerb::run() {
    const int row = list_->currentRow();
    hide();
    if (row >= 0 && found_[static_cast<size_t>(row)]->possible()) {
        found_[static_cast<size_t>(row)]->run();
    }
}

bool FindVerb::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            const int rows = list_->count();
            if (rows > 0) {
                list_->setCurrentRow((list_->currentRow() + (key == Qt::Key_Down ? 1 : rows - 1)) % rows);
            }
            return true;
        }
        if (key == Qt::Key_Return || key == Qt::Key_Enter) {
            run();
            return true;
        }
        if (key == Qt::Key_Escape) {
            hide();
            parentWidget()->setFocus();
            return true;
        }
    } else if (event->type() == QEvent::FocusOut && isVisible()) {
        hide();
    }
    return QFrame::eventFilter(watched, event);
}

} // namespace kervo::app
