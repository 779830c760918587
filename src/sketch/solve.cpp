#include "sketch/solve.h"

#include "sketch/arrangement.h"
#include "sketch/figures.h"
#include "sketch/lead.h"

#include <algorithm>
#include <cmath>

namespace kervo::sketch {

namespace {

void write_back(Sketch& sketch, const UnknownIndex& index, const Values& x) {
    for (Point& point : sketch.points) {
        const auto at = static_cast<size_t>(index.of_point.at(point.id));
        point.x = x[at];
        point.y = x[at + 1];
    }
    for (Curve& curve : sketch.curves) {
        if (has_radius(curve.kind)) {
            curve.radius = x[static_cast<size_t>(index.of_radius.at(curve.id))];
        }
    }
}

std::map<int, double> evaluate_dimensions(const Sketch& sketch, const ParameterValues& parameters, Findings& findings) {
    std::map<int, double> values;
    for (const Constraint& constraint : sketch.constraints) {
        if (!is_dimension(constraint.kind) || constraint.measured) {
            continue;
        }
        const auto value = evaluate_as(constraint.value.text, parameters, dimension_of(constraint.kind));
        if (!value) {
            findings.push_back(value.finding());
            continue;
        }
        const bool size = constraint.kind == ConstraintKind::radius || constraint.kind == ConstraintKind::diameter ||
                          constraint.kind == ConstraintKind::arc_length;
        if (size && *value <= 0) {
            findings.push_back(error_finding("sketch.size",
                                             "\u201c" + constraint.value.text + "\u201d gives a size of " +
                                                 format_quantity(*value, "mm") + " mm.",
                                             "A radius, diameter or arc length must be above zero."));
            continue;
        }
        values[constraint.id] = *value;
    }
    return values;
}

// Whether these equations can hold together, tried from the drawn values and from where the search has led.
bool can_hold(const Equations& equations, const Values& drawn, const Values& reached) {
    for (const Values* start : {&reached, &drawn}) {
        Values x = *start;
        const auto clusters = clusters_of(equations, x.size());
        if (std::all_of(clusters.begin(), clusters.end(), [&](const Cluster& c) { return solve_cluster(x, c); })) {
            return true;
        }
    }
    return false;
}

// A smallest set of constraints that cannot hold together. At the end of a least-squares search the residual itself is
// a dependency among the equations, so only those with a part in it are asked; each without which the others hold
// stays.
std::vector<int> minimal_conflict(const Equations& all, const Cluster& cluster, const Linearised& at,
                                  const Values& drawn, const Values& reached) {
    std::set<int> suspects;
    std::set<int> touched;
    for (size_t e = 0; e < cluster.equations.size(); ++e) {
        const Equation& equation = *cluster.equations[e];
        if (at.residual.segment(at.row_of[e], equation.residuals).lpNorm<Eigen::Infinity>() > 1e-6 * at.worst()) {
            suspects.insert(equation.constraint);
            touched.insert(equation.unknowns.begin(), equation.unknowns.end());
        }
    }
    Equations kept;
    for (const Equation* equation : all) {
        const bool fix = fixes(*equation) && std::any_of(equation->unknowns.begin(), equation->unknowns.end(),
                                                         [&](int unknown) { return touched.contains(unknown); });
        if (equation->law || fix || suspects.contains(equation->constraint)) {
            kept.push_back(equation);
        }
    }
    if (can_hold(kept, drawn, reached)) { // the search stopped short of the dependency: all of the cluster are asked
        kept = cluster.equations;
        for (const Equation* equation : all) {
            if (fixes(*equation)) {
                kept.push_back(equation);
            }
        }
    }
    constexpr size_t most_asked = 120; // beyond that the answer would take longer than it is worth
    for (size_t i = 0; i < kept.size() && kept.size() <= most_asked;) {
        Equations without = kept;
        without.erase(without.begin() + static_cast<long>(i));
        if (!kept[i]->law && !can_hold(without, drawn, reached)) {
            kept = std::move(without);
        } else {
            ++i;
        }
    }
    std::vector<int> ids;
    for (const Equation* equation : kept) {
        if (!equation->law) {
            ids.push_back(equation->constraint);
        }
    }
    return ids;
}

void tell_conflict(const Sketch& sketch, const std::vector<int>& ids, Solution& solution) {
    std::string names;
    for (const int id : ids) {
        const auto at = std::find_if(sketch.constraints.begin(), sketch.constraints.end(),
                                     [id](const Constraint& c) { return c.id == id; });
        std::string name = constraint_names()[static_cast<size_t>(at->kind)].second;
        std::replace(name.begin(), name.end(), '_', ' ');
        names += (names.empty() ? "" : ", ") + name + (at->value.text.empty() ? "" : " " + at->value.text);
        solution.in_conflict.push_back(id);
    }
    solution.findings.push_back(
        error_finding("sketch.conflict", "These constraints cannot hold together: " + names + ".",
                      "Delete one of them, change its value, or let a dimension only measure."));
}

// The constraints hold, but on no way that leads there from the drawing: it may be another solution than was meant.
void tell_jump(const Sketch& sketch, const UnknownIndex& index, const Cluster& cluster, Solution& solution) {
    std::string names;
    for (const Curve& curve : sketch.curves) {
        const bool moves = std::any_of(curve.points.begin(), curve.points.end(), [&](int point) {
            const auto at = static_cast<size_t>(index.of_point.at(point));
            return cluster.column[at] >= 0 || cluster.column[at + 1] >= 0;
        });
        names += moves ? (names.empty() ? "" : ", ") + std::to_string(curve.id) : "";
    }
    solution.findings.push_back(warning_finding(
        "sketch.jump",
        "The constraints hold, but what is drawn cannot be led there without a jump: curves " + names +
            " may lie on another side than was meant.",
        "Look at the sketch; drag what lies on the wrong side, or draw it nearer to where it belongs."));
}

void find_collapsed(Solution& solution) {
    for (const Curve& curve : solution.sketch.curves) {
        if (stretch_of(solution.sketch, curve).length() < 1e-6) {
            solution.findings.push_back(error_finding("sketch.collapsed",
                                                      "Curve " + std::to_string(curve.id) + " shrank to a point.",
                                                      "Change the dimension that leaves it no room."));
        }
    }
}

// What measured dimensions show: the value at which the same dimension would hold.
void measure(const Sketch& sketch, std::map<int, double>& dimension) {
    Sketch probe = sketch;
    std::erase_if(probe.constraints, [](const Constraint& c) { return !c.measured; });
    std::map<int, double> nothing; // each asked for 0, so that it is violated by its value
    for (Constraint& constraint : probe.constraints) {
        constraint.measured = false;
        nothing[constraint.id] = 0;
    }
    if (nothing.empty()) {
        return;
    }
    const UnknownIndex index = index_unknowns(probe);
    for (const Equation& equation :
         make_equations(probe, index, unknowns_of(probe, index), nothing, unknowns_of(probe, index))) {
        if (equation.law) {
            continue;
        }
        double value = 0;
        evaluate_equation(equation, equation.drawn.data(), &value);
        if (equation.kind == ConstraintKind::diameter) {
            value *= 2;
        } else if (equation.kind == ConstraintKind::angle) {
            const Constraint& angle = *std::find_if(probe.constraints.begin(), probe.constraints.end(),
                                                    [&](const Constraint& c) { return c.id == equation.constraint; });
            value /= stretch_of(probe, *probe.curve(angle.on[0])).length();
        }
        dimension[equation.constraint] = value;
    }
}

Equations pointers_to(const std::vector<Equation>& equations) {
    Equations all;
    for (const Equation& equation : equations) {
        all.push_back(&equation);
    }
    return all;
}

} // namespace

Solution solve(const Sketch& sketch, const ParameterValues& parameters, const Sketch* laid) {
    Solution solution;
    solution.sketch = sketch;
    solution.findings = check_structure(sketch);
    if (has_error(solution.findings)) {
        return solution;
    }
    solution.dimension = evaluate_dimensions(sketch, parameters, solution.findings);
    size_figures(solution.sketch, parameters, solution.findings);
    const UnknownIndex index = index_unknowns(sketch);
    const Values drawn = unknowns_of(sketch, index);
    Values x = drawn;
    const Values held = laid == nullptr ? drawn : unknowns_of(*laid, index);
    const auto equations = make_equations(sketch, index, drawn, solution.dimension, held);
    const Equations all = pointers_to(equations);
    std::vector<bool> settled = held_unknowns(all, x.size());
    for (size_t i = 0; i < x.size(); ++i) {
        x[i] = settled[i] ? held[i] : x[i];
    }
    for (const Cluster& cluster : clusters_of(all, x.size())) {
        const bool led = lead(x, drawn, cluster);
        const bool holds = led || solve_cluster(x, cluster);
        const Linearised at = linearise(x, cluster);
        const int rank = rank_of(at.jacobian);
        solution.residual = std::max(solution.residual, at.worst());
        solution.degrees_of_freedom += static_cast<int>(cluster.unknowns.size()) - rank;
        solution.redundant += static_cast<int>(at.residual.size()) - rank;
        for (const int unknown : cluster.unknowns) {
            settled[static_cast<size_t>(unknown)] = true;
        }
        if (rank < static_cast<int>(cluster.unknowns.size())) {
            for (const int unknown : free_unknowns(cluster, at.jacobian)) {
                settled[static_cast<size_t>(unknown)] = false;
            }
        }
        if (!holds) {
            tell_conflict(sketch, minimal_conflict(all, cluster, at, drawn, x), solution);
        } else if (!led) {
            tell_jump(sketch, index, cluster, solution);
        }
    }
    // What no equation reads is free.
    std::vector<bool> read(x.size());
    for (const Equation& equation : equations) {
        for (const int unknown : equation.unknowns) {
            read[static_cast<size_t>(unknown)] = true;
        }
    }
    solution.degrees_of_freedom += static_cast<int>(std::count(read.begin(), read.end(), false));
    write_back(solution.sketch, index, x);
    for (Curve& curve : solution.sketch.curves) {
        if (laid != nullptr && curve.source) {
            curve.knots = laid->curve(curve.id)->knots;
        }
    }
    for (const auto& [point, at] : index.of_point) {
        const auto i = static_cast<size_t>(at);
        if (!settled[i] || !settled[i + 1]) {
            solution.free.insert(point);
        }
    }
    for (const auto& [curve, at] : index.of_radius) {
        if (!settled[static_cast<size_t>(at)]) {
            solution.free.insert(curve);
        }
    }
    measure(solution.sketch, solution.dimension);
    find_collapsed(solution);
    return solution;
}

Sketch drag(const Sketch& solved, const ParameterValues& parameters, const std::map<int, Point2>& targets) {
    Findings findings = check_structure(solved);
    if (has_error(findings)) {
        return solved;
    }
    const auto values = evaluate_dimensions(solved, parameters, findings);
    const UnknownIndex index = index_unknowns(solved);
    Values x = unknowns_of(solved, index);
    const auto equations = make_equations(solved, index, x, values, x);
    const Equations all = pointers_to(equations);
    const auto held = held_unknowns(all, x.size());
    std::map<size_t, double> wished; ///< unknown -> value
    for (const auto& [point, place] : targets) {
        if (const auto at = index.of_point.find(point); at != index.of_point.end()) {
            for (size_t axis = 0; axis < 2; ++axis) {
                const size_t unknown = static_cast<size_t>(at->second) + axis;
                if (!held[unknown]) {
                    wished[unknown] = place[axis];
                }
            }
        }
    }
    std::vector<bool> clustered(x.size());
    for (const Cluster& cluster : clusters_of(all, x.size())) {
        double far = 0;
        for (const int unknown : cluster.unknowns) {
            clustered[static_cast<size_t>(unknown)] = true;
            if (const auto wish = wished.find(static_cast<size_t>(unknown)); wish != wished.end()) {
                far = std::max(far, std::fabs(wish->second - x[static_cast<size_t>(unknown)]));
            }
        }
        if (far == 0) {
            continue;
        }
        // Along the null space towards the wish, everything else as lazy as the pulled points are eager.
        constexpr double eager = 1e6;
        constexpr int steps = 6;
        for (int step = 0; step < steps; ++step) {
            const Linearised at = linearise(x, cluster);
            Eigen::VectorXd weights = Eigen::VectorXd::Constant(at.jacobian.cols(), movement_weight);
            Eigen::VectorXd pull = Eigen::VectorXd::Zero(at.jacobian.cols());
            for (size_t i = 0; i < cluster.unknowns.size(); ++i) {
                const auto unknown = static_cast<size_t>(cluster.unknowns[i]);
                if (const auto wish = wished.find(unknown); wish != wished.end()) {
                    const auto column = static_cast<int>(i);
                    weights[column] *= eager;
                    pull[column] = weights[column] * (wish->second - x[unknown]) / (steps - step);
                }
            }
            const auto move = weighted_step(at.jacobian, weights, pull);
            if (!move) {
                break;
            }
            Values next = moved(x, cluster, *move);
            if (!polish(next, cluster)) {
                break; // it goes no farther
            }
            x = std::move(next);
        }
    }
    for (const auto& [unknown, value] : wished) {
        if (!clustered[unknown]) {
            x[unknown] = value;
        }
    }
    Sketch result = solved;
    write_back(result, index, x);
    return result;
}

} // namespace kervo::sketch
