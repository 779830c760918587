// Every tool of a sketch by mouse and typed numbers: what is drawn, what is shown before a click, what is told after
// it.
#include "board.h"

#include "geom/measure/measure.h"
#include "model/steps/curves/curves.h"
#include "model/steps/sketch/sketch_step.h"
#include "sketch/check.h"

#include <QCheckBox>
#include <QFile>
#include <QMessageBox>
#include <QTemporaryDir>

#include <numbers>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;
using std::numbers::pi;

class SketchingTest : public QObject {
    Q_OBJECT

private slots:
    void initTestCase() { start_clean(); }

    void shapes_by_mouse() {
        Board board;
        board.tool("Centred");
        board.clicks({{0, 0}, {20, 10}});
        QVERIFY(near(board.area(), 800, 0.05));
        board.tool("By three");
        board.clicks({{-45, 20}, {-35, 30}, {-25, 20}});
        QCOMPARE(board.count(sketch::CurveKind::circle), 1);
        board.tool("Bow");
        board.clicks({{30, 20}, {50, 20}, {40, 30}});
        QCOMPARE(board.count(sketch::CurveKind::arc), 1);
        board.tool("Ellipse");
        board.clicks({{-38, -25}, {-22, -25}, {-38, -17}});
        QCOMPARE(board.count(sketch::CurveKind::ellipse), 1);
        board.tool("Point");
        board.clicks({{50, -40}});
        QVERIFY(board.result().solution.findings.empty());
        QCOMPARE(board.result().regions.size(), 3u);
        board.press_button("Cancel");
    }

    void numbers_make_dimensions() {
        Board board;
        board.tool("Polygon");
        board.press_sketch(0, 0);
        board.point_at_sketch(15, 0);
        board.numbers({"6", "40 mm"});
        QCOMPARE(board.count(sketch::CurveKind::line), 6);
        QVERIFY(near(board.area(), 3 * std::sqrt(3.0) / 2 * 400, 1e-7));
        board.key(Qt::Key_Escape);
        board.tool("Slot");
        board.clicks({{-45, 32}, {-25, 32}});
        board.point_at_sketch(-35, 36);
        board.numbers({"8"});
        QCOMPARE(board.count(sketch::CurveKind::arc), 2);
        const auto& solved = board.result().solution.sketch;
        const auto round = std::find_if(solved.curves.begin(), solved.curves.end(),
                                        [](const auto& c) { return c.kind == sketch::CurveKind::arc; });
        QVERIFY(near(sketch::stretch_of(solved, *round).radius, 4));
        board.key(Qt::Key_Escape);
        board.tool("Centred");
        board.press_sketch(35, -30);
        board.point_at_sketch(42, -25);
        board.numbers({"22", "12"});
        QVERIFY(near(board.area(),
                     3 * std::sqrt(3.0) / 2 * 400 + pi * 16 + 8 * sketch::distance({-45, 32}, {-25, 32}) + 264, 0.02));
        board.press_button("Cancel");
    }

    void splines_end_by_enter_and_close_on_their_start() {
        Board board;
        board.tool("Spline");
        board.clicks({{-40, 0}, {-25, 20}, {-10, 0}});
        board.key(Qt::Key_Return);
        QCOMPARE(board.count(sketch::CurveKind::spline), 1);
        QVERIFY(!board.drawing().curves.back().closed);
        board.tool("Controlled");
        board.clicks({{10, -20}, {40, -20}, {40, 20}, {10, 20}, {10, -20}});
        QCOMPARE(board.count(sketch::CurveKind::spline), 2);
        QVERIFY(board.drawing().curves.back().closed);
        QVERIFY(!board.drawing().curves.back().through);
        QCOMPARE(board.result().regions.size(), 1u);
        board.press_button("Cancel");
    }

