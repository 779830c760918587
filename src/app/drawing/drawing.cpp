#include "app/drawing/drawing.h"

#include "sketch/solve.h"

#include <QObject>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::app {

using sketch::ConstraintKind;
using sketch::CurveKind;
using sketch::Point2;

int Drawing::nearest(const Point2& place, double reach) const {
    int best = 0;
    double least = reach;
    for (const auto& point : sketch_.points) {
        const double d = sketch::distance({point.x, point.y}, place);
        if (d <= least) {
            least = d;
            best = point.id;
        }
    }
    if (best == 0) {
        best = nearest_curve(sketch_, place, reach);
    }
    if (best != 0) {
        return best;
    }
    for (const auto& outline : figures_) {
        for (const auto& stretch : outline.stretches) {
            const auto box = stretch.box();
            if (place[0] < box[0] - least || place[1] < box[1] - least || place[0] > box[2] + least ||
                place[1] > box[3] + least) {
                continue;
            }
            if (const double d = sketch::nearest_on(stretch, place).second; d <= least) {
                least = d;
                best = stretch.curve;
            }
        }
    }
    return best;
}

int nearest_curve(const sketch::Sketch& sketch, const Point2& place, double reach) {
    int best = 0;
    double least = reach;
    for (const auto& stretch : sketch::stretches_of(sketch, true)) {
        if (const double d = sketch::nearest_on(stretch, place).second; d <= least) {
            least = d;
            best = stretch.curve;
        }
    }
    return best;
}

void Drawing::begin(const sketch::Sketch& solved, Commit commit) {
    show(solved);
    commit_ = std::move(commit);
    placed_.clear();
    selected_.clear();
    tool_ = DrawTool::select;
}

void Drawing::refresh(const sketch::Sketch& solved) {
    if (pulled_ != 0 && solved.point(pulled_) != nullptr) {
        return; // what is in the hand is newer than any picture
    }
    pulled_ = 0;
    show(solved);
    // What is half drawn hangs on nothing that is gone, as it may be after an undo.
    if (std::any_of(placed_.begin(), placed_.end(), [&](const Snap& snap) {
            return (snap.point != 0 && solved.point(snap.point) == nullptr) ||
                   (snap.curve != 0 && solved.curve(snap.curve) == nullptr);
        })) {
        placed_.clear();
    }
    drop_what_is_gone();
    for (Snap& snap : placed_) {
        if (snap.point != 0 && solved.point(snap.point) != nullptr) {
            snap.at = sketch::place_of(solved, snap.point);
        }
    }
}

void Drawing::set_tool(DrawTool tool) {
    tool_ = tool;
    placed_.clear();
    told_.clear();
    untied_ = false; // it was meant for a pick that is not made
    const bool uses_selection = tool == DrawTool::select || tool == DrawTool::dimension || tool == DrawTool::mirror ||
                                tool == DrawTool::repeat_line || tool == DrawTool::repeat_ring;
    if (!uses_selection) {
        selected_.clear();
    }
}

std::vector<Snap> Drawing::snaps(const Point2& place, double reach) const {
    if (straight_ && !placed_.empty()) {
        return {straightened(place)};
    }
    const auto last = placed_.empty() ? std::nullopt : std::optional(placed_.back().at);
    auto found = snaps_near({sketch_, beside_, last, grid_}, place, reach);
    const bool stands_out = !found.empty() && found.front().kind != SnapKind::grid;
    if (!stands_out && last && (tool_ == DrawTool::line || tool_ == DrawTool::text)) {
        Snap aligned;
        aligned.at = found.empty() ? place : found.front().at;
        if (std::fabs(place[1] - (*last)[1]) < reach * 0.7) {
            aligned.at[1] = (*last)[1];
            aligned.level = true;
        } else if (std::fabs(place[0] - (*last)[0]) < reach * 0.7) {
            aligned.at[0] = (*last)[0];
            aligned.plumb = true;
        }
        if (aligned.level || aligned.plumb) {
            aligned.kind = aligned.level ? SnapKind::level : SnapKind::plumb;
            aligned.what = word_for(aligned.kind);
            return {aligned};
        }
    }
    if (found.empty()) {
        found.emplace_back().at = place;
    }
    return found;
}

Snap Drawing::snap(const Point2& place, double reach) const {
    return meant_of(snaps(place, reach), place, reach);
}

Snap Drawing::meant_of(const std::vector<Snap>& found, const Point2& place, double reach) const {
    const bool stays = sketch::distance(place, chosen_at_) < reach / 2;
    const Snap& best = found[stays ? chosen_ % found.size() : 0];
    return untied_ ? untied(best) : best;
}

bool Drawing::picks_places() const {
    const DrawToolInfo& info = info_of(tool_);
    return tool_ != DrawTool::select && tool_ != DrawTool::dimension && !info.changes && !info.takes;
}

bool Drawing::next_of_crowd() {
    if (crowd_.size() < 2 || !picks_places()) {
        return false;
    }
    chosen_ = sketch::distance(pointed_, chosen_at_) < reach_ / 2 ? (chosen_ + 1) % crowd_.size() : 1;
    chosen_at_ = pointed_;
    pointer_ = snap(pointed_, reach_);
    return true;
}

