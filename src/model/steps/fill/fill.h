// Fill: a surface in a closed border.
#pragma once

#include "model/route/step_context.h"

#include "geom/surface/border_side.h"

#include <vector>

namespace kervo::model {

struct Fill {
    static constexpr const char* kind = "fill";
    static constexpr const char* title = "Fill";
    static constexpr const char* summary =
        "Spans a surface in a closed border, of edges of one body or several; tangent "
        "to the faces beside it, or only touching them.";

    References border;
    Choice takes{"whole"};
    Choice meets{"tangent"};
    Expression firmly{"1"};
    Choice result{"sewn"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("border", "Border", Q::source, "An edge of the border, or all of them.")
                  .picks({ElementKind::edge})
                  .several()
                  .changes_them(self.result.value == "sewn"),
              self.border);
        visit(FieldInfo("takes", "Takes", Q::source, "What is picked may stand for the whole border.")
                  .one_of({{"whole", "The whole border"}, {"picked", "The edges picked"}})
                  .folds(),
              self.takes);
        visit(FieldInfo("meets", "Meets", Q::size, "How it meets the faces beside it.")
                  .one_of({{"tangent", "Tangent"}, {"touching", "It only touches"}}),
              self.meets);
        visit(FieldInfo("firmly", "Firmness", Q::size, "How long it keeps that direction; 1 is usual.")
                  .number()
                  .beside()
                  .when("meets", {"tangent"}),
              self.firmly);
        visit(FieldInfo("result", "It is", Q::what_stays, "What becomes of it.")
                  .one_of({{"sewn", "Sewn to the surfaces"}, {"apart", "A surface of its own"}}),
              self.result);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Fill&, const Fill&) = default;

private:
    [[nodiscard]] std::vector<geom::BorderSide> edges(Answers& answers, std::vector<BodyId>& bodies) const;
};

} // namespace kervo::model
