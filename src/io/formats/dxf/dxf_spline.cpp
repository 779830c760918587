#include "io/formats/dxf/dxf_spline.h"

#include <algorithm>
#include <cmath>

namespace kervo::io {

namespace {

using sketch::Point2;

bool is_rational(const DxfSpline& spline) {
    return std::any_of(spline.weights.begin(), spline.weights.end(), [&](double weight) {
        return std::fabs(weight - spline.weights[0]) > 1e-9 * std::fabs(spline.weights[0]);
    });
}

bool holds_together(const DxfSpline& spline) {
    const auto& [degree, poles, weights, knots] = spline;
    if (degree < 1 || poles.size() <= degree || knots.size() != poles.size() + degree + 1 ||
        !std::is_sorted(knots.begin(), knots.end()) || knots[poles.size()] - knots[degree] <= 1e-12) {
        return false;
    }
    for (size_t i = 1; i + degree + 1 < knots.size(); ++i) { // no gap: no knot counts more than the degree
        if (knots[i + degree] <= knots[i] && i + degree + 1 < knots.size() - 1) {
            return false;
        }
    }
    return true;
}

// A conic by three control points, the outer ones of weight 1: an arc of an ellipse where the middle one weighs less.
struct Conic {
    Point2 from, middle, to;
    double weight;
};

// The pieces of a rational spline of the second degree whose knots all count twice; nothing of others.
std::vector<Conic> conics_of(const DxfSpline& spline) {
    std::vector<Conic> pieces;
    const auto& [degree, poles, weights, knots] = spline;
    if (degree != 2 || poles.size() % 2 == 0) {
        return {};
    }
    for (size_t i = 1; i + 1 < knots.size(); i += 2) {
        if (knots[i] != knots[i + 1]) {
            return {};
        }
    }
    for (size_t i = 0; i + 2 < poles.size(); i += 2) {
        const double outer = weights[i] * weights[i + 2];
        if (outer <= 0) {
            return {};
        }
        pieces.push_back({poles[i], poles[i + 1], poles[i + 2], weights[i + 1] / std::sqrt(outer)});
        if (pieces.back().weight <= 0 || pieces.back().weight > 1 - 1e-9) {
            return {}; // a parabola or a hyperbola
        }
    }
    return pieces;
}

// With the weight the cosine of half the angle that it goes through: L. Piegl, W. Tiller, The NURBS Book, 7.3.
void draw(const Conic& conic, Pen& pen) {
    const double w = conic.weight;
    const double rest = 1 - w * w;
    const Point2 chord{(conic.from[0] + conic.to[0]) / 2, (conic.from[1] + conic.to[1]) / 2}; // its middle
    const Point2 up{conic.middle[0] - chord[0], conic.middle[1] - chord[1]};
    const Point2 center{chord[0] - up[0] * w * w / rest, chord[1] - up[1] * w * w / rest};
    const Point2 u{up[0] * w / rest, up[1] * w / rest};
    const Point2 v{(conic.to[0] - chord[0]) / std::sqrt(rest), (conic.to[1] - chord[1]) / std::sqrt(rest)};
    const double half = std::acos(w);
    pen.round(center, u, v, -half, 2 * half, conic.to);
}

} // namespace

std::string problem_of(const DxfSpline& spline) {
    if (spline.degree > static_cast<size_t>(sketch::max_spline_degree)) {
        return "a spline of degree " + std::to_string(spline.degree);
    }
    if (!holds_together(spline)) {
        return "a spline that does not hold together";
    }
    return is_rational(spline) && conics_of(spline).empty() ? "a spline with weights" : "";
}

void draw(const DxfSpline& spline, Pen& pen) {
    if (is_rational(spline)) {
        pen.move(spline.poles[0]);
        for (const Conic& conic : conics_of(spline)) {
            draw(conic, pen);
        }
        return;
    }
    sketch::Spline plain;
    plain.degree = static_cast<int>(spline.degree);
    plain.poles = spline.poles;
    plain.knots = spline.knots;
    const sketch::Spline clamped = plain.segment(plain.first(), plain.last());
    pen.move(clamped.poles[0]);
    pen.spline(clamped);
}

} // namespace kervo::io
