// Contents: bodies with their volumes, sketches, and the cutaway with its answers.
#pragma once

#include "app/session.h"
#include "app/theme.h"
#include "app/viewport.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QTreeWidget>

namespace kervo::app {

class ContentsPanel : public QWidget {
    Q_OBJECT
public:
    ContentsPanel(Session& session, Viewport& viewport, const Theme& theme, QWidget* parent = nullptr);
    void set_theme(const Theme& theme);
    /// Puts a cutaway on the selected flat face, else across the middle of everything, square to y.
    void place_cutaway();
    void flip_cutaway();
    void remove_cutaway();
    void rename_selected();
    void color_selected();
    void toggle_hidden();
    [[nodiscard]] QTreeWidget* tree() const { return tree_; }

private:
    void refresh();
    void refresh_cutaway();
    void set_axis(int axis);
    void take_item(QTreeWidgetItem* item, int column);
    [[nodiscard]] std::vector<model::BodyId> selected_bodies() const;
    void change_look(const std::function<void(model::Appearance&)>& change);

    Session& session_;
    Viewport& viewport_;
    Theme theme_;
    QTreeWidget* tree_;
    QLabel* unit_;
    QWidget* cutaway_;
    QComboBox* axis_;
    QLineEdit* offset_;
    bool filling_ = false;
};

} // namespace kervo::app
