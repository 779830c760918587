// Finding elements of a shape: near a point, along a ray, beside each other.
#pragma once

#include "geom/kernel/shape.h"

#include <TopoDS_Face.hxx>

#include <gp_Lin.hxx>

#include <map>
#include <set>

namespace kervo::geom {

struct NearElement {
    TopoDS_Shape element;
    double distance = 0;    ///< mm
    bool ambiguous = false; ///< another element is as near, within 1e-6 mm
};

/// The face, edge or vertex of `shape` nearest to `point`; a null element when there is none.
NearElement nearest_element(const TopoDS_Shape& shape, TopAbs_ShapeEnum kind, const gp_Pnt& point);

/// Distance in mm from `point` to a face, edge, vertex or body.
double distance_to(const TopoDS_Shape& shape, const gp_Pnt& point);

struct Gap {
    double width = 0; ///< mm; 0 where they touch or overlap
    gp_Pnt on_first, on_second;
};
/// Where two bodies come nearest to each other.
Gap gap_between(const TopoDS_Shape& first, const TopoDS_Shape& second);

/// Places spread over a face: one inside of it, and the middle of each of its edges.
std::vector<gp_Pnt> places_on(const TopoDS_Face& face);

struct RayHit {
    double at; ///< parameter along the line, mm
    TopoDS_Shape face;
    bool leaves = false; ///< the line comes out of the material here
};

/// All places where the line crosses faces of the body, ascending.
std::vector<RayHit> hits_along(const TopoDS_Shape& body, const gp_Lin& line);

/// For each of some faces of the body, those that share an edge with it, itself left out.
std::vector<std::vector<TopoDS_Shape>> faces_beside(const TopoDS_Shape& body, const std::vector<TopoDS_Shape>& faces);

/// Which elements lie around which: built once for a body, then asked often.
class Neighbours {
public:
    explicit Neighbours(const TopoDS_Shape& shape);
    [[nodiscard]] const std::vector<TopoDS_Shape>& faces() const { return faces_; }
    /// Indices of the faces at an edge (one or two) or a vertex (any number).
    [[nodiscard]] std::set<int> faces_at(const TopoDS_Shape& element) const;

private:
    std::vector<TopoDS_Shape> faces_;
    std::map<const void*, std::vector<std::pair<TopoDS_Shape, std::set<int>>>> at_element_;
};

} // namespace kervo::geom
