// A plate with a sketch on it in a real window, and a hand that knows its way about the tools.
#pragma once

#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"
#include "window_fixture.h"

#include <QLabel>
#include <QToolButton>

namespace kervo::app::test {

// A plate of 120 x 90 with an empty sketch on it, seen square; its card is open.
class Board : public Hand {
public:
    Board() {
        model::Stock plate;
        plate.width.text = "120";
        plate.depth.text = "90";
        plate.height.text = "8";
        model::SketchStep drawn;
        drawn.offset.text = "8";
        session().edit([&](model::Document document) {
            document = model::add_step(std::move(document), plate, "Plate", -1, nullptr);
            return model::add_step(std::move(document), drawn, "Sketch 1", -1, nullptr);
        });
        settle();
        open_step(20);
        find_verb("look square");
    }
    const sketch::Sketch& drawing() { return document().steps.back()->definition.as<model::SketchStep>()->drawing; }
    const model::SketchResult& result() { return *output(20).sketch; }
    /// Presses one of the switches below the tools.
    void press_switch(const QString& name) {
        press(named(name));
        settle();
    }
    void clicks(const std::vector<sketch::Point2>& places) {
        for (const auto& [x, y] : places) {
            press_sketch(x, y);
        }
    }
    void rectangle(double x0, double y0, double x1, double y1) {
        tool("Rectangle");
        clicks({{x0, y0}, {x1, y1}});
        key(Qt::Key_Escape);
    }
    double area() {
        double total = 0;
        for (const auto& region : result().regions) {
            total += region.area;
        }
        return total;
    }
    /// Types numbers into the fields beside the pointer; Enter after the last.
    void numbers(const QStringList& texts) {
        for (int i = 0; i < texts.size(); ++i) {
            type(texts[i]);
            key(i + 1 < texts.size() ? Qt::Key_Tab : Qt::Key_Return);
        }
    }
    bool told(const QString& words) { return find<QLabel>("hint")->toolTip().contains(words); }
    int count(sketch::CurveKind kind) {
        return static_cast<int>(std::count_if(drawing().curves.begin(), drawing().curves.end(),
                                              [kind](const auto& c) { return c.kind == kind; }));
    }
};

} // namespace kervo::app::test
