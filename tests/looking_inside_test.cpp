// Looking inside from the window: cutaways of every shape, pulled by their knobs and answered by number; whom they
// concern; views that are kept; materials. By mouse and by keyboard.
#include "shaping_fixture.h"

#include "app/contents/contents_tree.h"
#include "app/view/tools/cutaway_handles.h"
#include "app/view/tools/pulling.h"
#include "model/document/cutaways.h"

#include <QLabel>

#include <cmath>
#include <numbers>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;
using model::Cutaway;
using Form = Cutaway::Form;

namespace {

constexpr double pi = std::numbers::pi;

Cutaway cutaway(Hand& hand, const std::string& letter = "A") {
    const Cutaway* known = model::find_cutaway(hand.document().cutaways, letter);
    return known == nullptr ? Cutaway{} : *known;
}

double cut(Hand& hand, const std::string& letter = "A") {
    double sum = 0;
    for (const model::CutArea& each : hand.session().picture()->cut_areas) {
        sum += each.letter == letter ? each.area : 0;
    }
    return sum;
}

// The faces that are drawn, of triangles or exact.
double drawn(Hand& hand) {
    double sum = 0;
    for (const scene::Cap& cap : hand.model().shown().caps(hand.model().shown().looks(hand.model().theme()), 0.1)) {
        sum += cap.mesh ? cap.mesh->area() : 0;
    }
    return sum;
}

std::vector<CutawayHandle> handles(Hand& hand, const std::string& letter = "A") {
    const double arm = 46 / hand.model().pixels_per_mm();
    return handles_of(cutaway(hand, letter), hand.model().shown().bounds_seen(), arm, round_step(hand.model()));
}

// Pulls the knob of that number by so many mm along its direction, and looks at what is to be seen before it is let go.
void pull(
    Hand& hand, size_t knob, double mm, const std::function<void()>& before_release = [] {}) {
    const CutawayHandle handle = handles(hand)[knob];
    const QPoint from = hand.model().place_of(handle.knob).toPoint();
    const QPoint to = hand.model().place_of(handle.knob + handle.along * mm).toPoint();
    QTest::mousePress(&hand.model(), Qt::LeftButton, {}, from);
    for (int i = 1; i <= 4; ++i) {
        QTest::mouseMove(&hand.model(), from + (to - from) * i / 4);
    }
    before_release();
    QTest::mouseRelease(&hand.model(), Qt::LeftButton, {}, to);
    hand.settle();
}

QTreeWidgetItem* row(Hand& hand, const QString& name) {
    auto* tree = hand.window().findChild<ContentsTree*>();
    const auto found = tree->findItems(name, Qt::MatchExactly | Qt::MatchRecursive);
    return found.isEmpty() ? nullptr : found.front();
}

void click_row(Hand& hand, const QString& name, Qt::KeyboardModifiers modifiers = {}) {
    auto* tree = hand.window().findChild<ContentsTree*>();
    QTreeWidgetItem* item = row(hand, name);
    Hand::must(item != nullptr);
    tree->scrollToItem(item);
    QTest::mouseClick(tree->viewport(), Qt::LeftButton, modifiers, tree->visualItemRect(item).center());
    hand.settle();
}

void double_click_row(Hand& hand, const QString& name) {
    auto* tree = hand.window().findChild<ContentsTree*>();
    click_row(hand, name);
    QTest::mouseDClick(tree->viewport(), Qt::LeftButton, {}, tree->visualItemRect(row(hand, name)).center());
    hand.settle();
}

void from_row_menu(Hand& hand, const QString& name, const QString& entry) {
    auto* tree = hand.window().findChild<ContentsTree*>();
    click_row(hand, name);
    hand.take_from_next_menu(entry);
    emit tree->customContextMenuRequested(tree->visualItemRect(row(hand, name)).center());
    hand.settle();
}

void tick_row(Hand& hand, const QString& name) {
    auto* tree = hand.window().findChild<ContentsTree*>();
    tree->scrollToItem(row(hand, name));
    const QRect place = tree->visualItemRect(row(hand, name));
    hand.press(tree->viewport(), QPoint(place.left() + 9, place.center().y()));
    hand.settle();
}

} // namespace

class LookingInsideTest : public QObject {
    Q_OBJECT

private slots:
    void initTestCase() { start_clean(); }

