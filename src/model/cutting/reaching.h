// Surfaces and curves that cut, and whether they pass through what they cut.
#pragma once

#include "model/cutting/swept_region.h"
#include "model/route/step_context.h"

namespace kervo::model {

/// What is to be done about a surface that ends inside the material.
struct Reaching {
    Choice surfaces{"as_they_are"};

    template <class Self, class Visit>
    static void fields(Self& self, Visit&& visit, const std::vector<FieldInfo::Condition>& when = {}) {
        visit(FieldInfo("surfaces_reach", "Surfaces", Question::how_far,
                        "Those that end inside the material divide nothing, nor do curves that end within a face; they "
                        "can go on straight.")
                  .one_of({{"as_they_are", "As they are"}, {"extended", "Extended until they pass through"}})
                  .when(when)
                  .folds(),
              self.surfaces);
    }

    [[nodiscard]] bool extends() const { return surfaces.value == "extended"; }
    /// The same surface, gone on from each border that ends inside one of the bodies, by so much as is missing there;
    /// itself where none does. Findings: those of `geom::extended_borders`.
    [[nodiscard]] static Result<SweptRegion> reaching(const SweptRegion& surface, const std::vector<BodyPtr>& bodies,
                                                      Progress& progress);
    /// The same for curves that end within faces of the bodies: on to the border. Findings: those of
    /// `geom::gone_on_to_borders`.
    [[nodiscard]] static Result<SweptRegion> curves_reaching(const SweptRegion& curves,
                                                             const std::vector<BodyPtr>& bodies, Progress& progress);
    /// All surfaces and curves among the cutters so, where that is wanted; findings on the field.
    void apply(std::vector<SweptRegion>& cutters, const std::vector<BodyPtr>& bodies, const char* field,
               Answers& answers) const;
    static Offer offer() { return {"Extend just these until they pass through", {{"surfaces_reach", "extended"}}}; }

    friend bool operator==(const Reaching&, const Reaching&) = default;
};

/// Where a surface ends inside the material of a body, an error on the field for each border, with how much is missing;
/// the first offers to extend them. Whether there is any.
bool tell_short_borders(const SweptRegion& surface, const TopoDS_Shape& body, const char* field, Answers& answers);

} // namespace kervo::model
