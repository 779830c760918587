// Resize: bodies made larger or smaller.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Resize {
    static constexpr const char* kind = "resize";
    static constexpr const char* title = "Resize";
    static constexpr const char* summary = "Makes bodies larger or smaller: by a factor, by one for each axis, or to a "
                                           "wanted size.";

    References bodies;
    Choice by{"factor"};
    Expression factor{"2"}, factor_x{"1"}, factor_y{"1"}, factor_z{"1"};
    Choice along{"x"};
    Expression size{"100 mm"};
    Choice others{"same"};
    Choice about{"middle"};
    References point;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("bodies", "Bodies", Q::source, "The bodies that are resized, each in itself.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them(),
              self.bodies);
        visit(FieldInfo("by", "Resized", Q::size, "How.")
                  .one_of({{"factor", "By a factor"}, {"axes", "By a factor for each axis"}, {"size", "To a size"}}),
              self.by);
        visit(FieldInfo("factor", "Factor", Q::size, "Above zero.").number().when("by", {"factor"}), self.factor);
        visit(FieldInfo("factor_x", "Along x", Q::size, "Above zero.").number().when("by", {"axes"}), self.factor_x);
        visit(FieldInfo("factor_y", "Along y", Q::size, "Above zero.").number().when("by", {"axes"}), self.factor_y);
        visit(FieldInfo("factor_z", "Along z", Q::size, "Above zero.").number().when("by", {"axes"}), self.factor_z);
        visit(FieldInfo("size", "Size", Q::size, "The wanted size of the box around it.").length().when("by", {"size"}),
              self.size);
        visit(FieldInfo("along", "Along", Q::size, "The axis along which it has that size.")
                  .one_of({{"x", "x"}, {"y", "y"}, {"z", "z"}})
                  .when("by", {"size"}),
              self.along);
        visit(FieldInfo("others", "The others", Q::size, "What happens along the other axes.")
                  .one_of({{"same", "Go along"}, {"kept", "Stay"}})
                  .when("by", {"size"}),
              self.others);
        visit(FieldInfo("about", "About", Q::place, "The place that stays where it is.")
                  .one_of({{"middle", "Its middle"},
                           {"foot", "The middle of its foot"},
                           {"origin", "The origin"},
                           {"point", "A point"}}),
              self.about);
        visit(FieldInfo("point", "Point", Q::place, "A vertex.").picks({ElementKind::vertex}).when("about", {"point"}),
              self.point);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Resize&, const Resize&) = default;

private:
    [[nodiscard]] std::array<double, 3> factors(const std::array<double, 6>& box, Answers& answers) const;
};

} // namespace kervo::model
