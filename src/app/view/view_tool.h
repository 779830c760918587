// One way to point, click, pull or look in the model. The viewport keeps a stack of tools: it offers what the mouse and
// the keyboard do from the top down, until one takes it, and paints from the bottom up. A tool is one file beside its
// line in `tools/tools.cpp`; `add_view_tool` puts one from elsewhere on top.
#pragma once

#include "app/verbs/verbs.h"
#include "app/view/shown_model.h"

#include <QCursor>
#include <QPainter>

class QKeyEvent;

namespace kervo::app {

class Viewport;

/// Where the pointer is, in pixels of the viewport from its upper left corner, and what is held down with it.
struct Pointer {
    QPointF at;
    Qt::KeyboardModifiers modifiers = Qt::NoModifier;
    Qt::MouseButton button = Qt::NoButton;

    [[nodiscard]] bool holds(Qt::KeyboardModifier modifier) const { return modifiers.testFlag(modifier); }
};

/// What a tool looks for under the pointer; the topmost that is in use decides.
struct LooksFor {
    std::set<model::ElementKind> kinds; ///< faces, edges, vertices; none: nothing
    QColor color;                       ///< in which what is found is lit up; invalid: not at all
};

/// Used on the window's thread alone. Nothing of it throws.
class ViewTool : public QObject {
    Q_OBJECT
public:
    explicit ViewTool(Viewport& view);
    ~ViewTool() override = default;

    /// Whether it takes part now; only then it is offered anything but pictures, changes and painting.
    [[nodiscard]] virtual bool in_use() const { return true; }
    /// One line: what the next gesture does, and its alternative. Empty: a tool below says it.
    [[nodiscard]] virtual QString hint() const { return {}; }
    [[nodiscard]] virtual std::optional<QCursor> cursor() const { return std::nullopt; }
    [[nodiscard]] virtual std::optional<LooksFor> looks_for() const { return std::nullopt; }

    /// The pointer moves, no button is held. True: those below are told that it is not over them.
    virtual bool hover(const Pointer& /*pointer*/) { return false; }
    virtual void leave() {}
    /// A button goes down. True: if the pointer moves now, that is a drag of this tool.
    virtual bool press(const Pointer& /*pointer*/) { return false; }
    virtual void drag(const Pointer& /*pointer*/) {}
    /// The end of what `press` took; `dragged`: it was more than a click.
    virtual void release(const Pointer& /*pointer*/, bool /*dragged*/) {}
    /// Pressed and let go in one place, with the left button.
    virtual bool click(const Pointer& /*pointer*/) { return false; }
    virtual bool double_click(const Pointer& /*pointer*/) { return false; }
    /// A body is clicked where it is written about, not in the picture: by a blade's letter.
    virtual bool click_body(const model::BodyId& /*body*/, const Pointer& /*pointer*/) { return false; }

    /// Whether a key that would be a shortcut is meant for this tool.
    [[nodiscard]] virtual bool wants_key(const QKeyEvent& /*key*/) const { return false; }
    virtual bool press_key(const QKeyEvent& /*key*/) { return false; }
    /// Steps back by one; false when there is nothing to step back from.
    virtual bool escape() { return false; }

    /// Writes on the drawing, also while it is not in use.
    virtual void paint(QPainter& /*painter*/) {}

    /// A new picture is there; the document, or which card is open, has changed.
    virtual void take_picture() {}
    virtual void take_changes() {}

    /// What it adds to the bar, the menus and the shortcuts.
    virtual std::vector<Verb> verbs() { return {}; }

protected:
    [[nodiscard]] Viewport& view() const { return view_; }
    [[nodiscard]] Session& session() const;
    [[nodiscard]] InHand& hand() const;
    [[nodiscard]] ShownModel& shown() const;
    [[nodiscard]] const Theme& theme() const;
    /// Where a point of the model is in the viewport, in pixels.
    [[nodiscard]] QPointF place_of(const Point3& point) const;

private:
    Viewport& view_;
};

using MakeViewTool = std::function<std::unique_ptr<ViewTool>(Viewport&)>;
/// The tools that every viewport gets, from the bottom of the stack to its top.
const std::vector<MakeViewTool>& view_tools();
/// On top of all that are there; viewports that are made from now on have it.
void add_view_tool(MakeViewTool make);

} // namespace kervo::app
