// Handing over bodies, outlines and parameters: picks the writer by the file's extension, writes in one move, and
// refuses stale bodies unless told otherwise.
#pragma once

#include "io/formats/format.h"
#include "model/route/evaluate.h"

namespace kervo::io {

struct ExportOptions {
    std::vector<std::string> only; ///< names or ids of bodies; empty: all
    bool stale_too = false;        ///< write bodies that follow a failed step
    int as_of = 0;                 ///< step; 0: the whole route
    FormatAnswers answers = {};    ///< to the format's questions
};

/// The bodies that are wanted, as copies of their own: they may be written on one thread while another goes on with the
/// document. Bodies that share a shape share their copy. Findings: export.no_body, export.stale,
/// export.failed.
Result<std::vector<NamedBody>> bodies_to_write(const model::Evaluation& evaluation, const ExportOptions& options);
/// Findings: export.format, export.answer, file.write.
std::optional<Finding> write_bodies(const std::vector<NamedBody>& bodies, const std::string& path,
                                    const FormatAnswers& answers);
/// Both. Findings: those of both.
std::optional<Finding> export_bodies(const model::Evaluation& evaluation, const std::string& path,
                                     const ExportOptions& options);
/// The curves of a sketch as it is solved, and what its figures draw. Findings: export.format, export.answer,
/// file.write.
std::optional<Finding> export_outlines(const sketch::Sketch& drawing, const std::string& path,
                                       const FormatAnswers& answers = {});
std::optional<Finding> export_parameters(const model::Document& document, const std::string& path,
                                         const FormatAnswers& answers = {});

} // namespace kervo::io
