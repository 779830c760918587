// Which bodies stand in the picture, how they look, and what is lit up of them: from the picture of the session and
// what is in hand. Draws nothing.
#pragma once

#include "app/look/theme.h"
#include "app/session/session.h"
#include "app/view/in_hand.h"
#include "scene/viewer.h"

namespace kervo::app {

class ShownModel {
public:
    ShownModel(const Session& session, const InHand& hand) : session_(session), hand_(hand) {}

    /// Bodies of the picture; while an answer of a card is being picked, as its step finds them.
    [[nodiscard]] const scene::ShownBodies& bodies() const;
    /// Null where there is none.
    [[nodiscard]] scene::ShownBodyPtr body(const model::BodyId& id) const;
    /// The element or body that is meant, as it is shown; nothing where it is not there.
    [[nodiscard]] std::optional<model::Element> find(const model::Reference& reference) const;
    /// The plane of a flat face, its normal out of the material; nothing for anything else.
    [[nodiscard]] std::optional<Frame3> plane_of(const model::Reference& reference) const;
    /// Null where nothing is known of it.
    [[nodiscard]] const model::BodyTraits* traits_of(const model::BodyId& id) const;
    /// Its own, or else a tint that tells it from its neighbours; toned down on slate.
    [[nodiscard]] QColor color_of(const Theme& theme, const model::BodyId& id) const;
    [[nodiscard]] bool is_shown(const model::BodyId& id) const;
    [[nodiscard]] bool is_pickable(const model::BodyId& id) const;
    /// Used up by the open step, and shown as a ghost.
    [[nodiscard]] bool is_ghost(const model::BodyId& id) const;
    /// Whether it is a reference to the body, to an element of it, or to a group that it is in.
    [[nodiscard]] bool refers_to(const model::Reference& reference, const model::BodyId& id) const;
    /// What a click on the body means at the level in hand: the body, or its outermost group.
    [[nodiscard]] model::BodyId clicked_id(const model::BodyId& id) const;
    /// Bodies that are selected as such, or with their group.
    [[nodiscard]] std::vector<model::BodyId> selected_bodies() const;
    [[nodiscard]] Box3 bounds() const; ///< empty where there is nothing
    /// Of bodies that are not hidden; of all where they are.
    [[nodiscard]] Box3 bounds_seen() const;

    /// The step of the open card; null where there is none.
    [[nodiscard]] model::StepPtr card_step() const { return session_.document().step(session_.card()); }
    /// The open card is that of a cut: pieces have verdicts.
    [[nodiscard]] bool card_cuts() const;
    /// The open step as it is pictured; null unless it has come to a result.
    [[nodiscard]] model::StepOutputPtr card_output() const;
    /// A sketch's plane for the open card; null where there is none.
    [[nodiscard]] model::SketchResultPtr card_sketch() const;
    /// The step of that sketch; 0 where there is none.
    [[nodiscard]] int card_sketch_step() const;
    /// Lets regions of another sketch be clicked while this card is open.
    void take_card_sketch(int step);
    /// A formula among the answers of the open card.
    [[nodiscard]] std::optional<Expression> answer(const std::string& field) const;
    /// As in the picture.
    [[nodiscard]] ParameterValues parameters() const;

    /// Cutaways that open a body, as they are at the moment.
    [[nodiscard]] std::vector<model::Cutaway> opening(const model::BodyId& id) const;
    /// The one whose handles can be pulled; nothing where none is.
    [[nodiscard]] std::optional<model::Cutaway> cutaway_in_hand() const;
    /// Faces that close these bodies where they are opened: as they were worked out, or, where a cutaway is dragged, of
    /// triangles and rows that are `fineness` mm high.
    [[nodiscard]] std::vector<scene::Cap> caps(const std::vector<scene::BodyLook>& looks, double fineness) const;

    /// What is drawn, bodies and sketches, in the colours of a theme.
    [[nodiscard]] std::vector<scene::BodyLook> looks(const Theme& theme) const;
    /// The curvature (1/mm) that has the full colours, where faces are coloured by it: a round number in which most of
    /// what is shown bends less; 0 where all is flat.
    [[nodiscard]] double curvature_scale() const;
    /// The selection, and what the open card refers to.
    [[nodiscard]] const std::vector<scene::Highlight>& highlights(const Theme& theme) const;
    /// What the pointer is over, for people.
    [[nodiscard]] QString words_for(const scene::Picked& found) const;

private:
    [[nodiscard]] bool is_glass(const model::BodyId& id) const;
    [[nodiscard]] scene::BodyLook look_of(const Theme& theme, const model::BodyId& id,
                                          const scene::ShownBodyPtr& body) const;
    [[nodiscard]] std::string role_color(const Theme& theme, const model::BodyId& id) const;

    const Session& session_;
    const InHand& hand_;
    struct CardSketch {
        std::weak_ptr<const Picture> picture;
        std::weak_ptr<const model::Step> step;
        model::SketchResultPtr sketch;
    };
    mutable CardSketch card_sketch_;   ///< as last asked for
    std::pair<int, int> taken_sketch_; ///< a card, and the sketch whose regions are clicked for it instead of its own
    struct Highlights {
        std::weak_ptr<const Picture> picture;
        std::weak_ptr<const model::Step> step;
        std::vector<model::Reference> selection;
        bool picking = false, drawing = false;
        QColor color;
        std::vector<scene::Highlight> all;
    };
    mutable Highlights highlights_; ///< as last asked for
};

} // namespace kervo::app
