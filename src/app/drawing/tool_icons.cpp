#include "app/drawing/tool_icons.h"

#include <QPainter>
#include <QPainterPath>

#include <map>

namespace kervo::app {

namespace {

// On a sheet of 20 x 20, by the ids of their tools. Letters are what is drawn: M, L, C, Z as in a path; R a rectangle,
// A an arc in a box from an angle over an angle (degrees, counterclockwise); D a dashed, X an axis, T a marked line
// from place to place; P a dot.
const std::map<QString, const char*>& drawings() {
    static const std::map<QString, const char*> all{
        {"select", "M 5 3 L 5 16 L 8.5 12.6 L 10.9 17.4 L 12.9 16.4 L 10.5 11.7 L 15 11.4 Z"},
        {"dimension", "M 3 5 L 3 15 M 17 5 L 17 15 M 3 10 L 17 10 M 6 8 L 3 10 L 6 12 M 14 8 L 17 10 L 14 12"},
        {"line", "M 4 16 L 16 4 P 4 16 P 16 4"},
        {"rectangle", "R 3 5 14 10 P 3 15 P 17 5"},
        {"center_rectangle", "R 3 5 14 10 P 10 10 P 17 5"},
        {"slanted_rectangle", "M 3 11 L 12 3 L 17 8 L 8 16 Z P 3 11 P 12 3 P 17 8"},
        {"circle", "A 3 3 14 14 0 360 P 10 10"},
        {"circle_by_three", "A 3 3 14 14 0 360 P 10 3 P 4 13.5 P 16 13.5"},
        {"circle_touching", "A 5 4 10 10 0 360 M 2 14 L 18 14 M 15 2 L 15 17"},
        {"arc", "A 3 5 14 14 20 140 P 10 12 P 3.4 9.6 P 16.6 9.6"},
        {"arc_by_three", "A 3 5 14 14 15 150 P 3.2 10.2 P 10 5 P 16.8 10.2"},
        {"tangent_arc", "M 2 16 L 9 16 A 3 4 12 12 270 130 P 9 16"},
        {"ellipse", "A 2 5 16 10 0 360 P 10 10 P 18 10 P 10 5"},
        {"slot", "M 6 6 L 14 6 A 10 6 8 8 90 -180 L 6 14 A 2 6 8 8 270 -180 P 6 10 P 14 10"},
        {"polygon", "M 10 3 L 16 6.5 L 16 13.5 L 10 17 L 4 13.5 L 4 6.5 Z P 10 10"},
        {"spline", "M 3 14 C 5 3 9 4 10 10 C 11 16 15 17 17 6 P 3 14 P 10 10 P 17 6"},
        {"control_spline", "M 3 16 C 5 2 15 2 17 16 D 3 16 5 4 D 5 4 15 4 D 15 4 17 16 P 5 4 P 15 4"},
        {"point", "M 10 4 L 10 16 M 4 10 L 16 10 P 10 10"},
        {"text", "M 4 6 L 4 4 L 16 4 L 16 6 M 10 4 L 10 16 M 8 16 L 12 16"},
        {"trim", "M 3 10 L 8 10 M 10 3 L 10 17 D 11 10 17 10"},
        {"extend", "M 3 10 L 9 10 M 17 3 L 17 17 D 9 10 17 10 M 13.5 7.5 L 16 10 L 13.5 12.5"},
        {"split", "M 3 10 L 8 10 M 12 10 L 17 10 P 8 10 P 12 10"},
        {"join", "M 3 14 L 10 7 L 17 14 P 10 7"},
        {"close_chain", "M 4 16 L 4 4 L 16 4 L 16 16 D 4 16 16 16 P 4 16 P 16 16"},
        {"spline_point", "M 3 16 C 6 4 13 6 17 14 M 14 2 L 14 8 M 11 5 L 17 5 P 8.6 9"},
        {"round", "M 4 17 L 4 10 A 4 4 12 12 180 -90 L 17 4 D 4 10 4 4 D 4 4 10 4"},
        {"bevel", "M 4 17 L 4 10 L 10 4 L 17 4 D 4 10 4 4 D 4 4 10 4"},
        {"offset", "M 3 17 L 3 3 L 17 3 M 8 17 L 8 8 L 17 8"},
        {"round_offset", "M 8 17 L 8 9 L 17 9 M 3 17 L 3 9 A 3 4 10 10 180 -90 L 17 4"},
        {"mirror", "M 8 5 L 3 10 L 8 15 Z M 12 5 L 17 10 L 12 15 Z X 10 2 10 18"},
        {"repeat_line", "R 2 8 4 4 R 8 8 4 4 R 14 8 4 4"},
        {"repeat_ring", "A 8 2 4 4 0 360 A 13.7 11.3 4 4 0 360 A 2.3 11.3 4 4 0 360 X 10 10 10 6"},
        {"take_edges", "M 3 7 L 11 4 L 17 7 L 17 14 L 9 17 L 3 14 Z T 9 10 9 17 T 9 10 17 7 T 3 7 9 10"},
        {"take_section", "M 3 6 L 11 3 L 17 6 L 17 14 L 9 17 L 3 14 Z T 3 10.5 9 13 T 9 13 17 10"},
        {"take_silhouette", "T 3 7 11 4 T 11 4 17 7 T 17 7 17 14 T 17 14 9 17 T 9 17 3 14 T 3 14 3 7"},
        {"guides", "X 3 17 17 3"},
        {"grid", "M 7 3 L 7 17 M 13 3 L 13 17 M 3 7 L 17 7 M 3 13 L 17 13"},
        {"freeze", "M 10 3 L 10 17 M 4 6.5 L 16 13.5 M 4 13.5 L 16 6.5"},
    };
    return all;
}

class IconPainter {
public:
    IconPainter(QPainter& painter, const Theme& theme) : painter_(painter), theme_(theme) {}