bool Drawing::refuse_tie() {
    if (!picks_places() || (!untied_ && pointer_.what.isEmpty())) {
        return false;
    }
    untied_ = !untied_;
    pointer_ = snap(pointed_, reach_);
    return true;
}

void Drawing::hover(const Point2& place, double reach) {
    reach_ = reach;
    pointed_ = place;
    crowd_ = snaps(place, reach);
    pointer_ = meant_of(crowd_, place, reach);
    if (!picks_places()) {
        crowd_.clear();
    }
    if (info_of(tool_).changes) {
        pointer_.at = place; // these tools point at parts of curves, not at places
    }
}

void Drawing::click(const Point2& place, double reach) {
    reach_ = reach;
    const DrawToolInfo& info = info_of(tool_);
    if (tool_ == DrawTool::select || tool_ == DrawTool::dimension) {
        const int hit = nearest(place, reach);
        if (hit == 0) {
            selected_.clear();
        } else if (!selected_.erase(hit)) {
            selected_.insert(hit);
        }
        return;
    }
    if (info.changes) {
        click_edit(place, reach);
        return;
    }
    pointer_ = snap(place, reach);
    put(pointer_);
}

void Drawing::put(const Snap& place) {
    if (!placed_.empty() && sketch::distance(placed_.back().at, place.at) < 1e-6) {
        return;
    }
    placed_.push_back(place);
    untied_ = false;
    chosen_ = 0;
    const DrawToolInfo& info = info_of(tool_);
    const bool closes =
        info.places == 0 && placed_.size() > 3 && sketch::distance(placed_.front().at, placed_.back().at) < 1e-9;
    if (placed_.size() == info.places || closes) {
        complete({}, {});
    }
}

void Drawing::select(const std::set<int>& ids, bool more) {
    if (!more) {
        selected_.clear();
    }
    selected_.insert(ids.begin(), ids.end());
}

bool Drawing::finish() {
    if (info_of(tool_).places != 0 || placed_.size() < 2) {
        return false;
    }
    complete({}, {});
    return true;
}

void Drawing::complete(const std::vector<std::string>& formulas, const ParameterValues& parameters) {
    auto next = with_shape(placed_, formulas, parameters);
    if (!next) {
        placed_.pop_back();
        told_ = QObject::tr("These places make no such curve; pick the last one again.");
        return;
    }
    told_.clear();
    const Snap end = placed_.back();
    placed_.clear();
    if (tool_ == DrawTool::line && end.point == 0) {
        // The chain goes on from here, unless it has come back to a point that was there.
        Snap tail = end;
        tail.point = next->curves.back().points[1];
        tail.at = sketch::place_of(*next, tail.point);
        tail.level = tail.plumb = false;
        tail.curve = 0;
        tail.kind = SnapKind::end;
        placed_.push_back(tail);
    }
    take(std::move(*next));
}

bool Drawing::escape() {
    told_.clear();
    untied_ = false;
    if (!placed_.empty()) {
        placed_.clear();
        return true;
    }
    if (tool_ != DrawTool::select) {
        tool_ = DrawTool::select;
        return true;
    }
    if (!selected_.empty()) {
        selected_.clear();
        return true;
    }
    return false;
}

bool Drawing::remove_selected() {
    if (selected_.empty()) {
        return false;
    }
    auto next = sketch_;
    for (const int id : selected_) {
        next.remove(id);
    }
    selected_.clear();
    take(std::move(next));
    return true;
}

Snap Drawing::straightened(const Point2& place) const {
    constexpr double step = std::numbers::pi / 12;
    const Point2& last = placed_.back().at;
    const double way = std::round(std::atan2(place[1] - last[1], place[0] - last[0]) / step) * step;
    const double far = (place[0] - last[0]) * std::cos(way) + (place[1] - last[1]) * std::sin(way);
    Snap straight;
    straight.at = {last[0] + far * std::cos(way), last[1] + far * std::sin(way)};
    straight.level = std::fabs(std::sin(way)) < 1e-9;
    straight.plumb = std::fabs(std::cos(way)) < 1e-9;
    straight.kind = SnapKind::turn;
    straight.what = QObject::tr("%1\u00b0").arg(std::lround(way * 180 / std::numbers::pi));
    return straight;
}

bool Drawing::toggle_guides() {
    auto next = sketch_;
    bool any = false;
    for (const int id : selected_) {
        if (auto* curve = next.curve(id)) {
            curve->construction = !curve->construction;
            any = true;
        }
    }
    if (any) {
        take(std::move(next));
    }
    return any;
}

void Drawing::show(sketch::Sketch next) {
    sketch_ = std::move(next);
    figures_ = sketch::figure_outlines(sketch_);
}

void Drawing::drop_what_is_gone() {
    std::erase_if(selected_, [this](int id) { return !sketch_.has(id); });
}

