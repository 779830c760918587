// Undo and redo beside the title: what they would do, and all changes as a list to go to.
#pragma once

#include "app/look/theme.h"
#include "app/session/session.h"

#include <QToolButton>

namespace kervo::app {

class HistoryButtons : public QWidget {
    Q_OBJECT
public:
    explicit HistoryButtons(Session& session, QWidget* parent = nullptr);
    void set_theme(const Theme& theme);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QToolButton* add_button(const QString& name, const QString& help);
    void refresh();
    void open_list();

    Session& session_;
    QToolButton* undo_;
    QToolButton* redo_;
    QToolButton* list_;
};

} // namespace kervo::app
