// STEP (ISO 10303-21), application protocol 242: solids and surfaces with names and colours, placed as the assembly
// places them. Other files that one refers to are told, not followed.
#pragma once

#include "io/formats/format.h"

namespace kervo::io {

Format step_format();

} // namespace kervo::io
