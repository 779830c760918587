// What the readers of outlines draw with: a plane map, and a pen that draws through it.
#pragma once

#include "sketch/stretch.h"

namespace kervo::io {

/// x' = a x + c y + e, y' = b x + d y + f.
struct Affine {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
    [[nodiscard]] sketch::Point2 operator()(const sketch::Point2& p) const {
        return {a * p[0] + c * p[1] + e, b * p[0] + d * p[1] + f};
    }
    [[nodiscard]] sketch::Point2 turned(const sketch::Point2& way) const {
        return {a * way[0] + c * way[1], b * way[0] + d * way[1]};
    }
    /// First `inner`, then this.
    [[nodiscard]] Affine after(const Affine& inner) const {
        return {a * inner.a + c * inner.b, b * inner.a + d * inner.b,     a * inner.c + c * inner.d,
                b * inner.c + d * inner.d, a * inner.e + c * inner.f + e, b * inner.e + d * inner.f + f};
    }
};

/// Draws in the units of a file, through a map, into chains of stretches in mm. Curves stay what they are: circles
/// become ellipses where the map wants it.
class Pen {
public:
    explicit Pen(const Affine& to_mm) : to_mm_(to_mm) {}

    void move(const sketch::Point2& to);
    void line(const sketch::Point2& to);
    /// `poles` with the first one, which is where the pen is.
    void bezier(const std::vector<sketch::Point2>& poles);
    void spline(sketch::Spline spline);
    /// Around `center`: u cos t + v sin t from t = `from` over `sweep`, rad; u and v are conjugate half diameters.
    void round(const sketch::Point2& center, const sketch::Point2& u, const sketch::Point2& v, double from,
               double sweep, const sketch::Point2& to);
    void close();
    /// A chain that is drawn already, once more through this map.
    void trace(const std::vector<sketch::Stretch>& chain);
    std::vector<std::vector<sketch::Stretch>> take();
    [[nodiscard]] const sketch::Point2& at() const { return at_; }

private:
    void finish();

    Affine to_mm_;
    sketch::Point2 at_{}, begun_{};
    std::vector<sketch::Stretch> chain_;
    std::vector<std::vector<sketch::Stretch>> chains_;
};

/// Not farther from the origin than 1 km: a drawing that reaches farther is no drawing.
bool lies_near(const sketch::Stretch& stretch);

} // namespace kervo::io
