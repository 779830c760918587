// Rounds, bevels, holes, hollow bodies, repeats and copies, from the window: by mouse and by keyboard.
#include "part21.h"
#include "shaping_fixture.h"

#include "model/document/groups_and_layers.h"
#include "model/steps/round_edges/round_edges.h"
#include "model/steps/sketch/sketch_step.h"

#include <QCheckBox>
#include <QLabel>
#include <QTemporaryDir>

#include <numbers>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;
using std::numbers::pi;

namespace {

const double corner = 1 - pi / 4; // what a round of radius 1 takes from a square corner

void draw_points(Hand& hand, const std::vector<sketch::Point2>& places) {
    model::SketchStep drawn;
    drawn.offset.text = "20";
    for (const auto& [x, y] : places) {
        drawn.drawing.add_constraint(sketch::ConstraintKind::fixed, {drawn.drawing.add_point(x, y)});
    }
    hand.session().edit(
        [&](model::Document document) { return model::add_step(std::move(document), drawn, "Places", -1, nullptr); });
    hand.settle();
}

} // namespace

class ShapingTest : public QObject {
    Q_OBJECT

private slots:
    void initTestCase() { start_clean(); }

    // A leaf in a dome in a room; the leaf lies on a layer.
    void imported_bodies_are_sorted_as_their_file_is() {
        io::test::Part21 file;
        const int units = file.context();
        const int here = file.axis({0, 0, 0});
        const int solid = file.solid(file.box({0, 0, 0}, {20, 30, 40}));
        const auto leaf = file.product("Leaf", {solid, here}, units);
        file.add("PRESENTATION_LAYER_ASSIGNMENT('Steel','',(" + io::test::Part21::to(solid) + "))");
        const int there = file.axis({100, 0, 0});
        const auto dome = file.product("Dome", {here, there}, units, "SHAPE_REPRESENTATION");
        file.place(leaf, dome, "", here, there);
        const auto room = file.product("Room", {here}, units, "SHAPE_REPRESENTATION");
        file.place(dome, room, "", here, here);
        const QTemporaryDir folder;
        QFile written(folder.filePath("room.step"));
        QVERIFY(written.open(QIODevice::WriteOnly));
        written.write(QByteArray::fromStdString(file.text()));
        written.close();

        Hand hand;
        QVERIFY(!hand.session().import_file(written.fileName()));
        hand.settle();
        hand.session().open_card(10);
        hand.settle();
        QVERIFY(near(hand.volume("Leaf"), 20 * 30 * 40));
        QVERIFY(hand.document().groups.empty());
        auto* button = hand.find<QPushButton>("offer");
        QCOMPARE(button->text(), QString("Sort as in the file"));
        button->setFocus();
        hand.key(Qt::Key_Space);
        hand.settle();
        QCOMPARE(hand.document().groups.size(), 1u);
        QCOMPARE(hand.document().groups.front().name, std::string("Dome"));
        QCOMPARE(hand.document().layers.front().name, std::string("Steel"));
        const auto& look = model::look_of(hand.document(), "10.1");
        QCOMPARE(look.group, hand.document().groups.front().id);
        QCOMPARE(look.layer, std::string("Steel"));
        for (const QPushButton* each : hand.window().findChildren<QPushButton*>("offer")) {
            QVERIFY(!each->isVisible()); // there is nothing left to sort
        }
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void edges_are_rounded_by_mouse() {
        Hand hand;
        bring_in_block(hand);
        // What is selected before the verb is what it is for.
        hand.press_model(40, -30, 10);
        QCOMPARE(hand.selection().size(), 1u);
        hand.key(Qt::Key_R, Qt::ShiftModifier);
        const int step = hand.session().card();
        QVERIFY(near(hand.output(step).removed, 4 * corner * 20));
        // The next clicks add edges, a second one takes off; the first edge is still seen as it was.
        hand.press_model(40, 0, 20);
        QCOMPARE(last_step<model::RoundEdges>(hand).choice.edges.size(), 2u);
        hand.press_model(40, -30, 10);
        QCOMPARE(last_step<model::RoundEdges>(hand).choice.edges.size(), 1u);
        QVERIFY(near(hand.output(step).removed, 4 * corner * 60));
        hand.key(Qt::Key_Escape);
        QVERIFY(!hand.model().hand().target());
        hand.fill("field_radius", "rim = 5 mm");
        hand.settle();
        QVERIFY(near(hand.output(step).removed, 25 * corner * 60));
        hand.choose("field_size", "A width");
        hand.fill("field_width", "4");
        hand.settle();
        QVERIFY(near(hand.output(step).removed, 8 * corner * 60));
        hand.press_button("Accept");
        QVERIFY(near(hand.volume("Block"), 80 * 60 * 20 - 8 * corner * 60));
        undo_all_and_redo(hand);
    }

    void edges_are_rounded_and_bevelled_by_keyboard() {
        Hand hand;
        bring_in_block(hand);
        hand.model().setFocus();
        hand.key(Qt::Key_R, Qt::ShiftModifier);
        const int round = hand.session().card();
        QCOMPARE(hand.session().report(round)->findings.front().code, std::string("step.unanswered"));
        hand.key(Qt::Key_Escape);
        add_from_list(hand, "field_edges", "front face and right face");
        add_from_list(hand, "field_edges", "back face and right face");
        QCOMPARE(last_step<model::RoundEdges>(hand).choice.edges.size(), 2u);
        hand.fill("field_radius", "50");
        hand.settle();
        const auto& finding = hand.session().report(round)->findings.front();
        QCOMPARE(finding.code, std::string("blend.failed"));
        QVERIFY(finding.cause.find("largest that fits") != std::string::npos);
        const auto offer = finding.offers.front();
        auto* button = hand.find<QPushButton>("offer");
        QCOMPARE(button->text().toStdString(), offer.says);
        button->setFocus();
        hand.key(Qt::Key_Space);
        hand.settle();
        QCOMPARE(last_step<model::RoundEdges>(hand).radius.text, offer.answers.at("radius"));
        QVERIFY(!has_error(hand.session().report(round)->findings));
        hand.fill("field_radius", "6");
        hand.settle();
        QVERIFY(near(hand.output(round).removed, 2 * 36 * corner * 20));
        hand.press(hand.named("Take off back face and right face, 20"));
        hand.settle();
        QVERIFY(near(hand.output(round).removed, 36 * corner * 20));
        hand.press_button("Accept");
        hand.model().setFocus();
        hand.key(Qt::Key_B, Qt::ShiftModifier);
        const int bevel = hand.session().card();
        hand.key(Qt::Key_Escape);
        hand.choose("field_by", "All between");
        add_from_list(hand, "field_first", "under face");
        add_from_list(hand, "field_second", "left face");
        hand.choose("field_size", "Two distances");
        hand.fill("field_distance", "3");
        hand.fill("field_other_distance", "4");
        hand.settle();
        QVERIFY(near(hand.output(bevel).removed, 6 * 60));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void holes_by_keyboard() {
        Hand hand;
        bring_in_block(hand);
        draw_points(hand, {{-20, 0}, {20, 0}});
        hand.model().setFocus();
        hand.key(Qt::Key_H, Qt::ShiftModifier);
        const int step = hand.session().card();
        hand.reveal(hand.find<QCheckBox>("tick_10"));
        hand.find<QCheckBox>("tick_10")->setFocus(Qt::TabFocusReason);
        hand.key(Qt::Key_Space);
        QVERIFY(near(hand.output(step).removed, 2 * pi * 9 * 20));
        QVERIFY(hand.find<QCheckBox>("tick_10")->isChecked());
        hand.choose("field_shape", "Counterbored");
        QVERIFY(near(hand.output(step).removed, 2 * (pi * 9 * 14 + pi * 5.5 * 5.5 * 6)));
        hand.choose("field_thread", "M6");
        QVERIFY(near(hand.output(step).removed, 2 * (pi * 6.25 * 14 + pi * 5.5 * 5.5 * 6)));
        hand.choose("field_to", "A depth");
        hand.fill("field_depth", "12");
        hand.choose("field_bottom", "Flat");
        QVERIFY(near(hand.output(step).removed, 2 * (pi * 6.25 * 6 + pi * 5.5 * 5.5 * 6)));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_body_is_hollowed_and_its_core_kept() {
        Hand hand;
        bring_in_block(hand);
        hand.press_model(0, 0, 20); // the upper face
        hand.key(Qt::Key_W, Qt::ShiftModifier);
        const int step = hand.session().card();
        QVERIFY(near(hand.output(step).removed, 76 * 56 * 18));
        hand.key(Qt::Key_Escape);
        hand.fill("field_thickness", "wall = 5 mm");
        hand.settle();
        QVERIFY(near(hand.output(step).removed, 70 * 50 * 15));
        hand.press_button("Accept");
        QVERIFY(near(hand.volume("Block"), 80 * 60 * 20 - 70 * 50 * 15));
        undo_all_and_redo(hand);
    }

    void a_cut_is_repeated_and_a_body_copied() {
        Hand hand;
        bring_in_block(hand);
        draw_points(hand, {{-30, -20}});
        hand.model().setFocus();
        hand.key(Qt::Key_H, Qt::ShiftModifier);
        hand.press(hand.find<QCheckBox>("tick_10"), QPoint(8, 8));
        hand.settle();
        hand.fill("field_diameter", "4");
        hand.press_button("Accept");
        const double one = pi * 4 * 20;
        // It is of the last cut, for the same bodies.
        hand.model().setFocus();
        hand.key(Qt::Key_D, Qt::ShiftModifier);
        const int step = hand.session().card();
        QVERIFY(near(hand.output(step).removed, 2 * one));
        hand.choose("field_arrange", "In a grid");
        hand.fill("field_count", "4");
        hand.fill("field_second_count", "3");
        hand.settle();
        QVERIFY(near(hand.output(step).removed, 11 * one));
        hand.fill("field_only_where", "index != row");
        hand.settle();
        QVERIFY(near(hand.output(step).removed, 9 * one)); // the first one is there already
        hand.fill("field_scale", "1 + away / 100 mm");
        hand.settle();
        QVERIFY(hand.output(step).removed > 9 * one);
        hand.press_button("Accept");
        hand.model().setFocus();
        hand.key(Qt::Key_C, Qt::ShiftModifier);
        hand.press(hand.find<QCheckBox>("tick_10"), QPoint(8, 8));
        hand.settle();
        hand.fill("field_spacing", "100");
        hand.settle();
        hand.press_button("Accept");
        QCOMPARE(hand.session().picture()->after.size(), 3u);
        QVERIFY(near(hand.volume("Block 3"), hand.volume("Block")));
        undo_all_and_redo(hand);
    }

    void one_card_makes_unites_and_cuts() {
        Hand hand;
        bring_in_block(hand);
        model::SketchStep drawn;
        drawn.offset.text = "20";
        const int center = drawn.drawing.add_point(10, 5);
        drawn.drawing.add_constraint(sketch::ConstraintKind::fixed, {center});
        drawn.drawing.add_circle(center, 8);
        hand.session().edit(
            [&](model::Document document) { return model::add_step(std::move(document), drawn, "Disc", -1, nullptr); });
        hand.settle();
        hand.model().setFocus();
        hand.key(Qt::Key_E);
        const int step = hand.session().card();
        hand.press(hand.named("Take all regions"));
        hand.settle();
        QVERIFY(near(hand.output(step).added, pi * 64 * 10));
        hand.choose("field_result", "Cuts bodies");
        hand.choose("field_way", "Back");
        hand.press(hand.find<QCheckBox>("tick_10"), QPoint(8, 8));
        hand.settle();
        QVERIFY(near(hand.output(step).removed, pi * 64 * 10));
        hand.choose("field_result", "Keeps the common part");
        QVERIFY(near(hand.output(step).removed, 80 * 60 * 20 - pi * 64 * 10));
        hand.choose("field_result", "A new body");
        QVERIFY(near(hand.output(step).added, pi * 64 * 10));
        hand.choose("field_result", "Cuts bodies"); // the bodies are still ticked
        QVERIFY(near(hand.output(step).removed, pi * 64 * 10));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }
};

int main(int argc, char** argv) {
    return run<ShapingTest>(argc, argv);
}
#include "shaping_test.moc"