    void trimming_shows_what_goes_and_tells_what_became() {
        Board board;
        board.tool("Circle");
        board.clicks({{0, 0}, {25, 0}});
        board.key(Qt::Key_Escape);
        board.tool("Line");
        board.clicks({{-50, 12}, {50, 14}});
        board.key(Qt::Key_Escape);
        board.key(Qt::Key_T);
        const auto radius = board.result().solution.sketch.curves[0].radius;
        board.point_at_sketch(0, radius);
        const auto preview = board.pen().preview();
        QVERIFY(preview.part.has_value());
        QCOMPARE(preview.cut_by.size(), 2u);
        QVERIFY(preview.part->length() < pi * radius);
        const auto before = board.drawing();
        board.press_sketch(0, radius);
        QVERIFY(board.told("1 closed curve became 1 open one"));
        QCOMPARE(board.drawing().curves[0].kind, sketch::CurveKind::arc);
        QCOMPARE(board.drawing().curves[0].id, before.curves[0].id);
        QVERIFY(board.result().solution.findings.empty());
        board.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(board.drawing().curves[0].kind, sketch::CurveKind::circle);
        board.press_button("Cancel");
    }

    void extend_and_split() {
        Board board;
        board.tool("Line");
        board.clicks({{30, -35}, {32, 35}});
        board.key(Qt::Key_Escape);
        board.clicks({{-40, 0}, {-10, 6}});
        board.key(Qt::Key_Escape);
        board.tool("Extend");
        board.press_sketch(-14, 5);
        QVERIFY(board.told("longer by"));
        const auto& solved = board.result().solution.sketch;
        const auto reach = sketch::stretch_of(solved, solved.curves[1]);
        QVERIFY(sketch::nearest_on(sketch::stretch_of(solved, solved.curves[0]), reach.end).second < 1e-6);
        board.tool("Split");
        board.press_sketch(31, -20);
        QVERIFY(board.told("1 open curve became 2 open ones"));
        QCOMPARE(board.drawing().curves.size(), 3u);
        board.press_button("Cancel");
    }

    void slanted_rectangles_and_joined_curves() {
        Board board;
        board.tool("Slanted");
        board.clicks({{-40, -20}, {-10, -5}});
        board.point_at_sketch(-20, 20);
        board.numbers({"12 mm"});
        QCOMPARE(board.count(sketch::CurveKind::line), 4);
        const auto& solved = board.result().solution.sketch;
        QVERIFY(near(board.area(), 12 * sketch::stretch_of(solved, solved.curves[0]).length(), 1e-9));
        QCOMPARE(board.result().solution.degrees_of_freedom, 4);
        board.key(Qt::Key_Escape);
        board.tool("Line");
        board.clicks({{10, 20}, {30, 20.1}});
        board.key(Qt::Key_Escape);
        board.clicks({{40, 25}, {55, 40}});
        board.key(Qt::Key_Escape);
        board.tool("Connect");
        board.press_sketch(20, 20);
        QCOMPARE(board.pen().preview().cut_by.size(), 1u);
        board.press_sketch(46, 31);
        QVERIFY(board.told("meet now"));
        QVERIFY(board.result().solution.findings.empty());
        board.press_sketch(20, 20); // once more: they do already
        board.press_sketch(47, 32);
        QVERIFY(board.told("already"));
        board.press_button("Cancel");
    }

    void corners_take_a_typed_size() {
        Board board;
        board.rectangle(-40, -30, 40, 30);
        const double whole = board.area();
        const auto corner = [&](size_t i) {
            const auto& solved = board.result().solution.sketch;
            const auto* p = solved.point(solved.curves[i].points[0]);
            return sketch::Point2{p->x, p->y};
        };
        board.tool("Round");
        board.press_sketch(corner(0)[0], corner(0)[1]);
        board.numbers({"10 mm"});
        QVERIFY2(near(board.area(), whole - (1 - pi / 4) * 100, 1e-7),
                 qPrintable(QString::number(board.area() - whole)));
        board.tool("Bevel");
        board.press_sketch(40, 30);
        board.numbers({"12"});
        QVERIFY(near(board.area(), whole - (1 - pi / 4) * 100 - 72, 1e-7));
        QVERIFY(board.result().solution.findings.empty());
        board.press_button("Cancel");
    }

