// One editor for each kind of answer on a step card. An editor shows a field's value, and sends edits to the session.
#pragma once

#include "app/look/theme.h"
#include "app/session/session.h"
#include "app/view/viewport.h"

#include <QWidget>

namespace kervo::app {

/// What editors need from around them.
struct CardContext {
    Session& session;
    Viewport& viewport;
    const Theme& theme;
    int step = 0;

    [[nodiscard]] const model::StepReport* report() const;
    void set(const std::string& key, const model::FieldValue& value) const { session.set_field(step, key, value); }
    /// The body's name for people.
    [[nodiscard]] QString name_of(const model::BodyId& body) const;
};

class FieldEditor : public QWidget {
    Q_OBJECT
public:
    FieldEditor(model::FieldInfo info, const CardContext& context, QWidget* parent);
    /// Shows the value; must not disturb what the user is typing.
    virtual void refresh(const model::FieldValue& value) = 0;
    [[nodiscard]] const model::FieldInfo& info() const { return info_; }
    /// Makes room for a line that it shares with the answer before it: the label goes into the tooltip.
    virtual void go_beside() {}

protected:
    void set(const model::FieldValue& value) const { context_.set(info_.key, value); }
    model::FieldInfo info_;
    CardContext context_;
};

FieldEditor* make_editor(const model::Field& field, const CardContext& context, QWidget* parent);

} // namespace kervo::app
