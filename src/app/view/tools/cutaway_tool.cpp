// The plane of the cutaway: written on the drawing, and pulled by its handle.
#include "app/look/counted.h"
#include "app/view/ink.h"
#include "app/view/tools/pulling.h"
#include "app/view/tools/tools.h"

#include <cmath>

namespace kervo::app {

namespace {

class CutawayTool : public ViewTool {
public:
    using ViewTool::ViewTool;

    [[nodiscard]] bool in_use() const override { return hand().drawn_step() == 0; }

    bool press(const Pointer& pointer) override {
        const auto stalk = handle();
        pulled_ =
            pointer.button == Qt::LeftButton && stalk && QLineF(stalk->second, pointer.at).length() < handle_reach;
        if (pulled_) {
            pulled_from_ = pointer.at;
            start_ = *session().cutaway();
        }
        return pulled_;
    }

    void drag(const Pointer& pointer) override {
        const auto stalk = handle();
        if (!stalk) {
            return;
        }
        model::Cutaway moved = start_;
        const double mm = pulled(view(), pointer.at - pulled_from_, stalk->first, stalk->second, Vector3(moved.normal));
        double at = 0;
        for (size_t i = 0; i < 3; ++i) {
            moved.origin[i] += moved.normal[i] * mm;
            at += moved.origin[i] * moved.normal[i];
        }
        session().preview_cutaway(moved);
        view().show_cutaway(moved);
        emit view().hinted(tr("Cutaway at %1").arg(length_text(at, session().document().unit)));
    }

    void release(const Pointer& /*pointer*/, bool dragged) override {
        pulled_ = false;
        if (dragged && session().cutaway()) {
            session().set_cutaway(*session().cutaway());
        }
    }

    void paint(QPainter& painter) override {
        const auto stalk = handle();
        if (!stalk) {
            return;
        }
        const auto cutaway = *session().cutaway();
        Box3 box = shown().bounds();
        box.enlarge(box.diagonal() * 0.035);
        const QPolygonF polygon = outline_in(view(), box, cutaway.origin, Vector3(cutaway.normal));
        if (polygon.size() < 3) {
            return;
        }
        QColor line = theme().ink;
        line.setAlphaF(0.55F);
        painter.setPen(axis_line(line, 1.0));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(polygon);
        write_letters(painter, polygon, stalk->first - stalk->second, QString::fromStdString(cutaway.letter),
                      theme().ink);
        painter.setPen(QPen(theme().ink, 1.4));
        painter.drawLine(stalk->first, stalk->second);
        painter.setBrush(pulled_ ? theme().ink : theme().paper);
        painter.drawEllipse(stalk->second, 6, 6);
        painter.setBrush(Qt::NoBrush);
    }

private:
    // From its foot on the plane to its knob, above the middle of the model.
    [[nodiscard]] std::optional<std::pair<QPointF, QPointF>> handle() const {
        const auto cutaway = session().cutaway();
        const Box3 box = shown().bounds();
        if (!cutaway || !cutaway->on || !view().sees() || box.empty()) {
            return std::nullopt;
        }
        const Point3 top(box.middle().x, box.middle().y, box.high.z);
        const Vector3 normal(cutaway->normal);
        const Point3 foot = top - normal * (top - Point3(cutaway->origin)).dot(normal);
        const double length = 46 / view().pixels_per_mm();
        return std::pair(place_of(foot), place_of(foot + normal * length));
    }

    bool pulled_ = false;
    QPointF pulled_from_;
    model::Cutaway start_;
};

} // namespace

std::unique_ptr<ViewTool> make_cutaway_tool(Viewport& view) {
    return std::make_unique<CutawayTool>(view);
}

} // namespace kervo::app
