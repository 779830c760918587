// The parameters: name, formula and value, edited in place, errors in place.
#pragma once

#include "app/session.h"
#include "app/theme.h"

#include <QLabel>
#include <QTableWidget>

namespace kervo::app {

class ParametersPanel : public QWidget {
    Q_OBJECT
public:
    ParametersPanel(Session& session, const Theme& theme, QWidget* parent = nullptr);
    void set_theme(const Theme& theme);
    void add_parameter();
    void remove_parameter();
    /// Goes to the row of that name, a measured one too.
    void select(const QString& name);
    [[nodiscard]] QTableWidget* table() const { return table_; }

private:
    void refresh();
    void refresh_measured();
    void add_measured();
    void take_cell(int row, int column);

    Session& session_;
    Theme theme_;
    QTableWidget* table_;
    QLabel* problem_;
    bool filling_ = false;
};

} // namespace kervo::app
