// The whole job in the real window, by mouse and keyboard: from an empty document to a STEP file, and every way back.
#include "window_fixture.h"

#include "geom/measure.h"
#include "io/document_file.h"
#include "io/import_child.h"
#include "io/safe_file.h"

#include <QCheckBox>
#include <QElapsedTimer>
#include <QFileDialog>
#include <QHeaderView>
#include <QMessageBox>
#include <QScrollBar>
#include <QStandardPaths>
#include <QTemporaryDir>

#include <atomic>
#include <numbers>
#include <thread>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;
using std::numbers::pi;

namespace {

const QString demo = QStringLiteral(KERVO_SOURCE "/demo/azimuth-table/document.json");

// The demo in a folder of its own, so that nothing is written beside the original.
QString demo_copy(const QTemporaryDir& folder) {
    const QString path = folder.filePath("document.json");
    QFile::copy(demo, path);
    QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner);
    return path;
}

bool near(double value, double wanted, double relative = 1e-9) {
    return std::abs(value - wanted) <= relative * std::max(1.0, std::abs(wanted));
}

} // namespace

// Keeps watch over every event: how long its handling took, and what it was. Drawing is left out: without a graphics
// card the processor does it, beside the very work that the test starts.
class Watchdog : public QApplication {
public:
    using QApplication::QApplication;
    bool notify(QObject* receiver, QEvent* event) override {
        const QString what = QString("%1 %2").arg(receiver->metaObject()->className()).arg(event->type());
        const QEvent::Type type = event->type();
        QElapsedTimer took;
        took.start();
        const bool result = QApplication::notify(receiver, event);
        if (took.elapsed() > longest && type != QEvent::UpdateRequest) {
            longest = took.elapsed();
            culprit = what;
        }
        return result;
    }
    qint64 longest = 0;
    QString culprit;
};

class WindowTest : public QObject {
    Q_OBJECT

    // Two decks with a ring between them, as a designer would bring them in.
    static void bring_in_stock(Hand& hand) {
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        hand.fill("step_name", "Low deck");
        hand.fill("field_width", "80");
        hand.fill("field_depth", "60 mm");
        hand.fill("field_height", "deck");
        hand.press_button("Accept");
        hand.find_verb("stock");
        hand.choose("field_shape", "Cylinder");
        hand.fill("step_name", "Ring");
        hand.fill("field_diameter", "50");
        hand.fill("field_height", "20");
        hand.fill("field_z", "deck");
        hand.press_button("Accept");
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        hand.fill("step_name", "High deck");
        hand.fill("field_width", "80");
        hand.fill("field_depth", "60");
        hand.fill("field_height", "deck");
        hand.fill("field_z", "deck + 20 mm");
        hand.key(Qt::Key_Return, Qt::ControlModifier);
    }

    static void add_parameter(Hand& hand, const QString& name, const QString& formula) {
        hand.model().setFocus();
        hand.key(Qt::Key_P);
        hand.type(name);
        hand.key(Qt::Key_Return);
        auto* table = hand.window().findChild<QTableWidget*>();
        table->setFocus();
        table->setCurrentCell(table->rowCount() - 1, 1);
        hand.key(Qt::Key_F2);
        hand.key(Qt::Key_A, Qt::ControlModifier);
        hand.type(formula);
        hand.key(Qt::Key_Return);
    }

