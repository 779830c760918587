// Groups, layers, pick levels and what is shown, from the window: by mouse and by keyboard.
#include "shaping_fixture.h"

#include "model/document/groups_and_layers.h"
#include "model/steps/body_cut/body_cut.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/join/join.h"
#include "model/steps/place/place.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"

#include <QCheckBox>
#include <QTimer>
#include <QTreeWidget>

#include <numbers>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;

namespace {

constexpr auto also = Qt::ControlModifier;
using Kind = model::ElementKind;

// A block 80 x 60 x 20 (10) and two posts of diameters 10 and 16 and height 30 on it, at x = -20 and 20 (20, 30).
void bring_in_posts(Hand& hand) {
    bring_in_block(hand);
    for (const auto& [x, diameter] : {std::pair("-20", "10"), std::pair("20", "16")}) {
        model::Stock post;
        post.shape.value = "cylinder";
        post.diameter.text = diameter;
        post.height.text = "30";
        post.x.text = x;
        post.z.text = "20";
        bring_in(hand, post, std::string("Post ") + diameter);
    }
}

// Drags a row onto another. The drag has an event loop of its own, into which the way and the end are sent.
void drag_row(Hand& hand, const QString& name, const QString& onto) {
    auto* tree = hand.window().findChild<QTreeWidget*>();
    const auto place = [&](const QString& row) {
        return tree->viewport()->mapTo(&hand.window(), tree->visualItemRect(row_called(hand, row)).center());
    };
    QWindow* window = hand.window().windowHandle();
    const QPoint from = place(name);
    const QPoint to = place(onto);
    QTest::mousePress(window, Qt::LeftButton, {}, from);
    QTimer::singleShot(200, window, [window, to] { QTest::mouseMove(window, to - QPoint(2, 0)); });
    QTimer::singleShot(300, window, [window, to] { QTest::mouseMove(window, to); });
    QTimer::singleShot(500, window, [window, to] { QTest::mouseRelease(window, Qt::LeftButton, {}, to); });
    QTest::mouseMove(window, from + QPoint(6, 6));
    QTest::mouseMove(window, from + QPoint(16, 12));
    QTest::qWait(700);
    hand.settle();
}

void group_posts(Hand& hand) {
    press_row(hand, "Post 10");
    press_row(hand, "Post 16", also);
    hand.key(Qt::Key_G, Qt::ControlModifier);
}

void set_level(Hand& hand, PickLevel level) {
    for (int i = 0; hand.model().hand().level() != level && i < 10; ++i) {
        hand.key(Qt::Key_U);
    }
    QCOMPARE(hand.model().hand().level(), level);
}

std::multiset<std::string> chosen(Hand& hand) {
    std::multiset<std::string> words;
    for (const model::Reference& reference : hand.selection()) {
        words.insert(to_string(reference.kind) + " " + reference.body);
    }
    return words;
}
using Chosen = std::multiset<std::string>;
bool same(const Chosen& made, const Chosen& wanted) {
    if (made != wanted) {
        for (const auto& each : made) {
            qWarning("chosen: %s", each.c_str());
        }
    }
    return made == wanted;
}

double low_of(Hand& hand, const model::BodyId& wanted) {
    return hand.box(wanted).low.z;
}

} // namespace

class ContentsTest : public QObject {
    Q_OBJECT

private slots:
    void initTestCase() { start_clean(); }

