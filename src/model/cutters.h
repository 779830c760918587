// Bodies and blades as cutters.
#pragma once

#include "geom/blade.h"
#include "model/cutting.h"

namespace kervo::model {

/// Which side of a blade stays; of both, what is in front becomes bodies of their own.
std::vector<FieldOption> sides_of_a_blade();

class CutterList {
public:
    /// `met`: what will be cut; blades are made to reach beyond it.
    CutterList(const std::vector<BodyPtr>& met, const Choice& blades_keep);

    /// A solid, a surface or a blade.
    void add(const BodyId& id, const Body& body);
    /// `name` stands in the names of the faces that it makes; empty for the step's own blade.
    void add_blade(const std::string& key, const geom::Blade& blade, const std::string& name);

    std::vector<SweptRegion> cutters;
    SidesOfCutters sides; ///< of blades and spared bodies

private:
    geom::Box box_; ///< around what will be cut
    Sides blades_;
    bool meets_something_;
};

/// The question for solids around which a cut passes: what is in them stays.
FieldInfo asks_for_spared();
/// Adds them to what cuts. Findings on "spared": cut.spared (no solid), cut.itself (it is a workpiece).
void add_spared(const References& spared, const References& workpieces, Answers& answers,
                std::vector<SweptRegion>& cutters, SidesOfCutters& sides);

/// Where bounded blades end inside the material of one of the bodies: an error on the field for each place.
void check_reach(const geom::Blade& blade, const std::vector<BodyPtr>& bodies, const char* field, Answers& answers);

} // namespace kervo::model
