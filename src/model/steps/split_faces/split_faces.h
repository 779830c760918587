// Split faces: a line between two places on their borders divides faces; nothing is removed.
#pragma once

#include "model/route/step_context.h"

#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <gp_Pnt.hxx>

#include <optional>

namespace kervo::model {

struct SplitFaces {
    static constexpr const char* kind = "split_faces";
    static constexpr const char* title = "Split faces";
    static constexpr const char* summary = "Divides faces of a solid or surface by a line between two places; "
                                           "nothing is removed, and the parts can be shifted, picked and coloured.";

    References faces;
    References from;
    Expression from_at{"0.5"};
    References to;
    Expression to_at{"0.5"};
    Choice line{"straight"};
    Choice ends{"there"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        const char* share = "Of an edge: 0 is its end with the smaller x, or y, or z; 1 is the other one.";
        visit(FieldInfo("faces", "Faces", Q::what_is_cut, "Faces of one body over which the line runs.")
                  .picks({ElementKind::face})
                  .several()
                  .changes_them(),
              self.faces);
        visit(FieldInfo("from", "From", Q::what_cuts_it, "An edge or a vertex where the line begins.")
                  .picks({ElementKind::edge, ElementKind::vertex}),
              self.from);
        visit(FieldInfo("from_at", "From at", Q::what_cuts_it, share).number(), self.from_at);
        visit(FieldInfo("to", "To", Q::what_cuts_it, "An edge or a vertex where it ends.")
                  .picks({ElementKind::edge, ElementKind::vertex}),
              self.to);
        visit(FieldInfo("to_at", "To at", Q::what_cuts_it, share).number(), self.to_at);
        visit(FieldInfo("line", "Line", Q::what_cuts_it, "How it goes from the one to the other.")
                  .one_of({{"straight", "Straight, seen square to the faces"}, {"shortest", "Shortest on one face"}})
                  .folds(),
              self.line);
        visit(FieldInfo("ends", "Ends", Q::how_far, "How far the line goes.")
                  .one_of({{"there", "At both places"}, {"on", "At the borders beyond"}})
                  .folds(),
              self.ends);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const SplitFaces&, const SplitFaces&) = default;

private:
    [[nodiscard]] Result<std::vector<TopoDS_Edge>> drawn(const std::vector<TopoDS_Face>& chosen, const gp_Pnt& begin,
                                                         const gp_Pnt& end, Progress& progress) const;
};

} // namespace kervo::model
