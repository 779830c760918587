#include "io/outline_pen.h"

#include <algorithm>
#include <cmath>

namespace kervo::io {

using sketch::Point2;

namespace {

constexpr double nothing = 1e-9; ///< mm; what is shorter is not drawn

// The ellipse that an affine image of a circle or ellipse is, given by two conjugate half diameters: its axes (Rytz).
struct Axes {
    Point2 major{};
    double other = 0;
    double phase = 0; ///< what an angle between the conjugate diameters is less than one between the axes
    bool turned = false;
};
Axes axes_of(const Point2& u, const Point2& v) {
    // |u cos t + v sin t|^2 is largest at t0 with tan 2 t0 = 2 u.v / (u.u - v.v).
    const double uu = u[0] * u[0] + u[1] * u[1];
    const double vv = v[0] * v[0] + v[1] * v[1];
    const double uv = u[0] * v[0] + u[1] * v[1];
    Axes axes;
    axes.phase = std::atan2(2 * uv, uu - vv) / 2;
    const double c = std::cos(axes.phase);
    const double s = std::sin(axes.phase);
    axes.major = {u[0] * c + v[0] * s, u[1] * c + v[1] * s};
    const Point2 minor{v[0] * c - u[0] * s, v[1] * c - u[1] * s};
    axes.other = std::hypot(minor[0], minor[1]);
    axes.turned = axes.major[0] * minor[1] - axes.major[1] * minor[0] < 0;
    return axes;
}

} // namespace

void Pen::move(const Point2& to) {
    finish();
    at_ = begun_ = to;
}

void Pen::line(const Point2& to) {
    const Point2 a = to_mm_(at_);
    const Point2 b = to_mm_(to);
    if (sketch::distance(a, b) > nothing) {
        chain_.push_back(sketch::line_between(a, b));
    }
    at_ = to;
}

void Pen::bezier(const std::vector<Point2>& poles) {
    spline(sketch::spline_by_poles(poles, static_cast<int>(poles.size()) - 1, false));
}

void Pen::spline(sketch::Spline spline) {
    at_ = spline.poles.back();
    for (Point2& pole : spline.poles) {
        pole = to_mm_(pole);
    }
    if (std::any_of(spline.poles.begin(), spline.poles.end(),
                    [&](const Point2& p) { return sketch::distance(p, spline.poles[0]) > nothing; })) {
        chain_.push_back(sketch::stretch_over(std::make_shared<const sketch::Spline>(std::move(spline))));
    }
}

void Pen::round(const Point2& center, const Point2& u, const Point2& v, double from, double sweep, const Point2& to) {
    const Point2 middle = to_mm_(center);
    const Axes axes = axes_of(to_mm_.turned(u), to_mm_.turned(v));
    const double half = std::hypot(axes.major[0], axes.major[1]);
    if (half > nothing && axes.other > nothing) {
        const double sign = axes.turned ? -1 : 1;
        const double start = sign * (from - axes.phase);
        if (std::fabs(half - axes.other) <= 1e-9 * half) {
            const double turn = std::atan2(axes.major[1], axes.major[0]);
            chain_.push_back(sketch::arc_about(middle, half, start + turn, sign * sweep));
        } else {
            chain_.push_back(sketch::ellipse_about(middle, axes.major, axes.other, start, sign * sweep));
        }
    }
    at_ = to;
}

void Pen::close() {
    if (!chain_.empty()) {
        line(begun_);
    }
    finish();
    at_ = begun_;
}

void Pen::trace(const std::vector<sketch::Stretch>& chain) {
    for (const sketch::Stretch& s : chain) {
        if (&s == &chain.front()) {
            move(s.start);
        }
        switch (s.kind) {
        case sketch::StretchKind::line:
            line(s.end);
            break;
        case sketch::StretchKind::arc:
            round(s.center, {s.radius, 0}, {0, s.radius}, s.from, s.sweep, s.end);
            break;
        case sketch::StretchKind::ellipse: {
            const double half = std::hypot(s.axis[0], s.axis[1]);
            round(s.center, s.axis, {-s.axis[1] / half * s.radius, s.axis[0] / half * s.radius}, s.from, s.sweep,
                  s.end);
            break;
        }
        case sketch::StretchKind::spline:
            spline(s.spline->segment(s.from, s.from + s.sweep)); // as read, never against its own way
            break;
        }
    }
    finish();
}

std::vector<std::vector<sketch::Stretch>> Pen::take() {
    finish();
    return std::move(chains_);
}

void Pen::finish() {
    if (!chain_.empty()) {
        chains_.push_back(std::move(chain_));
        chain_.clear();
    }
}

bool lies_near(const sketch::Stretch& stretch) {
    constexpr double far_away = 1e6; // mm
    const auto box = stretch.box();
    return std::all_of(box.begin(), box.end(), [](double v) { return std::fabs(v) < far_away; });
}

} // namespace kervo::io
