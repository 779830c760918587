// What of a body lies under the pointer: a line through its triangles, and past its edges and vertices. The bounding
// volumes are Embree's; places are worked out in full precision from what it finds.
//
//   const PickTree tree(mesh);
//   tree.prepare();                                     // where there is time for it
//   if (const auto hit = tree.first_face(ray, 0, 1e9)) { ... }
#pragma once

#include "scene/mesh.h"

#include <functional>
#include <memory>
#include <optional>

namespace kervo::scene {

/// Safe to share between threads.
class PickTree {
public:
    explicit PickTree(std::shared_ptr<const Mesh> mesh);
    ~PickTree();
    PickTree(const PickTree&) = delete;
    PickTree& operator=(const PickTree&) = delete;

    /// Builds what the first question would have to build; returns at once where it is there.
    void prepare() const;

    struct FaceHit {
        int face = 0;
        double at = 0;            ///< along the line, mm
        bool from_inside = false; ///< the line leaves the material here
    };
    /// The first face that the line meets between two of its places (mm along it); its direction has length 1.
    [[nodiscard]] std::optional<FaceHit> first_face(const Line3& line, double from, double to) const;

    struct Near {
        bool vertex = false; ///< else an edge
        int index = 0;
        Point3 place;    ///< on it, where it is nearest to the line
        double at = 0;   ///< of that along the line
        double away = 0; ///< and from it, mm
    };
    /// All edges and vertices that the line passes within `reach` mm, between two of its places.
    [[nodiscard]] std::vector<Near> near(const Line3& line, double reach, double from, double to) const;

private:
    struct Trees;
    std::unique_ptr<Trees> trees_;
};

} // namespace kervo::scene
