// Planes with which the graphics card cuts off what cutaways take away.
#pragma once

#include "scene/viewer.h"

#include <Graphic3d_SequenceOfHClipPlane.hxx>

namespace kervo::scene {

/// None where what was worked out is drawn.
Handle(Graphic3d_SequenceOfHClipPlane) clips_of(const BodyLook& look);

} // namespace kervo::scene
