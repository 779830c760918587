// A curve in space: through points or by control points, on a face, or made of other curves.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct SpaceCurve {
    static constexpr const char* kind = "space_curve";
    static constexpr const char* title = "Curve in space";
    static constexpr const char* summary =
        "Makes a curve through points or by control points, on a face, beside others "
        "on one, half-way between two, or of others joined or made longer.";

    Choice made{"through"};
    Rows rows;
    References taken;
    Expression degree{"3"};
    Choice ends{"open"};
    References face;
    Choice way{"first"};
    Expression share{"0.5"};
    References one, other;
    References curves;
    Expression away{"10 mm"};
    Choice corners{"kept"};
    Expression reach{"5 mm"};
    Choice closing{"none"};
    Expression first_by{"10 mm"}, last_by{"0 mm"};
    Choice goes_on{"straight"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        using K = ElementKind;
        const std::vector<std::string> of_points{"through", "control", "on_face", "shortest"};
        visit(FieldInfo("made", "Made", Q::drawing, "What the curve is made by.")
                  .one_of({{"through", "Through points"},
                           {"control", "By control points"},
                           {"on_face", "Through points on a face"},
                           {"shortest", "Shortest on a face"},
                           {"beside", "Beside curves on a face"},
                           {"parameter", "Line of equal parameter"},
                           {"halfway", "Half-way between two"},
                           {"joined", "Curves joined"},
                           {"longer", "A curve made longer"}}),
              self.made);
        visit(FieldInfo("face", "Face", Q::drawing, "The face on which it lies.")
                  .picks({K::face})
                  .when("made", {"on_face", "shortest", "beside", "parameter"}),
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
        visit(FieldInfo("curves", "Curves", Q::drawing, "Edges and curves of any body.")
                  .picks({K::edge})
                  .several()
                  .by_marker()
                  .when("made", {"beside", "joined", "longer"}),
              self.curves);
        visit(FieldInfo("away", "Away", Q::drawing,
                        "On the face: from a border into it, else to the left of the curve; below zero the other way.")
                  .length()
                  .when("made", {"beside"}),
              self.away);
        visit(FieldInfo("corners", "Corners", Q::drawing, "Where two of the curves meet at an angle.")
                  .one_of({{"kept", "Kept"}, {"rounded", "Rounded"}})
                  .when("made", {"joined"}),
              self.corners);
        visit(FieldInfo("reach", "Reach", Q::drawing, "How much of each curve gives way at a corner.")
                  .length()
                  .when({{"made", {"joined"}}, {"corners", {"rounded"}}}),
              self.reach);
        visit(FieldInfo("closing", "Closed", Q::drawing, "Whether it comes back from its end to its start.")
                  .one_of({{"none", "Left as it is"}, {"straight", "By a straight line"}, {"smooth", "Smoothly"}})
                  .when("made", {"joined"}),
              self.closing);
        visit(FieldInfo("first_by", "First end", Q::drawing,
                        "Longer by so much at its end with the smaller x, or y, or z; below zero shorter.")
                  .length()
                  .when("made", {"longer"}),
              self.first_by);
        visit(FieldInfo("last_by", "Other end", Q::drawing, "Longer by so much at its other end; below zero shorter.")
                  .length()
                  .when("made", {"longer"}),
              self.last_by);
        visit(FieldInfo("goes_on", "Runs", Q::drawing, "How it goes on beyond its ends.")
                  .one_of({{"straight", "Straight"}, {"round", "With the bend that it has"}})
                  .when("made", {"longer"}),
              self.goes_on);
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
    // What they make is edges; what they cannot make is told.
    void make_of_points(Answers& answers, StepOutput& output, std::vector<TopoDS_Shape>& edges) const;
    void make_halfway(Answers& answers, std::vector<TopoDS_Shape>& edges) const;
    void make_of_parameter(Answers& answers, std::vector<TopoDS_Shape>& edges) const;
    void make_of_curves(Answers& answers, std::vector<TopoDS_Shape>& edges) const;
};

} // namespace kervo::model
