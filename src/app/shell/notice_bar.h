// A strip above the model for what must not be overlooked, and stays until it is dealt with: changes that are not being
// kept safe, another program's changes, work that was brought back. One at a time, the most pressing first.
#pragma once

#include "app/session/session.h"

#include <QLabel>
#include <QPushButton>
#include <QWidget>

namespace kervo::app {

/// A line for each difference, `most` at the most; else why there are none.
QString told_differences(const Result<std::vector<std::string>>& lines, size_t most);

class NoticeBar : public QWidget {
    Q_OBJECT
public:
    explicit NoticeBar(Session& session, QWidget* parent = nullptr);

signals:
    void save_elsewhere_wanted();
    /// The other program's file should be opened instead.
    void theirs_wanted();

private:
    struct Way {
        QString title;
        QString help;
        std::function<void()> take;
    };
    void refresh();
    void show_notice(const char* kind, const QString& text, const std::vector<Way>& ways);
    void show_trouble(const Finding& trouble);
    void show_changed_outside();
    void show_recovered(const RecoveredWork& work);
    void tell_differences();

    Session& session_;
    QLabel* text_;
    std::vector<QPushButton*> buttons_;
    std::vector<Way> ways_;
};

} // namespace kervo::app
