#include "geom/view/section_area.h"

#include "geom/measure/spans.h"

#include <algorithm>
#include <cmath>

namespace kervo::geom {

double area_within(const std::vector<BorderPiece>& border, const gp_Ax3& plane) {
    const gp_Vec x(plane.XDirection());
    const gp_Vec y(plane.YDirection());
    double area = 0;
    for (const BorderPiece& piece : border) {
        const gp_Vec a(plane.Location(), piece.from);
        if (!piece.conic) {
            const gp_Vec b(plane.Location(), piece.to);
            area += (a.Dot(x) * b.Dot(y) - b.Dot(x) * a.Dot(y)) / 2;
            continue;
        }
        const int parts = std::max(1, static_cast<int>(std::ceil(std::fabs(piece.sweep) * 8 / M_PI)));
        for (int i = 0; i < parts; ++i) {
            const double low = piece.angle + piece.sweep * i / parts;
            each_gauss_point(low, low + piece.sweep / parts, [&](double u, double weight) {
                const gp_Vec r(plane.Location(), piece.conic->at(u));
                const gp_Vec d = piece.conic->way(u);
                area += weight * (r.Dot(x) * d.Dot(y) - r.Dot(y) * d.Dot(x)) / 2;
            });
        }
    }
    return area;
}

std::optional<double> section_area(const TopoDS_Shape& solid, const gp_Ax3& plane) {
    const auto border = section_border(solid, plane);
    return border ? std::optional(area_within(*border, plane)) : std::nullopt;
}

} // namespace kervo::geom
