// Handing bodies over: picks the writer by the file's extension, and refuses stale bodies unless told otherwise.
#pragma once

#include "io/cad_files.h"
#include "model/evaluate.h"

namespace kervo::io {

struct ExportOptions {
    std::vector<std::string> only; ///< names or ids of bodies; empty: all
    bool stale_too = false;        ///< write bodies that follow a failed step
    double chord = 0.05;           ///< mm, for STL
    int as_of = 0;                 ///< step; 0: the whole route
};

/// Writes .step/.stp, .brep or .stl. Findings: export.format, export.no_body, export.stale, file.write.
std::optional<Finding> export_bodies(const model::Evaluation& evaluation, const std::string& path,
                                     const ExportOptions& options);

} // namespace kervo::io