    void clicks_take_what_the_level_says() {
        Hand hand;
        bring_in_posts(hand);
        hand.model().setFocus();
        hand.press_model(0, -30, 10);
        QVERIFY(same(chosen(hand), Chosen{"face 10"}));
        set_level(hand, PickLevel::body);
        hand.press_model(0, -30, 10);
        QVERIFY(same(chosen(hand), Chosen{"body 10"}));
        hand.press_model(20, -8, 35, also);
        QVERIFY(same(chosen(hand), Chosen{"body 10", "body 30"}));
        hand.press_model(0, -30, 10, also); // taken out
        QVERIFY(same(chosen(hand), Chosen{"body 30"}));
        set_level(hand, PickLevel::lump);
        hand.press_model(0, -30, 10);
        QCOMPARE(hand.selection().size(), size_t(6));
        set_level(hand, PickLevel::edge);
        hand.press_model(0, -30, 20);
        QVERIFY(same(chosen(hand), Chosen{"edge 10"}));
        set_level(hand, PickLevel::vertex);
        hand.press_model(40, -30, 20);
        QVERIFY(same(chosen(hand), Chosen{"vertex 10"}));
        hand.key(Qt::Key_U, Qt::ShiftModifier);
        QCOMPARE(hand.model().hand().level(), PickLevel::edge);
        hand.key(Qt::Key_Escape);
        QVERIFY(hand.selection().empty());
        hand.press_model(0, -30, 10); // a face is nothing to this level
        QVERIFY(hand.selection().empty());
    }

    void the_same_click_widens_to_body_and_groups() {
        Hand hand;
        bring_in_posts(hand);
        group_posts(hand);
        QVERIFY(same(chosen(hand), Chosen{"body #1"}));
        press_row(hand, "Group 1");
        press_row(hand, "Block", also);
        hand.key(Qt::Key_G, Qt::ControlModifier);
        QCOMPARE(hand.document().groups.size(), size_t(2));
        QCOMPARE(model::find_group(hand.document(), 1)->within, 2);
        hand.model().hand().select({});
        const Chosen wanted[] = {{"face 20"}, {"body 20"}, {"body #1"}, {"body #2"}, {"face 20"}};
        for (const Chosen& each : wanted) {
            hand.press_model(-20, -5, 35);
            QVERIFY(same(chosen(hand), each));
        }
        QCOMPARE(hand.model().shown().selected_bodies().size(), size_t(0));
        set_level(hand, PickLevel::group);
        hand.press_model(-20, -5, 35);
        QVERIFY(same(chosen(hand), Chosen{"body #2"}));
        QCOMPARE(hand.model().shown().selected_bodies().size(), size_t(3));
        QVERIFY(row_called(hand, "Group 2")->isSelected());
    }

    void frames_obey_the_level() {
        Hand hand;
        bring_in_posts(hand);
        hand.window().run_verb("front");
        QTest::qWait(50);
        const auto at = [&](double x, double z) { return hand.model().place_of(Point3(x, 0, z)); };
        // To the right: what is inside; over the left post alone.
        hand.drag(at(-30, 55), at(-10, 19), Qt::LeftButton, also);
        QVERIFY(same(chosen(hand), Chosen{"body 20"}));
        // To the left: what it touches; besides what is chosen.
        hand.drag(at(30, 45), at(15, 10), Qt::LeftButton, also);
        QVERIFY(same(chosen(hand), Chosen{"body 10", "body 20", "body 30"}));
        hand.key(Qt::Key_Escape);
        set_level(hand, PickLevel::vertex);
        hand.drag(at(-43, 25), at(-35, 15), Qt::LeftButton, also); // the two upper corners on the left
        QVERIFY(same(chosen(hand), Chosen{"vertex 10", "vertex 10"}));
        hand.key(Qt::Key_Escape);
        set_level(hand, PickLevel::face);
        hand.drag(at(-30, 55), at(-10, 19), Qt::LeftButton, also);
        QCOMPARE(hand.selection().size(), size_t(3));
        hand.key(Qt::Key_Escape);
        set_level(hand, PickLevel::lump);
        hand.drag(at(1, 15), at(-1, 5), Qt::LeftButton, also); // in the middle of a face
        QCOMPARE(hand.selection().size(), size_t(6));
        hand.key(Qt::Key_Escape);
        set_level(hand, PickLevel::edge);
        hand.drag(at(-43, 25), at(43, 15), Qt::LeftButton, also);
        QCOMPARE(chosen(hand).count("edge 10"), size_t(4));
        QCOMPARE(chosen(hand).count("edge 20"), size_t(1)); // its lower rim
    }

