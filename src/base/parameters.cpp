#include "base/parameters.h"

#include <algorithm>

namespace kervo {

namespace {

// Depth first, with a stack of its own: chains of parameters may be as long as a stranger's file makes them.
struct Walk {
    struct Visited {
        const Parameter* parameter = nullptr;
        std::set<std::string> reads;
        enum class State { fresh, on_path, done } state = State::fresh;
    };
    std::map<std::string, Visited> by_name;
    EvaluatedParameters result;
    std::vector<Visited*> path; // under evaluation, outermost first

    void mark_cycle(const Visited& again) {
        const auto start = std::find(path.begin(), path.end(), &again);
        constexpr long most_named = 20; // longer loops would fill the window with their names
        std::string loop;
        for (auto it = start; it != path.end(); ++it) {
            if (it - start < most_named) {
                loop += (*it)->parameter->name + " \u2192 ";
            } else if (it - start == most_named) {
                loop += "\u2026 \u2192 ";
            }
        }
        loop += again.parameter->name;
        for (auto it = start; it != path.end(); ++it) {
            result.findings.insert_or_assign((*it)->parameter->name,
                                             error_finding("parameter.cycle",
                                                           "The formulas go round in a circle: " + loop + ".",
                                                           "Give one of them a value of its own."));
        }
    }

    // What a formula reads is evaluated before the formula.
    void visit(Visited& first) {
        std::vector<std::set<std::string>::const_iterator> next;
        const auto enter = [&](Visited& visited) {
            visited.state = Visited::State::on_path;
            path.push_back(&visited);
            next.push_back(visited.reads.begin());
        };
        if (first.state == Visited::State::fresh) {
            enter(first);
        }
        while (!path.empty()) {
            Visited& here = *path.back();
            if (next.back() != here.reads.end()) {
                const auto read = by_name.find(*next.back()++);
                if (read == by_name.end() || read->second.state == Visited::State::done) {
                    continue;
                }
                if (read->second.state == Visited::State::on_path) {
                    mark_cycle(read->second);
                } else {
                    enter(read->second);
                }
                continue;
            }
            here.state = Visited::State::done;
            path.pop_back();
            next.pop_back();
            if (!result.findings.contains(here.parameter->name)) {
                evaluate(here);
            }
        }
    }

    void evaluate(const Visited& visited) {
        const Parameter& parameter = *visited.parameter;
        const auto fail = [&](const Finding& finding) { result.findings.insert_or_assign(parameter.name, finding); };
        for (const std::string& read : visited.reads) {
            if (result.findings.contains(read)) {
                return fail(error_finding("parameter.source", "It reads \u201c" + read + "\u201d, which has no value.",
                                          "Mend \u201c" + read + "\u201d first."));
            }
        }
        const auto unit = find_unit(parameter.unit);
        if (!unit && !parameter.unit.empty()) {
            return fail(error_finding("parameter.unit", "\u201c" + parameter.unit + "\u201d is not a unit.",
                                      "Use mm, cm, m, in, ft, deg or rad; a plain number has none."));
        }
        auto quantity = evaluate_formula(parameter.formula, result.values);
        if (!quantity) {
            return fail(quantity.finding());
        }
        const Dimension wanted = unit ? unit->dimension : quantity->dimension;
        const auto number = as_dimension(parameter.formula, *quantity, wanted, parameter.unit);
        if (!number) {
            return fail(number.finding());
        }
        result.values.insert_or_assign(parameter.name, Quantity{*number, wanted, !unit && quantity->any_dimension});
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
        } else if (!walk.by_name.emplace(parameter.name, Walk::Visited{&parameter, names_read(parameter.formula)})
                        .second) {
            walk.result.findings.insert_or_assign(
                parameter.name,
                error_finding("parameter.double_name", "Two parameters are called \u201c" + parameter.name + "\u201d.",
                              "Rename one of them."));
        }
    }
    for (auto& [name, visited] : walk.by_name) {
        walk.visit(visited);
    }
    return std::move(walk.result);
}

} // namespace kervo
