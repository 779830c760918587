// Free-form surface: control points that are moved, over a rectangle or like a face.
#pragma once

#include "model/route/step_context.h"

#include <TopoDS_Face.hxx>

#include <optional>

namespace kervo::geom {
class FreeForm;
struct FormFace;
} // namespace kervo::geom

namespace kervo::model {

struct FreeFormSurface {
    static constexpr const char* kind = "free_form";
    static constexpr const char* title = "Free-form surface";
    static constexpr const char* summary =
        "Makes a surface with control points, flat or like a face, and moves these, one or several at once, alone or "
        "softly with those around them. More control points do not change its shape.";

    Choice made{"flat"};
    References face;
    Choice outline{"kept"}, result{"apart"};
    Expression width{"100 mm"}, depth{"60 mm"};
    Expression x{"0 mm"}, y{"0 mm"}, z{"0 mm"};
    Expression patches_first{"4"}, patches_second{"4"};
    Expression degree_first{"3"}, degree_second{"3"};
    Expression tolerance{"0.01 mm"};
    Rows rows;
    Expression reach{"40 mm"};
    Choice lines{"shown"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("made", "Made", Q::source, "What it is before its control points are moved.")
                  .one_of({{"flat", "A flat rectangle"}, {"face", "Like a face"}}),
              self.made);
        visit(FieldInfo("face", "Face", Q::source, "It follows this face.")
                  .picks({ElementKind::face})
                  .by_marker()
                  .changes_them(self.made.value == "face" && self.result.value == "instead")
                  .when("made", {"face"}),
              self.face);
        visit(FieldInfo("outline", "Outline", Q::source, "How far it goes.")
                  .one_of({{"kept", "As the face's"}, {"whole", "All of it"}})
                  .when("made", {"face"}),
              self.outline);
        visit(FieldInfo("tolerance", "Tolerance", Q::source, "How far it may be off the face before it is moved.")
                  .length()
                  .when("made", {"face"}),
              self.tolerance);
        visit(FieldInfo("result", "It is", Q::source, "What becomes of the face.")
                  .one_of({{"apart", "A surface of its own"}, {"instead", "In place of the surface"}})
                  .when("made", {"face"})
                  .folds(),
              self.result);
        visit(FieldInfo("width", "Width", Q::size, "Along x.").length().when("made", {"flat"}), self.width);
        visit(FieldInfo("depth", "Depth", Q::size, "Along y.").length().when("made", {"flat"}), self.depth);
        visit(FieldInfo("patches_first", "Patches", Q::size,
                        "How many polynomials it is made of, one way and the other; more follow more closely.")
                  .number(),
              self.patches_first);
        visit(FieldInfo("patches_second", "by", Q::size, "The other way.").number().beside(), self.patches_second);
        visit(FieldInfo("degree_first", "Degree", Q::size,
                        "1 has an edge between patches, 3 is smooth; the higher, the smoother. At most 7.")
                  .number(),
              self.degree_first);
        visit(FieldInfo("degree_second", "by", Q::size, "The other way.").number().beside(), self.degree_second);
        visit(FieldInfo("x", "x", Q::place, "Where its middle is.").length().when("made", {"flat"}), self.x);
        visit(FieldInfo("y", "y", Q::place, "Where its middle is.").length().when("made", {"flat"}), self.y);
        visit(FieldInfo("z", "z", Q::place, "Where its middle is.").length().when("made", {"flat"}), self.z);
        visit(FieldInfo("rows", "Points", Q::rows,
                        "What is done to them, from top to bottom: p2_3 is the one in row 2 and column 3. More rows "
                        "and columns halve the patches at the points that are named, or all.")
                  .length()
                  .one_of({{"move", "Move", false, true},
                           {"move_softly", "Move softly", false, true},
                           {"put", "Put", false, true},
                           {"more_rows", "More rows"},
                           {"more_columns", "More columns"}}),
              self.rows);
        visit(
            FieldInfo("reach", "Soft within", Q::rows, "So far points go along where they are moved softly.").length(),
            self.reach);
        visit(FieldInfo("lines", "Lines", Q::rows, "The lines of equal parameter between its patches.")
                  .one_of({{"shown", "Shown"}, {"hidden", "Not shown"}})
                  .folds(),
              self.lines);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const FreeFormSurface&, const FreeFormSurface&) = default;

private:
    struct Source {
        BodyId body;
        TopoDS_Face face; ///< null: it is flat
    };
    [[nodiscard]] std::optional<geom::FreeForm> start(Source& source, Answers& answers, StepOutput& output) const;
    void work(geom::FreeForm& form, Answers& answers) const;
    void hand_out(const StepInputs& inputs, const geom::FormFace& made, const Source& source, Answers& answers,
                  StepOutput& output) const;
};

} // namespace kervo::model
