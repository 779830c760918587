// What tests share that work on a block in the window.
#pragma once

#include "model/steps/stock/stock.h"
#include "window_fixture.h"

namespace kervo::app::test {

/// Adds a step at the end, in sight.
inline void bring_in(Hand& hand, const model::StepDefinition& definition, const std::string& name) {
    hand.session().edit(
        [&](model::Document document) { return model::add_step(std::move(document), definition, name, -1, nullptr); });
    hand.settle();
    hand.model().fit();
}

/// A block of 80 x 60 x 20, id 10.
inline void bring_in_block(Hand& hand) {
    model::Stock block;
    block.width.text = "80";
    block.depth.text = "60";
    block.height.text = "20";
    bring_in(hand, block, "Block");
}

/// Adds from the list of a field, by keyboard alone.
inline void add_from_list(Hand& hand, const QString& field, const QString& text) {
    auto* box = hand.find<QComboBox>(field);
    hand.reveal(box);
    box->setFocus(Qt::TabFocusReason);
    const int wanted = box->findText(text, Qt::MatchStartsWith);
    QVERIFY2(wanted >= 0, qPrintable(text));
    hand.key(Qt::Key_Down);
    auto* view = box->view();
    QVERIFY(QTest::qWaitFor([&] { return view->isVisible(); }));
    QTest::keyClick(view, Qt::Key_Home);
    for (int i = 0; i < wanted; ++i) {
        QTest::keyClick(view, Qt::Key_Down);
    }
    QTest::keyClick(view, Qt::Key_Return);
    hand.settle();
}

/// The definition of the last step.
template <class Definition> const Definition& last_step(Hand& hand) {
    return *hand.document().steps.back()->definition.as<Definition>();
}

/// Back to the start, and again: equal.
inline void undo_all_and_redo(Hand& hand) {
    const auto made = hand.document();
    while (hand.session().can_undo()) {
        hand.key(Qt::Key_Z, Qt::ControlModifier);
    }
    QVERIFY(hand.document().steps.empty());
    while (hand.session().can_redo()) {
        hand.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    }
    QVERIFY(model::same_content(hand.document(), made));
}

} // namespace kervo::app::test
