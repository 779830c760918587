// The open step: its four questions. It stands in the route in place of the step's row.
#pragma once

#include "app/cards/field_editors.h"

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QVBoxLayout>

namespace kervo::app {

/// A note of a few lines, as tall as what it says; the tabulator leaves it.
class NoteEdit : public QPlainTextEdit {
    Q_OBJECT
public:
    explicit NoteEdit(QWidget* parent);

signals:
    void written(const QString& text);

protected:
    void focusOutEvent(QFocusEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void fit();
};

class StepCard : public QFrame {
    Q_OBJECT
public:
    StepCard(const CardContext& context, QWidget* parent);
    void refresh();
    [[nodiscard]] int step() const { return context_.step; }

private:
    void rebuild();

    CardContext context_;
    QVBoxLayout* column_;
    QWidget* body_ = nullptr;
    QLabel* title_;
    QLineEdit* name_;
    NoteEdit* note_;
    std::vector<std::string> asked_; ///< keys of the fields shown
    std::vector<FieldEditor*> editors_;
};

/// A thin line between rows.
QFrame* make_rule(QWidget* parent);

} // namespace kervo::app
