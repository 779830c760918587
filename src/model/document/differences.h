// What one document has that another has not, in words.
#pragma once

#include "model/document/document.h"

namespace kervo::model {

/// A line for each parameter, step and appearance that is new, gone or other in `after`, in the order of the route;
/// nothing where both are the same.
std::vector<std::string> differences(const Document& before, const Document& after);

} // namespace kervo::model
