#include "app/drawing/snapping.h"

#include <QObject>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::app {

using sketch::Point2;
using sketch::Stretch;

namespace {

// Collects what is within reach; the lighter a place, the farther it reaches.
class Collector {
public:
    Collector(const Point2& place, double reach) : place_(place), reach_(reach) {}

    void offer(const Point2& at, SnapKind kind, double weight, int point = 0, int curve = 0,
               const QString& of = QString()) {
        const double d = sketch::distance(at, place_) * weight;
        if (d < reach_) {
            found_.push_back({d, {at, point, curve, kind, of.isEmpty() ? word_for(kind) : word_for(kind) + of}});
        }
    }
    [[nodiscard]] bool empty() const { return found_.empty(); }
    [[nodiscard]] bool near(const Stretch& stretch) const {
        const auto box = stretch.box();
        return place_[0] > box[0] - reach_ && place_[1] > box[1] - reach_ && place_[0] < box[2] + reach_ &&
               place_[1] < box[3] + reach_;
    }
    [[nodiscard]] std::vector<Snap> best_first() {
        std::stable_sort(found_.begin(), found_.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        std::vector<Snap> snaps;
        for (auto& [weight, snap] : found_) {
            if (std::none_of(snaps.begin(), snaps.end(), [&at = snap.at](const Snap& known) {
                    return sketch::distance(known.at, at) < sketch::joining_tolerance;
                })) {
                snaps.push_back(std::move(snap));
            }
        }
        return snaps;
    }

private:
    Point2 place_;
    double reach_;
    std::vector<std::pair<double, Snap>> found_;
};

// Places on a curve that stand out by its own shape.
void offer_marks(Collector& into, const Stretch& stretch, const QString& of) {
    if (stretch.kind == sketch::StretchKind::line) {
        into.offer(stretch.at(0.5), SnapKind::middle, 1.3, 0, stretch.curve, of);
    } else if (!stretch.free()) {
        for (int quarter = 0; quarter < 4; ++quarter) {
            const double angle = quarter * std::numbers::pi / 2;
            const Point2 at{stretch.center[0] + stretch.radius * std::cos(angle),
                            stretch.center[1] + stretch.radius * std::sin(angle)};
            if (sketch::nearest_on(stretch, at).second < sketch::joining_tolerance) {
                into.offer(at, SnapKind::quadrant, 1.3, 0, stretch.curve, of);
            }
        }
    }
}

// Straight across, or in passing, from the last place.
void offer_from(Collector& into, const Stretch& stretch, const Point2& last) {
    if (stretch.kind == sketch::StretchKind::line) {
        const double t = sketch::nearest_parameter(stretch, last);
        if (t >= 0 && t <= 1 && sketch::distance(stretch.at(t), last) > 1e-6) {
            into.offer(stretch.at(t), SnapKind::square, 1.3, 0, stretch.curve);
        }
        return;
    }
    const double apart = sketch::distance(last, stretch.center);
    if (stretch.free() || apart <= stretch.radius * (1 + 1e-9)) {
        return;
    }
    const double way = std::atan2(last[1] - stretch.center[1], last[0] - stretch.center[0]);
    for (const double side : {-1.0, 1.0}) {
        const double angle = way + side * std::acos(stretch.radius / apart);
        const Point2 at{stretch.center[0] + stretch.radius * std::cos(angle),
                        stretch.center[1] + stretch.radius * std::sin(angle)};
        if (sketch::nearest_on(stretch, at).second < sketch::joining_tolerance) {
            into.offer(at, SnapKind::tangent, 1.3, 0, stretch.curve);
        }
    }
}

void offer_beside(Collector& into, const Beside& beside) {
    const QString of = QString::fromUtf8(" \u00b7 ") + beside.name;
    for (const Point2& point : beside.points) {
        into.offer(point, SnapKind::end, 1.1, 0, 0, of);
    }
    for (Stretch stretch : beside.stretches) {
        stretch.curve = 0; // none of this sketch
        if (into.near(stretch)) {
            offer_marks(into, stretch, of);
        }
        if (stretch.round()) {
            into.offer(stretch.center, SnapKind::centre, 1.1, 0, 0, of);
        }
        if (!stretch.closed(sketch::joining_tolerance)) {
            into.offer(stretch.at(0), SnapKind::end, 1.1, 0, 0, of);
            into.offer(stretch.at(1), SnapKind::end, 1.1, 0, 0, of);
        }
    }
}

} // namespace

QString word_for(SnapKind kind) {
    switch (kind) {
    case SnapKind::end:
        return QObject::tr("end");
    case SnapKind::centre:
        return QObject::tr("centre");
    case SnapKind::origin:
        return QObject::tr("origin");
    case SnapKind::middle:
        return QObject::tr("middle");
    case SnapKind::quadrant:
        return QObject::tr("quadrant");
    case SnapKind::crossing:
        return QObject::tr("crossing");
    case SnapKind::square:
        return QObject::tr("square");
    case SnapKind::tangent:
        return QObject::tr("tangent");
    case SnapKind::on_curve:
        return QObject::tr("on curve");
    case SnapKind::level:
        return QObject::tr("level");
    case SnapKind::plumb:
        return QObject::tr("plumb");
    case SnapKind::grid:
        return QObject::tr("grid");
    case SnapKind::none:
    case SnapKind::turn:
        break;
    }
    return {};
}

Snap untied(const Snap& snap) {
    return {snap.at, 0, 0, SnapKind::none,
            snap.what.isEmpty() ? QString() : QObject::tr("%1, not tied").arg(snap.what)};
}

std::vector<Snap> snaps_near(const SnapField& field, const Point2& place, double reach) {
    Collector collector(place, reach);
    const auto& curves = field.sketch.curves;
    for (const auto& point : field.sketch.points) {
        if (std::fabs(point.x - place[0]) < reach && std::fabs(point.y - place[1]) < reach) {
            const bool center = std::any_of(curves.begin(), curves.end(), [&](const auto& c) {
                return c.kind != sketch::CurveKind::line && c.kind != sketch::CurveKind::spline &&
                       c.points[0] == point.id;
            });
            collector.offer({point.x, point.y}, center ? SnapKind::centre : SnapKind::end, 1, point.id);
        }
    }
    collector.offer({0, 0}, SnapKind::origin, 1.1);
    std::vector<Stretch> near; // what can be met at all
    for (const auto& stretch : sketch::stretches_of(field.sketch, true)) {
        if (collector.near(stretch)) {
            near.push_back(stretch);
        }
    }
    for (const auto& stretch : near) {
        offer_marks(collector, stretch, {});
        if (field.last) {
            offer_from(collector, stretch, *field.last);
        }
    }
    constexpr size_t most_crossing = 12; // where more crowd, all pairs would take too long for a pointer
    for (size_t i = 0; i < near.size() && near.size() <= most_crossing; ++i) {
        for (size_t j = i + 1; j < near.size(); ++j) {
            for (const auto& [t, u] : sketch::meetings(near[i], near[j], sketch::joining_tolerance)) {
                collector.offer(near[i].at(t), SnapKind::crossing, 1.2, 0, near[i].curve);
            }
        }
    }
    for (const Beside& beside : field.beside) {
        offer_beside(collector, beside);
    }
    if (collector.empty()) {
        for (const auto& stretch : near) {
            collector.offer(stretch.at(sketch::nearest_on(stretch, place).first), SnapKind::on_curve, 1.6, 0,
                            stretch.curve);
        }
    }
    if (collector.empty()) {
        for (const Beside& beside : field.beside) {
            for (const auto& stretch : beside.stretches) {
                if (collector.near(stretch)) {
                    collector.offer(stretch.at(sketch::nearest_on(stretch, place).first), SnapKind::on_curve, 1.6, 0, 0,
                                    QString::fromUtf8(" \u00b7 ") + beside.name);
                }
            }
        }
    }
    if (collector.empty() && field.grid > 0) { // wherever the pointer is
        const Point2 at{std::round(place[0] / field.grid) * field.grid, std::round(place[1] / field.grid) * field.grid};
        return {Snap{at, 0, 0, SnapKind::grid, word_for(SnapKind::grid)}};
    }
    return collector.best_first();
}

double round_step(double least) {
    const double power = std::pow(10, std::floor(std::log10(least)));
    for (const double step : {1.0, 2.0, 5.0}) {
        if (step * power >= least * (1 - 1e-9)) {
            return step * power;
        }
    }
    return 10 * power;
}

} // namespace kervo::app
