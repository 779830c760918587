// Cards and panels: every kind of answer given by mouse and by keyboard, and what the lists beside say of it.
#include "window_fixture.h"

#include "app/cards/step_card.h"
#include "app/shell/dependency_view.h"
#include "io/document/safe_file.h"
#include "io/reader/import_child.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"
#include "own_format.h"
#include "own_kind.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QDialog>
#include <QDialogButtonBox>
#include <QFile>
#include <QLabel>
#include <QMessageBox>
#include <QScrollArea>
#include <QTreeWidget>

#include <numbers>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;
using std::numbers::pi;

namespace {

// A block of 80 x 60 x 20 with two circles drawn on a plane 20 above the ground: 10 block, 20 sketch.
void bring_in_block(Hand& hand) {
    model::Stock block;
    block.width.text = "80";
    block.depth.text = "60";
    block.height.text = "20";
    model::SketchStep drawn;
    drawn.offset.text = "20";
    for (const double x : {-20.0, 20.0}) {
        const int center = drawn.drawing.add_point(x, 0);
        drawn.drawing.add_constraint(sketch::ConstraintKind::fixed, {center});
        drawn.drawing.add_circle(center, 8);
    }
    hand.session().edit([&](model::Document document) {
        document = model::add_step(std::move(document), block, "Block", -1, nullptr);
        return model::add_step(std::move(document), drawn, "Sketch 1", -1, nullptr);
    });
    hand.settle();
    hand.model().fit();
}

// A cut of the block by both circles; its card is open.
void begin_cut_of_both(Hand& hand) {
    bring_in_block(hand);
    hand.model().setFocus();
    hand.key(Qt::Key_X);
    hand.press(hand.named("Take all regions"));
    hand.settle();
    hand.press(hand.find<QCheckBox>("tick_10"), QPoint(8, 8));
    hand.settle();
}

template <class Definition> const Definition& last_step(Hand& hand) {
    return *hand.document().steps.back()->definition.as<Definition>();
}

bool says(Hand& hand, const QString& words) {
    const auto labels = hand.window().findChildren<QLabel*>();
    return std::any_of(labels.begin(), labels.end(),
                       [&](const QLabel* label) { return label->isVisible() && label->text().contains(words); });
}

bool asks(Hand& hand, const QString& field) {
    hand.unfold_card();
    const auto fields = hand.window().findChildren<QWidget*>(field);
    return std::any_of(fields.begin(), fields.end(), [](const QWidget* widget) { return widget->isVisible(); });
}

// The answers with which a verb begins a step, after a click, or once one has been made then. What only says how far is
// left out: it waits until it is asked for.
struct Begun {
    std::map<std::string, model::References> references;
    std::vector<std::string> choices;
};
Begun begin(Hand& hand, const Verb& verb, const std::optional<Point3>& first, const std::optional<Point3>& then) {
    Begun begun;
    hand.model().hand().select({});
    if (first) {
        hand.press_model(first->x, first->y, first->z);
    }
    if (!hand.window().run_verb(verb.id) || hand.session().card() == 0) {
        return begun;
    }
    hand.settle();
    if (then) {
        if (hand.model().hand().marker() == Marker::cutter) {
            hand.model().setFocus();
            hand.key(Qt::Key_W); // what is cut
        }
        hand.press_model(then->x, then->y, then->z);
    }
    for (const model::Field& field : model::fields_of(hand.document().steps.back()->definition, false)) {
        const auto* references = std::get_if<model::References>(&field.value);
        if (references != nullptr && field.info.question != model::Question::how_far) {
            begun.references[field.info.key] = *references;
        } else if (const auto* choice = std::get_if<model::Choice>(&field.value)) {
            begun.choices.push_back(choice->value);
        }
    }
    hand.session().cancel_card();
    hand.settle();
    return begun;
}

} // namespace

class CardsTest : public QObject {
    Q_OBJECT

private slots:
    void initTestCase() {
        start_clean();
        model::add_step_kind(model::StepOf<model::RoundBar>::kind());
    }

    // A kind that this program adds is begun, answered and drawn like any other.
    void a_kind_from_elsewhere() {
        Hand hand;
        hand.find_verb("Lying bar"); // not in an empty document
        QVERIFY(hand.document().steps.empty());
        hand.model().setFocus();
        hand.key(Qt::Key_B, Qt::ControlModifier | Qt::AltModifier);
        QCOMPARE(hand.document().steps.size(), size_t(1));
        QCOMPARE(hand.document().steps.back()->name, std::string("Bar"));
        QVERIFY(says(hand, "Diameter") && asks(hand, "field_length") && !asks(hand, "field_lift"));
        QVERIFY(near(hand.output(10).added, pi * 25 * 50));
        hand.fill("field_diameter", "12");
        QVERIFY(near(hand.output(10).added, pi * 36 * 50));
        hand.choose("field_lies", "Along x");
        QVERIFY(asks(hand, "field_lift"));
        hand.key(Qt::Key_Return, Qt::ControlModifier);
        hand.find_verb("Lying bar");
        QCOMPARE(last_step<model::RoundBar>(hand).lies.value, std::string("along_x"));
        const auto& verbs = hand.window().verbs();
        const auto stock =
            std::find_if(verbs.begin(), verbs.end(), [](const Verb& each) { return each.id == "stock"; });
        QCOMPARE((stock + 1)->id, QString("round_bar"));
    }

