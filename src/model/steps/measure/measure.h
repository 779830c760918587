// Measure: a length, distance, angle, area, volume or mass of the model as a parameter for later steps.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Measure {
    static constexpr const char* kind = "measure";
    static constexpr const char* title = "Measure";
    static constexpr const char* summary = "Measures the model as it is here, for the formulas of later steps.";

    Choice what{"length"};
    Choice differs{"angle"};
    References seam;
    References edge, from, to, first, second, face, body;
    Expression density{"7.85"};
    ParameterName parameter{"measured"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        using K = ElementKind;
        visit(FieldInfo("what", "What", Q::measured, "What is measured.")
                  .one_of({{"length", "A length"},
                           {"distance", "A distance"},
                           {"angle", "An angle"},
                           {"area", "An area"},
                           {"volume", "A volume"},
                           {"mass", "A mass"},
                           {"continuity", "How faces meet"}}),
              self.what);
        visit(FieldInfo("seam", "Along", Q::measured, "An edge between two faces.")
                  .picks({K::edge})
                  .when("what", {"continuity"}),
              self.seam);
        visit(FieldInfo("differs", "Value", Q::measured, "Which of the three the parameter gets; all are told.")
                  .one_of({{"angle", "The angle between them"},
                           {"gap", "The gap between them"},
                           {"bend", "How curvatures differ, by mm"}})
                  .when("what", {"continuity"}),
              self.differs);
        visit(FieldInfo("edge", "Edge", Q::measured, "The edge whose length is measured.")
                  .picks({K::edge})
                  .when("what", {"length"}),
              self.edge);
        visit(FieldInfo("from", "From", Q::measured, "Where the shortest distance starts.")
                  .picks({K::face, K::edge, K::vertex})
                  .when("what", {"distance"}),
              self.from);
        visit(FieldInfo("to", "To", Q::measured, "Where the shortest distance ends.")
                  .picks({K::face, K::edge, K::vertex})
                  .when("what", {"distance"}),
              self.to);
        visit(FieldInfo("first", "Between", Q::measured, "A flat face or a straight edge.")
                  .picks({K::face, K::edge})
                  .when("what", {"angle"}),
              self.first);
        visit(FieldInfo("second", "And", Q::measured, "Another flat face or straight edge.")
                  .picks({K::face, K::edge})
                  .when("what", {"angle"}),
              self.second);
        visit(FieldInfo("face", "Face", Q::measured, "The face whose area is measured.")
                  .picks({K::face})
                  .when("what", {"area"}),
              self.face);
        visit(FieldInfo("body", "Body", Q::measured, "The body that is measured.")
                  .picks({K::body})
                  .when("what", {"volume", "mass"}),
              self.body);
        visit(FieldInfo("density", "Density", Q::measured, "In g/cm\u00b3; steel has 7.85. The mass is in grams.")
                  .number()
                  .when("what", {"mass"}),
              self.density);
        visit(FieldInfo("parameter", "Parameter", Q::measured, "The name under which formulas of later steps read it."),
              self.parameter);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Measure&, const Measure&) = default;

private:
    [[nodiscard]] Quantity how_faces_meet(Answers& answers, StepOutput& output) const;
};

} // namespace kervo::model
