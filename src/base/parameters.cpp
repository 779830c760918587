#include "base/parameters.h"

#include <algorithm>

namespace kervo {

namespace {

struct Walk {
    std::map<std::string, const Parameter*> by_name;
    EvaluatedParameters result;
    std::vector<std::string> path; // names under evaluation, outermost first

    void mark_cycle(const std::string& name) {
        const auto start = std::find(path.begin(), path.end(), name);
        std::string loop;
        for (auto it = start; it != path.end(); ++it) {
            loop += *it + " \u2192 ";
        }
        loop += name;
        for (auto it = start; it != path.end(); ++it) {
            result.findings.insert_or_assign(*it, error_finding("parameter.cycle",
                                                                "The formulas go round in a circle: " + loop + ".",
                                                                "Give one of them a value of its own."));
        }
    }

    // Depth first: what a formula reads is evaluated before the formula.
    void visit(const std::string& name) {
        if (result.values.contains(name) || result.findings.contains(name)) {
            return;
        }
        if (std::find(path.begin(), path.end(), name) != path.end()) {
            mark_cycle(name);
            return;
        }
        const Parameter& parameter = *by_name.at(name);
        path.push_back(name);
        for (const std::string& read : names_read(parameter.formula)) {
            if (by_name.contains(read)) {
                visit(read);
            }
        }
        path.pop_back();
        if (!result.findings.contains(name)) {
            evaluate(parameter);
        }
    }

    void evaluate(const Parameter& parameter) {
        for (const std::string& read : names_read(parameter.formula)) {
            if (result.findings.contains(read)) {
                result.findings.insert_or_assign(parameter.name,
                                                 error_finding("parameter.source",
                                                               "It reads \u201c" + read + "\u201d, which has no value.",
                                                               "Mend \u201c" + read + "\u201d first."));
                return;
            }
        }
        auto quantity = evaluate_formula(parameter.formula, result.values);
        if (!quantity) {
            result.findings.insert_or_assign(parameter.name, quantity.finding());
            return;
        }
        const auto unit = find_unit(parameter.unit);
        if (unit) {
            auto number = evaluate_as(parameter.formula, result.values, unit->dimension, parameter.unit);
            if (!number) {
                result.findings.insert_or_assign(parameter.name, number.finding());
                return;
            }
            quantity = Quantity{*number, unit->dimension, false};
        }
        result.values.insert_or_assign(parameter.name, *quantity);
    }
};

} // namespace

EvaluatedParameters evaluate_parameters(const std::vector<Parameter>& parameters, const ParameterValues& given) {
    Walk walk;
    walk.result.values = given;
    for (const Parameter& parameter : parameters) {
        if (given.contains(parameter.name)) {
            continue;
        }
        if (!is_parameter_name(parameter.name)) {
            walk.result.findings.insert_or_assign(
                parameter.name, error_finding("parameter.name", "\u201c" + parameter.name + "\u201d cannot be a name.",
                                              "Use letters, digits and underscores; not a unit or a function."));
        } else if (!walk.by_name.emplace(parameter.name, &parameter).second) {
            walk.result.findings.insert_or_assign(
                parameter.name,
                error_finding("parameter.double_name", "Two parameters are called \u201c" + parameter.name + "\u201d.",
                              "Rename one of them."));
        }
    }
    for (const auto& [name, parameter] : walk.by_name) {
        walk.visit(name);
    }
    return std::move(walk.result);
}

} // namespace kervo
