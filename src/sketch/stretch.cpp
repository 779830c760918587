#include "sketch/stretch.h"

#include <boost/math/quadrature/gauss.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::sketch {

namespace {
constexpr double full_turn = 2 * std::numbers::pi;

Point2 on_circle(const Stretch& s, double angle) {
    return {s.center[0] + s.radius * std::cos(angle), s.center[1] + s.radius * std::sin(angle)};
}

// The ellipse's other half axis as a vector.
Point2 across(const Stretch& s) {
    const double length = std::hypot(s.axis[0], s.axis[1]);
    return {-s.axis[1] / length * s.radius, s.axis[0] / length * s.radius};
}

Motion on_ellipse(const Stretch& s, double angle) {
    const Point2 b = across(s);
    const double c = std::cos(angle);
    const double d = std::sin(angle);
    Motion m;
    for (size_t i = 0; i < 2; ++i) {
        m.place[i] = s.center[i] + s.axis[i] * c + b[i] * d;
        m.first[i] = -s.axis[i] * d + b[i] * c;
        m.second[i] = -s.axis[i] * c - b[i] * d;
    }
    return m;
}

// Gauss-Legendre with ten points: exact for what is swept by splines up to the tenth degree.
template <class Function> double integral(double low, double high, const Function& f) {
    return boost::math::quadrature::gauss<double, 10>::integrate(f, low, high);
}

// Parameters 0..1 between which the stretch is one smooth polynomial or one part of an ellipse.
std::vector<double> smooth_parts(const Stretch& s) {
    std::vector<double> parts{0, 1};
    if (s.kind == StretchKind::spline) {
        for (const double u : s.spline->breaks()) {
            const double t = (u - s.from) / s.sweep;
            if (t > 1e-12 && t < 1 - 1e-12) {
                parts.push_back(t);
            }
        }
        std::sort(parts.begin(), parts.end());
    }
    return parts;
}

} // namespace

double distance(const Point2& a, const Point2& b) {
    return std::hypot(a[0] - b[0], a[1] - b[1]);
}

Point2 place_of(const Sketch& sketch, int point) {
    const Point* p = sketch.point(point);
    return p == nullptr ? Point2{} : Point2{p->x, p->y};
}

double Similarity::scale() const {
    return std::hypot(a, b);
}

double Similarity::turn() const {
    return std::atan2(b, a);
}

Point2 Similarity::operator()(const Point2& p) const {
    const double y = mirrored ? -p[1] : p[1];
    return {a * p[0] - b * y + shift[0], b * p[0] + a * y + shift[1]};
}

Similarity turned_about(const Point2& center, double angle) {
    const double c = std::cos(angle);
    const double d = std::sin(angle);
    return {c, d, {center[0] - c * center[0] + d * center[1], center[1] - d * center[0] - c * center[1]}, false};
}

Stretch line_between(const Point2& a, const Point2& b, int curve) {
    Stretch s;
    s.curve = curve;
    s.start = a;
    s.end = b;
    return s;
}

Stretch arc_about(const Point2& center, double radius, double from, double sweep, int curve) {
    Stretch s;
    s.curve = curve;
    s.kind = StretchKind::arc;
    s.center = center;
    s.radius = radius;
    s.from = from;
    s.sweep = sweep;
    s.start = s.at(0);
    s.end = s.at(1);
    return s;
}

Stretch ellipse_about(const Point2& center, const Point2& axis, double other_half, double from, double sweep,
                      int curve) {
    Stretch s = arc_about(center, other_half, from, sweep, curve);
    s.kind = StretchKind::ellipse;
    s.axis = axis;
    s.start = s.at(0);
    s.end = s.at(1);
    return s;
}

Stretch stretch_over(std::shared_ptr<const Spline> spline, int curve) {
    Stretch s;
    s.curve = curve;
    s.kind = StretchKind::spline;
    s.from = spline->first();
    s.sweep = spline->last() - spline->first();
    s.spline = std::move(spline);
    s.start = s.at(0);
    s.end = s.at(1);
    return s;
}

bool Stretch::closed(double tolerance) const {
    return kind != StretchKind::line && distance(start, end) <= tolerance && length() > 2 * tolerance;
}

Point2 Stretch::at(double t) const {
    switch (kind) {
    case StretchKind::line:
        return {start[0] + (end[0] - start[0]) * t, start[1] + (end[1] - start[1]) * t};
    case StretchKind::arc:
        return on_circle(*this, from + sweep * t);
    case StretchKind::ellipse:
        return on_ellipse(*this, from + sweep * t).place;
    case StretchKind::spline:
        break;
    }
    return spline->at(from + sweep * t).place;
}

Motion Stretch::motion(double t) const {
    if (kind == StretchKind::line) {
        return {at(t), {end[0] - start[0], end[1] - start[1]}, {}};
    }
    Motion m;
    const double u = from + sweep * t;
    if (kind == StretchKind::arc) {
        const double c = radius * std::cos(u);
        const double s = radius * std::sin(u);
        m = {{center[0] + c, center[1] + s}, {-s, c}, {-c, -s}};
    } else {
        m = kind == StretchKind::ellipse ? on_ellipse(*this, u) : spline->at(u);
    }
    for (size_t i = 0; i < 2; ++i) {
        m.first[i] *= sweep;
        m.second[i] *= sweep * sweep;
    }
    return m;
}

