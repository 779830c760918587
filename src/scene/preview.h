// What is drawn of a result beside its bodies: everything is worked out off the window's thread, from shapes to plain
// lines.
#pragma once

#include "geom/section.h"
#include "model/evaluate.h"

#include <Bnd_Box.hxx>

namespace kervo::scene {

using Polyline3 = std::vector<gp_Pnt>;

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

/// Makes the triangles of all bodies that have none yet, fine enough for a picture of them.
void prepare_bodies(const std::vector<std::pair<model::BodyId, model::BodyPtr>>& bodies);

} // namespace kervo::scene
