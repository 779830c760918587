#include "geom/view/spline_mesh.h"

#include <BRepAdaptor_Curve2d.hxx>
#include <BRep_Tool.hxx>
#include <GeomAdaptor_Surface.hxx>
#include <Geom_BSplineSurface.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <array>
#include <cmath>

namespace kervo::geom {

namespace {

struct Bend {
    gp_Vec way, turn; // first and second derivative along a parameter
};

// Values of a parameter between which a chord is near enough to the surface and turns by little. `at`: how it bends
// there, at a value of the other parameter; `least`: so many chords there are.
template <class Knot, class At>
std::vector<double> lines_across(int knots, const Knot& knot, const std::vector<double>& others, const At& at,
                                 double least, const TessellationOptions& options) {
    const double range = knot(knots) - knot(1);
    constexpr std::array<double, 3> looks{0.1, 0.5, 0.9};
    constexpr double most = 40; // between two knots
    std::vector<double> lines{knot(1)};
    double reached = 0; // of the next chord, as a share
    for (int i = 1; i < knots; ++i) {
        const double wide = knot(i + 1) - knot(i);
        double chords = least * wide / range;
        for (const double look : looks) {
            for (const double other : others) {
                const Bend bend = at(knot(i) + wide * look, other);
                const double way = std::max(bend.way.Magnitude(), 1e-12);
                const double across = bend.turn.Crossed(bend.way).Magnitude() / way;
                // Half of what is allowed: the other half is for the other way.
                chords = std::max(
                    {chords, wide * std::sqrt(across / (4 * options.chord)), wide * across / way / options.angle});
            }
        }
        chords = std::min(chords, most);
        for (double next = 1 - reached; next < chords; next += 1) {
            lines.push_back(knot(i) + wide * next / chords);
        }
        reached = std::fmod(reached + chords, 1);
    }
    if (lines.size() > 1 && knot(knots) - lines.back() < range * 1e-3) {
        lines.pop_back();
    }
    lines.push_back(knot(knots));
    return lines;
}

template <class Knot> std::vector<double> middles(int knots, const Knot& knot) {
    std::vector<double> all{knot(1)};
    for (int i = 1; i < knots; ++i) {
        all.push_back((knot(i) + knot(i + 1)) / 2);
    }
    all.push_back(knot(knots));
    return all;
}

// The edges along the first and last u, the first and last v; nothing where they are not these four.
using Sides = std::array<TopoDS_Edge, 4>;
std::optional<Sides> sides_of(const TopoDS_Face& face, const std::array<double, 4>& ends) {
    Sides sides;
    int found = 0;
    for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next(), ++found) {
        const TopoDS_Edge& edge = TopoDS::Edge(it.Current());
        const BRepAdaptor_Curve2d curve(edge, face);
        if (curve.GetType() != GeomAbs_Line || BRep_Tool::Degenerated(edge)) {
            return std::nullopt;
        }
        const gp_Pnt2d from = curve.Value(curve.FirstParameter());
        const gp_Pnt2d to = curve.Value(curve.LastParameter());
        for (size_t side = 0; side < 4; ++side) {
            const int along = side < 2 ? 2 : 1; // the parameter that changes
            const double whole = side < 2 ? ends[3] - ends[2] : ends[1] - ends[0];
            const double near = (side < 2 ? ends[1] - ends[0] : ends[3] - ends[2]) * 1e-9;
            const bool on = std::fabs(from.Coord(3 - along) - ends[side]) < near &&
                            std::fabs(to.Coord(3 - along) - ends[side]) < near;
            const double span = std::fabs(to.Coord(along) - from.Coord(along));
            if (on && std::fabs(span - whole) < whole * 1e-9) {
                sides[side] = edge;
            }
        }
    }
    const bool all = std::none_of(sides.begin(), sides.end(), [](const auto& side) { return side.IsNull(); });
    return found == 4 && all ? std::optional(sides) : std::nullopt;
}

// The lines of the grid.
struct Grid {
    std::vector<double> us, vs;
    [[nodiscard]] int rows() const { return static_cast<int>(us.size()); }
    [[nodiscard]] int columns() const { return static_cast<int>(vs.size()); }
    [[nodiscard]] int node(int row, int column) const { return row * columns() + column; }
};

Grid grid_over(const Geom_BSplineSurface& spline, const GeomAdaptor_Surface& surface,
               const TessellationOptions& options) {
    const auto u_knot = [&](int i) { return spline.UKnot(i); };
    const auto v_knot = [&](int i) { return spline.VKnot(i); };
    const std::vector<double> u_middles = middles(spline.NbUKnots(), u_knot);
    const std::vector<double> v_middles = middles(spline.NbVKnots(), v_knot);
    struct Derivatives {
        gp_Vec du, dv, duu, dvv, duv;
    };
    const auto at = [&](double u, double v) {
        gp_Pnt place;
        Derivatives d;
        surface.D2(u, v, place, d.du, d.dv, d.duu, d.dvv, d.duv);
        return d;
    };
    double twist = 0; // mm, by which the corners of the whole would be out of one plane
    for (const double u : u_middles) {
        for (const double v : v_middles) {
            const Derivatives d = at(u, v);
            const gp_Vec normal = d.du.Crossed(d.dv);
            twist = std::max(twist, std::fabs(d.duv.Dot(normal)) / std::max(normal.Magnitude(), 1e-12));
        }
    }
    twist *= (u_middles.back() - u_middles.front()) * (v_middles.back() - v_middles.front());
    const double least = std::min(std::sqrt(twist / (4 * options.chord)), 400.0);
    const auto along_u = [&](double u, double v) {
        const Derivatives d = at(u, v);
        return Bend{d.du, d.duu};
    };
    const auto along_v = [&](double v, double u) {
        const Derivatives d = at(u, v);
        return Bend{d.dv, d.dvv};
    };
    return {lines_across(spline.NbUKnots(), u_knot, v_middles, along_u, least, options),
            lines_across(spline.NbVKnots(), v_knot, u_middles, along_v, least, options)};
}

// Null where the surface has no normal somewhere: the kernel's mesher knows what to do there.
Handle(Poly_Triangulation) triangles_of(const Grid& grid, const GeomAdaptor_Surface& surface) {
    const int rows = grid.rows();
    const int columns = grid.columns();
    Handle(Poly_Triangulation) triangles =
        new Poly_Triangulation(rows * columns, 2 * (rows - 1) * (columns - 1), Standard_True, Standard_True);
    for (int row = 0; row < rows; ++row) {
        for (int column = 0; column < columns; ++column) {
            const gp_Pnt2d place(grid.us[static_cast<size_t>(row)], grid.vs[static_cast<size_t>(column)]);
            gp_Pnt at;
            gp_Vec du;
            gp_Vec dv;
            surface.D1(place.X(), place.Y(), at, du, dv);
            const gp_Vec normal = du.Crossed(dv);
            if (normal.Magnitude() < 1e-12) {
                return {};
            }
            const int index = grid.node(row, column) + 1;
            triangles->SetNode(index, at);
            triangles->SetUVNode(index, place);
            triangles->SetNormal(index, gp_Dir(normal));
        }
    }
    int next = 0;
    for (int row = 0; row + 1 < rows; ++row) {
        for (int column = 0; column + 1 < columns; ++column) {
            const int a = grid.node(row, column) + 1;
            const int b = grid.node(row + 1, column) + 1;
            triangles->SetTriangle(++next, Poly_Triangle(a, b, b + 1));
            triangles->SetTriangle(++next, Poly_Triangle(a, b + 1, a + 1));
        }
    }
    return triangles;
}

// `side`: 0 and 1 along the first and last row, 2 and 3 along the first and last column.
SplineMesh::Side side_of(const Grid& grid, size_t side, const TopoDS_Edge& edge, const TopoDS_Face& face) {
    const BRepAdaptor_Curve2d curve(edge, face);
    const bool on_row = side < 2;
    const int along = on_row ? 2 : 1;
    const double start = curve.Value(0).Coord(along); // of its line
    const double way = curve.Line().Direction().Coord(along);
    const int fixed = side % 2 == 0 ? 0 : (on_row ? grid.rows() : grid.columns()) - 1;
    const std::vector<double>& places = on_row ? grid.vs : grid.us;
    SplineMesh::Side made{edge, {}, {}};
    for (int i = 0; i < static_cast<int>(places.size()); ++i) {
        made.nodes.push_back(on_row ? grid.node(fixed, i) : grid.node(i, fixed));
        made.parameters.push_back((places[static_cast<size_t>(i)] - start) / way);
    }
    if (way < 0) {
        std::reverse(made.nodes.begin(), made.nodes.end());
        std::reverse(made.parameters.begin(), made.parameters.end());
    }
    return made;
}

} // namespace

std::optional<SplineMesh> spline_mesh(const TopoDS_Face& given, const TessellationOptions& options) {
    const TopoDS_Face face = TopoDS::Face(given.Oriented(TopAbs_FORWARD));
    TopLoc_Location location; // nodes are told without it
    const auto spline = Handle(Geom_BSplineSurface)::DownCast(BRep_Tool::Surface(face, location));
    if (spline.IsNull() || spline->IsUPeriodic() || spline->IsVPeriodic()) {
        return std::nullopt;
    }
    std::array<double, 4> ends{}; // first and last of u, of v
    spline->Bounds(ends[0], ends[1], ends[2], ends[3]);
    const auto sides = sides_of(face, ends);
    if (!sides) {
        return std::nullopt;
    }
    const GeomAdaptor_Surface surface(spline);
    const Grid grid = grid_over(*spline, surface, options);
    SplineMesh mesh{triangles_of(grid, surface), {}};
    if (mesh.triangles.IsNull()) {
        return std::nullopt;
    }
    for (size_t side = 0; side < sides->size(); ++side) {
        mesh.sides.push_back(side_of(grid, side, (*sides)[side], face));
    }
    return mesh;
}

} // namespace kervo::geom