    void a_plane_is_pulled_and_follows_at_once() {
        Hand hand;
        bring_in_block(hand); // 80 x 60 x 20, standing on the level plane
        hand.model().setFocus();
        hand.key(Qt::Key_K);
        QCOMPARE(cutaway(hand).letter, std::string("A"));
        QVERIFY(near(cut(hand), 80 * 20));
        QVERIFY(near(drawn(hand), 80 * 20));
        const auto before = hand.session().picture();
        pull(hand, 0, 15, [&] {
            // No picture has come, and yet the cut is where the plane is.
            QVERIFY(hand.session().picture() == before);
            QVERIFY(std::fabs(hand.session().cutaways()[0].origin[1]) > 10);
            QVERIFY(std::fabs(drawn(hand) - 80 * 20) < 40);
            QVERIFY(hand.document().cutaways[0].origin[1] == 0); // not an edit yet
        });
        QVERIFY(std::fabs(cutaway(hand).origin[1] + 15) < 2);
        QVERIFY(near(cut(hand), 80 * 20));
        // Turned by its other knob: aslant it cuts more.
        pull(hand, 1, 3);
        const Frame3 frame = model::frame_of(cutaway(hand));
        const double degrees = std::acos(std::fabs(frame.z.y)) * 180 / pi;
        QVERIFY(degrees > 3);
        QVERIFY(std::fabs(degrees - std::round(degrees)) < 1e-6);
        QVERIFY(near(cut(hand), 80 * 20 / std::cos(degrees * pi / 180)));
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        hand.settle();
        QVERIFY(near(cut(hand), 80 * 20));
    }

    void a_pull_that_rests_is_worked_out() {
        Hand hand;
        bring_in_block(hand);
        hand.model().setFocus();
        hand.key(Qt::Key_K);
        const auto before = hand.session().picture();
        pull(hand, 0, 10, [&] {
            QTRY_VERIFY(hand.session().picture() != before);
            QVERIFY(hand.session().picture()->cutaways == hand.session().cutaways());
            QVERIFY(near(drawn(hand), 80 * 20));
        });
    }

    void every_shape_by_number() {
        Hand hand;
        bring_in_block(hand);
        hand.model().setFocus();
        hand.key(Qt::Key_K);
        hand.choose("Shape of the cutaway", "a slab");
        hand.fill("Size, z", "2 * 12");
        QVERIFY(near(cut(hand), 2 * 80 * 20));
        QCOMPARE(cutaway(hand).size[2], 24.0);
        hand.choose("What the cutaway does", "leaves only");
        QVERIFY(near(cut(hand), 2 * 80 * 20));
        hand.choose("What the cutaway does", "takes away");
        hand.choose("Shape of the cutaway", "a box");
        hand.choose("Direction of the cutaway", "along z");
        for (const auto& [field, value] : {std::pair("Size, x", "40"),
                                           {"Size, y", "30"},
                                           {"Size, z", "10"},
                                           std::pair("Middle, x", "40"),
                                           {"Middle, y", "-30"},
                                           {"Middle, z", "20"}}) {
            hand.fill(field, value);
        }
        QVERIFY(near(cut(hand), 20 * 15 + 15 * 5 + 20 * 5)); // a notch at a corner
        hand.fill("Size, x", "-3");                          // is refused, and the box stays
        QVERIFY(hand.find<QLineEdit>("Size, x") == nullptr || cutaway(hand).size[0] == 40);
        hand.choose("Shape of the cutaway", "a cylinder");
        for (const auto& [field, value] : {std::pair("Size, x", "16"),
                                           {"Size, z", "200"},
                                           {"Middle, x", "0"},
                                           std::pair("Middle, y", "0"),
                                           {"Middle, z", "0"}}) {
            hand.fill(field, value);
        }
        QVERIFY(near(cut(hand), pi * 16 * 20));
        QVERIFY(std::fabs(drawn(hand) - pi * 16 * 20) < 10);
        hand.choose("Direction of the cutaway", "oblique");
        hand.fill("Direction, x", "1");
        hand.fill("Direction, z", "1");
        hand.fill("Direction, y", "0");
        QVERIFY(near(cut(hand), pi * 16 * 20 * std::sqrt(2.0))); // leaning by 45 degrees
        // Back to the start, and forth again.
        hand.model().setFocus();
        undo_all_and_redo(hand);
    }

