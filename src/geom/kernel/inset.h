// The kernel's offset of a solid inwards. It goes round in a circle for some bodies and for ever, so it is made in a
// process of its own. What it comes to depends on where things lie in memory: that process has the same memory each
// time.
#pragma once

#include "base/progress.h"
#include "geom/kernel/shape.h"

#include <map>
#include <optional>
#include <string>

namespace kervo::geom {

enum class Corners { sharp, round };

struct InsetTask {
    TopoDS_Shape solid;
    double thickness = 0;         ///< mm
    std::map<size_t, double> own; ///< of faces, by their place in `faces_of`: mm
    Corners corners = Corners::sharp;
    int order = 0; ///< another one puts things elsewhere in memory, and may come to something where the first does not
    bool thickens = false; ///< of an open surface: the solid between it and its offset
};

struct Inset {
    TopoDS_Shape shape; ///< as the kernel made it: a solid or a shell
    struct Made {
        TopoDS_Shape face; ///< of the shape
        size_t source = 0; ///< place among the faces of the solid, then its edges
    };
    std::vector<Made> made;
};

enum class InsetEnd { done, none, never_ends, no_helper, cancelled };

/// In a process of its own that takes at most `seconds` of processor time.
std::pair<InsetEnd, Inset> make_inset(const InsetTask& task, double seconds, Progress& progress);

/// What that process does: the answer to a task, both as bytes. An empty answer: the kernel made nothing.
std::string answer_inset(const std::string& task);

} // namespace kervo::geom
