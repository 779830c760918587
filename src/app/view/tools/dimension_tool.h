// Answers of the open step that stand on the model: written there, pulled by their handles, typed by a double click.
#pragma once

#include "app/view/viewport.h"

namespace kervo::app {

class DimensionTool : public ViewTool {
    Q_OBJECT
public:
    using ViewTool::ViewTool;

    [[nodiscard]] bool in_use() const override { return !hand().target() && hand().drawn_step() == 0; }
    bool press(const Pointer& pointer) override;
    void drag(const Pointer& pointer) override;
    void release(const Pointer& pointer, bool dragged) override;
    bool double_click(const Pointer& pointer) override;
    void paint(QPainter& painter) override;

    [[nodiscard]] std::vector<model::PlacedDimension> dimensions() const;
    [[nodiscard]] QPointF handle_of(const model::PlacedDimension& dimension) const { return place_of(dimension.end); }

private:
    void pull_length(const Pointer& pointer);
    void pull_dial(const Pointer& pointer);
    [[nodiscard]] bool is_free(const std::string& field);
    void type_answer(const std::string& field);
    void paint_length(QPainter& painter, const model::PlacedDimension& dimension);
    void paint_dial(QPainter& painter, const model::PlacedDimension& dimension);
    void paint_line(QPainter& painter, const Point3& from, const Point3& to, double width);
    void paint_handle(QPainter& painter, const QPointF& at, bool hidden);
    void write_answer(QPainter& painter, const std::vector<QPointF>& places, const QPointF& from, const QString& text,
                      const model::PlacedDimension& dimension, bool hidden);

    std::optional<model::PlacedDimension> pulled_; ///< as it was when it was taken
    QPointF pulled_from_;
    std::vector<std::pair<QRectF, std::string>> texts_; ///< where answers are written, by field
};

} // namespace kervo::app
