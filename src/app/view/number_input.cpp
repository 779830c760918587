#include "app/view/number_input.h"

#include <QCursor>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

void NumberInput::open(const std::vector<QString>& labels, const QString& first, bool replaces, Done done,
                       const std::vector<QString>& more) {
    close();
    frame_ = new QFrame(over_);
    frame_->setObjectName("card");
    auto* rows = new QVBoxLayout(frame_);
    rows->setContentsMargins(8, 4, 8, 4);
    rows->setSpacing(4);
    done_ = std::move(done);
    const auto add_row = [&](const std::vector<QString>& names, const char* look, int wide) {
        if (names.empty()) {
            return;
        }
        auto* row = new QHBoxLayout;
        for (const QString& name : names) {
            auto* label = new QLabel(name, frame_);
            label->setObjectName(look);
            row->addWidget(label);
            row->addWidget(add_field(name, wide));
        }
        row->addStretch(1);
        rows->addLayout(row);
    };
    add_row(labels, "", 110);
    add_row(more, "quiet", 58);
    frame_->adjustSize();
    const QPoint at = over_->mapFromGlobal(QCursor::pos()) + QPoint(16, 16);
    frame_->move(std::clamp(at.x(), 0, std::max(0, over_->width() - frame_->width())),
                 std::clamp(at.y(), 0, std::max(0, over_->height() - frame_->height())));
    frame_->show();
    fields_.front()->setFocus();
    fields_.front()->setText(first);
    if (replaces) {
        fields_.front()->selectAll();
    }
}

QLineEdit* NumberInput::add_field(const QString& name, int wide) {
    auto* field = new QLineEdit(frame_);
    field->setFixedWidth(wide);
    field->setAccessibleName(name);
    field->setToolTip(tr("A number, a unit or a formula. Enter takes it, Tab goes to the next, Escape leaves it."));
    field->installEventFilter(this);
    connect(field, &QLineEdit::returnPressed, this, [this] {
        std::vector<std::string> texts;
        for (const QLineEdit* each : fields_) {
            texts.push_back(each->text().trimmed().toStdString());
        }
        const Done finish = done_;
        close();
        finish(texts);
    });
    fields_.push_back(field);
    return field;
}

void NumberInput::close() {
    if (frame_ != nullptr) {
        frame_->deleteLater();
        frame_ = nullptr;
        fields_.clear();
        over_->setFocus();
    }
}

bool NumberInput::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        close();
        return true;
    }
    return QObject::eventFilter(watched, event);
}

} // namespace kervo::app
