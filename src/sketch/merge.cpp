#include "sketch/merge.h"

#include <algorithm>
#include <cmath>

namespace kervo::sketch {

namespace {

bool is_level_or_plumb(ConstraintKind kind) {
    return kind == ConstraintKind::horizontal || kind == ConstraintKind::vertical ||
           kind == ConstraintKind::horizontal_distance || kind == ConstraintKind::vertical_distance;
}

std::string negative(const std::string& formula) {
    return "-(" + formula + ")";
}

// How the directions of a plane are seen in another.
class Turned {
public:
    explicit Turned(const Similarity& moved) : moved_(moved) {}

    // What a level or plumb constraint becomes; false where it becomes none.
    bool carry(Constraint& constraint) const {
        const bool along_x =
            constraint.kind == ConstraintKind::horizontal || constraint.kind == ConstraintKind::horizontal_distance;
        const Point2 way = along_x
                               ? Point2{moved_.a, moved_.b}
                               : Point2{moved_.mirrored ? moved_.b : -moved_.b, moved_.mirrored ? -moved_.a : moved_.a};
        constexpr double slack = 1e-9;
        const bool level = std::fabs(way[1]) < slack;
        if (!level && std::fabs(way[0]) > slack) {
            return false;
        }
        const bool measures = is_dimension(constraint.kind);
        constraint.kind = measures ? (level ? ConstraintKind::horizontal_distance : ConstraintKind::vertical_distance)
                          : level  ? ConstraintKind::horizontal
                                   : ConstraintKind::vertical;
        if (measures && (level ? way[0] : way[1]) < 0) {
            std::reverse(constraint.on.begin(), constraint.on.end()); // signed from the first to the second
        }
        return true;
    }

private:
    Similarity moved_;
};

} // namespace

Merged merge(const Sketch& into, Sketch other, const Similarity& moved) {
    if (moved.mirrored) {
        std::vector<int> words;
        for (const Figure& figure : other.figures) {
            if (figure.kind == FigureKind::text) {
                words.push_back(figure.id);
            }
        }
        for (const int id : words) {
            break_up(other, id);
        }
    }
    Merged merged{into, 0};
    Sketch& s = merged.sketch;
    const int shift = into.last_id;
    const auto fresh = [shift](std::vector<int> ids) {
        std::for_each(ids.begin(), ids.end(), [shift](int& id) { id += shift; });
        return ids;
    };
    for (Point point : other.points) {
        const Point2 at = moved({point.x, point.y});
        s.points.push_back({point.id + shift, at[0], at[1]});
    }
    for (Curve curve : other.curves) {
        curve.id += shift;
        curve.points = fresh(curve.points);
        const bool part = curve.kind == CurveKind::arc || (curve.kind == CurveKind::ellipse && curve.points.size() > 2);
        if (moved.mirrored && part) { // counterclockwise is the other way round
            std::swap(curve.points[curve.points.size() - 2], curve.points.back());
        }
        s.curves.push_back(std::move(curve));
    }
    const Turned turned(moved);
    for (Constraint constraint : other.constraints) {
        constraint.id += shift;
        constraint.on = fresh(constraint.on);
        if (is_level_or_plumb(constraint.kind) && !turned.carry(constraint)) {
            ++merged.left_out;
            continue;
        }
        if (moved.mirrored && constraint.kind == ConstraintKind::angle) {
            std::reverse(constraint.on.begin(), constraint.on.end());
        }
        s.constraints.push_back(std::move(constraint));
    }
    for (Figure figure : other.figures) {
        figure.id += shift;
        figure.points = fresh(figure.points);
        figure.of = fresh(figure.of);
        figure.along += figure.along == 0 ? 0 : shift;
        if (moved.mirrored && figure.kind == FigureKind::artwork) {
            figure.reversed = !figure.reversed;
        }
        if (moved.mirrored && figure.kind == FigureKind::ring && !figure.spacing.formula.text.empty()) {
            figure.spacing.formula.text = negative(figure.spacing.formula.text);
            figure.spacing.value = -figure.spacing.value;
        }
        s.figures.push_back(std::move(figure));
    }
    s.last_id = shift + other.last_id;
    return merged;
}

} // namespace kervo::sketch
