#include "app/view/tools/pulled_row.h"

#include "app/view/tools/pulling.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kervo::app {

namespace {

// Square to the principal plane that is seen best.
Vector3 best_seen(const Viewport& view) {
    const Vector3 eye = view.looking_along();
    const std::array<double, 3> slopes{std::fabs(eye.x), std::fabs(eye.y), std::fabs(eye.z)};
    std::array<double, 3> normal{};
    normal[static_cast<size_t>(std::max_element(slopes.begin(), slopes.end()) - slopes.begin())] = 1;
    return Vector3(normal);
}

// False where a formula holds it.
bool move_row(Viewport& view, const PulledRow& pulled, const Vector3& by, model::Row& row) {
    const std::string& unit = view.session().document().unit;
    const std::array<double, 3> parts{by.x, by.y, by.z};
    for (size_t axis = 0; axis < parts.size(); ++axis) {
        const Expression& formula = pulled.before.at[axis];
        const double moved = rounded(view, parts[axis]);
        const auto before = evaluate_as(formula.text, view.shown().parameters(), length_dimension);
        if (moved == 0 || !before) {
            row.at[axis] = formula;
            continue;
        }
        if (!names_read(formula.text).empty()) {
            emit view.hinted(
                Viewport::tr("The formula \u201c%1\u201d holds this point.").arg(QString::fromStdString(formula.text)));
            return false;
        }
        row.at[axis].text = format_quantity(*before + moved, unit) + " " + unit;
    }
    return true;
}

} // namespace

Vector3 pulled_in_plane(const Viewport& view, const PulledRow& row, const QPointF& to) {
    const Vector3 square = best_seen(view);
    const auto met = [&](const QPointF& at) {
        const Line3 ray = view.ray(at);
        return ray.at((row.place - ray.from).dot(square) / ray.along.dot(square));
    };
    return met(to) - met(row.from);
}

Vector3 pulled_square(const Viewport& view, const PulledRow& row, const QPointF& to) {
    return pulled_along(view, row, to, best_seen(view));
}

Vector3 pulled_along(const Viewport& view, const PulledRow& row, const QPointF& to, const Vector3& way) {
    return way * pulled(view, to - row.from, view.place_of(row.place), view.place_of(row.place + way), way);
}

void pull_row(Viewport& view, const PulledRow& pulled, const Vector3& by, const model::Field& rows) {
    auto all = std::get<model::Rows>(rows.value);
    for (model::Row& row : all) {
        if (row.name == pulled.before.name && !move_row(view, pulled, by, row)) {
            return;
        }
    }
    view.session().set_field(view.session().card(), rows.info.key, all);
}

} // namespace kervo::app
