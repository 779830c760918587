#include "app/view/tools/row_tool.h"

#include "app/view/ink.h"
#include "app/view/tools/pulling.h"
#include "app/view/tools/tools.h"

#include <algorithm>
#include <cmath>

namespace kervo::app {

namespace {

constexpr size_t most = 400;      // more would be one dark field
constexpr double mark_reach = 11; // pixels around a mark in which it is clicked
constexpr int letters = 12;       // pixels

bool has_rows(const model::StepDefinition& definition) {
    bool found = false;
    model::for_each_field(definition, [&](const model::FieldInfo&, const auto& value) {
        found = found || std::is_same_v<std::decay_t<decltype(value)>, model::Rows>;
    });
    return found;
}

bool stands_at_zero(const model::Row& row) {
    return row.at == model::Row().at;
}

} // namespace

std::string free_row_name(const model::Rows& rows, const model::FieldOption& option) {
    for (int number = 1;; ++number) {
        std::string name = option.value.substr(0, 1) + std::to_string(number);
        if (std::none_of(rows.begin(), rows.end(), [&](const model::Row& row) { return row.name == name; })) {
            return name;
        }
    }
}

// Asked at every move of the pointer: of steps without rows nothing is copied.
std::optional<model::Field> RowTool::rows() const {
    const auto step = shown().card_step();
    if (!step || !has_rows(step->definition)) {
        return std::nullopt;
    }
    for (model::Field& field : model::fields_of(step->definition, true)) {
        if (std::holds_alternative<model::Rows>(field.value)) {
            return std::move(field);
        }
    }
    return std::nullopt;
}

bool RowTool::in_use() const {
    return !hand().target() && hand().drawn_step() == 0 && rows().has_value();
}

std::optional<model::Row> RowTool::answered_row() const {
    const auto field = row_.empty() ? std::nullopt : rows();
    return field ? answered_among(std::get<model::Rows>(field->value)) : std::nullopt;
}

std::optional<model::Row> RowTool::answered_among(const model::Rows& rows) const {
    const auto row = std::find_if(rows.begin(), rows.end(), [&](const model::Row& each) { return each.name == row_; });
    return row == rows.end() ? std::nullopt : std::optional(*row);
}

// What the row that is answered makes.
std::optional<model::FieldOption> RowTool::wanted() const {
    const auto field = row_.empty() ? std::nullopt : rows();
    const auto row = field ? answered_among(std::get<model::Rows>(field->value)) : std::nullopt;
    const model::FieldOption* option = row ? field->info.option(row->makes) : nullptr;
    return option != nullptr ? std::optional(*option) : std::nullopt;
}

QString RowTool::hint() const {
    const auto option = wanted();
    if (!option) {
        return {};
    }
    return option->has_place ? tr("Click where points stand: vertices, faces, or the ground; Escape ends it")
                             : tr("Click what \u201c%1\u201d is made of, by its name in the model; Escape ends it")
                                   .arg(QString::fromStdString(row_));
}

std::optional<QCursor> RowTool::cursor() const {
    return wanted() ? std::optional(marker_cursor(theme(), Marker::cutter)) : std::nullopt;
}

std::optional<LooksFor> RowTool::looks_for() const {
    const auto option = wanted();
    if (!option || !option->has_place) {
        return std::nullopt;
    }
    return LooksFor{{model::ElementKind::vertex, model::ElementKind::face}, theme().cutter};
}

std::vector<model::NamedPlace> RowTool::marks() const {
    const auto output = in_use() && view().sees() ? shown().card_output() : nullptr;
    return output && output->named.size() <= most ? output->named : std::vector<model::NamedPlace>();
}

std::optional<model::NamedPlace> RowTool::mark_at(const QPointF& at) const {
    std::optional<model::NamedPlace> nearest;
    double least = mark_reach;
    for (const model::NamedPlace& mark : marks()) {
        if (const double away = QLineF(place_of(mark.at), at).length(); away < least) {
            least = away;
            nearest = mark;
        }
    }
    return nearest;
}

// On a body what is hit, a vertex before a face; else on the ground, or upright through the origin where that is seen
// from its edge; in round numbers, as fine as the hand can place them.
std::optional<Point3> RowTool::place_under(const QPointF& at) const {
    const auto in_round_numbers = [&](const Point3& p) {
        return Point3(rounded(view(), p.x), rounded(view(), p.y), rounded(view(), p.z));
    };
    if (const auto found = view().under_pointer()) {
        const auto body = shown().body(found->body);
        return found->element.kind == model::ElementKind::vertex && body ? body->elements->center(found->element)
                                                                         : in_round_numbers(found->point);
    }
    const Line3 ray = view().ray(at);
    const Vector3 ways[] = {{0, 0, 1}, {0, 1, 0}, {1, 0, 0}};
    for (const Vector3& normal : ways) {
        constexpr double edge_on = 0.2; // sine
        if (const double slope = ray.along.dot(normal); std::fabs(slope) > edge_on) {
            return in_round_numbers(ray.at((Point3() - ray.from).dot(normal) / slope));
        }
    }
    return std::nullopt;
}

void RowTool::stand(const Point3& place) {
    const auto field = rows();
    auto all = std::get<model::Rows>(field->value);
    const std::string& unit = session().document().unit;
    const auto formula = [&](double mm) { return Expression{format_quantity(mm, unit) + " " + unit}; };
    auto row = std::find_if(all.begin(), all.end(), [&](const model::Row& each) { return each.name == row_; });
    if (!stands_at_zero(*row) || !row->of.empty()) {
        model::Row next{free_row_name(all, *wanted()), row->makes};
        row = all.insert(std::next(row), std::move(next));
    }
    row->at = {formula(place.x), formula(place.y), formula(place.z)};
    const std::string name = row->name;
    session().set_field(step_, field->info.key, all);
    answer(name);
}

bool RowTool::click(const Pointer& pointer) {
    const auto option = wanted();
    if (!option) {
        return false;
    }
    if (option->has_place) {
        if (const auto place = place_under(pointer.at)) {
            stand(*place);
        }
        return true;
    }
    if (const auto mark = mark_at(pointer.at); mark && mark->name != row_) {
        const auto field = rows();
        auto all = std::get<model::Rows>(field->value);
        for (model::Row& row : all) {
            if (row.name == row_) {
                row.of.push_back(mark->name);
            }
        }
        session().set_field(step_, field->info.key, all);
    }
    return true;
}

// A point whose numbers are no formulas goes with the pointer, in that principal plane which is seen best; with Shift
// square to it.
bool RowTool::press(const Pointer& pointer) {
    pulled_.reset();
    const auto mark = pointer.button == Qt::LeftButton ? mark_at(pointer.at) : std::nullopt;
    const auto field = mark && mark->point ? rows() : std::nullopt;
    for (const model::Row& row : field ? std::get<model::Rows>(field->value) : model::Rows()) {
        if (row.name == mark->name) {
            pulled_ = PulledRow{row, Point3(mark->at), pointer.at};
        }
    }
    return pulled_.has_value();
}

void RowTool::drag(const Pointer& pointer) {
    const auto field = rows();
    if (!field) {
        return;
    }
    const Vector3 by = pointer.holds(Qt::ShiftModifier) ? pulled_square(view(), *pulled_, pointer.at)
                                                        : pulled_in_plane(view(), *pulled_, pointer.at);
    pull_row(view(), *pulled_, by, *field);
}

bool RowTool::escape() {
    const bool answering = !row_.empty();
    answer({});
    return answering;
}

void RowTool::take_changes() {
    if (!row_.empty() && (session().card() != step_ || !wanted())) {
        answer({});
    }
}

void RowTool::answer(const std::string& row) {
    step_ = session().card();
    if (!row.empty() && hand().target()) { // clicks are for the row from now on
        hand().set_target(std::nullopt);
    }
    if (row_ != row) {
        row_ = row;
        emit changed(QString::fromStdString(row_));
        view().tell_hint();
        view().show_cursor();
        view().repaint_ink();
    }
}

void RowTool::paint(QPainter& painter) {
    for (const model::NamedPlace& mark : marks()) {
        const QPointF at = place_of(mark.at);
        const QString name = QString::fromStdString(mark.name);
        if (!mark.point && view().is_hidden(mark.at)) {
            continue;
        }
        const QSizeF size = patch_of(name, letters);
        const QPointF beside(size.width() / 2 + 5, -size.height() / 2 - 3);
        if (mark.point) {
            painter.setPen(QPen(theme().cutter, 1.4));
            painter.setBrush(theme().cutter);
            painter.drawEllipse(at, 3, 3);
            painter.setBrush(Qt::NoBrush);
        }
        const std::vector<QPointF> places =
            mark.point ? std::vector<QPointF>{at + beside, at + QPointF(-beside.x(), beside.y()),
                                              at + QPointF(beside.x(), -beside.y()), at - beside}
                       : std::vector<QPointF>{at, at + QPointF(0, size.height()), at - QPointF(0, size.height())};
        const QPointF middle = places[view().labels().free_place(size, places)];
        view().labels().avoid(
            write(painter, middle, name, mark.point ? theme().cutter : theme().quiet, theme().paper, letters));
    }
}

std::unique_ptr<ViewTool> make_row_tool(Viewport& view) {
    return std::make_unique<RowTool>(view);
}

} // namespace kervo::app
