// What the commands share: a document that is opened with other values, saved, and told of.
#pragma once

#include "io/document/document_file.h"
#include "io/formats/hand_over.h"
#include "model/route/evaluate.h"

#include <functional>

namespace kervo::cli {

enum ExitCode { all_well = 0, step_failed = 1, file_trouble = 2, bad_usage = 3 };

/// On standard error; `where` stands in front.
void say(const Finding& finding, const std::string& where = {});
void say_all(const model::Document& document, const model::Evaluation& evaluation, const std::string& where = {});
/// How a finding about a file ends the program.
int code_of(const Finding& finding);

/// A document, its hand-made picks turned to names at its own values, then the new values set.
struct Opened {
    model::Document document;
    std::string path;                  ///< of its file; "-": standard input
    std::string text;                  ///< of the document, where it came from standard input
    std::optional<io::FileState> file; ///< what that held
    model::EvaluationCache cache;
    model::Services services;
    Progress progress;

    model::Evaluation evaluate(int as_of = 0) { return model::evaluate(document, cache, services, progress, as_of); }
};

/// `settings`: NAME=FORMULA. What is wrong is said.
int open(Opened& opened, const std::string& path, const std::vector<std::string>& settings);
/// Nothing that another program has written meanwhile is replaced, nor what a window has open. "-": standard output.
int save(const Opened& opened, const model::Document& document, const std::string& out);
/// The id of the step with that number; 0, and well, for the number 0.
int step_id(const model::Document& document, int number, int& id);

/// Where something is written: a file, or "-" for standard output; its format by name where the file's does not say it.
struct Target {
    std::string path, format;
    /// Null where there is no such format.
    [[nodiscard]] const io::Format* wanted() const { return io::format_of(format.empty() ? path : "x." + format); }
};
/// Has `write` write it, which goes by the extension of the file that it is given. No document is overwritten.
int deliver(const Opened& opened, const Target& target, io::Content content,
            const std::function<Result<Findings>(const std::string& path)>& write);
/// On standard output; what cannot be written there is said.
int print(const std::string& text);
/// All that comes on standard input, or what the file holds.
Result<std::string> read_from(const std::string& path);

} // namespace kervo::cli
