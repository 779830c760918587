#include "model/document/new_names.h"

#include "base/assignment.h"

#include <algorithm>
#include <set>

namespace kervo::model {

namespace {

std::string unit_of(const Dimension& dimension) {
    return dimension == angle_dimension ? "deg" : dimension == length_dimension ? "mm" : "";
}

// Takes a name out of one formula; true if there was one.
bool take(Expression& expression, const Dimension& dimension, std::vector<Parameter>& parameters) {
    const auto assignment = split_assignment(expression.text);
    if (!assignment || names_read(assignment->formula).contains(assignment->name)) {
        return false;
    }
    const auto known = std::find_if(parameters.begin(), parameters.end(),
                                    [&](const Parameter& p) { return p.name == assignment->name; });
    if (known != parameters.end()) {
        known->formula = assignment->formula;
    } else {
        parameters.push_back({assignment->name, assignment->formula, unit_of(dimension), ""});
    }
    expression.text = assignment->name;
    return true;
}

} // namespace

Document take_new_names(Document document, const Document* before) {
    std::set<StepPtr> known;
    if (before != nullptr) {
        known.insert(before->steps.begin(), before->steps.end());
    }
    for (const StepPtr& step : std::vector<StepPtr>(document.steps)) {
        if (known.contains(step)) {
            continue;
        }
        for (const Field& field : fields_of(step->definition)) {
            FieldValue value = field.value;
            bool taken = false;
            for_each_formula(field.info, value, [&](Expression& formula, const Dimension& dimension) {
                taken = take(formula, dimension, document.parameters) || taken;
            });
            if (taken) {
                document = change_field(std::move(document), step->id, field.info.key, value);
            }
        }
    }
    return document;
}

} // namespace kervo::model
