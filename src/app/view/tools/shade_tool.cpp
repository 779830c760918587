// What faces are drawn with: stripes or colours by curvature instead of light and shade, with the scale of these.
#include "app/look/counted.h"
#include "app/view/ink.h"
#include "app/view/tools/tools.h"

namespace kervo::app {

namespace {

class ShadeTool : public ViewTool {
public:
    using ViewTool::ViewTool;

    [[nodiscard]] bool in_use() const override { return false; } // it only writes

    void paint(QPainter& painter) override {
        if (hand().shading() != scene::Shading::curvature || !view().sees()) {
            return;
        }
        const double scale = shown().curvature_scale();
        const std::string& unit = session().document().unit;
        constexpr double wide = 14; // px
        constexpr double high = 180;
        const QRectF bar(20, view().height() - 70 - high, wide, high);
        QLinearGradient colors(bar.bottomLeft(), bar.topLeft());
        constexpr int stops = 16;
        for (int i = 0; i <= stops; ++i) {
            const double share = static_cast<double>(i) / stops;
            const auto [red, green, blue] = scene::scale_color(2 * share - 1);
            colors.setColorAt(share, QColor::fromRgbF(red, green, blue));
        }
        painter.setPen(QPen(theme().ink, 1));
        painter.setBrush(scale > 0 ? QBrush(colors) : QBrush(colors.stops()[stops / 2].second));
        painter.drawRect(bar);
        painter.setBrush(Qt::NoBrush);
        painter.setFont(drawing_font(15));
        const auto say = [&](double share, const QString& words) {
            const QPointF at(bar.right(), bar.center().y() - share * high / 2);
            painter.drawLine(at, at + QPointF(5, 0));
            painter.drawText(at + QPointF(10, 5), words);
        };
        say(0, tr("flat, or bent both ways alike"));
        if (scale > 0) {
            say(1, tr("bulging, R %1").arg(length_text(1 / scale, unit)));
            painter.drawText(bar.topLeft() - QPointF(0, 16), tr("Mean curvature, as a ball of"));
            say(0.5, tr("R %1").arg(length_text(2 / scale, unit)));
            say(-0.5, tr("R %1").arg(length_text(2 / scale, unit)));
            say(-1, tr("hollow, R %1").arg(length_text(1 / scale, unit)));
        }
    }

    std::vector<Verb> verbs() override {
        using scene::Shading;
        const auto turn = [this](Shading shading) {
            return [this, shading] { hand().set_shading(hand().shading() == shading ? Shading::plain : shading); };
        };
        return {{"zebra", BarGroup::check, tr("Zebra lines"),
                 tr("Stripes on faces, as if lamps were mirrored in them, or light and shade again."), "",
                 turn(Shading::zebra)},
                {"curvature_colors", BarGroup::check, tr("Colours by curvature"),
                 tr("Colours faces by their mean curvature, or gives them light and shade again."), "",
                 turn(Shading::curvature)}};
    }
};

} // namespace

std::unique_ptr<ViewTool> make_shade_tool(Viewport& view) {
    return std::make_unique<ShadeTool>(view);
}

} // namespace kervo::app
