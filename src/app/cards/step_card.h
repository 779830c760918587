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

/// Answers that nobody has changed, in words on one line; a click or a key opens them.
class FoldedAnswers : public QLabel {
    Q_OBJECT
public:
    FoldedAnswers(const QString& words, QWidget* parent);
    void say(const QString& words);

signals:
    void opened();

protected:
    bool event(QEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
};

class StepCard : public QFrame {
    Q_OBJECT
public:
    StepCard(const CardContext& context, QWidget* parent);
    void refresh();
    [[nodiscard]] int step() const { return context_.step; }

private:
    void rebuild();
    void add_question(QVBoxLayout* list, const std::vector<model::Field>& fields);
    [[nodiscard]] bool is_folded(const model::StepDefinition& definition, const model::Field& field) const;
    /// What is shown, and what of it is folded.
    [[nodiscard]] std::vector<std::string> shown_now(const std::vector<model::Field>& fields) const;
    void open(model::Question question);

    CardContext context_;
    QVBoxLayout* column_;
    QWidget* body_ = nullptr;
    QLabel* title_;
    QLineEdit* name_;
    NoteEdit* note_;
    std::vector<std::string> asked_;                            ///< as `shown_now`
    std::vector<std::pair<std::string, FieldEditor*>> editors_; ///< by the keys of their fields
    std::set<model::Question> opened_;                          ///< whose answers are all shown
};

/// A thin line between rows.
QFrame* make_rule(QWidget* parent);

} // namespace kervo::app
