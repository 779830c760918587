#include "app/view/labels.h"

#include <QLineF>

#include <limits>

namespace kervo::app {

bool meets(const QPolygonF& chain, const QRectF& box) {
    const QPolygonF border(box);
    for (int i = 0; i < chain.size(); ++i) {
        if (box.contains(chain[i])) {
            return true;
        }
        for (int side = 0; i > 0 && side + 1 < border.size(); ++side) {
            const QLineF piece(chain[i - 1], chain[i]);
            if (piece.intersects(QLineF(border[side], border[side + 1]), nullptr) == QLineF::BoundedIntersection) {
                return true;
            }
        }
    }
    return false;
}

void Labels::clear() {
    boxes_.clear();
    lines_.clear();
}

// In square pixels; a line counts as much as a small label.
double Labels::covered(const QRectF& box) const {
    constexpr double line_counts = 150;
    double sum = 0;
    for (const QRectF& other : boxes_) {
        const QRectF common = box.intersected(other);
        sum += common.width() * common.height();
    }
    for (const auto& [around, line] : lines_) {
        // A level or plumb line has no area of its own.
        const bool near = box.left() <= around.right() && around.left() <= box.right() &&
                          box.top() <= around.bottom() && around.top() <= box.bottom();
        sum += near && meets(line, box) ? line_counts : 0;
    }
    return sum;
}

size_t Labels::free_place(const QSizeF& size, const std::vector<QPointF>& middles) const {
    size_t best = 0;
    double least = std::numeric_limits<double>::infinity();
    for (size_t i = 0; i < middles.size() && least > 0; ++i) {
        const double now = covered(QRectF(middles[i] - QPointF(size.width(), size.height()) / 2, size));
        if (now < least) {
            least = now;
            best = i;
        }
    }
    return best;
}

} // namespace kervo::app
