// Selecting in the model: by clicks, which widen when they are repeated, by frames, and what is like what is selected.
#pragma once

#include "app/view/tools/framing_tool.h"

namespace kervo::app {

class SelectTool : public FramingTool {
    Q_OBJECT
public:
    explicit SelectTool(Viewport& view);

    [[nodiscard]] bool in_use() const override { return !hand().target() && hand().drawn_step() == 0; }
    [[nodiscard]] QString hint() const override;
    [[nodiscard]] std::optional<QCursor> cursor() const override;
    [[nodiscard]] std::optional<LooksFor> looks_for() const override;
    bool click(const Pointer& pointer) override;
    bool click_body(const model::BodyId& body, const Pointer& pointer) override;
    bool escape() override;
    void paint(QPainter& painter) override;
    std::vector<Verb> verbs() override;

    /// Selects all that is like what is selected: elements, or bodies of the same kind.
    void select_alike(model::Likeness how);
    /// Bodies of the same colour; of faces, all that show it.
    void select_same_color();

protected:
    [[nodiscard]] bool frames() const override { return view().sees() && !shown().card_cuts(); }
    void take_framed(const Frame& frame) override;

private:
    [[nodiscard]] std::vector<model::Reference> taken_at_level(const scene::Picked& picked) const;
    /// The next wider choice after this one; the one under the pointer again behind the widest.
    [[nodiscard]] std::vector<model::Reference> widened(const model::Reference& now,
                                                        const model::Reference& first) const;
    void choose_all(const std::vector<model::Reference>& references, bool besides);
    [[nodiscard]] std::vector<QPolygonF> seen(const scene::ShownBody& body, const model::Element& element) const;
    [[nodiscard]] QString face_color(const model::BodyId& id, const model::Elements::Face& face) const;
    void select_once(const std::vector<model::Reference>& found);
    [[nodiscard]] bool can_be_chosen(const model::BodyId& id) const;

    std::optional<model::Reference> last_clicked_; ///< the element, whatever it has been widened to
};

} // namespace kervo::app
