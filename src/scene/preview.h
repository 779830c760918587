// What is drawn of a result beside its bodies: everything is worked out off the window's thread, from shapes to plain
// lines.
#pragma once

#include "model/document/document.h"
#include "scene/shown_body.h"

namespace kervo::scene {

/// The diagonal of its box, in mm.
double size_of(const model::Body& body);

/// A piece as lines: its edges, and a hatch on its flat faces; and what can be picked of it.
struct PieceLines {
    std::vector<Polyline3> edges;
    std::vector<Segment3> hatch;
    Box3 box;
    std::shared_ptr<const PickTree> tree;
    bool curves = false; ///< edges alone, which are picked by their lines
};

/// Lines of a piece that goes, for the phantom drawing. `spacing` of the hatch in mm.
PieceLines lines_of_piece(const TopoDS_Shape& solid, double spacing);

/// Edges of any shape as polylines.
std::vector<Polyline3> lines_of(const TopoDS_Shape& shape, double deflection);

} // namespace kervo::scene
