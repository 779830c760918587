// A curve in space: through points or by control points, on a face, half-way between two others.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct SpaceCurve {
    static constexpr const char* kind = "space_curve";
    static constexpr const char* title = "Curve in space";
    static constexpr const char* summary = "Makes a curve through points or by control points, on a face, on a line of "
                                           "equal parameter of one, or half-way between two curves.";

    Choice made{"through"};
    Rows rows;
    References taken;
    Expression degree{"3"};
    Choice ends{"open"};
    References face;
    Choice way{"first"};
    Expression share{"0.5"};
    References one, other;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        using K = ElementKind;
        const std::vector<std::string> of_points{"through", "control", "on_face"};
        visit(FieldInfo("made", "Made", Q::drawing, "What the curve is made by.")
                  .one_of({{"through", "Through points"},
                           {"control", "By control points"},
                           {"on_face", "Through points on a face"},
                           {"parameter", "Line of equal parameter"},
                           {"halfway", "Half-way between two"}}),
              self.made);
        visit(FieldInfo("face", "Face", Q::drawing, "The face on which it lies.")
                  .picks({K::face})
                  .when("made", {"on_face", "parameter"}),
              self.face);
        visit(
            FieldInfo("way", "Across", Q::drawing, "Which of the face's two parameters stays the same along the line.")
                .one_of({{"first", "The face's first way"}, {"second", "Its second way"}})
                .when("made", {"parameter"}),
            self.way);
        visit(FieldInfo("share", "At", Q::drawing, "Where on the face: 0 is one border, 1 the other.")
                  .number()
                  .when("made", {"parameter"}),
              self.share);
        visit(FieldInfo("one", "Between", Q::drawing, "An edge or a curve.").picks({K::edge}).when("made", {"halfway"}),
              self.one);
        visit(FieldInfo("other", "And", Q::drawing, "Another one.").picks({K::edge}).when("made", {"halfway"}),
              self.other);
        visit(FieldInfo("rows", "Points", Q::drawing,
                        "Where the points stand, in their order: at x, y, z, from the origin or from a point before.")
                  .length()
                  .one_of({{"point", "Point", true}})
                  .when("made", of_points),
              self.rows);
        visit(FieldInfo("degree", "Degree", Q::drawing,
                        "1 has a corner at each point, 3 is smooth; the higher, the smoother. At most 5.")
                  .number()
                  .when("made", {"through", "control"}),
              self.degree);
        visit(FieldInfo("ends", "Ends", Q::drawing, "Whether it comes back to its first point.")
                  .one_of({{"open", "Open"}, {"closed", "Closed"}})
                  .when("made", of_points),
              self.ends);
        visit(FieldInfo("taken", "From bodies", Q::source,
                        "Vertices of bodies from which points may be measured, each under its name.")
                  .picks({K::vertex})
                  .several()
                  .named()
                  .when("made", of_points),
              self.taken);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const SpaceCurve&, const SpaceCurve&) = default;

private:
    void make_of_points(Answers& answers, StepOutput& output, std::vector<TopoDS_Shape>& edges) const;
    void make_of_others(Answers& answers, std::vector<TopoDS_Shape>& edges) const;
};

} // namespace kervo::model
