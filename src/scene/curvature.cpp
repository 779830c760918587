#include "scene/curvature.h"

#include "scene/drawn.h"

#include <gp_Mat.hxx>
#include <math_Gauss.hxx>
#include <math_Matrix.hxx>
#include <math_Vector.hxx>

#include <algorithm>
#include <cmath>
#include <optional>

namespace kervo::scene {

namespace {

using Triangles = Handle(Graphic3d_ArrayOfTriangles);

// The curvature within one triangle, as a symmetric map of ways along it to changes of the normal.
std::optional<gp_Mat> bend_of(const std::array<gp_Pnt, 3>& corners, const std::array<gp_Vec, 3>& normals) {
    const gp_Vec side(corners[0], corners[1]);
    const gp_Vec square = side.Crossed(gp_Vec(corners[0], corners[2]));
    if (square.Magnitude() < 1e-30 || side.Magnitude() < 1e-15) {
        return std::nullopt;
    }
    const gp_Vec x = side.Normalized();
    const gp_Vec y = square.Normalized().Crossed(x);
    math_Matrix lines(1, 3, 1, 3, 0.0); // of a, b, c: a for x, x; b for x, y; c for y, y
    math_Vector wanted(1, 3, 0.0);
    for (size_t i = 0; i < 3; ++i) {
        const size_t next = (i + 1) % 3;
        const gp_Vec edge(corners[i], corners[next]);
        const gp_Vec change = normals[next] - normals[i];
        const double ex = edge.Dot(x);
        const double ey = edge.Dot(y);
        const std::array<std::array<double, 4>, 2> equations{{{ex, ey, 0, change.Dot(x)}, {0, ex, ey, change.Dot(y)}}};
        for (const auto& equation : equations) {
            for (int row = 1; row <= 3; ++row) {
                for (int column = 1; column <= 3; ++column) {
                    lines(row, column) +=
                        equation[static_cast<size_t>(row - 1)] * equation[static_cast<size_t>(column - 1)];
                }
                wanted(row) += equation[static_cast<size_t>(row - 1)] * equation[3];
            }
        }
    }
    math_Gauss solver(lines);
    if (!solver.IsDone()) {
        return std::nullopt;
    }
    solver.Solve(wanted);
    gp_Mat bend(0, 0, 0, 0, 0, 0, 0, 0, 0);
    for (int row = 1; row <= 3; ++row) {
        for (int column = 1; column <= 3; ++column) {
            bend(row, column) = wanted(1) * x.Coord(row) * x.Coord(column) +
                                wanted(2) * (x.Coord(row) * y.Coord(column) + y.Coord(row) * x.Coord(column)) +
                                wanted(3) * y.Coord(row) * y.Coord(column);
        }
    }
    return bend;
}

// Half of the trace, in the plane square to the normal.
double mean_of(const gp_Mat& bend, const gp_Vec& normal) {
    const gp_Ax2 plane({}, gp_Dir(normal));
    const gp_XYZ x = plane.XDirection().XYZ();
    const gp_XYZ y = plane.YDirection().XYZ();
    return (x * (bend * x) + y * (bend * y)) / 2;
}

gp_Vec normal_at(const Triangles& triangles, int node) {
    return {triangles->VertexNormal(node)};
}

template <class Visit> void each_triangle(const Triangles& triangles, const Visit& visit) {
    const int count = triangles->EdgeNumber() > 0 ? triangles->EdgeNumber() : triangles->VertexNumber();
    for (int i = 1; i + 2 <= count; i += 3) {
        std::array<int, 3> nodes{i, i + 1, i + 2};
        for (int& node : nodes) {
            node = triangles->EdgeNumber() > 0 ? triangles->Edge(node) : node;
        }
        visit(nodes);
    }
}

std::vector<double> values_of(const Triangles& triangles) {
    const auto count = static_cast<size_t>(triangles->VertexNumber());
    std::vector<gp_Mat> bends(count, gp_Mat(0, 0, 0, 0, 0, 0, 0, 0, 0));
    std::vector<double> weights(count, 0);
    each_triangle(triangles, [&](const std::array<int, 3>& nodes) {
        std::array<gp_Pnt, 3> corners;
        std::array<gp_Vec, 3> normals;
        for (size_t i = 0; i < 3; ++i) {
            corners[i] = triangles->Vertice(nodes[i]);
            normals[i] = normal_at(triangles, nodes[i]);
        }
        if (const auto bend = bend_of(corners, normals)) {
            const double area = gp_Vec(corners[0], corners[1]).Crossed(gp_Vec(corners[0], corners[2])).Magnitude();
            for (const int node : nodes) {
                bends[static_cast<size_t>(node - 1)] += *bend * area;
                weights[static_cast<size_t>(node - 1)] += area;
            }
        }
    });
    std::vector<double> values(count, 0);
    for (size_t i = 0; i < count; ++i) {
        const gp_Vec normal = normal_at(triangles, static_cast<int>(i) + 1);
        if (weights[i] > 0 && normal.Magnitude() > 0.5) {
            values[i] = mean_of(bends[i] / weights[i], normal);
        }
    }
    return values;
}

} // namespace

void Curvature::work_out() const {
    std::vector<std::pair<double, double>> by_size; // curvature and area of each triangle
    double area = 0;
    const auto add = [&](const Triangles& triangles) {
        values_.push_back(triangles.IsNull() ? std::vector<double>() : values_of(triangles));
        if (triangles.IsNull()) {
            return;
        }
        const std::vector<double>& values = values_.back();
        each_triangle(triangles, [&](const std::array<int, 3>& nodes) {
            const gp_Pnt first = triangles->Vertice(nodes[0]);
            const double size = gp_Vec(first, triangles->Vertice(nodes[1]))
                                    .Crossed(gp_Vec(first, triangles->Vertice(nodes[2])))
                                    .Magnitude() /
                                2;
            double most = 0;
            for (const int node : nodes) {
                most = std::max(most, std::fabs(values[static_cast<size_t>(node - 1)]));
            }
            by_size.emplace_back(most, size);
            area += size;
        });
    };
    add(drawn_->triangles);
    for (const auto& [owner, triangles] : drawn_->foreign) {
        add(triangles);
    }
    std::sort(by_size.begin(), by_size.end());
    double below = 0;
    for (const auto& [size, part] : by_size) {
        usual_ = size;
        below += part;
        if (below >= 0.95 * area) {
            break;
        }
    }
}

const std::vector<std::vector<double>>& Curvature::values() const {
    std::call_once(once_, [this] { work_out(); });
    return values_;
}

double Curvature::usual() const {
    std::call_once(once_, [this] { work_out(); });
    return usual_;
}

std::array<float, 3> scale_color(double share) {
    // Told apart by those who do not see red and green: blue where hollow, amber where it bulges.
    constexpr std::array<std::array<float, 3>, 5> colors{{{0.10F, 0.27F, 0.55F},
                                                          {0.45F, 0.64F, 0.82F},
                                                          {0.93F, 0.93F, 0.90F},
                                                          {0.93F, 0.69F, 0.34F},
                                                          {0.70F, 0.33F, 0.05F}}};
    const double at = (std::clamp(share, -1.0, 1.0) + 1) * 2;
    const size_t low = std::min<size_t>(static_cast<size_t>(at), colors.size() - 2);
    const auto part = static_cast<float>(at - static_cast<double>(low));
    std::array<float, 3> color{};
    for (size_t i = 0; i < 3; ++i) {
        color[i] = colors[low][i] + (colors[low + 1][i] - colors[low][i]) * part;
    }
    return color;
}

} // namespace kervo::scene