    void offset_mirror_row_and_ring() {
        Board board;
        board.rectangle(-20, -10, 0, 10);
        board.tool("Offset");
        board.press_sketch(-10, 10);
        board.point_at_sketch(-10, 25);
        board.numbers({"5"});
        QCOMPARE(board.drawing().curves.size(), 8u);
        const double side = std::sqrt(board.result().regions[0].area + board.result().regions[1].area);
        QVERIFY(side > 29 && side < 31);
        board.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(board.drawing().curves.size(), 4u);
        // A ring of holes about the middle of the plate.
        board.tool("Circle");
        board.clicks({{35, 0}, {38, 0}});
        board.key(Qt::Key_Escape);
        board.key(Qt::Key_Escape);
        const double r = board.drawing().curves.back().radius;
        const auto* center = board.drawing().point(board.drawing().curves.back().points[0]);
        board.press_sketch(center->x + r, center->y);
        QCOMPARE(board.pen().selected().size(), 1u);
        board.tool("Ring");
        board.press_sketch(10, 0);
        board.numbers({"6"});
        QCOMPARE(board.drawing().figures.size(), 1u);
        QCOMPARE(board.result().regions.size(), 7u); // with the rectangle
        QVERIFY(board.result().solution.findings.empty());
        // More of them by the card; then they are broken up to circles.
        board.fill("figure_how many", "2 * 4");
        board.settle();
        QCOMPARE(board.drawing().figures[0].size.formula.text, std::string("2 * 4"));
        QCOMPARE(board.result().regions.size(), 9u);
        board.press_button("Break up");
        QCOMPARE(board.count(sketch::CurveKind::circle), 8);
        QVERIFY(board.drawing().figures.empty());
        QCOMPARE(board.result().regions.size(), 9u);
        board.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(board.drawing().figures.size(), 1u);
        board.press_button("Cancel");
    }

    void places_by_number() {
        Board board;
        board.tool("Rectangle");
        board.point_at_sketch(0, 0);
        board.numbers({"-30", "-20"}); // x and y of the first corner
        QCOMPARE(board.pen().placed().size(), 1u);
        board.point_at_sketch(30, 30);
        board.numbers({"50", "25"}); // width and height, the first of the fields; the others stay empty
        QCOMPARE(board.result().regions.size(), 1u);
        QVERIFY(near(board.area(), 50 * 25, 1e-9));
        QCOMPARE(board.result().solution.degrees_of_freedom, 0);
        QVERIFY(std::any_of(board.drawing().points.begin(), board.drawing().points.end(),
                            [](const auto& p) { return near(p.x, -30, 1e-12) && near(p.y, -20, 1e-12); }));
        board.press_button("Cancel");
    }

    void words_by_mouse_and_card() {
        Board board;
        board.tool("Text");
        board.press_sketch(-40, 20);
        board.point_at_sketch(20, 20);
        board.numbers({"DOME", "12 mm"});
        QCOMPARE(board.drawing().figures.size(), 1u);
        QCOMPARE(board.drawing().figures[0].text, std::string("DOME"));
        const double area = board.area();
        QVERIFY(area > 50 && area < 1000);
        QVERIFY(board.result().solution.findings.empty());
        board.fill("figure_height", "6 mm");
        board.settle();
        QVERIFY(near(board.area(), area / 4, 1e-9));
        board.choose("figure_font", "IBM Plex Sans");
        QCOMPARE(board.drawing().figures[0].font, std::string("IBM Plex Sans"));
        QVERIFY(!near(board.area(), area / 4, 0.01));
        board.choose("figure_font", "Technical");
        board.fill("figure_words", QString("DOME") + QChar(0xB6) + "7");
        board.settle();
        QCOMPARE(board.drawing().figures[0].text, std::string("DOME\n7"));
        // Along a circle, then around its start.
        board.tool("Circle");
        board.clicks({{0, -20}, {30, -20}});
        board.key(Qt::Key_Escape);
        board.press_sketch(0, 10);
        QCOMPARE(board.pen().selected().size(), 1u);
        board.press_button("Along the selected curve");
        QCOMPARE(board.drawing().figures[0].along, board.drawing().curves[0].id);
        board.choose("figure_stands", "around");
        QVERIFY(board.result().solution.findings.empty());
        board.press_button("Straight");
        QCOMPARE(board.drawing().figures[0].along, 0);
        // A font that is not there is a finding, not a silent gap; so is no height.
        board.fill("figure_height", "0 mm");
        board.settle();
        QVERIFY(!board.result().solution.findings.empty());
        board.press_button("Cancel");
    }

