// Cutaways on the drawing: their lines and letters, and the knobs of the one that is in hand.
#include "app/look/counted.h"
#include "app/view/ink.h"
#include "app/view/tools/cutaway_handles.h"
#include "app/view/tools/pulling.h"
#include "app/view/tools/tools.h"
#include "model/looking/taken_away.h"

#include <QTimer>

#include <cmath>
#include <numbers>

namespace kervo::app {

namespace {

using model::Cutaway;
using Form = Cutaway::Form;
constexpr int rest_ms = 250; ///< a pull that pauses so long rests
constexpr double stalk = 46; ///< pixels

class CutawayTool : public ViewTool {
public:
    explicit CutawayTool(Viewport& view) : ViewTool(view) {
        rest_.setSingleShot(true);
        rest_.setInterval(rest_ms);
        connect(&rest_, &QTimer::timeout, this, [this] { session().rest_cutaway(); });
        connect(&hand(), &InHand::cutaway_changed, &view, &Viewport::repaint_ink);
    }

    [[nodiscard]] bool in_use() const override { return hand().drawn_step() == 0; }

    bool press(const Pointer& pointer) override {
        const auto cutaway = in_hand();
        pulled_ = -1;
        if (pointer.button != Qt::LeftButton || !cutaway) {
            return false;
        }
        handles_ = handles(*cutaway);
        double nearest = handle_reach;
        for (size_t i = 0; i < handles_.size(); ++i) {
            const double away = QLineF(place_of(handles_[i].knob), pointer.at).length();
            if (away < nearest) {
                nearest = away;
                pulled_ = static_cast<int>(i);
            }
        }
        pulled_from_ = pointer.at;
        return pulled_ >= 0;
    }

    void drag(const Pointer& pointer) override {
        const CutawayHandle& handle = handles_[static_cast<size_t>(pulled_)];
        const QPointF total = pointer.at - pulled_from_;
        double mm = 0;
        if (handle.along.length() > 0) {
            const double arm = stalk / view().pixels_per_mm();
            mm = pulled(view(), total, place_of(handle.knob), place_of(handle.knob + handle.along * arm), handle.along);
        }
        const Vector3 way = view().ray(pointer.at).from - view().ray(pulled_from_).from;
        const Cutaway moved = handle.pulled(mm, way);
        session().preview_cutaway(moved);
        view().show_bodies();
        rest_.start();
        emit view().hinted(words_for(moved));
    }

    void release(const Pointer& /*pointer*/, bool dragged) override {
        rest_.stop();
        pulled_ = -1;
        if (const auto moved = shown().cutaway_in_hand(); dragged && moved) {
            session().set_cutaway(*moved);
        }
    }

    bool click(const Pointer& pointer) override {
        for (const auto& [box, letter] : tags_) {
            if (box.contains(pointer.at)) {
                hand().take_cutaway(letter);
                return true;
            }
        }
        return false;
    }

    void paint(QPainter& painter) override {
        tags_.clear();
        if (!view().sees() || shown().bounds().empty() || !in_use()) {
            return;
        }
        for (const Cutaway& cutaway : session().cutaways()) {
            if (cutaway.on) {
                paint_cutaway(painter, cutaway);
            }
        }
        if (const auto cutaway = in_hand()) {
            paint_handles(painter, *cutaway);
        }
    }

private:
    [[nodiscard]] std::optional<Cutaway> in_hand() const {
        const auto cutaway = shown().cutaway_in_hand();
        return cutaway && cutaway->on && view().sees() && !shown().bounds().empty() ? cutaway : std::nullopt;
    }

    [[nodiscard]] std::vector<CutawayHandle> handles(const Cutaway& cutaway) const {
        return handles_of(cutaway, shown().bounds_seen(), stalk / view().pixels_per_mm(), round_step(view()));
    }

    [[nodiscard]] QString words_for(const Cutaway& cutaway) const {
        const std::string& unit = session().document().unit;
        const QString letter = QString::fromStdString(cutaway.letter);
        const Frame3 frame = model::frame_of(cutaway);
        const auto length = [&](double mm) { return length_text(mm, unit); };
        switch (cutaway.form) {
        case Form::plane:
            return tr("Cutaway %1 at %2").arg(letter, length((frame.origin - Point3()).dot(frame.z)));
        case Form::slab:
            return tr("Cutaway %1 at %2, %3 thick")
                .arg(letter, length((frame.origin - Point3()).dot(frame.z)), length(cutaway.size[2]));
        case Form::box:
            return tr("Cutaway %1: %2 by %3 by %4")
                .arg(letter, length(cutaway.size[0]), length(cutaway.size[1]), length(cutaway.size[2]));
        case Form::cylinder:
            return tr("Cutaway %1: diameter %2, length %3")
                .arg(letter, length(cutaway.size[0]), length(cutaway.size[2]));
        case Form::body:
            break;
        }
        return tr("Cutaway %1").arg(letter);
    }

