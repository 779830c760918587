// Blade: a plane that cuts bodies, endless or bounded, with a kerf; or that waits for later steps.
#pragma once

#include "model/cutting/blade_plane.h"
#include "model/cutting/cutters.h"

namespace kervo::model {

struct BladeStep {
    static constexpr const char* kind = "blade";
    static constexpr const char* title = "Blade";
    static constexpr const char* cut_title = "Blade cut";
    static constexpr const char* summary =
        "Cuts bodies with a plane that follows what it is made from; or makes one that later steps cut with.";

    Choice result{"cut"};
    References workpieces;
    Spared spared;
    BladePlane plane;
    References more;
    Choice bounds{"endless"};
    Expression width{"100 mm"}, height{"100 mm"}, middle_x{"0 mm"}, middle_y{"0 mm"};
    SketchLink sketch;
    RegionReferences regions;
    Expression kerf{"0 mm"};
    Choice kerf_lies{"centred"};
    Choice keeps{"both"};
    VerdictRules verdicts;

    [[nodiscard]] bool cuts() const { return result.value == "cut"; }

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("result", "Result", Q::what_is_cut, "Whether it cuts at once.")
                  .one_of({{"cut", "Cuts bodies"}, {"blade", "A blade for later steps"}}),
              self.result);
        visit(FieldInfo("workpieces", "Workpieces", Q::what_is_cut, "Only the bodies that are ticked are cut.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them()
                  .when("result", {"cut"}),
              self.workpieces);
        Spared::fields(self.spared, visit, {{"result", {"cut"}}});
        BladePlane::fields(self.plane, visit);
        visit(FieldInfo("more", "More blades", Q::what_cuts_it, "Blades of earlier steps that cut with it.")
                  .picks({ElementKind::body})
                  .one_by_one()
                  .when("result", {"cut"}),
              self.more);
        visit(FieldInfo("bounds", "Bounds", Q::how_far, "How far the blade reaches in its plane.")
                  .one_of({{"endless", "Endless"}, {"rectangle", "A rectangle"}, {"regions", "Regions of a sketch"}}),
              self.bounds);
        visit(FieldInfo("width", "Width", Q::how_far, "Along x of the blade.").length().when("bounds", {"rectangle"}),
              self.width);
        visit(FieldInfo("height", "Height", Q::how_far, "Along y of the blade.").length().when("bounds", {"rectangle"}),
              self.height);
        visit(FieldInfo("middle_x", "Middle x", Q::how_far, "From the origin of the blade.")
                  .length()
                  .when("bounds", {"rectangle"}),
              self.middle_x);
        visit(FieldInfo("middle_y", "Middle y", Q::how_far, "From the origin of the blade.")
                  .length()
                  .when("bounds", {"rectangle"}),
              self.middle_y);
        visit(FieldInfo("sketch", "Sketch", Q::how_far, "It lies parallel to the blade.").when("bounds", {"regions"}),
              self.sketch);
        visit(FieldInfo("regions", "Regions", Q::how_far, "The blade cuts within them.").when("bounds", {"regions"}),
              self.regions);
        visit(FieldInfo("kerf", "Kerf", Q::how_far, "The width of material that is lost; zero or more.").length(),
              self.kerf);
        visit(FieldInfo("kerf_lies", "Kerf lies", Q::how_far, "On which side of the blade the material is lost.")
                  .one_of({{"centred", "On both sides alike"}, {"front", "In front of it"}, {"back", "Behind it"}})
                  .folds(),
              self.kerf_lies);
        visit(FieldInfo("keeps", "Stays", Q::what_stays, "Of bodies that are cut.")
                  .one_of(sides_of_a_blade())
                  .when("result", {"cut"}),
              self.keeps);
        visit(FieldInfo("verdicts", "Verdicts", Q::what_stays, "What becomes of each piece.").when("result", {"cut"}),
              self.verdicts);
    }

    /// What divides the bodies.
    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    friend bool operator==(const BladeStep&, const BladeStep&) = default;

private:
    [[nodiscard]] std::optional<geom::Blade> blade(Answers& answers, StepOutput& output) const;
    [[nodiscard]] std::vector<TopoDS_Shape> window(const gp_Ax3& frame, Answers& answers, StepOutput& output) const;
    [[nodiscard]] std::optional<CutterList> list(const std::vector<BodyPtr>& bodies, Answers& answers,
                                                 StepOutput& output) const;
};

} // namespace kervo::model