    void edges_and_silhouettes_from_the_model() {
        Board board;
        board.tool("Edges");
        QVERIFY(board.told("an edge of the model"));
        board.press_sketch(20, 20); // the upper face of the plate
        QCOMPARE(board.drawing().curves.size(), 4u);
        QVERIFY(board.told("4 curves follow the model"));
        QVERIFY(near(board.area(), 120 * 90, 1e-9));
        board.press_sketch(20, 20);
        QCOMPARE(board.drawing().curves.size(), 4u); // taken already
        board.tool("Silhouette");
        board.press_sketch(-20, 20); // lies where the edges lie
        QCOMPARE(board.drawing().curves.size(), 8u);
        board.key(Qt::Key_Z, Qt::ControlModifier);
        // 5 mm around it, with round corners; then the plate grows, and all of it follows.
        board.tool("Around");
        board.press_sketch(0, 45);
        board.point_at_sketch(0, 60);
        board.numbers({"5"});
        const double grown = 120 * 90 + 2 * 5 * (120 + 90) + 25 * pi;
        QVERIFY2(near(board.area(), grown, 1e-7), qPrintable(QString::number(board.area())));
        board.session().set_field(10, "width", Expression{"130"});
        board.settle();
        QVERIFY(near(board.area(), grown + 10 * 100, 1e-7));
        // Frozen, it follows no more.
        board.key(Qt::Key_Escape);
        board.key(Qt::Key_Escape);
        for (const auto& [x, y] : {std::pair(65, 20), {-65, 20}, {20, 45}, {20, -45}}) {
            board.press_sketch(x, y);
        }
        QCOMPARE(board.pen().selected().size(), 4u);
        board.press_switch("Freeze what was taken");
        board.session().set_field(10, "width", Expression{"150"});
        board.settle();
        QVERIFY(near(board.area(), grown + 10 * 100, 1e-7));
        QVERIFY(board.result().solution.findings.empty());
        board.press_button("Cancel");
    }

    void outlines_in_and_out() {
        QTemporaryDir folder;
        Board board;
        board.answer_file_dialog(QString(KERVO_SOURCE) + "/tests/outlines/words-and-dimensions.dxf");
        board.find_verb("bring in outlines");
        QVERIFY(QTest::qWaitFor([&] { return !board.drawing().figures.empty(); }, 60000));
        board.settle();
        QVERIFY(near(board.area(), 40, 1e-9));
        board.activate();
        board.fill("figure_width", "20 mm");
        board.settle();
        QCOMPARE(board.drawing().figures[0].size.formula.text, std::string("20 mm"));
        QVERIFY2(near(board.area(), 160, 1e-9), qPrintable(QString::number(board.area())));
        const QString out = folder.filePath("out.svg");
        board.answer_file_dialog(out);
        board.find_verb("outlines of a sketch");
        QVERIFY(QTest::qWaitFor([&] { return QFile::exists(out); }, 10000));
        QFile file(out);
        QVERIFY(file.open(QIODevice::ReadOnly));
        QVERIFY(file.readAll().contains("<path"));
        // A file that is none is told, and nothing changes.
        board.activate();
        const auto before = board.drawing();
        board.answer_file_dialog(QString(KERVO_SOURCE) + "/tests/outlines/nothing.dxf");
        board.find_verb("bring in outlines");
        QVERIFY(QTest::qWaitFor([&] { return board.told("no outlines"); }, 60000));
        auto* box = board.window().findChild<QMessageBox*>();
        QVERIFY(box != nullptr);
        box->accept();
        QVERIFY(board.drawing() == before);
        board.press_button("Cancel");
    }

