// Parameters that are born where they are first needed: "clearance = 1 mm" typed as an answer or a dimension.
#pragma once

#include "model/document/document.h"

namespace kervo::model {

/// The document with every such answer replaced by the name alone, and the parameters made (or, where there is one of
/// that name, given the new formula). An answer that would read itself is left as it is: it has no value, and says so.
/// Steps that `before` holds as well are not looked at.
Document take_new_names(Document document, const Document* before = nullptr);

} // namespace kervo::model