    void a_format_from_elsewhere() {
        io::add_format(io::balls_format());
        io::use_reader(KERVO_BIN "/own_reader");
        const QTemporaryDir folder;
        QFile file(folder.filePath("two.balls"));
        QVERIFY(file.open(QFile::WriteOnly) && file.write("0 0 0 10\n50 0 0 20\n") > 0);
        file.close();
        Hand hand;
        hand.answer_file_dialog(file.fileName());
        hand.model().setFocus();
        hand.key(Qt::Key_I);
        QVERIFY(near(hand.volume("Ball 1"), 4 * pi / 3 * 1000, 1e-6));
        QVERIFY(near(hand.volume("Ball 2"), 4 * pi / 3 * 8000, 1e-6));
        // Handed over, it asks its question; an answer that makes no sense is refused there.
        const auto dialog = [] {
            auto* box = qobject_cast<QDialog*>(QApplication::activeModalWidget());
            return box != nullptr && box->windowTitle() == "Hand over as Balls" ? box : nullptr;
        };
        QString refused;
        hand.when([&] { return dialog() != nullptr; },
                  [&] {
                      auto* field = dialog()->findChild<QLineEdit*>("answer_factor");
                      field->selectAll();
                      QTest::keyClicks(field, "0");
                      QTest::keyClick(field, Qt::Key_Return);
                      refused = dialog()->findChild<QLabel*>("finding")->text();
                      field->selectAll();
                      QTest::keyClicks(field, "2");
                      QTest::keyClick(field, Qt::Key_Return);
                  });
        hand.activate();
        const QString out = folder.filePath("out.balls");
        hand.answer_file_dialog(out);
        hand.key(Qt::Key_E, Qt::ControlModifier);
        QVERIFY(QTest::qWaitFor([&] { return QFile::exists(out); }, 30000));
        QVERIFY2(refused.startsWith("Larger by: at least"), qPrintable(refused));
        const auto bytes = io::read_whole(out.toStdString());
        std::istringstream numbers(*bytes);
        double x = 0, y = 0, z = 0, radius = 0;
        numbers >> x >> y >> z >> radius;
        QVERIFY(near(radius, 20, 1e-4));
        io::use_reader({});
    }

    void what_nobody_changed_is_folded() {
        Hand hand;
        begin_cut_of_both(hand);
        const auto folded = [&](const QString& words) {
            for (auto* line : hand.window().findChildren<FoldedAnswers*>()) {
                if (line->isVisible() && line->text().contains(words)) {
                    return line;
                }
            }
            return static_cast<FoldedAnswers*>(nullptr);
        };
        QVERIFY(folded("from the sketch plane, way back, direction square to the sketch, taper 0 deg"));
        QVERIFY(folded("spared none") && folded("taken what regions enclose"));
        // All of it fits at 1280 x 800.
        auto* card = hand.window().findChild<StepCard*>();
        QWidget* room = card->parentWidget();
        while (qobject_cast<QScrollArea*>(room) == nullptr) {
            room = room->parentWidget();
        }
        QVERIFY2(card->height() <= static_cast<QScrollArea*>(room)->viewport()->height(),
                 qPrintable(QString::number(card->height())));
        // A key opens it, and what is changed stands on the card from then on, alone.
        folded("way back")->setFocus(Qt::TabFocusReason);
        hand.key(Qt::Key_A);
        QVERIFY(hand.seen<QComboBox>("field_way") && hand.seen<QComboBox>("field_from"));
        hand.choose("field_direction", "Leaning");
        hand.press_button("Accept");
        hand.open_step(30);
        QVERIFY(hand.seen<QComboBox>("field_direction") && !hand.seen<QComboBox>("field_from"));
        QVERIFY(folded("from the sketch plane, way back"));
        hand.press_button("Cancel");
    }

    void bodies_that_do_not_matter_are_folded() {
        Hand hand;
        bring_in_block(hand);
        hand.session().edit([](model::Document document) {
            for (int i = 0; i < 9; ++i) {
                model::Stock stock;
                stock.x.text = std::to_string(100 + 120 * i);
                document = model::add_step(std::move(document), stock, "Beside " + std::to_string(i), -1, nullptr);
            }
            return document;
        });
        hand.settle();
        hand.model().setFocus();
        hand.key(Qt::Key_X);
        hand.press(hand.named("Take all regions"));
        hand.settle();
        const auto shown = [&] {
            QStringList names;
            for (const auto* box : hand.window().findChildren<QCheckBox*>()) {
                if (box->isVisible() && box->objectName().startsWith("tick_")) {
                    names << box->text();
                }
            }
            return names;
        };
        QCOMPARE(shown(), QStringList{"Block, met but not cut"});
        QVERIFY(says(hand, "9 others"));
        hand.unfold_card();
        QCOMPARE(shown().size(), 10);
        hand.press(hand.find<QCheckBox>("tick_10"), QPoint(8, 8));
        hand.settle();
        QVERIFY(near(hand.output(hand.session().card()).removed, 2 * pi * 64 * 20));
        hand.press_button("Cancel");
    }

    // What is clicked before the verb answers the same questions as what is clicked after it.
    void verbs_take_what_is_clicked_before_and_after() {
        Hand hand;
        bring_in_block(hand);
        int compared = 0;
        QStringList differ;
        for (const Verb& verb : hand.window().verbs()) {
            const bool begins = verb.group == BarGroup::cut || verb.group == BarGroup::join ||
                                verb.group == BarGroup::shape || verb.group == BarGroup::draw;
            if (!begins || verb.id == "frozen_copy") { // which has no card
                continue;
            }
            const Begun nothing = begin(hand, verb, {}, {});
            for (const Point3& place : {Point3(0, 0, 20), Point3(0, -30, 20)}) { // a face, an edge
                const Begun before = nothing.references.empty() ? nothing : begin(hand, verb, place, {});
                if (before.references == nothing.references || before.choices != nothing.choices) {
                    continue; // it takes nothing of that kind, or what is selected says how it goes about it
                }
                ++compared;
                const Begun after = begin(hand, verb, {}, place);
                for (const auto& [key, references] : before.references) {
                    // A click goes to what takes such elements: it may answer more than a selection that fits nothing.
                    if (!references.empty() && after.references.at(key) != references) {
                        differ << verb.id + ": " + QString::fromStdString(key);
                    }
                }
            }
        }
        QVERIFY2(differ.isEmpty(), qPrintable(differ.join(", ")));
        QVERIFY2(compared > 20, qPrintable(QString::number(compared)));
    }