    void a_box_and_a_cylinder_are_pulled() {
        Hand hand;
        bring_in_block(hand);
        hand.find_verb("Cutaway by a box");
        const Cutaway placed = cutaway(hand);
        QVERIFY(cut(hand) > 0); // a corner is gone
        size_t side = 0;
        const auto all = handles(hand);
        while (all[side].kind != CutawayHandle::Kind::size || all[side].along.z > -0.5) {
            ++side;
        }
        pull(hand, side, 4, [&] { QVERIFY(std::fabs(drawn(hand) - cut(hand)) > 20); }); // its lower side goes down
        QVERIFY(std::fabs(cutaway(hand).size[2] - placed.size[2] - 4) < 1);
        // The upper side stayed where it was.
        QVERIFY(near(cutaway(hand).origin[2] + cutaway(hand).size[2] / 2, placed.origin[2] + placed.size[2] / 2));
        pull(hand, 0, 0); // a click on the middle knob changes nothing
        const Point3 middle(cutaway(hand).origin);
        const QPoint knob = hand.model().place_of(middle).toPoint();
        QTest::mousePress(&hand.model(), Qt::LeftButton, {}, knob);
        QTest::mouseMove(&hand.model(), knob + QPoint(20, 0));
        QTest::mouseMove(&hand.model(), knob + QPoint(40, 0));
        QTest::mouseRelease(&hand.model(), Qt::LeftButton, {}, knob + QPoint(40, 0));
        hand.settle();
        const QPointF seen = hand.model().place_of(Point3(cutaway(hand).origin));
        QVERIFY(QLineF(seen, knob + QPointF(40, 0)).length() < 8); // its numbers are round ones

        hand.find_verb("Remove the cutaway");
        hand.find_verb("Cutaway by a cylinder");
        const Cutaway round = cutaway(hand);
        QCOMPARE(round.form, Form::cylinder);
        const double area = cut(hand);
        QVERIFY(area > 0);
        pull(hand, 1, 5); // its radius
        QVERIFY(std::fabs(cutaway(hand).size[0] - round.size[0] - 10) < 2);
        QVERIFY(cut(hand) > area);
    }

    void a_body_cuts_and_is_not_shown() {
        Hand hand;
        bring_in_block(hand);
        model::Stock sphere; // about a corner of the block
        sphere.shape.value = "sphere";
        sphere.diameter.text = "16";
        sphere.x.text = "40";
        sphere.y.text = "30";
        sphere.z.text = "20 - 8";
        bring_in(hand, sphere, "Ball");
        const model::BodyId ball = std::to_string(hand.document().steps.back()->id);
        hand.model().hand().select({model::whole(ball)});
        hand.find_verb("Cutaway by a body");
        QCOMPARE(cutaway(hand).body, ball);
        QVERIFY(near(cut(hand), 4 * pi * 64 / 8));
        for (const auto& look : hand.model().shown().looks(hand.model().theme())) {
            QVERIFY(look.id != ball);
            QVERIFY(look.drawn_opened());
        }
        hand.key(Qt::Key_K, Qt::ShiftModifier); // only what is inside of it is left
        QVERIFY(cutaway(hand).keeps);
        QVERIFY(near(cut(hand), 4 * pi * 64 / 8));
        hand.press(hand.named("Cutaway off or on"));
        hand.settle();
        QCOMPARE(cut(hand), 0.0);
        QCOMPARE(hand.model().shown().looks(hand.model().theme()).size(), 2u);
    }

