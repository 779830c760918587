// Where numbers stand on the drawing so that none covers another, a handle or an outline.
#pragma once

#include <QPolygonF>
#include <QRectF>

#include <vector>

namespace kervo::app {

class Labels {
public:
    void clear();
    /// Nothing may be written over this: a label that stands, a handle.
    void avoid(const QRectF& box) { boxes_.push_back(box); }
    /// Nor, if it can be helped, over this line of straight pieces.
    void avoid(const QPolygonF& line) { lines_.emplace_back(line.boundingRect(), line); }
    /// The first of these places at which a label of that size covers nothing; where there is none, the one at which it
    /// covers least. The order decides, so that a label stays where it is as long as it can. There must be one.
    [[nodiscard]] size_t free_place(const QSizeF& size, const std::vector<QPointF>& middles) const;

private:
    [[nodiscard]] double covered(const QRectF& box) const;

    std::vector<QRectF> boxes_;
    std::vector<std::pair<QRectF, QPolygonF>> lines_; ///< with their boxes
};

/// Whether a chain of straight pieces meets a rectangle.
bool meets(const QPolygonF& chain, const QRectF& box);

} // namespace kervo::app
