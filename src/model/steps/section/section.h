// Section: where a plane, or a series of planes, passes through bodies, as faces, curves or ribs of a thickness.
#pragma once

#include "model/cutting/blade_plane.h"

namespace kervo::model {

struct SectionStep {
    static constexpr const char* kind = "section";
    static constexpr const char* title = "Section";
    static constexpr const char* summary =
        "Makes flat faces, curves or ribs where a plane, or a series of planes, passes through bodies; these stay as "
        "they are.";

    References bodies;
    BladePlane plane;
    Choice planes{"one"};
    Expression from{"0 mm"}, to{"100 mm"};
    Choice spaced{"count"};
    Expression count{"5"}, spacing{"20 mm"};
    Choice result{"faces"};
    Expression thickness{"2 mm"};
    Choice lies{"centred"};

    SectionStep() { plane.principal.value = "xy"; }

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("bodies", "Bodies", Q::source, "Solids and surfaces through which it passes.")
                  .picks({ElementKind::body})
                  .one_by_one()
                  .by_marker(),
              self.bodies);
        BladePlane::fields(self.plane, visit);
        visit(FieldInfo("planes", "Planes", Q::how_far, "One, or many side by side.")
                  .one_of({{"one", "One"}, {"series", "A series"}}),
              self.planes);
        visit(FieldInfo("from", "From", Q::how_far, "Of the first, in front of the plane above; negative: behind it.")
                  .length()
                  .when("planes", {"series"}),
              self.from);
        visit(FieldInfo("to", "To", Q::how_far, "Where the series ends.").length().when("planes", {"series"}), self.to);
        visit(FieldInfo("spaced", "Spaced", Q::how_far, "By how many there are, or by their distance.")
                  .one_of({{"count", "By number"}, {"spacing", "By distance"}})
                  .when("planes", {"series"}),
              self.spaced);
        visit(FieldInfo("count", "How many", Q::how_far, "The first and the last one included.")
                  .number()
                  .when("planes", {"series"})
                  .when("spaced", {"count"}),
              self.count);
        visit(FieldInfo("spacing", "Distance", Q::how_far, "From one to the next, as long as they fit.")
                  .length()
                  .when("planes", {"series"})
                  .when("spaced", {"spacing"}),
              self.spacing);
        visit(FieldInfo("result", "Becomes", Q::what_stays, "What is made; surfaces make curves in any case.")
                  .one_of({{"faces", "Flat faces"}, {"curves", "Curves"}, {"ribs", "Ribs of a thickness"}}),
              self.result);
        visit(FieldInfo("thickness", "Thickness", Q::size, "Of the ribs, square to the plane.")
                  .length()
                  .when("result", {"ribs"}),
              self.thickness);
        visit(FieldInfo("lies", "It lies", Q::size, "Where a rib lies beside its plane.")
                  .one_of({{"centred", "On both sides alike"}, {"front", "In front of it"}, {"back", "Behind it"}})
                  .when("result", {"ribs"})
                  .folds(),
              self.lies);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const SectionStep&, const SectionStep&) = default;

private:
    /// How far in front of the plane each lies (mm), ascending or descending.
    [[nodiscard]] std::vector<double> heights(Answers& answers) const;
};

} // namespace kervo::model
