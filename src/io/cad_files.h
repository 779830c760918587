// Reading and writing exact bodies: STEP AP242 with names and colours, BREP. These functions trust their input with the
// process they run in; for files from outside use import_child.h.
#pragma once

#include "model/step_context.h"

namespace kervo::io {

struct NamedBody {
    std::string name;
    std::string color; ///< "#rrggbb" or empty
    TopoDS_Shape shape;
    std::vector<std::pair<TopoDS_Shape, std::string>> own_colors = {}; ///< of faces that have another colour
};

/// Every solid of the file, and what has surfaces alone, placed as the assembly places it. Finding: import.unreadable.
Result<std::vector<NamedBody>> read_step(const std::string& path);
Result<std::vector<NamedBody>> read_brep(const std::string& path);

/// Findings: file.write. Both write in one move.
std::optional<Finding> write_step(const std::vector<NamedBody>& bodies, const std::string& path);
std::optional<Finding> write_brep(const std::vector<NamedBody>& bodies, const std::string& path);
/// Binary STL within `chord` mm of the true surface.
std::optional<Finding> write_stl(const std::vector<NamedBody>& bodies, const std::string& path, double chord);

} // namespace kervo::io
