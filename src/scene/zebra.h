// Stripes on faces, as if long lamps side by side were mirrored in them: where faces meet, one sees how they do. They
// break where there is an edge, have a corner where only the tangents agree, and run on smoothly where curvatures do.
#pragma once

#include <Graphic3d_ShaderProgram.hxx>

namespace kervo::scene {

/// For the graphics card; the same one for all.
const Handle(Graphic3d_ShaderProgram) & zebra_program();

} // namespace kervo::scene