    // A blank sketch lies down on the face that is clicked, as one that was begun with the face selected; once
    // something is drawn, clicks are for the drawing.
    void a_blank_sketch_lies_down_on_a_face() {
        Hand hand;
        bring_in_block(hand);
        const auto sketched = [&](bool first) {
            hand.model().hand().select({});
            if (first) {
                hand.press_model(10, 10, 20);
            }
            hand.model().setFocus();
            hand.key(Qt::Key_D);
            hand.settle();
            if (!first) {
                hand.press_model(10, 10, 20);
            }
            const auto step = *hand.document().steps.back()->definition.as<model::SketchStep>();
            return std::pair(step.plane.value, step.face);
        };
        const auto by_selection = sketched(true);
        hand.session().cancel_card();
        hand.settle();
        QCOMPARE(by_selection.first, std::string("face"));
        QVERIFY(by_selection == sketched(false));
        const auto lies_on = [&] { return hand.document().steps.back()->definition.as<model::SketchStep>()->face; };
        hand.key(Qt::Key_O);
        hand.press_sketch(0, 0);
        hand.press_sketch(8, 0);
        hand.settle();
        QCOMPARE(lies_on(), by_selection.second);
        hand.key(Qt::Key_Escape);
        hand.press_model(0, -30, 10); // another face, but the sketch is not blank any more
        QCOMPARE(lies_on(), by_selection.second);
        hand.session().cancel_card();
        hand.settle();
    }

    // A face, an edge or a vertex means its body, where bodies are wanted, whichever is first.
    void an_element_means_its_body() {
        Hand hand;
        bring_in_block(hand);
        const auto& verbs = hand.window().verbs();
        int asked = 0;
        bool taken = false; // an element answers another question of the step
        for (const Verb& verb : verbs) {
            const bool of_bodies =
                verb.group == BarGroup::cut || verb.group == BarGroup::join || verb.group == BarGroup::shape;
            if (!of_bodies || verb.id == "frozen_copy") { // which has no card
                continue;
            }
            const auto begun = [&](const std::function<void()>& select) {
                hand.model().hand().select({});
                select();
                model::References ticked;
                taken = false;
                if (hand.window().run_verb(verb.id) && hand.session().card() != 0) {
                    hand.settle();
                    for (const model::Field& field : model::fields_of(hand.document().steps.back()->definition, true)) {
                        const auto* value = std::get_if<model::References>(&field.value);
                        taken = taken || (value != nullptr && !field.info.accepts.contains(model::ElementKind::body) &&
                                          !value->empty());
                        if (value != nullptr && field.info.many && field.info.clicked &&
                            field.info.question == model::Question::what_is_cut &&
                            field.info.accepts == std::set{model::ElementKind::body}) {
                            ticked.insert(ticked.end(), value->begin(), value->end());
                        }
                    }
                    hand.session().cancel_card();
                    hand.settle();
                }
                return ticked;
            };
            const auto by_body = begun([&] { hand.model().hand().select({model::whole("10")}); });
            if (by_body.empty()) {
                continue; // it wants none, or is not about bodies
            }
            ++asked;
            QVERIFY2(by_body == model::References{model::whole("10")}, qPrintable(verb.id));
            const auto by_face = begun([&] { hand.press_model(0, 28, 20); });
            QVERIFY2(taken || by_face == by_body, qPrintable(verb.id));
            const auto by_edge = begun([&] { hand.press_model(0, -30, 20); });
            QVERIFY2(taken || by_edge == by_body, qPrintable(verb.id));
        }
        QVERIFY(asked >= 5);
        // The verb first.
        const auto cut_by = [&](bool first) {
            hand.model().hand().select({});
            if (first) {
                hand.press_model(0, 28, 20);
            }
            hand.model().setFocus();
            hand.key(Qt::Key_X);
            hand.press(hand.named("Take all regions"));
            hand.settle();
            if (!first) {
                hand.model().setFocus();
                hand.key(Qt::Key_W);
                hand.press_model(0, 28, 20);
            }
            const auto document = hand.document();
            hand.session().cancel_card();
            hand.settle();
            return document;
        };
        const auto by_selection = cut_by(true);
        const auto by_verb = cut_by(false);
        for (const auto* each : {&by_selection, &by_verb}) {
            const auto& cut = *each->steps.back()->definition.as<model::Extrude>();
            QStringList ticked;
            for (const auto& one : cut.workpieces) {
                ticked << QString::fromStdString(one.body);
            }
            QCOMPARE(ticked, QStringList{"10"});
        }
        QVERIFY(model::same_content(by_selection, by_verb));
    }

    void a_choice_decides_what_is_asked() {
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        QVERIFY(asks(hand, "field_width") && asks(hand, "field_depth") && !asks(hand, "field_diameter"));
        QVERIFY(near(hand.output(10).added, 100 * 60 * 20));
        hand.choose("field_shape", "Cylinder");
        QVERIFY(!asks(hand, "field_width") && asks(hand, "field_diameter") && asks(hand, "field_height"));
        QVERIFY(near(hand.output(10).added, pi * 400 * 20));
        hand.choose("field_shape", "Sphere");
        QVERIFY(!asks(hand, "field_height"));
        QVERIFY(near(hand.output(10).added, 4 * pi / 3 * 8000));
        hand.choose("field_shape", "Cone");
        QVERIFY(asks(hand, "field_top_diameter"));
        hand.choose("field_shape", "Box"); // what was answered before is still there
        QVERIFY(near(hand.output(10).added, 100 * 60 * 20));
        hand.press_button("Cancel");
        QVERIFY(hand.document().steps.empty());
    }

