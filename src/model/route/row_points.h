// What kinds share whose answers are rows: names, and points that stand where their numbers say.
#pragma once

#include "model/route/step_context.h"

#include <gp_Pnt.hxx>

#include <functional>
#include <optional>

namespace kervo::model {

inline constexpr size_t most_rows = 20000;
Finding too_many_rows(size_t count);

/// A letter, and letters, digits and _ behind it.
bool is_row_name(const std::string& name);
/// `taken`: another one has it.
Finding bad_row_name(bool taken);

/// The finding on "rows" that says of which row it speaks.
void tell_of_row(const Row& row, Finding finding, Answers& answers);

/// An element of a body that rows may use, under its name.
struct TakenElement {
    std::string name;
    BodyId body;
    TopoDS_Shape element;
};
/// Those of the field "taken"; none where nothing is picked, and after a finding.
std::vector<TakenElement> taken_elements(const References& taken, Answers& answers);

/// The row's x, y and z (mm); findings on "rows".
gp_XYZ numbers_of(const Row& row, Answers& answers);

/// Where a point stands that is known by name; nothing where there is none.
using FindPoint = std::function<std::optional<gp_Pnt>(const std::string& name)>;
/// At its numbers, from the origin or the point that it names. Findings on "rows": build.no_such, build.from.
std::optional<gp_Pnt> place_of_row(const Row& row, const FindPoint& known, Answers& answers);

/// Points that rows stand, in their order; they may be measured from vertices of bodies, which have names too. Nothing
/// after a finding (build.name, build.no_such, build.from, build.too_many). All that have names are in `output.named`.
std::optional<std::vector<gp_Pnt>> stand_points(const Rows& rows, const References& taken, Answers& answers,
                                                StepOutput& output);

} // namespace kervo::model
