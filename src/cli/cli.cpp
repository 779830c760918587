#include "cli/cli.h"

#include "base/nearest_word.h"
#include "cli/commands.h"
#include "io/document/document_schema.h"

#include <CLI/CLI.hpp>
#include <spdlog/sinks/stdout_color_sinks.h>
#include <spdlog/spdlog.h>

#include <filesystem>

namespace kervo::cli {

namespace {

// What was said on the command line, for whichever command it was.
struct Line {
    Reading reading;
    Target target;
    std::string out, table, view;
    std::vector<std::string> files, letters;
    bool times = false;
    io::ExportOptions options;
    OutlineOptions outlines;
    std::map<std::string, CLI::Option*> answers; ///< to questions of formats
    int code = all_well;                         ///< what the command came to
};

CLI::App* command(CLI::App& app, const char* name, const std::string& help, Line& line, bool several = false) {
    auto* one = app.add_subcommand(name, help);
    auto* documents =
        one->add_option("document", line.reading.documents, "*.kervo or document.json, - for standard input")
            ->required()
            ->expected(several ? -1 : 1);
    documents->allow_extra_args(several);
    one->add_option("--set", line.reading.settings, "NAME=FORMULA, may be given again")->allow_extra_args(false);
    return one;
}

void add_as_of(CLI::App& one, Line& line) {
    one.add_option("--as-of", line.reading.as_of, "number of the last step");
}

void add_report(CLI::App& app, Line& line) {
    auto* report = command(app, "report", "print what the document comes to, as JSON", line, true);
    add_as_of(*report, line);
    report->add_flag("--times", line.times, "how long each step took, too");
    report->final_callback([&line] { line.code = run_report(line.reading, line.times); });
}

// Answers to questions that the format does not have would go unheard.
bool all_are_heard(const Line& line) {
    const io::Format* format = line.target.wanted();
    for (const auto& [key, option] : line.answers) {
        const bool heard = format == nullptr || std::any_of(format->questions.begin(), format->questions.end(),
                                                            [&, &name = key](const auto& q) { return q.key == name; });
        if (option->count() > 0 && !heard) {
            spdlog::error("--{} says nothing for {}", key, format->title);
            return false;
        }
    }
    if (format != nullptr && !format->says_author && !line.options.author.empty()) {
        spdlog::error("--author says nothing for {}", format->title);
        return false;
    }
    return true;
}

void add_export(CLI::App& app, Line& line) {
    const auto formats = io::writers_of(io::Content::bodies);
    auto* hand_over = command(app, "export", "write bodies to " + io::extensions_of(formats), line);
    hand_over->add_option("out", line.target.path, "file to write, - for standard output")->required();
    hand_over->add_option("--format", line.target.format, "where the file's name does not say it: step, stl, ...");
    add_as_of(*hand_over, line);
    hand_over->add_option("--only", line.options.only, "name or id of bodies, may be given again")
        ->allow_extra_args(false);
    for (const io::Format* format : formats) {
        for (const io::FormatQuestion& question : format->questions) {
            const std::string help = format->title + ": " + question.help + " " + question.unit;
            double& answer = line.options.answers[question.key] = question.standard;
            line.answers[question.key] = question.flag ? hand_over->add_flag("--" + question.key, answer, help)
                                                       : hand_over->add_option("--" + question.key, answer, help);
        }
    }
    hand_over->add_flag("--apart", line.options.apart, "each body in a file of its own");
    hand_over->add_flag("--hidden-too", line.options.hidden_too, "write hidden bodies");
    hand_over->add_flag("--stale-too", line.options.stale_too, "write bodies that follow a failed step");
    hand_over->add_flag("--unsound-too", line.options.unsound_too,
                        "write bodies that are not closed as they should be");
    hand_over->add_option("--author", line.options.author, "who hands it over, for formats that say so");
    hand_over->final_callback([&line] {
        if (line.options.apart && line.target.path == "-") {
            spdlog::error("--apart writes several files, and standard output is one");
            line.code = bad_usage;
            return;
        }
        if (line.options.apart && io::format_of(line.target.path) != line.target.wanted()) {
            spdlog::error("--apart: let the file's name say its format, as the names of all others go after it");
            line.code = bad_usage;
            return;
        }
        line.code = all_are_heard(line) ? run_export(line.reading, line.target, line.options) : bad_usage;
    });
}

void add_check(CLI::App& app, Line& line) {
    auto* check = command(app, "check", "check documents against the schema and list their findings", line, true);
    add_as_of(*check, line);
    check->final_callback([&line] { line.code = run_check(line.reading); });
}

void add_import(CLI::App& app, Line& line) {
    const std::string kinds = io::extensions_of(io::readers_of(io::Content::bodies));
    auto* import = app.add_subcommand("import", "make a document of " + kinds + " files, with their groups and layers");
    import->add_option("files", line.files, "files to bring in, and last the document to write, *.kervo or *.json")
        ->required()
        ->expected(2, -1);
    import->final_callback([&line] {
        const std::string out = line.files.back();
    line.files.pop_back();
    if (out == "-" || io::format_of(out) != nullptr) {
        spdlog::error("the last name is that of the document to write, and \u201c{}\u201d is none", out);
        line.code = bad_usage;
    } else {
        line.code = run_import(line.files, out);
    }
});
} // namespace

void add_adopt(CLI::App& app, Line& line) {
    auto* adopt = command(app, "adopt", "turn picks made by hand into lasting names and save", line);
    adopt->add_option("out", line.out, "file to write, - for standard output")->required();
    adopt->final_callback([&line] { line.code = run_adopt(line.reading, line.out); });
}

void add_parameters(CLI::App& app, Line& line) {
    auto* parameters = command(app, "parameters", "print the parameters as a table (CSV), or take them from one", line);
    auto* take = parameters->add_option("--take", line.table, "table to take them from, - for standard input");
    take->needs(
        parameters->add_option("--save", line.out, "document to write then, - for standard output")->needs(take));
    parameters->final_callback([&line] { line.code = run_parameters(line.reading, line.table, line.out); });
}

void add_outlines(CLI::App& app, Line& line) {
    OutlineOptions& outlines = line.outlines;
    const std::string files = io::extensions_of(io::writers_of(io::Content::outlines));
    auto* outline = command(app, "outlines", "write a sketch to " + files + ", or take what such a file draws", line);
    outline->add_option("--step", outlines.step, "number of the sketch")->required();
    auto* write =
        outline->add_option("--write", outlines.write.path, "file to write, " + files + ", - for standard output");
    outline->add_option("--format", outlines.write.format, "where the file's name does not say it: svg, dxf")
        ->needs(write);
    auto* take = outline->add_option("--take", outlines.take, "file to take outlines from")->excludes(write);
    take->needs(
        outline->add_option("--save", outlines.save, "document to write then, - for standard output")->needs(take));
    outline->add_option("--width", outlines.width, "how wide they become, a formula; else as in the file")->needs(take);
    outline->add_option("--at", outlines.at, "X Y of their lower left corner, mm; else as in the file")
        ->expected(2)
        ->needs(take);
    outline->add_option("--turn", outlines.turn, "how far they are turned, degrees")->needs(take);
    outline->add_flag("--mirrored", outlines.mirrored, "turn them over about their base line")->needs(take);
    outline->final_callback([&line] {
        if (line.outlines.write.path.empty() && line.outlines.take.empty()) {
            spdlog::error("outlines: say --write or --take");
            line.code = bad_usage;
        } else {
            line.code = run_outlines(line.reading, line.outlines);
        }
    });
}

void add_graph(CLI::App& app, Line& line) {
    auto* graph = command(app, "graph", "draw what hangs on what, as SVG", line);
    graph->add_option("out", line.out, "file to write, - for standard output")->required();
    graph->final_callback([&line] { line.code = run_graph(line.reading, line.out); });
}

void add_cutaways(CLI::App& app, Line& line) {
    auto* cutaways = command(app, "cutaways", "print how much the cutaways cut of each body, as JSON", line);
    add_as_of(*cutaways, line);
    cutaways->add_option("--on", line.letters, "letter of a cutaway that is on, the others are off; may be given again")
        ->allow_extra_args(false);
    cutaways->add_option("--view", line.view, "name of a view, whose cutaways count and whose hidden bodies do not");
    cutaways->final_callback([&line] { line.code = run_cutaways(line.reading, line.view, line.letters); });
}

// Names what is not known, and what was perhaps meant.
bool all_words_are_known(const CLI::App& app, int argc, const char* const* argv) {
    const CLI::App* within = &app;
    for (int i = 1; i < argc; ++i) {
        const std::string word = argv[i];
        const std::string bare = word.substr(0, word.find('='));
        if (within == &app && !word.starts_with("-")) {
            std::vector<std::string> commands;
            for (const CLI::App* each : app.get_subcommands([](const CLI::App*) { return true; })) {
                commands.push_back(each->get_name());
                within = each->get_name() == word ? each : within;
            }
            if (within == &app) {
                spdlog::error("there is no command \u201c{}\u201d{}", word, did_you_mean(word, commands));
                return false;
            }
        } else if (word == "--") {
            return true;
        } else if (word.starts_with("--") && within->get_option_no_throw(bare) == nullptr &&
                   app.get_option_no_throw(bare) == nullptr) {
            std::vector<std::string> known;
            for (const CLI::Option* option : within->get_options()) {
                for (const std::string& name : option->get_lnames()) {
                    known.push_back("--" + name);
                }
            }
            spdlog::error("there is no option {}{}", bare, did_you_mean(bare, known));
            return false;
        }
    }
    return true;
}

} // namespace kervo::cli

int run(int argc, const char* const* argv) {
    spdlog::set_default_logger(
        std::make_shared<spdlog::logger>("kervo", std::make_shared<spdlog::sinks::stderr_color_sink_mt>()));
    spdlog::set_pattern("%^%l%$: %v");
    CLI::App app("Kervo without a window: evaluates, reports and hands over documents of exact cuts.");
    app.require_subcommand(1);
    app.set_version_flag("--version", "kervo-cli " KERVO_VERSION);
    app.footer("Exit codes: 0 all is well, 1 a step failed, 2 a file cannot be read or written, 3 wrong usage.");
    app.add_flag_callback(
        "--verbose", [] { spdlog::set_level(spdlog::level::debug); }, "say also why a cut was not done the fast way");
    Line line;
    for (const auto add : {add_report, add_export, add_check, add_import, add_adopt, add_parameters, add_outlines,
                           add_graph, add_cutaways}) {
        add(app, line);
    }
    app.add_subcommand("schema", "print the JSON schema of documents")->final_callback([&line] {
        line.code = print(io::document_schema().dump(1) + "\n");
    });
    app.add_subcommand("reference", "print the reference page of the steps")->final_callback([&line] {
        line.code = print(io::steps_reference());
    });
    if (!all_words_are_known(app, argc, argv)) {
        return bad_usage;
    }
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? all_well : bad_usage;
    }
    return line.code;
}

} // namespace kervo::cli