    void a_cut_passes_so_many_walls() {
        Hand hand;
        bring_in_block(hand);
        model::Stock second;
        second.height.text = "6";
        second.z.text = "-30";
        hand.session().edit([&](model::Document document) {
            return model::add_step(std::move(document), second, "Second", -1, nullptr);
        });
        hand.settle();
        hand.model().setFocus();
        hand.key(Qt::Key_X);
        hand.press(hand.named("Take all regions"));
        hand.settle();
        for (const char* tick : {"tick_10", "tick_30"}) {
            if (auto* box = hand.find<QCheckBox>(tick); !box->isChecked()) {
                hand.press(box, QPoint(8, 8));
                hand.settle();
            }
        }
        QVERIFY(!asks(hand, "field_walls"));
        hand.choose("field_to", "So many walls");
        QVERIFY(asks(hand, "field_walls") && asks(hand, "field_way"));
        QVERIFY(near(hand.output(40).removed, 2 * pi * 64 * 20));
        hand.fill("field_walls", "2");
        QVERIFY(near(hand.output(40).removed, 2 * pi * 64 * 26));
        hand.fill("field_walls", "3");
        QVERIFY(says(hand, "There are not so many walls ahead."));
        hand.fill("field_walls", "1");
        hand.press_button("Accept");
        QVERIFY(near(hand.output(40).removed, 2 * pi * 64 * 20));
    }

    void every_keystroke_that_makes_sense_is_shown() {
        Hand hand;
        hand.add_parameter("wide", "70 mm");
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        auto* width = hand.find<QLineEdit>("field_width");
        hand.press(width);
        hand.key(Qt::Key_A, Qt::ControlModifier);
        const std::tuple<const char*, bool, double> typed[] = {{"4", true, 4},    {"0", true, 40},   {" ", true, 40},
                                                               {"c", false, 40},  {"m", true, 400},  {" ", true, 400},
                                                               {"+", false, 400}, {" ", false, 400}, {"w", false, 400},
                                                               {"i", false, 400}, {"d", false, 400}, {"e", true, 470}};
        for (const auto& [letter, sense, value] : typed) {
            hand.type(letter);
            hand.settle();
            QCOMPARE(width->property("wrong").toBool(), !sense);
            QVERIFY2(near(hand.output(10).added, value * 60 * 20), letter);
        }
        QVERIFY(says(hand, "470"));
        QVERIFY(width->hasFocus());
        // What is typed in one go is taken back in one go.
        hand.key(Qt::Key_Tab);
        hand.model().setFocus();
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(near(hand.output(10).added, 100 * 60 * 20));
        hand.press_button("Cancel");
    }

    void names_are_given_where_they_are_needed() {
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        hand.fill("field_height", "thick = 12 mm");
        QCOMPARE(hand.document().parameters.size(), 1u);
        QCOMPARE(hand.document().parameters[0].name, std::string("thick"));
        QCOMPARE(hand.document().parameters[0].formula, std::string("12 mm"));
        QCOMPARE(last_step<model::Stock>(hand).height.text, std::string("thick"));
        QVERIFY(near(hand.output(10).added, 100 * 60 * 12));
        hand.fill("field_width", "thick = thick + 1 mm"); // would read itself
        QCOMPARE(hand.document().parameters.size(), 1u);
        QCOMPARE(hand.session().pictured_report(10)->state, model::StepState::failed);
        hand.fill("field_width", "wide = thick * 5");
        QVERIFY(near(hand.output(10).added, 60 * 60 * 12));
        hand.press_button("Accept");
        hand.model().setFocus();
        hand.key(Qt::Key_Z, Qt::ControlModifier); // the card was one change, names and all
        QVERIFY(hand.document().parameters.empty());
    }

    void wrong_answers_stand_on_the_card_and_nothing_is_lost() {
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        hand.fill("field_height", "-3 mm");
        QVERIFY(says(hand, "above zero"));
        QCOMPARE(hand.session().pictured_report(10)->state, model::StepState::failed);
        hand.fill("field_height", "30 deg");
        QVERIFY(hand.find<QLineEdit>("field_height")->toolTip().contains("length"));
        hand.fill("field_height", "30");
        QVERIFY(near(hand.output(10).added, 100 * 60 * 30));
        QVERIFY(!says(hand, "above zero"));
        hand.press_button("Cancel");
    }

    void steps_and_bodies_take_the_name_that_is_typed() {
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        hand.fill("step_name", "Pier cap");
        hand.press_button("Accept");
        QCOMPARE(hand.document().steps[0]->name, std::string("Pier cap"));
        QVERIFY(row_called(hand, "Pier cap") != nullptr);
        QVERIFY(hand.find<QPushButton>("step_10")->accessibleName().contains("Pier cap"));
        hand.open_step(10);
        hand.fill("step_name", "Base");
        hand.press_button("Accept");
        QVERIFY(row_called(hand, "Base") != nullptr);
        QVERIFY(row_called(hand, "Pier cap") == nullptr);
    }

    void regions_all_none_and_one_by_one() {
        Hand hand;
        bring_in_block(hand);
        hand.model().setFocus();
        hand.key(Qt::Key_X);
        QVERIFY(says(hand, "0 of 2 regions"));
        hand.press(hand.named("Take all regions"));
        hand.settle();
        QCOMPARE(last_step<model::Extrude>(hand).regions.size(), 2u);
        hand.press(hand.find<QCheckBox>("tick_10"), QPoint(8, 8));
        hand.settle();
        QVERIFY(near(hand.output(30).removed, 2 * pi * 64 * 20));
        hand.press_sketch(20, 0); // leaves one of them again
        QVERIFY(says(hand, "1 of 2 regions"));
        QVERIFY(near(hand.output(30).removed, pi * 64 * 20));
        hand.press(hand.named("Take no region"));
        hand.settle();
        QCOMPARE(hand.session().pictured_report(30)->state, model::StepState::failed);
        hand.press_button("Cancel");
    }

