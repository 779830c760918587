// What has been chosen, one line for each: what it is called, where the field asks for one an answer of its own, and a
// button that takes it off again.
#pragma once

#include "model/document/fields.h"

#include <QWidget>

#include <functional>

namespace kervo::app {

class ChosenList : public QWidget {
    Q_OBJECT
public:
    struct Line {
        QString words;
        QString own; ///< formula; empty: as all
        friend bool operator==(const Line&, const Line&) = default;
    };
    ChosenList(model::FieldInfo info, QWidget* parent);

    /// Shows the first eight, and how many there are more; `with_own`: with what each has of its own.
    void show_lines(const std::vector<Line>& lines, bool with_own);

signals:
    void taken_off(int index);
    void own_given(int index, const QString& formula);
    /// A line is under the pointer or has the focus; -1: none.
    void pointed_at(int index);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    static constexpr size_t most_lines = 8; // the model shows them all

    void add_line(const Line& line, int index, bool with_own);

    model::FieldInfo info_;
    std::vector<Line> shown_;
    bool shown_with_own_ = false;
    std::vector<QWidget*> lines_;
};

} // namespace kervo::app
