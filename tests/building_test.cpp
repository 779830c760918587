// Openings, shifted faces, paths, skins between outlines, leaning and thin extrudes, draft, planned steps and notes,
// from the window: by mouse and by keyboard.
#include "shaping_fixture.h"

#include "app/cards/step_card.h"
#include "model/steps/along_path/along_path.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/loft/loft.h"
#include "model/steps/opening/opening.h"
#include "model/steps/repeat/repeat.h"
#include "model/steps/shift_faces/shift_faces.h"
#include "model/steps/sketch/sketch_step.h"

#include <QCheckBox>

#include <numbers>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;
using std::numbers::pi;

namespace {

const double corner = 1 - pi / 4; // what a round of radius 1 takes from a square corner

int draw(Hand& hand, const std::string& name, const std::function<void(model::SketchStep&)>& edit) {
    model::SketchStep drawn;
    edit(drawn);
    int id = 0;
    hand.session().edit(
        [&](model::Document document) { return model::add_step(std::move(document), drawn, name, -1, &id); });
    hand.settle();
    return id;
}

void add_disc(sketch::Sketch& drawing, double x, double y, double radius) {
    const int center = drawing.add_point(x, y);
    drawing.add_constraint(sketch::ConstraintKind::fixed, {center});
    drawing.add_circle(center, radius);
}

// Everything without the mouse: what has the focus gets keys.
void push(Hand& hand, QWidget* button) {
    hand.reveal(button);
    button->setFocus(Qt::TabFocusReason);
    hand.key(Qt::Key_Space);
}
void answer(Hand& hand, const QString& name, const QString& text) {
    auto* field = hand.find<QLineEdit>(name);
    hand.reveal(field);
    field->setFocus(Qt::TabFocusReason);
    hand.key(Qt::Key_A, Qt::ControlModifier);
    hand.type(text);
    hand.key(Qt::Key_Tab);
}
// A tool of the sketch, and what is typed for each of its places.
void draw_typed(Hand& hand, Qt::Key tool, const std::vector<std::vector<QString>>& places) {
    hand.model().setFocus();
    hand.key(tool);
    for (const auto& numbers : places) {
        for (size_t i = 0; i < numbers.size(); ++i) {
            if (i > 0) {
                hand.key(Qt::Key_Tab);
            }
            hand.type(numbers[i]);
        }
        hand.key(Qt::Key_Return);
    }
}
int sketch_on(Hand& hand, const QString& plane) {
    hand.model().setFocus();
    hand.key(Qt::Key_D);
    hand.choose("field_plane", plane);
    return hand.session().card();
}
void accept(Hand& hand) {
    hand.key(Qt::Key_Return, Qt::ControlModifier);
    QCOMPARE(hand.session().card(), 0);
}

} // namespace

class BuildingTest : public QObject {
    Q_OBJECT

private slots:
    void initTestCase() { start_clean(); }