    void faces_and_vertices_are_chosen_from_lists_too() {
        Hand hand;
        begin_cut_of_both(hand);
        hand.choose("field_to", "A face");
        QCOMPARE(hand.session().pictured_report(30)->state, model::StepState::failed); // none is picked yet
        hand.choose("field_to_face", "under face");
        QVERIFY(near(hand.output(30).removed, 2 * pi * 64 * 20));
        hand.fill("field_to_offset", "5");
        QVERIFY(near(hand.output(30).removed, 2 * pi * 64 * 15));
        hand.choose("field_to", "A vertex");
        auto* vertices = hand.find<QComboBox>("field_to_vertex");
        QCOMPARE(vertices->count(), 8);
        const int low = vertices->findText(", 0", Qt::MatchEndsWith); // any of the four at height 0
        QVERIFY(low >= 0);
        hand.choose("field_to_vertex", vertices->itemText(low));
        QVERIFY2(near(hand.output(30).removed, 2 * pi * 64 * 15), "the offset holds for vertices too");
        // By mouse: aim, then click in the model.
        hand.press(hand.named("Pick for To vertex"));
        QVERIFY(hand.model().hand().target().has_value());
        hand.key(Qt::Key_Escape);
        QVERIFY(!hand.model().hand().target().has_value());
        hand.press_button("Accept");
        QVERIFY(near(hand.volume("Block"), 80 * 60 * 20 - 2 * pi * 64 * 15));
    }

    void pieces_get_their_verdicts_one_by_one() {
        Hand hand;
        begin_cut_of_both(hand);
        QVERIFY(says(hand, "3 pieces"));
        auto* both = hand.named("2 plugs, Block apart");
        hand.reveal(both);
        hand.press(both);
        hand.settle();
        QCOMPARE(last_step<model::Extrude>(hand).verdicts.size(), 2u);
        QVERIFY(near(hand.output(30).removed, 0));
        QCOMPARE(hand.session().picture()->after.size(), 3u);
        hand.press_button("one by one");
        QWidget* first = nullptr;
        for (auto* button : hand.window().findChildren<QPushButton*>("verdict")) {
            if (first == nullptr && button->isVisible() && button->accessibleName() == "plug, Block goes") {
                first = button;
            }
        }
        QVERIFY(first != nullptr);
        hand.reveal(first);
        hand.press(first);
        hand.settle();
        QVERIFY(near(hand.output(30).removed, pi * 64 * 20));
        QCOMPARE(last_step<model::Extrude>(hand).verdicts.size(), 1u);
        hand.press_button("Accept");
        QCOMPARE(hand.session().picture()->after.size(), 2u);
        QVERIFY(near(hand.volume("Block"), 80 * 60 * 20 - 2 * pi * 64 * 20));
    }

