// All kinds of steps. A new kind adds its header and its name in the one line below.
#pragma once

#include "model/steps/along_path/along_path.h"
#include "model/steps/bevel_edges/bevel_edges.h"
#include "model/steps/blade/blade.h"
#include "model/steps/body_cut/body_cut.h"
#include "model/steps/copy_bodies/copy_bodies.h"
#include "model/steps/curves/curves.h"
#include "model/steps/draft_faces/draft_faces.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/holes/holes.h"
#include "model/steps/hollow/hollow.h"
#include "model/steps/import/import.h"
#include "model/steps/join/join.h"
#include "model/steps/loft/loft.h"
#include "model/steps/measure/measure.h"
#include "model/steps/meeting/meeting.h"
#include "model/steps/opening/opening.h"
#include "model/steps/place/place.h"
#include "model/steps/planned/planned.h"
#include "model/steps/remove/remove.h"
#include "model/steps/repeat/repeat.h"
#include "model/steps/resize/resize.h"
#include "model/steps/revolve/revolve.h"
#include "model/steps/round_edges/round_edges.h"
#include "model/steps/score/score.h"
#include "model/steps/separate/separate.h"
#include "model/steps/shift_faces/shift_faces.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"

#include <optional>

namespace kervo::model {

using StepDefinition =
    std::variant<Stock, Import, SketchStep, Extrude, Measure, Curves, Revolve, RoundEdges, BevelEdges, Holes, Hollow,
                 DraftFaces, Repeat, CopyBodies, AlongPath, Loft, ShiftFaces, Planned, Opening, BladeStep, BodyCut,
                 Join, Separate, PlaceBodies, Resize, Score, Meeting, Remove>;

/// What is known of a kind without having a step of it.
struct StepKind {
    std::string kind;    ///< in files: "revolve"
    std::string title;   ///< for people: "Extrude"
    std::string summary; ///< one line
};
const std::vector<StepKind>& step_kinds();

/// A definition of the kind with default answers; nullopt for an unknown kind.
std::optional<StepDefinition> make_definition(const std::string& kind);
const StepKind& kind_of(const StepDefinition& definition);
/// What the step is called with the answers that it has: "Extrude cut".
std::string title_of(const StepDefinition& definition);

/// Calls `visit(const FieldInfo&, value)` for every field, in the order of the card.
template <class Visit> void for_each_field(const StepDefinition& definition, Visit&& visit) {
    std::visit([&](const auto& step) { std::decay_t<decltype(step)>::fields(step, visit); }, definition);
}
template <class Visit> void for_each_field(StepDefinition& definition, Visit&& visit) {
    std::visit([&](auto& step) { std::decay_t<decltype(step)>::fields(step, visit); }, definition);
}

struct Field {
    FieldInfo info;
    FieldValue value;
};
/// All fields with their values; `asked_only` leaves out those that the choices hide.
std::vector<Field> fields_of(const StepDefinition& definition, bool asked_only = false);
/// Sets a field by its key; false when there is none of that key and type.
bool set_field(StepDefinition& definition, const std::string& key, const FieldValue& value);

/// What a step reads and writes, from its field list alone. Fields that the choices hide are not read.
struct Dependencies {
    std::set<BodyId> reads;  ///< bodies, those it writes included
    std::set<BodyId> writes; ///< bodies it changes
    std::set<int> sketches;  ///< steps
    std::set<int> sweeps;    ///< steps
    std::set<std::string> parameters;
    std::set<std::string> assets;
    std::set<std::string> measures; ///< parameters that it gives a value
};
Dependencies dependencies_of(const StepDefinition& definition);

/// Whether it divides bodies into pieces whose verdicts can be set.
bool sets_verdicts(const StepDefinition& definition);
/// The sketch step that it asks for first; 0 where it asks for none, or none is chosen.
int sketch_of(const StepDefinition& definition);
/// Whether another step may repeat what it sweeps.
bool sweeps(const StepDefinition& definition);
/// The solids that a cutting step meets, ticked or not: for the list on the card. Slow, so for the card only.
std::vector<BodyId> bodies_met(const StepDefinition& definition, const StepInputs& inputs);

StepOutput evaluate_step(const StepDefinition& definition, const StepInputs& inputs);

} // namespace kervo::model
