// The whole job in the real window, by mouse and keyboard: from an empty document to a STEP file, and every way back.
#include "window_fixture.h"

#include "geom/measure/measure.h"
#include "io/document/document_file.h"
#include "io/document/safe_file.h"
#include "io/reader/import_child.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"

#include <QCheckBox>
#include <QElapsedTimer>
#include <QFileDialog>
#include <QHeaderView>
#include <QMessageBox>
#include <QScrollBar>
#include <QStandardPaths>
#include <QTemporaryDir>

#include <atomic>
#include <cmath>
#include <numbers>
#include <thread>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;
using std::numbers::pi;

// Keeps watch over every event: how long its handling took, and what it was. Drawing is kept apart: without a graphics
// card the processor does it, so that a frame costs what the machine makes of it, busy or not.
class Watchdog : public QApplication {
public:
    using QApplication::QApplication;
    bool notify(QObject* receiver, QEvent* event) override {
        const QString what = QString("%1 %2").arg(receiver->metaObject()->className()).arg(event->type());
        const QEvent::Type type = event->type();
        QElapsedTimer took;
        took.start();
        const bool result = QApplication::notify(receiver, event);
        if (type == QEvent::UpdateRequest || type == QEvent::Paint) {
            longest_frame = std::max(longest_frame, took.elapsed());
        } else if (took.elapsed() > longest) {
            longest = took.elapsed();
            culprit = what;
        }
        return result;
    }
    qint64 longest = 0;
    qint64 longest_frame = 0;
    QString culprit;
};

// From here on, no event may take more than 100 ms, and drawing hardly more than at rest: frames share two processors
// with the threads that work. A bare thread ticks beside the window: what it waits for is the machine's doing.
class Watch {
public:
    explicit Watch(qint64 frame_at_rest)
        : frame_at_rest_(frame_at_rest), control_([this](const std::stop_token& stop) {
              QElapsedTimer own;
              own.start();
              while (!stop.stop_requested()) {
                  std::this_thread::sleep_for(std::chrono::milliseconds(5));
                  noise_ = std::max<qint64>(noise_, own.restart() - 5);
              }
          }) {
        dog_.longest = 0;
        dog_.longest_frame = 0;
    }
    [[nodiscard]] qint64 longest_frame() const { return dog_.longest_frame; }
    [[nodiscard]] QString complaint() const {
        if (dog_.longest >= 100 + 2 * noise_) {
            return QString("an event took %1 ms: %2; the machine stood for %3")
                .arg(dog_.longest)
                .arg(dog_.culprit)
                .arg(noise_);
        }
        if (dog_.longest_frame >= 100 + 3 * frame_at_rest_ + 2 * noise_) {
            return QString("a frame took %1 ms, at rest %2; the machine stood for %3")
                .arg(dog_.longest_frame)
                .arg(frame_at_rest_)
                .arg(noise_);
        }
        return {};
    }

private:
    Watchdog& dog_ = *static_cast<Watchdog*>(qApp);
    qint64 frame_at_rest_;
    std::atomic<qint64> noise_ = 0;
    std::jthread control_;
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

private slots:
    void initTestCase() { start_clean(); }

