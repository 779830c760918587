// How strongly the faces of a body bend: from its triangles and the exact normals at their nodes.
#pragma once

#include <array>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

namespace kervo::scene {

struct Drawn;

/// Worked out when it is first asked for; any thread may ask.
class Curvature {
public:
    explicit Curvature(std::shared_ptr<const Drawn> drawn) : drawn_(std::move(drawn)) {}

    /// At each node, of the body's own triangles first, then of those with other colours in their order: the mean
    /// curvature (1/mm), above zero where the face bulges to its front; within about a hundredth. Least squares over
    /// the edges of each triangle, and the mean of the triangles around a node (Rusinkiewicz 2004).
    [[nodiscard]] const std::vector<std::vector<double>>& values() const;
    /// What it stays below in size on 19 parts in 20 of the area.
    [[nodiscard]] double usual() const;

private:
    void work_out() const;

    std::shared_ptr<const Drawn> drawn_;
    mutable std::once_flag once_;
    mutable std::vector<std::vector<double>> values_;
    mutable double usual_ = 0;
};

/// Of the scale: -1 hollow, 0 flat, 1 bulging; beyond, the same colours. "#rrggbb" by its parts, 0 to 1.
std::array<float, 3> scale_color(double share);

} // namespace kervo::scene
