// Contents: what the document holds, and the cutaway with its answers.
#pragma once

#include "app/contents/contents_tree.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>

namespace kervo::app {

class ContentsPanel : public QWidget {
    Q_OBJECT
public:
    ContentsPanel(Session& session, Viewport& viewport, const Theme& theme, QWidget* parent = nullptr);
    /// What it adds to the bar and the shortcuts.
    std::vector<Verb> verbs();
    [[nodiscard]] ContentsTree* tree() const { return tree_; }

private:
    /// Puts a cutaway on the selected flat face, else across the middle of everything, square to y.
    void place_cutaway();
    void flip_cutaway();
    void remove_cutaway();
    void refresh();
    void refresh_cutaway();
    void set_axis(int axis);

    Session& session_;
    Viewport& viewport_;
    ContentsTree* tree_;
    QLabel* unit_;
    QWidget* cutaway_;
    QComboBox* axis_;
    QLineEdit* offset_;
};

} // namespace kervo::app
