// Points added to splines, and their degree.
#include "sketch/edit.h"

#include <algorithm>
#include <cmath>

namespace kervo::sketch {

namespace {

std::vector<Point2> places_of(const Sketch& sketch, const Curve& curve) {
    std::vector<Point2> places;
    std::transform(curve.points.begin(), curve.points.end(), std::back_inserter(places),
                   [&](int id) { return place_of(sketch, id); });
    return places;
}

void insert_point(Sketch& sketch, int curve, size_t before, const Point2& place) {
    const int fresh = sketch.add_point(place[0], place[1]);
    auto& points = sketch.curve(curve)->points;
    points.insert(points.begin() + static_cast<std::ptrdiff_t>(before), fresh);
}

// Between the points around the place, in the order in which the curve runs through them.
void add_through(Sketch& sketch, const Curve& curve, const Stretch& stretch, double t) {
    const auto places = places_of(sketch, curve);
    size_t before = curve.closed ? places.size() : places.size() - 1; // the last leg is the rest
    for (size_t i = 1; i < places.size(); ++i) {
        if (nearest_on(stretch, places[i]).first > t) {
            before = i;
            break;
        }
    }
    insert_point(sketch, curve.id, before, stretch.at(t));
}

// On the nearest leg of the polygon of control points.
void add_on_polygon(Sketch& sketch, const Curve& curve, const Point2& near) {
    const auto places = places_of(sketch, curve);
    double least = 1e300;
    size_t before = 1;
    Point2 at{};
    for (size_t i = 0; i < places.size(); ++i) {
        const Stretch leg = line_between(places[i], places[(i + 1) % places.size()]);
        if (const auto [t, away] = nearest_on(leg, near); away < least) {
            least = away;
            before = i + 1;
            at = leg.at(std::clamp(t, 0.1, 0.9)); // two at one place would be one
        }
    }
    insert_point(sketch, curve.id, before, at);
}

void add_by_knot(Sketch& sketch, const Curve& curve, double u) {
    const Spline whole = spline_of(curve, places_of(sketch, curve));
    const size_t span = span_of(whole.knots, whole.degree, u);
    const double run = whole.knots[span + 1] - whole.knots[span];
    u = std::clamp(u, whole.knots[span] + run / 100, whole.knots[span + 1] - run / 100);
    const Spline finer = whole.with_knot(u);
    insert_point(sketch, curve.id, span - static_cast<size_t>(whole.degree - 1) / 2, {});
    Curve& changed = *sketch.curve(curve.id);
    changed.degree = finer.degree;
    changed.knots = finer.knots;
    for (size_t i = 0; i < finer.poles.size(); ++i) {
        Point& point = *sketch.point(changed.points[i]);
        point.x = finer.poles[i][0];
        point.y = finer.poles[i][1];
    }
}

std::string points_told(const Curve& curve) {
    return std::to_string(curve.points.size()) + (curve.through ? " points." : " control points.");
}

} // namespace

Edited add_spline_point(const Sketch& sketch, int curve, const Point2& near) {
    const Curve* found = sketch.curve(curve);
    if (found == nullptr || found->kind != CurveKind::spline) {
        return refuse(sketch, "edit.no_spline", "There is no spline here.", "Point at a spline.");
    }
    const Curve spline = *found;
    const Stretch stretch = stretch_of(sketch, spline);
    const double t = nearest_on(stretch, near).first;
    Edited edited{sketch, {}, {}};
    if (spline.through) {
        add_through(edited.sketch, spline, stretch, t);
    } else if (spline.closed) {
        add_on_polygon(edited.sketch, spline, near);
    } else {
        add_by_knot(edited.sketch, spline, stretch.from + stretch.sweep * t);
    }
    edited.told = "The spline has " + points_told(*edited.sketch.curve(curve));
    return edited;
}

Edited change_spline(const Sketch& sketch, int curve, int degree, bool closed) {
    const Curve* found = sketch.curve(curve);
    if (found == nullptr || found->kind != CurveKind::spline) {
        return refuse(sketch, "edit.no_spline", "There is no spline here.", "Point at a spline.");
    }
    if (degree < 1 || degree > max_spline_degree) {
        return refuse(sketch, "edit.degree", "A spline of degree " + std::to_string(degree) + " is not drawn.",
                      "Choose 1 (corners) to 5 (smoothest).");
    }
    if (closed && found->points.size() < 3) {
        return refuse(sketch, "edit.too_few_points", "Two points do not close.", "Add a point to the spline first.");
    }
    Edited edited{sketch, {}, {}};
    Curve& changed = *edited.sketch.curve(curve);
    if (changed.degree != degree || changed.closed != closed) {
        changed.knots.clear();
    }
    changed.degree = degree;
    changed.closed = closed;
    edited.told = std::string(closed ? "A closed" : "An open") + " spline of degree " + std::to_string(degree) + ".";
    return edited;
}

} // namespace kervo::sketch
