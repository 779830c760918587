// What is in the user's hand, wherever the pointer is: the marker, the answer that is being picked, the level of picks,
// and what is selected.
#pragma once

#include "model/document/step_definition.h"
#include "scene/viewer.h"

#include <QObject>

namespace kervo::app {

enum class Marker { work, cutter };

/// What a click or a frame in the model takes.
enum class PickLevel {
    any, ///< what is under the pointer; again: its body; again: the groups around that
    group,
    body,
    lump, ///< all faces of one
    face,
    edge,
    vertex
};

/// What the next click in the model is for.
struct PickTarget {
    std::string field;
    std::set<model::ElementKind> accepts;
    bool many = false;
    std::string label = {}; ///< of the field, for people

    static PickTarget of(const model::FieldInfo& info) { return {info.key, info.accepts, info.many, info.label}; }
    /// The first single element that a step still waits for, among its questions after the field `after` (empty: all).
    static std::optional<PickTarget> next_open(const model::StepDefinition& step, const std::string& after = {});
    /// The first question for bodies that a step still waits for.
    static std::optional<PickTarget> open_for_bodies(const model::StepDefinition& step);

    [[nodiscard]] bool sees_bodies() const { return accepts.contains(model::ElementKind::body); }
};

/// Whether a question wants bodies that the step changes: an element that answers none of its questions means its body
/// there.
bool wants_changed_bodies(const model::FieldInfo& info);

class InHand : public QObject {
    Q_OBJECT
public:
    [[nodiscard]] Marker marker() const { return marker_; }
    void set_marker(Marker marker);

    [[nodiscard]] const std::optional<PickTarget>& target() const { return target_; }
    void set_target(const std::optional<PickTarget>& target);

    [[nodiscard]] PickLevel level() const { return level_; }
    void set_level(PickLevel level);
    /// The next level (1) or the one before (-1), round and round.
    void step_level(int by);

    [[nodiscard]] const std::vector<model::Reference>& selection() const { return selection_; }
    void select(std::vector<model::Reference> selection);

    /// What a card speaks of, lit up in the model while its line is under the pointer or has the focus.
    [[nodiscard]] const std::optional<model::Reference>& pointed_out() const { return pointed_out_; }
    void point_out(const std::optional<model::Reference>& reference);

    /// The step whose sketch is being drawn; 0: none.
    [[nodiscard]] int drawn_step() const { return drawn_step_; }
    void set_drawn_step(int step) { drawn_step_ = step; }

    /// The letter of the cutaway whose answers stand in Contents and whose handles can be pulled; it may be gone.
    [[nodiscard]] const std::string& cutaway() const { return cutaway_; }
    void take_cutaway(const std::string& letter);

    /// What faces are drawn with.
    [[nodiscard]] scene::Shading shading() const { return shading_; }
    void set_shading(scene::Shading shading);

signals:
    void cutaway_changed();
    void shading_changed();
    void marker_changed();
    void target_changed();
    void level_changed();
    void selection_changed();
    void pointed_out_changed();

private:
    Marker marker_ = Marker::work;
    std::optional<PickTarget> target_;
    PickLevel level_ = PickLevel::any;
    std::vector<model::Reference> selection_;
    std::optional<model::Reference> pointed_out_;
    int drawn_step_ = 0;
    std::string cutaway_;
    scene::Shading shading_ = scene::Shading::plain;
};

} // namespace kervo::app
