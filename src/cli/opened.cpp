#include "cli/opened.h"

#include "base/nearest_word.h"
#include "base/text.h"
#include "io/document/document_json.h"
#include "io/document/safe_file.h"
#include "io/reader/import_child.h"

#include <spdlog/spdlog.h>

#include <algorithm>
#include <filesystem>
#include <iostream>
#include <iterator>

namespace kervo::cli {

namespace {

bool has_hand_made_picks(const model::Document& document) {
    for (const auto& step : document.steps) {
        for (const auto& field : model::fields_of(step->definition)) {
            if (const auto* regions = std::get_if<model::RegionReferences>(&field.value)) {
                for (const auto& region : *regions) {
                    if (region.bounds.empty() && region.figure == 0) {
                        return true;
                    }
                }
            }
            if (const auto* references = std::get_if<model::References>(&field.value)) {
                for (const auto& reference : *references) {
                    if (reference.by_hand()) {
                        return true;
                    }
                }
            }
        }
    }
    return false;
}

int read_document(Opened& opened, const std::string& path) {
    opened.path = path;
    if (path == "-") {
        opened.text = *read_from(path);
        auto document = io::document_from_text(opened.text);
        if (!document) {
            say(document.finding());
            return file_trouble;
        }
        opened.document = std::move(*document);
        return all_well;
    }
    auto file = io::open_file(path);
    if (!file) {
        say(file.finding());
        return file_trouble;
    }
    opened.document = std::move(file->document);
    opened.file = file->state;
    return all_well;
}

int set_parameter(model::Document& document, const std::string& setting) {
    const size_t equals = setting.find('=');
    if (equals == std::string::npos) {
        spdlog::error("--set {}: write NAME=FORMULA", setting);
        return bad_usage;
    }
    const std::string name = setting.substr(0, equals);
    std::vector<std::string> known;
    for (Parameter& parameter : document.parameters) {
        if (parameter.name == name) {
            parameter.formula = setting.substr(equals + 1);
            return all_well;
        }
        known.push_back(parameter.name);
    }
    spdlog::error("--set {}: there is no parameter \u201c{}\u201d{}", setting, name, did_you_mean(name, known));
    return bad_usage;
}

bool is_document(const std::string& path) {
    const std::string extension = std::filesystem::path(path).extension().string();
    return extension == ".json" || extension == ".kervo";
}

// A new file of the format, whose bytes go where they are wanted.
int deliver_by_way_of(const Target& target, const std::string& extension,
                      const std::function<Result<Findings>(const std::string& path)>& write) {
    const io::TemporaryFolder folder;
    const std::string fresh = folder.file("out" + extension);
    const auto written = write(fresh);
    if (!written) {
        say(written.finding());
        return code_of(written.finding());
    }
    for (const Finding& finding : *written) {
        say(finding);
    }
    const auto bytes = io::read_whole(fresh);
    if (!bytes) {
        say(bytes.finding());
        return file_trouble;
    }
    if (target.path == "-") {
        return print(*bytes);
    }
    if (const auto problem = io::write_text_atomically(target.path, *bytes)) {
        say(*problem);
        return file_trouble;
    }
    return all_well;
}

} // namespace

void say(const Finding& finding, const std::string& where) {
    const std::string text = (where.empty() ? "" : where + ": ") + finding.cause +
                             (finding.mend.empty() ? "" : " " + finding.mend) + " [" + finding.code + "]";
    finding.severity == Severity::error     ? spdlog::error(text)
    : finding.severity == Severity::warning ? spdlog::warn(text)
                                            : spdlog::info(text);
    for (const std::string& line : finding.trace) {
        spdlog::debug("{}: {}", finding.code, line);
    }
}

void say_all(const model::Document& document, const model::Evaluation& evaluation, const std::string& where) {
    const std::string front = where.empty() ? "" : where + ": ";
    const std::string parameter = front + "parameter ";
    for (const auto& [name, finding] : evaluation.parameters.findings) {
        say(finding, parameter + name);
    }
    for (const auto& report : evaluation.steps) {
        for (const Finding& finding : report.findings) {
            say(finding, front + "step " + std::to_string(document.step(report.id)->number));
        }
    }
}

int code_of(const Finding& finding) {
    return finding.code.starts_with("file.")                                    ? file_trouble
           : finding.code == "export.stale" || finding.code == "export.unsound" ? step_failed
                                                                                : bad_usage;
}

int open(Opened& opened, const std::string& path, const std::vector<std::string>& settings) {
    opened.services = io::standard_services();
    if (const int code = read_document(opened, path)) {
        return code;
    }
    if (has_hand_made_picks(opened.document)) {
        opened.document = model::adopt_names(opened.document, opened.evaluate());
    }
    for (const std::string& setting : settings) {
        if (const int code = set_parameter(opened.document, setting)) {
            return code;
        }
    }
    return all_well;
}

int save(const Opened& opened, const model::Document& document, const std::string& out) {
    if (out == "-") {
        return print(io::to_text(document));
    }
    io::Saving saving;
    std::error_code none;
    if (std::filesystem::equivalent(opened.path, out, none)) {
        saving.expected = opened.file;
    }
    if (const auto problem = io::save_document(document, out, saving)) {
        say(*problem);
        return file_trouble;
    }
    return all_well;
}

int step_id(const model::Document& document, int number, int& id) {
    id = 0;
    std::vector<std::string> known;
    for (const auto& step : document.steps) {
        if (step->number == number) {
            id = step->id;
        }
        known.push_back(std::to_string(step->number));
    }
    if (number != 0 && id == 0) {
        constexpr size_t few = 12; // that are read at a glance
        spdlog::error("there is no step {}; {}", number,
                      known.empty()         ? "there are none"
                      : known.size() <= few ? "there are " + listed(known)
                                            : "their numbers go from " + known.front() + " to " + known.back());
        return bad_usage;
    }
    return all_well;
}

int deliver(const Opened& opened, const Target& target, io::Content content,
            const std::function<Result<Findings>(const std::string& path)>& write) {
    std::error_code none;
    if (target.path != "-" &&
        (is_document(target.path) || std::filesystem::equivalent(opened.path, target.path, none))) {
        spdlog::error("\u201c{}\u201d is the name of a document, which is not overwritten by what is made from it",
                      target.path);
        return bad_usage;
    }
    const auto writers = io::writers_of(content);
    const io::Format* format = target.wanted();
    if (format == nullptr || !format->writes(content)) {
        std::vector<std::string> known;
        for (const io::Format* each : writers) {
            known.push_back(each->extensions.front().substr(1));
        }
        if (!target.format.empty()) {
            spdlog::error("--format {}: there is no such format{}", target.format, did_you_mean(target.format, known));
        } else if (target.path == "-") {
            spdlog::error("say with --format what goes to standard output: {}", io::extensions_of(writers));
        } else {
            say(io::no_such_format("export.format", target.path, writers));
        }
        return bad_usage;
    }
    if (target.path != "-" && io::format_of(target.path) == format) {
        const auto written = write(target.path);
        for (const Finding& finding : written ? *written : Findings{written.finding()}) {
            say(finding);
        }
        return written ? all_well : code_of(written.finding());
    }
    return deliver_by_way_of(target, format->extensions.front(), write);
}

int print(const std::string& text) {
    std::cout << text << std::flush;
    if (!std::cout) {
        spdlog::error("Standard output takes no more: the result is not written. [file.write]");
        return file_trouble;
    }
    return all_well;
}

Result<std::string> read_from(const std::string& path) {
    if (path != "-") {
        return io::read_whole(path);
    }
    return std::string(std::istreambuf_iterator<char>(std::cin), {});
}

} // namespace kervo::cli
