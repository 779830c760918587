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
        const double mm = pulled(view(), pointer.at - pulled_from_, stalk->first, stalk->second,
                                 gp_Vec(moved.normal[0], moved.normal[1], moved.normal[2]));
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
        Bnd_Box box = shown().bounds();
        box.Enlarge(std::sqrt(box.SquareExtent()) * 0.035);
        const gp_Vec normal(cutaway.normal[0], cutaway.normal[1], cutaway.normal[2]);
        const gp_Pnt origin(cutaway.origin[0], cutaway.origin[1], cutaway.origin[2]);
        const QPolygonF polygon = outline_in(view(), box, origin, normal);
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
        const Bnd_Box box = shown().bounds();
        if (!cutaway || !cutaway->on || !view().sees() || box.IsVoid()) {
            return std::nullopt;
        }
        const gp_Pnt low = box.CornerMin();
        const gp_Pnt high = box.CornerMax();
        const gp_Pnt middle((low.X() + high.X()) / 2, (low.Y() + high.Y()) / 2, high.Z());
        const gp_Vec normal(cutaway->normal[0], cutaway->normal[1], cutaway->normal[2]);
        const gp_Pnt origin(cutaway->origin[0], cutaway->origin[1], cutaway->origin[2]);
        const gp_Pnt foot = middle.Translated(normal * -gp_Vec(origin, middle).Dot(normal));
        const double length = 46 / view().pixels_per_mm();
        return std::pair(place_of(foot), place_of(foot.Translated(normal * length)));
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
