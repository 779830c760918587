// Numbers and places that are typed while something is drawn.
#include "app/drawing/drawing.h"
#include "base/assignment.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace kervo::app {

using sketch::Point2;

std::vector<QString> Drawing::asks_for() const {
    const auto& asks = info_of(tool_).asks;
    return placed_.size() < asks.size() ? asks[placed_.size()] : std::vector<QString>{};
}

std::vector<QString> Drawing::asks_for_place() const {
    const DrawToolInfo& info = info_of(tool_);
    if (!picks_places() || (info.places != 0 && placed_.size() >= info.places)) {
        return {};
    }
    const std::vector<QString> from_last{QObject::tr("angle"), QObject::tr("right"), QObject::tr("up")};
    std::vector<QString> labels = placed_.empty() ? std::vector<QString>{} : from_last;
    labels.insert(labels.end(), {QObject::tr("x"), QObject::tr("y")});
    return labels;
}

std::optional<Snap> Drawing::typed_place(const std::vector<std::string>& formulas,
                                         const ParameterValues& parameters) const {
    const auto labels = asks_for_place();
    std::map<QString, double> typed;
    for (size_t i = 0; i < std::min(labels.size(), formulas.size()); ++i) {
        if (formulas[i].empty()) {
            continue;
        }
        const bool turns = labels[i] == QObject::tr("angle");
        const auto value = evaluate_as(formula_in(formulas[i]), parameters, turns ? angle_dimension : length_dimension);
        if (!value) {
            return std::nullopt;
        }
        typed[labels[i]] = *value;
    }
    if (typed.empty()) {
        return std::nullopt;
    }
    Snap place;
    place.at = pointer_.at;
    const Point2 last = placed_.empty() ? Point2{} : placed_.back().at;
    const auto given = [&](const QString& label) { return typed.contains(label); };
    const QString names[2][2] = {{QObject::tr("x"), QObject::tr("right")}, {QObject::tr("y"), QObject::tr("up")}};
    const bool relative = given(names[0][1]) || given(names[1][1]);
    for (size_t i = 0; i < 2; ++i) {
        if (given(names[i][0])) {
            place.at[i] = typed[names[i][0]];
        } else if (relative) { // what is not said does not move
            place.at[i] = last[i] + (given(names[i][1]) ? typed[names[i][1]] : 0);
        }
    }
    if (given(QObject::tr("angle"))) {
        const double way = typed[QObject::tr("angle")];
        const double far =
            std::max(sketch::distance(last, pointer_.at), 1.0); // the way alone, where it lies on the last
        place.at = {last[0] + far * std::cos(way), last[1] + far * std::sin(way)};
        place.level = std::fabs(std::sin(way)) < 1e-9;
        place.plumb = std::fabs(std::cos(way)) < 1e-9;
    }
    place.fixed = given(names[0][0]) && given(names[1][0]);
    return place;
}

void Drawing::finish_typed(const std::vector<std::string>& formulas, const ParameterValues& parameters) {
    const auto own = static_cast<std::ptrdiff_t>(std::min(asks_for().size(), formulas.size()));
    const std::vector<std::string> numbers(formulas.begin(), formulas.begin() + own);
    const std::vector<std::string> coordinates(formulas.begin() + own, formulas.end());
    const auto place = typed_place(coordinates, parameters);
    const auto said = [](const std::string& text) { return !text.empty(); };
    if (!place && std::any_of(coordinates.begin(), coordinates.end(), said)) {
        told_ = QObject::tr("One of these is no length, or no angle; type it again.");
        return;
    }
    const bool sized = std::any_of(numbers.begin(), numbers.end(), said);
    if (place && !sized) {
        pointer_ = *place;
        put(*place);
        return;
    }
    if (placed_.empty() || numbers.empty()) {
        return;
    }
    if (info_of(tool_).changes) {
        edit_typed(numbers, parameters);
        return;
    }
    if (place) {
        pointer_ = *place;
    }
    // The pointer is the last place, where it says anything.
    if (placed_.size() < info_of(tool_).places) {
        Snap last = pointer_;
        // Beside a first place where the pointer still lies, it says nothing about the way of a base line.
        const double silent = tool_ == DrawTool::text ? reach_ : 1e-9;
        if (sketch::distance(last.at, placed_.back().at) <= silent) {
            last = {};
            last.at = {placed_.back().at[0] + 1, placed_.back().at[1]}; // to the right, where the pointer says nothing
            last.level = tool_ == DrawTool::text;
        }
        placed_.push_back(last);
    }
    if (tool_ == DrawTool::text) {
        wanted_.words = numbers[0].empty() ? wanted_.words : numbers[0];
        wanted_.letter_height = numbers[1].empty() ? wanted_.letter_height : numbers[1];
        const auto height = evaluate_as(formula_in(wanted_.letter_height), parameters, length_dimension);
        wanted_.letter_size = height && *height > 0 ? *height : wanted_.letter_size;
    }
    if (tool_ == DrawTool::polygon) {
        const auto sides = evaluate_as(numbers[0], parameters, plain_number);
        wanted_.sides = sides && *sides >= 3 ? static_cast<int>(std::lround(*sides)) : wanted_.sides;
    }
    complete(numbers, parameters);
}

} // namespace kervo::app
