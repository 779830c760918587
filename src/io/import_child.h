// Imports through a child process with limits.
#pragma once

#include "model/step_context.h"
#include "sketch/figures.h"

namespace kervo::io {

struct ImportLimits {
    double seconds = 180;           ///< of wall time and of processor time
    unsigned long megabytes = 4096; ///< of address space
    std::string reader;             ///< path of kervo-reader; empty: beside the running program
};

/// Reads an asset by its extension (.step, .stp, .brep, .brp). Findings: import.format, import.unreadable,
/// import.crashed, import.too_long, import.cancelled. Blocks; asks `progress` for cancelling.
Result<std::vector<model::ImportedBody>> import_in_child(const model::Asset& asset, const ImportLimits& limits,
                                                         Progress& progress);

/// Reads outlines by the file's extension (.svg, .dxf). Findings: as above.
Result<sketch::Artwork> outlines_in_child(const model::Asset& asset, const ImportLimits& limits, Progress& progress);

/// What the model needs from outside, with the default limits.
model::Services standard_services();

} // namespace kervo::io
