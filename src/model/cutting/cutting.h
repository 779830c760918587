// What every step that cuts with swept regions does: divide the workpieces into pieces, tell them apart, apply the
// verdicts; and what steps do that add with them.
#pragma once

#include "model/cutting/extent.h"

namespace kervo::model {

/// How a cut is to be read.
struct CutRules {
    // NOLINTNEXTLINE(google-explicit-constructor)
    CutRules(Keeps keeps_by_default = Keeps::outside) : keeps(keeps_by_default) {}

    Keeps keeps;
    SidesOfCutters sides = {};                ///< of the cutters that are no plain ones
    std::optional<Verdict> all_become = {};   ///< by default, whatever cuts
    bool grow_together = true;                ///< pieces of one body that stay and touch become one lump again
    bool trims = false;                       ///< it is as it should be that a closed surface is open then
    bool can_go_on = false;                   ///< curves that end within a face may be asked to reach its border
    bool by_each_other = false;               ///< workpieces are among the cutters, under their ids
    std::optional<Offer> short_is_meant = {}; ///< a solid that ends inside is worth a warning, which offers this
    References united = {};                   ///< bodies that are united with what stays of the first workpiece
    const char* cutters_field = "regions";    ///< where findings about the cutters belong
};

/// Divides the bodies by the cutters (where there are none, into their lumps) and keeps what the verdicts say. Findings
/// on the fields "workpieces", "verdicts" and that of the cutters; where there is an error, nothing has been cut.
void cut_bodies(const std::vector<BodyPtr>& bodies, const std::vector<SweptRegion>& cutters,
                const VerdictRules& verdicts, const CutRules& rules, const StepInputs& inputs, StepOutput& output,
                Answers& answers);

/// Unites what was made to a new body (`unite_with` null) or with the body that is referred to. Finding on the field
/// "unite_with": extrude.no_body, and why it does not unite.
void add_bodies(const std::vector<SweptRegion>& made, const References* unite_with, const StepInputs& inputs,
                StepOutput& output, Answers& answers);

/// Makes a surface of what was made: of solids united the skin without the ends where their sweep begins and stops.
void add_surface(const std::vector<SweptRegion>& made, const StepInputs& inputs, StepOutput& output, Answers& answers);

/// `wanted`, or where the step has such a body already, that with a number behind.
BodyId free_id(const BodyId& wanted, const StepOutput& output);

/// Where lumps of what was united do not hang together: the finding that says so, and how far they are apart. Empty
/// where all do. `wanted_lumps`: so many are as they should be.
std::optional<Finding> lies_apart(const TopoDS_Shape& united, size_t wanted_lumps, Severity severity);

/// The bodies that the cutters meet, by an exact test of each; of curves only those that are `changed`.
std::vector<BodyId> bodies_met(const std::vector<SweptRegion>& cutters, const std::map<BodyId, BodyPtr>& bodies,
                               const std::set<BodyId>& changed = {});

} // namespace kervo::model
