// The tools that change what is drawn: what a click does, what is shown before it, what is told after it.
#include "app/drawing/drawing.h"
#include "app/look/counted.h"
#include "base/assignment.h"

#include <QObject>

#include <cmath>

namespace kervo::app {

using sketch::Point2;
using sketch::Sketch;

namespace {

constexpr int shown_copies = 6; ///< of a row or ring, before it is said how many

// Something may be split by others that cross it; where nothing does, at the place.
sketch::Edited split_somehow(const sketch::Sketch& sketch, int curve, const Point2& place) {
    auto edited = sketch::split(sketch, curve);
    return edited.problem ? sketch::split_at(sketch, curve, place) : edited;
}

std::string text_of(double mm) {
    return format_quantity(mm, "mm", 3) + " mm";
}

} // namespace

void Drawing::take(sketch::Sketch next) {
    show(std::move(next));
    if (commit_) {
        commit_(sketch_);
    }
}

void Drawing::take(const sketch::Edited& edited) {
    if (edited.problem) {
        told_ = QString::fromStdString(edited.problem->cause + " " + edited.problem->mend);
        return;
    }
    told_ = QString::fromStdString(edited.told);
    placed_.clear();
    take(edited.sketch);
    drop_what_is_gone();
}

void Drawing::take_over(const std::vector<model::Taken>& taken) {
    auto next = sketch_;
    const auto fresh = model::add_taken(next, taken);
    told_ = fresh.empty() ? QObject::tr("This is taken already.")
                          : counted(static_cast<qsizetype>(fresh.size()), QObject::tr("curve follows the model"),
                                    QObject::tr("curves follow the model"));
    if (!fresh.empty()) {
        take(std::move(next));
    }
}

bool Drawing::freeze() {
    auto next = sketch_;
    bool any = false;
    for (const int id : selected_) {
        any = model::freeze(next, id, true) || any;
    }
    if (!any) { // all of them are: they follow again
        for (const int id : selected_) {
            any = model::freeze(next, id, false) || any;
        }
    }
    if (any) {
        take(std::move(next));
    }
    return any;
}

std::set<int> Drawing::chain_around(int curve, bool with_free) const {
    std::set<int> chain{curve};
    const bool guides = sketch_.curve(curve)->construction;
    const sketch::SharedEnds shared(sketch_);
    for (bool grown = true; grown;) {
        grown = false;
        for (const sketch::Curve& other : sketch_.curves) {
            const bool straight_or_round =
                other.kind == sketch::CurveKind::line || other.kind == sketch::CurveKind::arc;
            if (chain.contains(other.id) || other.construction != guides || !(straight_or_round || with_free)) {
                continue;
            }
            for (const int known : chain) {
                if (shared.between(*sketch_.curve(known), other)) {
                    chain.insert(other.id);
                    grown = true;
                    break;
                }
            }
        }
    }
    return chain;
}

sketch::Edited Drawing::offset_to(const Point2& place, const std::string& formula, double value) const {
    const auto chain = chain_around(placed_[0].curve);
    double away = 1e300;
    for (const int id : chain) {
        away = std::min(away, sketch::nearest_on(sketch::stretch_of(sketch_, *sketch_.curve(id)), place).second);
    }
    const double distance = value > 0 ? value : std::max(away, 1e-3);
    return sketch::offset(sketch_, chain, formula.empty() ? text_of(distance) : formula, distance, place,
                          tool_ == DrawTool::round_offset);
}

void Drawing::click_edit(const Point2& place, double reach) {
    told_.clear();
    const int curve = nearest_curve(sketch_, place, 2 * reach);
    switch (tool_) {
    case DrawTool::trim:
        take(sketch::trim(sketch_, curve, place));
        break;
    case DrawTool::extend:
        take(sketch::extend(sketch_, curve, place));
        break;
    case DrawTool::split:
        take(split_somehow(sketch_, curve, place));
        break;
    case DrawTool::join:
        if (placed_.empty() && curve != 0) {
            Snap at;
            at.curve = curve;
            at.at = place;
            placed_ = {at};
        } else {
            const int first = placed_.empty() ? 0 : placed_[0].curve;
            placed_.clear();
            take(sketch::join(sketch_, first, curve));
        }
        break;
    case DrawTool::close_chain:
        take(curve == 0 ? sketch::close_chain(sketch_, {}) : sketch::close_chain(sketch_, chain_around(curve, true)));
        break;
    case DrawTool::spline_point:
        take(sketch::add_spline_point(sketch_, curve, place));
        break;
    case DrawTool::mirror:
        take(sketch::mirror(sketch_, selected_, curve));
        break;
    case DrawTool::round:
    case DrawTool::bevel: {
        const int corner = nearest(place, 2 * reach);
        if (sketch_.point(corner) == nullptr) {
            told_ = QObject::tr("There is no corner here. Point at a point where two lines end.");
            return;
        }
        Snap at;
        at.point = corner;
        at.at = {sketch_.point(corner)->x, sketch_.point(corner)->y};
        placed_ = {at};
        break;
    }
    case DrawTool::offset:
    case DrawTool::round_offset:
        if (placed_.empty()) {
            if (curve == 0) {
                told_ = QObject::tr("There is no curve here. Point at a chain of lines and arcs, or at a circle.");
                return;
            }
            Snap at;
            at.curve = curve;
            at.at = place;
            placed_ = {at};
        } else {
            take(offset_to(place, {}, 0));
        }
        break;
    case DrawTool::repeat_line:
    case DrawTool::repeat_ring: {
        if (selected_.empty()) {
            told_ = QObject::tr("Select the curves first, then take up this tool.");
            return;
        }
        Snap at = snap(place, reach);
        if (placed_.size() < info_of(tool_).places) {
            placed_.push_back(at);
        }
        break;
    }
    default:
        break;
    }
}

bool Drawing::waits_for_numbers() const {
    const DrawToolInfo& info = info_of(tool_);
    return info.changes && !offsets() && placed_.size() == info.places && !asks_for().empty();
}

void Drawing::edit_typed(const std::vector<std::string>& formulas, const ParameterValues& parameters) {
    const bool counts = tool_ == DrawTool::repeat_line || tool_ == DrawTool::repeat_ring;
    const auto number = evaluate_as(formula_in(formulas[0]), parameters, counts ? plain_number : length_dimension);
    if (!number) {
        told_ = QString::fromStdString(number.finding().cause + " " + number.finding().mend);
        return;
    }
    switch (tool_) {
    case DrawTool::round:
        take(sketch::round_corner(sketch_, placed_[0].point, formulas[0], *number));
        break;
    case DrawTool::bevel:
        take(sketch::bevel_corner(sketch_, placed_[0].point, formulas[0], *number));
        break;
    case DrawTool::offset:
    case DrawTool::round_offset:
        take(offset_to(pointer_.at, formulas[0], *number));
        break;
    case DrawTool::repeat_line:
    case DrawTool::repeat_ring:
        take(repeated(formulas[0], *number));
        break;
    default:
        break;
    }
    placed_.clear();
}

sketch::Edited Drawing::repeated(const std::string& count, double value) const {
    Sketch next = sketch_;
    std::vector<int> points;
    for (const Snap& snap : placed_) {
        points.push_back(point_for(next, snap));
    }
    return tool_ == DrawTool::repeat_ring ? sketch::repeat_in_ring(next, selected_, count, value, points[0])
                                          : sketch::repeat_in_line(next, selected_, count, value, points[0], points[1]);
}

sketch::Preview Drawing::preview() const {
    const Point2& place = pointer_.at;
    if (const bool counts = tool_ == DrawTool::repeat_line || tool_ == DrawTool::repeat_ring;
        counts && !placed_.empty() && placed_.size() == info_of(tool_).places) {
        sketch::Preview shown;
        shown.more = added_in(repeated(std::to_string(shown_copies), shown_copies).sketch);
        return shown;
    }
    if (offsets() && !placed_.empty()) {
        sketch::Preview shown;
        shown.more = added_in(offset_to(place, {}, 0).sketch);
        return shown;
    }
    const int curve = nearest_curve(sketch_, place, 2 * reach_);
    if (tool_ == DrawTool::join && (curve != 0 || !placed_.empty())) { // which two: marked
        sketch::Preview shown;
        for (const int each : std::set<int>{placed_.empty() ? 0 : placed_[0].curve, curve}) {
            if (each != 0) {
                shown.cut_by.push_back(each);
            }
        }
        return shown;
    }
    if (tool_ == DrawTool::close_chain && curve != 0) {
        sketch::Preview shown;
        shown.more = added_in(sketch::close_chain(sketch_, chain_around(curve, true)).sketch);
        return shown;
    }
    if (tool_ == DrawTool::trim && curve != 0) {
        return sketch::trim_preview(sketch_, curve, place);
    }
    if (tool_ == DrawTool::extend && curve != 0) {
        const sketch::Preview longer = sketch::extend_preview(sketch_, curve, place);
        sketch::Preview shown;
        shown.cut_by = longer.cut_by;
        if (longer.part) {
            shown.more.push_back(*longer.part);
        }
        return shown;
    }
    return {};
}

} // namespace kervo::app
