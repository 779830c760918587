#include "cli/cli.h"

#include "io/document/document_file.h"
#include "io/document/document_schema.h"
#include "io/document/graph_svg.h"
#include "io/document/json_text.h"
#include "io/document/report.h"
#include "io/document/safe_file.h"
#include "io/formats/csv/parameters_csv.h"
#include "io/formats/hand_over.h"
#include "io/reader/import_child.h"
#include "model/steps/sketch/sketch_step.h"

#include <CLI/CLI.hpp>
#include <spdlog/sinks/stdout_color_sinks.h>
#include <spdlog/spdlog.h>

#include <filesystem>
#include <iostream>
#include <numbers>

namespace kervo::cli {

namespace {

enum ExitCode { all_well = 0, step_failed = 1, file_trouble = 2, bad_usage = 3 };

void say(const Finding& finding, const std::string& where = {}) {
    const std::string text = (where.empty() ? "" : where + ": ") + finding.cause +
                             (finding.mend.empty() ? "" : " " + finding.mend) + " [" + finding.code + "]";
    finding.severity == Severity::error     ? spdlog::error(text)
    : finding.severity == Severity::warning ? spdlog::warn(text)
                                            : spdlog::info(text);
    for (const std::string& line : finding.trace) {
        spdlog::debug("{}: {}", finding.code, line);
    }
}

void say_all(const model::Document& document, const model::Evaluation& evaluation) {
    for (const auto& [name, finding] : evaluation.parameters.findings) {
        say(finding, "parameter " + name);
    }
    for (const auto& report : evaluation.steps) {
        for (const Finding& finding : report.findings) {
            say(finding, "step " + std::to_string(document.step(report.id)->number));
        }
    }
}

// A document opened, its hand-made picks turned to names at its own values, then the new values set.
struct Session {
    model::Document document;
    std::string path;   ///< of its file
    io::FileState file; ///< what that held
    model::EvaluationCache cache;
    model::Services services = io::standard_services();
    Progress progress;

