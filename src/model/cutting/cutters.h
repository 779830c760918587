// Bodies and blades as cutters.
#pragma once

#include "geom/cut/blade.h"
#include "model/cutting/cutting.h"
#include "model/cutting/reaching.h"

namespace kervo::model {

/// Which side of a blade stays; of both, what is in front becomes bodies of their own.
std::vector<FieldOption> sides_of_a_blade();
Sides sides_kept(const Choice& keeps);

class CutterList {
public:
    /// `met`: what will be cut; blades are made to reach beyond it.
    CutterList(const std::vector<BodyPtr>& met, const Choice& blades_keep);

    /// A solid, a surface or a blade; curves chain by chain, each called after the first of its names.
    void add(const BodyId& id, const Body& body);
    /// All of the chosen cutters, with findings on "cutters": what is not there, blades that do not reach.
    void add_chosen(const References& chosen, Answers& answers, StepOutput& output);
    /// Whether some are plain: solids, in which something lies or does not.
    [[nodiscard]] bool has_solids() const;
    /// `name` stands in the names of the faces that it makes; empty for the step's own blade.
    void add_blade(const std::string& key, const geom::Blade& blade, const std::string& name);

    std::vector<SweptRegion> cutters;
    SidesOfCutters sides; ///< of blades and surfaces

private:
    void add_curves(const BodyId& id, const Body& body);

    std::vector<BodyPtr> met_;
    geom::Box box_; ///< around what will be cut
    Sides blades_;
};

/// Chosen cutters that are no blades are gone after the step.
void use_up(const References& chosen, const Answers& answers, StepOutput& output);

/// Solids around which a cut passes: what is in them stays, whatever cuts.
struct Spared {
    References bodies;
    Choice are{"alone"};

    template <class Self, class Visit>
    static void fields(Self& self, Visit&& visit, const std::vector<FieldInfo::Condition>& when = {}) {
        visit(FieldInfo("spared", "Spared", Question::what_is_cut,
                        "Bodies around which the cut passes: what is in them stays.")
                  .picks({ElementKind::body})
                  .one_by_one()
                  .uses_them_up(self.are.value == "united")
                  .when(when)
                  .folds(),
              self.bodies);
        visit(FieldInfo("spared_are", "Spared ones", Question::what_is_cut, "What becomes of them.")
                  .one_of({{"alone", "Stay as they are"}, {"united", "Are united with the first workpiece"}})
                  .unless(self.bodies.empty())
                  .when(when)
                  .folds(),
              self.are);
    }

    /// Adds them to what cuts, and to the rules. Findings on "spared": cut.spared (no solid), cut.itself (it is one of
    /// `others`, which are workpieces or cutters).
    void add(const std::vector<const References*>& others, Answers& answers, std::vector<SweptRegion>& cutters,
             CutRules& rules) const;
    friend bool operator==(const Spared&, const Spared&) = default;
};

/// Where a bounded blade ends inside the material of one of the bodies: an error on the field for each place, the first
/// of which offers what would do. `step`: the one whose answers bound it; 0: this one.
void check_reach(const geom::Blade& blade, const std::vector<BodyPtr>& bodies, const char* field, int step,
                 Answers& answers);

} // namespace kervo::model