    void constraints_and_dimensions_on_the_sketch_card() {
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_D);
        hand.key(Qt::Key_Q);
        hand.key(Qt::Key_L);
        hand.press_sketch(-200, -100);
        hand.press_sketch(200, -10);
        hand.key(Qt::Key_Escape);
        hand.key(Qt::Key_L);
        hand.press_sketch(-150, 120);
        hand.press_sketch(100, 200);
        hand.key(Qt::Key_Escape);
        hand.key(Qt::Key_Escape);
        const auto drawing = [&]() -> const sketch::Sketch& { return last_step<model::SketchStep>(hand).drawing; };
        QCOMPARE(drawing().curves.size(), 2u);
        QVERIFY(drawing().constraints.empty());
        hand.tool("Select");
        hand.press_sketch(0, -55); // the lower line
        QVERIFY(!hand.pen().selected().empty());
        hand.press_button("level");
        QCOMPARE(drawing().constraints.size(), 1u);
        const auto offers = [&] { // nothing is selected any more
            const auto buttons = hand.window().findChildren<QPushButton*>("tool");
            return std::any_of(buttons.begin(), buttons.end(),
                               [](const auto* b) { return b->isVisible() && b->text() == "tangent"; });
        };
        QVERIFY(!offers());
        hand.press_sketch(0, -55);
        hand.press_button("tangent"); // makes no sense for one line
        QVERIFY(says(hand, "does not fit what is selected"));
        QCOMPARE(drawing().constraints.size(), 1u);
        const auto& solved = [&]() -> const sketch::Sketch& { return hand.output(10).sketch->solution.sketch; };
        const auto height = [&](int curve, size_t end) {
            return solved().point(solved().curves[static_cast<size_t>(curve)].points[end])->y;
        };
        QVERIFY(std::abs(height(0, 0) - height(0, 1)) < 1e-9);
        QVERIFY(says(hand, "degrees of freedom left"));
        // A dimension by its tool: pick, type; then its field on the card.
        hand.key(Qt::Key_Escape);
        hand.key(Qt::Key_N);
        hand.press_sketch(0, height(0, 0));
        hand.type("440");
        hand.key(Qt::Key_Return);
        QCOMPARE(drawing().constraints.size(), 2u);
        const auto length = [&](size_t curve) {
            const auto& line = solved().curves[curve];
            return std::hypot(solved().point(line.points[1])->x - solved().point(line.points[0])->x,
                              solved().point(line.points[1])->y - solved().point(line.points[0])->y);
        };
        QVERIFY(near(length(0), 440));
        auto* field = qobject_cast<QLineEdit*>(hand.named("distance"));
        hand.reveal(field);
        hand.press(field);
        hand.key(Qt::Key_A, Qt::ControlModifier);
        hand.type("50 cm");
        hand.key(Qt::Key_Return);
        QVERIFY(near(length(0), 500));
        hand.press_button("Cancel");
    }

    void contents_rename_colour_and_hide() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        press_row(hand, "Roller ring");
        hand.key(Qt::Key_F2);
        hand.key(Qt::Key_A, Qt::ControlModifier);
        hand.type("Race");
        hand.key(Qt::Key_Return);
        QVERIFY(row_called(hand, "Race") != nullptr);
        QCOMPARE(hand.document().appearance.at("30").name, std::string("Race"));
        QVERIFY(hand.volume("Race") > 0);
        press_row(hand, "Race");
        hand.when([] { return qobject_cast<QColorDialog*>(QApplication::activeModalWidget()) != nullptr; },
                  [] {
                      auto* dialog = qobject_cast<QColorDialog*>(QApplication::activeModalWidget());
                      dialog->setCurrentColor(QColor("#557799"));
                      dialog->accept();
                  });
        hand.window().run_verb("color");
        hand.settle();
        QCOMPARE(hand.document().appearance.at("30").color, std::string("#557799"));
        press_row(hand, "Race");
        hand.window().run_verb("hide");
        hand.settle();
        QVERIFY(row_called(hand, "Race")->toolTip(0).contains("hidden"));
        hand.activate(); // the dialog took the keyboard
        for (int i = 0; i < 3; ++i) {
            hand.key(Qt::Key_Z, Qt::ControlModifier);
        }
        QVERIFY(!hand.session().edited());
        QVERIFY(row_called(hand, "Roller ring") != nullptr);
    }

    void contents_say_what_is_stale_and_count_sketches() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        const QTreeWidgetItem* sketches = row_called(hand, "Sketches");
        QCOMPARE(sketches->text(1), QString("4"));
        hand.open_step(60);
        hand.press_button("Cancel");
        hand.from_menu(60, "Delete"); // the ports lose their sketch
        QCOMPARE(hand.session().report(70)->state, model::StepState::failed);
        QVERIFY(row_called(hand, "Top plate")->text(1) == "stale");
        QVERIFY(row_called(hand, "Roller ring")->text(1) != "stale");
        QVERIFY(row_called(hand, "Top plate")->toolTip(0).contains("failed"));
        // The line below leads to the step that has the finding.
        hand.window().run_verb("findings");
        hand.settle();
        QCOMPARE(hand.session().card(), 70);
        QVERIFY(says(hand, "sketch"));
        hand.press_button("Cancel");
    }

    void parameters_are_renamed_refused_and_deleted() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        const double before = hand.output(70).removed;
        const std::string first = hand.document().parameters[0].name;
        QCOMPARE(first, std::string("plate"));
        hand.set_cell(0, 0, "slab");
        QCOMPARE(hand.document().parameters[0].name, std::string("slab"));
        QVERIFY(model::uses_of_parameter(hand.document(), "plate").empty());
        QVERIFY(!model::uses_of_parameter(hand.document(), "slab").empty());
        QVERIFY(near(hand.output(70).removed, before));
        for (const char* bad : {"mm", "2x", "a b", "spindle_d"}) {
            hand.set_cell(0, 0, bad);
            QCOMPARE(hand.document().parameters[0].name, std::string("slab"));
            QVERIFY(says(hand, "A name has letters") || says(hand, "of that name already"));
        }
        hand.parameters().setCurrentCell(hand.row_of("slab"), 0);
        hand.press(hand.named("Delete the parameter"));
        QVERIFY(says(hand, "is read by"));
        const size_t count = hand.document().parameters.size();
        hand.add_parameter("spare", "3 mm");
        QCOMPARE(hand.document().parameters.size(), count + 1);
        hand.parameters().setCurrentCell(hand.row_of("spare"), 0);
        hand.press(hand.named("Delete the parameter"));
        hand.settle();
        QCOMPARE(hand.document().parameters.size(), count);
    }

    void parameters_have_units_groups_and_notes() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        QTableWidget& table = hand.parameters();
        QCOMPARE(table.item(0, 0)->text(), QString("Plates")); // a heading
        QCOMPARE(table.columnSpan(0, 0), 3);
        QCOMPARE(hand.row_of("plate"), 1);
        const auto parameter = [&] { return hand.document().parameters[0]; };
        hand.press(table.viewport(), table.visualItemRect(table.item(1, 0)).center());
        QCOMPARE(hand.find<QLineEdit>("parameter_comment")->text(), QString("thickness of both plates"));
        hand.fill("parameter_comment", "of steel");
        QCOMPARE(parameter().comment, std::string("of steel"));
        hand.choose("parameter_unit", "cm");
        QCOMPARE(parameter().unit, std::string("cm"));
        QCOMPARE(table.item(hand.row_of("plate"), 2)->text(), QString("1.6 cm"));
        QVERIFY(near(hand.volume("Top plate"),
                     240 * 240 * 16 - hand.output(70).removed / 2 - hand.output(90).removed - hand.output(110).removed,
                     1e-9));
        // A new group by typing its name; the others stay where they are.
        auto* group = hand.find<QComboBox>("parameter_group");
        hand.press(group->lineEdit());
        hand.key(Qt::Key_A, Qt::ControlModifier);
        hand.type("Stock");
        hand.key(Qt::Key_Tab);
        QCOMPARE(parameter().group, std::string("Stock"));
        QCOMPARE(table.item(hand.row_of("plate") - 1, 0)->text(), QString("Stock"));
        QCOMPARE(table.item(hand.row_of("plate_w") - 1, 0)->text(), QString("Plates"));
        QCOMPARE(table.currentRow(), hand.row_of("plate"));
        // One more comes into the same group.
        hand.add_parameter("spare", "3 mm");
        QCOMPARE(hand.document().parameters.back().group, std::string("Stock"));
        QCOMPARE(hand.row_of("spare"), hand.row_of("plate") + 1);
        for (int i = 0; i < 6; ++i) {
            hand.session().undo();
        }
        hand.settle();
        QCOMPARE(parameter().group, std::string("Plates"));
    }

    void parameters_go_out_and_come_in_as_a_table() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        const QString path = folder.filePath("table.csv");
        hand.answer_file_dialog(path);
        hand.window().run_verb("parameters_out");
        QVERIFY(QTest::qWaitFor([&] { return QFile::exists(path); }, 5000));
        QFile table(path);
        QVERIFY(table.open(QIODevice::ReadOnly));
        QByteArray text = table.readAll();
        table.close();
        QVERIFY(text.contains("plate,16 mm,16,mm,"));
        text.replace("plate,16 mm", "plate,20 mm");
        QVERIFY(table.open(QIODevice::WriteOnly));
        table.write(text);
        table.close();
        hand.activate();
        hand.answer_file_dialog(path);
        hand.window().run_verb("parameters_in");
        QVERIFY(QTest::qWaitFor([&] { return hand.document().parameters[0].formula == "20 mm"; }, 5000));
        hand.settle();
        QVERIFY(near(hand.output(10).added, 240 * 240 * 20));
        hand.activate();
        hand.key(Qt::Key_Z, Qt::ControlModifier); // one change
        QCOMPARE(hand.document().parameters[0].formula, std::string("16 mm"));
    }

    void the_route_by_keyboard_and_by_menu() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        auto* row = hand.find<QPushButton>("step_20");
        row->setFocus(Qt::TabFocusReason);
        hand.key(Qt::Key_Space);
        QTest::qWait(50);
        hand.settle();
        QCOMPARE(hand.session().card(), 20);
        hand.press_button("Cancel");
        hand.from_menu(20, "Move down");
        QCOMPARE(hand.document().index_of(20), 2);
        QCOMPARE(hand.document().step(20)->number, 30); // numbers follow the order, ids do not
        hand.from_menu(20, "Move up");
        QCOMPARE(hand.document().index_of(20), 1);
        hand.from_menu(70, "Open");
        QCOMPARE(hand.session().card(), 70);
        hand.press_button("Cancel");
        QVERIFY(says(hand, "11 steps"));
        QVERIFY(says(hand, "removed"));
    }

    void revolving_by_mouse_and_keyboard() {
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_D);
        hand.choose("field_plane", "xz");
        hand.key(Qt::Key_Q);
        hand.tool("Rectangle");
        hand.point_at_sketch(20, 0);
        hand.type("20");
        hand.key(Qt::Key_Tab);
        hand.type("0");
        hand.key(Qt::Key_Return);
        hand.point_at_sketch(60, 40);
        hand.type("10");
        hand.key(Qt::Key_Tab);
        hand.type("30");
        hand.key(Qt::Key_Return);
        hand.key(Qt::Key_Escape);
        hand.press_button("Accept");
        QCOMPARE(hand.output(10).sketch->regions.size(), 1u);
        // The axis is missing at first: the finding says what to do; the sketch's own axis does it as well.
        hand.model().setFocus();
        hand.key(Qt::Key_V);
        const int turned = hand.session().card();
        hand.press_button("All");
        QCOMPARE(hand.session().report(turned)->findings.front().code, std::string("revolve.guide"));
        hand.choose("field_axis", "The sketch's y-axis");
        const double whole = pi * (30 * 30 - 20 * 20) * 30;
        QVERIFY(near(hand.output(turned).added, whole));
        hand.choose("field_turn", "By an angle");
        hand.fill("field_angle", "120 deg");
        hand.settle();
        QVERIFY(near(hand.output(turned).added, whole / 3));
        hand.press_button("Accept");
        // The same regions cut a post; on the same card they keep what is common instead.
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        hand.choose("field_shape", "Cylinder");
        hand.fill("field_diameter", "50");
        hand.fill("field_height", "30");
        hand.press_button("Accept");
        hand.find_verb("revolve cut");
        const int cut = hand.session().card();
        hand.press_button("All");
        hand.choose("field_axis", "The sketch's y-axis");
        hand.model().setFocus();
        hand.key(Qt::Key_W);
        hand.press_model(0, -25, 15); // seen from the front
        const double common = pi * (25 * 25 - 20 * 20) * 30;
        QVERIFY(near(hand.output(cut).removed, common));
        QCOMPARE(hand.output(cut).pieces.size(), 2u);
        hand.choose("field_result", "Keeps the common part");
        QVERIFY(near(hand.output(cut).removed, pi * 20 * 20 * 30));
        hand.choose("field_result", "Cuts bodies");
        QVERIFY(near(hand.output(cut).removed, common));
        hand.press_button("Accept");
        const auto made = hand.document();
        while (hand.session().can_undo()) {
            hand.key(Qt::Key_Z, Qt::ControlModifier);
        }
        QVERIFY(hand.document().steps.empty());
        while (hand.session().can_redo()) {
            hand.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        }
        QVERIFY(model::same_content(hand.document(), made));
        QVERIFY(near(hand.output(cut).removed, common));
    }

    void measured_parameters_by_card_and_table() {
        QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        hand.find_verb("measures a length");
        hand.settle();
        hand.choose("field_what", "A volume");
        hand.choose("field_body", "Spindle");
        hand.fill("field_parameter", "spindle_volume");
        hand.settle();
        const double volume = pi * 225 * 80;
        const auto& measured = hand.output(120).measured;
        QVERIFY(near(measured.at("spindle_volume").value, volume, 1e-12));
        hand.press_button("Accept");
        // It stands below the others, to be read only.
        QTableWidget& table = hand.parameters();
        int row = hand.row_of("spindle_volume");
        QCOMPARE(row, table.rowCount() - 1);
        QCOMPARE(table.item(row, 0)->text(), QString("spindle_volume"));
        QCOMPARE(table.item(row, 2)->text(), QString::number(volume / 1000, 'f', 2) + QString(" cm\u00b3"));
        QVERIFY(!table.item(row, 0)->flags().testFlag(Qt::ItemIsEditable));
        // A formula of the table may read it, and an earlier step may not.
        hand.add_parameter("side", "(spindle_volume)^(1/3)");
        hand.settle();
        row = hand.row_of("side");
        QCOMPARE(table.item(row, 2)->text(),
                 QString::fromStdString(format_quantity(std::cbrt(volume), "mm", 3)) + " mm");
        hand.set_formula(0, "side / 2");
        hand.settle();
        QVERIFY(!hand.session().findings().empty());
        QCOMPARE(hand.session().findings().front().code, std::string("parameter.loop"));
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        hand.settle();
        QVERIFY(hand.session().findings().empty());
        // The name follows in every formula.
        hand.open_step(120);
        hand.fill("field_parameter", "content");
        hand.settle();
        QCOMPARE(hand.document().parameters.back().formula, std::string("(content)^(1/3)"));
        hand.press_button("Accept");
        hand.set_formula(5, "36 mm");
        hand.settle();
        QCOMPARE(table.item(row, 2)->text(),
                 QString::fromStdString(format_quantity(std::cbrt(pi * 324 * 80), "mm", 3)) + " mm");
    }

    void what_hangs_on_what_is_clicked_and_saved() {
        QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        const auto sheet = [&] {
            hand.find_verb("what hangs on what");
            auto* view = hand.window().findChild<DependencyView*>();
            return view == nullptr ? nullptr : view->findChild<DependencySheet*>();
        };
        const auto click = [&](DependencySheet* on, const std::string& text) {
            const auto& nodes = on->graph().nodes;
            const auto at = std::find_if(nodes.begin(), nodes.end(), [&](const auto& n) { return n.text == text; });
            QVERIFY(at != nodes.end());
            const QPoint place = on->place_of(static_cast<int>(at - nodes.begin()));
            qobject_cast<QScrollArea*>(on->parentWidget()->parentWidget())->ensureVisible(place.x(), place.y());
            QTest::mouseMove(on, place);
            QTest::mouseClick(on, Qt::LeftButton, {}, place);
            hand.settle();
        };
        auto* first = sheet();
        QVERIFY(first != nullptr);
        const QString path = folder.filePath("graph.svg");
        hand.answer_file_dialog(path);
        for (auto* button : hand.window().findChildren<QPushButton*>()) {
            if (button->text().startsWith("Save as SVG")) {
                QTest::mouseClick(button, Qt::LeftButton);
            }
        }
        QVERIFY(QTest::qWaitFor([&] { return QFile::exists(path); }, 10000));
        click(first, "100  Degree scale");
        QCOMPARE(hand.session().card(), 100);
        hand.activate();
        hand.press_button("Cancel");
        click(sheet(), "port_d");
        QCOMPARE(hand.parameters().item(hand.parameters().currentRow(), 0)->text(), QString("port_d"));
        // All of it is seen; the open step is lit, what is typed instead of it, and Enter goes there.
        hand.activate();
        hand.open_step(70);
        auto* third = sheet();
        QVERIFY(third != nullptr);
        QVERIFY(QTest::qWaitFor([&] { return third->isVisible(); }));
        const auto text_of = [&] {
            return third->pointed_at() < 0 ? std::string("nothing")
                                           : third->graph().nodes[static_cast<size_t>(third->pointed_at())].text;
        };
        QCOMPARE(text_of(), std::string("70  Cable ports and slot"));
        const auto* area = qobject_cast<QScrollArea*>(third->parentWidget()->parentWidget());
        QVERIFY(third->width() <= area->viewport()->width() && third->height() <= area->viewport()->height());
        const double scale = third->scale();
        QWheelEvent wheel(QPointF(200, 100), third->mapToGlobal(QPointF(200, 100)), {}, QPoint(0, 240), Qt::NoButton,
                          Qt::NoModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(third, &wheel);
        QVERIFY(near(third->scale() / scale, std::pow(1.0012, 240), 1e-6));
        auto* wanted = hand.window().findChild<DependencyView*>()->findChild<QLineEdit*>();
        QTest::keyClicks(wanted, "roller");
        QCOMPARE(text_of(), std::string("30  Roller ring"));
        QTest::keyClick(wanted, Qt::Key_Return);
        hand.settle();
        QCOMPARE(hand.session().card(), 30);
        hand.activate();
        hand.press_button("Cancel");
    }

    void find_a_verb_by_arrows_and_escape() {
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_Space);
        auto* typed = qobject_cast<QLineEdit*>(hand.named("Find a verb"));
        QVERIFY(typed->hasFocus());
        hand.type("look from");
        hand.key(Qt::Key_Down);
        hand.key(Qt::Key_Up);
        hand.key(Qt::Key_Escape);
        QVERIFY(!typed->isVisible());
        QVERIFY(hand.document().steps.empty());
        hand.find_verb("extrude cut"); // nothing to cut yet
        QVERIFY(hand.document().steps.empty());
        hand.window().run_verb("extrude_cut");
        QVERIFY(says(hand, "not possible now"));
        QVERIFY(!hand.window().run_verb("no such verb"));
        // From the bar: a group opens its verbs.
        hand.when([] { return qobject_cast<QMenu*>(QApplication::activePopupWidget()) != nullptr; },
                  [] {
                      auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
                      for (QAction* action : menu->actions()) {
                          if (action->text().startsWith("Stock")) {
                              QTest::mouseClick(menu->windowHandle(), Qt::LeftButton, {},
                                                menu->actionGeometry(action).center());
                              return;
                          }
                      }
                  });
        hand.press_button("Bring in");
        hand.settle();
        QCOMPARE(hand.document().steps.size(), 1u);
        hand.press_button("Cancel");
    }

    void closing_asks_before_work_is_lost() {
        const QTemporaryDir folder;
        Hand hand;
        const QString path = demo_copy(folder);
        hand.window().open_file(path);
        hand.settle();
        hand.set_formula(0, "18 mm");
        const auto answer = [&](QMessageBox::StandardButton button) {
            hand.when([] { return qobject_cast<QMessageBox*>(QApplication::activeModalWidget()) != nullptr; },
                      [button] {
                          auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
                          QTest::mouseClick(box->button(button), Qt::LeftButton);
                      });
        };
        answer(QMessageBox::Cancel);
        QVERIFY(!hand.window().close());
        QVERIFY(hand.session().edited());
        hand.activate();
        answer(QMessageBox::Save);
        QVERIFY(hand.window().close());
        QVERIFY(!hand.session().edited());
        Hand again;
        again.window().open_file(path);
        again.settle();
        QCOMPARE(again.document().parameters[0].formula, std::string("18 mm"));
        again.set_formula(0, "16 mm");
        answer(QMessageBox::Discard);
        QVERIFY(again.window().close());
        Hand third;
        third.window().open_file(path);
        third.settle();
        QCOMPARE(third.document().parameters[0].formula, std::string("18 mm"));
    }
};

int main(int argc, char** argv) {
    return run<CardsTest>(argc, argv);
}
#include "cards_test.moc"
