// The copies of the open step as marks on the model; a click leaves one out, or takes it back.
#include "app/view/tools/tools.h"

namespace kervo::app {

namespace {

constexpr size_t most = 400;      // more would be one dark field
constexpr double mark_reach = 12; // pixels around a mark in which it is clicked

class CopyTool : public ViewTool {
public:
    using ViewTool::ViewTool;

    [[nodiscard]] bool in_use() const override { return !hand().target() && hand().drawn_step() == 0; }

    bool click(const Pointer& pointer) override {
        for (const model::PlacedCopy& copy : copies()) {
            if (QLineF(place_of(copy.at), pointer.at).length() < mark_reach) {
                return toggle(copy.name);
            }
        }
        return false;
    }

    void paint(QPainter& painter) override {
        for (const model::PlacedCopy& copy : copies()) {
            const QPointF at = place_of(copy.at);
            painter.setPen(QPen(theme().cutter, 1.4));
            painter.setBrush(copy.left_out ? QBrush(theme().paper) : QBrush(theme().cutter));
            painter.drawEllipse(at, 4, 4);
            painter.setBrush(Qt::NoBrush);
            if (copy.left_out) { // struck out
                painter.drawLine(at + QPointF(-6, 6), at + QPointF(6, -6));
            }
        }
    }

private:
    [[nodiscard]] std::vector<model::PlacedCopy> copies() const {
        const auto output = in_use() ? shown().card_output() : nullptr;
        return output && output->copies.size() <= most ? output->copies : std::vector<model::PlacedCopy>();
    }

    bool toggle(const std::string& name) {
        const auto step = shown().card_step();
        for (const model::Field& field : model::fields_of(step->definition)) {
            if (const auto* known = std::get_if<model::CopyNames>(&field.value)) {
                model::CopyNames next = *known;
                if (std::erase(next.all, name) == 0) {
                    next.all.push_back(name);
                }
                session().set_field(step->id, field.info.key, next);
                return true;
            }
        }
        return false;
    }
};

} // namespace

std::unique_ptr<ViewTool> make_copy_tool(Viewport& view) {
    return std::make_unique<CopyTool>(view);
}

} // namespace kervo::app
