// What the document came to, as JSON: for scripts, clusters and tests.
#pragma once

#include "io/document/document_json.h"
#include "model/route/evaluate.h"

namespace kervo::io {

/// Each parameter's value; each step's state, findings, time, volumes and pieces; each body's measures. Lengths in mm.
Json report(const model::Document& document, const model::Evaluation& evaluation, int as_of = 0);
Json finding_to_json(const Finding& finding);

} // namespace kervo::io
