// Places that something is told about: of findings, of flaws in a sketch.
#pragma once

#include "app/view/viewport.h"

namespace kervo::app {

class MarkTool : public ViewTool {
    Q_OBJECT
public:
    using ViewTool::ViewTool;
    using Places = std::vector<std::array<double, 3>>;

    void paint(QPainter& painter) override;

    /// Of what a finding is about, while it is read.
    void point_out(const Places& places);
    /// Flaws of the open sketch, beside what findings point out.
    void mark(const Places& places);

private:
    Places pointed_out_, marked_;
};

} // namespace kervo::app
