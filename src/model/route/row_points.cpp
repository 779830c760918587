#include "model/route/row_points.h"

#include "geom/measure/measure.h"

#include <algorithm>

namespace kervo::model {

Finding too_many_rows(size_t count) {
    return error_finding("build.too_many",
                         "There are " + std::to_string(count) + " rows; " + std::to_string(most_rows) +
                             " are the most.",
                         "Divide them among several steps.");
}

bool is_row_name(const std::string& name) {
    const auto is_letter = [](char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); };
    return !name.empty() && is_letter(name.front()) && std::all_of(name.begin(), name.end(), [&](char c) {
        return is_letter(c) || (c >= '0' && c <= '9') || c == '_';
    });
}

Finding bad_row_name(bool taken) {
    return error_finding("build.name",
                         taken ? "Another row, or an element of a body, has this name."
                               : "A name is a letter, and letters, digits and _ behind it.",
                         "Give it another name.");
}

void tell_of_row(const Row& row, Finding finding, Answers& answers) {
    finding.cause = "Row \u201c" + row.name + "\u201d: " + finding.cause;
    answers.report("rows", std::move(finding));
}

std::vector<TakenElement> taken_elements(const References& taken, Answers& answers) {
    References called = taken;
    name_each(called);
    const auto found = taken.empty() ? Answers::Elements() : answers.elements("taken", called);
    std::vector<TakenElement> all;
    for (size_t i = 0; answers.ok() && i < found.size(); ++i) { // then none of them is missing
        all.push_back({called[i].name, found[i].body, found[i].element});
    }
    return all;
}

gp_XYZ numbers_of(const Row& row, Answers& answers) {
    gp_XYZ numbers;
    for (int axis = 0; axis < 3; ++axis) {
        numbers.SetCoord(axis + 1, answers.number("rows", row.at[static_cast<size_t>(axis)], length_dimension));
    }
    return numbers;
}

std::optional<gp_Pnt> place_of_row(const Row& row, const FindPoint& known, Answers& answers) {
    const gp_XYZ at = numbers_of(row, answers);
    if (row.of.size() > 1) {
        tell_of_row(
            row, error_finding("build.from", "A point is measured from one other point at most.", "Name one, or none."),
            answers);
        return std::nullopt;
    }
    const auto from = row.of.empty() ? std::optional(gp_Pnt()) : known(row.of.front());
    if (!from) {
        tell_of_row(row,
                    error_finding("build.no_such", "No point before it is called \u201c" + row.of.front() + "\u201d.",
                                  "Name one that is, or move that row up."),
                    answers);
        return std::nullopt;
    }
    return answers.ok() ? std::optional(gp_Pnt(at + from->XYZ())) : std::nullopt;
}

std::optional<std::vector<gp_Pnt>> stand_points(const Rows& rows, const References& taken, Answers& answers,
                                                StepOutput& output) {
    if (rows.size() > most_rows) {
        answers.report("rows", too_many_rows(rows.size()));
        return std::nullopt;
    }
    std::map<std::string, gp_Pnt> known;
    const auto know = [&](const std::string& name, const gp_Pnt& at) {
        known[name] = at;
        output.named.push_back({name, {at.X(), at.Y(), at.Z()}, true});
    };
    for (const TakenElement& each : taken_elements(taken, answers)) {
        know(each.name, geom::center_of(each.element));
    }
    std::vector<gp_Pnt> points;
    for (const Row& row : answers.ok() ? rows : Rows()) {
        if (!is_row_name(row.name) || known.contains(row.name)) {
            tell_of_row(row, bad_row_name(known.contains(row.name)), answers);
            return std::nullopt;
        }
        const auto find = [&](const std::string& name) {
            const auto found = known.find(name);
            return found == known.end() ? std::nullopt : std::optional(found->second);
        };
        const auto at = place_of_row(row, find, answers);
        if (!at) {
            return std::nullopt;
        }
        know(row.name, *at);
        points.push_back(*at);
    }
    return answers.ok() ? std::optional(std::move(points)) : std::nullopt;
}

} // namespace kervo::model
