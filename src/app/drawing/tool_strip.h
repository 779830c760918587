// The tools of the open sketch as a strip of drawn icons beside the drawing. Tools that do nearly the same stand in one
// group, the one that was used last on top; held, or by the right button or the arrow keys, it shows the others.
#pragma once

#include "app/drawing/draw_tools.h"
#include "app/look/theme.h"

#include <QWidget>

class QToolButton;

namespace kervo::app {

class SketchTool;

class ToolStrip : public QWidget {
    Q_OBJECT
public:
    /// Is there while there is a sketch to draw; gives the keyboard to `drawing_on` after each choice.
    ToolStrip(SketchTool& sketching, QWidget* drawing_on);
    void set_theme(const Theme& theme);
    /// The button whose group holds the tool.
    [[nodiscard]] QToolButton* button_for(DrawTool tool) const;
    [[nodiscard]] DrawTool on_top(const QToolButton* button) const;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    struct Group {
        std::vector<DrawTool> tools;
        DrawTool top;
        QToolButton* button;
    };
    QToolButton* add_button(const QString& name);
    void add_switch(const QString& name, const QString& icon, const QString& help, const std::function<void()>& run);
    void take_up(Group& group, DrawTool tool);
    void open(Group& group);
    void refresh();

    SketchTool& sketching_;
    QWidget* drawing_on_;
    Theme theme_;
    std::vector<Group> groups_;
    std::vector<std::pair<QToolButton*, QString>> switches_; ///< with the names of their icons
};

} // namespace kervo::app
