// The control points of a free-form surface whose card is open: chosen by clicks and frames, pulled by hand. What is
// done to them stands in the rows of the step.
#pragma once

#include "app/view/frame.h"
#include "app/view/tools/pulled_row.h"

#include <set>

namespace kervo::app {

class NetTool : public ViewTool {
    Q_OBJECT
public:
    using ViewTool::ViewTool;

    [[nodiscard]] bool in_use() const override;
    [[nodiscard]] QString hint() const override;
    bool hover(const Pointer& pointer) override;
    bool press(const Pointer& pointer) override;
    void drag(const Pointer& pointer) override;
    void release(const Pointer& pointer, bool dragged) override;
    bool click(const Pointer& pointer) override;
    bool escape() override;
    void take_changes() override;
    void paint(QPainter& painter) override;

    /// Points that are chosen, by name, or named by the row that is answered.
    [[nodiscard]] std::set<std::string> chosen() const;

private:
    struct Spot {
        int row = 0, column = 0;
    };
    [[nodiscard]] std::shared_ptr<const model::StepOutput> output() const; ///< null where it has no net
    [[nodiscard]] std::optional<Spot> spot_at(const QPointF& at) const;
    [[nodiscard]] Vector3 normal_at(const Spot& spot) const;
    [[nodiscard]] std::optional<model::Row> answered_row() const;
    void choose(const std::set<std::string>& names);
    void take_framed();
    void paint_lines(QPainter& painter, const model::ControlNet& net) const;
    std::optional<model::Row> row_to_pull();

    std::set<std::string> chosen_;
    int step_ = 0; ///< whose points these are
    std::optional<PulledRow> pulled_;
    std::optional<Spot> pressed_;
    QPointF pressed_at_;
    Vector3 off_; ///< the surface, where it is pulled
    Frame frame_;
    bool adds_ = false; ///< what the frame takes, to what is chosen
};

} // namespace kervo::app
