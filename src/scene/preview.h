// What is drawn of a result beside its bodies: everything is worked out off the window's thread, from shapes to plain
// lines.
#pragma once

#include "geom/view/section.h"
#include "model/route/evaluate.h"

#include <Bnd_Box.hxx>
#include <Graphic3d_ArrayOfSegments.hxx>
#include <Graphic3d_ArrayOfTriangles.hxx>

#include <map>
#include <memory>

namespace kervo::scene {

using Polyline3 = std::vector<gp_Pnt>;

/// The diagonal of its box, in mm.
double size_of(const model::Body& body);

/// A piece as lines: its edges, and a hatch on its flat faces.
struct PieceLines {
    std::vector<Polyline3> edges;
    std::vector<geom::Segment3> hatch;
    Bnd_Box box;
};

/// Lines of a piece that goes, for the phantom drawing. `spacing` of the hatch in mm.
PieceLines lines_of_piece(const TopoDS_Shape& solid, double spacing);

/// Edges of any shape as polylines.
std::vector<Polyline3> lines_of(const TopoDS_Shape& shape, double deflection);

/// A cap where a cutaway cuts a body.
struct Cap {
    model::BodyId body;
    TopoDS_Shape face;
    std::vector<geom::Segment3> hatch;
    std::vector<geom::Segment3> outline;
};

/// Caps of all bodies that the cutaway clips; neighbours are hatched the other way. Spacing by the size of the whole.
std::vector<Cap> caps_of(const model::Cutaway& cutaway,
                         const std::vector<std::pair<model::BodyId, model::BodyPtr>>& bodies);

/// What the graphics card is given of a body: its triangles, and the edges that are seen.
struct Drawn {
    Handle(Graphic3d_ArrayOfTriangles) triangles; ///< of the faces that have the body's own colour
    std::vector<std::pair<model::BodyId, Handle(Graphic3d_ArrayOfTriangles)>> foreign; ///< that have another one's
    Handle(Graphic3d_ArrayOfSegments) edges;
    Handle(Graphic3d_ArrayOfSegments) smooth; ///< edges along which faces run into each other
    bool closed = false;                      ///< nobody sees the inside
};
using DrawnPtr = std::shared_ptr<const Drawn>;
using DrawnBodies = std::map<model::BodyPtr, DrawnPtr>;

/// Triangles of all bodies, fine enough for a picture of them; of those that are `known`, the same as there.
DrawnBodies prepare_bodies(const std::vector<std::pair<model::BodyId, model::BodyPtr>>& bodies,
                           const DrawnBodies& known);

} // namespace kervo::scene
