// Separate: bodies taken apart into their lumps, which stay, go, or become bodies, or into their faces.
#pragma once

#include "model/cutting/cutting.h"

namespace kervo::model {

struct Separate {
    static constexpr const char* kind = "separate";
    static constexpr const char* title = "Separate";
    static constexpr const char* summary =
        "Takes bodies apart into their lumps, or drops some of them; or into their faces.";

    References workpieces;
    Choice into{"lumps"};
    Choice lumps{"apart"};
    VerdictRules verdicts;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("workpieces", "Bodies", Question::what_is_cut, "The bodies that are taken apart.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them(),
              self.workpieces);
        visit(FieldInfo("into", "Into", Question::what_is_cut, "What they fall into.")
                  .one_of({{"lumps", "Their lumps"}, {"faces", "Their faces, each a surface"}})
                  .folds(),
              self.into);
        visit(FieldInfo("lumps", "Lumps", Question::what_stays, "What becomes of those without a verdict.")
                  .one_of({{"apart", "Each becomes a body"}, {"stays", "Stay in their body"}})
                  .when("into", {"lumps"}),
              self.lumps);
        visit(FieldInfo("verdicts", "Verdicts", Question::what_stays, "What becomes of each lump.")
                  .when("into", {"lumps"}),
              self.verdicts);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Separate&, const Separate&) = default;
};

} // namespace kervo::model
