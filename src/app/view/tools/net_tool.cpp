#include "app/view/tools/net_tool.h"

#include "app/view/ink.h"
#include "app/view/tools/pulling.h"
#include "app/view/tools/row_tool.h"
#include "app/view/tools/tools.h"
#include "model/route/control_names.h"

#include <algorithm>
#include <cmath>

namespace kervo::app {

namespace {

using model::control_point_name;

template <class Visit> void each_spot(const model::ControlNet& net, const Visit& visit) {
    for (int row = 0; row < net.rows; ++row) {
        for (int column = 0; column < net.columns; ++column) {
            visit(row, column);
        }
    }
}

} // namespace

std::shared_ptr<const model::StepOutput> NetTool::output() const {
    const auto output = view().sees() ? shown().card_output() : nullptr;
    return output && output->net ? output : nullptr;
}

bool NetTool::in_use() const {
    return !hand().target() && hand().drawn_step() == 0 && output();
}

QString NetTool::hint() const {
    return tr("Pull control points off the surface, with Shift along it; click to choose, Shift adds, Ctrl frames");
}

std::optional<model::Row> NetTool::answered_row() const {
    return view().tool<RowTool>().answered_row();
}

std::set<std::string> NetTool::chosen() const {
    if (!output()) {
        return {};
    }
    const auto row = answered_row();
    return row ? std::set<std::string>(row->of.begin(), row->of.end()) : chosen_;
}

// The row that is answered names them from now on; else they are chosen for the next gesture.
void NetTool::choose(const std::set<std::string>& names) {
    const auto answered = answered_row();
    if (!answered) {
        chosen_ = names;
        step_ = session().card();
        view().repaint_ink();
        return;
    }
    const auto field = view().tool<RowTool>().rows();
    auto all = std::get<model::Rows>(field->value);
    for (model::Row& row : all) {
        if (row.name == answered->name) {
            row.of.assign(names.begin(), names.end());
        }
    }
    session().set_field(session().card(), field->info.key, all);
}

std::optional<NetTool::Spot> NetTool::spot_at(const QPointF& at) const {
    std::optional<Spot> nearest;
    double least = handle_reach;
    const auto made = output();
    each_spot(*made->net, [&](int row, int column) {
        if (const double away = QLineF(place_of(made->net->at(row, column)), at).length(); away < least) {
            least = away;
            nearest = Spot{row, column};
        }
    });
    return nearest;
}

Vector3 NetTool::normal_at(const Spot& spot) const {
    const auto made = output();
    const model::ControlNet& net = *made->net;
    const auto beside = [](int at, int by, int count, bool closes) {
        return closes ? (at + by + count) % count : std::clamp(at + by, 0, count - 1);
    };
    const auto at = [&](int rows, int columns) {
        return Point3(net.at(beside(spot.row, rows, net.rows, net.rows_close),
                             beside(spot.column, columns, net.columns, net.columns_close)));
    };
    const Vector3 normal = (at(1, 0) - at(-1, 0)).cross(at(0, 1) - at(0, -1)).unit();
    return normal.length() > 0 ? normal : Vector3(0, 0, 1); // a side that is one point has none
}

bool NetTool::hover(const Pointer& pointer) {
    return spot_at(pointer.at).has_value();
}

bool NetTool::click(const Pointer& pointer) {
    const auto spot = spot_at(pointer.at);
    if (!spot) {
        if (!chosen_.empty() && !answered_row()) {
            choose({});
        }
        return false;
    }
    const std::string name = control_point_name(spot->row, spot->column);
    std::set<std::string> names = chosen();
    if (answered_row() || pointer.holds(Qt::ShiftModifier)) {
        if (names.erase(name) == 0) {
            names.insert(name);
        }
    } else {
        names = {name};
    }
    choose(names);
    return true;
}

bool NetTool::press(const Pointer& pointer) {
    pulled_.reset();
    pressed_.reset();
    if (pointer.button != Qt::LeftButton) {
        return false;
    }
    if (pointer.holds(Qt::ControlModifier)) {
        frame_.begin(pointer.at);
        adds_ = pointer.holds(Qt::ShiftModifier);
        return true;
    }
    pressed_ = spot_at(pointer.at);
    pressed_at_ = pointer.at;
    return pressed_.has_value();
}

// The row that is answered, or the last one that moves just these points; else a new one. Rows before another change of
// the net speak of other points.
std::optional<model::Row> NetTool::row_to_pull() {
    const auto field = view().tool<RowTool>().rows();
    if (!field) {
        return std::nullopt;
    }
    auto all = std::get<model::Rows>(field->value);
    const auto has_way = [&](const model::Row& row) {
        const model::FieldOption* option = field->info.option(row.makes);
        return option != nullptr && option->has_way;
    };
    if (const auto answered = answered_row(); answered && has_way(*answered)) {
        return answered;
    }
    for (auto row = all.rbegin(); row != all.rend() && has_way(*row); ++row) {
        if (std::set<std::string>(row->of.begin(), row->of.end()) == chosen_) {
            return *row;
        }
    }
    const auto& first = *std::find_if(field->info.options.begin(), field->info.options.end(),
                                      [](const model::FieldOption& option) { return option.has_way; });
    all.push_back({free_row_name(all, first), first.value, {chosen_.begin(), chosen_.end()}});
    session().set_field(session().card(), field->info.key, all);
    return all.back();
}

void NetTool::drag(const Pointer& pointer) {
    if (!pressed_) {
        frame_.draw_to(pointer.at);
        emit view().hinted(frame_.hint());
        return;
    }
    const auto made = output();
    if (!pulled_ && made) {
        if (const std::string name = control_point_name(pressed_->row, pressed_->column); !chosen().contains(name)) {
            choose({name});
        }
        const auto row = row_to_pull();
        if (!row) {
            return;
        }
        off_ = normal_at(*pressed_);
        pulled_ = PulledRow{*row, Point3(made->net->at(pressed_->row, pressed_->column)), pressed_at_};
    }
    const auto field = pulled_ ? view().tool<RowTool>().rows() : std::nullopt;
    if (!field) {
        return;
    }
    const Vector3 by = pointer.holds(Qt::ShiftModifier) ? pulled_in_plane(view(), *pulled_, pointer.at)
                                                        : pulled_along(view(), *pulled_, pointer.at, off_);
    pull_row(view(), *pulled_, by, *field);
}

void NetTool::release(const Pointer& /*pointer*/, bool dragged) {
    frame_.end();
    if (dragged && !pressed_ && output()) {
        take_framed();
    }
    pulled_.reset();
    pressed_.reset();
}

void NetTool::take_framed() {
    std::set<std::string> names = adds_ || answered_row() ? chosen() : std::set<std::string>();
    const auto made = output();
    each_spot(*made->net, [&](int row, int column) {
        if (frame_.box().contains(place_of(made->net->at(row, column)))) {
            names.insert(control_point_name(row, column));
        }
    });
    choose(names);
}

bool NetTool::escape() {
    if (chosen_.empty() || answered_row()) {
        return false;
    }
    choose({});
    return true;
}

void NetTool::take_changes() {
    if (session().card() != step_) {
        chosen_.clear();
    }
}

// What lies behind the surface is not drawn through it.
void NetTool::paint_lines(QPainter& painter, const model::ControlNet& net) const {
    size_t places = 0;
    for (const auto& line : net.lines) {
        places += line.size();
    }
    constexpr size_t most = 6000; // to be looked for behind what is in front
    painter.setPen(QPen(theme().quiet, 0.7));
    for (const auto& line : net.lines) {
        QPolygonF seen;
        for (const model::Place& at : line) {
            if (places <= most && view().is_hidden(Point3(at))) {
                painter.drawPolyline(seen);
                seen.clear();
            } else {
                seen << place_of(Point3(at));
            }
        }
        painter.drawPolyline(seen);
    }
}

void NetTool::paint(QPainter& painter) {
    const auto made = in_use() ? output() : nullptr;
    if (!made) {
        return;
    }
    const model::ControlNet& net = *made->net;
    painter.setBrush(Qt::NoBrush);
    paint_lines(painter, net);
    std::vector<QPointF> seen;
    std::vector<bool> hidden;
    for (const model::Place& place : net.points) {
        seen.push_back(place_of(Point3(place)));
        hidden.push_back(view().is_hidden(Point3(place)));
    }
    const auto index = [&](int row, int column) {
        return static_cast<size_t>(row) * static_cast<size_t>(net.columns) + static_cast<size_t>(column);
    };
    const auto join = [&](size_t a, size_t b) {
        if (!hidden[a] && !hidden[b]) {
            painter.drawLine(seen[a], seen[b]);
        }
    };
    painter.setPen(hidden_line(theme().cutter, 0.8));
    each_spot(net, [&](int row, int column) {
        if (row + 1 < net.rows || net.rows_close) {
            join(index(row, column), index((row + 1) % net.rows, column));
        }
        if (column + 1 < net.columns || net.columns_close) {
            join(index(row, column), index(row, (column + 1) % net.columns));
        }
    });
    const auto names = chosen();
    each_spot(net, [&](int row, int column) {
        const bool taken = names.contains(control_point_name(row, column));
        const bool behind = hidden[index(row, column)];
        painter.setPen(QPen(behind ? theme().quiet : theme().cutter, behind ? 0.8 : 1.2));
        painter.setBrush(taken ? theme().cutter : theme().paper);
        const double half = taken ? 4 : behind ? 1.8 : 2.6;
        painter.drawRect(QRectF(seen[index(row, column)] - QPointF(half, half), QSizeF(2 * half, 2 * half)));
    });
    painter.setBrush(Qt::NoBrush);
    constexpr size_t few = 4;   // names of more would hide the surface
    constexpr int letters = 12; // pixels
    each_spot(net, [&](int row, int column) {
        if (names.size() <= few && names.contains(control_point_name(row, column))) {
            const QString name = QString::fromStdString(control_point_name(row, column));
            const QSizeF size = patch_of(name, letters);
            const QPointF beside(size.width() / 2 + 6, -size.height() / 2 - 4);
            view().labels().avoid(
                write(painter, seen[index(row, column)] + beside, name, theme().cutter, theme().paper, letters));
        }
    });
    frame_.paint(painter, theme());
}

std::unique_ptr<ViewTool> make_net_tool(Viewport& view) {
    return std::make_unique<NetTool>(view);
}

} // namespace kervo::app
