// Faces on surfaces that are there, and solids from faces: what our own cuts put together.
#pragma once

#include "geom/kernel/shape.h"

#include <TopoDS_Solid.hxx>

namespace kervo::geom {

/// A face on the same surface, looking FORWARD, without loops.
TopoDS_Face same_surface(const TopoDS_Face& face);
/// A face on the same surface, looking as `face` does, with these loops, oriented as for a FORWARD face.
TopoDS_Face face_with_loops(const TopoDS_Face& face, const std::vector<TopoDS_Shape>& loops);
/// Of faces that close, each looking out of the material.
TopoDS_Solid solid_of(const std::vector<TopoDS_Face>& faces);

} // namespace kervo::geom
