// A sheet of drawing paper without a window, that solves after every change as the window does.
#pragma once

#include "app/drawing/drawing.h"
#include "sketch/solve.h"

#include <algorithm>

namespace kervo::app::test {

struct Sheet {
    Drawing drawing;
    sketch::Sketch last;
    ParameterValues parameters;
    int commits = 0;

    Sheet() {
        drawing.begin({}, [this](const sketch::Sketch& drawn) {
            last = drawn;
            ++commits;
        });
    }
    void settle() {
        last = sketch::solve(last, parameters).sketch;
        drawing.refresh(last);
    }
    void click(double x, double y) {
        drawing.hover({x, y}, 1);
        drawing.click({x, y}, 1);
        settle();
    }
    void type(const std::vector<std::string>& formulas) {
        drawing.finish_typed(formulas, parameters);
        settle();
    }
    [[nodiscard]] sketch::Point2 at(int curve, size_t point) const {
        const auto* p = last.point(last.curve(curve)->points[point]);
        return {p->x, p->y};
    }
    [[nodiscard]] int count(sketch::ConstraintKind kind) const {
        return static_cast<int>(std::count_if(last.constraints.begin(), last.constraints.end(),
                                              [kind](const auto& c) { return c.kind == kind; }));
    }
};

} // namespace kervo::app::test
