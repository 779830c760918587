#include "io/formats/outline_pen.h"

#include "geom/outline/conjugate.h"

#include <algorithm>
#include <cmath>

namespace kervo::io {

using sketch::Point2;

namespace {

constexpr double nothing = 1e-9; ///< mm; what is shorter is not drawn

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
    const auto axes = geom::axes_from(to_mm_.turned(u), to_mm_.turned(v));
    const double half = std::hypot(axes.major[0], axes.major[1]);
    if (half > nothing && axes.other > nothing) {
        const double start = axes.angle(from);
        const double run = axes.turned ? -sweep : sweep;
        if (std::fabs(half - axes.other) <= 1e-9 * half) {
            const double turn = std::atan2(axes.major[1], axes.major[0]);
            chain_.push_back(sketch::arc_about(middle, half, start + turn, run));
        } else {
            chain_.push_back(sketch::ellipse_about(middle, axes.major, axes.other, start, run));
        }
    } else {
        line(to); // it has no width
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
    // What a map squeezes to a line or a point is not seen (SVG 2, 8.5).
    const double size = std::hypot(std::hypot(to_mm_.a, to_mm_.b), std::hypot(to_mm_.c, to_mm_.d));
    const bool flat = std::fabs(to_mm_.a * to_mm_.d - to_mm_.b * to_mm_.c) <= 1e-12 * size * size;
    if (!chain_.empty() && !flat) {
        chains_.push_back(std::move(chain_));
    }
    chain_.clear();
}

bool lies_near(const sketch::Stretch& stretch) {
    constexpr double far_away = 1e6; // mm
    const auto box = stretch.box();
    return std::all_of(box.begin(), box.end(), [](double v) { return std::fabs(v) < far_away; });
}

} // namespace kervo::io
