// Handles over the model that are pulled: dimensions and dials of a step, the plane of the cutaway.
#include "app/viewport.h"

#include <cmath>

namespace kervo::app {

double Viewport::pulled(const QPointF& total, const QPointF& a, const QPointF& b, const gp_Vec& along) const {
    const QPointF way = b - a;
    const double length = std::max(std::hypot(way.x(), way.y()), 1.0);
    // A direction that points at the eye is seen short: the same pull means more there, but not without end.
    const gp_Vec eye(viewer_.looking_along());
    const double seen = std::max((along - eye * along.Dot(eye)).Magnitude(), 0.1);
    return QPointF::dotProduct(total, way) / length / (viewer_.pixels_per_mm() / devicePixelRatioF()) / seen;
}

void Viewport::pull_cutaway(const QPointF& to) {
    const auto handle = cutaway_handle();
    if (!handle) {
        return;
    }
    model::Cutaway moved = cutaway_start_;
    const double mm =
        pulled(to, handle->first, handle->second, gp_Vec(moved.normal[0], moved.normal[1], moved.normal[2]));
    double at = 0;
    for (size_t i = 0; i < 3; ++i) {
        moved.origin[i] += moved.normal[i] * mm;
        at += moved.origin[i] * moved.normal[i];
    }
    session_.preview_cutaway(moved);
    makeCurrent();
    viewer_.set_cutaway(moved, {});
    doneCurrent();
    emit hinted(tr("Cutaway at %1 mm").arg(at, 0, 'f', 1));
}

std::vector<model::PlacedDimension> Viewport::placed_dimensions() const {
    const model::StepReport* report = attached_ && !target_ ? session_.pictured_report(session_.card()) : nullptr;
    return report != nullptr && report->output ? report->output->dimensions : std::vector<model::PlacedDimension>{};
}

QPointF Viewport::handle_of(const model::PlacedDimension& dimension) const {
    return place_of(gp_Pnt(dimension.end[0], dimension.end[1], dimension.end[2]));
}

std::optional<Expression> Viewport::answer(const std::string& field) const {
    const auto step = session_.document().step(session_.card());
    for (const auto& each : step ? model::fields_of(step->definition) : std::vector<model::Field>{}) {
        if (const auto* expression = std::get_if<Expression>(&each.value);
            expression != nullptr && each.info.key == field) {
            return *expression;
        }
    }
    return std::nullopt;
}

void Viewport::pull_dimension(const QPointF& to) {
    const model::PlacedDimension& taken = *pulled_dimension_;
    const auto formula = answer(taken.field);
    if (!formula) {
        return;
    }
    if (!names_read(formula->text).empty()) {
        emit hinted(tr("The formula \u201c%1\u201d drives this; double-click its number to type another.")
                        .arg(QString::fromStdString(formula->text)));
        return;
    }
    const gp_Pnt start(taken.start[0], taken.start[1], taken.start[2]);
    const gp_Pnt end(taken.end[0], taken.end[1], taken.end[2]);
    const gp_Vec way =
        taken.way ? gp_Vec((*taken.way)[0], (*taken.way)[1], (*taken.way)[2]) : gp_Vec(start, end).Normalized();
    const double length = gp_Vec(start, end).Dot(way);
    const double mm =
        pulled(to, place_of(start), place_of(start.Translated(way * std::max(std::fabs(length), 1.0))), way);
    // Round numbers, as fine as the hand can place them: a pixel or more apart.
    const double step = std::pow(10, std::ceil(std::log10(devicePixelRatioF() / viewer_.pixels_per_mm())));
    const double rounded = std::round((length + mm) * taken.factor / step);
    const double value = (taken.way ? rounded : std::max(rounded, 1.0)) * step;
    session_.set_field(session_.card(), taken.field, Expression{format_quantity(value, "mm") + " mm"});
    emit hinted(tr("%1 mm").arg(QString::fromStdString(format_quantity(value, "mm", 3))));
}

// Round a dial in whole degrees; with Shift in steps of fifteen.
void Viewport::pull_dial(const QPointF& at, Qt::KeyboardModifiers modifiers) {
    const model::PlacedDimension& taken = *pulled_dimension_;
    const auto formula = answer(taken.field);
    if (!formula || !names_read(formula->text).empty()) {
        emit hinted(tr("A formula drives this; double-click its number to type another."));
        return;
    }
    const gp_Pnt middle(taken.dial->middle[0], taken.dial->middle[1], taken.dial->middle[2]);
    const gp_Vec axis(taken.dial->axis[0], taken.dial->axis[1], taken.dial->axis[2]);
    const gp_Vec zero(middle, gp_Pnt(taken.start[0], taken.start[1], taken.start[2]));
    const gp_Lin ray = viewer_.ray(at.x() * devicePixelRatioF(), at.y() * devicePixelRatioF());
    const double slope = gp_Vec(ray.Direction()).Dot(axis);
    if (std::fabs(slope) < 0.02) {
        emit hinted(tr("The dial is seen from its edge; turn the view, or type the angle."));
        return;
    }
    const double away = gp_Vec(ray.Location(), middle).Dot(axis) / slope;
    const gp_Vec to(middle, ray.Location().Translated(gp_Vec(ray.Direction()) * away));
    const double degrees = std::atan2(axis.Dot(zero.Crossed(to)), zero.Dot(to)) * 180 / M_PI;
    const double step = (modifiers & Qt::ShiftModifier) != 0 ? 15 : 1;
    const double value = std::round(degrees / step) * step + 0.0;
    session_.set_field(session_.card(), taken.field, Expression{format_quantity(value, "") + " deg"});
    emit hinted(tr("%1 deg; with Shift in steps of 15").arg(value));
}

std::optional<std::pair<QPointF, QPointF>> Viewport::cutaway_handle() const {
    const auto cutaway = session_.cutaway();
    if (!cutaway || !cutaway->on || !attached_ || !session_.picture() || session_.picture()->bounds.IsVoid()) {
        return std::nullopt;
    }
    const Bnd_Box& box = session_.picture()->bounds;
    double x0 = 0, y0 = 0, z0 = 0, x1 = 0, y1 = 0, z1 = 0;
    box.Get(x0, y0, z0, x1, y1, z1);
    const gp_Pnt middle((x0 + x1) / 2, (y0 + y1) / 2, z1);
    const gp_Vec normal(cutaway->normal[0], cutaway->normal[1], cutaway->normal[2]);
    const gp_Pnt origin(cutaway->origin[0], cutaway->origin[1], cutaway->origin[2]);
    const gp_Pnt foot = middle.Translated(normal * -gp_Vec(origin, middle).Dot(normal));
    const double length = 46 / (viewer_.pixels_per_mm() / devicePixelRatioF());
    return std::pair(place_of(foot), place_of(foot.Translated(normal * length)));
}

} // namespace kervo::app
