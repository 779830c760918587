// Uniting bodies into one.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/kernel/shape.h"

namespace kervo::geom {

struct United {
    TopoDS_Shape shape;
    std::vector<FaceOrigin> origins; ///< for every face of the result; faces merged across a seam have several
};

struct UniteOptions {
    bool clean_seams = true; ///< merge faces (and edges) that continue each other
    bool parts = false;      ///< they are parts of one division: they overlap nowhere, and touch in faces they share
};

/// Accepts one or more bodies of solids. Promises a closed result whose volume is at most the sum of the inputs' and at
/// least the largest of them. Finding: unite.failed.
Result<United> unite(const std::vector<TopoDS_Shape>& bodies, const UniteOptions& options, Progress& progress);

/// Where lumps of a body share a vertex, but no edge with it, or an edge (its middle), but no face: they touch there,
/// and do not hang together.
std::vector<gp_Pnt> bare_contacts(const TopoDS_Shape& body);

/// Origins of what was made of what was made: `later` seen through `earlier`. What `earlier` does not know is its own
/// origin.
std::vector<FaceOrigin> traced_back(const std::vector<FaceOrigin>& later, const std::vector<FaceOrigin>& earlier);

} // namespace kervo::geom
