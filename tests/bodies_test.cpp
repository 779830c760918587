// Blades, cuts by bodies, joins and placing, from the window: by mouse and by keyboard.
#include "shaping_fixture.h"

#include "model/steps/blade/blade.h"
#include "model/steps/body_cut/body_cut.h"
#include "model/steps/join/join.h"
#include "model/steps/place/place.h"
#include "model/steps/stock/stock.h"

#include <QCheckBox>

#include <numbers>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;
using std::numbers::pi;

namespace {

constexpr auto also = Qt::ControlModifier; // besides what is selected

model::Stock pin(double x, double y, double diameter) {
    model::Stock stock;
    stock.shape.value = "cylinder";
    const auto text = [](double value) { return std::to_string(value) + " mm"; };
    stock.diameter.text = text(diameter);
    stock.height.text = "40 mm";
    stock.x.text = text(x);
    stock.y.text = text(y);
    stock.z.text = "-10 mm";
    return stock;
}

// The block and three pins through it: ids 20, 30, 40.
void bring_in_pins(Hand& hand) {
    bring_in_block(hand);
    for (const double x : {-25.0, 0.0, 25.0}) {
        bring_in(hand, pin(x, 0, 10), "Pin " + std::to_string(static_cast<int>(x)));
    }
}

// A blade made from what is selected; the block is cut by it. The volumes of its pieces, smallest first.
std::vector<double> blade_through_block(Hand& hand, const char* kind) {
    hand.key(Qt::Key_B);
    const auto& blade = *hand.document().step(hand.session().card())->definition.as<model::BladeStep>();
    if (blade.plane.plane.value != kind) {
        qFatal("the selection made a blade of the kind %s instead of %s", blade.plane.plane.value.c_str(), kind);
    }
    hand.key(Qt::Key_Escape); // picking ends, the card stays
    auto* tick = hand.find<QCheckBox>("tick_10");
    hand.reveal(tick);
    if (!tick->isChecked()) {
        hand.press(tick, QPoint(8, tick->height() / 2));
        hand.settle();
    }
    std::vector<double> volumes;
    for (const auto& piece : hand.output(hand.session().card()).pieces) {
        volumes.push_back(piece.volume);
    }
    std::sort(volumes.begin(), volumes.end());
    hand.press_button("Cancel");
    hand.model().hand().select({});
    return volumes;
}

constexpr double block = 80 * 60 * 20;

bool halves(const std::vector<double>& volumes, double smaller) {
    return volumes.size() == 2 && near(volumes[0], smaller) && near(volumes[1], block - smaller);
}

} // namespace

class BodiesTest : public QObject {
    Q_OBJECT

private slots:
    void initTestCase() { start_clean(); }

    void what_is_selected_makes_the_blade() {
        Hand hand;
        bring_in_block(hand);
        QVERIFY(halves(blade_through_block(hand, "principal"), block / 2));
        // Two faces: midway, also where they slope; the order does not matter.
        hand.press_model(0, 0, 20);
        hand.press_model(0, -30, 10, also);
        QCOMPARE(hand.selection().size(), size_t(2));
        // along the bisector from the upper front edge, 20 deep: a triangle
        QVERIFY(halves(blade_through_block(hand, "midway"), 80 * 20 * 20 / 2.0));
        // An edge and a face beside it: at 45 degrees the same.
        hand.press_model(0, -30, 20);
        hand.press_model(0, 0, 20, also);
        QVERIFY(halves(blade_through_block(hand, "edge_angle"), 80 * 20 * 20 / 2.0));
        // Three vertices: a corner is cut off.
        hand.press_model(-40, -30, 0);
        hand.press_model(40, -30, 20, also);
        hand.press_model(40, 30, 0, also);
        QVERIFY(halves(blade_through_block(hand, "points"), block / 6));
        // An edge alone: square to it, at half of its length.
        hand.press_model(0, -30, 20);
        QVERIFY(halves(blade_through_block(hand, "curve"), block / 2));
        // Taken out again, a vertex is no part of it; a face is left.
        hand.press_model(40, -30, 20);
        hand.press_model(0, 0, 20, also);
        hand.press_model(40, -30, 20, also);
        QCOMPARE(hand.selection().size(), size_t(1));
        hand.key(Qt::Key_B);
        QCOMPARE(last_step<model::BladeStep>(hand).plane.plane.value, std::string("face"));
        hand.find<QCheckBox>("tick_10")->click();
        hand.settle();
        hand.fill("field_offset", "-depth_of_cut");
        hand.press_button("Cancel");
    }

