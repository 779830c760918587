// Place: bodies moved and turned, by amounts, by what they consist of, or so that something of them is the origin; or
// copies of them.
#pragma once

#include "model/route/step_context.h"

#include <gp_Trsf.hxx>

namespace kervo::model {

struct PlaceBodies {
    static constexpr const char* kind = "place";
    static constexpr const char* title = "Place";
    static constexpr const char* summary = "Moves and turns bodies by amounts, or by carrying a point, edge, face or "
                                           "axis of theirs to another; leaves copies if wanted.";

    References bodies;
    Choice copies{"themselves"};
    Choice way{"amounts"};
    Expression x{"0 mm"}, y{"0 mm"}, z{"0 mm"};
    Choice axis{"z"};
    References axis_element;
    Expression angle{"0 deg"};
    Choice pivot{"middle"};
    References pivot_element;
    References carried, target, second, origin, up, front;
    Choice facing{"at"}, turned{"nearer"};
    Expression gap{"0 mm"}, shift{"0 mm"};
    Choice side{"low"}, along{"z"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        using Kind = ElementKind;
        const std::set<Kind> anything{Kind::vertex, Kind::edge, Kind::face};
        const std::vector<std::string> by_elements{"to_point", "parallel", "flush", "concentric", "between"};
        visit(FieldInfo("bodies", "Bodies", Q::source, "The bodies that are placed, all alike; the first leads.")
                  .picks({Kind::body})
                  .one_by_one()
                  .by_marker()
                  .changes_them(self.copies.value != "copies"),
              self.bodies);
        visit(FieldInfo("copies", "Placed are", Q::source, "Copies follow their bodies.")
                  .one_of({{"themselves", "The bodies themselves"}, {"copies", "Copies of them"}}),
              self.copies);
        visit(FieldInfo("way", "Placed", Q::place, "How.")
                  .one_of({{"amounts", "By amounts"},
                           {"to_point", "To a point"},
                           {"parallel", "Turned parallel"},
                           {"flush", "Flush with a face"},
                           {"concentric", "Concentric"},
                           {"between", "Between two"},
                           {"align", "Aligned with the first"},
                           {"to_origin", "As origin, up and front say"}}),
              self.way);
        visit(FieldInfo("x", "Move x", Q::place, "After the turn.").length().when("way", {"amounts"}), self.x);
        visit(FieldInfo("y", "Move y", Q::place, "After the turn.").length().when("way", {"amounts"}), self.y);
        visit(FieldInfo("z", "Move z", Q::place, "After the turn.").length().when("way", {"amounts"}), self.z);
        visit(FieldInfo("angle", "Turn", Q::place, "Counterclockwise, seen against the axis.")
                  .angle()
                  .when("way", {"amounts"}),
              self.angle);
        visit(FieldInfo("axis", "About", Q::place, "The axis of the turn.")
                  .one_of({{"x", "x"}, {"y", "y"}, {"z", "z"}, {"element", "An edge or axis"}})
                  .when("way", {"amounts"}),
              self.axis);
        visit(FieldInfo("axis_element", "Follows", Q::place, "The axis follows it, and lies where it does.")
                  .picks({Kind::edge, Kind::face})
                  .when("way", {"amounts"})
                  .when("axis", {"element"}),
              self.axis_element);
        visit(FieldInfo("pivot", "Through", Q::place, "Where the axis lies.")
                  .one_of({{"middle", "The middle of the first"}, {"origin", "The origin"}, {"point", "A point"}})
                  .when("way", {"amounts"})
                  .when("axis", {"x", "y", "z"}),
              self.pivot);
        visit(FieldInfo("pivot_element", "Point", Q::place, "The axis goes through its middle.")
                  .picks(anything)
                  .when("way", {"amounts"})
                  .when("axis", {"x", "y", "z"})
                  .when("pivot", {"point"}),
              self.pivot_element);
        visit(FieldInfo("carried", "Carried", Q::place, "What of the first body is carried there.")
                  .picks(anything)
                  .when("way", by_elements),
              self.carried);
        visit(FieldInfo("origin", "Origin", Q::place, "What comes to the origin of the document; nothing: it stays.")
                  .picks(anything)
                  .when("way", {"to_origin"}),
              self.origin);
        visit(FieldInfo("up", "Up", Q::place, "What looks up then; nothing: up stays.")
                  .picks({Kind::edge, Kind::face})
                  .when("way", {"to_origin"}),
              self.up);
        visit(FieldInfo("front", "Front", Q::place, "What looks to the front then; nothing: front stays.")
                  .picks({Kind::edge, Kind::face})
                  .when("way", {"to_origin"}),
              self.front);
        visit(FieldInfo("target", "Target", Q::place, "Where it is carried to; it follows that.")
                  .picks(anything)
                  .when("way", by_elements),
              self.target);
        visit(FieldInfo("second", "And", Q::place, "The other side.").picks(anything).when("way", {"between"}),
              self.second);
        visit(FieldInfo("facing", "Faces look", Q::place, "How the two faces look.")
                  .one_of({{"at", "At each other"}, {"along", "The same way"}})
                  .when("way", {"flush"}),
              self.facing);
        visit(FieldInfo("turned", "Turned", Q::place, "Which of the two ways.")
                  .one_of({{"nearer", "The nearer way"}, {"flipped", "Flipped"}})
                  .when("way", {"parallel", "concentric"}),
              self.turned);
        visit(FieldInfo("gap", "Gap", Q::place, "Between the two faces.").length().when("way", {"flush"}), self.gap);
        visit(FieldInfo("shift", "Shift", Q::place, "Along the axis.").length().when("way", {"concentric"}),
              self.shift);
        visit(FieldInfo("side", "Sides", Q::place, "Which sides are brought in line with those of the first body.")
                  .one_of({{"low", "The low ones"}, {"middle", "The middles"}, {"high", "The high ones"}})
                  .when("way", {"align"}),
              self.side);
        visit(FieldInfo("along", "Along", Q::place, "The axis along which they move.")
                  .one_of({{"x", "x"}, {"y", "y"}, {"z", "z"}})
                  .when("way", {"align"}),
              self.along);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    friend bool operator==(const PlaceBodies&, const PlaceBodies&) = default;

private:
    /// How all of them move; not asked where each is aligned by itself.
    [[nodiscard]] gp_Trsf common_move(const BodyPtr& first, Answers& answers, StepOutput& output) const;
    [[nodiscard]] gp_Trsf by_amounts(const BodyPtr& first, Answers& answers, StepOutput& output) const;
    [[nodiscard]] gp_Trsf by_elements(Answers& answers) const;
    [[nodiscard]] gp_Trsf by_origin(Answers& answers) const;
    [[nodiscard]] gp_Trsf aligned(const BodyPtr& body, const BodyPtr& first) const;
};

} // namespace kervo::model
