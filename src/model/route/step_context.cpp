#include "model/route/step_context.h"

#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/outline/profile.h"

#include <algorithm>
#include <cmath>

namespace kervo::model {

namespace {

Finding nothing_picked() {
    return error_finding("step.unanswered", "Nothing is picked here yet.", "Pick it in the model.");
}

} // namespace

void StepOutput::count_change(const Body& before, const Body& after) {
    const double change = volume_of(after) - volume_of(before);
    (change < 0 ? removed : added) += std::fabs(change);
}

void Answers::report(const char* field, Finding finding) {
    finding.field = field;
    for (Offer& offer : finding.offers) {
        offer.step = offer.step == 0 ? inputs_.step : offer.step;
        if (const auto own = offer.answers.extract(""); !own.empty()) {
            offer.answers[field] = own.mapped();
        }
    }
    output_.findings.push_back(std::move(finding));
}

double Answers::number(const char* field, const Expression& expression, const Dimension& dimension) {
    return number(field, expression, dimension, {});
}

double Answers::number(const char* field, const Expression& expression, const Dimension& dimension,
                       const ParameterValues& own) {
    ParameterValues values = own;
    for (const std::string& name : names_read(expression.text)) {
        if (const auto known = inputs_.parameters->find(name); known != inputs_.parameters->end()) {
            values.emplace(*known);
        }
    }
    const auto value = evaluate_as(expression.text, values, dimension);
    if (!value) {
        report(field, value.finding());
        return 0;
    }
    return *value;
}

double Answers::firmness(const char* field, const Expression& expression) {
    const double firm = number(field, expression, plain_number);
    if (ok() && (firm < 0.01 || firm > 10)) {
        report(field, error_finding("span.firmness", "It cannot keep to that so firmly.",
                                    "Give a number from 0.01 to 10; 1 is usual."));
    }
    return firm;
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

std::vector<BodyPtr> Answers::bodies(const char* field, const References& references) {
    std::vector<BodyPtr> found;
    if (references.empty()) {
        report(field, error_finding("step.no_bodies", "No body is ticked here.", "Tick the bodies that are meant."));
    }
    for (size_t i = 0; i < references.size(); ++i) {
        const Reference& reference = references[i];
        BodyPtr known = body(reference.body);
        if (known) {
            check_twin(field, references, i, *known);
        }
        if (group_meant(reference.body) != 0) {
            report(field, error_finding("names.empty_group", "Nothing is in this group at this step.",
                                        "Take it off the list, or put bodies into it."));
        } else if (!known) {
            report(field, error_finding("names.no_body",
                                        "The body \u201c" + reference.body + "\u201d is not there at this step.",
                                        "Take it off the list, or bring it back."));
        } else if (std::find(found.begin(), found.end(), known) == found.end()) {
            found.push_back(std::move(known));
        }
    }
    return found;
}

SketchResultPtr Answers::sketch(const char* field, const SketchLink& link) {
    const auto drawn = inputs_.sketches.find(link.step);
    if (drawn == inputs_.sketches.end()) {
        report(field, error_finding("profile.no_sketch", "There is no sketch here yet.", "Choose a sketch."));
        return nullptr;
    }
    return drawn->second;
}

SweptRegionsPtr Answers::swept(const char* field, const SweepLink& link) {
    const auto made = inputs_.sweeps.find(link.step);
    if (made == inputs_.sweeps.end() || made->second->empty()) {
        report(field, error_finding("repeat.no_step", "There is no step whose sweep could be repeated.",
                                    "Choose an earlier step that makes or cuts something, and has not failed."));
        return nullptr;
    }
    return made->second;
}

gp_Ax1 Answers::axis(const char* field, const Choice& choice, const References& references) {
    if (choice.value != "element") {
        return {gp_Pnt(), choice.value == "x"   ? gp_Dir(1, 0, 0)
                          : choice.value == "y" ? gp_Dir(0, 1, 0)
                                                : gp_Dir(0, 0, 1)};
    }
    const TopoDS_Shape picked = element(field, references);
    if (picked.IsNull()) {
        return {};
    }
    if (const auto axis = geom::axis_of(picked)) {
        return *axis;
    }
    if (picked.ShapeType() == TopAbs_FACE) {
        if (const auto plane = geom::plane_of(picked)) {
            return plane->Axis();
        }
    }
    report(field, error_finding("step.no_direction", "This element has no direction.",
                                "Pick a straight or round edge, or a flat or round face."));
    return {};
}

BodyPtr Answers::picked_body(const char* field, const References& references) {
    if (references.empty()) {
        report(field, nothing_picked());
        return nullptr;
    }
    BodyPtr found = body(references.front().body);
    if (!found) {
        report(field, error_finding("names.no_body", "The body is not there any more.", "Pick another one."));
    } else {
        check_twin(field, references, 0, *found);
    }
    return found;
}

// Bodies that look alike are numbered in no lasting order. One of them is certain only where it lies where it lay when
// it was picked.
void Answers::check_twin(const char* field, const References& references, size_t index, const Body& body) {
    const Reference& reference = references[index];
    if (!has_twins(reference.body) || reference.kind != ElementKind::body) {
        return;
    }
    const gp_Pnt center = geom::centroid_of(body.shape);
    if (!reference.near) {
        Reference known = reference;
        known.near = Place{center.X(), center.Y(), center.Z()};
        output_.learned.push_back({field, index, std::move(known)});
        return;
    }
    const gp_Pnt near((*reference.near)[0], (*reference.near)[1], (*reference.near)[2]);
    if (center.Distance(near) < 1e-5) {
        return;
    }
    const bool holds = geom::distance_to(body.shape, near) < geom::coincidence;
    Finding finding =
        holds ? warning_finding("names.by_place",
                                "Several bodies look alike to this step; the one that is taken lies where the one that "
                                "was picked lay, but has changed.",
                                "Look whether it is the right one, and pick it again.")
              : error_finding("names.twin",
                              "Several bodies look alike to this step, and none is known to be the one "
                              "that was picked.",
                              "Pick it again.");
    finding.places.push_back(*reference.near);
    report(field, std::move(finding));
}

TopoDS_Shape Answers::element(const char* field, const References& references, size_t index) {
    const Reference& reference = references[index];
    const Resolved resolved = resolve(reference, body(reference.body).get());
    if (resolved.finding) {
        report(field, *resolved.finding);
    }
    if (resolved.learned) {
        output_.learned.push_back({field, index, *resolved.learned});
        output_.learned.back().reference.own = reference.own;
        output_.learned.back().reference.name = reference.name;
    }
    return resolved.element;
}

TopoDS_Shape Answers::element(const char* field, const References& references) {
    if (references.empty()) {
        report(field, nothing_picked());
        return {};
    }
    return element(field, references, 0);
}

Answers::Elements Answers::elements(const char* field, const References& references) {
    Elements found;
    if (references.empty()) {
        report(field, nothing_picked());
    }
    for (size_t i = 0; i < references.size(); ++i) {
        if (const TopoDS_Shape one = element(field, references, i); !one.IsNull()) {
            found.push_back({references[i].body, one, references[i].own});
        }
    }
    return found;
}

} // namespace kervo::model
