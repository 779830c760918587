#include "geom/kernel/box_pairs.h"

#include "geom/kernel/too_much.h"

#include "geom/measure/measure.h"

#include <BRepAdaptor_Surface.hxx>
#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::geom {

namespace {

constexpr size_t most_work = 150000; ///< in pairs of planes: some tens of seconds

// What a face adds to the cost of a pair.
size_t weight_of(const TopoDS_Shape& face) {
    switch (BRepAdaptor_Surface(TopoDS::Face(face), Standard_False).GetType()) {
    case GeomAbs_Plane:
        return 1;
    case GeomAbs_Cylinder:
    case GeomAbs_Cone:
    case GeomAbs_Sphere:
        return 2;
    default:
        return 8;
    }
}

} // namespace

std::optional<Finding> too_much_overlaps(const std::vector<TopoDS_Shape>& shapes) {
    constexpr size_t heaviest = 64; // pair
    std::vector<std::vector<TopoDS_Shape>> faces;
    size_t all = 0;
    size_t pairs = 0;
    for (const TopoDS_Shape& shape : shapes) {
        faces.push_back(faces_of(shape));
        pairs += all * faces.back().size();
        all += faces.back().size();
    }
    if (pairs * heaviest <= most_work) {
        return std::nullopt;
    }
    std::vector<Box> boxes;
    std::vector<size_t> owners;
    std::vector<size_t> weights;
    for (size_t i = 0; i < faces.size(); ++i) {
        for (const TopoDS_Shape& face : faces[i]) {
            const auto corners = rough_box_of(face);
            Box box;
            box.add(gp_XYZ(corners[0], corners[1], corners[2]));
            box.add(gp_XYZ(corners[3], corners[4], corners[5]));
            boxes.push_back(box);
            owners.push_back(i);
            weights.push_back(weight_of(face));
        }
    }
    size_t work = 0;
    each_meeting_pair(boxes, [&](size_t a, size_t b) { work += owners[a] == owners[b] ? 0 : weights[a] * weights[b]; });
    if (work <= most_work) {
        return std::nullopt;
    }
    return error_finding("geom.too_much",
                         "Too much overlaps here: " + std::to_string(all) + " faces of " +
                             std::to_string(shapes.size()) + " bodies and cutters meet each other in too many places.",
                         "Make what cuts smaller or fewer, or divide it into several steps.");
}

} // namespace kervo::geom
