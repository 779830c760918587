// Projected curves: curves of a sketch, or edges, cast along a direction onto faces. They follow both.
#pragma once

#include "model/route/step_context.h"

#include <TopoDS_Edge.hxx>

#include <optional>

namespace kervo::model {

struct ProjectedCurves {
    static constexpr const char* kind = "projected_curves";
    static constexpr const char* title = "Projected curves";
    static constexpr const char* summary = "Projects curves onto faces: they meet these once or several times, and the "
                                           "hits that are wanted are curves on the faces.";

    Choice source{"sketch"};
    SketchLink sketch;
    References edges;
    References onto;
    Choice direction{"behind"};
    References along;
    Expression along_x{"0"}, along_y{"0"}, along_z{"-1"};
    Choice hits{"near"};
    Expression number{"1"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("source", "Projected", Q::source, "What is projected.")
                  .one_of({{"sketch", "All curves of a sketch"}, {"edges", "Edges"}}),
              self.source);
        visit(FieldInfo("sketch", "Sketch", Q::source, "The sketch whose curves are projected, guides left out.")
                  .when("source", {"sketch"}),
              self.sketch);
        visit(FieldInfo("edges", "Edges", Q::source, "Edges and curves of any body.")
                  .picks({ElementKind::edge})
                  .several()
                  .by_marker()
                  .when("source", {"edges"}),
              self.edges);
        visit(FieldInfo("onto", "Onto", Q::place, "Bodies and faces that they are projected onto.")
                  .picks({ElementKind::body, ElementKind::face})
                  .several(),
              self.onto);
        visit(FieldInfo("direction", "Direction", Q::place, "Which way they go.")
                  .one_of({{"behind", "Behind the sketch"},
                           {"before", "In front of the sketch"},
                           {"element", "Along an edge or square to a face"},
                           {"against", "The other way along it"},
                           {"numbers", "By numbers"}}),
              self.direction);
        visit(FieldInfo("along", "Follows", Q::place, "The direction follows it.")
                  .picks({ElementKind::edge, ElementKind::face})
                  .when("direction", {"element", "against"}),
              self.along);
        const auto part = [&](const char* field, const char* label, auto& value) {
            visit(FieldInfo(field, label, Q::place, "Of the direction; only the ratio of the three counts.")
                      .number()
                      .when("direction", {"numbers"}),
                  value);
        };
        part("along_x", "Along x", self.along_x);
        part("along_y", "Along y", self.along_y);
        part("along_z", "Along z", self.along_z);
        visit(FieldInfo("hits", "Hits", Q::what_stays, "Which of the places that they meet on their way.")
                  .one_of({{"near", "The nearest"},
                           {"far", "The farthest"},
                           {"number", "One by its number"},
                           {"all", "All of them"}}),
              self.hits);
        visit(FieldInfo("number", "Number", Q::what_stays, "Counted from near to far, from 1.")
                  .number()
                  .when("hits", {"number"}),
              self.number);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const ProjectedCurves&, const ProjectedCurves&) = default;

private:
    struct Sources;
    [[nodiscard]] Sources sources(Answers& answers) const;
    [[nodiscard]] std::optional<gp_Dir> way(const gp_Ax3& frame, Answers& answers) const;
};

} // namespace kervo::model
