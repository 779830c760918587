#include "model/cutting/pattern.h"

#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/outline/path.h"
#include "geom/outline/profile.h"
#include "model/sketching/sketch_plane.h"

#include <gp_Ax1.hxx>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

namespace kervo::model {

std::vector<const sketch::Point*> points_of(const sketch::Sketch& sketch, bool alone, bool centers) {
    std::set<int> used;
    std::set<int> middles;
    for (const sketch::Curve& curve : sketch.curves) {
        used.insert(curve.points.begin(), curve.points.end());
        if (curve.kind == sketch::CurveKind::circle || curve.kind == sketch::CurveKind::arc) {
            middles.insert(curve.points.front());
        }
    }
    for (const sketch::Figure& figure : sketch.figures) {
        used.insert(figure.points.begin(), figure.points.end());
    }
    std::vector<const sketch::Point*> chosen;
    for (const sketch::Point& point : sketch.points) {
        if ((alone && !used.contains(point.id)) || (centers && middles.contains(point.id))) {
            chosen.push_back(&point);
        }
    }
    return chosen;
}

namespace {

constexpr int most_copies = 20000;

class Placing {
public:
    Placing(const Pattern& pattern, const gp_Pnt& from, Answers& answers)
        : pattern_(pattern), from_(from), answers_(answers) {
        if (pattern.arrange.value != "mirror") { // it is not asked there
            left_out_.insert(pattern.left_out.all.begin(), pattern.left_out.all.end());
        }
    }

    void place() {
        const std::string& arrange = pattern_.arrange.value;
        if (arrange == "line") {
            const gp_Vec step =
                step_along(pattern_.direction, "along", pattern_.along, pattern_.spacing, "spacing", columns());
            for (int i = 1; i < columns_; ++i) {
                add(shift(step * i), std::to_string(i + 1), i, 0);
            }
        } else if (arrange == "grid") {
            grid();
        } else if (arrange == "ring") {
            ring();
        } else if (arrange == "mirror") {
            mirror();
        } else if (arrange == "path") {
            along_path();
        } else {
            at_points();
        }
    }

    [[nodiscard]] std::vector<Pattern::Copy> copies() && { return std::move(copies_); }
    [[nodiscard]] const std::vector<PlacedCopy>& placed() const { return placed_; }

private:
    int count(const char* field, const Expression& expression, int least) {
        const double value = answers_.number(field, expression, plain_number);
        const int whole = static_cast<int>(std::lround(value));
        if (answers_.ok() && (std::fabs(value - whole) > 1e-9 || whole < least || whole > most_copies)) {
            answers_.report(field, error_finding("pattern.count", "So many cannot be made.",
                                                 "Give a whole number from " + std::to_string(least) + " to " +
                                                     std::to_string(most_copies) + "."));
        }
        return answers_.ok() ? whole : least;
    }
    int columns() { return columns_ = count("count", pattern_.count, pattern_.arrange.value == "grid" ? 1 : 2); }

    static gp_Trsf shift(const gp_Vec& by) {
        gp_Trsf move;
        move.SetTranslation(by);
        return move;
    }

    gp_Vec step_along(const Choice& direction, const char* element_field, const References& element,
                      const Expression& spacing, const char* spacing_field, int number) {
        const auto way = answers_.axis(element_field, direction, element);
        const double length = answers_.number(spacing_field, spacing, length_dimension);
        if (answers_.ok() && std::fabs(length) <= geom::coincidence) {
            answers_.report(spacing_field, error_finding("pattern.spacing", "All would stand at one place.",
                                                         "Give a spacing that is not zero."));
        }
        const bool whole = pattern_.spacing_is.value == "whole" && number > 1;
        return gp_Vec(way.Direction()) * (whole ? length / (number - 1) : length);
    }

    void grid() {
        const gp_Vec step =
            step_along(pattern_.direction, "along", pattern_.along, pattern_.spacing, "spacing", columns());
        const int rows = count("second_count", pattern_.second_count, 1);
        const gp_Vec to_row = step_along(pattern_.second_direction, "second_along", pattern_.second_along,
                                         pattern_.second_spacing, "second_spacing", rows);
        if (answers_.ok() && static_cast<long>(rows) * columns_ > most_copies) {
            answers_.report("second_count",
                            error_finding("pattern.count", "So many cannot be made.", "Give smaller numbers."));
        }
        if (answers_.ok() && step.IsParallel(to_row, 1e-9)) {
            answers_.report("second_direction",
                            error_finding("pattern.one_line", "Both directions of the grid are the same.",
                                          "Choose another direction for the rows."));
        }
        for (int row = 0; answers_.ok() && row < rows; ++row) {
            for (int i = row == 0 ? 1 : 0; i < columns_; ++i) {
                add(shift(step * i + to_row * row), std::to_string(i + 1) + "." + std::to_string(row + 1), i, row);
            }
        }
    }

    void ring() {
        const gp_Ax1 axis = answers_.axis("axis_element", pattern_.axis, pattern_.axis_element);
        const int number = columns();
        double each = 2 * std::numbers::pi / number;
        if (pattern_.turn.value == "angle") {
            each = answers_.number("angle", pattern_.angle, angle_dimension);
            if (answers_.ok() &&
                (std::fabs(each) < 1e-6 || std::fabs(each) * (number - 1) > 2 * std::numbers::pi - 1e-6)) {
                answers_.report("angle", error_finding("pattern.angle", "Some would stand at the same place.",
                                                       "Give an angle that does not go once round."));
            }
        }
        for (int i = 1; answers_.ok() && i < number; ++i) {
            gp_Trsf move;
            move.SetRotation(axis, each * i);
            add(move, std::to_string(i + 1), i, 0);
        }
    }

