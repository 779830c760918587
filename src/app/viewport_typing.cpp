// Numbers typed where they stand: on what is half drawn, on dimensions of a sketch, on dimensions of the open step.
#include "app/viewport.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QVBoxLayout>

namespace kervo::app {

void Viewport::open_input(const std::vector<QString>& labels, const QPoint& at, const QString& first,
                          std::function<void(const std::vector<std::string>&)> done, const std::vector<QString>& more) {
    close_input();
    input_ = new QFrame(this);
    input_->setObjectName("card");
    auto* rows = new QVBoxLayout(input_);
    rows->setContentsMargins(8, 4, 8, 4);
    rows->setSpacing(4);
    input_done_ = std::move(done);
    const auto add_row = [&](const std::vector<QString>& names, const char* look, int wide) {
        auto* row = new QHBoxLayout;
        for (const QString& name : names) {
            auto* label = new QLabel(name, input_);
            label->setObjectName(look);
            row->addWidget(label);
            row->addWidget(input_field(name, wide));
        }
        row->addStretch(1);
        rows->addLayout(row);
    };
    if (!labels.empty()) {
        add_row(labels, "", 110);
    }
    if (!more.empty()) { // quieter: what is seldom typed
        add_row(more, "quiet", 58);
    }
    input_->adjustSize();
    const QPoint inside(std::clamp(at.x() + 16, 0, std::max(0, width() - input_->width())),
                        std::clamp(at.y() + 16, 0, std::max(0, height() - input_->height())));
    input_->move(inside);
    input_->show();
    input_fields_.front()->setFocus();
    input_fields_.front()->setText(first);
}

QLineEdit* Viewport::input_field(const QString& name, int wide) {
    auto* field = new QLineEdit(input_);
    field->setFixedWidth(wide);
    field->setAccessibleName(name);
    field->setToolTip(tr("A number, a unit or a formula. Enter takes it, Tab goes to the next, Escape leaves it."));
    field->installEventFilter(this);
    connect(field, &QLineEdit::returnPressed, this, [this] {
        std::vector<std::string> texts;
        for (const QLineEdit* each : input_fields_) {
            texts.push_back(each->text().trimmed().toStdString());
        }
        const auto finish = input_done_;
        close_input();
        finish(texts);
    });
    input_fields_.push_back(field);
    return field;
}

ParameterValues Viewport::parameters() const {
    return session_.picture() ? session_.picture()->evaluation->parameters.values : ParameterValues{};
}

void Viewport::ask_for_numbers(const QString& first) {
    open_input(
        drawing_.asks_for(), mapFromGlobal(QCursor::pos()), first,
        [this](const std::vector<std::string>& formulas) {
            drawing_.finish_typed(formulas, parameters());
            emit drawing_changed();
            tell_hint();
            repaint_all();
        },
        drawing_.asks_for_place());
}

void Viewport::close_input() {
    if (input_ != nullptr) {
        input_->deleteLater();
        input_ = nullptr;
        input_fields_.clear();
        setFocus();
    }
}

bool Viewport::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        close_input();
        return true;
    }
    return QOpenGLWidget::eventFilter(watched, event);
}

void Viewport::edit_answer(const std::string& field) {
    const auto formula = answer(field);
    if (!formula) {
        return;
    }
    open_input({QString::fromStdString(field).replace('_', ' ')}, mapFromGlobal(QCursor::pos()),
               QString::fromStdString(formula->text),
               [this, step = session_.card(), field](const std::vector<std::string>& formulas) {
                   session_.set_field(step, field, Expression{formulas.front()});
               });
    input_fields_.front()->selectAll();
}

void Viewport::edit_dimension(int constraint) {
    const auto step = session_.document().step(session_.card());
    if (!draws_ || !step) {
        return;
    }
    auto drawing = *model::drawing_of(step->definition);
    for (auto& item : drawing.constraints) {
        if (item.id == constraint) {
            open_input({tr("dimension")}, mapFromGlobal(QCursor::pos()), QString::fromStdString(item.value.text),
                       [this, id = step->id, constraint, drawing](const std::vector<std::string>& formulas) mutable {
                           for (auto& each : drawing.constraints) {
                               if (each.id == constraint) {
                                   each.value.text = formulas.front();
                               }
                           }
                           session_.set_field(id, "drawing", drawing);
                       });
            input_fields_.front()->selectAll();
            return;
        }
    }
}

} // namespace kervo::app
