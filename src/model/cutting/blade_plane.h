// Where a blade lies: made from what is there already, which it follows.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct BladePlane {
    Choice plane{"principal"};
    Choice principal{"yz"};
    References face, points, edge, from_face, axis_element, axis_point, first, second, parallel_face, through,
        round_face, towards_element, touching, curve;
    Expression angle{"45 deg"};
    Choice axis{"z"}, at{"origin"}, between{"inner"}, parallel{"face"};
    Choice touches{"towards"}, towards{"x"};
    Expression turn{"0 deg"};
    Choice place_is{"share"};
    Expression share{"0.5"}, along{"10 mm"};
    Expression origin_x{"0 mm"}, origin_y{"0 mm"}, origin_z{"0 mm"};
    Expression normal_x{"1"}, normal_y{"0"}, normal_z{"0"};
    Expression offset{"0 mm"};
    Choice turned{"no"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        const auto q = Question::what_cuts_it;
        const std::vector<FieldOption> principals{{"xy", "xy, level"}, {"xz", "xz, front"}, {"yz", "yz, side"}};
        const std::vector<FieldOption> directions{{"x", "x"}, {"y", "y"}, {"z", "z"}, {"element", "An edge or axis"}};
        using Kind = ElementKind;
        visit(FieldInfo("plane", "Blade", q, "What the plane that cuts is made from; it follows that.")
                  .one_of({{"principal", "A principal plane"},
                           {"face", "A flat face"},
                           {"points", "Three points"},
                           {"edge_angle", "An edge, at an angle"},
                           {"square_axis", "Square to an axis"},
                           {"midway", "Midway between two faces"},
                           {"parallel", "Parallel through a point"},
                           {"tangent", "Touching a round face"},
                           {"curve", "Square to an edge, on it"},
                           {"numbers", "A point and a direction"}}),
              self.plane);
        visit(FieldInfo("principal", "Plane", q, "Through the origin of the document.")
                  .one_of(principals)
                  .when("plane", {"principal"}),
              self.principal);
        visit(FieldInfo("face", "Face", q, "The blade lies in it, or beside it by the offset.")
                  .picks({Kind::face})
                  .when("plane", {"face"}),
              self.face);
        visit(FieldInfo("points", "Points", q, "Three vertices that are not in line.")
                  .picks({Kind::vertex})
                  .several()
                  .when("plane", {"points"}),
              self.points);
        visit(FieldInfo("edge", "Edge", q, "A straight one; the blade holds it.")
                  .picks({Kind::edge})
                  .when("plane", {"edge_angle"}),
              self.edge);
        visit(FieldInfo("from_face", "From face", q, "Where the angle is counted from: a flat face along the edge.")
                  .picks({Kind::face})
                  .when("plane", {"edge_angle"}),
              self.from_face);
        visit(FieldInfo("angle", "Angle", q, "Between that face and the blade.").angle().when("plane", {"edge_angle"}),
              self.angle);
        visit(FieldInfo("axis", "Axis", q, "The blade is square to it.")
                  .one_of(directions)
                  .when("plane", {"square_axis"}),
              self.axis);
        visit(FieldInfo("axis_element", "Follows", q, "A straight or round edge, or a face; its axis is meant.")
                  .picks({Kind::edge, Kind::face})
                  .when("plane", {"square_axis"})
                  .when("axis", {"element"}),
              self.axis_element);
        visit(FieldInfo("at", "At", q, "Where on the axis.")
                  .one_of({{"origin", "The origin"}, {"point", "A point"}})
                  .when("plane", {"square_axis"}),
              self.at);
        visit(FieldInfo("axis_point", "Point", q, "The blade goes through it.")
                  .picks({Kind::vertex})
                  .when("plane", {"square_axis"})
                  .when("at", {"point"}),
              self.axis_point);
        visit(FieldInfo("first", "First face", q, "A flat face.").picks({Kind::face}).when("plane", {"midway"}),
              self.first);
        visit(FieldInfo("second", "Second face", q, "A flat face; it need not be parallel to the first.")
                  .picks({Kind::face})
                  .when("plane", {"midway"}),
              self.second);
        visit(FieldInfo("between", "Halves", q, "Which of the two planes that halve the angle.")
                  .one_of({{"inner", "Through the material"}, {"outer", "Across it"}})
                  .when("plane", {"midway"}),
              self.between);
        visit(FieldInfo("parallel", "Parallel to", q, "A principal plane or a flat face.")
                  .one_of({{"xy", "xy, level"}, {"xz", "xz, front"}, {"yz", "yz, side"}, {"face", "A flat face"}})
                  .when("plane", {"parallel"}),
              self.parallel);
        visit(FieldInfo("parallel_face", "Face", q, "A flat face.")
                  .picks({Kind::face})
                  .when("plane", {"parallel"})
                  .when("parallel", {"face"}),
              self.parallel_face);
        visit(FieldInfo("through", "Point", q, "The blade goes through it.")
                  .picks({Kind::vertex})
                  .when("plane", {"parallel"}),
              self.through);
        visit(FieldInfo("round_face", "Face", q, "A round or free-form face that it touches.")
                  .picks({Kind::face})
                  .when("plane", {"tangent"}),
              self.round_face);
        visit(FieldInfo("touches", "Touches it", q, "Where.")
                  .one_of({{"towards", "Where it looks this way"}, {"point", "At a point"}})
                  .when("plane", {"tangent"}),
              self.touches);
        visit(FieldInfo("towards", "Way", q, "It touches where the face looks this way most.")
                  .one_of(directions)
                  .when("plane", {"tangent"})
                  .when("touches", {"towards"}),
              self.towards);
        visit(FieldInfo("towards_element", "Follows", q, "The way follows it.")
                  .picks({Kind::edge, Kind::face})
                  .when("plane", {"tangent"})
                  .when("touches", {"towards"})
                  .when("towards", {"element"}),
              self.towards_element);
        visit(FieldInfo("turn", "Turned by", q, "About the axis of the face.")
                  .angle()
                  .when("plane", {"tangent"})
                  .when("touches", {"towards"}),
              self.turn);
        visit(FieldInfo("touching", "Point", q, "The place on the face that is nearest to it.")
                  .picks({Kind::vertex})
                  .when("plane", {"tangent"})
                  .when("touches", {"point"}),
              self.touching);
        visit(FieldInfo("curve", "Edge", q, "Straight or curved.").picks({Kind::edge}).when("plane", {"curve"}),
              self.curve);
        visit(FieldInfo("place_is", "Place", q, "How the place on the edge is told.")
                  .one_of({{"share", "By share of its length"}, {"length", "By length from its start"}})
                  .when("plane", {"curve"}),
              self.place_is);
        visit(FieldInfo("share", "Share", q, "From 0, its start, to 1, its end.")
                  .number()
                  .beside()
                  .when("plane", {"curve"})
                  .when("place_is", {"share"}),
              self.share);
        visit(FieldInfo("along", "Length", q, "Along the edge.")
                  .length()
                  .beside()
                  .when("plane", {"curve"})
                  .when("place_is", {"length"}),
              self.along);
        visit(FieldInfo("origin_x", "Through x", q, "A point of the blade.").length().when("plane", {"numbers"}),
              self.origin_x);
        visit(FieldInfo("origin_y", "Through y", q, "A point of the blade.").length().when("plane", {"numbers"}),
              self.origin_y);
        visit(FieldInfo("origin_z", "Through z", q, "A point of the blade.").length().when("plane", {"numbers"}),
              self.origin_z);
        visit(FieldInfo("normal_x", "Square to x", q, "Its parts along the axes.").number().when("plane", {"numbers"}),
              self.normal_x);
        visit(FieldInfo("normal_y", "Square to y", q, "Its parts along the axes.").number().when("plane", {"numbers"}),
              self.normal_y);
        visit(FieldInfo("normal_z", "Square to z", q, "Its parts along the axes.").number().when("plane", {"numbers"}),
              self.normal_z);
        visit(FieldInfo("offset", "Offset", q, "Towards its front; negative: towards its back.").length(), self.offset);
        visit(FieldInfo("turned", "Front", q, "Which side is in front.")
                  .one_of({{"no", "As it is made"}, {"yes", "Turned over"}}),
              self.turned);
    }

    /// Its plane; a finding where what it is made from does not make one: blade.no_plane.
    std::optional<gp_Ax3> frame(Answers& answers, StepOutput& output) const;

    friend bool operator==(const BladePlane&, const BladePlane&) = default;
};

} // namespace kervo::model
