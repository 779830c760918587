// Measuring shapes: volumes, areas, counts, and whether a body is closed.
#pragma once

#include "geom/kernel/shape.h"

#include <gp_Dir.hxx>

#include <Bnd_Box.hxx>
#include <GProp_GProps.hxx>
#include <NCollection_DataMap.hxx>
#include <TopTools_ShapeMapHasher.hxx>

#include <array>
#include <map>
#include <optional>

namespace kervo::geom {

/// Volume enclosed by the solids of `shape` (mm^3), by Gauss integration over the exact faces.
double volume_of(const TopoDS_Shape& shape);
/// Volumes and centres of many solids that share faces, as the pieces of a cut do: each face is integrated once.
/// Gauss integration of the divergence theorem over the exact faces, the same as `volume_of`.
class VolumeMeter {
public:
    struct Measured {
        double volume = 0; ///< mm^3
        gp_Pnt center;     ///< of mass
    };
    /// Of the cone over a face, or the sum over several: volume (mm^3, signed) and volume times centre.
    struct Cone {
        double volume = 0;
        gp_XYZ moment{};
        Cone& operator+=(const Cone& more) {
            volume += more.volume;
            moment += more.moment;
            return *this;
        }
        Cone& operator-=(const Cone& less) { return *this += {-less.volume, less.moment * -1.0}; }
        /// Of a body, from the sum over all its faces.
        [[nodiscard]] gp_Pnt center() const { return {moment / volume}; }
    };
    explicit VolumeMeter(const TopoDS_Shape& around);
    explicit VolumeMeter(const gp_Pnt& apex) : apex_(apex) {}
    Measured measure(const TopoDS_Shape& shape);
    /// Over a face as it is oriented; it is integrated anew.
    [[nodiscard]] static Cone cone_over(const TopoDS_Shape& face, const gp_Pnt& apex);
    /// The sum over several.
    [[nodiscard]] static Cone cone_over(const std::vector<TopoDS_Face>& faces, const gp_Pnt& apex);
    /// A place in the box for the tips of cones.
    static gp_Pnt apex_within(const std::array<double, 6>& box);

private:
    gp_Pnt apex_; ///< the integrals are volumes of cones over the faces with their tips here
    NCollection_DataMap<TopoDS_Shape, Cone, TopTools_ShapeMapHasher> faces_;
};
/// Area of the faces (mm^2).
double area_of(const TopoDS_Shape& shape);
/// Length of the edges, each counted once (mm).
double length_of(const TopoDS_Shape& edge);
/// Which way a straight edge runs; nothing for one that is not straight.
std::optional<gp_Dir> direction_of(const TopoDS_Shape& edge);
/// Centre of mass of the volume; of the area where there is no solid, of the length where there are only edges.
gp_Pnt centroid_of(const TopoDS_Shape& shape);
/// Centre of a single face, edge or vertex: of its area, its length, or itself.
gp_Pnt center_of(const TopoDS_Shape& element);
/// Axis-aligned box without the tolerance gap: {xmin, ymin, zmin, xmax, ymax, zmax}; all zero when empty.
std::array<double, 6> box_of(const TopoDS_Shape& shape);
/// A box that may be somewhat too large, much quicker where there are tori and splines.
std::array<double, 6> rough_box_of(const TopoDS_Shape& shape);
/// The kernel's box, with tolerances, for quick rejections.
Bnd_Box bounds_of(const TopoDS_Shape& shape);

struct Counts {
    int lumps = 0, shells = 0, faces = 0, loops = 0, edges = 0, vertices = 0;
    std::map<std::string, int> faces_by_surface; ///< "plane", "cylinder", ...
};
Counts count(const TopoDS_Shape& shape);

/// "plane", "cylinder", "cone", "sphere", "torus", "free-form" ... of a face.
std::string surface_kind(const TopoDS_Shape& face);
/// Whether two faces run smoothly into each other along an edge, as far as its middle tells.
bool is_smooth(const TopoDS_Shape& edge, const TopoDS_Shape& one, const TopoDS_Shape& other);
/// The line of a straight edge; the axis of a round edge, or of a cylinder, cone, sphere or torus. Nothing for others.
std::optional<gp_Ax1> axis_of(const TopoDS_Shape& element);
/// "line", "circle", "ellipse", "free-form" of an edge.
std::string curve_kind(const TopoDS_Shape& edge);

/// The edges that one sees: not those where one face closes on itself, as along a cylinder, and no degenerate ones, as
/// at a cone's tip.
std::vector<TopoDS_Shape> visible_edges_of(const TopoDS_Shape& shape);

/// Every edge that is not degenerate is used by exactly two faces (or twice by one). Linear in the number of edges.
bool is_closed(const TopoDS_Shape& shape);
/// The kernel's own full check; it compares every loop of a face with every other, so those of flat faces with many
/// loops are asked about a few at a time, and whether they are apart is found by their boxes.
bool is_valid(const TopoDS_Shape& shape);

} // namespace kervo::geom
