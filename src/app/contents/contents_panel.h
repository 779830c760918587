// Contents: what the document holds.
#pragma once

#include "app/contents/contents_tree.h"

#include <QLabel>

namespace kervo::app {

class ContentsPanel : public QWidget {
    Q_OBJECT
public:
    ContentsPanel(Session& session, Viewport& viewport, const Theme& theme, QWidget* parent = nullptr);
    /// What it adds to the bar and the shortcuts.
    std::vector<Verb> verbs();
    [[nodiscard]] ContentsTree* tree() const { return tree_; }

private:
    void refresh();

    Session& session_;
    Viewport& viewport_;
    ContentsTree* tree_;
    QLabel* unit_;
};

} // namespace kervo::app
