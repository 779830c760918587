#include "model/steps/registry.h"

#include "model/cutting/cutting.h"

#include <Standard_Failure.hxx>

#include <algorithm>

namespace kervo::model {

std::string title_of(Question question) {
    switch (question) {
    case Question::what_is_cut:
        return "What is cut";
    case Question::what_cuts_it:
        return "What cuts it";
    case Question::how_far:
        return "How far";
    case Question::what_stays:
        return "What stays";
    case Question::size:
        return "Size";
    case Question::drawing:
        return "Drawing";
    case Question::rows:
        return "Rows";
    case Question::place:
        return "Place";
    case Question::measured:
        return "What is measured";
    case Question::source:
        break;
    }
    return "Source";
}

// The kinds. Each is defined in its own folder, and nothing more of it is known here.
struct Stock;
struct Import;
struct SketchStep;
struct Extrude;
struct Measure;
struct Curves;
struct Revolve;
struct RoundEdges;
struct BevelEdges;
struct Holes;
struct Hollow;
struct DraftFaces;
struct Repeat;
struct CopyBodies;
struct AlongPath;
struct Loft;
struct ShiftFaces;
struct Planned;
struct Opening;
struct BladeStep;
struct BodyCut;
struct Join;
struct Separate;
struct PlaceBodies;
struct Resize;
struct Score;
struct Meeting;
struct Remove;
struct CopiedFaces;
struct Thicken;
struct Sew;
struct Extend;
struct Trim;
struct FlatSurface;
struct Blend;
struct ProjectedCurves;
struct SplitFaces;
struct TrimByNeighbour;
struct BuiltUp;
struct SpaceCurve;
struct FreeFormSurface;
struct CurveNet;
struct Fill;
struct SectionStep;

namespace {

template <class... Kinds> std::vector<StepKind> known_kinds() {
    return {StepOf<Kinds>::kind()...};
}

std::vector<StepKind>& all_kinds() {
    static std::vector<StepKind> kinds =
        known_kinds<Stock, Import, SketchStep, Extrude, Measure, Curves, Revolve, RoundEdges, BevelEdges, Holes, Hollow,
                    DraftFaces, Repeat, CopyBodies, AlongPath, Loft, ShiftFaces, Planned, Opening, BladeStep, BodyCut,
                    Join, Separate, PlaceBodies, Resize, Score, Meeting, Remove, CopiedFaces, Thicken, Sew, Extend,
                    Trim, FlatSurface, Blend, ProjectedCurves, SplitFaces, TrimByNeighbour, BuiltUp, SpaceCurve, Fill,
                    FreeFormSurface, CurveNet, SectionStep>();
    return kinds;
}

// Values of the choices, so that hidden fields can be told.
std::map<std::string, std::string> choices_of(const StepDefinition& definition) {
    std::map<std::string, std::string> choices;
    for_each_field(definition, [&](const FieldInfo& info, const auto& value) {
        if constexpr (std::is_same_v<std::decay_t<decltype(value)>, Choice>) {
            choices[info.key] = value.value;
        }
    });
    return choices;
}

bool is_asked(const FieldInfo& info, const std::map<std::string, std::string>& choices) {
    return !info.moot &&
           std::all_of(info.asked_when.begin(), info.asked_when.end(), [&](const FieldInfo::Condition& condition) {
               const auto choice = choices.find(condition.choice);
               return choice != choices.end() && std::find(condition.values.begin(), condition.values.end(),
                                                           choice->second) != condition.values.end();
           });
}

} // namespace

StepDefinition::StepDefinition() : StepDefinition(step_kinds().front().made()) {}

const std::vector<StepKind>& step_kinds() {
    return all_kinds();
}

void add_step_kind(const StepKind& kind) {
    all_kinds().push_back(kind);
}

std::optional<StepDefinition> make_definition(const std::string& kind) {
    for (const StepKind& known : step_kinds()) {
        if (known.kind == kind) {
            return known.made();
        }
    }
    return std::nullopt;
}

const StepKind& kind_of(const StepDefinition& definition) {
    return definition.step().kind();
}

std::string title_of(const StepDefinition& definition) {
    return definition.step().title();
}

std::vector<Field> fields_of(const StepDefinition& definition, bool asked_only) {
    const auto choices = choices_of(definition);
    std::vector<Field> fields;
    for_each_field(definition, [&](const FieldInfo& info, const auto& value) {
        if (!asked_only || is_asked(info, choices)) {
            fields.push_back({info, FieldValue(value)});
        }
    });
    return fields;
}

bool set_field(StepDefinition& definition, const std::string& key, const FieldValue& value) {
    bool done = false;
    for_each_field(definition, [&](const FieldInfo& info, auto& target) {
        if (info.key == key) {
            if (const auto* typed = std::get_if<std::decay_t<decltype(target)>>(&value)) {
                target = *typed;
                if constexpr (std::is_same_v<std::decay_t<decltype(target)>, References>) {
                    if (info.names_each) {
                        name_each(target);
                    }
                }
                done = true;
            }
        }
    });
    return done;
}

Dependencies dependencies_of(const StepDefinition& definition) {
    Dependencies result;
    for (const Field& field : fields_of(definition, true)) {
        for_each_formula(field.info, field.value, [&](const Expression& formula, const Dimension&) {
            result.parameters.merge(names_read(formula.text));
        });
        if (const auto* link = std::get_if<SketchLink>(&field.value)) {
            result.sketches.insert(link->step);
        } else if (const auto* sweep = std::get_if<SweepLink>(&field.value)) {
            result.sweeps.insert(sweep->step);
        } else if (const auto* state = std::get_if<StateLink>(&field.value)) {
            result.as_after = state->step;
        } else if (const auto* asset = std::get_if<AssetLink>(&field.value)) {
            result.assets.insert(asset->name);
        } else if (const auto* name = std::get_if<ParameterName>(&field.value)) {
            result.measures.insert(name->text);
        } else if (const auto* references = std::get_if<References>(&field.value)) {
            for (const Reference& reference : *references) {
                result.reads.insert(reference.body);
                if (field.info.writes) {
                    result.writes.insert(reference.body);
                }
            }
        } else if (const auto* regions = std::get_if<RegionReferences>(&field.value)) {
            for (const ChosenRegion& region : *regions) {
                if (region.sketch != 0) {
                    result.sketches.insert(region.sketch);
                }
            }
        } else if (const auto* drawing = std::get_if<sketch::Sketch>(&field.value)) {
            for (const sketch::Curve& curve : drawing->curves) {
                if (curve.source) {
                    result.reads.insert(curve.source.body);
                }
            }
        }
    }
    return result;
}

bool is_as_begun(const StepDefinition& definition, const Field& field) {
    const StepKind& kind = definition.step().kind();
    const auto same_in = [&](const StepDefinition& begun) {
        const auto fields = fields_of(begun);
        return std::any_of(fields.begin(), fields.end(), [&](const Field& each) {
            return each.info.key == field.info.key && each.value == field.value;
        });
    };
    return same_in(kind.made()) || std::any_of(kind.verbs.begin(), kind.verbs.end(),
                                               [&](const StepVerb& verb) { return same_in(verb.made()); });
}

bool sets_verdicts(const StepDefinition& definition) {
    const auto fields = fields_of(definition, true);
    return std::any_of(fields.begin(), fields.end(),
                       [](const Field& field) { return std::holds_alternative<VerdictRules>(field.value); });
}

const sketch::Sketch* drawing_of(const StepDefinition& definition) {
    const sketch::Sketch* drawing = nullptr;
    for_each_field(definition, [&](const FieldInfo&, const auto& value) {
        if constexpr (std::is_same_v<std::decay_t<decltype(value)>, sketch::Sketch>) {
            drawing = &value;
        }
    });
    return drawing;
}

int sketch_of(const StepDefinition& definition) {
    for (const Field& field : fields_of(definition, true)) {
        if (const auto* link = std::get_if<SketchLink>(&field.value)) {
            return link->step;
        }
    }
    return 0;
}

bool sweeps(const StepDefinition& definition) {
    return definition.step().kind().sweeps;
}

std::vector<BodyId> bodies_met(const StepDefinition& definition, const StepInputs& inputs) try {
    std::vector<BodyPtr> all;
    for (const auto& [id, body] : inputs.bodies) {
        all.push_back(body);
    }
    StepOutput scratch;
    Answers answers(inputs, scratch);
    const auto cutters = definition.step().cutters(all, answers, scratch);
    return bodies_met(cutters, inputs.bodies, dependencies_of(definition).writes);
} catch (const Standard_Failure&) { // the step's own evaluation tells what is wrong with it
    return {};
}

namespace {

// Findings belong to answers that the step has, say which one is missing, and come once.
void put_in_order(const StepDefinition& definition, Findings& findings) {
    std::map<std::string, std::string> labels;
    for (const auto& field : fields_of(definition)) {
        labels[field.info.key] = field.info.label;
    }
    // What cuts, and what is cut, have other names on some cards.
    static const std::map<std::string, std::vector<std::string>> elsewhere{
        {"workpieces", {"workpiece", "wall", "bodies", "unite_with", "faces"}},
        {"regions", {"of", "cutters", "blades", "sketch", "shape", "plane", "thickness", "bodies"}}};
    Findings all;
    for (Finding& finding : findings) {
        if (const auto other = elsewhere.find(finding.field);
            other != elsewhere.end() && !labels.contains(finding.field)) {
            const auto known = std::find_if(other->second.begin(), other->second.end(),
                                            [&](const std::string& key) { return labels.contains(key); });
            finding.field = known == other->second.end() ? std::string() : *known;
        }
        const auto label = labels.find(finding.field);
        if (finding.code == "step.no_bodies" && label != labels.end()) {
            finding.cause = "No body is ticked under \u201c" + label->second + "\u201d.";
        } else if (finding.code == "step.unanswered" && label != labels.end()) {
            finding.cause = "Nothing is picked under \u201c" + label->second + "\u201d yet.";
        }
        if (std::find(all.begin(), all.end(), finding) == all.end()) {
            all.push_back(std::move(finding));
        }
    }
    findings = std::move(all);
}

} // namespace

StepOutput evaluate_step(const StepDefinition& definition, const StepInputs& inputs) {
    StepOutput output = definition.step().evaluate(inputs);
    put_in_order(definition, output.findings);
    return output;
}

} // namespace kervo::model
