// Numbers typed where they stand: on what is half drawn, on a dimension, on an answer of the open step.
#pragma once

#include <QFrame>
#include <QLineEdit>

#include <functional>
#include <string>
#include <vector>

namespace kervo::app {

class NumberInput : public QObject {
    Q_OBJECT
public:
    using Done = std::function<void(const std::vector<std::string>&)>;
    explicit NumberInput(QWidget* over) : QObject(over), over_(over) {}

    /// Opens beside the pointer, a field for each label; `first` stands in the first of them, all of it selected where
    /// `replaces`. `more` are asked more quietly. `done` gets the texts of all fields, in their order.
    void open(const std::vector<QString>& labels, const QString& first, bool replaces, Done done,
              const std::vector<QString>& more = {});
    [[nodiscard]] bool is_open() const { return frame_ != nullptr; }
    /// Gives the keyboard back.
    void close();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QLineEdit* add_field(const QString& name, int wide);

    QWidget* over_;
    QFrame* frame_ = nullptr;
    std::vector<QLineEdit*> fields_;
    Done done_;
};

} // namespace kervo::app