    static void set_formula(Hand& hand, int row, const QString& formula) {
        auto* table = hand.window().findChild<QTableWidget*>();
        const QPoint at = table->visualItemRect(table->item(row, 1)).center();
        QTest::mouseDClick(hand.window().windowHandle(), Qt::LeftButton, {},
                           table->viewport()->mapTo(&hand.window(), at));
        hand.settle();
        hand.key(Qt::Key_A, Qt::ControlModifier);
        hand.type(formula);
        hand.key(Qt::Key_Return);
    }

private slots:
    void initTestCase() {
        QStandardPaths::setTestModeEnabled(true);
        QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation)).removeRecursively();
    }

    void the_whole_job() {
        const QTemporaryDir folder;
        Hand hand;
        add_parameter(hand, "deck", "10 mm");
        QCOMPARE(hand.document().parameters.size(), 1u);
        QCOMPARE(hand.document().parameters[0].name, std::string("deck"));
        bring_in_stock(hand);
        QCOMPARE(hand.document().steps.size(), 3u);
        QVERIFY(near(hand.volume("Low deck"), 48000));
        QVERIFY(near(hand.volume("Ring"), pi * 625 * 20));

        // Draw on the upper face of the high deck: a circle about the origin by its diameter, a rectangle by its sizes.
        hand.press_model(30, -20, 40);
        QCOMPARE(hand.model().selection().size(), 1u);
        QCOMPARE(hand.model().selection()[0].faces, std::vector<std::string>{"30:top"});
        hand.key(Qt::Key_D);
        hand.key(Qt::Key_Q);
        hand.key(Qt::Key_O);
        hand.press_sketch(0.4, -0.3); // near enough to snap to the origin
        hand.point_at_sketch(6, 0);
        hand.type("12");
        hand.key(Qt::Key_Return);
        hand.key(Qt::Key_R);
        hand.press_sketch(18, -20);
        hand.point_at_sketch(25, -10);
        hand.type("15");
        hand.key(Qt::Key_Tab);
        hand.type("40 mm");
        hand.key(Qt::Key_Return);
        const auto& drawn = std::get<kervo::model::SketchStep>(hand.document().steps.back()->definition).drawing;
        QCOMPARE(drawn.curves.size(), 5u);
        QCOMPARE(hand.output(40).sketch->regions.size(), 2u);
        const auto center = drawn.point(drawn.curves[0].points[0]);
        QCOMPARE(center->x, 0.0);
        QCOMPARE(center->y, 0.0);
        hand.press_button("Accept");

        // Cut both decks, not the ring, from the upper face of the one to the under face of the other.
        hand.key(Qt::Key_X);
        const auto cut = [&]() -> const kervo::model::ExtrudeCut& {
            return std::get<kervo::model::ExtrudeCut>(hand.document().steps.back()->definition);
        };
        QCOMPARE(cut().sketch.step, 40);
        hand.key(Qt::Key_C);
        hand.press_sketch(1, 1);
        hand.press_sketch(25, 0);
        QCOMPARE(cut().regions.size(), 2u);
        hand.key(Qt::Key_W);
        hand.find_verb("corner");
        hand.press_model(-30, -20, 40);
        QCOMPARE(cut().workpieces.size(), 1u);
        hand.press(hand.find<QCheckBox>("tick_10"), QPoint(8, 8));
        hand.settle();
        QCOMPARE(cut().workpieces.size(), 2u);
        QVERIFY(hand.find<QCheckBox>("tick_20")->text().contains("met but not cut"));
        hand.choose("field_from", "A face");
        hand.press(hand.named("Pick for From face"));
        QVERIFY(hand.model().pick_target().has_value());
        hand.press_model(-30, -20, 40);
        QCOMPARE(cut().extent.from_face.at(0).faces, std::vector<std::string>{"30:top"});
        hand.choose("field_to", "A face");
        hand.find_verb("corner below");
        hand.reveal(hand.named("Pick for To face"));
        hand.press(hand.named("Pick for To face"));
        hand.press_model(-30, -20, 0);
        QCOMPARE(cut().extent.to_face.at(0).faces, std::vector<std::string>{"10:bottom"});
        hand.find_verb("corner");

        // What goes is known before it goes.
        const double holes = pi * 36 + 15 * 40;
        QCOMPARE(hand.session().picture()->pieces.size(), 6u);
        QVERIFY(near(hand.output(50).removed, 2 * 10 * holes));
        QVERIFY(near(hand.output(50).imbalance, 0, 1e-12));
        // A click on a piece keeps it, another drops it again.
        hand.press_model(0, 0, 40);
        QCOMPARE(cut().verdicts.size(), 1u);
        QVERIFY(near(hand.output(50).removed, 2 * 10 * holes - 10 * pi * 36));
        hand.press_model(0, 0, 40);
        QVERIFY(near(hand.output(50).removed, 2 * 10 * holes));
        hand.key(Qt::Key_Return, Qt::ControlModifier);
        QVERIFY(near(hand.volume("High deck"), 48000 - 10 * holes));
        QVERIFY(near(hand.volume("Ring"), pi * 625 * 20));
        const QString row = hand.find<QPushButton>("step_50")->accessibleName();
        QVERIFY2(row.contains(QString::number(20 * holes / 1000, 'f', 1)), qPrintable(row));

        // A thicker deck: everything follows, the ring does not change.
        set_formula(hand, 0, "14 mm");
        QVERIFY2(near(hand.output(50).removed, 2 * 14 * holes),
                 qPrintable(QString::number(hand.output(50).removed / holes) + " " +
                            QString::fromStdString(hand.document().parameters[0].formula)));
        QVERIFY(near(hand.volume("Ring"), pi * 625 * 20));

        // Back to the start and forth again.
        const auto end = hand.document();
        int steps_back = 0;
        while (hand.session().can_undo()) {
            hand.model().setFocus();
            hand.key(Qt::Key_Z, Qt::ControlModifier);
            ++steps_back;
        }
        QVERIFY(hand.document().steps.empty());
        QVERIFY(hand.document().parameters.empty());
        for (int i = 0; i < steps_back; ++i) {
            hand.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        }
        QVERIFY(kervo::model::same_content(hand.document(), end));

        // Save, hand over, read back.
        hand.answer_file_dialog(folder.filePath("deck.kervo"));
        hand.key(Qt::Key_S, Qt::ControlModifier);
        QVERIFY(!hand.session().edited());
        const auto saved = io::open_document(folder.filePath("deck.kervo").toStdString());
        QVERIFY(saved.ok());
        QVERIFY(kervo::model::same_content(*saved, hand.document()));
        hand.activate();
        hand.answer_file_dialog(folder.filePath("deck.step"));
        hand.key(Qt::Key_E, Qt::ControlModifier);
        const bool written = QTest::qWaitFor([&] { return QFile::exists(folder.filePath("deck.step")); }, 30000);
        QVERIFY2(written, qPrintable(hand.find<QLabel>("hint")->text()));
        Progress progress;
        io::ImportLimits limits;
        limits.reader = KERVO_BIN "/kervo-reader";
        const auto bytes = io::read_whole(folder.filePath("deck.step").toStdString());
        const auto bodies = io::import_in_child({"deck.step", *bytes, false}, limits, progress);
        QVERIFY2(bodies.ok(), bodies ? "" : bodies.finding().cause.c_str());
        QCOMPARE(bodies->size(), 3u);
        QCOMPARE((*bodies)[0].name, std::string("Low deck"));
        QVERIFY(near(geom::volume_of((*bodies)[0].shape), 80 * 60 * 14 - 14 * holes));
        QVERIFY(near(geom::volume_of((*bodies)[1].shape), pi * 625 * 20));
    }

    void an_earlier_step_is_opened_and_changed() {
        const QTemporaryDir folder;
        Hand hand;
        QVERIFY(hand.window().open_file(demo_copy(folder)));
        hand.settle();
        const double before = hand.output(70).removed;
        hand.open_step(10);
        QCOMPARE(hand.session().card(), 10);
        QVERIFY(near(hand.output(70).removed, before)); // the steps below stay known while a card is open
        hand.fill("field_height", "plate + 4 mm");
        QVERIFY(QTest::qWaitFor([&] { return !near(hand.output(70).removed, before); }));
        hand.press_button("Cancel");
        QVERIFY(near(hand.output(70).removed, before));
        QVERIFY(!hand.session().edited());
        hand.open_step(10);
        hand.fill("field_height", "plate + 4 mm");
        hand.press_button("Accept");
        const double holes = 4 * pi * 121 + pi / 10 * (108 * 108 - 96 * 96);
        QVERIFY(near(hand.output(70).removed, (16 + 20) * holes));
        QVERIFY(hand.session().edited());
    }

    void as_of_a_step_and_suspended() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        hand.from_menu(40, "Show as of here");
        QCOMPARE(hand.session().as_of(), 40);
        QCOMPARE(hand.session().picture()->after.size(), 3u);
        QVERIFY(near(hand.volume("Top plate"), 240 * 240 * 16));
        hand.from_menu(40, "Show the whole route");
        QCOMPARE(hand.session().picture()->after.size(), 4u);
        hand.from_menu(90, "Suspend");
        QVERIFY(hand.document().step(90)->suspended);
        hand.from_menu(90, "Take up again");
        QVERIFY(near(hand.output(90).removed, 16 * pi * 256));
        hand.from_menu(80, "Delete");
        QCOMPARE(hand.session().report(90)->state, kervo::model::StepState::failed);
        QVERIFY(hand.find<QPushButton>("step_90")->accessibleName().contains("failed"));
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(near(hand.output(90).removed, 16 * pi * 256));
    }

    void dimensions_on_the_model_are_pulled_and_typed() {
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        const auto height = [&] {
            return std::get<kervo::model::Stock>(hand.document().steps.back()->definition).height.text;
        };
        QCOMPARE(height(), std::string("20 mm"));
        const auto placed = hand.model().placed_dimensions();
        const auto at = std::find_if(placed.begin(), placed.end(), [](const auto& d) { return d.field == "height"; });
        QVERIFY(at != placed.end());
        const QPointF handle = hand.model().handle_of(*at);
        hand.drag(handle, handle - QPointF(0, 60));
        const double pulled = *evaluate_as(height(), {}, length_dimension);
        QVERIFY2(pulled > 25 && pulled < 100, height().c_str());
        QVERIFY(near(hand.output(10).added, 100 * 60 * pulled));
        // One pull is one change.
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(height(), std::string("20 mm"));
        // A formula is not overwritten by a pull.
        add_parameter(hand, "tall", "30 mm");
        hand.fill("field_height", "tall");
        const auto again = hand.model().placed_dimensions();
        const auto tall = std::find_if(again.begin(), again.end(), [](const auto& d) { return d.field == "height"; });
        const QPointF there = hand.model().handle_of(*tall);
        hand.drag(there, there - QPointF(0, 60));
        QCOMPARE(height(), std::string("tall"));
    }

    void looking_around() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        const gp_Pnt corner(120, 120, 72);
        const auto place = [&] { return hand.model().place_of(corner); };
        const QPointF start = place();
        const QPointF middle(200, 600); // beside the model
        hand.drag(middle, middle + QPointF(60, 0), Qt::RightButton);
        QVERIFY(QLineF(place(), start).length() > 5); // turned
        const auto rise = [&] {
            return hand.model().place_of(gp_Pnt(0, 0, 0)).y() - hand.model().place_of(gp_Pnt(0, 0, 72)).y();
        };
        const double before_tilt = rise();
        hand.drag(middle, middle + QPointF(0, 40), Qt::RightButton);
        QVERIFY(rise() < before_tilt); // pulled down: seen from higher up
        hand.find_verb("look from the top");
        const QPointF top = place();
        QVERIFY(QLineF(hand.model().place_of(gp_Pnt(120, 120, 0)), top).length() < 1e-6); // straight above each other
        hand.drag(middle, middle + QPointF(40, -20), Qt::MiddleButton);
        QVERIFY2(QLineF(place(), top + QPointF(40, -20)).length() < 1,
                 qPrintable(QString("%1 %2").arg(place().x() - top.x()).arg(place().y() - top.y()))); // panned
        hand.model().setFocus();
        hand.key(Qt::Key_F);
        QVERIFY(QLineF(place(), top).length() < 1); // back where it was
        hand.key(Qt::Key_Plus);
        QVERIFY(QLineF(place(), QRectF(hand.model().rect()).center()).length() >
                QLineF(top, QRectF(hand.model().rect()).center()).length());
        hand.key(Qt::Key_F);
        const QPointF anchor(200, 300);
        QWheelEvent wheel(anchor, hand.model().mapToGlobal(anchor), {}, QPoint(0, 240), {}, {}, Qt::NoScrollPhase,
                          false);
        QApplication::sendEvent(&hand.model(), &wheel);
        QVERIFY(QLineF(place(), top).length() > 1);
        for (const int key : {Qt::Key_Left, Qt::Key_Right, Qt::Key_Up, Qt::Key_Down}) {
            const QPointF before = place();
            hand.key(key, key == Qt::Key_Left ? Qt::ShiftModifier : Qt::NoModifier);
            QVERIFY(QLineF(place(), before).length() > 0.5 || key == Qt::Key_Up || key == Qt::Key_Down);
        }
        // The view sheet.
        hand.press(hand.named("Look from the front"));
        QVERIFY(QLineF(hand.model().place_of(gp_Pnt(120, -120, 72)), place()).length() < 1e-6);
        // Square at a face.
        hand.find_verb("corner");
        hand.press_model(100, -100, 72);
        hand.key(Qt::Key_Q);
        QVERIFY(QLineF(hand.model().place_of(gp_Pnt(120, 120, 0)), place()).length() < 1e-6);
    }

    void selecting_faces_edges_vertices_bodies() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        using kervo::model::ElementKind;
        const auto kind = [&] { return hand.model().selection().at(0).kind; };
        hand.press_model(100, -100, 72);
        QCOMPARE(kind(), ElementKind::face);
        hand.press_model(100, -100, 72); // again: its body
        QCOMPARE(kind(), ElementKind::body);
        QCOMPARE(hand.model().selection()[0].body, std::string("40"));
        hand.press_model(120, -50, 72);
        QCOMPARE(kind(), ElementKind::edge);
        hand.press_model(120, -120, 72);
        QCOMPARE(kind(), ElementKind::vertex);
        hand.press(&hand.model(), QPoint(8, hand.model().height() - 80)); // nothing there
        QVERIFY(hand.model().selection().empty());
        // A body chosen in Contents is chosen in the model.
        auto* tree = hand.window().findChild<QTreeWidget*>();
        hand.press(tree->viewport(), tree->visualItemRect(tree->topLevelItem(1)).center());
        QCOMPARE(hand.model().selection().at(0).body, std::string("30"));
        hand.model().setFocus();
        hand.key(Qt::Key_H);
        QVERIFY(hand.document().appearance.at("30").hidden);
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!hand.document().appearance.at("30").hidden);
    }

    void a_cutaway() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        hand.model().setFocus();
        hand.key(Qt::Key_K);
        QVERIFY(hand.session().cutaway().has_value());
        const auto area = [&](const std::string& body) {
            double sum = 0;
            for (const auto& cap : hand.session().picture()->caps) {
                sum += cap.body == body ? geom::area_of(cap.face) : 0;
            }
            return sum;
        };
        QVERIFY(near(area("30"), 2 * 25 * 40)); // the ring, cut through its axis
        QVERIFY(near(area("10"), 240 * 16));    // the plane through the axis meets no port and no slot
        hand.key(Qt::Key_K, Qt::ShiftModifier);
        QCOMPARE(hand.session().cutaway()->normal[1], 1.0);
        auto* offset = qobject_cast<QLineEdit*>(hand.named("Place of the cutaway"));
        hand.press(offset);
        hand.key(Qt::Key_A, Qt::ControlModifier);
        hand.type("ports / 2");
        hand.key(Qt::Key_Return);
        QVERIFY(near(area("10"), (240 - 2 * 22) * 16)); // now it meets two ports, through their middles
        auto* tree = hand.window().findChild<QTreeWidget*>();
        const QRect row = tree->visualItemRect(tree->topLevelItem(0));
        hand.press(tree->viewport(), QPoint(row.left() + 9, row.center().y()));
        hand.settle();
        QCOMPARE(hand.session().cutaway()->left_whole, std::vector<std::string>{"10"});
        QCOMPARE(area("10"), 0.0);
        QVERIFY(
            near(hand.volume("Bottom plate"), 240 * 240 * 16 - hand.output(70).removed / 2)); // only the view is cut
        hand.find_verb("remove the cut");
        QVERIFY(!hand.session().cutaway().has_value());
    }

    void wrong_formulas_are_marked_in_place() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        const auto before = hand.volume("Top plate");
        set_formula(hand, 0, "16 mm + 3 deg");
        auto* table = hand.window().findChild<QTableWidget*>();
        QCOMPARE(table->item(0, 2)->text(), QString("error"));
        QVERIFY(!hand.session().findings().empty());
        hand.model().setFocus();
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(table->item(0, 2)->text(), QString("16.000"));
        QVERIFY(near(hand.volume("Top plate"), before));
        hand.open_step(10);
        auto* height = hand.find<QLineEdit>("field_height");
        hand.press(height);
        hand.key(Qt::Key_A, Qt::ControlModifier);
        hand.type("plat");
        QVERIFY(height->property("wrong").toBool());
        hand.press_button("Cancel");
    }

    void broken_files_say_so_and_change_nothing() {
        const QTemporaryDir folder;
        Hand hand;
        const QString path = demo_copy(folder);
        QVERIFY(hand.window().open_file(path));
        hand.settle();
        const auto before = hand.document();
        const std::pair<const char*, const char*> broken[] = {
            {"torn.json", "{\"format\": \"kervo\", \"ver"},
            {"newer.json", "{\"format\": \"kervo\", \"version\": 99}"},
            {"other.json", "{\"format\": \"other\"}"},
            {"torn.kervo", "PK and no more"}};
        for (const auto& [name, text] : broken) {
            QFile file(folder.filePath(name));
            QVERIFY(file.open(QIODevice::WriteOnly));
            file.write(text);
            file.close();
            QVERIFY(!hand.window().open_file(folder.filePath(name)));
            auto* box = hand.window().findChild<QMessageBox*>();
            QVERIFY(box != nullptr && box->isVisible());
            QVERIFY(box->text().length() > 20);
            QTest::keyClick(box, Qt::Key_Return);
            QTest::qWait(20);
            QVERIFY(kervo::model::same_content(hand.document(), before));
        }
    }

    void unsaved_work_comes_back() {
        const QTemporaryDir folder;
        const QString path = demo_copy(folder);
        const QString crashed = folder.filePath("crashed.json");
        QFile::copy(path, crashed);
        kervo::model::Document lost;
        {
            Hand hand;
            QVERIFY(hand.window().open_file(path));
            hand.settle();
            set_formula(hand, 0, "19 mm");
            hand.open_step(10);
            hand.fill("field_height", "plate + 1 mm"); // the card is still open when the power goes
            lost = hand.document();
            QVERIFY(QFile::copy(folder.filePath(".document.json.journal"), folder.filePath(".crashed.json.journal")));
            // A second window must not take a document that is open.
            MainWindow other;
            QVERIFY(!other.open_file(path));
        }
        Hand hand;
        QVERIFY(hand.window().open_file(crashed));
        hand.settle();
        QVERIFY(kervo::model::same_content(hand.document(), lost));
        QVERIFY(hand.session().edited());
        hand.model().setFocus();
        hand.key(Qt::Key_Z, Qt::ControlModifier); // and it can be undone, as any change
        QCOMPARE(hand.document().parameters[0].formula, std::string("16 mm"));
    }

    void untitled_work_comes_back() {
        const QString home = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
        kervo::model::Document lost;
        {
            Hand hand;
            bring_in_stock(hand);
            lost = hand.document();
            const QStringList journals = QDir(home).entryList({"untitled-*.journal"}, QDir::Files);
            QCOMPARE(journals.size(), 1);
            QVERIFY(QFile::copy(home + "/" + journals[0], home + "/untitled-1.journal"));
            hand.session().leave();
        }
        Hand hand;
        QVERIFY(hand.session().bring_back_untitled());
        hand.settle();
        QVERIFY(kervo::model::same_content(hand.document(), lost));
        QVERIFY(!QFile::exists(home + "/untitled-1.journal"));
        hand.session().leave();
    }

    // Everything that takes the focus has a name for those who cannot see it, and a tooltip that says something.
    void everything_is_named_and_reachable() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        for (const int step : {0, 10, 60, 70}) {
            if (step != 0) {
                hand.open_step(step);
            }
            for (QWidget* widget : hand.window().findChildren<QWidget*>()) {
                const bool field =
                    qobject_cast<QLineEdit*>(widget) != nullptr || qobject_cast<QComboBox*>(widget) != nullptr;
                const bool button = qobject_cast<QAbstractButton*>(widget) != nullptr;
                const bool list = qobject_cast<QAbstractItemView*>(widget) != nullptr;
                if (!widget->isVisible() || (!field && !button && !list) ||
                    widget->parentWidget()->inherits("QComboBox") || qobject_cast<QHeaderView*>(widget) != nullptr) {
                    continue;
                }
                const QString words =
                    widget->accessibleName() + (button ? qobject_cast<QAbstractButton*>(widget)->text() : QString());
                QVERIFY2(!words.isEmpty(), widget->metaObject()->className());
                QVERIFY2(widget->toolTip().length() > 5, qPrintable(words));
                QVERIFY2((widget->focusPolicy() & Qt::TabFocus) != 0, qPrintable(words));
            }
            if (step != 0) {
                hand.press_button("Cancel");
            }
        }
        // A button that has the focus is pressed by Space; the verb on that key does not take it.
        hand.open_step(70);
        auto* tick = hand.find<QCheckBox>("tick_50");
        tick->setFocus(Qt::TabFocusReason);
        hand.key(Qt::Key_Space);
        QVERIFY(hand.find<QCheckBox>("tick_50")->isChecked());
        hand.press_button("Cancel");
    }

    void verbs_are_found_by_name_and_shortcuts_are_single() {
        Hand hand;
        QStringList shortcuts;
        for (const Verb& verb : hand.window().verbs()) {
            QVERIFY2(!verb.title.isEmpty() && verb.help.length() > 8, qPrintable(verb.id));
            QVERIFY2(verb.shortcut.isEmpty() || !shortcuts.contains(verb.shortcut), qPrintable(verb.shortcut));
            shortcuts << verb.shortcut;
            const auto found = find_verbs(hand.window().verbs(), verb.title);
            QVERIFY2(!found.empty() && found.front()->id == verb.id, qPrintable(verb.title));
        }
        // The page lists them all.
        QFile page(KERVO_SOURCE "/docs/shortcuts.md");
        QVERIFY(page.open(QIODevice::ReadOnly));
        const QString text = page.readAll();
        for (const Verb& verb : hand.window().verbs()) {
            QVERIFY2(verb.shortcut.isEmpty() || text.contains("| `" + verb.shortcut + "` | " + verb.title + " |"),
                     qPrintable(verb.title));
        }
    }

    void both_themes_draw_everything() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        for (const bool dark : {false, true}) {
            hand.window().set_dark(dark);
            QTest::qWait(100);
            const QImage image = hand.model().grabFramebuffer();
            const QColor paper = image.pixelColor(5, 5);
            QCOMPARE(paper.lightness() < 128, dark);
            int ink = 0;
            for (int y = 0; y < image.height(); y += 4) {
                for (int x = 0; x < image.width(); x += 4) {
                    ink += image.pixelColor(x, y) != paper ? 1 : 0;
                }
            }
            QVERIFY(ink * 16 > image.width() * image.height() / 10); // the table fills a good part of the picture
        }
    }

    // The watchdog: no event takes more than 100 ms, so that none waits longer, while a cut of seconds runs, is
    // edited under way, and is stopped.
    void the_window_never_freezes() {
        Hand hand;
        kervo::model::Stock plate;
        plate.width.text = plate.depth.text = "400";
        kervo::model::SketchStep raster;
        for (int i = 0; i < 400; ++i) {
            raster.drawing.add_circle(raster.drawing.add_point(-180 + 18.0 * (i % 20), -180 + 18.0 * (i / 20)), 5);
        }
        kervo::model::ExtrudeCut cut;
        cut.sketch.step = 20;
        cut.extent.to.value = "everything_both";
        cut.workpieces = {{kervo::model::ElementKind::body, "10", {}, {}, {}}};
        for (const auto& curve : raster.drawing.curves) {
            const auto* center = raster.drawing.point(curve.points[0]);
            cut.regions.push_back({{}, {center->x, center->y}});
        }
        hand.session().edit([&](kervo::model::Document document) {
            document = kervo::model::add_step(std::move(document), plate, "Plate", -1, nullptr);
            return kervo::model::add_step(std::move(document), raster, "Raster", -1, nullptr);
        });
        hand.settle();
        // A bare thread ticks beside the window: what it waits for is the machine's doing, not the window's.
        std::atomic<qint64> noise = 0;
        std::jthread control([&noise](const std::stop_token& stop) {
            QElapsedTimer own;
            own.start();
            while (!stop.stop_requested()) {
                std::this_thread::sleep_for(std::chrono::milliseconds(5));
                noise = std::max<qint64>(noise, own.restart() - 5);
            }
        });
        int ticks = 0;
        QTimer tick;
        connect(&tick, &QTimer::timeout, [&] { ++ticks; });
        QElapsedTimer work;
        work.start();
        hand.session().edit([&](kervo::model::Document document) {
            return kervo::model::add_step(std::move(document), cut, "Holes", -1, nullptr);
        });
        auto* watchdog = static_cast<Watchdog*>(qApp);
        watchdog->longest = 0;
        tick.start(5);
        QTest::qWait(400);
        QVERIFY(hand.session().busy());
        const QPointF middle = QRectF(hand.model().rect()).center();
        for (int i = 0; i < 20; ++i) { // looking around meanwhile
            QTest::mouseMove(hand.window().windowHandle(),
                             hand.model().mapTo(&hand.window(), (middle + QPointF(i * 4, i)).toPoint()));
            QTest::qWait(10);
        }
        QVERIFY(hand.find<QPushButton>("stop")->isVisible());
        hand.press(hand.find<QPushButton>("stop"));
        QVERIFY(QTest::qWaitFor([&] { return !hand.session().busy(); }, 20000)); // the kernel asks now and then
        QVERIFY(work.elapsed() > 400);
        tick.stop();
        control.request_stop();
        QVERIFY2(watchdog->longest < 100 + 2 * noise,
                 qPrintable(QString("an event took %1 ms: %2; the machine stood for %3")
                                .arg(watchdog->longest)
                                .arg(watchdog->culprit)
                                .arg(noise)));
        QVERIFY2(ticks > 20, qPrintable(QString::number(ticks)));
        // Any change takes the work up again.
        hand.session().edit([](kervo::model::Document document) {
            document.parameters.push_back({"again", "1", "", ""});
            return document;
        });
        QVERIFY(QTest::qWaitFor([&] { return hand.session().settled(); }, 120000));
        QVERIFY(near(hand.output(30).removed, 400 * pi * 25 * 20));
    }
};

int main(int argc, char** argv) {
    ask_for_surface();
    Watchdog application(argc, argv);
    dress_application();
    WindowTest test;
    return QTest::qExec(&test, argc, argv);
}
#include "window_test.moc"