    void several_with_scopes_of_their_own() {
        const QTemporaryDir folder;
        Hand hand;
        const QString path = demo_copy(folder);
        hand.window().open_file(path);
        hand.settle();
        hand.model().setFocus();
        hand.key(Qt::Key_K); // across y, through everything
        click_row(hand, "Roller ring");
        hand.choose("Whom the cutaway concerns", "only");
        QCOMPARE(cutaway(hand).members, std::vector<std::string>{"30"});
        QVERIFY(near(cut(hand), 2 * 25 * 40));
        hand.model().setFocus();
        hand.key(Qt::Key_K);
        QCOMPARE(hand.document().cutaways.size(), 2u);
        QCOMPARE(hand.model().hand().cutaway(), std::string("B"));
        hand.choose("Direction of the cutaway", "across x");
        tick_row(hand, "Roller ring");
        tick_row(hand, "Spindle");
        QCOMPARE(cutaway(hand, "B").scope, Cutaway::Scope::all_but);
        QVERIFY(near(cut(hand), 2 * 25 * 40)); // that of the ring by A, as before
        // The bottom plate is cut through its middle by B: no port and no slot lies there, the spindle's clearance does
        // where it goes through.
        double bottom = 0;
        for (const model::CutArea& each : hand.session().picture()->cut_areas) {
            QVERIFY(each.letter != "B" || (each.body != "30" && each.body != "50"));
            bottom += each.letter == "B" && each.body == "10" ? each.area : 0;
        }
        QVERIFY(bottom > 0 && bottom <= 240 * 16 + 1e-6);
        // A row takes it in hand, and says whether it is on.
        click_row(hand, "A");
        QCOMPARE(hand.model().hand().cutaway(), std::string("A"));
        QVERIFY(hand.named("Areas that it cuts")->property("text").toString().contains("Roller ring"));
        tick_row(hand, "A");
        QVERIFY(!cutaway(hand).on);
        QCOMPARE(cut(hand), 0.0);
        hand.find_verb("Copy the cutaway");
        QCOMPARE(cutaway(hand, "C").members, std::vector<std::string>{"30"});
        from_row_menu(hand, "C", "Remove");
        QCOMPARE(hand.document().cutaways.size(), 2u);
        // Saved and opened again.
        const auto kept = hand.document().cutaways;
        hand.key(Qt::Key_S, Qt::ControlModifier);
        hand.settle();
        QVERIFY(!hand.session().can_undo() || !hand.window().windowTitle().contains("*"));
        hand.window().open_file(path);
        hand.settle();
        QVERIFY(!hand.session().can_undo());
        QCOMPARE(hand.document().cutaways, kept);
    }

    void a_cut_face_means_its_body() {
        Hand hand;
        bring_in_block(hand);
        hand.model().setFocus();
        hand.key(Qt::Key_K);
        hand.find_verb("Look from the front");
        hand.press_model(20, 0, 10);
        QCOMPARE(hand.selection().size(), 1u);
        QCOMPARE(hand.selection()[0].kind, model::ElementKind::body);
        hand.key(Qt::Key_Escape);
        // Below the plane, what is behind the cut cannot be picked through it.
        const auto picked = hand.model().pick(hand.model().place_of({20, 0, 10}), {model::ElementKind::face});
        QVERIFY(!picked);
    }

    void nonsense_is_refused() {
        Hand hand;
        bring_in_block(hand);
        hand.model().setFocus();
        hand.key(Qt::Key_K);
        auto* offset = qobject_cast<QLineEdit*>(hand.named("Place of the cutaway"));
        hand.fill("Place of the cutaway", "no number");
        QVERIFY(offset->property("wrong").toBool());
        hand.fill("Place of the cutaway", "4 + 4");
        QVERIFY(!offset->property("wrong").toBool());
        QVERIFY(near(cutaway(hand).origin[1], 8));
        hand.press_button("Flip");
        QCOMPARE(cutaway(hand).normal, (model::Place{0, 1, 0}));
        QVERIFY(near(cutaway(hand).origin[1], 8)); // the same place, the other side
        hand.press(hand.named("Remove the cutaway"));
        hand.settle();
        QVERIFY(hand.document().cutaways.empty());
        QVERIFY(!offset->isVisible());
    }

    void slices_from_the_card() {
        Hand hand;
        bring_in_block(hand);
        hand.find_verb("Slices");
        const int step = hand.session().card();
        add_from_list(hand, "field_bodies", "Block");
        hand.fill("field_from", "4");
        hand.fill("field_to", "16");
        hand.fill("field_count", "4");
        hand.settle();
        QCOMPARE(hand.output(step).bodies.size(), 4u);
        QVERIFY(hand.output(step).facts.at("area").starts_with("19200")); // 4 x 80 x 60
        hand.choose("field_result", "Ribs of a thickness");
        hand.fill("field_thickness", "1");
        hand.settle();
        QVERIFY(near(hand.output(step).added, 19200));
        QVERIFY(hand.session().findings().empty());
        hand.press_button("Accept");
        QVERIFY(row(hand, "Section 4") != nullptr);
        undo_all_and_redo(hand);
    }

    void a_section_follows_its_body() {
        Hand hand;
        bring_in_block(hand);
        const int block = hand.document().steps.back()->id;
        hand.find_verb("Section");
        const int step = hand.session().card();
        add_from_list(hand, "field_bodies", "Block");
        hand.choose("field_principal", "xz, front");
        hand.settle();
        QVERIFY(hand.output(step).facts.at("area").starts_with("1600")); // 80 x 20
        hand.press_button("Accept");
        hand.session().set_field(block, "height", Expression{"30"});
        hand.settle();
        QVERIFY(hand.output(step).facts.at("area").starts_with("2400"));
    }