double Stretch::length() const {
    if (!free()) {
        return round() ? radius * std::fabs(sweep) : distance(start, end);
    }
    const auto speed = [this](double t) {
        const Motion m = motion(t);
        return std::hypot(m.first[0], m.first[1]);
    };
    double total = 0;
    const auto parts = smooth_parts(*this);
    for (size_t i = 0; i + 1 < parts.size(); ++i) {
        constexpr int pieces = 8; // the speed is no polynomial
        for (int k = 0; k < pieces; ++k) {
            const double run = (parts[i + 1] - parts[i]) / pieces;
            total += integral(parts[i] + run * k, parts[i] + run * (k + 1), speed);
        }
    }
    return total;
}

Stretch Stretch::part(double t0, double t1) const {
    Stretch out = *this;
    out.start = at(t0);
    out.end = at(t1);
    out.from = from + sweep * t0;
    out.sweep = sweep * (t1 - t0);
    return out;
}

Stretch Stretch::reversed() const {
    Stretch out = *this;
    std::swap(out.start, out.end);
    out.from = from + sweep;
    out.sweep = -sweep;
    return out;
}

Stretch Stretch::placed(const Similarity& similarity) const {
    Stretch out = *this;
    out.start = similarity(start);
    out.end = similarity(end);
    if (kind == StretchKind::spline) {
        Spline moved = *spline;
        for (Point2& pole : moved.poles) {
            pole = similarity(pole);
        }
        out.spline = std::make_shared<const Spline>(std::move(moved));
        return out;
    }
    out.center = similarity(center);
    out.radius = radius * similarity.scale();
    const double turn = kind == StretchKind::arc ? similarity.turn() : 0; // an ellipse's angles turn with its axis
    out.from = (similarity.mirrored ? -from : from) + turn;
    out.sweep = similarity.mirrored ? -sweep : sweep;
    const Point2 tip = similarity({center[0] + axis[0], center[1] + axis[1]});
    out.axis = {tip[0] - out.center[0], tip[1] - out.center[1]};
    return out;
}

bool operator==(const Stretch& a, const Stretch& b) {
    const bool same_spline = a.spline == b.spline || (a.spline && b.spline && *a.spline == *b.spline);
    return same_spline && a.curve == b.curve && a.piece == b.piece && a.kind == b.kind && a.start == b.start &&
           a.end == b.end && a.center == b.center && a.radius == b.radius && a.axis == b.axis && a.from == b.from &&
           a.sweep == b.sweep;
}

std::string Stretch::label() const {
    return piece.empty() ? std::to_string(curve) : std::to_string(curve) + "." + piece;
}

double Stretch::at_length(double way) const {
    const double whole = length();
    double t = std::clamp(way / whole, 0.0, 1.0);
    if (!free()) {
        return t;
    }
    double low = 0;
    double high = 1;
    for (int step = 0; step < 60 && high - low > 1e-14; ++step) { // Newton's, held between what is known
        const double short_of = way - part(0, t).length();
        if (std::fabs(short_of) < 1e-12 * whole) {
            break;
        }
        (short_of > 0 ? low : high) = t;
        const Motion m = motion(t);
        const double next = t + short_of / std::hypot(m.first[0], m.first[1]);
        t = next > low && next < high ? next : (low + high) / 2;
    }
    return t;
}

double Stretch::heading(bool at_start) const {
    if (kind == StretchKind::line) {
        return std::atan2(end[1] - start[1], end[0] - start[0]);
    }
    const Motion m = motion(at_start ? 0 : 1);
    if (std::hypot(m.first[0], m.first[1]) > 1e-9 * (1 + std::hypot(m.second[0], m.second[1]))) {
        return std::atan2(m.first[1], m.first[0]);
    }
    // Control points that lie on each other: the curve starts into the direction of its second derivative.
    const double sign = at_start ? 1 : -1;
    return std::atan2(sign * m.second[1], sign * m.second[0]);
}

double Stretch::bend() const {
    if (!free()) {
        return round() ? (sweep > 0 ? 1 / radius : -1 / radius) : 0;
    }
    const Motion m = motion(0);
    const double speed = std::hypot(m.first[0], m.first[1]);
    return speed < 1e-12 ? 0 : (m.first[0] * m.second[1] - m.first[1] * m.second[0]) / (speed * speed * speed);
}

double Stretch::area_term() const {
    const double chord = (start[0] * end[1] - end[0] * start[1]) / 2;
    switch (kind) {
    case StretchKind::line:
        return chord;
    case StretchKind::arc:
        return chord + radius * radius * (sweep - std::sin(sweep)) / 2;
    case StretchKind::ellipse:
        return chord + std::hypot(axis[0], axis[1]) * radius * (sweep - std::sin(sweep)) / 2;
    case StretchKind::spline:
        break;
    }
    // Seen from the start, so that places far from the origin cost no digits.
    double sum = 0;
    const auto parts = smooth_parts(*this);
    for (size_t i = 0; i + 1 < parts.size(); ++i) {
        sum += integral(parts[i], parts[i + 1], [this](double t) {
            const Motion m = motion(t);
            return ((m.place[0] - start[0]) * m.first[1] - (m.place[1] - start[1]) * m.first[0]) / 2;
        });
    }
    return chord + sum;
}

