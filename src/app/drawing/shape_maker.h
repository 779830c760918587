// The shapes that the drawing tools make from places and typed numbers, with the constraints that keep what was meant.
#pragma once

#include "app/drawing/draw_tools.h"
#include "app/drawing/snapping.h"
#include "base/parameters.h"
#include "sketch/sketch.h"

#include <QObject>

#include <optional>

namespace kervo::app {

/// Reads typed formulas, and takes what is not typed from the places.
class Typed {
public:
    Typed(const std::vector<std::string>& formulas, const ParameterValues& parameters)
        : formulas_(formulas), parameters_(parameters) {}

    [[nodiscard]] std::string text(size_t i) const { return i < formulas_.size() ? formulas_[i] : std::string(); }
    [[nodiscard]] bool said(size_t i) const { return !text(i).empty(); }
    [[nodiscard]] double length(size_t i, double otherwise) const; ///< mm, more than 0
    [[nodiscard]] int count(size_t i, int otherwise) const;

private:
    [[nodiscard]] double value(size_t i, double otherwise, const Dimension& dimension) const;

    const std::vector<std::string>& formulas_;
    const ParameterValues& parameters_;
};

/// What shapes have beside places and numbers, as of the last one.
struct ShapeWish {
    int sides = 6;                                         ///< of the next polygon
    std::string words = QObject::tr("Text").toStdString(); ///< of the next text
    std::string letter_height = "5 mm";
    double letter_size = 5; ///< the same in mm
};

/// The point that was snapped to, or a fresh one that stays on what it was snapped to.
int point_for(sketch::Sketch& sketch, const Snap& snap);

/// The sketch with a shape more. Refers to all that it is made of; lives as long as a call.
class ShapeMaker {
public:
    /// `reach`: the snap distance, mm.
    ShapeMaker(const sketch::Sketch& drawn, const std::vector<Snap>& places, const Typed& typed, const ShapeWish& wish,
               double reach)
        : places_(places), typed_(typed), wish_(wish), reach_(reach), from_(places.front().at), to_(places.back().at),
          apart_(sketch::distance(from_, to_)), s_(drawn) {}

    /// Nothing where the places make no such shape, or the tool makes none.
    std::optional<sketch::Sketch> make(DrawTool tool);

private:
    // Each adds its shape; false where the places make none.
    bool point();
    bool line();
    bool rectangle(bool centred);
    bool slanted_rectangle();
    bool circle();
    bool circle_by_three();
    bool circle_touching();
    bool arc();
    bool arc_by_three();
    bool tangent_arc();
    bool ellipse();
    bool slot();
    bool polygon();
    bool spline(bool through);
    bool text();

    void tie(int fresh, const Snap& snap);

    const std::vector<Snap>& places_;
    Typed typed_;
    const ShapeWish& wish_;
    double reach_;
    sketch::Point2 from_, to_; ///< the first place and the last
    double apart_;             ///< mm
    sketch::Sketch s_;
};

} // namespace kervo::app
