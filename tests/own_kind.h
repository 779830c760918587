// A kind of step that is none of Kervo's own: a round bar. What it takes to add one is all here.
#pragma once

#include "model/document/step_of.h"
#include "model/steps/registry.h"

#include <BRepPrimAPI_MakeCylinder.hxx>

#include <numbers>

namespace kervo::model {

struct RoundBar {
    static constexpr const char* kind = "round_bar";
    static constexpr const char* title = "Round bar";
    static constexpr const char* summary = "Makes a bar of this diameter, upright or lying.";

    Expression diameter{"10 mm"};
    Expression length{"50 mm"};
    Choice lies{"upright"};
    Expression lift{"5 mm"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("diameter", "Diameter", Question::size, "How thick it is.").length(), self.diameter);
        visit(FieldInfo("length", "Length", Question::size, "How long it is.").length(), self.length);
        visit(FieldInfo("lies", "Lies", Question::place, "How it lies.")
                  .one_of({{"upright", "Upright"}, {"along_x", "Along x"}}),
              self.lies);
        visit(
            FieldInfo("lift", "Lift", Question::place, "How high its middle lies.").length().when("lies", {"along_x"}),
            self.lift);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const {
        StepOutput output;
        Answers answers(inputs, output);
        const double radius = answers.positive("diameter", diameter) / 2;
        const double height = answers.positive("length", length);
        const double up = lies.value == "along_x" ? answers.number("lift", lift, length_dimension) : 0;
        if (answers.ok()) {
            const gp_Ax2 axis = lies.value == "along_x" ? gp_Ax2({0, 0, up}, gp_Dir(1, 0, 0)) : gp_Ax2();
            const BodyId id = std::to_string(inputs.step);
            output.bodies[id] = name_fresh(inputs.step, {BRepPrimAPI_MakeCylinder(axis, radius, height).Shape(), {}});
            output.births.push_back({id, {}, {}});
            output.added = std::numbers::pi * radius * radius * height;
        }
        return output;
    }
    static std::vector<StepVerb> verbs() {
        return {{"round_bar", StepVerb::Group::bring_in, "Round bar", "Makes a round bar by number.", "Ctrl+Alt+B",
                 "Bar", [] { return RoundBar(); }, false, "stock"},
                {"lying_bar", StepVerb::Group::bring_in, "Lying bar", "Makes a bar that lies.", "", "Lying bar", [] {
                     RoundBar bar;
                     bar.lies.value = "along_x";
                     return bar;
                 }}};
    }
    friend bool operator==(const RoundBar&, const RoundBar&) = default;
};

template struct StepOf<RoundBar>;

} // namespace kervo::model
