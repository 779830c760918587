// What the graphics card is given of a body: its triangles, and the edges that are seen.
#pragma once

#include "scene/shown_body.h"

#include <Graphic3d_ArrayOfSegments.hxx>
#include <Graphic3d_ArrayOfTriangles.hxx>

namespace kervo::scene {

struct Drawn {
    Handle(Graphic3d_ArrayOfTriangles) triangles; ///< of the faces that have the body's own colour
    std::vector<std::pair<model::BodyId, Handle(Graphic3d_ArrayOfTriangles)>> foreign; ///< that have another one's
    Handle(Graphic3d_ArrayOfSegments) edges;
    Handle(Graphic3d_ArrayOfSegments) smooth; ///< edges along which faces run into each other
    Handle(Graphic3d_ArrayOfSegments) free;   ///< borders of a surface
    bool closed = false;                      ///< nobody sees the inside
};

/// Null for none.
Handle(Graphic3d_ArrayOfSegments) segments_of(const std::vector<const Polyline3*>& lines);
Handle(Graphic3d_ArrayOfTriangles) triangles_of(const Mesh& mesh, const Mesh::Range& range);

} // namespace kervo::scene
