#include "app/drawing/tool_strip.h"

#include "app/drawing/tool_icons.h"
#include "app/view/tools/sketch_tool.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

namespace {

QString tip_of(const DrawToolInfo& info) {
    return info.verb + (info.shortcut.isEmpty() ? QString() : "  [" + info.shortcut + "]") + "\n" + info.help;
}

} // namespace

ToolStrip::ToolStrip(SketchTool& sketching, QWidget* drawing_on) : sketching_(sketching), drawing_on_(drawing_on) {
    setObjectName("strip");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(4, 8, 4, 4);
    column->setSpacing(1);
    for (const auto& tools : draw_tool_groups()) {
        auto* button = add_button(info_of(tools.front()).verb);
        button->setCheckable(true);
        groups_.push_back({tools, tools.front(), button});
        const size_t index = groups_.size() - 1;
        connect(button, &QToolButton::clicked, this, [this, index] { take_up(groups_[index], groups_[index].top); });
        if (tools.size() > 1) {
            button->installEventFilter(this);
        }
    }
    add_switch(tr("Guide or outline"), "guides", tr("Makes guides of the selected curves, or outlines again.  [G]"),
               [this] { sketching_.toggle_guides(); });
    add_switch(tr("Freeze what was taken"), "freeze",
               tr("Selected curves of the model stay where they are, or follow it again."),
               [this] { sketching_.freeze(); });
    add_switch(tr("Grid"), "grid", tr("Shows a grid, and lets the pointer snap to it."),
               [this] { sketching_.toggle_grid(); });
    column->addStretch(1);
    connect(&sketching_, &SketchTool::drawing_changed, this, &ToolStrip::refresh);
    hide();
}

QToolButton* ToolStrip::add_button(const QString& name) {
    auto* button = new QToolButton(this);
    button->setObjectName("icon");
    button->setAccessibleName(name);
    button->setIconSize({tool_icon_size, tool_icon_size});
    button->setFixedSize(32, 30);
    layout()->addWidget(button);
    return button;
}

void ToolStrip::add_switch(const QString& name, const QString& icon, const QString& help,
                           const std::function<void()>& run) {
    auto* button = add_button(name);
    button->setToolTip(name + "\n" + help);
    connect(button, &QToolButton::clicked, this, [this, run] {
        run();
        drawing_on_->setFocus();
    });
    switches_.emplace_back(button, icon);
}

void ToolStrip::set_theme(const Theme& theme) {
    theme_ = theme;
    for (const auto& [button, icon] : switches_) {
        button->setIcon(named_icon(icon, theme_));
    }
    refresh();
}

void ToolStrip::take_up(Group& group, DrawTool tool) {
    group.top = tool;
    sketching_.set_draw_tool(tool);
    refresh();
    drawing_on_->setFocus();
}

void ToolStrip::open(Group& group) {
    QMenu menu(this);
    for (const DrawTool tool : group.tools) {
        QAction* action = menu.addAction(tool_icon(tool, theme_, false), info_of(tool).verb);
        action->setToolTip(tip_of(info_of(tool)));
        connect(action, &QAction::triggered, this, [this, &group, tool] { take_up(group, tool); });
    }
    menu.setToolTipsVisible(true);
    menu.exec(group.button->mapToGlobal(QPoint(group.button->width() + 4, 0)));
    group.button->setDown(false);
}

void ToolStrip::refresh() {
    setVisible(sketching_.draws());
    const DrawTool now = sketching_.drawing().tool();
    for (Group& group : groups_) {
        const bool holds = std::find(group.tools.begin(), group.tools.end(), now) != group.tools.end();
        group.top = holds ? now : group.top;
        const DrawToolInfo& info = info_of(group.top);
        const bool more = group.tools.size() > 1;
        group.button->setIcon(tool_icon(group.top, theme_, more));
        group.button->setChecked(holds);
        group.button->setAccessibleName(info.verb);
        group.button->setToolTip(tip_of(info) + (more ? tr("\nHold it, or press the right button, for others.") : ""));
    }
    for (const auto& [button, icon] : switches_) {
        if (icon == "grid") {
            button->setCheckable(true);
            button->setChecked(sketching_.grid());
        }
    }
}

QToolButton* ToolStrip::button_for(DrawTool tool) const {
    const auto group = std::find_if(groups_.begin(), groups_.end(), [&](const Group& each) {
        return std::find(each.tools.begin(), each.tools.end(), tool) != each.tools.end();
    });
    return group == groups_.end() ? nullptr : group->button;
}

DrawTool ToolStrip::on_top(const QToolButton* button) const {
    const auto group =
        std::find_if(groups_.begin(), groups_.end(), [&](const Group& each) { return each.button == button; });
    return group == groups_.end() ? DrawTool::select : group->top;
}

bool ToolStrip::eventFilter(QObject* watched, QEvent* event) {
    const auto group =
        std::find_if(groups_.begin(), groups_.end(), [&](const Group& each) { return each.button == watched; });
    if (group == groups_.end()) {
        return false;
    }
    constexpr int hold = 350; // ms
    if (event->type() == QEvent::ContextMenu) {
        open(*group);
        return true;
    }
    if (event->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Right) {
        open(*group);
        return true;
    }
    if (event->type() == QEvent::MouseButtonPress && static_cast<QMouseEvent*>(event)->button() == Qt::LeftButton) {
        QTimer::singleShot(hold, group->button, [this, button = group->button] {
            const auto held =
                std::find_if(groups_.begin(), groups_.end(), [&](const Group& each) { return each.button == button; });
            if (button->isDown()) {
                open(*held);
            }
        });
    }
    return false;
}

void ToolStrip::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.fillRect(rect(), theme_.panel);
    painter.fillRect(QRect(width() - 1, 0, 1, height()), theme_.rule);
}

} // namespace kervo::app