    void a_group_is_moved_and_cut_as_one() {
        Hand hand;
        bring_in_posts(hand);
        group_posts(hand);
        hand.activate();
        hand.key(Qt::Key_M, Qt::ShiftModifier);
        QCOMPARE(last_step<model::PlaceBodies>(hand).bodies, (model::References{model::whole("#1")}));
        hand.fill("field_z", "10 mm");
        hand.press_button("Accept");
        QCOMPARE(low_of(hand, "20"), 30.0);
        QCOMPARE(low_of(hand, "30"), 30.0);
        QCOMPARE(low_of(hand, "10"), 0.0);
        // The card lists the group; its bodies are ticked with it.
        hand.model().hand().select({});
        hand.model().setFocus();
        hand.key(Qt::Key_B);
        hand.key(Qt::Key_Escape);
        hand.choose("field_principal", "xy");
        hand.fill("field_offset", "40 mm");
        auto* group = hand.find<QCheckBox>("tick_#1");
        QVERIFY(group->text().contains("Group 1"));
        hand.reveal(group);
        hand.press(group, QPoint(8, group->height() / 2));
        hand.settle();
        QVERIFY(hand.find<QCheckBox>("tick_20")->isChecked());
        QVERIFY(!hand.find<QCheckBox>("tick_20")->isEnabled());
        QVERIFY(!hand.find<QCheckBox>("tick_10")->isChecked());
        QCOMPARE(hand.output(hand.session().card()).pieces.size(), size_t(4));
        hand.press_button("Accept");
        QVERIFY(near(hand.volume("Post 10"), M_PI * 25 * 10));
        // In the model, at the level of groups, a click takes the group up, and again off.
        set_level(hand, PickLevel::group);
        hand.key(Qt::Key_J);
        hand.press_model(0, -30, 10);
        hand.press_model(-20, -5, 32);
        const auto& bodies = last_step<model::Join>(hand).bodies;
        QCOMPARE(bodies, (model::References{model::whole("10"), model::whole("#1")}));
        auto* off = hand.named("Take off group Group 1");
        hand.reveal(off);
        hand.press(off);
        hand.settle();
        QCOMPARE(last_step<model::Join>(hand).bodies, (model::References{model::whole("10")}));
        hand.press_button("Cancel");
        undo_all_and_redo(hand);
    }