    void an_opening_is_placed_pulled_and_repeated() {
        Hand hand;
        bring_in_block(hand);
        hand.press_model(0, -30, 10); // the front face is selected: it is the wall
        hand.key(Qt::Key_O, Qt::ShiftModifier);
        const int step = hand.session().card();
        hand.key(Qt::Key_Escape);
        hand.fill("field_width", "10");
        hand.fill("field_height", "8");
        hand.fill("field_across", "12");
        hand.fill("field_up", "5");
        hand.settle();
        QVERIFY(near(hand.output(step).removed, 10 * 8 * 60));
        // Pulled along the wall by its handle; its number follows.
        hand.find_verb("Look from the front");
        for (const auto& dimension : hand.dimensions().dimensions()) {
            if (dimension.field == "across") {
                const QPointF handle = hand.dimensions().handle_of(dimension);
                const QPointF far = hand.model().place_of(Point3(20, -30, dimension.end[2]));
                hand.drag(handle, QPointF(far.x(), handle.y()));
                break;
            }
        }
        const double across = std::stod(last_step<model::Opening>(hand).across.text);
        QVERIFY2(across > 40 && across < 70, qPrintable(QString::number(across)));
        QVERIFY(near(hand.output(step).removed, 10 * 8 * 60));
        // From behind, the wall lies before all of its numbers; from the front none is hidden.
        const auto hidden = [&] {
            const auto all = hand.dimensions().dimensions();
            return std::count_if(all.begin(), all.end(),
                                 [&](const auto& dimension) { return hand.model().is_hidden(dimension.end); });
        };
        QCOMPARE(hidden(), 0);
        hand.find_verb("Look from the back");
        QCOMPARE(hidden(), 4);
        hand.find_verb("Look from the front");
        hand.fill("field_across", "0");
        hand.fill("field_up", "0"); // a door, in the corner
        hand.fill("field_count", "3");
        hand.fill("field_spacing", "20");
        hand.settle();
        QVERIFY(near(hand.output(step).removed, 3 * 10 * 8 * 60));
        hand.choose("field_shape", "Round");
        hand.fill("field_across", "5");
        hand.fill("field_up", "4");
        hand.settle();
        QVERIFY(near(hand.output(step).removed, 3 * pi * 25 * 60));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void faces_are_shifted_by_mouse_and_keyboard() {
        Hand hand;
        bring_in_block(hand);
        hand.press_model(0, 0, 20);
        hand.key(Qt::Key_F, Qt::ShiftModifier);
        const int step = hand.session().card();
        hand.fill("field_distance", "rise = 6 mm");
        hand.settle();
        QVERIFY(near(hand.output(step).added, 80 * 60 * 6));
        hand.press_button("Accept");
        hand.set_formula(0, "-4 mm");
        QVERIFY(near(hand.volume("Block"), 80 * 60 * 16));
        hand.open_step(20);
        hand.choose("field_motion", "Turned");
        hand.choose("field_axis", "y");
        hand.fill("field_angle", "10");
        hand.settle();
        QVERIFY(near(hand.volume("Block"), 80 * 60 * 20 / std::cos(10 * pi / 180), 1e-7));
        add_from_list(hand, "field_faces", "under face");
        QCOMPARE(last_step<model::ShiftFaces>(hand).faces.size(), 2u);
        QVERIFY(near(hand.volume("Block"), 80 * 60 * 20 / std::cos(10 * pi / 180), 1e-7)); // both turn
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_groove_along_edges_and_a_rod_along_a_sketch() {
        Hand hand;
        bring_in_block(hand);
        draw(hand, "Round tool", [](model::SketchStep& s) { add_disc(s.drawing, 0, 0, 3); });
        hand.find_verb("Cut along a path");
        const int step = hand.session().card();
        hand.press(hand.named("Take all regions"));
        hand.settle();
        hand.press(hand.find<QCheckBox>("tick_10"), QPoint(8, 8));
        hand.choose("field_placed", "Square to the path");
        add_from_list(hand, "field_path_edges", "front face and upper face");
        QVERIFY(near(hand.output(step).removed, pi * 9 / 4 * 80, 1e-7));
        // Another edge by a click; they meet at a corner.
        hand.press(hand.named("Pick for Edges"));
        hand.press_model(40, 0, 20);
        QCOMPARE(last_step<model::AlongPath>(hand).path_edges.size(), 2u);
        const double quarter = pi * 9 / 4;
        QVERIFY(near(hand.output(step).removed, quarter * (80 + 60 - 2 * (4 * 3 / (3 * pi))), 1e-6));
        hand.key(Qt::Key_Escape);
        hand.press_button("Accept");
        const int way = draw(hand, "Way", [](model::SketchStep& s) {
            s.offset.text = "60";
            const int from = s.drawing.add_point(0, 0);
            const int corner = s.drawing.add_point(30, 0);
            const int to = s.drawing.add_point(30, 40);
            s.drawing.add_line(from, corner);
            s.drawing.add_line(corner, to);
        });
        hand.find_verb("Along a path");
        const int rod = hand.session().card();
        hand.choose("field_sketch", "20");
        hand.press(hand.named("Take all regions"));
        hand.settle();
        hand.choose("field_path", "The curves");
        hand.choose("field_path_sketch", "40");
        QCOMPARE(last_step<model::AlongPath>(hand).path_sketch.step, way);
        hand.choose("field_placed", "Square to the path");
        QVERIFY(near(hand.output(rod).added, pi * 9 * 70, 1e-7));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_skin_between_two_sketches() {
        Hand hand;
        draw(hand, "Foot", [](model::SketchStep& s) { s.drawing.add_rectangle({-20, -20}, {20, 20}); });
        draw(hand, "Head", [](model::SketchStep& s) {
            s.offset.text = "30";
            s.drawing.add_rectangle({-10, -10}, {10, 10});
        });
        hand.find_verb("Between outlines");
        const int step = hand.session().card();
        hand.choose("field_sketch", "10");
        hand.model().fit();
        hand.press_sketch(5, 5);
        QCOMPARE(last_step<model::Loft>(hand).regions.size(), 1u);
        // The clicks take regions of the other sketch now.
        hand.take_from_next_menu("20 Head");
        hand.press(hand.named("More about regions"));
        hand.settle();
        hand.press_sketch(5, 5);
        QCOMPARE(last_step<model::Loft>(hand).regions.size(), 2u);
        QVERIFY(near(hand.output(step).added, 30.0 / 3 * (1600 + 400 + 800), 1e-7));
        hand.choose("field_leaves", "Square");
        hand.choose("field_arrives", "Square");
        QVERIFY(hand.output(step).added > 1);
        QVERIFY(!near(hand.output(step).added, 28000, 1e-3));
        // One is taken off again, from its line.
        hand.press(hand.named("Take off 20 Head at 0.0, 0.0"));
        hand.settle();
        QCOMPARE(last_step<model::Loft>(hand).regions.size(), 1u);
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(last_step<model::Loft>(hand).regions.size(), 2u);
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void extrudes_thin_leaning_and_each_as_far_as_it_says() {
        Hand hand;
        draw(hand, "Two", [](model::SketchStep& s) {
            s.drawing.add_rectangle({-30, -10}, {-10, 10});
            s.drawing.add_rectangle({10, -10}, {30, 10});
        });
        hand.model().setFocus();
        hand.key(Qt::Key_E);
        const int step = hand.session().card();
        hand.press(hand.named("Take all regions"));
        hand.settle();
        QVERIFY(near(hand.output(step).added, 2 * 400 * 10));
        hand.take_from_next_menu("Distance for each region");
        hand.press(hand.named("More about regions"));
        hand.settle();
        hand.fill("own_regions_1", "low = 4 mm");
        hand.settle();
        QVERIFY(near(hand.output(step).added, 400 * 14));
        hand.choose("field_filled", "A wall");
        QVERIFY(near(hand.output(step).added, (400 - 256) * 14));
        hand.fill("field_inside", "3");
        hand.settle();
        QVERIFY(near(hand.output(step).added, (400 - 196) * 14));
        hand.choose("field_direction", "Leaning");
        hand.fill("field_lean", "60 deg");
        hand.settle();
        QVERIFY(near(hand.output(step).added, (400 - 196) * 7, 1e-7));
        hand.press_button("Accept");
        hand.set_formula(0, "6 mm");
        QVERIFY(near(hand.volume("Extrude"), (400 - 196) * 8, 1e-7));
        undo_all_and_redo(hand);
    }

    void tapers_and_ends_at_bodies() {
        Hand hand;
        bring_in_block(hand);
        draw(hand, "Disc", [](model::SketchStep& s) {
            s.offset.text = "50";
            add_disc(s.drawing, 0, 0, 10);
        });
        hand.model().setFocus();
        hand.key(Qt::Key_E);
        const int step = hand.session().card();
        hand.press(hand.named("Take all regions"));
        hand.settle();
        hand.choose("field_to", "A body");
        hand.choose("field_way", "Back");
        hand.choose("field_to_body", "Block");
        QVERIFY(near(hand.output(step).added, pi * 100 * 30, 1e-7));
        hand.choose("field_to", "A distance");
        hand.fill("field_distance", "20");
        hand.fill("field_taper", "10 deg");
        hand.settle();
        const double end = 10 - 20 * std::tan(10 * pi / 180);
        QVERIFY(near(hand.output(step).added, pi * 20 / 3 * (100 + end * end + 10 * end), 1e-7));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void faces_lean_for_a_mould() {
        Hand hand;
        bring_in_block(hand);
        hand.press_model(40, 0, 10);
        hand.find_verb("Draft");
        const int step = hand.session().card();
        hand.key(Qt::Key_Escape);
        hand.choose("field_neutral", "under face");
        hand.fill("field_angle", "5");
        hand.settle();
        QVERIFY2(hand.session().report(step)->findings.empty(), "draft");
        QVERIFY(
            near(hand.output(step).removed + hand.output(step).added, 20 * 20 * std::tan(5 * pi / 180) / 2 * 60, 1e-7));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void the_counterweight_by_keyboard_alone() {
        Hand hand;
        hand.add_parameter("body_h", "70 mm");
        sketch_on(hand, "xz");
        draw_typed(hand, Qt::Key_R, {{"8", "0"}, {"24", "body_h"}});
        accept(hand);
        hand.model().setFocus();
        hand.key(Qt::Key_V);
        push(hand, hand.named("Take all regions"));
        hand.choose("field_axis", "The sketch's y-axis");
        accept(hand);
        const auto whole = [](double height) { return pi * (32 * 32 - 64) * height; };
        QVERIFY(near(hand.volume("Revolve"), whole(70)));

        sketch_on(hand, "xz");
        draw_typed(hand, Qt::Key_O, {{"34", "52"}, {"10"}});
        accept(hand);
        hand.find_verb("Revolve cut");
        push(hand, hand.named("Take all regions"));
        hand.choose("field_axis", "The sketch's y-axis");
        push(hand, hand.find<QCheckBox>("tick_20"));
        accept(hand);
        // What is left at a height, less what the flat takes there.
        const auto section = [](double z, double flat) {
            const double into = 25 - (z - 52) * (z - 52);
            const double r = into > 4 ? 34 - std::sqrt(into) : 32;
            const double segment = flat < r ? r * r * std::acos(flat / r) - flat * std::sqrt(r * r - flat * flat) : 0;
            return pi * (r * r - 64) - segment;
        };
        const auto wanted = [&](double height, double flat) {
            constexpr int steps = 200000;
            double sum = 0;
            for (int i = 0; i < steps; ++i) {
                sum += section((i + 0.5) * height / steps, flat) * height / steps;
            }
            return sum;
        };
        QVERIFY(near(hand.volume("Revolve"), wanted(70, 40), 1e-6));

        sketch_on(hand, "xy");
        draw_typed(hand, Qt::Key_R, {{"28", "-40"}, {"20", "80"}});
        accept(hand);
        hand.model().setFocus();
        hand.key(Qt::Key_X);
        push(hand, hand.named("Take all regions"));
        hand.choose("field_to", "Everything, both ways");
        push(hand, hand.find<QCheckBox>("tick_20"));
        accept(hand);
        QVERIFY(near(hand.volume("Revolve"), wanted(70, 28), 1e-6));

        // The rim of the bore, rounded.
        hand.model().setFocus();
        hand.key(Qt::Key_R, Qt::ShiftModifier);
        hand.key(Qt::Key_Escape);
        auto* edges = hand.find<QComboBox>("field_edges");
        QString rim;
        for (int i = 0; i < edges->count(); ++i) {
            if (edges->itemText(i).contains(QString::fromUtf8("rim, \u00d816"))) { // once round a bore of 16
                rim = edges->itemText(i);
            }
        }
        QVERIFY(!rim.isEmpty());
        add_from_list(hand, "field_edges", rim);
        answer(hand, "field_radius", "1 mm");
        hand.settle();
        accept(hand);
        const double round = 2 * pi * (8 + (10 - 3 * pi) / (12 - 3 * pi)) * corner;
        QVERIFY(near(hand.volume("Revolve"), wanted(70, 28) - round, 1e-6));
        hand.set_formula(0, "60 mm");
        QVERIFY(near(hand.volume("Revolve"), wanted(60, 28) - round, 1e-6));
        undo_all_and_redo(hand);
    }

    void copies_are_left_out_by_click_and_by_number() {
        Hand hand;
        bring_in_block(hand);
        draw(hand, "Hole", [](model::SketchStep& s) { add_disc(s.drawing, -30, 0, 3); });
        hand.session().edit([](model::Document document) {
            model::Extrude cut = model::Extrude::cut();
            cut.sketch.step = 20;
            cut.extent.to.value = "everything_both";
            cut.regions.push_back({{}, {-30, 0}});
            cut.workpieces.push_back({model::ElementKind::body, "10", {}, {}, {}});
            return model::add_step(std::move(document), cut, "Cut", -1, nullptr);
        });
        hand.settle();
        hand.model().setFocus();
        hand.key(Qt::Key_D, Qt::ShiftModifier);
        const int step = hand.session().card();
        hand.fill("field_count", "4");
        hand.fill("field_spacing", "15");
        hand.settle();
        const double one = pi * 9 * 20;
        QVERIFY(near(hand.output(step).removed, 3 * one));
        // The mark of the third stands in its middle; once more takes it back.
        hand.find_verb("Look from the top");
        hand.press_model(0, 0, 10);
        QCOMPARE(last_step<model::Repeat>(hand).pattern.left_out.all, std::vector<std::string>{"3"});
        QVERIFY(near(hand.output(step).removed, 2 * one));
        hand.press_model(0, 0, 10);
        QVERIFY(near(hand.output(step).removed, 3 * one));
        answer(hand, "field_left_out", "2, 4");
        hand.settle();
        QVERIFY(near(hand.output(step).removed, one));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_planned_step_has_a_note_and_becomes_another() {
        Hand hand;
        bring_in_block(hand);
        hand.find_verb("Planned step");
        const int step = hand.session().card();
        auto* name = hand.find<QLineEdit>("step_name");
        hand.press(name);
        hand.type("Rims");
        hand.key(Qt::Key_Tab);
        auto* note = hand.find<NoteEdit>("note");
        hand.reveal(note);
        hand.press(note);
        hand.type("ask the workshop");
        hand.key(Qt::Key_Tab);
        QCOMPARE(hand.document().step(step)->note, std::string("ask the workshop"));
        hand.press_button("Accept");
        auto* row = hand.find<QPushButton>(QString("step_%1").arg(step));
        QVERIFY(row->accessibleName().contains("planned"));
        QVERIFY(row->toolTip().contains("ask the workshop"));
        // Opened again, it becomes what is started.
        hand.open_step(20);
        hand.model().setFocus();
        hand.key(Qt::Key_B, Qt::ShiftModifier);
        QCOMPARE(hand.session().card(), step);
        QCOMPARE(hand.document().steps.size(), size_t(2));
        hand.key(Qt::Key_Escape);
        add_from_list(hand, "field_edges", "front face and right face");
        hand.fill("field_distance", "2");
        hand.settle();
        QVERIFY(near(hand.output(step).removed, 2 * 20));
        QCOMPARE(hand.document().step(step)->name, std::string("Rims"));
        QCOMPARE(hand.document().step(step)->note, std::string("ask the workshop"));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }
};

int main(int argc, char** argv) {
    return run<BuildingTest>(argc, argv);
}
#include "building_test.moc"
