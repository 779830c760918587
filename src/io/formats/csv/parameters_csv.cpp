#include "io/formats/csv/parameters_csv.h"

#include "io/formats/plain_file.h"

#include <algorithm>
#include <map>

namespace kervo::io {

namespace {

std::string quoted(const std::string& text) {
    if (text.find_first_of(",\"\r\n") == std::string::npos) {
        return text;
    }
    std::string out = "\"";
    for (const char c : text) {
        out += c == '"' ? "\"\"" : std::string(1, c);
    }
    return out + "\"";
}

struct Row {
    std::vector<std::string> cells;
    int line = 0; ///< where it starts
};

// Rows of cells; nothing where a quote is never closed.
std::optional<std::vector<Row>> rows_of(const std::string& text) {
    std::vector<Row> rows;
    Row row{{std::string()}, 1};
    bool in_quotes = false;
    int line = 1;
    const auto end_row = [&] {
        if (row.cells.size() > 1 || !row.cells.front().empty()) { // empty lines say nothing
            rows.push_back(row);
        }
        row = {{std::string()}, line};
    };
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        line += c == '\n' ? 1 : 0;
        if (in_quotes) {
            if (c != '"') {
                row.cells.back() += c;
            } else if (i + 1 < text.size() && text[i + 1] == '"') {
                row.cells.back() += '"';
                ++i;
            } else {
                in_quotes = false;
            }
        } else if (c == '"' && row.cells.back().empty()) {
            in_quotes = true;
        } else if (c == ',') {
            row.cells.emplace_back();
        } else if (c == '\n') {
            end_row();
        } else if (c != '\r') {
            row.cells.back() += c;
        }
    }
    end_row();
    return in_quotes ? std::nullopt : std::optional(rows);
}

Finding bad_row(int line, const std::string& what) {
    return error_finding("csv.row", "Line " + std::to_string(line) + " of the table: " + what,
                         "Correct the table. The parameters were not changed.");
}

} // namespace

std::string parameters_to_csv(const model::Document& document) {
    const EvaluatedParameters evaluated = evaluate_parameters(document.parameters);
    std::string text = "name,formula,value,unit,comment,group\r\n";
    for (const Parameter& parameter : document.parameters) {
        const auto value = evaluated.values.find(parameter.name);
        text += parameter.name + "," + quoted(parameter.formula) + "," +
                (value == evaluated.values.end() ? std::string()
                                                 : format_quantity(value->second.value, parameter.unit, 9)) +
                "," + parameter.unit + "," + quoted(parameter.comment) + "," + quoted(parameter.group) + "\r\n";
    }
    return text;
}

Result<model::Document> with_parameters_from_csv(model::Document document, const std::string& text) {
    const std::string byte_order_mark = "\xef\xbb\xbf"; // which spreadsheets write
    const auto rows = rows_of(text.starts_with(byte_order_mark) ? text.substr(byte_order_mark.size()) : text);
    if (!rows) {
        return error_finding("csv.row", "A quotation mark in the table is never closed.",
                             "Correct the table. The parameters were not changed.");
    }
    std::map<std::string, size_t> column;
    for (size_t i = 0; !rows->empty() && i < rows->front().cells.size(); ++i) {
        column[rows->front().cells[i]] = i;
    }
    if (!column.contains("name") || !column.contains("formula")) {
        return error_finding("csv.columns",
                             "The first line of the table names no columns \u201cname\u201d and \u201cformula\u201d.",
                             "Let it begin with: name,formula,value,unit,comment");
    }
    for (size_t r = 1; r < rows->size(); ++r) {
        const Row& row = (*rows)[r];
        const auto cell = [&](const char* name) {
            const auto at = column.find(name);
            return at == column.end() || at->second >= row.cells.size() ? std::string() : row.cells[at->second];
        };
        const std::string name = cell("name");
        const std::string unit = cell("unit");
        if (!is_parameter_name(name)) {
            return bad_row(row.line, "\u201c" + name + "\u201d is no name for a parameter.");
        }
        if (!unit.empty() && !find_unit(unit)) {
            return bad_row(row.line, "\u201c" + unit + "\u201d is no unit.");
        }
        auto known = std::find_if(document.parameters.begin(), document.parameters.end(),
                                  [&](const Parameter& p) { return p.name == name; });
        if (known == document.parameters.end()) {
            document.parameters.push_back({name, {}, {}, {}});
            known = document.parameters.end() - 1;
        }
        known->formula = cell("formula");
        known->unit = column.contains("unit") ? unit : known->unit;
        known->comment = column.contains("comment") ? cell("comment") : known->comment;
        known->group = column.contains("group") ? cell("group") : known->group;
    }
    return document;
}

Format csv_format() {
    Format format{"csv", "Table", {".csv"}};
    format.read_parameters = with_parameters_from_csv;
    format.write_parameters = [](const model::Document& document, const FormatAnswers& /*answers*/,
                                 const std::string& path) { return write_plain(path, parameters_to_csv(document)); };
    return format;
}

} // namespace kervo::io
