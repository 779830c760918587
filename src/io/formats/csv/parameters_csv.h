// Parameters as a table for other programs: comma-separated values after RFC 4180, the first line names the columns.
//
//   name,formula,value,unit,comment
//   plate,16 mm,16,mm,thickness of both plates
#pragma once

#include "io/formats/format.h"

namespace kervo::io {

Format csv_format();

/// All parameters in their order; `value` in the parameter's unit, empty where it has none.
std::string parameters_to_csv(const model::Document& document);

/// The document with the parameters of the table: those of a known name take its formula (and unit and comment, where
/// the table has such columns), the others are added. Columns may stand in any order; `value` is not read. Findings:
/// csv.columns, csv.row (with its line), parameter.name.
Result<model::Document> with_parameters_from_csv(model::Document document, const std::string& text);

} // namespace kervo::io
