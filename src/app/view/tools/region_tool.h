// Regions of the sketch that the open card cuts or sweeps with: clicked and framed with the cutter marker.
#pragma once

#include "app/view/tools/framing_tool.h"

namespace kervo::app {

class RegionTool : public FramingTool {
    Q_OBJECT
public:
    using FramingTool::FramingTool;

    [[nodiscard]] bool in_use() const override;
    [[nodiscard]] QString hint() const override;
    bool hover(const Pointer& pointer) override;
    void leave() override;
    bool click(const Pointer& pointer) override;
    void paint(QPainter& painter) override;
    void take_picture() override { under_ = -1; }

signals:
    void region_clicked(int region);
    void regions_framed(const std::vector<int>& regions);

protected:
    void take_framed(const Frame& frame) override;

private:
    void point_at(int region);
    void paint_regions(QPainter& painter);
    /// Chosen regions of a sketch that is not the one whose regions are clicked.
    void paint_elsewhere(QPainter& painter, const model::SketchResult& sketch, const std::vector<int>& regions);

    int under_ = -1; ///< the pointer
};

} // namespace kervo::app
