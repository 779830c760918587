// Stock: a simple solid or a flat surface by number, placed by number.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Stock {
    static constexpr const char* kind = "stock";
    static constexpr const char* title = "Stock";
    static constexpr const char* summary = "Makes a box, cylinder, sphere, cone, ring or flat rectangle by number.";

    Choice shape{"box"};
    Expression width{"100 mm"}, depth{"60 mm"}, height{"20 mm"}, diameter{"40 mm"}, top_diameter{"20 mm"},
        tube{"10 mm"};
    Expression x{"0 mm"}, y{"0 mm"}, z{"0 mm"}, turn_x{"0 deg"}, turn_y{"0 deg"}, turn_z{"0 deg"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("shape", "Shape", Q::size, "Which simple body it is.")
                  .one_of({{"box", "Box"},
                           {"cylinder", "Cylinder"},
                           {"sphere", "Sphere"},
                           {"cone", "Cone"},
                           {"ring", "Ring"},
                           {"rectangle", "Flat rectangle"}}),
              self.shape);
        visit(FieldInfo("width", "Width", Q::size, "Along x.").length().when("shape", {"box", "rectangle"}),
              self.width);
        visit(FieldInfo("depth", "Depth", Q::size, "Along y.").length().when("shape", {"box", "rectangle"}),
              self.depth);
        visit(FieldInfo("diameter", "Diameter", Q::size,
                        "Of a cone: at the bottom; 0 makes a tip. Of a ring: of the circle in its middle.")
                  .length()
                  .when("shape", {"cylinder", "sphere", "cone", "ring"}),
              self.diameter);
        visit(FieldInfo("tube", "Tube", Q::size, "How thick the ring is.").length().when("shape", {"ring"}), self.tube);
        visit(FieldInfo("top_diameter", "Top diameter", Q::size, "0 makes a tip.").length().when("shape", {"cone"}),
              self.top_diameter);
        visit(FieldInfo("height", "Height", Q::size, "Along z.").length().when("shape", {"box", "cylinder", "cone"}),
              self.height);
        visit(FieldInfo("x", "x", Q::place, "Where the middle of its bottom stands.").length(), self.x);
        visit(FieldInfo("y", "y", Q::place, "Where the middle of its bottom stands.").length(), self.y);
        visit(FieldInfo("z", "z", Q::place, "Where the middle of its bottom stands.").length(), self.z);
        visit(FieldInfo("turn_x", "Turn about x", Q::place, "Turned about x first, then y, then z.").angle(),
              self.turn_x);
        visit(FieldInfo("turn_y", "Turn about y", Q::place, "Turned about x first, then y, then z.").angle(),
              self.turn_y);
        visit(FieldInfo("turn_z", "Turn about z", Q::place, "Turned about x first, then y, then z.").angle(),
              self.turn_z);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Stock&, const Stock&) = default;
};

} // namespace kervo::model
