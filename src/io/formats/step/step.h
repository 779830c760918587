// STEP (ISO 10303-21), application protocol 242: solids and surfaces with names and colours, placed as the assembly
// places them. Other files that one refers to are told, not followed.
#pragma once

#include "io/formats/format.h"

namespace kervo::io {

Format step_format();
/// Names, colours, layers, groups as assemblies, copies as occurrences of one product.
Written write_step(const ModelToWrite& model, const FormatAnswers& answers, const std::string& path);

} // namespace kervo::io
