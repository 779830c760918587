// Built up: from points over edges and faces to a shell and a solid, row by row.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct BuiltUp {
    static constexpr const char* kind = "built_up";
    static constexpr const char* title = "Build up";
    static constexpr const char* summary = "Makes points, edges between them, faces in closed edges, a shell of faces "
                                           "and a solid, row by row; each row may use rows before it.";

    Rows rows;
    References taken;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("rows", "Rows", Q::rows,
                        "What is made, from top to bottom. Points stand at x, y, z, from the origin or from a point "
                        "before; everything else is made of what its row names, or of all that there is.")
                  .length()
                  .one_of({{"point", "Point", true},
                           {"edges", "Straight edges"},
                           {"arc", "Arc"},
                           {"curve", "Smooth curve"},
                           {"chain", "Chain"},
                           {"flat_faces", "Flat faces"},
                           {"free_face", "Free face"},
                           {"shell", "Shell"},
                           {"solid", "Solid"}}),
              self.rows);
        visit(FieldInfo("taken", "From bodies", Q::source,
                        "Vertices, edges and faces of bodies that the rows may use, each under its name.")
                  .picks({ElementKind::vertex, ElementKind::edge, ElementKind::face})
                  .several()
                  .named(),
              self.taken);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const BuiltUp&, const BuiltUp&) = default;
};

} // namespace kervo::model
