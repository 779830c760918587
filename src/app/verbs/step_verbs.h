// Verbs that begin a step: what is selected answers its first questions. Those that kinds of steps tell of, and those
// that begin in a way of their own.
#pragma once

#include "app/verbs/verbs.h"
#include "app/view/viewport.h"

namespace kervo::model {
struct BladeStep;
}

namespace kervo::app {

class StepVerbs : public QObject {
    Q_OBJECT
public:
    StepVerbs(Session& session, Viewport& viewport, QObject* parent)
        : QObject(parent), session_(session), viewport_(viewport) {}

    [[nodiscard]] std::vector<Verb> all();

private:
    [[nodiscard]] std::vector<Verb> of_blades();
    [[nodiscard]] std::vector<Verb> of_joining();
    [[nodiscard]] std::vector<Verb> of_placing();
    [[nodiscard]] std::vector<Verb> of_kinds();
    [[nodiscard]] std::vector<Verb> of_views();

    /// There is something that a step could work on.
    [[nodiscard]] std::function<bool()> has_steps() const;
    void start(model::StepDefinition definition, const QString& name);
    void start_sketch();
    void start_repeat();
    void start_blade(model::BladeStep blade);
    [[nodiscard]] model::BladeStep blade_from_view() const;
    void start_projection_from_view();
    void start_place(const std::string& way, const QString& name);
    void start_frozen_copy();
    void start_delete();
    std::optional<PickTarget> take_selection(model::StepDefinition& definition) const;
    [[nodiscard]] static bool takes_elements(const model::FieldInfo& info);
    void take_elements(model::StepDefinition& definition) const;
    [[nodiscard]] model::References selected_bodies(const model::StepDefinition& definition, bool elements_too) const;
    [[nodiscard]] const std::vector<model::Reference>& selection() const { return viewport_.hand().selection(); }

    Session& session_;
    Viewport& viewport_;
};

} // namespace kervo::app
