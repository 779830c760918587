// Picking the answer to a question of the open card: the next click is for that.
#pragma once

#include "app/view/viewport.h"

namespace kervo::app {

class AnswerTool : public ViewTool {
    Q_OBJECT
public:
    using ViewTool::ViewTool;

    [[nodiscard]] bool in_use() const override { return hand().target().has_value(); }
    [[nodiscard]] QString hint() const override;
    [[nodiscard]] std::optional<QCursor> cursor() const override;
    [[nodiscard]] std::optional<LooksFor> looks_for() const override;
    bool click(const Pointer& pointer) override;
    bool click_body(const model::BodyId& body, const Pointer& pointer) override;
    bool escape() override;
    void take_changes() override;

signals:
    /// `field`: what the pick was for.
    void picked(const kervo::model::Reference& reference, const std::string& field);
};

} // namespace kervo::app
