#include "app/view/tools/answer_tool.h"

#include "app/view/ink.h"
#include "app/view/tools/tools.h"

#include <QStringList>

namespace kervo::app {

QString AnswerTool::hint() const {
    using Kind = model::ElementKind;
    const std::pair<Kind, QString> names[] = {{Kind::body, tr("a body")},
                                              {Kind::face, tr("a face")},
                                              {Kind::edge, tr("an edge")},
                                              {Kind::vertex, tr("a vertex")}};
    QStringList wanted;
    for (const auto& [kind, name] : names) {
        if (hand().target()->accepts.contains(kind)) {
            wanted.append(name);
        }
    }
    const QString what = wanted.join(tr(" or "));
    const std::string& label = hand().target()->label;
    return label.empty()
               ? tr("Next pick: %1; Escape leaves it").arg(what)
               : tr("Next pick: %1, for \u201c%2\u201d; Escape leaves it").arg(what, QString::fromStdString(label));
}

std::optional<QCursor> AnswerTool::cursor() const {
    return marker_cursor(theme(), hand().marker());
}

std::optional<LooksFor> AnswerTool::looks_for() const {
    return LooksFor{hand().target()->accepts, hand().target()->sees_bodies() ? QColor() : theme().cutter};
}

bool AnswerTool::click(const Pointer& /*pointer*/) {
    if (const auto& hovered = view().under_pointer()) {
        const PickTarget target = *hand().target(); // by the time it is told, the next one may be waited for
        const auto& body = hovered->body;
        emit picked(target.sees_bodies() ? model::whole(target.many ? shown().clicked_id(body) : body)
                                         : shown().body(body)->elements->reference(body, hovered->element),
                    target.field);
    }
    return true;
}

bool AnswerTool::click_body(const model::BodyId& body, const Pointer& /*pointer*/) {
    if (hand().target()->sees_bodies()) {
        emit picked(model::whole(body), std::string(hand().target()->field));
    }
    return true;
}

bool AnswerTool::escape() {
    hand().set_target(std::nullopt);
    return true;
}

void AnswerTool::take_changes() {
    if (session().card() == 0 && hand().target()) {
        hand().set_target(std::nullopt);
    }
}

std::unique_ptr<ViewTool> make_answer_tool(Viewport& view) {
    return std::make_unique<AnswerTool>(view);
}

} // namespace kervo::app
