// Thicken: surfaces become solids of a thickness, or are shifted by it.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Thicken {
    static constexpr const char* kind = "thicken";
    static constexpr const char* title = "Thicken";
    static constexpr const char* summary =
        "Makes surfaces solids of a thickness, to one side or both; or shifts them by it.";

    References surfaces;
    Choice becomes{"solid"};
    Expression thickness{"2 mm"};
    Choice side{"front"};
    Expression behind{"2 mm"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("surfaces", "Surfaces", Question::what_is_cut, "The surfaces that become solids.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them(),
              self.surfaces);
        visit(FieldInfo("becomes", "Becomes", Question::what_is_cut, "A solid, or the surface as far away as that.")
                  .one_of({{"solid", "A solid"}, {"shifted", "A surface, shifted"}})
                  .folds(),
              self.becomes);
        visit(FieldInfo("side", "Side", Question::size, "Where the material comes, seen from the side it looks to.")
                  .one_of({{"front", "In front"},
                           {"back", "Behind"},
                           {"middle", "Half on each side"},
                           {"both", "Both, by two thicknesses"}}),
              self.side);
        visit(FieldInfo("thickness", "Thickness", Question::size, "Square to the surface.").length(), self.thickness);
        visit(FieldInfo("behind", "Behind", Question::size, "The thickness behind the surface.")
                  .length()
                  .beside()
                  .when("side", {"both"}),
              self.behind);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Thicken&, const Thicken&) = default;
};

} // namespace kervo::model