    void mirror() {
        gp_Ax2 at(gp_Pnt(0, 0, 0), pattern_.plane.value == "xy"   ? gp_Dir(0, 0, 1)
                                   : pattern_.plane.value == "xz" ? gp_Dir(0, 1, 0)
                                                                  : gp_Dir(1, 0, 0));
        if (pattern_.plane.value == "face") {
            const TopoDS_Shape face = answers_.element("mirror_face", pattern_.mirror_face);
            const auto plane = face.IsNull() ? std::nullopt : geom::plane_of(face);
            if (!plane) {
                if (answers_.ok()) {
                    answers_.report("mirror_face",
                                    error_finding("pattern.curved", "This face is curved.", "Pick a flat face."));
                }
                return;
            }
            at = gp_Ax2(plane->Location(), plane->Axis().Direction());
        }
        gp_Trsf move;
        move.SetMirror(at);
        copies_.push_back({move, 1, "2"});
    }

    void along_path() {
        std::vector<TopoDS_Shape> edges;
        for (const auto& [body, edge, own] : answers_.elements("path", pattern_.path)) {
            edges.push_back(edge);
        }
        const int number = columns();
        if (!answers_.ok()) {
            return;
        }
        const auto chain = geom::chain_of(edges);
        if (!chain) {
            answers_.report("path", chain.finding());
            return;
        }
        auto places = geom::places_along(*chain, number);
        if (from_.Distance(places.back().point) < from_.Distance(places.front().point)) {
            std::reverse(places.begin(), places.end()); // it begins where the first one is
            for (auto& place : places) {
                place.along.Reverse();
            }
        }
        for (int i = 1; i < number; ++i) {
            const auto& start = places.front();
            const auto& here = places[static_cast<size_t>(i)];
            gp_Trsf move = shift(gp_Vec(start.point, here.point));
            if (pattern_.orientation.value == "following") {
                gp_Trsf turn;
                turn.SetRotation(here.turn * start.turn.Inverted());
                move = move * shift(gp_Vec(gp_Pnt(), start.point)) * turn * shift(gp_Vec(start.point, gp_Pnt()));
            }
            add(move, std::to_string(i + 1), i, 0);
        }
    }

    void at_points() {
        const auto drawn = answers_.sketch("points", pattern_.points);
        if (!drawn) {
            return;
        }
        const auto points = points_of(drawn->solution.sketch, true, false);
        if (points.size() < 2) {
            answers_.report("points",
                            error_finding("pattern.no_points", "The sketch has no two points that stand alone.",
                                          "Draw a point where the first one stands, and one for each copy."));
            return;
        }
        const auto place = [&](const sketch::Point& p) { return in_space(drawn->frame, {p.x, p.y}); };
        for (size_t i = 1; i < points.size(); ++i) {
            add(shift(gp_Vec(place(*points.front()), place(*points[i]))), "p" + std::to_string(points[i]->id),
                static_cast<double>(i), 0);
        }
    }

    void add(const gp_Trsf& move, const std::string& name, double index, double row) {
        if (!answers_.ok()) {
            return;
        }
        const double away = from_.Distance(from_.Transformed(move));
        const std::map<std::string, Quantity> own{
            {"index", {index, plain_number}}, {"row", {row, plain_number}}, {"away", {away, length_dimension}}};
        if (answers_.number("only_where", pattern_.only_where, plain_number, own) == 0) {
            return;
        }
        const gp_Pnt at = from_.Transformed(move);
        const bool left_out = left_out_.contains(name);
        if (pattern_.arrange.value != "mirror") {
            placed_.push_back({name, {at.X(), at.Y(), at.Z()}, left_out});
        }
        if (left_out) {
            return;
        }
        const double scale = answers_.number("scale", pattern_.scale, plain_number, own);
        if (answers_.ok() && (scale < 1e-3 || scale > 1e3)) {
            Finding finding = error_finding(
                "pattern.size", "Copy " + name + " would be " + format_quantity(scale, "") + " times as large.",
                "Let the formula give numbers above 0, or leave the copy out.");
            geom::add_place(finding, at);
            answers_.report("scale", std::move(finding));
        }
        copies_.push_back({move, scale, name});
    }

    const Pattern& pattern_;
    gp_Pnt from_;
    Answers& answers_;
    std::set<std::string> left_out_;
    std::vector<PlacedCopy> placed_;
    int columns_ = 1;
    std::vector<Pattern::Copy> copies_;
};

} // namespace

std::vector<Pattern::Copy> Pattern::copies(const gp_Pnt& from, Answers& answers, StepOutput& output) const {
    Placing placing(*this, from, answers);
    placing.place();
    output.copies.insert(output.copies.end(), placing.placed().begin(), placing.placed().end());
    auto made = std::move(placing).copies();
    if (answers.ok() && made.empty()) {
        const bool by_hand = !output.copies.empty();
        answers.report(by_hand ? "left_out" : "only_where",
                       error_finding("pattern.nothing", "No copy is left.",
                                     by_hand ? "Take one back." : "Let the formula be other than zero somewhere."));
    }
    return answers.ok() ? made : std::vector<Copy>{};
}

} // namespace kervo::model
