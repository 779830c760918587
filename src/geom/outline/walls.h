// Walls over an outline, between planes that lie across it: what a prism and a straight hole are made of. Everything is
// built piece by piece, with exact curves in the parameters of every face, and without the kernel's general sweeping.
#pragma once

#include "geom/outline/profile.h"

#include <Geom_Plane.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Vertex.hxx>
#include <TopoDS_Wire.hxx>

namespace kervo::geom {

/// A plane across the normal of a frame: at (x, y) of the frame it lies `height` + `slope_x` x + `slope_y` y over it.
struct Level {
    double height = 0, slope_x = 0, slope_y = 0;
    [[nodiscard]] double at(double x, double y) const { return height + slope_x * x + slope_y * y; }
    [[nodiscard]] bool flat() const { return slope_x == 0 && slope_y == 0; }
};
/// Nothing for a plane that stands upright on the frame.
std::optional<Level> level_of(const gp_Pln& plane, const gp_Ax3& frame);

/// A straight line; an arc or a whole circle.
bool is_line(const OutlinePiece& piece);
bool is_arc(const OutlinePiece& piece);

/// Whether the curve of a piece runs as the piece does: backward ones lie on a curve that the kernel has forward.
bool runs_forward(const OutlinePiece& piece);
/// The curve over a piece on a level, and the parameters of its ends. Parts of ellipses on flat levels alone.
Handle(Geom_Curve)
    curve_on(const gp_Ax3& frame, const OutlinePiece& piece, const Level& level, double& first, double& last);

/// The place at `t` (0 to 1) of the way along a piece, by its parameter.
std::array<double, 2> place_on(const OutlinePiece& piece, double t);

/// The edge over a piece, forward on its curve, from and to vertices that grow by what the piece misses them.
TopoDS_Edge edge_on(const Handle(Geom_Curve) & curve, double first, double last, const TopoDS_Vertex& start,
                    const TopoDS_Vertex& end);

/// Where the walls over one loop meet a level.
struct Rim {
    Level level;
    std::vector<TopoDS_Edge> edges;      ///< one for each piece of the loop, forward on its curve
    std::vector<TopoDS_Vertex> vertices; ///< at the start of each piece
    std::vector<Handle(Geom_Curve)> curves;
    TopoDS_Wire wire; ///< in the order of the loop: outer loops run counterclockwise about the frame's normal
};

class Walls {
public:
    Walls(const gp_Ax3& frame, const OutlineLoop& loop) : frame_(frame), loop_(loop) {}

    /// Whether the walls can be built: parts of ellipses meet no sloping level.
    [[nodiscard]] bool can_meet(const Level& level) const;
    [[nodiscard]] Rim rim(const Level& level) const;
    /// One face for each piece of the loop, looking away from what the loop encloses. `low` lies below `high`
    /// everywhere.
    [[nodiscard]] std::vector<TopoDS_Face> between(const Rim& low, const Rim& high) const;
    /// Gives the rim's edges their curves in the parameters of a flat face.
    static void lay_on(const Rim& rim, const Handle(Geom_Plane) & plane, const TopLoc_Location& location);

private:
    [[nodiscard]] Handle(Geom_Surface) surface(const OutlinePiece& piece) const;

    const gp_Ax3& frame_;
    const OutlineLoop& loop_;
};

} // namespace kervo::geom
