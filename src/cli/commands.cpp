#include "cli/commands.h"

#include "io/document/document_schema.h"
#include "io/document/graph_svg.h"
#include "io/document/json_text.h"
#include "io/document/report.h"
#include "io/document/safe_file.h"
#include "io/formats/csv/parameters_csv.h"
#include "io/reader/import_child.h"
#include "model/document/groups_and_layers.h"
#include "model/steps/import/import.h"
#include "model/steps/sketch/sketch_step.h"

#include <spdlog/spdlog.h>

#include <filesystem>
#include <numbers>

namespace kervo::cli {

namespace {

// Opens a document, and finds the last step.
int open_one(Opened& opened, const Reading& reading, const std::string& path, int& as_of) {
    if (const int code = open(opened, path, reading.settings)) {
        return code;
    }
    return step_id(opened.document, reading.as_of, as_of);
}

// Of several, the first that is not well.
int worse(int so_far, int code) {
    return so_far == all_well ? code : so_far;
}

int outcome_of(const model::Evaluation& evaluation, const io::Json& report, const std::string& where) {
    for (const std::string& name : io::unsound_bodies(report)) {
        spdlog::error("{}body \u201c{}\u201d is not closed as it should be, or runs through itself [body.unsound]",
                      where.empty() ? "" : where + ": ", name);
    }
    return evaluation.failed() || !report.at("ok").get<bool>() ? step_failed : all_well;
}

} // namespace

int run_report(const Reading& reading, bool times) {
    const bool several = reading.documents.size() > 1;
    io::Json all = io::Json::array();
    int code = all_well;
    for (const std::string& path : reading.documents) {
        Opened opened;
        int id = 0;
        if (const int trouble = open_one(opened, reading, path, id)) {
            if (!several) {
                return trouble;
            }
            code = worse(code, trouble);
            all.push_back({{"file", path}, {"ok", false}});
            continue;
        }
        const auto evaluation = opened.evaluate(id);
        const std::string where = several ? path : "";
        say_all(opened.document, evaluation, where);
        io::Json report = io::report(opened.document, evaluation, {id, times});
        code = worse(code, outcome_of(evaluation, report, where));
        if (several) {
            report["file"] = path;
        }
        all.push_back(std::move(report));
    }
    return worse(print((several ? all : all.front()).dump(1) + "\n"), code);
}

int run_check(const Reading& reading) {
    int code = all_well;
    for (const std::string& path : reading.documents) {
        const std::string where = reading.documents.size() > 1 ? path : "";
        Opened opened;
        int id = 0;
        if (const int trouble = open_one(opened, reading, path, id)) {
            code = worse(code, trouble);
            continue;
        }
        const auto text = path == "-" ? Result<std::string>(opened.text) : io::read_document_text(path);
        const auto raw = text ? io::parse_json(*text) : text.finding();
        if (!raw) {
            say(raw.finding(), where);
            code = worse(code, file_trouble);
            continue;
        }
        const Findings schema = io::check_schema(*raw);
        for (const Finding& finding : schema) {
            say(finding, where);
        }
        const auto evaluation = opened.evaluate(id);
        say_all(opened.document, evaluation, where);
        const int outcome = outcome_of(evaluation, io::report(opened.document, evaluation, {id}), where);
        code = worse(code, schema.empty() ? outcome : step_failed);
    }
    return code;
}

int run_export(const Reading& reading, const Target& target, io::ExportOptions options) {
    Opened opened;
    if (const int code = open_one(opened, reading, reading.documents.front(), options.as_of)) {
        return code;
    }
    const auto evaluation = opened.evaluate(options.as_of);
    say_all(opened.document, evaluation);
    const int code = deliver(opened, target, io::Content::bodies, [&](const std::string& path) {
        return io::export_bodies(opened.document, evaluation, path, options);
    });
    return worse(code, evaluation.failed() ? step_failed : all_well);
}

int run_adopt(const Reading& reading, const std::string& out) {
    Opened opened;
    int id = 0;
    if (const int code = open_one(opened, reading, reading.documents.front(), id)) {
        return code;
    }
    return save(opened, opened.document, out);
}

int run_import(const std::vector<std::string>& files, const std::string& out) {
    Opened opened;
    opened.services = io::standard_services();
    opened.document.title = std::filesystem::path(files.front()).stem().string();
    for (const std::string& path : files) {
        const auto bytes = read_from(path);
        if (!bytes) {
            say(bytes.finding());
            return file_trouble;
        }
        const std::filesystem::path file(path);
        auto name = model::AssetName::like(file.filename().string());
        for (int number = 2; opened.document.assets.contains(name); ++number) { // of another folder
            name =
                model::AssetName::like(file.stem().string() + " " + std::to_string(number) + file.extension().string());
        }
        opened.document.assets[name] = std::make_shared<model::Asset>(model::Asset{name, *bytes, false});
        model::Import step;
        step.file.name = name.text();
        opened.document = model::add_step(opened.document, step, file.stem().string(), -1, nullptr);
    }
    const model::Evaluation evaluation = opened.evaluate();
    say_all(opened.document, evaluation);
    for (const auto& step : opened.document.steps) {
        const model::StepReport* report = evaluation.report(step->id);
        if (report != nullptr && report->output) {
            opened.document = model::sort_as_in_file(std::move(opened.document), report->output->sorting);
        }
    }
    const int code = save(opened, opened.document, out);
    return evaluation.failed() ? worse(step_failed, code) : code;
}

int run_parameters(const Reading& reading, const std::string& table, const std::string& out) {
    Opened opened;
    int id = 0;
    if (const int code = open_one(opened, reading, reading.documents.front(), id)) {
        return code;
    }
    if (table.empty()) {
        return print(io::parameters_to_csv(opened.document));
    }
    const auto text = read_from(table);
    if (!text) {
        say(text.finding());
        return file_trouble;
    }
    const auto changed = io::with_parameters_from_csv(opened.document, *text);
    if (!changed) {
        say(changed.finding());
        return file_trouble;
    }
    return save(opened, *changed, out);
}

namespace {

int write_outlines(Opened& opened, int id, const Target& target) {
    const auto evaluation = opened.evaluate(id);
    say_all(opened.document, evaluation);
    const auto* report = evaluation.report(id);
    if (report == nullptr || !report->output || !report->output->sketch) {
        return step_failed;
    }
    const auto& drawing = report->output->sketch->solution.sketch;
    const int code = deliver(opened, target, io::Content::outlines, [&](const std::string& path) {
        const auto problem = io::export_outlines(drawing, path);
        return problem ? Result<Findings>(*problem) : Findings();
    });
    return worse(code, evaluation.failed() ? step_failed : all_well);
}

int take_outlines(Opened& opened, int id, sketch::Sketch drawing, const OutlineOptions& wanted) {
    const auto bytes = io::read_whole(wanted.take);
    if (!bytes) {
        say(bytes.finding());
        return file_trouble;
    }
    const std::string name = std::filesystem::path(wanted.take).filename().string();
    const auto artwork = io::outlines_in_child({model::AssetName::like(name), *bytes, false}, {}, opened.progress);
    if (!artwork) {
        say(artwork.finding());
        return file_trouble;
    }
    for (const std::string& missing : artwork->skipped) {
        spdlog::warn("not read: {}", missing);
    }
    std::optional<sketch::Point2> at;
    if (!wanted.at.empty()) {
        at = {wanted.at[0], wanted.at[1]};
    }
    const int figure = sketch::add_artwork(drawing, std::make_shared<const sketch::Artwork>(*artwork), wanted.width, at,
                                           wanted.turn * std::numbers::pi / 180);
    drawing.figure(figure)->reversed = wanted.mirrored;
    return save(opened, model::change_field(opened.document, id, "drawing", drawing), wanted.save);
}

} // namespace

int run_outlines(const Reading& reading, const OutlineOptions& wanted) {
    Opened opened;
    int none = 0;
    int id = 0;
    if (const int code = open_one(opened, reading, reading.documents.front(), none)) {
        return code;
    }
    if (const int code = step_id(opened.document, wanted.step, id)) {
        return code;
    }
    const auto step = opened.document.step(id);
    const auto* drawn = step ? step->definition.as<model::SketchStep>() : nullptr;
    if (drawn == nullptr) {
        spdlog::error("step {} is no sketch", wanted.step);
        return bad_usage;
    }
    return wanted.take.empty() ? write_outlines(opened, id, wanted.write)
                               : take_outlines(opened, id, drawn->drawing, wanted);
}

int run_graph(const Reading& reading, const std::string& out) {
    Opened opened;
    int id = 0;
    if (const int code = open_one(opened, reading, reading.documents.front(), id)) {
        return code;
    }
    const auto graph = model::dependency_graph(opened.document);
    const std::string drawn = io::graph_to_svg(graph, model::lay_out(graph));
    return deliver(opened, {out, out == "-" ? "svg" : ""}, io::Content::outlines,
                   [&](const std::string& path) -> Result<Findings> {
                       if (!path.ends_with(".svg") && !path.ends_with(".SVG")) {
                           return error_finding("export.format", "What hangs on what is drawn as SVG.",
                                                "End the file's name in .svg.");
                       }
                       const auto problem = io::write_text_atomically(path, drawn);
                       return problem ? Result<Findings>(*problem) : Findings();
                   });
}

} // namespace kervo::cli