    void draw(const QString& drawing) {
        words_ = drawing.split(' ', Qt::SkipEmptyParts);
        for (at_ = 0; at_ < words_.size();) {
            take(words_[at_++][0].toLatin1());
        }
        painter_.setPen(pen(theme_.ink));
        painter_.drawPath(path_);
        for (const auto& [line, style] : lines_) {
            painter_.setPen(style);
            painter_.drawLine(line);
        }
        painter_.setPen(Qt::NoPen);
        painter_.setBrush(theme_.cutter);
        for (const QPointF& dot : dots_) {
            painter_.drawEllipse(dot, 1.9, 1.9);
        }
    }

private:
    static QPen pen(const QColor& color) { return {color, 1.3, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin}; }
    double number() { return words_[at_++].toDouble(); }
    QPointF point() {
        const double x = number();
        return {x, number()};
    }
    QRectF box() {
        const QPointF corner = point();
        const QPointF size = point();
        return {corner, QSizeF(size.x(), size.y())};
    }
    void line(QPen style, const std::vector<double>& dashes) {
        if (!dashes.empty()) {
            style.setDashPattern(QList<qreal>(dashes.begin(), dashes.end()));
            style.setCapStyle(Qt::FlatCap);
        }
        const QPointF from = point();
        lines_.emplace_back(QLineF(from, point()), style);
    }
    void take(char what) {
        switch (what) {
        case 'M':
            path_.moveTo(point());
            break;
        case 'L':
            path_.lineTo(point());
            break;
        case 'C': {
            const QPointF first = point();
            const QPointF second = point();
            path_.cubicTo(first, second, point());
            break;
        }
        case 'Z':
            path_.closeSubpath();
            break;
        case 'R':
            path_.addRect(box());
            break;
        case 'A': {
            const QRectF around = box();
            const double from = number();
            const double over = number();
            const bool goes_on = at_ > 6 && words_[at_ - 7] == "A" && path_.elementCount() > 0 && over < 360 &&
                                 QLineF(path_.currentPosition(), start_of(around, from)).length() < 0.5;
            goes_on ? path_.arcTo(around, from, over)
                    : (path_.arcMoveTo(around, from), path_.arcTo(around, from, over));
            break;
        }
        case 'D':
            line(pen(theme_.quiet), {2, 1.5});
            break;
        case 'X':
            line(pen(theme_.quiet), {4, 1.5, 1, 1.5});
            break;
        case 'T':
            line(QPen(theme_.cutter, 1.8, Qt::SolidLine, Qt::RoundCap), {});
            break;
        case 'P':
            dots_.push_back(point());
            break;
        default:
            break;
        }
    }
    static QPointF start_of(const QRectF& around, double angle) {
        QPainterPath path;
        path.arcMoveTo(around, angle);
        return path.currentPosition();
    }

    QPainter& painter_;
    const Theme& theme_;
    QStringList words_;
    qsizetype at_ = 0;
    QPainterPath path_;
    std::vector<std::pair<QLineF, QPen>> lines_;
    std::vector<QPointF> dots_;
};

QIcon drawn(const QString& name, const Theme& theme, bool more) {
    constexpr int scale = 2; // for screens with small pixels
    QPixmap pixmap(tool_icon_size * scale, tool_icon_size * scale);
    pixmap.setDevicePixelRatio(scale);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    const auto drawing = drawings().find(name);
    if (drawing != drawings().end()) {
        IconPainter(painter, theme).draw(QLatin1String(drawing->second));
    }
    if (more) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme.quiet);
        painter.drawPolygon(QPolygonF({{20, 16}, {20, 20}, {16, 20}}));
    }
    return pixmap;
}

} // namespace

QIcon tool_icon(DrawTool tool, const Theme& theme, bool more) {
    return drawn(info_of(tool).id, theme, more);
}

QIcon named_icon(const QString& name, const Theme& theme) {
    return drawn(name, theme, false);
}

} // namespace kervo::app
