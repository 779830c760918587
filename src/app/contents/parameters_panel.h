// The parameters: name, formula and value, edited in place, errors in place; under headings; of the chosen one also its
// unit, group and comment.
#pragma once

#include "app/look/theme.h"
#include "app/session/session.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QTableWidget>

#include <array>
#include <functional>

class QVBoxLayout;

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
    [[nodiscard]] std::vector<std::string> groups() const;
    void add_heading(const QString& name);
    void add_row(int parameter, const EvaluatedParameters& evaluated);
    int append(const std::array<QString, 3>& texts, const QString& tip, Qt::ItemFlags flags);
    /// Index of the parameter in a row; -1 in rows that show none.
    [[nodiscard]] int parameter_at(int row) const;
    [[nodiscard]] int chosen() const;
    void choose(int parameter);
    void build_details(QVBoxLayout* column);
    void show_details();
    void change(const std::function<void(Parameter&)>& how);
    void take_cell(int row, int column);

    Session& session_;
    Theme theme_;
    QTableWidget* table_;
    std::vector<int> rows_; ///< the parameter in each row; -1: headings, and what is measured
    QWidget* details_ = nullptr;
    QComboBox* unit_ = nullptr;
    QComboBox* group_ = nullptr;
    QLineEdit* comment_ = nullptr;
    std::string detailed_; ///< name of the parameter that the details are of
    QLabel* problem_;
    bool filling_ = false;
};

} // namespace kervo::app