    void paint_cutaway(QPainter& painter, const Cutaway& cutaway) {
        const bool held = cutaway.letter == hand().cutaway();
        QColor line = theme().ink;
        line.setAlphaF(held ? 0.6F : 0.35F);
        painter.setPen(axis_line(line, 1.0));
        painter.setBrush(Qt::NoBrush);
        switch (cutaway.form) {
        case Form::plane:
        case Form::slab:
            paint_planes(painter, cutaway);
            return;
        case Form::box:
            if (held) {
                paint_box(painter, cutaway);
            }
            break;
        case Form::cylinder:
            if (held) {
                paint_cylinder(painter, cutaway);
            }
            break;
        case Form::body:
            break;
        }
        paint_tag(painter, cutaway);
    }

    void paint_planes(QPainter& painter, const Cutaway& cutaway) {
        Box3 box = shown().bounds_seen();
        box.enlarge(box.diagonal() * 0.035);
        const QPen pen = painter.pen();
        for (const Frame3& out : model::planes_of(cutaway)) {
            const QPolygonF polygon = outline_in(view(), box, out.origin, out.z);
            if (polygon.size() < 3) {
                continue;
            }
            painter.setPen(pen);
            painter.drawPolygon(polygon);
            // The arrows look as one does who looks at the cut.
            const Vector3 looking = out.z * (cutaway.keeps ? -1.0 : 1.0);
            const double length = stalk / view().pixels_per_mm();
            const QPointF towards = place_of(out.origin + looking * length) - place_of(out.origin);
            for (const QRectF& place :
                 write_letters(painter, polygon, towards, QString::fromStdString(cutaway.letter), theme().ink)) {
                tags_.emplace_back(place, cutaway.letter);
            }
        }
    }

    void paint_line(QPainter& painter, const Point3& from, const Point3& to) {
        painter.drawLine(place_of(from), place_of(to));
    }

    void paint_box(QPainter& painter, const Cutaway& cutaway) {
        const Frame3 frame = model::frame_of(cutaway);
        const auto corner = [&](int i) {
            const auto half = [&](size_t k) {
                return ((i >> k) & 1) != 0 ? cutaway.size[k] / 2 : -cutaway.size[k] / 2;
            };
            return frame.at({half(0), half(1)}) + frame.z * half(2);
        };
        for (int i = 0; i < 8; ++i) {
            for (const int bit : {1, 2, 4}) {
                if ((i & bit) == 0) {
                    paint_line(painter, corner(i), corner(i | bit));
                }
            }
        }
    }

    void paint_cylinder(QPainter& painter, const Cutaway& cutaway) {
        const Frame3 frame = model::frame_of(cutaway);
        constexpr int sides = 72;
        const auto at = [&](int i, double z) {
            const double angle = 2 * std::numbers::pi * i / sides;
            const double r = cutaway.size[0] / 2;
            return frame.at({r * std::cos(angle), r * std::sin(angle)}) + frame.z * (z * cutaway.size[2] / 2);
        };
        for (int i = 0; i < sides; ++i) {
            for (const double end : {-1.0, 1.0}) {
                paint_line(painter, at(i, end), at(i + 1, end));
            }
            if (i % (sides / 4) == 0) {
                paint_line(painter, at(i, -1), at(i, 1));
            }
        }
    }

    // The letter alone, where the cutaway is.
    void paint_tag(QPainter& painter, const Cutaway& cutaway) {
        Point3 at = model::frame_of(cutaway).origin;
        if (cutaway.form == Form::body) {
            const auto body = shown().body(cutaway.body);
            if (!body) {
                return;
            }
            at = body->box.middle();
        }
        const QPointF middle = place_of(at) + QPointF(0, -24);
        tags_.emplace_back(
            write(painter, middle, QString::fromStdString(cutaway.letter), theme().ink, theme().paper, 20),
            cutaway.letter);
    }

    void paint_handles(QPainter& painter, const Cutaway& cutaway) {
        const auto all = handles(cutaway);
        for (size_t i = 0; i < all.size(); ++i) {
            const CutawayHandle& handle = all[i];
            const QPointF knob = place_of(handle.knob);
            const bool turns = handle.kind == CutawayHandle::Kind::rotate;
            painter.setPen(QPen(theme().ink, turns ? 1.0 : 1.4));
            painter.drawLine(place_of(handle.foot), knob);
            painter.setBrush(pulled_ == static_cast<int>(i) ? theme().ink : theme().paper);
            if (handle.kind == CutawayHandle::Kind::size) {
                painter.drawRect(QRectF(knob - QPointF(5, 5), QSizeF(10, 10)));
            } else {
                painter.drawEllipse(knob, turns ? 4.5 : 6, turns ? 4.5 : 6);
            }
            if (turns) { // an arc around the knob
                painter.setBrush(Qt::NoBrush);
                painter.drawArc(QRectF(knob - QPointF(9, 9), QSizeF(18, 18)), 30 * 16, 120 * 16);
                painter.drawArc(QRectF(knob - QPointF(9, 9), QSizeF(18, 18)), 210 * 16, 120 * 16);
            }
        }
        painter.setBrush(Qt::NoBrush);
    }

    int pulled_ = -1;                    ///< of `handles_`
    std::vector<CutawayHandle> handles_; ///< when the pull began
    QPointF pulled_from_;
    QTimer rest_;
    std::vector<std::pair<QRectF, std::string>> tags_;
};

} // namespace

std::unique_ptr<ViewTool> make_cutaway_tool(Viewport& view) {
    return std::make_unique<CutawayTool>(view);
}

} // namespace kervo::app
