// Aiming in a sketch, in the real window: what is snapped to, refused, framed, and what is typed on the card about what
// is selected.
#include "board.h"

#include "model/steps/extrude/extrude.h"
#include "model/steps/sketch/sketch_step.h"

#include <QCheckBox>

#include <numbers>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;
using std::numbers::pi;

class AimingTest : public QObject {
    Q_OBJECT

private slots:
    void initTestCase() { start_clean(); }

    void edges_of_bodies_and_other_sketches_are_met() {
        Board board;
        board.tool("Line");
        board.point_at_sketch(59.7, 44.8); // the corner of the plate
        const Snap corner = board.pen().pointer();
        QCOMPARE(corner.kind, SnapKind::end);
        QVERIFY(corner.what.contains("Plate"));
        QVERIFY(near(corner.at[0], 60, 1e-9) && near(corner.at[1], 45, 1e-9));
        board.clicks({{59.7, 44.8}, {0.3, 44.7}}); // to the middle of its edge
        const auto line = sketch::stretch_of(board.drawing(), board.drawing().curves[0]);
        QVERIFY(near(line.length(), 60, 1e-9));
        QVERIFY(board.drawing().constraints.empty()); // what lies beside ties nothing
        board.key(Qt::Key_Escape);
        board.press_button("Accept");
        // A second sketch, 20 mm above the first, turned face down.
        model::SketchStep above;
        above.offset.text = "28";
        board.session().edit([&](model::Document document) {
            return model::add_step(std::move(document), above, "Sketch 2", -1, nullptr);
        });
        board.settle();
        board.open_step(30);
        board.tool("Line");
        board.point_at_sketch(30.2, 44.8);
        QCOMPARE(board.pen().pointer().kind, SnapKind::middle);
        QVERIFY(board.pen().pointer().what.contains("Sketch 1"));
        QVERIFY(near(board.pen().pointer().at[0], 30, 1e-9));
        board.press_button("Cancel");
    }

    void ties_are_refused_by_a_key() {
        Board board;
        board.tool("Line");
        board.press_sketch(-30, 10);
        board.point_at_sketch(20, 10.2);
        QVERIFY(board.pen().pointer().level);
        board.key(Qt::Key_Backspace);
        QVERIFY(!board.pen().pointer().level);
        board.press_sketch(20, 10.2);
        QCOMPARE(board.drawing().curves.size(), 1u);
        QVERIFY(board.drawing().constraints.empty());
        board.key(Qt::Key_Escape);
        board.press_button("Cancel");
    }

    void tab_goes_through_what_crowds() {
        Board board;
        board.tool("Point");
        board.clicks({{10, 10}, {13, 10}});
        QCOMPARE(board.drawing().points.size(), 2u);
        board.tool("Line");
        const double reach =
            10 / QLineF(board.model().place_on_sketch({0, 0}), board.model().place_on_sketch({1, 0})).length();
        board.point_at_sketch(13 - 0.2 * reach, 10 + 0.1 * reach);
        if (board.pen().crowd().size() < 2) { // how near they look depends on the screen
            QVERIFY(3 > reach);
        }
        board.key(Qt::Key_Escape);
        board.key(Qt::Key_Escape);
        for (int zoomed = 0; zoomed < 3; ++zoomed) {
            board.key(Qt::Key_Minus);
        }
        board.tool("Line");
        board.point_at_sketch(12.8, 10.1);
        QCOMPARE(board.pen().crowd().size(), 2u);
        const int first = board.pen().pointer().point;
        board.key(Qt::Key_Tab);
        const int second = board.pen().pointer().point;
        QVERIFY(first != second && second != 0);
        QVERIFY(board.model().hasFocus());
        board.press_sketch(12.8, 10.1);
        QCOMPARE(board.pen().placed().front().point, second);
        board.press_button("Cancel");
    }

    void frames_select_what_is_inside_or_touched() {
        Board board;
        board.rectangle(-40, -30, -10, -5);
        board.rectangle(10, -30, 40, -5);
        const auto at = [&](double x, double y) { return board.model().place_on_sketch({x, y}); };
        board.drag(at(-45, 0), at(20, -35)); // to the right: the left one, and the left side of the other
        QCOMPARE(board.pen().selected().size(), 5u);
        board.drag(at(20, 0), at(-45, -35)); // to the left: also what it crosses
        QCOMPARE(board.pen().selected().size(), 7u);
        // While it is drawn, the frame is seen.
        const auto place = [&](const QPointF& p) { return board.model().mapTo(&board.window(), p.toPoint()); };
        const auto seen = [&] { return board.window().grab().toImage(); };
        QTest::mousePress(board.window().windowHandle(), Qt::LeftButton, {}, place(at(-45, 0)));
        QTest::mouseMove(board.window().windowHandle(), place(at(-44, -2)));
        const QImage small = seen();
        QTest::mouseMove(board.window().windowHandle(), place(at(20, -35)));
        const QImage large = seen();
        const QPoint border = place((at(-45, -35) + at(20, -35)) / 2.0);
        bool drawn = false;
        for (int off = -2; off <= 2; ++off) {
            drawn = drawn || small.pixel(border.x(), border.y() + off) != large.pixel(border.x(), border.y() + off);
        }
        QVERIFY(drawn);
        QTest::mouseRelease(board.window().windowHandle(), Qt::LeftButton, {}, place(at(20, -35)));
        board.settle();
        QCOMPARE(board.pen().selected().size(), 5u);
        board.drag(at(-50, 20), at(-45, 10)); // nothing
        QVERIFY(board.pen().selected().empty());
        board.drag(at(-45, 0), at(0, -35));
        board.drag(at(5, 0), at(50, -35), Qt::LeftButton, Qt::ControlModifier);
        QCOMPARE(board.pen().selected().size(), 8u);
        board.key(Qt::Key_Delete);
        QVERIFY(board.drawing().curves.empty());
        board.press_button("Cancel");
    }

