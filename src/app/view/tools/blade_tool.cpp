// Blades on the drawing: the cutting-plane line with arrows and letters, which are clicked for the blade.
#include "app/view/ink.h"
#include "app/view/tools/tools.h"

#include "model/document/cutaways.h"
#include "model/steps/blade/blade.h"

#include <algorithm>
#include <cmath>

namespace kervo::app {

namespace {

// Every blade of the route has its letter, in the order of the steps: from B, less those that cutaways have.
QString letter_of(const model::Document& document, int step) {
    const auto& steps = document.steps;
    const auto at = std::find_if(steps.begin(), steps.end(), [&](const auto& each) { return each->id == step; });
    const auto before = std::count_if(
        steps.begin(), at, [](const auto& each) { return each->definition.template is<model::BladeStep>(); });
    auto taken = document.cutaways;
    taken.resize(taken.size() + 1); // A is a cutaway's, also where there is none yet
    std::string letter;
    for (std::ptrdiff_t i = 0; i <= before; ++i) {
        letter = model::free_letter(taken);
        taken.emplace_back();
        taken.back().letter = letter;
    }
    return QString::fromStdString(letter);
}

bool same_plane(const scene::ShownBlade& a, const scene::ShownBlade& b) {
    return (a.frame.origin - b.frame.origin).length() < 1e-9 && (a.frame.z - b.frame.z).length() < 1e-9;
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
        if (!in_use() || shown().bounds().empty()) {
            return;
        }
        std::vector<const scene::ShownBlade*> painted;
        for (const auto& [id, body] : shown().bodies()) {
            if (body->blade && shown().is_shown(id)) {
                paint_blade(painter, *body->blade, letter_of(session().document(), model::maker_of(id)), id);
                painted.push_back(&*body->blade);
            }
        }
        const PicturePtr picture = shown().card_output() ? session().picture() : nullptr;
        for (const scene::ShownBlade& blade : picture ? picture->blades : std::vector<scene::ShownBlade>{}) {
            if (std::none_of(painted.begin(), painted.end(),
                             [&](const scene::ShownBlade* other) { return same_plane(*other, blade); })) {
                paint_blade(painter, blade, letter_of(session().document(), session().card()), {});
            }
        }
    }

private:
    void paint_blade(QPainter& painter, const scene::ShownBlade& blade, const QString& letter,
                     const model::BodyId& id) {
        QPolygonF outline; // of the last height
        for (const double height : blade.kerf() > 0 ? std::vector{-blade.back, blade.front} : std::vector{0.0}) {
            painter.setPen(axis_line(theme().cutter, 1.3));
            outline = blade.endless() ? paint_endless(painter, blade, height, height == -blade.back)
                                      : paint_window(painter, blade, height);
        }
        if (outline.size() < 3) {
            return;
        }
        const Point3& origin = blade.frame.origin;
        const QPointF front = place_of(origin + blade.frame.z) - place_of(origin);
        for (const QRectF& tag : write_letters(painter, outline, front, letter, theme().cutter)) {
            if (!id.empty()) {
                tags_.emplace_back(tag, id);
            }
        }
    }

    // As large as the model and a little more.
    QPolygonF paint_endless(QPainter& painter, const scene::ShownBlade& blade, double height, bool filled) {
        Box3 box = shown().bounds();
        box.enlarge(box.diagonal() * 0.045);
        QPolygonF outline = outline_in(view(), box, blade.frame.origin + blade.frame.z * height, blade.frame.z);
        QColor fill = theme().cutter;
        fill.setAlphaF(0.06F);
        painter.setBrush(filled ? QBrush(fill) : QBrush(Qt::NoBrush));
        painter.drawPolygon(outline);
        painter.setBrush(Qt::NoBrush);
        return outline;
    }

    QPolygonF paint_window(QPainter& painter, const scene::ShownBlade& blade, double height) {
        QPolygonF outline;
        for (const scene::Polyline3& edge : blade.window) {
            QPolygonF line;
            for (const Point3& p : edge) {
                line << place_of(p + blade.frame.z * height);
            }
            painter.drawPolyline(line);
            outline << line;
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
