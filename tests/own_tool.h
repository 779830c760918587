// A view tool that is none of Kervo's own: a tape that is held at two corners. What it takes to add one is all here.
#pragma once

#include "app/view/ink.h"
#include "app/view/viewport.h"

#include <QKeyEvent>

namespace kervo::app {

class Tape : public ViewTool {
public:
    using ViewTool::ViewTool;

    [[nodiscard]] bool in_use() const override { return taken_up_; }
    [[nodiscard]] QString hint() const override {
        return ends_.size() == 1 ? tr("Tape: the other corner") : tr("Tape: a corner; Escape puts it away");
    }
    [[nodiscard]] std::optional<QCursor> cursor() const override { return QCursor(Qt::PointingHandCursor); }
    [[nodiscard]] std::optional<LooksFor> looks_for() const override {
        return LooksFor{{model::ElementKind::vertex}, theme().cutter};
    }
    bool click(const Pointer& /*pointer*/) override {
        if (ends_.size() == 2) {
            ends_.clear();
        }
        if (view().under_pointer()) {
            ends_.push_back(view().under_pointer()->point);
        }
        view().tell_hint();
        return true;
    }
    bool press_key(const QKeyEvent& key) override {
        if (key.key() != Qt::Key_Backspace || ends_.empty()) {
            return false;
        }
        ends_.pop_back();
        view().repaint_ink();
        return true;
    }
    bool escape() override {
        ends_.clear();
        taken_up_ = false;
        view().show_cursor();
        view().tell_hint();
        return true;
    }
    void paint(QPainter& painter) override {
        if (ends_.size() == 2) {
            painter.setPen(QPen(color, 3));
            painter.drawLine(place_of(ends_[0]), place_of(ends_[1]));
        }
    }
    std::vector<Verb> verbs() override {
        return {{"tape", BarGroup::check, tr("Tape"), tr("Measures from corner to corner."), "Ctrl+Alt+T", [this] {
                     taken_up_ = true;
                     view().show_cursor();
                     view().tell_hint();
                 }}};
    }

    [[nodiscard]] double length() const { return ends_.size() == 2 ? (ends_[1] - ends_[0]).length() : 0; }
    [[nodiscard]] size_t ends() const { return ends_.size(); }

    static constexpr Qt::GlobalColor color = Qt::magenta;

private:
    bool taken_up_ = false;
    std::vector<Point3> ends_;
};

} // namespace kervo::app
