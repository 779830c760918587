// Reading and writing exact bodies: STEP AP242 with names and colours, BREP. These functions trust their input with the
// process they run in; for files from outside use import_child.h.
#pragma once

#include "base/progress.h"
#include "model/step_context.h"

namespace kervo::io {

struct NamedBody {
    std::string name;
    std::string color; ///< "#rrggbb" or empty
    TopoDS_Shape shape;
    std::vector<std::pair<TopoDS_Shape, std::string>> own_colors = {}; ///< of faces that have another colour
};

struct StepFile {
    std::vector<NamedBody> bodies;
    std::vector<std::string> not_followed; ///< other files that this one refers to
};

/// Every solid of the file, and what has surfaces alone, placed as the assembly places it. `progress` is told how far
/// it is. Finding: import.unreadable.
Result<StepFile> read_step(const std::string& bytes, Progress& progress);
Result<std::vector<NamedBody>> read_brep(const std::string& bytes, Progress& progress);

/// Findings: file.write. Both write in one move.
std::optional<Finding> write_step(const std::vector<NamedBody>& bodies, const std::string& path);
std::optional<Finding> write_brep(const std::vector<NamedBody>& bodies, const std::string& path);
std::string brep_text(const std::vector<NamedBody>& bodies);
/// Binary STL within `chord` mm of the true surface.
std::optional<Finding> write_stl(const std::vector<NamedBody>& bodies, const std::string& path, double chord);

} // namespace kervo::io
