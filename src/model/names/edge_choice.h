// Which edges of bodies are worked on, shared by rounds and bevels.
#pragma once

#include "geom/alter/blend.h"
#include "model/names/altering.h"
#include "model/route/step_context.h"

namespace kervo::model {

struct EdgeChoice {
    Choice by{"picked"};
    References edges;
    References first, second;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        const auto asks = Question::what_is_cut;
        visit(FieldInfo("by", "Edges", asks, "A rule follows when the faces change.")
                  .one_of({{"picked", "Those picked"}, {"between", "All between two kinds of faces"}}),
              self.by);
        visit(FieldInfo("edges", "Picked", asks,
                        "A face means all its edges. Edges that continue one smoothly come along.")
                  .picks({ElementKind::edge, ElementKind::face})
                  .several()
                  .changes_them()
                  .when("by", {"picked"}),
              self.edges);
        visit(FieldInfo("first", "Between", asks, "Faces, with all other parts of them.")
                  .picks({ElementKind::face})
                  .several()
                  .changes_them()
                  .when("by", {"between"}),
              self.first);
        visit(FieldInfo("second", "And", asks, "Other faces, with all other parts of them; none: any face.")
                  .picks({ElementKind::face})
                  .several()
                  .changes_them()
                  .when("by", {"between"}),
              self.second);
    }

    /// Edges of one body, each with the face beside it that was asked for: of the first kind, or picked itself, or else
    /// the one whose name comes first.
    struct OnBody {
        BodyId id;
        BodyPtr body;
        struct Edge {
            TopoDS_Edge edge;
            TopoDS_Face face, other;
        };
        std::vector<Edge> edges;
    };
    /// Findings on the fields "edges", "first" and "second": references that are lost, edges.none.
    std::vector<OnBody> resolve(Answers& answers) const;

    friend bool operator==(const EdgeChoice&, const EdgeChoice&) = default;
};

/// Blends each body by `blend`, and hands the results back; findings go to the field `size`.
void blend_bodies(const std::vector<EdgeChoice::OnBody>& chosen, const std::string& role, const char* size,
                  const std::function<Result<geom::Altered>(const EdgeChoice::OnBody&)>& blend,
                  const StepInputs& inputs, StepOutput& output, Answers& answers);

} // namespace kervo::model
