// Binary STL: triangles of all bodies together, within a distance of the true surface that may be chosen.
#pragma once

#include "io/formats/format.h"

namespace kervo::io {

Format stl_format();

} // namespace kervo::io