    void points_are_dragged_and_the_sketch_follows() {
        Board board;
        board.rectangle(-40, -30, 10, 10);
        const size_t steps = board.drawing().constraints.size();
        const auto from = board.model().place_on_sketch({10, 10});
        const auto to = board.model().place_on_sketch({40, 30});
        board.drag(from, to);
        QVERIFY(near(board.area(), 80 * 60, 0.02));
        QCOMPARE(board.drawing().constraints.size(), steps);
        QCOMPARE(board.result().regions.size(), 1u);
        board.key(Qt::Key_Z, Qt::ControlModifier); // one pull is one change
        QVERIFY(near(board.area(), 50 * 40, 0.02));
        board.press_button("Cancel");
    }

    void undo_while_something_is_half_drawn() {
        Board board;
        board.rectangle(-20, -10, 0, 10);
        board.tool("Offset");
        board.press_sketch(-10, 10);
        QCOMPARE(board.pen().placed().size(), 1u);
        board.key(Qt::Key_Z, Qt::ControlModifier); // the rectangle goes, and with it what was picked of it
        QVERIFY(board.drawing().curves.empty());
        board.point_at_sketch(-10, 25);
        QVERIFY(board.pen().placed().empty());
        board.press_sketch(-10, 25);
        QVERIFY(board.told("no curve here"));
        board.press_button("Cancel");
    }

    void guides_by_one_key() {
        Board board;
        board.rectangle(-40, -30, 40, 30);
        board.tool("Line");
        board.clicks({{-50, 0}, {50, 4}});
        board.key(Qt::Key_Escape);
        board.key(Qt::Key_Escape);
        QCOMPARE(board.result().regions.size(), 2u);
        board.press_sketch(0, 2);
        board.key(Qt::Key_G);
        QCOMPARE(board.result().regions.size(), 1u);
        QVERIFY(board.drawing().curves.back().construction);
        board.key(Qt::Key_G);
        QCOMPARE(board.result().regions.size(), 2u);
        board.press_button("Cancel");
    }

    void a_dimension_too_many_can_only_measure() {
        Board board;
        board.rectangle(-40, -30, 40, 30);
        for (const auto& [y, length] : {std::pair(-30.0, "70"), std::pair(30.0, "75")}) {
            board.key(Qt::Key_N);
            board.press_sketch(10, y);
            board.type(length);
            board.key(Qt::Key_Return);
        }
        const auto& conflict = board.result().solution.in_conflict;
        QCOMPARE(board.session().pictured_report(20)->state, model::StepState::failed);
        QVERIFY(conflict.size() >= 2);
        QCheckBox* last = nullptr;
        for (auto* box : board.window().findChildren<QCheckBox*>()) {
            last = box->isVisible() && box->text() == "measures" ? box : last;
        }
        QVERIFY(last != nullptr);
        board.reveal(last);
        board.press(last, QPoint(8, 8));
        board.settle();
        QVERIFY(board.result().solution.findings.empty());
        QVERIFY(board.drawing().constraints.back().measured);
        QVERIFY(near(board.result().solution.dimension.at(board.drawing().constraints.back().id), 70));
        board.press_button("Cancel");
    }

    // A document written by hand may draw lines between points that are not there.
    void broken_sketches_open_and_say_so() {
        Board board;
        sketch::Sketch broken;
        broken.add_line(71, 72);
        broken.add_spline({71, 73}, 3, false, false);
        broken.add_circle(broken.add_point(0, 0), 20);
        board.session().set_field(20, "drawing", broken);
        board.settle();
        QCOMPARE(board.session().pictured_report(20)->state, model::StepState::failed);
        QVERIFY(!board.model().grabFramebuffer().isNull());
        board.point_at_sketch(5, 5);
        board.press_sketch(20, 0);
        board.press_button("Cancel");
    }