    model::Evaluation evaluate(int as_of = 0) { return model::evaluate(document, cache, services, progress, as_of); }
};

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

int open(Session& session, const std::string& path, const std::vector<std::string>& settings) {
    auto opened = io::open_file(path);
    if (!opened) {
        say(opened.finding());
        return file_trouble;
    }
    session.document = std::move(opened->document);
    session.path = path;
    session.file = opened->state;
    if (has_hand_made_picks(session.document)) {
        session.document = model::adopt_names(session.document, session.evaluate());
    }
    for (const std::string& setting : settings) {
        const size_t equals = setting.find('=');
        const std::string name = setting.substr(0, equals);
        auto& parameters = session.document.parameters;
        const auto at =
            std::find_if(parameters.begin(), parameters.end(), [&](const Parameter& p) { return p.name == name; });
        if (equals == std::string::npos || at == parameters.end()) {
            spdlog::error("--set {}: {}", setting,
                          equals == std::string::npos ? "write NAME=FORMULA" : "there is no such parameter");
            return bad_usage;
        }
        at->formula = setting.substr(equals + 1);
    }
    return all_well;
}

// Nothing that another program has written meanwhile is replaced, nor what a window has open.
int save(const Session& session, const model::Document& document, const std::string& out) {
    io::Saving saving;
    std::error_code none;
    if (std::filesystem::equivalent(session.path, out, none)) {
        saving.expected = session.file;
    }
    if (const auto problem = io::save_document(document, out, saving)) {
        say(*problem);
        return file_trouble;
    }
    return all_well;
}

int step_id(const model::Document& document, int number, int& id) {
    id = 0;
    for (const auto& step : document.steps) {
        if (step->number == number) {
            id = step->id;
        }
    }
    if (number != 0 && id == 0) {
        spdlog::error("there is no step {}", number);
        return bad_usage;
    }
    return all_well;
}

int run_report(const std::string& path, const std::vector<std::string>& settings, int as_of) {
    Session session;
    int id = 0;
    if (const int code = open(session, path, settings)) {
        return code;
    }
    if (const int code = step_id(session.document, as_of, id)) {
        return code;
    }
    const auto evaluation = session.evaluate(id);
    say_all(session.document, evaluation);
    std::cout << io::report(session.document, evaluation, id).dump(1) << '\n';
    return evaluation.failed() ? step_failed : all_well;
}

int run_export(const std::string& path, const std::string& out, const std::vector<std::string>& settings,
               const io::ExportOptions& options) {
    Session session;
    if (const int code = open(session, path, settings)) {
        return code;
    }
    const auto evaluation = session.evaluate();
    say_all(session.document, evaluation);
    if (const auto problem = io::export_bodies(evaluation, out, options)) {
        say(*problem);
        return problem->code == "file.write" ? file_trouble : problem->code == "export.stale" ? step_failed : bad_usage;
    }
    return evaluation.failed() ? step_failed : all_well;
}

int run_check(const std::string& path) {
    Session session;
    if (const int code = open(session, path, {})) {
        return code;
    }
    const auto text = io::read_document_text(path);
    const auto raw = text ? io::parse_json(*text) : text.finding();
    if (!raw) {
        say(raw.finding());
        return file_trouble;
    }
    const Findings schema = io::check_schema(*raw);
    for (const Finding& finding : schema) {
        say(finding);
    }
    const auto evaluation = session.evaluate();
    say_all(session.document, evaluation);
    return schema.empty() && !evaluation.failed() ? all_well : step_failed;
}

int run_adopt(const std::string& path, const std::string& out) {
    Session session;
    if (const int code = open(session, path, {})) {
        return code;
    }
    return save(session, session.document, out);
}

// The table goes to standard output, or comes from a file and the document is saved elsewhere.
int run_parameters(const std::string& path, const std::string& table, const std::string& out) {
    Session session;
    if (const int code = open(session, path, {})) {
        return code;
    }
    if (table.empty()) {
        std::cout << io::parameters_to_csv(session.document);
        return all_well;
    }
    const auto text = io::read_whole(table);
    if (!text) {
        say(text.finding());
        return file_trouble;
    }
    const auto changed = io::with_parameters_from_csv(session.document, *text);
    if (!changed) {
        say(changed.finding());
        return file_trouble;
    }
    return save(session, *changed, out);
}

struct OutlineOptions {
    int step = 0;
    std::string take, save, write, width;
    std::vector<double> at;
    double turn = 0;
    bool mirrored = false;
};

// What a sketch draws goes to a file, or what a file draws into a sketch.
int run_outlines(const std::string& path, const OutlineOptions& wanted) {
    Session session;
    int id = 0;
    if (const int code = open(session, path, {})) {
        return code;
    }
    if (const int code = step_id(session.document, wanted.step, id)) {
        return code;
    }
    auto step = *session.document.step(id);
    auto* drawn = step.definition.as<model::SketchStep>();
    if (drawn == nullptr) {
        spdlog::error("step {} is no sketch", wanted.step);
        return bad_usage;
    }
    if (!wanted.write.empty()) {
        const auto evaluation = session.evaluate(id);
        say_all(session.document, evaluation);
        const auto* report = evaluation.report(id);
        if (report == nullptr || !report->output || !report->output->sketch) {
            return step_failed;
        }
        const auto& drawing = report->output->sketch->solution.sketch;
        if (const auto problem = io::export_outlines(drawing, wanted.write)) {
            say(*problem);
            return problem->code == "file.write" ? file_trouble : bad_usage;
        }
        return evaluation.failed() ? step_failed : all_well;
    }
    const auto bytes = io::read_whole(wanted.take);
    if (!bytes) {
        say(bytes.finding());
        return file_trouble;
    }
    const std::string name = std::filesystem::path(wanted.take).filename().string();
    const auto artwork = io::outlines_in_child({model::AssetName::like(name), *bytes, false}, {}, session.progress);
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
    const int figure = sketch::add_artwork(drawn->drawing, std::make_shared<const sketch::Artwork>(*artwork),
                                           wanted.width, at, wanted.turn * std::numbers::pi / 180);
    drawn->drawing.figure(figure)->reversed = wanted.mirrored;
    return save(session, model::change_field(session.document, id, "drawing", drawn->drawing), wanted.save);
}

int run_graph(const std::string& path, const std::string& out) {
    Session session;
    if (const int code = open(session, path, {})) {
        return code;
    }
    const auto graph = model::dependency_graph(session.document);
    if (const auto problem = io::write_text_atomically(out, io::graph_to_svg(graph, model::lay_out(graph)))) {
        say(*problem);
        return file_trouble;
    }
    return all_well;
}

// What was said on the command line, for whichever command it was.
struct Line {
    std::string path, out, table;
    std::vector<std::string> settings;
    int as_of = 0;
    io::ExportOptions options;
    OutlineOptions outlines;
    int code = all_well; ///< what the command came to
};

CLI::App* command(CLI::App& app, const char* name, const std::string& help, Line& line) {
    auto* one = app.add_subcommand(name, help);
    one->add_option("document", line.path, "*.kervo or document.json")->required();
    return one;
}

void add_settings(CLI::App& one, Line& line) {
    one.add_option("--set", line.settings, "NAME=FORMULA, may be given again")->allow_extra_args(false);
}

void add_report(CLI::App& app, Line& line) {
    auto* report = command(app, "report", "print what the document comes to, as JSON", line);
    add_settings(*report, line);
    report->add_option("--as-of", line.as_of, "number of the last step");
    report->final_callback([&line] { line.code = run_report(line.path, line.settings, line.as_of); });
}

void add_export(CLI::App& app, Line& line) {
    const auto formats = io::writers_of(io::Content::bodies);
    auto* hand_over = command(app, "export", "write bodies to " + io::extensions_of(formats), line);
    hand_over->add_option("out", line.out, "file to write")->required();
    add_settings(*hand_over, line);
    hand_over->add_option("--only", line.options.only, "name or id of a body, may be given again")
        ->allow_extra_args(false);
    for (const io::Format* format : formats) {
        for (const io::FormatQuestion& question : format->questions) {
            hand_over->add_option("--" + question.key, line.options.answers[question.key] = question.standard,
                                  format->title + ": " + question.help + " " + question.unit);
        }
    }
    hand_over->add_flag("--stale-too", line.options.stale_too, "write bodies that follow a failed step");
    hand_over->final_callback([&line] { line.code = run_export(line.path, line.out, line.settings, line.options); });
}

void add_check(CLI::App& app, Line& line) {
    auto* check = command(app, "check", "check a document against the schema and list its findings", line);
    check->final_callback([&line] { line.code = run_check(line.path); });
}

void add_adopt(CLI::App& app, Line& line) {
    auto* adopt = command(app, "adopt", "turn picks made by hand into lasting names and save", line);
    adopt->add_option("out", line.out, "file to write")->required();
    adopt->final_callback([&line] { line.code = run_adopt(line.path, line.out); });
}

void add_parameters(CLI::App& app, Line& line) {
    auto* parameters = command(app, "parameters", "print the parameters as a table (CSV), or take them from one", line);
    auto* take = parameters->add_option("--take", line.table, "table to take them from");
    take->needs(parameters->add_option("--save", line.out, "document to write then")->needs(take));
    parameters->final_callback([&line] { line.code = run_parameters(line.path, line.table, line.out); });
}

void add_outlines(CLI::App& app, Line& line) {
    OutlineOptions& outlines = line.outlines;
    const std::string files = io::extensions_of(io::writers_of(io::Content::outlines));
    auto* outline = command(app, "outlines", "write a sketch to " + files + ", or take what such a file draws", line);
    outline->add_option("--step", outlines.step, "number of the sketch")->required();
    auto* write = outline->add_option("--write", outlines.write, "file to write, " + files);
    auto* take = outline->add_option("--take", outlines.take, "file to take outlines from")->excludes(write);
    take->needs(outline->add_option("--save", outlines.save, "document to write then")->needs(take));
    outline->add_option("--width", outlines.width, "how wide they become, a formula; else as in the file");
    outline->add_option("--at", outlines.at, "X Y of their lower left corner, mm; else as in the file")->expected(2);
    outline->add_option("--turn", outlines.turn, "how far they are turned, degrees");
    outline->add_flag("--mirrored", outlines.mirrored, "turn them over about their base line");
    outline->final_callback([&line] {
        if (line.outlines.write.empty() && line.outlines.take.empty()) {
            spdlog::error("outlines: say --write or --take");
            line.code = bad_usage;
        } else {
            line.code = run_outlines(line.path, line.outlines);
        }
    });
}

void add_graph(CLI::App& app, Line& line) {
    auto* graph = command(app, "graph", "draw what hangs on what, as SVG", line);
    graph->add_option("out", line.out, "file to write")->required();
    graph->final_callback([&line] { line.code = run_graph(line.path, line.out); });
}

} // namespace

int run(int argc, const char* const* argv) {
    spdlog::set_default_logger(
        std::make_shared<spdlog::logger>("kervo", std::make_shared<spdlog::sinks::stderr_color_sink_mt>()));
    spdlog::set_pattern("%^%l%$: %v");
    CLI::App app("Kervo without a window: evaluates, reports and hands over documents of exact cuts.");
    app.require_subcommand(1);
    app.footer("Exit codes: 0 all is well, 1 a step failed, 2 a file cannot be read or written, 3 wrong usage.");
    app.add_flag_callback(
        "--verbose", [] { spdlog::set_level(spdlog::level::debug); }, "say also why a cut was not done the fast way");
    Line line;
    for (const auto add : {add_report, add_export, add_check, add_adopt, add_parameters, add_outlines, add_graph}) {
        add(app, line);
    }
    app.add_subcommand("schema", "print the JSON schema of documents")->final_callback([] {
        std::cout << io::document_schema().dump(1) << '\n';
    });
    app.add_subcommand("reference", "print the reference page of the steps")->final_callback([] {
        std::cout << io::steps_reference();
    });
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? all_well : bad_usage;
    }
    return line.code;
}

} // namespace kervo::cli
