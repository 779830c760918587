#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangle_3.h>
#include <CGAL/intersections.h>

#include "geom/kernel/box_pairs.h"

#include "geom/measure/folded_face.h"

#include "geom/kernel/shape.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRepTools.hxx>
#include <BRepTopAdaptor_FClass2d.hxx>
#include <BRep_Tool.hxx>
#include <GCPnts_TangentialDeflection.hxx>
#include <GeomAdaptor_Curve.hxx>
#include <Geom_BSplineSurface.hxx>
#include <Geom_Surface.hxx>
#include <TopoDS.hxx>
#include <gp_Mat.hxx>

#include <algorithm>
#include <array>
#include <cmath>

namespace kervo::geom {

namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;

// Parameters of a curve between which it is nearly straight.
std::vector<double> steps_of(const Handle(Geom_Curve) & curve, double first, double last) {
    constexpr double angle = 0.25; // rad
    const GeomAdaptor_Curve adaptor(curve, first, last);
    const double length = adaptor.Value(first).Distance(adaptor.Value((first + last) / 2)) +
                          adaptor.Value((first + last) / 2).Distance(adaptor.Value(last));
    GCPnts_TangentialDeflection places(adaptor, first, last, angle, std::max(1e-3 * length, 1e-6), 5);
    std::vector<double> steps;
    for (int i = 1; i <= places.NbPoints(); ++i) {
        steps.push_back(places.Parameter(i));
    }
    return steps;
}

// A bend that the curve in the middle does not have is as large as a few spans.
template <class Knot> void add_spans(int knots, const Knot& knot, std::vector<double>& steps) {
    constexpr int enough = 120;
    const int pieces = std::clamp(enough / knots, 1, 4);
    const double first = steps.front();
    const double last = steps.back();
    for (int i = 1; i < knots; ++i) {
        for (int k = 0; k < pieces; ++k) {
            if (const double at = knot(i) + (knot(i + 1) - knot(i)) * k / pieces; at > first && at < last) {
                steps.push_back(at);
            }
        }
    }
    std::sort(steps.begin(), steps.end());
    const double same = (last - first) * 1e-6;
    std::vector<double> apart{first};
    for (const double at : steps) {
        if (at > apart.back() + same && at < last - same) {
            apart.push_back(at);
        }
    }
    apart.push_back(last);
    steps = std::move(apart);
}

class FoldedFace {
public:
    explicit FoldedFace(const TopoDS_Face& face) : face_(face), surface_(BRep_Tool::Surface(face)) {
        double u0 = 0;
        double u1 = 0;
        double v0 = 0;
        double v1 = 0;
        BRepTools::UVBounds(face, u0, u1, v0, v1);
        us_ = steps_of(surface_->VIso((v0 + v1) / 2), u0, u1);
        vs_ = steps_of(surface_->UIso((u0 + u1) / 2), v0, v1);
        if (const auto spline = Handle(Geom_BSplineSurface)::DownCast(surface_); !spline.IsNull()) {
            add_spans(
                spline->NbUKnots(), [&](int i) { return spline->UKnot(i); }, us_);
            add_spans(
                spline->NbVKnots(), [&](int i) { return spline->VKnot(i); }, vs_);
        }
        closed_u_ = is_closed([&](double share) { return surface_->Value(u0, v0 + share * (v1 - v0)); },
                              [&](double share) { return surface_->Value(u1, v0 + share * (v1 - v0)); });
        closed_v_ = is_closed([&](double share) { return surface_->Value(u0 + share * (u1 - u0), v0); },
                              [&](double share) { return surface_->Value(u0 + share * (u1 - u0), v1); });
        const auto is_a_point = [&](auto&& at) { return is_closed(at, [&](double) { return at(0); }); };
        for (const size_t end : {0U, 1U}) {
            points_u_[end] =
                is_a_point([&](double share) { return surface_->Value(end == 0 ? u0 : u1, v0 + share * (v1 - v0)); });
            points_v_[end] =
                is_a_point([&](double share) { return surface_->Value(u0 + share * (u1 - u0), end == 0 ? v0 : v1); });
        }
        for (size_t i = 0; i + 1 < us_.size(); ++i) {
            for (size_t j = 0; j + 1 < vs_.size(); ++j) {
                add({i, j, {corner(i, j), corner(i + 1, j), corner(i + 1, j + 1)}});
                add({i, j, {corner(i, j), corner(i + 1, j + 1), corner(i, j + 1)}});
            }
        }
    }

