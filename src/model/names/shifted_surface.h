// Surfaces beside surfaces, whose faces keep their names.
#pragma once

#include "base/progress.h"
#include "model/names/names.h"

namespace kervo::model {

/// The surface `by` mm away to where it looks, or behind it where that is below zero. Findings: those of
/// `geom::thickened`.
Result<BodyPtr> shifted_surface(const Body& surface, double by, Progress& progress);

} // namespace kervo::model
