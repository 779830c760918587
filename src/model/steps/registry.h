// All kinds of steps, and what is asked of a step of any kind.
#pragma once

#include "model/document/step_definition.h"
#include "model/route/step_context.h"

#include <optional>

namespace kervo::model {

/// In the order in which they are listed to people.
const std::vector<StepKind>& step_kinds();
/// Adds a kind from elsewhere. Before any document is read, and by one thread.
void add_step_kind(const StepKind& kind);

/// A definition of the kind with default answers; nullopt for an unknown kind.
std::optional<StepDefinition> make_definition(const std::string& kind);
const StepKind& kind_of(const StepDefinition& definition);
/// What the step is called with the answers that it has: "Extrude cut".
std::string title_of(const StepDefinition& definition);

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
    int as_after = 0;        ///< bodies that it does not change as they were after this step; 0: as they are
    std::set<std::string> parameters;
    std::set<std::string> assets;
    std::set<std::string> measures; ///< parameters that it gives a value

    /// The step after which it sees a body; 0: as it is.
    [[nodiscard]] int sees_after(const BodyId& body) const { return writes.contains(body) ? 0 : as_after; }
};
Dependencies dependencies_of(const StepDefinition& definition);

/// Whether it divides bodies into pieces whose verdicts can be set.
bool sets_verdicts(const StepDefinition& definition);
/// Nobody has changed this answer since the step was begun, by whatever verb.
bool is_as_begun(const StepDefinition& definition, const Field& field);
/// What it draws, where it is a sketch; else null.
const sketch::Sketch* drawing_of(const StepDefinition& definition);
inline bool draws(const StepDefinition& definition) {
    return definition.step().kind().draws;
}
/// The sketch step that it asks for first; 0 where it asks for none, or none is chosen.
int sketch_of(const StepDefinition& definition);
/// Whether another step may repeat what it sweeps.
bool sweeps(const StepDefinition& definition);
/// The solids that a cutting step meets, ticked or not: for the list on the card. Slow, so for the card only.
std::vector<BodyId> bodies_met(const StepDefinition& definition, const StepInputs& inputs);

StepOutput evaluate_step(const StepDefinition& definition, const StepInputs& inputs);

} // namespace kervo::model
