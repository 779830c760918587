// What the commands of kervo-cli do. Each says what is wrong on standard error, and returns the program's exit code.
#pragma once

#include "cli/opened.h"

namespace kervo::cli {

/// What every command that reads a document may be told.
struct Reading {
    std::vector<std::string> documents; ///< "-": standard input
    std::vector<std::string> settings;
    int as_of = 0; ///< number of the last step; 0: the whole route
};

/// Of several documents a list, each with its file.
int run_report(const Reading& reading, bool times);
int run_check(const Reading& reading);
int run_export(const Reading& reading, const Target& target, io::ExportOptions options);
/// A document of what files hold, sorted as they are.
int run_import(const std::vector<std::string>& files, const std::string& out);
int run_adopt(const Reading& reading, const std::string& out);
/// The table goes out, or comes from a file and the document is saved.
int run_parameters(const Reading& reading, const std::string& table, const std::string& out);

struct OutlineOptions {
    int step = 0;
    Target write;
    std::string take, save, width;
    std::vector<double> at;
    double turn = 0;
    bool mirrored = false;
};
/// What a sketch draws goes to a file, or what a file draws into a sketch.
int run_outlines(const Reading& reading, const OutlineOptions& wanted);
/// How much the cutaways cut of each body, as JSON; those of a view, where one is named; of these letters alone, if
/// there are any.
int run_cutaways(const Reading& reading, const std::string& view, const std::vector<std::string>& letters);
/// What hangs on what, as SVG.
int run_graph(const Reading& reading, const std::string& out);

} // namespace kervo::cli
