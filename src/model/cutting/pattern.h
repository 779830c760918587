// Where copies stand: the part that repeated steps and copied bodies share.
#pragma once

#include "model/route/step_context.h"

#include <gp_Trsf.hxx>

namespace kervo::model {

/// Points that bound no curve and belong to no figure (`alone`), and centres of circles and arcs.
std::vector<const sketch::Point*> points_of(const sketch::Sketch& sketch, bool alone, bool centers);

struct Pattern {
    Choice arrange{"line"};
    Choice direction{"x"};
    References along;
    Expression count{"3"};
    Expression spacing{"20 mm"};
    Choice spacing_is{"each"};
    Choice second_direction{"y"};
    References second_along;
    Expression second_count{"2"};
    Expression second_spacing{"20 mm"};
    Choice axis{"z"};
    References axis_element;
    Choice turn{"evenly"};
    Expression angle{"30 deg"};
    Choice plane{"yz"};
    References mirror_face;
    References path;
    Choice orientation{"kept"};
    SketchLink points;
    Expression only_where{"1"};
    Expression scale{"1"};
    CopyNames left_out;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        const auto q = Question::how_far;
        const std::vector<FieldOption> directions{{"x", "x"}, {"y", "y"}, {"z", "z"}, {"element", "An edge or axis"}};
        visit(FieldInfo("arrange", "Arranged", q, "How the copies stand.")
                  .one_of({{"line", "In a line"},
                           {"grid", "In a grid"},
                           {"ring", "In a ring"},
                           {"mirror", "Mirrored"},
                           {"path", "Along edges"},
                           {"points", "At points of a sketch"}}),
              self.arrange);
        visit(FieldInfo("direction", "Direction", q, "Which way they go.")
                  .one_of(directions)
                  .when("arrange", {"line", "grid"}),
              self.direction);
        visit(FieldInfo("along", "Follows", q, "The direction follows it.")
                  .picks({ElementKind::edge, ElementKind::face})
                  .when("arrange", {"line", "grid"})
                  .when("direction", {"element"}),
              self.along);
        visit(FieldInfo("axis", "Axis", q, "What they stand around: through the origin, or an element's own.")
                  .one_of(directions)
                  .when("arrange", {"ring"}),
              self.axis);
        visit(FieldInfo("axis_element", "Follows", q, "The axis follows it.")
                  .picks({ElementKind::edge, ElementKind::face})
                  .when("arrange", {"ring"})
                  .when("axis", {"element"}),
              self.axis_element);
        visit(FieldInfo("count", "How many", q, "In all, the first one included.")
                  .number()
                  .when("arrange", {"line", "grid", "ring", "path"}),
              self.count);
        visit(FieldInfo("spacing", "Spacing", q, "Negative: the other way.").length().when("arrange", {"line", "grid"}),
              self.spacing);
        visit(FieldInfo("spacing_is", "It is", q, "What the spacing says.")
                  .one_of({{"each", "From one to the next"}, {"whole", "From first to last"}})
                  .when("arrange", {"line", "grid"}),
              self.spacing_is);
        visit(FieldInfo("second_direction", "Then", q, "The way from row to row.")
                  .one_of(directions)
                  .when("arrange", {"grid"}),
              self.second_direction);
        visit(FieldInfo("second_along", "Follows", q, "The direction follows it.")
                  .picks({ElementKind::edge, ElementKind::face})
                  .when("arrange", {"grid"})
                  .when("second_direction", {"element"}),
              self.second_along);
        visit(
            FieldInfo("second_count", "Rows", q, "In all, the first one included.").number().when("arrange", {"grid"}),
            self.second_count);
        visit(FieldInfo("second_spacing", "Rows apart", q, "From row to row, or first to last, as above.")
                  .length()
                  .when("arrange", {"grid"}),
              self.second_spacing);
        visit(FieldInfo("turn", "Turn", q, "How they stand around it.")
                  .one_of({{"evenly", "Evenly all round"}, {"angle", "By an angle each"}})
                  .when("arrange", {"ring"}),
              self.turn);
        visit(FieldInfo("angle", "Angle", q, "From one to the next; negative: the other way.")
                  .angle()
                  .beside()
                  .when("arrange", {"ring"})
                  .when("turn", {"angle"}),
              self.angle);
        visit(FieldInfo("plane", "Plane", q, "What they are mirrored at.")
                  .one_of({{"xy", "xy, level"}, {"xz", "xz, front"}, {"yz", "yz, side"}, {"face", "A flat face"}})
                  .when("arrange", {"mirror"}),
              self.plane);
        visit(FieldInfo("mirror_face", "Face", q, "The plane follows it.")
                  .picks({ElementKind::face})
                  .when("arrange", {"mirror"})
                  .when("plane", {"face"}),
              self.mirror_face);
        visit(FieldInfo("path", "Edges", q, "A chain; it begins at the end that is nearer to the first one.")
                  .picks({ElementKind::edge})
                  .several()
                  .when("arrange", {"path"}),
              self.path);
        visit(FieldInfo("orientation", "They look", q, "How they stand along the edges.")
                  .one_of({{"kept", "All the same way"}, {"following", "Along the edges"}})
                  .when("arrange", {"path"}),
              self.orientation);
        visit(FieldInfo("points", "Points of", q, "Its points that stand alone; the first copy is at the first.")
                  .when("arrange", {"points"}),
              self.points);
        visit(FieldInfo("only_where", "Only where", q,
                        "A formula that is not zero for the copies that are wanted; it may read index (1, 2, ...), row "
                        "(0, 1, ...) and away, the distance from the first: \u201cindex != 3\u201d.")
                  .number()
                  .reads(own_names())
                  .when("arrange", {"line", "grid", "ring", "path", "points"}),
              self.only_where);
        visit(
            FieldInfo("scale", "Size", q,
                      "How many times as large each is: a formula of index, row and away, as "
                      "\u201c1 - away / 400 mm\u201d. Profiles grow in their plane about the middle of their area, and "
                      "are swept as far as before; bodies grow all round about their middle.")
                .number()
                .reads(own_names())
                .when("arrange", {"line", "grid", "ring", "path", "points"}),
            self.scale);
        visit(
            FieldInfo("left_out", "Left out", q,
                      "Copies that are not wanted, by their numbers: \u201c3, 5\u201d; click their marks in the model.")
                .when("arrange", {"line", "grid", "ring", "path", "points"}),
            self.left_out);
    }

    static std::map<std::string, Dimension> own_names() {
        return {{"index", plain_number}, {"row", plain_number}, {"away", length_dimension}};
    }

    struct Copy {
        gp_Trsf move;
        double scale = 1;
        std::string name; ///< "2"; in a grid "2.1": column and row
    };
    /// All but the first, which is there, and those that are left out. `from`: where that stands, for distances of
    /// turned copies. Where all of them stand is handed back in `output`.
    std::vector<Copy> copies(const gp_Pnt& from, Answers& answers, StepOutput& output) const;

    friend bool operator==(const Pattern&, const Pattern&) = default;
};

} // namespace kervo::model