    void the_pointer_shows_the_marker() {
        Hand hand;
        bring_in_block(hand);
        hand.model().setFocus();
        const auto seen = [&] { return hand.model().cursor().pixmap().toImage(); };
        hand.key(Qt::Key_W);
        const QImage work = seen();
        hand.key(Qt::Key_C);
        const QImage cutter = seen();
        QVERIFY(!work.isNull() && !cutter.isNull() && work != cutter);
        hand.key(Qt::Key_D); // in a sketch, the tools have the pointer
        QCOMPARE(hand.model().cursor().shape(), Qt::ArrowCursor);
        hand.press_button("Cancel");
        QVERIFY(seen() == cutter);
    }

    void blades_by_face_point_and_round_face() {
        Hand hand;
        bring_in_block(hand);
        bring_in(hand, pin(20, 0, 16), "Pin");
        // A face and a vertex: parallel through it.
        hand.press_model(40, 0, 10);
        hand.press_model(-40, -30, 20, also);
        hand.key(Qt::Key_B);
        QCOMPARE(last_step<model::BladeStep>(hand).plane.plane.value, std::string("parallel"));
        hand.fill("field_offset", "5 mm - 80 mm");
        hand.press_button("Cancel");
        hand.model().hand().select({});
        // A round face: touching it, where it looks along x.
        hand.press_model(20, -8, 25);
        hand.key(Qt::Key_B);
        const int step = hand.session().card();
        QCOMPARE(last_step<model::BladeStep>(hand).plane.plane.value, std::string("tangent"));
        hand.press_model(-30, 10, 20); // with the work marker: this is cut
        QCOMPARE(last_step<model::BladeStep>(hand).workpieces.size(), size_t(1));
        QCOMPARE(hand.output(step).pieces.size(), size_t(2));
        QVERIFY(near(hand.output(step).pieces[0].volume + hand.output(step).pieces[1].volume, block));
        QVERIFY(near(std::min(hand.output(step).pieces[0].volume, hand.output(step).pieces[1].volume), 12 * 1200));
        hand.fill("field_turn", "180 deg"); // on its other side
        hand.settle();
        QVERIFY(near(std::min(hand.output(step).pieces[0].volume, hand.output(step).pieces[1].volume), 28 * 1200));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_blade_is_pulled_and_bounded_and_says_what_would_do() {
        Hand hand;
        bring_in_block(hand);
        hand.key(Qt::Key_B);
        const int step = hand.session().card();
        hand.find<QCheckBox>("tick_10")->click();
        hand.settle();
        // Pulled by its handle, from zero.
        hand.find_verb("Look from the front");
        for (const auto& dimension : hand.dimensions().dimensions()) {
            if (dimension.field == "offset") {
                const QPointF handle = hand.dimensions().handle_of(dimension);
                hand.drag(handle, hand.model().place_of(Point3(-12, 0, 0)));
                break;
            }
        }
        const double offset = std::stod(last_step<model::BladeStep>(hand).plane.offset.text);
        QVERIFY2(offset > -16 && offset < -8, qPrintable(QString::number(offset)));
        QVERIFY(near(hand.output(step).pieces[0].volume + hand.output(step).pieces[1].volume, block));
        hand.fill("field_offset", "10 mm");
        hand.fill("field_kerf", "2 mm");
        hand.settle();
        QCOMPARE(hand.output(step).pieces.size(), size_t(3));
        QVERIFY(near(hand.output(step).removed, 2 * 1200));
        hand.choose("field_bounds", "A rectangle");
        hand.fill("field_width", "30");
        hand.fill("field_height", "70");
        hand.settle();
        QVERIFY(has_error(hand.session().report(step)->findings));
        QVERIFY(hand.find<QLabel>("problem")->text().contains("A rectangle of 60 mm by 70 mm"));
        hand.press_button("Make it endless");
        hand.settle();
        QVERIFY(!has_error(hand.session().report(step)->findings));
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        hand.settle();
        hand.press_button("Bound it by 60 mm by 70 mm");
        hand.settle();
        QCOMPARE(last_step<model::BladeStep>(hand).width.text, std::string("60 mm"));
        QVERIFY(!has_error(hand.session().report(step)->findings));
        QVERIFY(near(hand.output(step).removed, 2 * 1200));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void markers_in_any_order_choose_workpieces_and_cutters() {
        Hand hand;
        bring_in_pins(hand);
        hand.key(Qt::Key_X, Qt::ShiftModifier);
        const int step = hand.session().card();
        hand.key(Qt::Key_C);
        hand.press_model(-25, 0, 30); // the tops of two pins
        hand.key(Qt::Key_W);
        hand.press_model(35, -25, 20); // the block
        hand.key(Qt::Key_C);
        hand.press_model(25, 0, 30);
        const auto first = last_step<model::BodyCut>(hand);
        QCOMPARE(first.workpieces.size(), size_t(1));
        QCOMPARE(first.cutter_bodies.size(), size_t(2));
        QVERIFY(near(hand.output(step).removed, 2 * 25 * pi * 20));
        // A ghost of a cutter that is used up is clicked again: it is no cutter any more.
        hand.press_model(25, 0, 30);
        QCOMPARE(last_step<model::BodyCut>(hand).cutter_bodies.size(), size_t(1));
        QVERIFY(near(hand.output(step).removed, 25 * pi * 20));
        hand.press_model(25, 0, 30);
        hand.press_button("Accept");
        const auto by_markers = hand.document();
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        // The other way round: the block is selected before the verb.
        hand.press_model(35, -25, 20);
        hand.press_model(35, -25, 20);
        hand.key(Qt::Key_X, Qt::ShiftModifier);
        hand.key(Qt::Key_C);
        hand.press_model(-25, 0, 30);
        hand.press_model(25, 0, 30);
        hand.press_button("Accept");
        QVERIFY(model::same_content(hand.document(), by_markers));
        // By keyboard alone, from the lists.
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        hand.model().hand().select({});
        hand.key(Qt::Key_X, Qt::ShiftModifier);
        auto* tick = hand.find<QCheckBox>("tick_10");
        tick->setFocus(Qt::TabFocusReason);
        hand.key(Qt::Key_Space);
        add_from_list(hand, "field_cutters", "Pin -25");
        add_from_list(hand, "field_cutters", "Pin 25");
        hand.key(Qt::Key_Return, Qt::ControlModifier);
        QVERIFY(near(hand.output(hand.document().steps.back()->id).removed, 2 * 25 * pi * 20));
    }

    void a_short_cutter_is_one_click_away() {
        Hand hand;
        bring_in_block(hand);
        model::Stock short_pin = pin(0, 0, 10);
        short_pin.height.text = "26 mm"; // from -10: 4 mm short of the top
        bring_in(hand, short_pin, "Short pin");
        hand.key(Qt::Key_X, Qt::ShiftModifier);
        const int step = hand.session().card();
        hand.find<QCheckBox>("tick_10")->click();
        add_from_list(hand, "field_cutters", "Short pin");
        hand.settle();
        const auto& findings = hand.session().report(step)->findings;
        QCOMPARE(findings.size(), size_t(1));
        auto* told = hand.find<QLabel>("caution");
        QVERIFY(told->isVisible() && told->text().contains("4.000 mm"));
        hand.press_button("It is meant to end there");
        QVERIFY(hand.session().report(step)->findings.empty());
        QVERIFY(!hand.window().findChild<QWidget*>("findings")->isVisible());
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        hand.settle();
        hand.press_button("Open Short pin, step 20");
        QCOMPARE(hand.session().card(), 20);
        hand.fill("field_height", "40");
        hand.press_button("Accept");
        QVERIFY(hand.session().report(step)->findings.empty());
        QVERIFY(near(hand.output(step).removed, 25 * pi * 20));
        undo_all_and_redo(hand);
    }

    void verdicts_by_frame_by_click_and_for_several() {
        Hand hand;
        bring_in_pins(hand);
        hand.key(Qt::Key_X, Qt::ShiftModifier);
        const int step = hand.session().card();
        hand.press_model(35, -25, 20);
        hand.key(Qt::Key_C);
        for (const double x : {-25.0, 0.0, 25.0}) {
            hand.press_model(x, 0, 30);
        }
        QCOMPARE(hand.output(step).pieces.size(), size_t(4));
        QVERIFY(near(hand.output(step).removed, 3 * 25 * pi * 20));
        hand.find_verb("Look from the top");
        hand.key(Qt::Key_W);
        const auto at = [&](double x, double y) { return hand.model().place_of(Point3(x, y, 20)); };
        // To the right: what is wholly inside. Two plugs go; now they stay, and grow together again with the block.
        hand.drag(at(-34, 12), at(9, -12), Qt::LeftButton, Qt::ControlModifier);
        QVERIFY(near(hand.output(step).removed, 25 * pi * 20));
        QCOMPARE(last_step<model::BodyCut>(hand).verdicts.size(), size_t(2));
        // To the left: what it touches. The same frame from the other side takes the third one's rim too.
        hand.drag(at(22, -12), at(-24, 12), Qt::LeftButton, Qt::ControlModifier);
        QVERIFY(near(hand.output(step).removed, 3 * 25 * pi * 20)); // not all of them went: now they do
        QCOMPARE(last_step<model::BodyCut>(hand).verdicts.size(), size_t(0));
        hand.press(&hand.model(), at(0, 0).toPoint()); // a click turns one round
        hand.settle();
        QVERIFY(near(hand.output(step).removed, 2 * 25 * pi * 20));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void bodies_are_united_and_separated() {
        Hand hand;
        bring_in_pins(hand);
        // Two clicks choose a body; Ctrl adds another one.
        hand.press_model(35, -25, 20);
        hand.press_model(35, -25, 20);
        QCOMPARE(hand.selection().front().kind, model::ElementKind::body);
        hand.key(Qt::Key_J);
        const int step = hand.session().card();
        QCOMPARE(last_step<model::Join>(hand).bodies.size(), size_t(1));
        hand.press_model(-25, 0, 30);
        hand.press_model(25, 0, 30);
        QCOMPARE(last_step<model::Join>(hand).bodies.size(), size_t(3));
        const double together = block + 2 * 25 * pi * 20;
        QVERIFY(near(hand.volume("Block"), together));
        hand.choose("field_operation", "What is common");
        QVERIFY(has_error(hand.session().report(step)->findings)); // nothing is common to all three
        hand.choose("field_operation", "All");
        hand.press_button("Accept");
        QVERIFY(near(hand.volume("Block"), together));
        undo_all_and_redo(hand);
    }

    void a_body_is_brought_flush_by_its_faces() {
        Hand hand;
        bring_in_block(hand);
        model::Stock small;
        small.width.text = small.depth.text = "10";
        small.height.text = "30";
        small.x.text = "70";
        bring_in(hand, small, "Peg");
        hand.press_model(75, 0, 15); // its right side
        hand.key(Qt::Key_L, Qt::ShiftModifier);
        const int step = hand.session().card();
        hand.press_model(0, 0, 20); // what comes next is the target: the top of the block
        const auto& placed = last_step<model::PlaceBodies>(hand);
        QCOMPARE(placed.carried.size(), size_t(1));
        QCOMPARE(placed.target.size(), size_t(1));
        QVERIFY(!has_error(hand.session().report(step)->findings));
        QVERIFY(near(hand.box("20").low.z, 20) && near(hand.box("20").high.z, 30)); // it lies on its side
        hand.fill("field_gap", "3");
        hand.settle();
        QVERIFY(near(hand.box("20").low.z, 23));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_body_is_moved_and_turned_by_its_handles() {
        Hand hand;
        bring_in_block(hand);
        hand.press_model(0, 0, 20);
        hand.press_model(0, 0, 20);
        hand.key(Qt::Key_M, Qt::ShiftModifier);
        hand.find_verb("Look from the top");
        const auto handle = [&](const std::string& field) {
            for (const auto& dimension : hand.dimensions().dimensions()) {
                if (dimension.field == field) {
                    return hand.dimensions().handle_of(dimension);
                }
            }
            qFatal("no handle for %s", field.c_str());
        };
        hand.fill("field_x", "-30 mm");
        hand.settle();
        hand.drag(handle("x"), hand.model().place_of(Point3(30, 0, 10))); // it stands half of the length beside
        const double x = std::stod(last_step<model::PlaceBodies>(hand).x.text);
        QVERIFY2(x > -16 && x < -4, qPrintable(QString::number(x)));
        const QPointF middle = hand.model().place_of(Point3(0, 0, 10));
        const QPointF start = handle("angle");
        const double arm = QLineF(middle, start).length();
        hand.drag(start, middle + QPointF(0, -arm), Qt::LeftButton); // a quarter round
        const double angle = std::stod(last_step<model::PlaceBodies>(hand).angle.text);
        QVERIFY2(angle > 86 && angle < 94, qPrintable(QString::number(angle)));
        hand.drag(handle("angle"), middle + QPointF(arm * 0.6, -arm * 0.8), Qt::LeftButton, Qt::ShiftModifier);
        const double step = std::stod(last_step<model::PlaceBodies>(hand).angle.text);
        QVERIFY2(near(std::fmod(step, 15), 0) && step < angle, qPrintable(QString::number(step)));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }
};

int main(int argc, char** argv) {
    return run<BodiesTest>(argc, argv);
}

#include "bodies_test.moc"