    void flaws_are_listed_and_mended() {
        Board board;
        sketch::Sketch broken;
        const int a = broken.add_point(-30, -20);
        const int b = broken.add_point(30, -20);
        const int c = broken.add_point(30, 20);
        broken.add_line(a, b);
        broken.add_line(b, c);
        broken.add_line(c, broken.add_point(-29.8, 20));
        broken.add_line(broken.add_point(-30, 20.1), a);
        board.session().set_field(20, "drawing", broken);
        board.settle();
        QVERIFY(board.result().regions.empty());
        board.find_verb("check the sketch");
        board.press_button("Mend");
        QCOMPARE(board.result().regions.size(), 1u);
        QVERIFY(near(board.area(), 2400, 0.02));
        QVERIFY(sketch::check(board.drawing()).empty());
        board.press_button("Cancel");
    }

    void sketches_are_duplicated_merged_and_become_curves() {
        Board board;
        board.tool("Circle");
        board.clicks({{-30, 20}, {-22, 20}});
        board.press_button("Accept");
        const double one = board.area();
        board.from_menu(20, "Duplicate");
        QCOMPARE(board.document().steps.size(), 3u);
        const int copy = board.document().steps[2]->id;
        QCOMPARE(board.document().steps[2]->name, std::string("Sketch 1 copy"));
        QCOMPARE(board.document().step(copy)->definition, board.document().step(20)->definition);
        // Into the copy goes a rectangle; then the first sketch is drawn into it as well, and is gone.
        board.open_step(30);
        board.tool("Centred");
        board.clicks({{25, 0}, {35, 8}});
        const size_t before = board.drawing().curves.size();
        board.from_menu(20, "Merge into the open sketch");
        QCOMPARE(board.document().steps.size(), 2u);
        QCOMPARE(board.drawing().curves.size(), before + 1); // the circle of the first one lies on its own copy
        board.press_button("Accept");
        board.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(board.document().steps.size(), 3u);
        // Curves in space, from the sketch drawn last; they are taken into a new sketch below.
        board.find_verb("curves in space");
        const int curves = board.session().card();
        QVERIFY(board.document().step(curves)->definition.is<model::Curves>());
        board.press_button("Accept");
        QCOMPARE(geom::edges_of(board.output(curves).bodies.begin()->second->shape).size(), 1u);
        QVERIFY(near(geom::length_of(geom::edges_of(board.output(curves).bodies.begin()->second->shape).front()),
                     2 * std::sqrt(pi * one)));
        model::SketchStep below;
        below.offset.text = "-10";
        board.session().edit([&](model::Document document) {
            return model::add_step(std::move(document), below, "Below", -1, nullptr);
        });
        board.settle();
        board.open_step(50);
        board.tool("Edges");
        const double r = std::sqrt(one / pi);
        board.press_model(-30 + r, 20, 8);
        QCOMPARE(board.drawing().curves.size(), 1u);
        QCOMPARE(board.drawing().curves[0].source.body, std::to_string(curves));
        QVERIFY(near(sketch::stretch_of(board.drawing(), board.drawing().curves[0]).radius, r));
        // Frozen, and let go again.
        board.tool("Select");
        const int taken = board.drawing().curves[0].id;
        board.press_sketch(-30 + r, 20);
        QCOMPARE(board.pen().selected().count(taken), 1u);
        board.press_switch("Freeze what was taken");
        QVERIFY(board.drawing().curve(taken)->source.frozen);
        board.press_switch("Freeze what was taken");
        QVERIFY(!board.drawing().curve(taken)->source.frozen);
        QVERIFY(board.drawing().constraints.empty());
        board.press_button("Cancel");
    }
};

int main(int argc, char** argv) {
    return run<SketchingTest>(argc, argv);
}
#include "sketching_test.moc"
