// Blades on the drawing: the cutting-plane line with arrows and letters, which are clicked for the blade.
#include "app/view/ink.h"
#include "app/view/tools/tools.h"

#include "geom/measure/measure.h"
#include "model/steps/blade/blade.h"

#include <algorithm>
#include <cmath>

namespace kervo::app {

namespace {

// Every blade of the route has its letter, in the order of the steps; A is the cutaway's.
QString letter_of(const model::Document& document, int step) {
    int index = 0;
    for (const auto& each : document.steps) {
        if (each->id == step) {
            break;
        }
        index += each->definition.is<model::BladeStep>() ? 1 : 0;
    }
    constexpr int letters = 25;
    return QString(QChar('B' + index % letters));
}

bool same_plane(const geom::Blade& a, const geom::Blade& b) {
    return a.frame.Location().Distance(b.frame.Location()) < 1e-9 &&
           a.frame.Direction().IsEqual(b.frame.Direction(), 1e-9);
}

class BladeTool : public ViewTool {
public:
    using ViewTool::ViewTool;

    [[nodiscard]] bool in_use() const override { return hand().drawn_step() == 0; }

    bool click(const Pointer& pointer) override {
        for (const auto& [box, id] : tags_) {
            if (box.contains(pointer.at)) {
                view().click_body(model::BodyId(id), pointer);
                return true;
            }
        }
        return false;
    }

    void paint(QPainter& painter) override {
        tags_.clear();
        if (!in_use() || shown().bounds().IsVoid()) {
            return;
        }
        std::vector<const geom::Blade*> painted;
        for (const auto& [id, body] : shown().bodies()) {
            if (body->blade && shown().is_shown(id)) {
                paint_blade(painter, *body->blade, letter_of(session().document(), model::maker_of(id)), id);
                painted.push_back(body->blade.get());
            }
        }
        const auto output = shown().card_output();
        for (const geom::Blade& blade : output ? output->blades : std::vector<geom::Blade>{}) {
            if (std::none_of(painted.begin(), painted.end(),
                             [&](const geom::Blade* other) { return same_plane(*other, blade); })) {
                paint_blade(painter, blade, letter_of(session().document(), session().card()), {});
            }
        }
    }

private:
    void paint_blade(QPainter& painter, const geom::Blade& blade, const QString& letter, const model::BodyId& id) {
        const gp_Vec normal(blade.frame.Direction());
        QPolygonF outline; // of the last height
        for (const double height : blade.kerf() > 0 ? std::vector{-blade.back, blade.front} : std::vector{0.0}) {
            painter.setPen(axis_line(theme().cutter, 1.3));
            outline = blade.endless() ? paint_endless(painter, blade, height, height == -blade.back)
                                      : paint_window(painter, blade, height);
        }
        if (outline.size() < 3) {
            return;
        }
        const gp_Pnt& origin = blade.frame.Location();
        const QPointF front = place_of(origin.Translated(normal)) - place_of(origin);
        for (const QRectF& tag : write_letters(painter, outline, front, letter, theme().cutter)) {
            if (!id.empty()) {
                tags_.emplace_back(tag, id);
            }
        }
    }

    // As large as the model and a little more.
    QPolygonF paint_endless(QPainter& painter, const geom::Blade& blade, double height, bool filled) {
        const gp_Vec normal(blade.frame.Direction());
        Bnd_Box box = shown().bounds();
        box.Enlarge(std::sqrt(box.SquareExtent()) * 0.045);
        QPolygonF outline = outline_in(view(), box, blade.frame.Location().Translated(normal * height), normal);
        QColor fill = theme().cutter;
        fill.setAlphaF(0.06F);
        painter.setBrush(filled ? QBrush(fill) : QBrush(Qt::NoBrush));
        painter.drawPolygon(outline);
        painter.setBrush(Qt::NoBrush);
        return outline;
    }

    QPolygonF paint_window(QPainter& painter, const geom::Blade& blade, double height) {
        const gp_Vec shift = gp_Vec(blade.frame.Direction()) * height;
        QPolygonF outline;
        for (const TopoDS_Shape& face : blade.window) {
            for (const auto& edge : scene::lines_of(face, 0.1)) {
                QPolygonF line;
                for (const gp_Pnt& p : edge) {
                    line << place_of(p.Translated(shift));
                }
                painter.drawPolyline(line);
                outline << line;
            }
        }
        return outline;
    }

    std::vector<std::pair<QRectF, model::BodyId>> tags_; ///< where the letters stand
};

} // namespace

std::unique_ptr<ViewTool> make_blade_tool(Viewport& view) {
    return std::make_unique<BladeTool>(view);
}

} // namespace kervo::app
