// Openings: doors, windows, hatches. A step cuts one or a row of them into a wall, with dimensions of their own from
// the wall's borders, and places what stands in them.
#pragma once

#include "model/cutting/cutters.h"

namespace kervo::model {

struct Opening {
    static constexpr const char* kind = "opening";
    static constexpr const char* title = "Opening";
    static constexpr const char* summary =
        "Cuts doors, windows and hatches into a wall, measured from its borders, and places what stands in them.";

    References wall;
    Spared spared;
    Choice shape{"rectangle"};
    Expression width{"1 m"}, height{"1.2 m"};
    References fittings;
    Choice across_from{"left"};
    Expression across{"1 m"};
    Choice up_from{"below"};
    Expression up{"0.9 m"};
    Expression count{"1"}, spacing{"2 m"};
    Choice through{"wall"};
    Expression depth{"100 mm"};
    VerdictRules verdicts;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        const auto shape = Question::what_cuts_it;
        const auto place = Question::how_far;
        visit(FieldInfo("wall", "Wall", Question::what_is_cut, "A flat face of the wall; all is measured on it.")
                  .picks({ElementKind::face})
                  .changes_them(),
              self.wall);
        Spared::fields(self.spared, visit);
        visit(FieldInfo("shape", "Shape", shape, "Of the opening.")
                  .one_of(
                      {{"rectangle", "A rectangle"}, {"arched", "A rectangle with a round head"}, {"round", "Round"}}),
              self.shape);
        visit(FieldInfo("width", "Width", shape, "From side to side; of round ones the diameter.").length(),
              self.width);
        visit(FieldInfo("height", "Height", shape, "From the sill to the head.")
                  .length()
                  .when("shape", {"rectangle", "arched"}),
              self.height);
        visit(FieldInfo(
                  "fittings", "What stands in it", shape,
                  "Bodies at the origin, x along the wall, y into it, z up from the sill; each opening gets a copy.")
                  .picks({ElementKind::body})
                  .several(),
              self.fittings);
        visit(FieldInfo("across_from", "From", place, "Seen from outside: what the distance across is measured from.")
                  .one_of({{"left", "The left border, to its side"},
                           {"right", "The right border, to its side"},
                           {"middle", "The middle, to its middle"}}),
              self.across_from);
        visit(FieldInfo("across", "Across", place, "How far it is from there.").length(), self.across);
        visit(FieldInfo("up_from", "Up from", place, "What the height over the floor is measured from.")
                  .one_of({{"below", "The lower border, to its sill"},
                           {"above", "The upper border, to its head"},
                           {"middle", "The middle, to its middle"}}),
              self.up_from);
        visit(FieldInfo("up", "Sill", place, "How far it is from there; 0 over the lower border is a door.").length(),
              self.up);
        visit(FieldInfo("count", "How many", place, "In a row along the wall.").number(), self.count);
        visit(FieldInfo("spacing", "Spacing", place, "From one to the next.").length(), self.spacing);
        visit(FieldInfo("through", "Through", place, "How deep it goes.")
                  .one_of({{"wall", "This wall only"}, {"depth", "A depth"}}),
              self.through);
        visit(FieldInfo("depth", "Depth", place, "Into the wall.").length().beside().when("through", {"depth"}),
              self.depth);
        visit(FieldInfo("verdicts", "Verdicts", Question::what_stays, "What becomes of each piece."), self.verdicts);
    }

    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Opening&, const Opening&) = default;
};

} // namespace kervo::model
