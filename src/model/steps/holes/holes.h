// Holes by a shop's terms, at points of a sketch.
#pragma once

#include "model/cutting/purpose.h"

namespace kervo::model {

struct Holes {
    static constexpr const char* kind = "holes";
    static constexpr const char* title = "Holes";
    static constexpr const char* summary = "Drills, counterbores, countersinks and taps holes at points of a sketch.";

    References workpieces;
    Spared spared;
    SketchLink sketch;
    Choice at{"points"};
    Choice shape{"plain"};
    Choice thread{"none"};
    Expression diameter{"6 mm"};
    Expression head_diameter{"11 mm"}, head_depth{"6 mm"};
    Expression sink_diameter{"12 mm"}, sink_angle{"90 deg"};
    Choice to{"through"};
    Expression depth{"15 mm"};
    Choice bottom{"pointed"};
    Expression tip_angle{"118 deg"};
    Choice way{"back"};
    VerdictRules verdicts;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("workpieces", "Workpieces", Q::what_is_cut, "Only the bodies that are ticked are cut.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them(),
              self.workpieces);
        Spared::fields(self.spared, visit);
        visit(FieldInfo("sketch", "Sketch", Q::what_cuts_it,
                        "The sketch whose points say where; holes begin in its "
                        "plane."),
              self.sketch);
        visit(FieldInfo("at", "At", Q::what_cuts_it, "Which of its points.")
                  .one_of({{"points", "Points that stand alone"},
                           {"centers", "Centres of circles and arcs"},
                           {"both", "Both of these"}}),
              self.at);
        visit(FieldInfo("shape", "Shape", Q::what_cuts_it, "How the hole begins.")
                  .one_of({{"plain", "Plain"}, {"counterbored", "Counterbored"}, {"countersunk", "Countersunk"}}),
              self.shape);
        visit(FieldInfo("thread", "Thread", Q::what_cuts_it,
                        "Metric coarse after ISO 261: drilled at the size less the pitch; the thread itself is told in "
                        "reports, and not cut.")
                  .one_of(thread_options()),
              self.thread);
        visit(FieldInfo("diameter", "Diameter", Q::what_cuts_it, "Of the drill.").length().when("thread", {"none"}),
              self.diameter);
        visit(FieldInfo("head_diameter", "Head", Q::what_cuts_it, "Diameter of the counterbore.")
                  .length()
                  .when("shape", {"counterbored"}),
              self.head_diameter);
        visit(FieldInfo("head_depth", "Head depth", Q::what_cuts_it, "From the plane of the sketch to its flat bottom.")
                  .length()
                  .when("shape", {"counterbored"}),
              self.head_depth);
        visit(FieldInfo("sink_diameter", "Sink", Q::what_cuts_it,
                        "Diameter of the countersink in the plane of the sketch.")
                  .length()
                  .when("shape", {"countersunk"}),
              self.sink_diameter);
        visit(FieldInfo("sink_angle", "Sink angle", Q::what_cuts_it, "From side to side of the cone.")
                  .angle()
                  .when("shape", {"countersunk"}),
              self.sink_angle);
        visit(FieldInfo("to", "To", Q::how_far, "Where it ends.")
                  .one_of({{"through", "Through everything"}, {"depth", "A depth"}}),
              self.to);
        visit(FieldInfo("depth", "Depth", Q::how_far, "Of the full diameter, without the tip.")
                  .length()
                  .beside()
                  .when("to", {"depth"}),
              self.depth);
        visit(FieldInfo("bottom", "Bottom", Q::how_far, "What the drill leaves.")
                  .one_of({{"pointed", "Pointed"}, {"flat", "Flat"}})
                  .when("to", {"depth"}),
              self.bottom);
        visit(FieldInfo("tip_angle", "Tip angle", Q::how_far, "From side to side of the point.")
                  .angle()
                  .beside()
                  .when("to", {"depth"})
                  .when("bottom", {"pointed"}),
              self.tip_angle);
        visit(FieldInfo("way", "Way", Q::how_far, "Ahead is where the sketch looks; back is into the face it lies on.")
                  .one_of({{"ahead", "Ahead"}, {"back", "Back"}}),
              self.way);
        visit(FieldInfo("verdicts", "Verdicts", Q::what_stays, "What becomes of each piece."), self.verdicts);
    }

    /// "none", and sizes of metric coarse threads with their pitches.
    static std::vector<FieldOption> thread_options();

    /// One for each hole.
    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Holes&, const Holes&) = default;
};

} // namespace kervo::model
