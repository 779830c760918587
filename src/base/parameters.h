// Named parameters whose formulas read each other.
#pragma once

#include "base/formula.h"

#include <map>
#include <string>
#include <vector>

namespace kervo {

struct Parameter {
    std::string name;
    std::string formula;
    std::string unit; ///< shown in this unit; a plain number in the formula is taken in it. Empty: a plain number.
    std::string comment;
    std::string group{}; ///< the heading under which it is listed; none: before all groups
    friend bool operator==(const Parameter&, const Parameter&) = default;
};

struct EvaluatedParameters {
    ParameterValues values;                  ///< only of those that have one
    std::map<std::string, Finding> findings; ///< by parameter name; for the others
};

/// Evaluates all parameters in the order of their dependencies. Findings: parameter.cycle (names the loop),
/// parameter.double_name, parameter.name, parameter.source, parameter.unit, and those of formulas.
/// `given`: values that are known from elsewhere, by name; a parameter of the same name does not count.
EvaluatedParameters evaluate_parameters(const std::vector<Parameter>& parameters, const ParameterValues& given = {});

} // namespace kervo