    std::optional<gp_Pnt> find() {
        std::vector<Box> boxes;
        for (const Facet& facet : facets_) {
            const auto box = facet.triangle.bbox();
            boxes.push_back({{box.xmin(), box.ymin(), box.zmin()}, {box.xmax(), box.ymax(), box.zmax()}});
        }
        std::optional<gp_Pnt> found;
        each_meeting_pair(boxes, [&](size_t a, size_t b) {
            const Facet& one = facets_[a];
            const Facet& other = facets_[b];
            if (!found && !are_neighbours(one, other) && CGAL::do_intersect(one.triangle, other.triangle)) {
                found = crossing_near(middle_of(one), middle_of(other));
            }
        });
        return found;
    }

private:
    struct Facet {
        size_t i, j; ///< of its cell
        Kernel::Triangle_3 triangle;
    };

    void add(const Facet& facet) {
        if (!facet.triangle.is_degenerate()) { // as it is where a whole side of the surface is one point
            facets_.push_back(facet);
        }
    }
    template <class From, class To> static bool is_closed(From&& from, To&& to) {
        return std::all_of(std::begin(shares), std::end(shares),
                           [&](double share) { return from(share).Distance(to(share)) < 1e-6; });
    }
    [[nodiscard]] Kernel::Point_3 corner(size_t i, size_t j) const {
        const gp_Pnt place = surface_->Value(us_[i], vs_[j]);
        return {place.X(), place.Y(), place.Z()};
    }
    [[nodiscard]] gp_XY middle_of(const Facet& facet) const {
        return {(us_[facet.i] + us_[facet.i + 1]) / 2, (vs_[facet.j] + vs_[facet.j + 1]) / 2};
    }
    static bool are_beside(size_t one, size_t other, size_t count, bool closed) {
        const size_t apart = one > other ? one - other : other - one;
        return apart <= 1 || (closed && apart + 1 >= count);
    }
    // Around a point that is a whole side of the surface all are.
    static bool are_around(size_t one, size_t other, size_t count, const std::array<bool, 2>& points) {
        return (points[0] && one == 0 && other == 0) || (points[1] && one + 1 == count && other + 1 == count);
    }
    [[nodiscard]] bool are_neighbours(const Facet& one, const Facet& other) const {
        if (are_around(one.i, other.i, us_.size() - 1, points_u_) ||
            are_around(one.j, other.j, vs_.size() - 1, points_v_)) {
            return true;
        }
        return are_beside(one.i, other.i, us_.size() - 1, closed_u_) &&
               are_beside(one.j, other.j, vs_.size() - 1, closed_v_);
    }

    // The nearest pair of parameters that are one place: steps of least length, since there is a whole line of them.
    [[nodiscard]] std::optional<gp_Pnt> crossing_near(gp_XY one, gp_XY other) const {
        constexpr int most = 30;
        constexpr double same = 1e-8; // mm
        for (int step = 0; step < most; ++step) {
            gp_Pnt here;
            gp_Pnt there;
            gp_Vec ways[4];
            surface_->D1(one.X(), one.Y(), here, ways[0], ways[1]);
            surface_->D1(other.X(), other.Y(), there, ways[2], ways[3]);
            if (here.Distance(there) < same) {
                return decides(one, other, ways) ? std::optional(here) : std::nullopt;
            }
            gp_Mat square(0, 0, 0, 0, 0, 0, 0, 0, 0);
            for (const gp_Vec& way : ways) {
                for (int row = 1; row <= 3; ++row) {
                    for (int column = 1; column <= 3; ++column) {
                        square(row, column) += way.Coord(row) * way.Coord(column);
                    }
                }
            }
            if (std::fabs(square.Determinant()) < 1e-30) {
                return std::nullopt;
            }
            const gp_Vec pull(square.Inverted() * (there.XYZ() - here.XYZ()));
            one += gp_XY(ways[0].Dot(pull), ways[1].Dot(pull));
            other -= gp_XY(ways[2].Dot(pull), ways[3].Dot(pull));
            if (!is_within(one) || !is_within(other)) {
                return std::nullopt;
            }
        }
        return std::nullopt;
    }
    [[nodiscard]] bool is_within(const gp_XY& at) const {
        return at.X() >= us_.front() && at.X() <= us_.back() && at.Y() >= vs_.front() && at.Y() <= vs_.back();
    }