    void a_flat_rectangle_cuts_a_body() {
        Hand hand;
        bring_in_posts(hand);
        group_posts(hand);
        hand.activate();
        hand.key(Qt::Key_S);
        hand.choose("field_shape", "Flat rectangle");
        hand.fill("field_width", "100 mm");
        hand.fill("field_depth", "100 mm");
        hand.fill("field_z", "5 mm");
        hand.press_button("Accept");
        QCOMPARE(row_called(hand, "Stock")->text(1), QString("open, 1 border"));
        // Both markers, in the model: the block is cut, the rectangle cuts.
        hand.model().hand().select({});
        hand.model().setFocus();
        hand.key(Qt::Key_X, Qt::ShiftModifier);
        hand.key(Qt::Key_C);
        hand.press_model(45, -45, 5);
        hand.key(Qt::Key_W);
        hand.press_model(0, -30, 15);
        const auto& cut = last_step<model::BodyCut>(hand);
        QCOMPARE(cut.cutter_bodies, (model::References{model::whole("40")}));
        QCOMPARE(cut.workpieces, (model::References{model::whole("10")}));
        std::vector<double> volumes;
        for (const auto& piece : hand.output(hand.session().card()).pieces) {
            volumes.push_back(piece.volume);
        }
        std::sort(volumes.begin(), volumes.end());
        QVERIFY(volumes.size() == 2 && near(volumes[0], 80 * 60 * 5) && near(volumes[1], 80 * 60 * 15));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void groups_are_renamed_filled_and_dissolved_in_contents() {
        Hand hand;
        bring_in_posts(hand);
        group_posts(hand);
        press_row(hand, "Group 1");
        hand.key(Qt::Key_F2);
        hand.key(Qt::Key_A, Qt::ControlModifier);
        hand.type("Posts");
        hand.key(Qt::Key_Return);
        QCOMPARE(hand.document().groups.front().name, std::string("Posts"));
        drag_row(hand, "Block", "Posts");
        QCOMPARE(row_called(hand, "Posts")->childCount(), 3);
        drag_row(hand, "Block", "Sketches"); // onto anything else: out of its group
        QCOMPARE(row_called(hand, "Posts")->childCount(), 2);
        drag_row(hand, "Block", "Post 16"); // beside a body: into its group
        QCOMPARE(row_called(hand, "Posts")->childCount(), 3);
        press_row(hand, "Block");
        hand.find_verb("out of its groups");
        QCOMPARE(row_called(hand, "Posts")->childCount(), 2);
        hand.take_from_next_menu("Dissolve the group");
        press_row(hand, "Posts", {}, Qt::RightButton);
        hand.settle();
        QVERIFY(hand.document().groups.empty());
        QVERIFY(row_called(hand, "Post 10")->parent() == nullptr);
        undo_all_and_redo(hand);
    }

    void bodies_are_hidden_isolated_and_set_aside() {
        Hand hand;
        bring_in_posts(hand);
        press_row(hand, "Block");
        hand.activate();
        hand.key(Qt::Key_I, Qt::ShiftModifier);
        QVERIFY(hand.model().shown().is_shown("10") && !hand.model().shown().is_shown("20") &&
                !hand.model().shown().is_shown("30"));
        hand.press_model(20, 0, 20); // the post does not stand in the way
        QVERIFY(same(chosen(hand), Chosen{"face 10"}));
        hand.key(Qt::Key_A, Qt::ShiftModifier);
        QVERIFY(hand.model().shown().is_shown("20"));
        press_row(hand, "Post 16");
        hand.find_verb("set aside");
        QCOMPARE(hand.document().appearance.at("30").showing, model::Showing::aside);
        QVERIFY(row_called(hand, "Post 16")->toolTip(0).contains("set aside"));
        hand.model().hand().select({});
        hand.press_model(20, 0, 20);
        QVERIFY(same(chosen(hand), Chosen{"face 10"}));
        hand.key(Qt::Key_Escape);
        hand.find_verb("edges only"); // nothing is selected: all
        QCOMPARE(hand.document().appearance.at("10").showing, model::Showing::edges);
        QCOMPARE(hand.document().appearance.at("30").showing, model::Showing::edges);
        hand.press_model(0, -30, 10); // still there to be picked
        QVERIFY(same(chosen(hand), Chosen{"face 10"}));
        hand.key(Qt::Key_Escape);
        hand.find_verb("edges only");
        QCOMPARE(hand.document().appearance.at("10").showing, model::Showing::full);
        press_row(hand, "Post 10");
        hand.take_from_next_menu("See-through");
        press_row(hand, "Post 10", {}, Qt::RightButton);
        hand.settle();
        QCOMPARE(hand.document().appearance.at("20").showing, model::Showing::see_through);
    }

    void layers_hold_hide_and_lock() {
        Hand hand;
        bring_in_posts(hand);
        hand.find_verb("new layer");
        QCOMPARE(hand.document().current_layer, std::string("Layer"));
        press_row(hand, "Layer");
        hand.key(Qt::Key_F2);
        hand.key(Qt::Key_A, Qt::ControlModifier);
        hand.type("Posts");
        hand.key(Qt::Key_Return);
        QCOMPARE(hand.document().current_layer, std::string("Posts"));
        press_row(hand, "Post 10");
        hand.find_verb("onto the current layer");
        drag_row(hand, "Post 16", "Posts");
        const auto layer_of = [&](const char* id) { return hand.session().picture()->evaluation->traits.at(id).layer; };
        QCOMPARE(layer_of("20"), std::string("Posts"));
        QCOMPARE(layer_of("30"), std::string("Posts"));
        QCOMPARE(layer_of("10"), std::string());
        // New bodies lie on the current layer.
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        hand.fill("field_z", "100 mm");
        hand.press_button("Accept");
        QCOMPARE(layer_of("40"), std::string("Posts"));
        press_row(hand, "Posts");
        hand.activate();
        hand.key(Qt::Key_H);
        QVERIFY(!hand.model().shown().is_shown("20") && !hand.model().shown().is_shown("40") &&
                hand.model().shown().is_shown("10"));
        QVERIFY(row_called(hand, "Posts")->text(1).contains("hidden"));
        press_row(hand, "Posts");
        hand.take_from_next_menu("Hide or show");
        press_row(hand, "Posts", {}, Qt::RightButton);
        hand.settle();
        QVERIFY(hand.model().shown().is_shown("20"));
        press_row(hand, "Posts");
        hand.take_from_next_menu("Lock or unlock");
        press_row(hand, "Posts", {}, Qt::RightButton);
        hand.settle();
        hand.model().hand().select({});
        hand.model().look_from(scene::LookFrom::front);
        hand.press_model(20, -8, 35); // through the locked post, into the void
        QVERIFY(hand.selection().empty());
        // Not current any more, and gone.
        auto* tree = hand.window().findChild<QTreeWidget*>();
        const QPoint at = tree->visualItemRect(row_called(hand, "Posts")).center();
        QTest::mouseDClick(hand.window().windowHandle(), Qt::LeftButton, {},
                           tree->viewport()->mapTo(&hand.window(), at));
        hand.settle();
        QCOMPARE(hand.document().current_layer, std::string());
        hand.take_from_next_menu("Remove the layer");
        press_row(hand, "Posts", {}, Qt::RightButton);
        hand.settle();
        QVERIFY(hand.document().layers.empty());
        QCOMPARE(layer_of("20"), std::string());
    }

    void what_is_alike_is_selected() {
        Hand hand;
        bring_in_posts(hand);
        hand.press_model(-20, -5, 35);
        hand.find_verb("same kind");
        QVERIFY(same(chosen(hand), Chosen{"face 20", "face 30"}));
        hand.key(Qt::Key_Escape);
        hand.press_model(-20, -5, 35);
        hand.find_verb("same radius");
        QVERIFY(same(chosen(hand), Chosen{"face 20"}));
        hand.find_verb("what is connected");
        QCOMPARE(hand.selection().size(), size_t(3));
        hand.key(Qt::Key_Escape);
        hand.press_model(0, -30, 20);
        hand.find_verb("what is connected");
        QCOMPARE(hand.selection().size(), size_t(12));
        hand.key(Qt::Key_Escape);
        press_row(hand, "Block");
        hand.find_verb("same kind");
        QVERIFY(same(chosen(hand), Chosen{"body 10", "body 20", "body 30"}));
        // By colour, bodies and faces.
        hand.session().edit([](model::Document document) {
            document.appearance["10"].color = document.appearance["30"].color = "#557799";
            return document;
        });
        hand.settle();
        press_row(hand, "Block");
        hand.find_verb("same colour");
        QVERIFY(same(chosen(hand), Chosen{"body 10", "body 30"}));
        hand.key(Qt::Key_Escape);
        hand.press_model(20, -8, 35);
        hand.find_verb("same colour");
        QCOMPARE(hand.selection().size(), size_t(6 + 3));
        hand.key(Qt::Key_Escape);
        hand.find_verb("same radius"); // nothing is selected
        QVERIFY(hand.selection().empty());
    }

    void frozen_copies_follow_nothing() {
        Hand hand;
        bring_in_posts(hand);
        press_row(hand, "Block");
        hand.find_verb("frozen copy");
        QCOMPARE(hand.document().steps.size(), size_t(4));
        QVERIFY(near(hand.volume("Block frozen"), 80 * 60 * 20));
        hand.open_step(10);
        hand.fill("field_height", "10 mm");
        hand.press_button("Accept");
        QVERIFY(near(hand.volume("Block"), 80 * 60 * 10));
        QVERIFY(near(hand.volume("Block frozen"), 80 * 60 * 20));
        const QTemporaryDir folder;
        QVERIFY(!hand.session().save(folder.filePath("a.kervo")));
        QVERIFY(!hand.session().open(folder.filePath("a.kervo")));
        hand.settle();
        QVERIFY(near(hand.volume("Block frozen"), 80 * 60 * 20));
        // A body of two lumps is copied as one.
        model::Join join;
        join.bodies = {model::whole("20"), model::whole("30")};
        hand.session().add_step(join, "Posts");
        hand.press_button("Accept");
        const size_t bodies = hand.session().picture()->after.size();
        const double posts = hand.volume("Post 10");
        press_row(hand, "Post 10");
        hand.find_verb("frozen copy");
        QCOMPARE(hand.session().picture()->after.size(), bodies + 1);
        QVERIFY(near(hand.volume("Post 10 frozen"), posts));
    }

    void sketches_are_seen_while_nothing_uses_them() {
        Hand hand;
        model::SketchStep drawn;
        const int center = drawn.drawing.add_point(0, 0);
        drawn.drawing.add_circle(center, 30);
        hand.session().add_step(drawn, "Ring");
        const int sketch = hand.session().card();
        hand.press_button("Accept");
        const auto seen = [&] { return hand.session().picture()->sketches.contains(sketch); };
        const auto ink = [&] { // at a place on the circle
            const QImage image = hand.model().grabFramebuffer();
            const QPointF at = hand.model().place_of(Point3(30, 0, 0)) * image.devicePixelRatio();
            int drawn_there = 0;
            for (int x = -3; x <= 3; ++x) {
                const QColor color = image.pixelColor(static_cast<int>(at.x()) + x, static_cast<int>(at.y()));
                drawn_there += color != image.pixelColor(5, 5) ? 1 : 0;
            }
            return drawn_there;
        };
        QVERIFY(seen());
        QVERIFY(ink() > 0);
        model::Extrude extrude;
        extrude.sketch.step = sketch;
        extrude.regions = {{{}, {0, 0}}};
        hand.session().add_step(extrude, "Disc");
        hand.press_button("Accept");
        QVERIFY(near(hand.volume("Disc"), 900 * std::numbers::pi * 10));
        QVERIFY(!seen()); // it is used, and hides itself
        auto* tree = hand.window().findChild<QTreeWidget*>();
        auto* head = row_called(hand, "Sketches");
        QVERIFY(!head->isExpanded());
        tree->setFocus();
        tree->setCurrentItem(head);
        hand.key(Qt::Key_Right);
        QVERIFY(row_called(hand, "Sketches")->isExpanded());
        press_row(hand, "Ring");
        hand.find_verb("Hide or show");
        QVERIFY(seen());
        QVERIFY(!row_called(hand, "Ring")->font(0).italic());
        const QTemporaryDir folder;
        QVERIFY(!hand.session().save(folder.filePath("a.kervo")));
        QVERIFY(!hand.session().open(folder.filePath("a.kervo")));
        hand.settle();
        QVERIFY(seen());
        press_row(hand, "Ring");
        hand.find_verb("Hide or show");
        QVERIFY(!seen());
        const QPoint at = tree->visualItemRect(row_called(hand, "Ring")).center();
        QTest::mouseDClick(hand.window().windowHandle(), Qt::LeftButton, {},
                           tree->viewport()->mapTo(&hand.window(), at));
        hand.settle();
        QCOMPARE(hand.session().card(), sketch);
        QVERIFY(!seen());
        hand.press_button("Cancel");
    }

    void the_origin_is_set_afterwards() {
        Hand hand;
        bring_in_posts(hand);
        hand.press_model(40, -30, 20);
        QVERIFY(same(chosen(hand), {"vertex 10"}));
        hand.find_verb("set the origin");
        QCOMPARE(last_step<model::PlaceBodies>(hand).bodies.size(), size_t(3));
        QCOMPARE(hand.model().hand().target()->field, std::string("up"));
        hand.press_model(0, -30, 10); // what looked to the front looks up
        QCOMPARE(hand.model().hand().target()->field, std::string("front"));
        hand.key(Qt::Key_Escape);
        hand.press_button("Accept");
        const auto& after = hand.session().picture()->after;
        const Box3 box = after.front().second->mesh->box;
        QVERIFY((box.low - Point3(-80, -20, -60)).length() < 1e-6);
        QVERIFY((box.high - Point3(0, 0, 0)).length() < 1e-6);
        undo_all_and_redo(hand);
    }
};

int main(int argc, char** argv) {
    return kervo::app::test::run<ContentsTest>(argc, argv);
}

#include "contents_test.moc"
