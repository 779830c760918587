#include "model/step_context.h"

namespace kervo::model {

void Answers::report(const char* field, Finding finding) {
    finding.field = field;
    output_.findings.push_back(std::move(finding));
}

double Answers::number(const char* field, const Expression& expression, const Dimension& dimension) {
    const auto value = evaluate_as(expression.text, *inputs_.parameters, dimension);
    if (!value) {
        report(field, value.finding());
        return 0;
    }
    return *value;
}

double Answers::positive(const char* field, const Expression& expression) {
    const size_t before = output_.findings.size();
    const double value = number(field, expression, length_dimension);
    if (output_.findings.size() == before && value <= geom::coincidence) {
        report(field,
               error_finding("step.size",
                             "\u201c" + expression.text + "\u201d gives " + format_quantity(value, "mm") + " mm.",
                             "It must be above zero."));
    }
    return value;
}

BodyPtr Answers::body(const BodyId& id) const {
    const auto at = inputs_.bodies.find(id);
    return at == inputs_.bodies.end() ? nullptr : at->second;
}

BodyPtr Answers::picked_body(const char* field, const References& references) {
    if (references.empty()) {
        report(field, error_finding("step.unanswered", "Nothing is picked here yet.", "Pick it in the model."));
        return nullptr;
    }
    BodyPtr found = body(references.front().body);
    if (!found) {
        report(field, error_finding("names.no_body", "The body is not there any more.", "Pick another one."));
    }
    return found;
}

TopoDS_Shape Answers::element(const char* field, const References& references) {
    if (references.empty()) {
        report(field, error_finding("step.unanswered", "Nothing is picked here yet.", "Pick it in the model."));
        return {};
    }
    const Resolved resolved = resolve(references.front(), body(references.front().body).get());
    if (resolved.finding) {
        report(field, *resolved.finding);
    }
    if (resolved.learned) {
        output_.learned.push_back({field, 0, *resolved.learned});
    }
    return resolved.element;
}

} // namespace kervo::model