void Drawing::take_point(const Point2& place, double reach) {
    const int hit = tool_ == DrawTool::select ? nearest(place, reach) : 0;
    pulled_ = sketch_.point(hit) != nullptr ? hit : 0;
}

void Drawing::pull_point(const Point2& place, const ParameterValues& parameters) {
    show(sketch::drag(sketch_, parameters, {{pulled_, place}}));
}

void Drawing::let_go() {
    if (pulled_ != 0) {
        pulled_ = 0;
        take(sketch_);
    }
}

QString Drawing::constrain(ConstraintKind kind, const std::string& formula) {
    auto next = sketch_;
    const std::vector<int> chosen(selected_.begin(), selected_.end());
    // Points and curves may have to stand in either order; what the structure accepts is taken.
    auto order = chosen;
    constexpr size_t most_operands = 3; // a frame may have selected hundreds
    do {
        if (order.size() > most_operands) {
            break;
        }
        auto attempt = next;
        attempt.add_constraint(kind, order, formula);
        if (!has_error(sketch::check_structure(attempt))) {
            selected_.clear();
            take(std::move(attempt));
            return {};
        }
    } while (std::next_permutation(order.begin(), order.end()));
    // A constraint that takes one thing goes on each of several.
    size_t fitting = 0;
    for (const int one : chosen) {
        auto attempt = next;
        attempt.add_constraint(kind, {one}, formula);
        if (!has_error(sketch::check_structure(attempt))) {
            next = std::move(attempt);
            ++fitting;
        }
    }
    if (fitting > 0 && fitting == chosen.size()) {
        selected_.clear();
        take(std::move(next));
        return {};
    }
    return chosen.empty() ? QObject::tr("Select points or curves first.")
                          : QObject::tr("This constraint does not fit what is selected.");
}

std::optional<std::pair<ConstraintKind, double>> Drawing::dimension_of_selection() const {
    std::vector<const sketch::Curve*> curves;
    std::vector<int> points;
    for (const int id : selected_) {
        if (const auto* curve = sketch_.curve(id)) {
            curves.push_back(curve);
        } else if (sketch_.point(id) != nullptr) {
            points.push_back(id);
        } else {
            return std::nullopt; // figures have their own numbers
        }
    }
    const auto stretch_of = [&](const sketch::Curve& curve) {
        for (const auto& stretch : sketch::stretches_of(sketch_, true)) {
            if (stretch.curve == curve.id) {
                return stretch;
            }
        }
        return sketch::Stretch{};
    };
    if (curves.size() == 1 && points.empty()) {
        const auto stretch = stretch_of(*curves[0]);
        if (curves[0]->kind == CurveKind::line) {
            return std::pair(ConstraintKind::distance, stretch.length());
        }
        return curves[0]->kind == CurveKind::circle ? std::pair(ConstraintKind::diameter, 2 * stretch.radius)
                                                    : std::pair(ConstraintKind::radius, stretch.radius);
    }
    if (points.size() == 2 && curves.empty()) {
        return std::pair(ConstraintKind::distance,
                         sketch::distance(sketch::place_of(sketch_, points[0]), sketch::place_of(sketch_, points[1])));
    }
    if (points.size() == 1 && curves.size() == 1 && curves[0]->kind == CurveKind::line) {
        const auto stretch = stretch_of(*curves[0]);
        const Point2 place = sketch::place_of(sketch_, points[0]);
        return std::pair(ConstraintKind::distance,
                         sketch::distance(place, stretch.at(sketch::nearest_parameter(stretch, place))));
    }
    if (curves.size() == 2 && points.empty() && curves[0]->kind == CurveKind::line &&
        curves[1]->kind == CurveKind::line) {
        double angle = stretch_of(*curves[1]).heading(true) - stretch_of(*curves[0]).heading(true);
        angle = std::remainder(angle, 2 * std::numbers::pi);
        return std::pair(ConstraintKind::angle, angle);
    }
    return std::nullopt;
}

QString Drawing::hint() const {
    if (!told_.isEmpty()) {
        return told_;
    }
    if (tool_ == DrawTool::select) {
        return selected_.empty()
                   ? QObject::tr(
                         "Next pick: a point or curve of the sketch; drag a point to move it, beside it for a frame")
                   : QObject::tr("%1 selected; choose a constraint, or Delete; Escape lets go").arg(selected_.size());
    }
    if (tool_ == DrawTool::dimension) {
        return dimension_of_selection()
                   ? QObject::tr("Type the dimension; a number, a unit or a formula")
                   : QObject::tr("Next pick: a line, a circle, or two points to measure; Escape ends it");
    }
    // The gesture, and what may be done instead.
    const auto& prompts = info_of(tool_).prompts;
    const QString prompt = prompts[std::min(placed_.size(), prompts.size() - 1)];
    const QString instead = picks_places()    ? QObject::tr("or type its place")
                            : placed_.empty() ? QObject::tr("Escape ends it")
                                              : QObject::tr("Escape drops the first pick");
    return prompt.contains(';') || prompt.contains(QObject::tr("type")) ? prompt : prompt + "; " + instead;
}

} // namespace kervo::app