    // --- Views -----------------------------------------------------------------------------------------------------

    void views_are_kept_and_walked_through() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        hand.model().setFocus();
        const auto seen = [&] { return hand.model().place_of({100, 50, 20}); };
        hand.find_verb("Look from the front");
        hand.key(Qt::Key_K);
        hand.settle();
        const QPointF first = seen();
        hand.key(Qt::Key_K, Qt::ControlModifier);
        hand.settle();
        QCOMPARE(hand.document().views.size(), 1u);
        QVERIFY(row(hand, "View") != nullptr);
        hand.find_verb("Remove the cutaway");
        click_row(hand, "Top plate");
        hand.find_verb("Hide or show");
        hand.find_verb("Look from the top");
        hand.model().zoom(2, {100, 100});
        const QPointF second = seen();
        hand.find_verb("Keep this view");
        QCOMPARE(hand.document().views.size(), 2u);
        hand.model().setFocus();
        hand.key(Qt::Key_Y); // from the second round to the first
        hand.settle();
        QVERIFY(QLineF(seen(), first).length() < 0.5);
        QCOMPARE(hand.document().cutaways.size(), 1u);
        QVERIFY(!hand.document().appearance.at("40").hidden);
        hand.key(Qt::Key_Y);
        hand.settle();
        QVERIFY(QLineF(seen(), second).length() < 0.5);
        QVERIFY(hand.document().cutaways.empty());
        QVERIFY(hand.document().appearance.at("40").hidden);
        // By a double click; updated, moved, renamed, removed.
        double_click_row(hand, "View");
        QVERIFY(QLineF(seen(), first).length() < 0.5);
        hand.find_verb("Look from the right");
        hand.find_verb("Update the view");
        const QPointF third = seen();
        hand.find_verb("Look from the top");
        from_row_menu(hand, "View", "Go there");
        QVERIFY(QLineF(seen(), third).length() < 0.5);
        from_row_menu(hand, "View", "Down");
        QCOMPARE(hand.document().views[1].name, std::string("View"));
        row(hand, "View")->setText(0, "For the joiner");
        hand.settle();
        QCOMPARE(hand.document().views[1].name, std::string("For the joiner"));
        from_row_menu(hand, "For the joiner", "Remove");
        QCOMPARE(hand.document().views.size(), 1u);
    }

    // --- Materials -------------------------------------------------------------------------------------------------

    void materials_fill_cut_faces_and_weigh() {
        Hand hand;
        bring_in_block(hand);
        click_row(hand, "Block");
        hand.when([] { return QApplication::activeModalWidget() != nullptr; },
                  [&] {
                      auto* dialog = QApplication::activeModalWidget();
                      for (auto* field : dialog->findChildren<QLineEdit*>()) {
                          field->setText(field->accessibleName() == "Density" ? "7.85" : "Steel");
                      }
                      for (auto* box : dialog->findChildren<QComboBox*>()) {
                          box->setCurrentText("crossed lines");
                      }
                      QTest::keyClick(dialog, Qt::Key_Return);
                  });
        hand.find_verb("New material");
        hand.settle();
        QCOMPARE(hand.document().materials.size(), 1u);
        const std::string block = std::to_string(hand.document().steps.back()->id);
        QCOMPARE(hand.document().appearance.at(block).material, std::string("Steel"));
        QVERIFY(row(hand, "Block")->toolTip(0).contains("Steel, 753.6 g")); // 96 cm3
        hand.model().setFocus();
        hand.key(Qt::Key_K);
        const auto lines = [&] {
            double sum = 0;
            for (const auto& segment : hand.session().picture()->caps[0].hatch) {
                sum += (segment[1] - segment[0]).length();
            }
            return sum;
        };
        const double crossed = lines();
        QCOMPARE(hand.session().picture()->caps[0].color, hand.document().materials[0].color);
        hand.session().edit([](model::Document document) {
            model::Material plain = document.materials[0];
            plain.hatch = model::Hatch::lines;
            return model::put_material(std::move(document), "Steel", plain);
        });
        hand.settle();
        QVERIFY(std::fabs(crossed / lines() - 2 / 1.3) < 0.06);
        from_row_menu(hand, "Steel", "Remove");
        QVERIFY(hand.document().appearance.at(block).material.empty());
    }
};

int main(int argc, char** argv) {
    return run<LookingInsideTest>(argc, argv);
}
#include "looking_inside_test.moc"
