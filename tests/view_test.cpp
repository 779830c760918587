// Looking, pointing, selecting, cutting away, pulling: what the hand does on the model and what the eye finds.
#include "own_tool.h"
#include "window_fixture.h"

#include "app/cards/editor_parts.h"
#include "geom/measure/measure.h"
#include "model/steps/stock/stock.h"

#include <QCheckBox>
#include <QHeaderView>
#include <QTemporaryDir>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;

class ViewTest : public QObject {
    Q_OBJECT

private:
    Tape* tape_ = nullptr; ///< of the newest window

private slots:
    void initTestCase() { start_clean(); }

    void dimensions_on_the_model_are_pulled_and_typed() {
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        const auto height = [&] {
            return hand.document().steps.back()->definition.as<kervo::model::Stock>()->height.text;
        };
        QCOMPARE(height(), std::string("20 mm"));
        const auto placed = hand.dimensions().dimensions();
        const auto at = std::find_if(placed.begin(), placed.end(), [](const auto& d) { return d.field == "height"; });
        QVERIFY(at != placed.end());
        const QPointF handle = hand.dimensions().handle_of(*at);
        hand.drag(handle, handle - QPointF(0, 60));
        const double pulled = *evaluate_as(height(), {}, length_dimension);
        QVERIFY2(pulled > 25 && pulled < 100, height().c_str());
        QVERIFY(near(hand.output(10).added, 100 * 60 * pulled));
        // One pull is one change.
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(height(), std::string("20 mm"));
        // A formula is not overwritten by a pull.
        hand.add_parameter("tall", "30 mm");
        hand.fill("field_height", "tall");
        const auto again = hand.dimensions().dimensions();
        const auto tall = std::find_if(again.begin(), again.end(), [](const auto& d) { return d.field == "height"; });
        const QPointF there = hand.dimensions().handle_of(*tall);
        hand.drag(there, there - QPointF(0, 60));
        QCOMPARE(height(), std::string("tall"));
    }

