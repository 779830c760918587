#include "io/formats/format.h"

#include "base/text.h"
#include "io/formats/brep/brep.h"
#include "io/formats/csv/parameters_csv.h"
#include "io/formats/dxf/dxf.h"
#include "io/formats/step/step.h"
#include "io/formats/stl/stl.h"
#include "io/formats/svg/svg.h"

#include <algorithm>
#include <filesystem>

namespace kervo::io {

namespace {

std::vector<Format>& list() {
    static std::vector<Format> all{step_format(), brep_format(), stl_format(),
                                   svg_format(),  dxf_format(),  csv_format()};
    return all;
}

std::vector<const Format*> those(const std::function<bool(const Format&)>& fits) {
    std::vector<const Format*> some;
    for (const Format& format : list()) {
        if (fits(format)) {
            some.push_back(&format);
        }
    }
    return some;
}

} // namespace

bool Format::reads(Content content) const {
    return content == Content::bodies     ? static_cast<bool>(read_bodies)
           : content == Content::outlines ? static_cast<bool>(read_outlines)
                                          : static_cast<bool>(read_parameters);
}

bool Format::writes(Content content) const {
    return content == Content::bodies     ? static_cast<bool>(write_bodies)
           : content == Content::outlines ? static_cast<bool>(write_outlines)
                                          : static_cast<bool>(write_parameters);
}

FormatAnswers Format::complete(FormatAnswers answers) const {
    for (const FormatQuestion& question : questions) {
        answers.try_emplace(question.key, question.standard);
    }
    return answers;
}

const std::vector<Format>& formats() {
    return list();
}

void add_format(Format format) {
    std::erase_if(list(), [&](const Format& known) { return known.id == format.id; });
    list().push_back(std::move(format));
}

const Format* format_of(const std::string& file_name) {
    const std::string extension = lower_case(std::filesystem::path(file_name).extension().string());
    for (const Format& format : list()) {
        if (std::find(format.extensions.begin(), format.extensions.end(), extension) != format.extensions.end()) {
            return &format;
        }
    }
    return nullptr;
}

std::vector<const Format*> readers_of(Content content) {
    return those([&](const Format& format) { return format.reads(content); });
}

std::vector<const Format*> writers_of(Content content) {
    return those([&](const Format& format) { return format.writes(content); });
}

std::string extensions_of(const std::vector<const Format*>& some) {
    std::string text;
    for (size_t i = 0; i < some.size(); ++i) {
        text += (i == 0 ? "" : i + 1 == some.size() ? " or " : ", ") + some[i]->extensions.front();
    }
    return text;
}

Finding no_such_format(const char* code, const std::string& file_name, const std::vector<const Format*>& known) {
    return error_finding(code,
                         "\u201c" + std::filesystem::path(file_name).filename().string() +
                             "\u201d is of no format that can be used here.",
                         "End the file's name in " + extensions_of(known) + ".");
}

Finding unreadable(const std::string& what) {
    return error_finding("import.unreadable", "The file cannot be read: " + what + ".",
                         "Export it anew from where it comes, or choose another file.");
}

} // namespace kervo::io