std::array<double, 4> Stretch::box() const {
    std::array<double, 4> box{std::min(start[0], end[0]), std::min(start[1], end[1]), std::max(start[0], end[0]),
                              std::max(start[1], end[1])};
    const auto hold = [&](const Point2& p) {
        box = {std::min(box[0], p[0]), std::min(box[1], p[1]), std::max(box[2], p[0]), std::max(box[3], p[1])};
    };
    if (kind == StretchKind::arc || kind == StretchKind::ellipse) {
        const Point2 b = kind == StretchKind::arc ? Point2{0, radius} : across(*this);
        const Point2 a = kind == StretchKind::arc ? Point2{radius, 0} : axis;
        const Point2 half{std::hypot(a[0], b[0]), std::hypot(a[1], b[1])};
        return {center[0] - half[0], center[1] - half[1], center[0] + half[0], center[1] + half[1]};
    }
    if (kind == StretchKind::spline) { // within the hull of the poles that it uses
        const double low = std::min(from, from + sweep);
        const double high = std::max(from, from + sweep);
        const auto p = static_cast<size_t>(spline->degree);
        const size_t first = span_of(spline->knots, spline->degree, low) - p;
        const size_t last = span_of(spline->knots, spline->degree, high);
        for (size_t i = first; i <= last; ++i) {
            hold(spline->poles[i]);
        }
    }
    return box;
}

namespace {

// Zeros of a polynomial in Bernstein form within 0..1: halved until a part has one change of sign, then bisected.
void zeros_of(const std::vector<double>& b, double low, double high, std::vector<double>& found) {
    int changes = 0;
    for (size_t i = 1; i < b.size(); ++i) {
        changes += (b[i] > 0) != (b[i - 1] > 0) ? 1 : 0;
    }
    if (changes == 0) {
        return;
    }
    if (high - low < 1e-14) {
        found.push_back((low + high) / 2);
        return;
    }
    std::vector<double> left;
    std::vector<double> right(b.size());
    std::vector<double> row = b;
    for (size_t level = b.size(); level > 0; --level) { // de Casteljau at the middle
        left.push_back(row.front());
        right[level - 1] = row.back();
        for (size_t i = 0; i + 1 < row.size(); ++i) {
            row[i] = (row[i] + row[i + 1]) / 2;
        }
        row.pop_back();
    }
    const double middle = (low + high) / 2;
    zeros_of(left, low, middle, found);
    zeros_of(right, middle, high, found);
}

} // namespace

std::vector<double> monotone_parts(const Stretch& s) {
    std::vector<double> parts = smooth_parts(s);
    const auto add = [&](double t) {
        if (t > 1e-12 && t < 1 - 1e-12) {
            parts.push_back(t);
        }
    };
    if (s.kind == StretchKind::arc || s.kind == StretchKind::ellipse) {
        const Point2 a = s.kind == StretchKind::arc ? Point2{s.radius, 0} : s.axis;
        const Point2 b = s.kind == StretchKind::arc ? Point2{0, s.radius} : across(s);
        for (size_t i = 0; i < 2; ++i) {
            const double extreme = std::atan2(b[i], a[i]);
            const double low = std::min(s.from, s.from + s.sweep);
            const double high = std::max(s.from, s.from + s.sweep);
            for (double angle = extreme + std::ceil((low - extreme) / std::numbers::pi) * std::numbers::pi;
                 angle <= high; angle += std::numbers::pi) {
                add((angle - s.from) / s.sweep);
            }
        }
    } else if (s.kind == StretchKind::spline) {
        const auto breaks = s.spline->breaks();
        for (size_t i = 0; i + 1 < breaks.size(); ++i) {
            const double low = std::min(s.from, s.from + s.sweep);
            const double high = std::max(s.from, s.from + s.sweep);
            if (breaks[i + 1] <= low || breaks[i] >= high) {
                continue;
            }
            const Spline span = s.spline->segment(breaks[i], breaks[i + 1]);
            for (size_t axis = 0; axis < 2; ++axis) {
                std::vector<double> slope;
                for (size_t k = 0; k + 1 < span.poles.size(); ++k) {
                    slope.push_back(span.poles[k + 1][axis] - span.poles[k][axis]);
                }
                std::vector<double> found;
                zeros_of(slope, 0, 1, found);
                for (const double zero : found) {
                    add((breaks[i] + (breaks[i + 1] - breaks[i]) * zero - s.from) / s.sweep);
                }
            }
        }
    }
    std::sort(parts.begin(), parts.end());
    parts.erase(std::unique(parts.begin(), parts.end(), [](double a, double b) { return b - a < 1e-12; }), parts.end());
    parts.front() = 0;
    parts.back() = 1;
    return parts;
}

} // namespace kervo::sketch
