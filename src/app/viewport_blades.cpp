// Blades on the drawing: the cutting-plane line with arrows and letters.
#include "app/ink.h"

#include "model/steps/blade/blade.h"

#include <Bnd_Box.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::app {

QPolygonF outline_in(const Viewport& viewport, const Bnd_Box& box, const gp_Pnt& origin, const gp_Vec& normal) {
    double c[6];
    box.Get(c[0], c[1], c[2], c[3], c[4], c[5]);
    std::vector<gp_Pnt> outline;
    const auto corner = [&](int i) {
        return gp_Pnt(c[(i & 1) != 0 ? 3 : 0], c[(i & 2) != 0 ? 4 : 1], c[(i & 4) != 0 ? 5 : 2]);
    };
    for (int i = 0; i < 8; ++i) {
        for (const int bit : {1, 2, 4}) {
            if ((i & bit) == 0) {
                const gp_Pnt a = corner(i);
                const gp_Pnt b = corner(i | bit);
                const double ha = gp_Vec(origin, a).Dot(normal);
                const double hb = gp_Vec(origin, b).Dot(normal);
                if ((ha < 0) != (hb < 0)) {
                    outline.push_back(a.Translated(gp_Vec(a, b) * (ha / (ha - hb))));
                }
            }
        }
    }
    QPolygonF polygon;
    if (outline.size() < 3) {
        return polygon;
    }
    gp_XYZ sum(0, 0, 0);
    for (const gp_Pnt& p : outline) {
        sum += p.XYZ();
    }
    const gp_Pnt middle(sum / static_cast<double>(outline.size()));
    const gp_Dir u(gp_Vec(middle, outline[0]));
    const gp_Vec v = normal.Crossed(gp_Vec(u));
    std::sort(outline.begin(), outline.end(), [&](const gp_Pnt& a, const gp_Pnt& b) {
        const gp_Vec da(middle, a);
        const gp_Vec db(middle, b);
        return std::atan2(da.Dot(v), da.Dot(gp_Vec(u))) < std::atan2(db.Dot(v), db.Dot(gp_Vec(u)));
    });
    for (const gp_Pnt& p : outline) {
        polygon << viewport.place_of(p);
    }
    return polygon;
}

std::vector<QRectF> write_letters(QPainter& painter, const QPolygonF& outline, const QPointF& looking,
                                  const QString& letter, const QColor& color) {
    std::vector<QRectF> places;
    const double size = std::max(std::hypot(looking.x(), looking.y()), 1.0);
    const auto [left, right] = std::minmax_element(outline.begin(), outline.end(),
                                                   [](const QPointF& a, const QPointF& b) { return a.x() < b.x(); });
    const QRectF sheet = QRectF(painter.viewport()).adjusted(16, 16, -16, -16);
    const auto on_sheet = [&](const QPointF& p) {
        return QPointF(std::clamp(p.x(), sheet.left(), sheet.right()), std::clamp(p.y(), sheet.top(), sheet.bottom()));
    };
    for (const QPointF& far : {*left, *right}) {
        const QPointF end = on_sheet(far);
        const QPointF tail = end - looking / size * 26;
        painter.setPen(QPen(color, 2.4));
        painter.drawLine(tail, end);
        arrow(painter, end, tail, 12);
        painter.setPen(color);
        painter.setFont(drawing_font(22));
        const QPointF at = on_sheet(tail - looking / size * 12);
        places.emplace_back(at - QPointF(12, 14), QSizeF(24, 28));
        painter.drawText(places.back(), Qt::AlignCenter, letter);
    }
    return places;
}

// Every blade of the route has its letter, in the order of the steps; A is the cutaway's.
namespace {
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
} // namespace

void Viewport::paint_blades(QPainter& painter) {
    const PicturePtr picture = session_.picture();
    if (!picture || picture->bounds.IsVoid() || draws_) {
        return;
    }
    std::vector<const geom::Blade*> painted;
    for (const auto& [id, body] : shown()) {
        if (body->blade && is_shown(id)) {
            paint_blade(painter, *body->blade, letter_of(session_.document(), model::maker_of(id)), id);
            painted.push_back(body->blade.get());
        }
    }
    const model::StepReport* report = session_.pictured_report(session_.card());
    for (const geom::Blade& blade :
         report != nullptr && report->output ? report->output->blades : std::vector<geom::Blade>{}) {
        const bool known = std::any_of(painted.begin(), painted.end(), [&](const geom::Blade* other) {
            return other->frame.Location().Distance(blade.frame.Location()) < 1e-9 &&
                   other->frame.Direction().IsEqual(blade.frame.Direction(), 1e-9);
        });
        if (!known) {
            paint_blade(painter, blade, letter_of(session_.document(), session_.card()), {});
        }
    }
}

void Viewport::paint_blade(QPainter& painter, const geom::Blade& blade, const QString& letter,
                           const model::BodyId& id) {
    const gp_Vec normal(blade.frame.Direction());
    Bnd_Box box;
    if (blade.endless()) {
        box = session_.picture()->bounds;
        box.Enlarge(std::sqrt(box.SquareExtent()) * 0.045);
    } else {
        for (const TopoDS_Shape& face : blade.window) {
            box.Add(geom::bounds_of(face));
        }
        box.Enlarge(1e-3);
    }
    const QColor color = theme_.cutter;
    QColor fill = color;
    fill.setAlphaF(0.06F);
    QPolygonF outline; // of the last height
    for (const double height : blade.kerf() > 0 ? std::vector{-blade.back, blade.front} : std::vector{0.0}) {
        const gp_Pnt origin = blade.frame.Location().Translated(normal * height);
        painter.setPen(axis_line(color, 1.3));
        if (blade.endless()) {
            outline = outline_in(*this, box, origin, normal);
            painter.setBrush(height == -blade.back ? QBrush(fill) : QBrush(Qt::NoBrush));
            painter.drawPolygon(outline);
            painter.setBrush(Qt::NoBrush);
            continue;
        }
        outline = QPolygonF();
        for (const TopoDS_Shape& face : blade.window) {
            for (const auto& edge : scene::lines_of(face, 0.1)) {
                QPolygonF line;
                for (const gp_Pnt& p : edge) {
                    line << place_of(p.Translated(normal * height));
                }
                painter.drawPolyline(line);
                outline << line;
            }
        }
    }
    if (outline.size() < 3) {
        return;
    }
    const gp_Pnt& origin = blade.frame.Location();
    const QPointF front = place_of(origin.Translated(normal)) - place_of(origin);
    for (const QRectF& tag : write_letters(painter, outline, front, letter, color)) {
        if (!id.empty()) {
            blade_tags_.emplace_back(tag, id);
        }
    }
}

model::BodyId Viewport::blade_at(const QPointF& place) const {
    for (const auto& [box, id] : blade_tags_) {
        if (box.contains(place)) {
            return id;
        }
    }
    return {};
}

} // namespace kervo::app