    void regions_are_picked_by_a_frame() {
        Board board;
        board.tool("Circle");
        for (int i = 0; i < 4; ++i) {
            board.clicks({{-36.0 + 24 * i, 12}, {-30.0 + 24 * i, 12}});
        }
        board.press_button("Accept");
        board.model().setFocus();
        board.key(Qt::Key_X);
        board.key(Qt::Key_C);
        const int cut = board.session().card();
        const auto regions = [&] {
            return board.document().step(cut)->definition.as<model::Extrude>()->regions.size();
        };
        const size_t before = regions();
        const auto at = [&](double x, double y) { return board.model().place_on_sketch({x, y}); };
        board.drag(at(-50, 25), at(0, 0), Qt::LeftButton, Qt::ControlModifier);
        QCOMPARE(regions(), before + 2);
        board.drag(at(14, 25), at(-50, 0), Qt::LeftButton, Qt::ControlModifier); // touches the third
        QCOMPARE(regions(), before + 3);
        board.drag(at(-50, 25), at(20, 0), Qt::LeftButton, Qt::ControlModifier); // all of these are in: they go
        QCOMPARE(regions(), before);
        board.press_button("Cancel");
    }

    void splines_by_number() {
        Board board;
        board.tool("Spline");
        board.clicks({{-40, 0}, {-20, 20}, {5, -10}, {30, 15}});
        board.key(Qt::Key_Return);
        board.key(Qt::Key_Escape);
        const int id = board.drawing().curves[0].id;
        const auto curve = [&] { return *board.drawing().curve(id); };
        const auto on = sketch::stretch_of(board.drawing(), curve()).at(0.5);
        board.press_sketch(on[0], on[1]);
        QCOMPARE(board.pen().selected().count(id), 1u);
        board.fill("point_2_x", "-25 mm");
        board.settle();
        QCOMPARE(board.drawing().point(curve().points[1])->x, -25.0);
        board.choose("spline_degree", "5");
        QCOMPARE(curve().degree, 5);
        auto* closed = qobject_cast<QCheckBox*>(
            board.window().findChild<QComboBox*>("spline_degree")->parent()->findChild<QCheckBox*>());
        board.reveal(closed);
        board.press(closed, QPoint(8, closed->height() / 2));
        board.settle();
        QVERIFY(curve().closed);
        auto* away = board.named("Take point 3 away");
        board.reveal(away);
        board.press(away);
        board.settle();
        QCOMPARE(curve().points.size(), 3u);
        board.tool("Add point");
        const auto there = sketch::stretch_of(board.drawing(), curve()).at(0.4);
        board.press_sketch(there[0], there[1]);
        QCOMPARE(curve().points.size(), 4u);
        board.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(curve().points.size(), 3u);
        board.key(Qt::Key_Escape);
        // A lone point too; one that is held stays.
        board.tool("Point");
        board.clicks({{45, 30}});
        board.key(Qt::Key_Escape);
        board.key(Qt::Key_Escape);
        board.press_sketch(45, 30);
        board.fill("point_point_y", "33");
        board.settle();
        QCOMPARE(board.drawing().points.back().y, 33.0);
        board.press_button("fixed");
        board.press_sketch(45, 33);
        board.fill("point_point_y", "12");
        board.settle();
        QCOMPARE(board.result().solution.sketch.points.back().y, 33.0);
        board.press_button("Cancel");
    }

    void circles_touch_and_arcs_run_on() {
        Board board;
        board.tool("Line");
        board.clicks({{-50, -30}, {-10, -28}});
        board.key(Qt::Key_Escape);
        board.clicks({{-50, 30}, {-10, 28}});
        board.key(Qt::Key_Escape);
        board.clicks({{-55, -20}, {-54, 20}});
        board.key(Qt::Key_Escape);
        board.tool("Touching");
        board.clicks({{-30, -29}, {-30, 29}, {-54.5, 3}});
        QCOMPARE(board.count(sketch::CurveKind::circle), 1);
        const auto& solved = board.result().solution.sketch;
        const auto circle = sketch::stretch_of(solved, solved.curves.back());
        for (size_t i = 0; i < 3; ++i) {
            const auto side = sketch::stretch_of(solved, solved.curves[i]);
            QVERIFY(near(sketch::nearest_on(side, circle.center).second, circle.radius, 1e-7));
        }
        board.key(Qt::Key_Escape);
        board.tool("Run on");
        board.press_sketch(-10, -28);
        board.point_at_sketch(15, 0);
        board.numbers({"20 mm"});
        QCOMPARE(board.count(sketch::CurveKind::arc), 1);
        QVERIFY(board.result().solution.findings.empty());
        board.press_button("Cancel");
    }

    void the_grid() {
        Board board;
        board.press_switch("Grid");
        QVERIFY(board.model().tool<SketchTool>().grid());
        board.tool("Rectangle");
        board.point_at_sketch(31.3, 22.2);
        const Snap snap = board.pen().pointer();
        QCOMPARE(snap.kind, SnapKind::grid);
        QVERIFY(near(std::fmod(std::fabs(snap.at[0]) + 1e-9, 1), 0, 1e-6)); // whole millimetres at least
        board.find_verb("grid");
        QVERIFY(!board.model().tool<SketchTool>().grid());
        board.press_button("Cancel");
    }
};

int main(int argc, char** argv) {
    return run<AimingTest>(argc, argv);
}
#include "aiming_test.moc"
