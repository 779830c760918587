// Looking around: turning, moving and zooming by mouse and keyboard, the six views; and the scale bar.
#include "app/look/counted.h"
#include "app/view/ink.h"
#include "app/view/tools/tools.h"

#include <QKeyEvent>

#include <cmath>

namespace kervo::app {

namespace {

class LookTool : public ViewTool {
public:
    using ViewTool::ViewTool;

    bool press(const Pointer& pointer) override {
        last_ = pointer.at;
        return true;
    }

    void drag(const Pointer& pointer) override {
        const QPointF move = pointer.at - last_;
        last_ = pointer.at;
        if (pointer.button == Qt::MiddleButton || pointer.holds(Qt::ShiftModifier)) {
            view().pan(move);
        } else {
            view().turn(-move.x() * 0.008, move.y() * 0.008);
        }
    }

    bool press_key(const QKeyEvent& key) override {
        const auto arrow = [&](double x, double y) {
            key.modifiers().testFlag(Qt::ShiftModifier) ? view().pan(QPointF(-x * 40, -y * 40))
                                                        : view().turn(x * 0.1, -y * 0.1);
            return true;
        };
        switch (key.key()) {
        case Qt::Key_Left:
            return arrow(-1, 0);
        case Qt::Key_Right:
            return arrow(1, 0);
        case Qt::Key_Up:
            return arrow(0, -1);
        case Qt::Key_Down:
            return arrow(0, 1);
        case Qt::Key_Plus:
        case Qt::Key_Minus:
            view().zoom(key.key() == Qt::Key_Plus ? 1.25 : 0.8, QRectF(view().rect()).center());
            return true;
        default:
            return false;
        }
    }

    // A round length, drawn as long as it is seen.
    void paint(QPainter& painter) override {
        const std::string& unit = session().document().unit;
        const auto known = find_unit(unit);
        const double one = known ? known->factor : 1; // mm
        const double pixels = view().pixels_per_mm();
        const double wanted = 90 / pixels / one;
        const double power = std::pow(10, std::floor(std::log10(wanted)));
        const double mm = (wanted / power < 2 ? power : wanted / power < 5 ? 2 * power : 5 * power) * one;
        const QPointF start(20, view().height() - 28);
        const QPointF end = start + QPointF(mm * pixels, 0);
        painter.setPen(QPen(theme().ink, 1.2));
        painter.drawLine(start, end);
        for (const QPointF& tick : {start, (start + end) / 2, end}) {
            const double half = tick == start || tick == end ? 5 : 3;
            painter.drawLine(tick - QPointF(0, half), tick + QPointF(0, half));
        }
        painter.setFont(drawing_font(18));
        painter.drawText(end + QPointF(12, 6), length_text(mm, unit));
    }

    std::vector<Verb> verbs() override {
        const auto from = [this](scene::LookFrom side) { return [this, side] { view().look_from(side); }; };
        using scene::LookFrom;
        return {
            {"fit", BarGroup::inside, tr("Fit"), tr("Shows everything as large as it goes."), "F",
             [this] { view().fit(); }},
            {"square", BarGroup::inside, tr("Look square"),
             tr("Looks straight at the selected face or the open sketch."), "Q", [this] { look_square(); }},
            {"top", {}, tr("Look from the top"), tr("The view from above."), "", from(LookFrom::top)},
            {"front", {}, tr("Look from the front"), tr("The view from the front."), "", from(LookFrom::front)},
            {"right", {}, tr("Look from the right"), tr("The view from the right."), "", from(LookFrom::right)},
            {"left", {}, tr("Look from the left"), tr("The view from the left."), "", from(LookFrom::left)},
            {"back", {}, tr("Look from the back"), tr("The view from the back."), "", from(LookFrom::back)},
            {"under", {}, tr("Look from under"), tr("The view from below."), "", from(LookFrom::under)},
            {"corner", {}, tr("Look from a corner"), tr("The pictorial view from above."), "", from(LookFrom::corner)},
            {"corner_below",
             {},
             tr("Look from a corner below"),
             tr("The pictorial view from below."),
             "",
             from(LookFrom::corner_below)},
        };
    }

private:
    // At the selected flat face, else at the plane of the open sketch.
    void look_square() {
        for (const model::Reference& reference : hand().selection()) {
            if (const auto plane = shown().plane_of(reference)) {
                look_at(*plane);
                return;
            }
        }
        if (const auto sketch = shown().card_sketch()) {
            look_at(sketch->plane());
        } else {
            emit view().hinted(tr("Select a flat face first, then look square at it."));
        }
    }
    void look_at(const Frame3& frame) { view().look_along(-frame.z, frame.y); }

    QPointF last_;
};

} // namespace

std::unique_ptr<ViewTool> make_look_tool(Viewport& view) {
    return std::make_unique<LookTool>(view);
}

} // namespace kervo::app
