// Formats of other programs as a table: what a file of one holds, its extensions, who reads and who writes it. A format
// is one folder beside its line in `formats.cpp`; the reader process, the window's dialogs and the command line take
// it from here. `add_format` puts in one from elsewhere; a reader process of one's own has to do so too.
#pragma once

#include "base/progress.h"
#include "geom/kernel/shape.h"
#include "model/document/document.h"
#include "sketch/figures.h"

namespace kervo::io {

/// What a file brings or takes.
enum class Content { bodies, outlines, parameters };

struct NamedBody {
    std::string name;
    std::string color; ///< "#rrggbb" or empty
    TopoDS_Shape shape;
    std::vector<std::pair<TopoDS_Shape, std::string>> own_colors = {}; ///< of faces that have another colour
    model::Sorting sorting = {};
};

/// What is handed over. Bodies that are copies of each other have one shape, in several places.
struct ModelToWrite {
    std::vector<NamedBody> bodies;
    std::string title;
    std::string author = {}; ///< empty: not known
    Findings told = {};      ///< what is left out
};

/// How writing went, and what those who read the file should know of it.
struct Written {
    Written(bool went_well) : well(went_well) {} // NOLINT(google-explicit-constructor)
    bool well;
    Findings told = {};
};

struct ReadBodies {
    std::vector<NamedBody> bodies;
    std::vector<std::string> not_followed = {}; ///< other files that this one refers to
    std::vector<std::string> left_out = {};     ///< what it holds that a body cannot take along: "3 loose curves"
};

/// A number that whoever writes a file may choose.
struct FormatQuestion {
    std::string key;  ///< "chord"
    std::string text; ///< "Distance from the true surface"
    std::string help;
    std::string unit; ///< "mm"
    double standard = 0;
    double least = 0;  ///< answers below are refused
    bool flag = false; ///< yes (1) or no (0)
};
/// By key. Writers get them complete.
using FormatAnswers = std::map<std::string, double>;

/// Readers trust their input with the process they run in: for files from outside use reader/import_child.h. They tell
/// `Progress` how far they are, and come to a finding, import.unreadable, where they can make nothing of the bytes.
/// Writers write the whole file at `path`, which is new and theirs, and say whether that went well.
struct Format {
    std::string id;                      ///< "step"
    std::string title;                   ///< "STEP AP242"
    std::vector<std::string> extensions; ///< lower case, with their dot; the first is what is written
    std::vector<FormatQuestion> questions = {};
    bool says_author = false; ///< files tell who handed them over

    std::function<Result<ReadBodies>(const std::string& bytes, Progress&)> read_bodies = {};
    std::function<Written(const ModelToWrite&, const FormatAnswers&, const std::string& path)> write_bodies = {};
    /// In mm, the y-axis upwards.
    std::function<Result<sketch::Artwork>(const std::string& bytes, Progress&)> read_outlines = {};
    std::function<bool(const sketch::Sketch&, const FormatAnswers&, const std::string& path)> write_outlines = {};
    /// The document with the parameters of the file. Findings: csv.columns, csv.row, parameter.name.
    std::function<Result<model::Document>(model::Document, const std::string& text)> read_parameters = {};
    std::function<bool(const model::Document&, const FormatAnswers&, const std::string& path)> write_parameters = {};

    [[nodiscard]] bool reads(Content content) const;
    [[nodiscard]] bool writes(Content content) const;
    /// All that is asked, as it is answered or else as it is meant to be.
    [[nodiscard]] FormatAnswers complete(FormatAnswers answers) const;
};

const std::vector<Format>& formats();
/// A format with the same id is replaced.
void add_format(Format format);

/// By the extension of a file's name, whatever its case; null where no format has it.
const Format* format_of(const std::string& file_name);
/// Of those that read, or write, such a thing.
std::vector<const Format*> readers_of(Content content);
std::vector<const Format*> writers_of(Content content);
/// ".step, .brep or .stl", for findings.
std::string extensions_of(const std::vector<const Format*>& some);

/// Says that a file is of none of these formats. Code: `code`.
Finding no_such_format(const char* code, const std::string& file_name, const std::vector<const Format*>& known);
/// Says that bytes are no such file. Code: import.unreadable.
Finding unreadable(const std::string& what);

} // namespace kervo::io