    void looking_around() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        const Point3 corner(120, 120, 72);
        const auto place = [&] { return hand.model().place_of(corner); };
        const QPointF start = place();
        const QPointF middle(200, 600); // beside the model
        hand.drag(middle, middle + QPointF(60, 0), Qt::RightButton);
        QVERIFY(QLineF(place(), start).length() > 5); // turned
        const auto rise = [&] {
            return hand.model().place_of(Point3(0, 0, 0)).y() - hand.model().place_of(Point3(0, 0, 72)).y();
        };
        const double before_tilt = rise();
        hand.drag(middle, middle + QPointF(0, 40), Qt::RightButton);
        QVERIFY(rise() < before_tilt); // pulled down: seen from higher up
        hand.find_verb("look from the top");
        const QPointF top = place();
        QVERIFY(QLineF(hand.model().place_of(Point3(120, 120, 0)), top).length() < 1e-6); // straight above each other
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
        QVERIFY(QLineF(hand.model().place_of(Point3(120, -120, 72)), place()).length() < 1e-6);
        // Square at a face.
        hand.find_verb("corner");
        hand.press_model(100, -100, 72);
        hand.key(Qt::Key_Q);
        QVERIFY(QLineF(hand.model().place_of(Point3(120, 120, 0)), place()).length() < 1e-6);
    }

    void selecting_faces_edges_vertices_bodies() {
        const QTemporaryDir folder;
        Hand hand;
        hand.window().open_file(demo_copy(folder));
        hand.settle();
        using kervo::model::ElementKind;
        const auto kind = [&] { return hand.selection().at(0).kind; };
        hand.press_model(100, -100, 72);
        QCOMPARE(kind(), ElementKind::face);
        hand.press_model(100, -100, 72); // again: its body
        QCOMPARE(kind(), ElementKind::body);
        QCOMPARE(hand.selection()[0].body, std::string("40"));
        hand.press_model(120, -50, 72);
        QCOMPARE(kind(), ElementKind::edge);
        hand.press_model(120, -120, 72);
        QCOMPARE(kind(), ElementKind::vertex);
        hand.press(&hand.model(), QPoint(8, hand.model().height() - 80)); // nothing there
        QVERIFY(hand.selection().empty());
        // A body chosen in Contents is chosen in the model.
        auto* tree = hand.window().findChild<QTreeWidget*>();
        hand.press(tree->viewport(), tree->visualItemRect(tree->topLevelItem(1)).center());
        QCOMPARE(hand.selection().at(0).body, std::string("30"));
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
        const auto cutaway = [&] { return hand.document().cutaways.front(); };
        QCOMPARE(hand.document().cutaways.size(), 1u);
        const auto area = [&](const std::string& body) {
            double sum = 0;
            for (const auto& cap : hand.session().picture()->caps) {
                sum += cap.body == body ? cap.mesh->area() : 0;
            }
            return sum;
        };
        QVERIFY(near(area("30"), 2 * 25 * 40)); // the ring, cut through its axis
        QVERIFY(near(area("10"), 240 * 16));    // the plane through the axis meets no port and no slot
        hand.key(Qt::Key_K, Qt::ShiftModifier);
        QCOMPARE(cutaway().normal[1], 1.0);
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
        QCOMPARE(cutaway().scope, model::Cutaway::Scope::all_but);
        QCOMPARE(cutaway().members, std::vector<std::string>{"10"});
        QCOMPARE(area("10"), 0.0);
        QVERIFY(
            near(hand.volume("Bottom plate"), 240 * 240 * 16 - hand.output(70).removed / 2)); // only the view is cut
        hand.find_verb("remove the cut");
        QVERIFY(hand.document().cutaways.empty());
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

    void labels_of_all_cards_fit() {
        const QFontMetrics metrics(QLabel().font());
        for (const model::StepKind& kind : model::step_kinds()) {
            for (const model::Field& field : model::fields_of(*model::make_definition(kind.kind))) {
                const QString label = QString::fromStdString(field.info.label);
                const bool ticks = field.info.many && field.info.accepts.contains(model::ElementKind::body);
                QVERIFY2(ticks || metrics.horizontalAdvance(label) <= label_width, qPrintable(label));
            }
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

    void faces_are_striped_and_coloured_by_curvature() {
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        hand.choose("field_shape", "Sphere"); // 40 across
        hand.key(Qt::Key_Return, Qt::ControlModifier);
        hand.model().hand().select({});
        hand.model().fit();
        const auto seen = [&] {
            QTest::qWait(100);
            return hand.model().grabFramebuffer();
        };
        const QPoint middle = hand.model().place_of(Point3(0, 0, 20)).toPoint();
        const int radius = static_cast<int>(20 * hand.model().pixels_per_mm());
        const auto stripes = [&](const QImage& image) { // from bottom to top of the ball
            int changes = 0;
            bool dark = false;
            for (int y = middle.y() - radius + 3; y < middle.y() + radius - 3; ++y) {
                const bool here = image.pixelColor(middle.x(), y).lightness() < 110;
                changes += here != dark ? 1 : 0;
                dark = here;
            }
            return changes;
        };
        const QImage plain = seen();
        QVERIFY(stripes(plain) <= 2);
        hand.find_verb("Zebra lines");
        QVERIFY(stripes(seen()) > 10);
        hand.find_verb("Colours by curvature"); // instead
        const QImage colored = seen();
        QVERIFY(stripes(colored) <= 2);
        const QColor amber = colored.pixelColor(middle);
        QVERIFY(amber.red() > amber.blue() + 40);
        QVERIFY(near(hand.model().shown().curvature_scale(), 1.0 / 20)); // all of it bends as a ball of 20
        hand.find_verb("Colours by curvature");
        QCOMPARE(seen().pixelColor(middle), plain.pixelColor(middle));
    }

    // The last one: windows made from then on have it.
    void a_tool_from_elsewhere() {
        add_view_tool([this](Viewport& view) {
            auto tape = std::make_unique<Tape>(view);
            tape_ = tape.get();
            return tape;
        });
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        hand.key(Qt::Key_Return, Qt::ControlModifier);
        const Point3 low = hand.session().picture()->bounds.low;
        const Point3 high = hand.session().picture()->bounds.high;
        const auto corner = [&](double x, double y) { return hand.model().place_of(Point3(x, y, high.z)).toPoint(); };
        const QCursor before = hand.model().cursor();
        const auto hint = [&] { return hand.find<QLabel>("hint")->text(); };
        hand.key(Qt::Key_T, Qt::ControlModifier | Qt::AltModifier);
        QCOMPARE(hand.model().cursor().shape(), Qt::PointingHandCursor);
        QVERIFY(hint().startsWith("Tape: a corner"));
        hand.press(&hand.model(), corner(low.x, low.y));
        QCOMPARE(tape_->ends(), 1u);
        QVERIFY(hint().startsWith("Tape: the other"));
        hand.press(&hand.model(), corner(high.x, high.y));
        QVERIFY(near(tape_->length(), std::hypot(100, 60), 1e-6));
        QVERIFY(hand.selection().empty()); // what stands below it was not asked
        QTest::qWait(50);
        const QPoint middle = (corner(low.x, low.y) + corner(high.x, high.y)) / 2;
        QCOMPARE(hand.window().grab().toImage().pixelColor(hand.model().mapTo(&hand.window(), middle)),
                 QColor(Tape::color));
        hand.key(Qt::Key_Backspace);
        QCOMPARE(tape_->ends(), 1u);
        const QPointF place = hand.model().place_of(high);
        hand.drag(QPointF(300, 300), QPointF(360, 320)); // what it does not take turns the view
        QVERIFY(QLineF(hand.model().place_of(high), place).length() > 5);
        hand.key(Qt::Key_Escape);
        QCOMPARE(hand.model().cursor().shape(), before.shape());
        hand.press(&hand.model(), hand.model().place_of(Point3(0, 0, high.z)).toPoint());
        QCOMPARE(hand.selection().size(), size_t(1));
        QCOMPARE(tape_->ends(), 0u);
        hand.find_verb("tape"); // by its name, too
        QVERIFY(tape_->in_use());
    }
};

int main(int argc, char** argv) {
    return run<ViewTest>(argc, argv);
}
#include "view_test.moc"