    void the_whole_job() {
        const QTemporaryDir folder;
        Hand hand;
        hand.add_parameter("deck", "10 mm");
        QCOMPARE(hand.document().parameters.size(), 1u);
        QCOMPARE(hand.document().parameters[0].name, std::string("deck"));
        bring_in_stock(hand);
        QCOMPARE(hand.document().steps.size(), 3u);
        QVERIFY(near(hand.volume("Low deck"), 48000));
        QVERIFY(near(hand.volume("Ring"), pi * 625 * 20));

        // Draw on the upper face of the high deck: a circle about the origin by its diameter, a rectangle by its sizes.
        hand.press_model(30, -20, 40);
        QCOMPARE(hand.selection().size(), 1u);
        QCOMPARE(hand.selection()[0].faces, std::vector<std::string>{"30:top"});
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
        const auto& drawn = hand.document().steps.back()->definition.as<kervo::model::SketchStep>()->drawing;
        QCOMPARE(drawn.curves.size(), 5u);
        QCOMPARE(hand.output(40).sketch->regions.size(), 2u);
        const auto center = drawn.point(drawn.curves[0].points[0]);
        QCOMPARE(center->x, 0.0);
        QCOMPARE(center->y, 0.0);
        hand.press_button("Accept");

        // Cut both decks, not the ring, from the upper face of the one to the under face of the other.
        hand.key(Qt::Key_X);
        const auto cut = [&]() -> const kervo::model::Extrude& {
            return *hand.document().steps.back()->definition.as<kervo::model::Extrude>();
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
        QVERIFY(hand.model().hand().target().has_value());
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
        hand.set_formula(0, "14 mm");
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
        const auto asked = [] {
            auto* box = qobject_cast<QDialog*>(QApplication::activeModalWidget());
            return box != nullptr && box->windowTitle() == "Hand over as STEP AP242" ? box : nullptr;
        };
        bool offers_hidden = true;
        hand.when([&] { return asked() != nullptr; },
                  [&] {
                      offers_hidden = asked()->findChild<QCheckBox*>("hand_over_hidden") != nullptr;
                      auto* by = asked()->findChild<QLineEdit*>("hand_over_by");
                      by->selectAll();
                      QTest::keyClicks(by, "Ana Tarn");
                      QTest::keyClick(by, Qt::Key_Return);
                  });
        hand.key(Qt::Key_E, Qt::ControlModifier);
        const bool written = QTest::qWaitFor([&] { return QFile::exists(folder.filePath("deck.step")); }, 30000);
        QVERIFY2(written, qPrintable(hand.find<QLabel>("hint")->text()));
        Progress progress;
        io::ImportLimits limits;
        limits.reader = KERVO_BIN "/kervo-reader";
        QVERIFY(!offers_hidden); // none is
        const auto bytes = io::read_whole(folder.filePath("deck.step").toStdString());
        QVERIFY(bytes->find("('Ana Tarn')") != std::string::npos);
        const auto bodies = io::import_in_child({model::AssetName::like("deck.step"), *bytes, false}, limits, progress);
        QVERIFY2(bodies.ok(), bodies ? "" : bodies.finding().cause.c_str());
        QCOMPARE(bodies->bodies.size(), 3u);
        QCOMPARE(bodies->bodies[0].name, std::string("Low deck"));
        QVERIFY(near(geom::volume_of(bodies->bodies[0].shape), 80 * 60 * 14 - 14 * holes));
        QVERIFY(near(geom::volume_of(bodies->bodies[1].shape), pi * 625 * 20));
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

    void wrong_formulas_are_marked_in_place() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        const auto before = hand.volume("Top plate");
        hand.set_formula(0, "16 mm + 3 deg");
        auto* table = hand.window().findChild<QTableWidget*>();
        QCOMPARE(table->item(hand.row_of("plate"), 2)->text(), QString("error"));
        QVERIFY(!hand.session().findings().empty());
        hand.model().setFocus();
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(table->item(hand.row_of("plate"), 2)->text(), QString("16 mm"));
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
            hand.set_formula(0, "19 mm");
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
            start_clean();
            QDir().mkpath(home);
            const QString other = QString("untitled-%1-1.journal").arg(QCoreApplication::applicationPid());
            QFile of_another(home + "/" + other); // left behind by a process that had our number
            QVERIFY(of_another.open(QIODevice::WriteOnly));
            of_another.close();
            Hand hand;
            bring_in_stock(hand);
            lost = hand.document();
            QStringList journals = QDir(home).entryList({"untitled-*.journal"}, QDir::Files);
            journals.removeAll(other);
            QCOMPARE(journals.size(), 1); // a name of its own, whatever lies there already
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

    // The watchdog: no event takes more than 100 ms, so that none waits longer, while a cut of seconds runs, is
    // edited under way, and is stopped.
    void the_window_never_freezes() {
        Hand hand;
        kervo::model::Stock plate;
        plate.width.text = plate.depth.text = "400";
        kervo::model::SketchStep raster;
        for (int i = 0; i < 400; ++i) {
            // Rings: no straight cuts, which would be done before one could look.
            const int center = raster.drawing.add_point(-180 + 18.0 * (i % 20), -180 + 18.0 * (i / 20));
            raster.drawing.add_circle(center, 3);
            raster.drawing.add_circle(center, 5);
        }
        kervo::model::Extrude cut = kervo::model::Extrude::cut();
        cut.sketch.step = 20;
        cut.extent.to.value = "everything_both";
        cut.workpieces = {{kervo::model::ElementKind::body, "10", {}, {}, {}}};
        for (const auto& curve : raster.drawing.curves) {
            const auto* center = raster.drawing.point(curve.points[0]);
            if (curve.radius == 5) {
                cut.regions.push_back({{}, {center->x + 4, center->y}});
            }
        }
        hand.session().edit([&](kervo::model::Document document) {
            document = kervo::model::add_step(std::move(document), plate, "Plate", -1, nullptr);
            return kervo::model::add_step(std::move(document), raster, "Raster", -1, nullptr);
        });
        hand.settle();
        const QPointF middle = QRectF(hand.model().rect()).center();
        const auto look_around = [&] {
            for (int i = 0; i < 20; ++i) {
                QTest::mouseMove(hand.window().windowHandle(),
                                 hand.model().mapTo(&hand.window(), (middle + QPointF(i * 4, i)).toPoint()));
                QTest::qWait(10);
            }
        };
        Watch at_rest(0);
        look_around();
        const qint64 frame_at_rest = at_rest.longest_frame();
        // What the machine does to one try it seldom does to three; what the window does itself it does to each.
        QString slow;
        for (int attempt = 0; attempt < 3; ++attempt) {
            int ticks = 0;
            QTimer tick;
            connect(&tick, &QTimer::timeout, [&] { ++ticks; });
            QElapsedTimer work;
            work.start();
            hand.session().edit([&](kervo::model::Document document) {
                if (attempt == 0) {
                    return kervo::model::add_step(std::move(document), cut, "Holes", -1, nullptr);
                }
                document.parameters.push_back({"try_" + std::to_string(attempt), "1", "", ""}); // takes it up again
                return document;
            });
            Watch watch(frame_at_rest);
            tick.start(5);
            QTest::qWait(400);
            QVERIFY(hand.session().busy());
            look_around();
            QVERIFY(hand.find<QPushButton>("stop")->isVisible());
            hand.press(hand.find<QPushButton>("stop"));
            QVERIFY(QTest::qWaitFor([&] { return !hand.session().busy(); }, 20000)); // the kernel asks now and then
            QVERIFY(work.elapsed() > 400);
            tick.stop();
            QVERIFY2(ticks > 20, qPrintable(QString::number(ticks)));
            slow = watch.complaint();
            if (slow.isEmpty()) {
                break;
            }
        }
        QVERIFY2(slow.isEmpty(), qPrintable(slow));
        // Any change takes the work up again.
        hand.session().edit([](kervo::model::Document document) {
            document.parameters.push_back({"again", "1", "", ""});
            return document;
        });
        QVERIFY(QTest::qWaitFor([&] { return hand.session().settled(); }, 120000));
        QVERIFY(near(hand.output(30).removed, 400 * pi * (25 - 9) * 20));
    }

    // A value is typed into the card of a pocket beside 4,096 holes: each keystroke is cut and shown, and the window
    // does not wait for any.
    void typing_beside_many_holes() {
        Hand hand;
        kervo::model::Stock plate;
        plate.width.text = plate.depth.text = "660";
        plate.height.text = "8";
        kervo::model::SketchStep raster;
        kervo::model::Extrude holes = kervo::model::Extrude::cut();
        for (int i = 0; i < 4096; ++i) {
            const double x = -315 + 10.0 * (i % 64);
            const double y = -315 + 10.0 * (i / 64);
            raster.drawing.add_circle(raster.drawing.add_point(x, y), 3);
            holes.regions.push_back({{}, {x, y}});
        }
        kervo::model::SketchStep profile;
        profile.drawing.add_rectangle({-314, -312}, {-306, -308}); // into two of the holes
        kervo::model::Extrude pocket = kervo::model::Extrude::cut();
        pocket.regions.push_back({{}, {-310, -310}});
        pocket.extent.way.value = "ahead";
        pocket.extent.to.value = "distance";
        pocket.extent.distance.text = "1";
        for (auto* cut : {&holes, &pocket}) {
            cut->workpieces = {{kervo::model::ElementKind::body, "10", {}, {}, {}}};
            cut->sketch.step = cut == &holes ? 20 : 40;
        }
        holes.extent.to.value = "everything_both";
        hand.session().edit([&](kervo::model::Document document) {
            document = kervo::model::add_step(std::move(document), plate, "Plate", -1, nullptr);
            document = kervo::model::add_step(std::move(document), raster, "Raster", -1, nullptr);
            document = kervo::model::add_step(std::move(document), holes, "Holes", -1, nullptr);
            document = kervo::model::add_step(std::move(document), profile, "Profile", -1, nullptr);
            return kervo::model::add_step(std::move(document), pocket, "Pocket", -1, nullptr);
        });
        hand.settle();
        const double deep = hand.output(50).removed;
        QVERIFY(deep > 0);
        hand.open_step(50);
        auto* field = hand.find<QLineEdit>("field_distance");
        hand.reveal(field);
        Watch at_rest(0);
        hand.press(field);
        hand.model().update();
        QTest::qWait(500);
        const qint64 frame_at_rest = at_rest.longest_frame();
        QString slow;
        for (int attempt = 0; attempt < 3; ++attempt) {
            hand.fill("field_distance", "1");
            hand.press(field);
            hand.key(Qt::Key_End);
            const Watch watch(frame_at_rest);
            for (const char* more : {".", "2", "5", "5"}) {
                hand.type(more);
                QTest::qWait(150);
            }
            QVERIFY(QTest::qWaitFor([&] { return hand.session().settled(); }, 20000));
            QVERIFY(near(hand.output(50).removed, 1.255 * deep));
            slow = watch.complaint();
            if (slow.isEmpty()) {
                break;
            }
        }
        QVERIFY2(slow.isEmpty(), qPrintable(slow));
    }
};

int main(int argc, char** argv) {
    return run<WindowTest, Watchdog>(argc, argv);
}
#include "window_test.moc"
