// The picture of what hangs on what, as SVG.
#pragma once

#include "model/route/dependency_graph.h"

namespace kervo::io {

/// Parameters with round ends, steps with square ones; suspended steps dashed, frozen ones grey.
std::string graph_to_svg(const model::DependencyGraph& graph, const model::GraphLayout& layout);

} // namespace kervo::io
