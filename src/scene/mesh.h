// What of a body can be seen, in plain numbers: triangles by face, polylines by edge, places by vertex, each in the
// order of the body.
#pragma once

#include "base/space.h"

#include <cstdint>
#include <vector>

namespace kervo::scene {

using Polyline3 = std::vector<Point3>;
using Segment3 = std::array<Point3, 2>;

struct Mesh {
    struct Range {
        uint32_t first = 0, last = 0; ///< behind the last one
    };
    std::vector<Point3> nodes;
    std::vector<std::array<uint32_t, 3>> triangles; ///< outward
    std::vector<Range> faces;                       ///< the triangles of each
    std::vector<Polyline3> edges;                   ///< none where one is not seen, as a seam
    std::vector<Point3> vertices;
    Box3 box; ///< of all that

    [[nodiscard]] double area() const {
        double sum = 0;
        for (const auto& [a, b, c] : triangles) {
            sum += (nodes[b] - nodes[a]).cross(nodes[c] - nodes[a]).length() / 2;
        }
        return sum;
    }
};

} // namespace kervo::scene
