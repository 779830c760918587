// The open step: its four questions, its findings. It stands in the route in place of the step's row.
#pragma once

#include "app/field_editors.h"

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>

namespace kervo::app {

class StepCard : public QFrame {
    Q_OBJECT
public:
    StepCard(const CardContext& context, QWidget* parent);
    void refresh();
    [[nodiscard]] int step() const { return context_.step; }

private:
    void rebuild();
    void show_findings();

    CardContext context_;
    QVBoxLayout* column_;
    QWidget* body_ = nullptr;
    QLineEdit* name_;
    QLabel* findings_;
    std::vector<std::string> asked_; ///< keys of the fields shown
    std::vector<FieldEditor*> editors_;
};

/// A thin line between rows.
QFrame* make_rule(QWidget* parent);

} // namespace kervo::app
