// Imports through a child process with limits.
#pragma once

#include "model/route/step_context.h"
#include "sketch/figures.h"

namespace kervo::io {

struct ImportLimits {
    double seconds = 0;          ///< without any headway; 0: 180 for bodies, 20 for outlines
    unsigned long megabytes = 0; ///< of address space; 0: 4096 for bodies, 1024 for outlines
    std::string reader = {};     ///< path of kervo-reader; empty: as `use_reader` said, else kervo-reader
                                 ///< beside the running program
};

/// Reads bodies by the extension of the asset's name. Findings: import.format, import.unreadable,
/// import.crashed, import.too_long, import.cancelled. Blocks; tells `progress`, and asks it for cancelling.
Result<model::ImportedFile> import_in_child(const model::Asset& asset, const ImportLimits& limits, Progress& progress);

/// Reads outlines in the same way.
Result<sketch::Artwork> outlines_in_child(const model::Asset& asset, const ImportLimits& limits, Progress& progress);

/// The program that reads from now on, where limits name none: one that knows more formats (reader.h).
void use_reader(const std::string& path);

/// What the model needs from outside, with the default limits.
model::Services standard_services();

} // namespace kervo::io
