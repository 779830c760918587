#include "model/document/differences.h"

#include <algorithm>

namespace kervo::model {

namespace {

std::string quoted(const std::string& text) {
    return "\u201c" + text + "\u201d";
}

void compare_parameters(const Document& before, const Document& after, std::vector<std::string>& lines) {
    const auto find = [](const Document& document, const std::string& name) {
        return std::find_if(document.parameters.begin(), document.parameters.end(),
                            [&](const Parameter& each) { return each.name == name; });
    };
    for (const Parameter& now : after.parameters) {
        const auto old = find(before, now.name);
        if (old == before.parameters.end()) {
            lines.push_back("Parameter " + quoted(now.name) + " is new: " + now.formula);
        } else if (old->formula != now.formula) {
            lines.push_back("Parameter " + quoted(now.name) + ": " + old->formula + " became " + now.formula);
        } else if (!(*old == now)) {
            lines.push_back("Parameter " + quoted(now.name) + " has another unit, group or comment");
        }
    }
    for (const Parameter& old : before.parameters) {
        if (find(after, old.name) == after.parameters.end()) {
            lines.push_back("Parameter " + quoted(old.name) + " is gone");
        }
    }
}

std::string called(const Step& step) {
    return "Step " + std::to_string(step.number) + (step.name.empty() ? std::string() : " " + quoted(step.name));
}

std::string other_answers(const Step& before, const Step& after) {
    if (&kind_of(before.definition) != &kind_of(after.definition)) {
        return "is of another kind";
    }
    const auto old = fields_of(before.definition);
    const auto now = fields_of(after.definition);
    std::string list;
    for (size_t i = 0; i < std::min(old.size(), now.size()); ++i) {
        if (!(old[i].value == now[i].value)) {
            list += (list.empty() ? "" : ", ") + now[i].info.label;
        }
    }
    if (!list.empty()) {
        return "has other answers: " + list;
    }
    return before.suspended != after.suspended ? (after.suspended ? "is suspended" : "is no longer suspended")
                                               : "has another name, note, layer or number";
}

void compare_steps(const Document& before, const Document& after, std::vector<std::string>& lines) {
    for (const StepPtr& now : after.steps) {
        const StepPtr old = before.step(now->id);
        if (!old) {
            lines.push_back(called(*now) + " is new");
        } else if (!(*old == *now)) {
            lines.push_back(called(*now) + " " + other_answers(*old, *now));
        }
    }
    for (const StepPtr& old : before.steps) {
        if (!after.step(old->id)) {
            lines.push_back(called(*old) + " is gone");
        }
    }
}

} // namespace

std::vector<std::string> differences(const Document& before, const Document& after) {
    std::vector<std::string> lines;
    if (same_content(before, after)) {
        return lines;
    }
    if (before.title != after.title) {
        lines.push_back("It is called " + quoted(after.title));
    }
    compare_parameters(before, after, lines);
    compare_steps(before, after, lines);
    if (before.appearance != after.appearance || before.groups != after.groups || before.layers != after.layers ||
        before.cutaways != after.cutaways || before.materials != after.materials || before.views != after.views) {
        lines.emplace_back("Names, colours, materials, layers, groups, cutaways or views are others");
    }
    if (lines.empty()) {
        lines.emplace_back("Settings or imported files are others");
    }
    return lines;
}

} // namespace kervo::model