    // Two places of the face, not one; and it goes through itself there.
    [[nodiscard]] bool decides(const gp_XY& one, const gp_XY& other, const gp_Vec (&ways)[4]) const {
        const auto share = [](double from, double to, const std::vector<double>& all, bool closed) {
            const double apart = std::fabs(from - to) / (all.back() - all.front());
            return closed ? std::min(apart, 1 - apart) : apart;
        };
        constexpr double least = 1e-3; // of the face
        const bool apart =
            share(one.X(), other.X(), us_, closed_u_) > least || share(one.Y(), other.Y(), vs_, closed_v_) > least;
        const gp_Vec here = ways[0].Crossed(ways[1]);
        const gp_Vec there = ways[2].Crossed(ways[3]);
        const bool crosses = here.Crossed(there).Magnitude() > 1e-3 * here.Magnitude() * there.Magnitude();
        BRepTopAdaptor_FClass2d inside(face_, 1e-9);
        return apart && crosses && inside.Perform(gp_Pnt2d(one)) == TopAbs_IN &&
               inside.Perform(gp_Pnt2d(other)) == TopAbs_IN;
    }

    static constexpr double shares[] = {0.1, 0.45, 0.8};
    TopoDS_Face face_;
    Handle(Geom_Surface) surface_;
    std::vector<double> us_, vs_;
    bool closed_u_ = false, closed_v_ = false;
    std::array<bool, 2> points_u_{}, points_v_{}; // whether the sides at the ends are single points
    std::vector<Facet> facets_;
};

} // namespace

// Seen in that plane, the derivatives along its first parameter lie about one axis, those along its second about
// another, square to it, so narrowly that every Jacobian between them is a P-matrix: the map to the plane is one to one
// on a rectangle (Gale and Nikaido 1965). Derivatives of B-splines lie between differences of control points.
bool is_graph(const Geom_BSplineSurface& surface) {
    if (surface.IsURational() || surface.IsVRational() || surface.IsUPeriodic() || surface.IsVPeriodic()) {
        return false;
    }
    const int rows = surface.NbUPoles();
    const int columns = surface.NbVPoles();
    const auto difference = [&](int i, int k, int di, int dk) {
        return gp_Vec(surface.Pole(i, k), surface.Pole(i + di, k + dk));
    };
    gp_Vec along(0, 0, 0);
    gp_Vec across(0, 0, 0);
    for (int k = 1; k <= columns; ++k) {
        along += gp_Vec(surface.Pole(1, k), surface.Pole(rows, k));
    }
    for (int i = 1; i <= rows; ++i) {
        across += gp_Vec(surface.Pole(i, 1), surface.Pole(i, columns));
    }
    const gp_Vec normal = along.Crossed(across);
    if (normal.Magnitude() <= 1e-6 * along.Magnitude() * across.Magnitude()) {
        return false;
    }
    const gp_Vec x = along.Normalized();
    const gp_Vec y = normal.Crossed(along).Normalized();
    double lean_first = 0;  // out of x, the most
    double lean_second = 0; // out of y
    for (int i = 1; i <= rows; ++i) {
        for (int k = 1; k <= columns; ++k) {
            if (i < rows) {
                const gp_Vec way = difference(i, k, 1, 0);
                if (way.Dot(x) <= 0) {
                    return false;
                }
                lean_first = std::max(lean_first, std::fabs(way.Dot(y)) / way.Dot(x));
            }
            if (k < columns) {
                const gp_Vec way = difference(i, k, 0, 1);
                if (way.Dot(y) <= 0) {
                    return false;
                }
                lean_second = std::max(lean_second, std::fabs(way.Dot(x)) / way.Dot(y));
            }
        }
    }
    return lean_first * lean_second < 1;
}

std::optional<gp_Pnt> folded_at(const TopoDS_Shape& faces) {
    for (const TopoDS_Shape& each : faces_of(faces)) {
        const TopoDS_Face& face = TopoDS::Face(each);
        const auto spline = Handle(Geom_BSplineSurface)::DownCast(BRep_Tool::Surface(face));
        if (!spline.IsNull() && is_graph(*spline)) {
            continue;
        }
        if (BRepAdaptor_Surface(face, Standard_False).GetType() > GeomAbs_Torus) {
            if (auto place = FoldedFace(face).find()) {
                return place;
            }
        }
    }
    return std::nullopt;
}

} // namespace kervo::geom
