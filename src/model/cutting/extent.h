// How far a profile is swept.
#pragma once

#include "model/cutting/chosen_regions.h"
#include "model/route/step_context.h"

#include <algorithm>

namespace kervo::model {

struct Extent {
    Choice from{"plane"};
    Expression from_offset{"0 mm"};
    References from_face;
    Choice to{"distance"};
    Choice way{"ahead"};
    Expression distance{"10 mm"}, back_distance{"10 mm"};
    References to_face, to_vertex, to_body;
    Expression to_offset{"0 mm"};
    Expression walls{"1"};
    Expression taper{"0 deg"}, back_taper{"0 deg"};
    Choice direction{"square"};
    References along;
    Expression lean{"15 deg"}, lean_towards{"0 deg"};

    /// What a cut starts out with: from the sketch plane through everything behind it.
    static Extent everything_behind() {
        Extent extent;
        extent.to.value = "everything";
        extent.way.value = "back";
        return extent;
    }

    /// The ends that refer to the bodies that it meets.
    static std::vector<std::string> ends_at_bodies() { return {"everything", "everything_both", "next_face", "walls"}; }
    [[nodiscard]] bool ends_at_some_body() const {
        const auto ends = ends_at_bodies();
        return std::find(ends.begin(), ends.end(), to.value) != ends.end();
    }

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        const auto how_far = Question::how_far;
        visit(FieldInfo("from", "From", how_far, "Where it begins.")
                  .one_of({{"plane", "The sketch plane"}, {"offset", "An offset"}, {"face", "A face"}})
                  .folds(),
              self.from);
        visit(FieldInfo("from_face", "From face", how_far, "It follows this face.")
                  .picks({ElementKind::face})
                  .when("from", {"face"}),
              self.from_face);
        visit(FieldInfo("from_offset", "From offset", how_far, "Along the normal of the sketch.")
                  .length()
                  .beside()
                  .when("from", {"offset", "face"}),
              self.from_offset);
        visit(FieldInfo("to", "To", how_far, "Where it ends.")
                  .one_of({{"distance", "A distance"},
                           {"symmetric", "Both ways, symmetric"},
                           {"two_distances", "Both ways, two distances"},
                           {"everything", "Everything"},
                           {"everything_both", "Everything, both ways"},
                           {"next_face", "The next face"},
                           {"walls", "So many walls"},
                           {"face", "A face, extended"},
                           {"body", "A body"},
                           {"vertex", "A vertex"}}),
              self.to);
        visit(FieldInfo("distance", "Distance", how_far, "Symmetric: the whole length.")
                  .length()
                  .beside()
                  .when("to", {"distance", "symmetric", "two_distances"}),
              self.distance);
        visit(FieldInfo("walls", "Walls", how_far, "It ends in the open behind the last; bodies that touch are one.")
                  .number()
                  .beside()
                  .when("to", {"walls"}),
              self.walls);
        visit(FieldInfo("way", "Way", how_far, "Ahead is where the sketch looks; back is into the face it lies on.")
                  .one_of({{"ahead", "Ahead"}, {"back", "Back"}})
                  .when("to", {"distance", "two_distances", "everything", "next_face", "walls", "body"})
                  .folds(),
              self.way);
        visit(
            FieldInfo("back_distance", "Other way", how_far, "Against the way.").length().when("to", {"two_distances"}),
            self.back_distance);
        visit(
            FieldInfo("to_face", "To face", how_far, "It ends on this face as far as its surface goes, and follows it.")
                .picks({ElementKind::face})
                .when("to", {"face"}),
            self.to_face);
        visit(FieldInfo("to_body", "To body", how_far, "It ends where it meets this body, in the body's own shape.")
                  .picks({ElementKind::body})
                  .when("to", {"body"}),
              self.to_body);
        visit(FieldInfo("to_vertex", "To vertex", how_far, "It ends at the height of this vertex.")
                  .picks({ElementKind::vertex})
                  .when("to", {"vertex"}),
              self.to_vertex);
        visit(FieldInfo("to_offset", "To offset", how_far, "Beyond that end, along the normal of the sketch.")
                  .length()
                  .when("to", {"face", "vertex", "next_face", "body"}),
              self.to_offset);
        visit(FieldInfo("direction", "Direction", how_far, "Which way the regions are swept.")
                  .one_of({{"square", "Square to the sketch"},
                           {"element", "Along an edge or axis"},
                           {"leaning", "Leaning by an angle"}})
                  .folds(),
              self.direction);
        visit(FieldInfo("along", "Follows", how_far, "The direction follows it.")
                  .picks({ElementKind::edge, ElementKind::face})
                  .when("direction", {"element"}),
              self.along);
        visit(FieldInfo("lean", "Lean", how_far, "Away from the normal of the sketch.")
                  .angle()
                  .when("direction", {"leaning"}),
              self.lean);
        visit(FieldInfo("lean_towards", "Towards", how_far, "In the sketch: from its x-axis, counterclockwise.")
                  .angle()
                  .when("direction", {"leaning"}),
              self.lean_towards);
        visit(FieldInfo("taper", "Taper", how_far, "By which its sides lean inwards from where it begins.")
                  .angle()
                  .when("direction", {"square"})
                  .folds(),
              self.taper);
        visit(FieldInfo("back_taper", "Other taper", how_far, "By which the sides lean there.")
                  .angle()
                  .beside()
                  .when("direction", {"square"})
                  .when("to", {"symmetric", "two_distances", "everything_both"})
                  .folds(),
              self.back_taper);
    }

    friend bool operator==(const Extent&, const Extent&) = default;
};

/// Heights over the frame between which all of the bodies lie: (lowest, highest), mm; (inf, -inf) of none.
std::pair<double, double> heights_of(const gp_Ax3& frame, const std::vector<BodyPtr>& bodies,
                                     const gp_Trsf& moved = {});
/// Heights over the frame between which all of the bodies lie, with a millimetre or two to spare: (lowest, highest),
/// whole millimetres.
std::pair<double, double> heights_over(const gp_Ax3& frame, const std::vector<BodyPtr>& bodies,
                                       const gp_Trsf& moved = {});

/// Sweeps each profile over the extent, seen from its own sketch; one with a distance of its own so far. `bodies` are
/// what "everything" and "the next face" refer to. The depth by number is handed back in `output` as a dimension of the
/// first profile.
std::vector<SweptRegion> sweep_profiles(const Extent& extent, const std::vector<Profile>& profiles,
                                        const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output);

/// The same of chains of curves, each to a surface. It ends square to its way. Finding: extent.curves_end.
std::vector<SweptRegion> sweep_curves(const Extent& extent, const gp_Ax3& frame, const std::vector<CurveChain>& chains,
                                      const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output);

} // namespace kervo::model
