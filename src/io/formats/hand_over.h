// Handing over bodies, outlines and parameters: picks the writer by the file's extension, writes in one move, and
// refuses stale bodies unless told otherwise.
#pragma once

#include "io/formats/format.h"
#include "model/route/evaluate.h"

namespace kervo::io {

struct ExportOptions {
    std::vector<std::string> only; ///< names or ids of bodies, all that have a name; empty: all that are not hidden
    bool hidden_too = false;
    bool stale_too = false;   ///< bodies that follow a failed step
    bool unsound_too = false; ///< bodies that are not closed as they should be, or run through themselves
    bool apart = false;       ///< each body in a file of its own, whose name ends in the body's
    int as_of = 0;            ///< step; 0: the whole route
    std::string author = {};
    FormatAnswers answers = {}; ///< to the format's questions
};

/// The bodies that are wanted, as copies of their own: they may be written on one thread while another goes on with the
/// document. Bodies that share a shape share their copy. Findings: export.no_body, export.blade, export.stale,
/// export.unsound, export.failed.
Result<ModelToWrite> model_to_write(const model::Document& document, const model::Evaluation& evaluation,
                                    const ExportOptions& options);
/// What is to be known of the files that were written. Findings: export.format, export.answer, file.write.
Result<Findings> write_model(const ModelToWrite& model, const std::string& path, const ExportOptions& options);
/// Both. Findings: those of both.
Result<Findings> export_bodies(const model::Document& document, const model::Evaluation& evaluation,
                               const std::string& path, const ExportOptions& options);
/// The curves of a sketch as it is solved, and what its figures draw. Findings: export.format, export.answer,
/// file.write.
std::optional<Finding> export_outlines(const sketch::Sketch& drawing, const std::string& path,
                                       const FormatAnswers& answers = {});
std::optional<Finding> export_parameters(const model::Document& document, const std::string& path,
                                         const FormatAnswers& answers = {});

} // namespace kervo::io
