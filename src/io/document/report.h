// What the document came to, as JSON: for scripts, clusters and tests.
#pragma once

#include "io/document/document_json.h"
#include "model/route/evaluate.h"

namespace kervo::io {

struct ReportOptions {
    int as_of = 0;      ///< id of the last step; 0: the whole route
    bool times = false; ///< how long each step took, which is never twice the same
};

/// Each parameter's value; each step's state, findings, volumes and pieces; each body's measures. Lengths in mm,
/// numbers to 15 digits. `ok`: no step failed, and all bodies are sound.
Json report(const model::Document& document, const model::Evaluation& evaluation, const ReportOptions& options = {});
/// The names of bodies that are not closed as they should be, or run through themselves.
std::vector<std::string> unsound_bodies(const Json& report);
Json finding_to_json(const Finding& finding);

} // namespace kervo::io
