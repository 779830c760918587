// Surfaces from the window: swept from open curves, copied from faces, extended, cut with, sewn and made thick; by
// mouse and by keyboard.
#include "app/view/tools/net_tool.h"
#include "shaping_fixture.h"

#include "model/steps/blend/blend.h"
#include "model/steps/built_up/built_up.h"
#include "model/steps/copied_faces/copied_faces.h"
#include "model/steps/extend/extend.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/flat_surface/flat_surface.h"
#include "model/steps/free_form/free_form.h"
#include "model/steps/projected_curves/projected_curves.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/space_curve/space_curve.h"
#include "model/steps/split_faces/split_faces.h"

#include <QCheckBox>
#include <QClipboard>
#include <QGuiApplication>
#include <QLabel>

#include <cmath>
#include <numbers>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;
using std::numbers::pi;

namespace {

// A line in the upright plane through the origin.
void draw_line(Hand& hand, const sketch::Point2& from, const sketch::Point2& to) {
    model::SketchStep drawn;
    drawn.plane.value = "xz";
    drawn.drawing.add_line(drawn.drawing.add_point(from[0], from[1]), drawn.drawing.add_point(to[0], to[1]));
    bring_in(hand, drawn, "Line");
}

double area_of_last_body(Hand& hand) {
    const auto& bodies = hand.session().picture()->after;
    return bodies.back().second->mesh->area();
}

QString contents_of(Hand& hand, const QString& name) {
    for (auto* tree : hand.window().findChildren<QTreeWidget*>()) {
        for (QTreeWidgetItemIterator it(tree); *it != nullptr; ++it) {
            if ((*it)->text(0) == name) {
                return (*it)->text(1);
            }
        }
    }
    return {};
}

} // namespace

class SurfacingTest : public QObject {
    Q_OBJECT

private slots:
    void initTestCase() { start_clean(); }

    void an_open_curve_makes_a_surface_which_cuts_once_it_reaches() {
        Hand hand;
        bring_in_block(hand); // 80 x 60 x 20
        draw_line(hand, {-30, 8}, {40, 8});
        hand.model().setFocus();
        hand.key(Qt::Key_E);
        const int step = hand.session().card();
        QCOMPARE(hand.session().report(step)->findings.front().code, std::string("surface.encloses_nothing"));
        auto* offer = hand.find<QPushButton>("offer");
        QCOMPARE(offer->text(), QString("Make a surface of the curves"));
        hand.press(offer);
        hand.settle();
        hand.choose("field_to", "Both ways, symmetric");
        hand.fill("field_distance", "100");
        hand.settle();
        QVERIFY(near(area_of_last_body(hand), 70 * 100, 1e-6));
        hand.press_button("Accept");
        QCOMPARE(contents_of(hand, "Extrude"), QString("open, 1 border"));
        // The block is selected, the surface cuts it; at one end 10 mm are missing.
        hand.press_model(0, 30, 20);
        hand.key(Qt::Key_X, Qt::ShiftModifier);
        const int cut = hand.session().card();
        add_from_list(hand, "field_cutters", "Extrude");
        const auto& findings = hand.session().report(cut)->findings;
        QCOMPARE(findings.size(), 1u);
        QCOMPARE(findings.front().code, std::string("surface.short"));
        QVERIFY(findings.front().cause.find("10 mm") != std::string::npos);
        auto* button = hand.find<QPushButton>("offer");
        button->setFocus();
        hand.key(Qt::Key_Space);
        hand.settle();
        QVERIFY(!has_error(hand.session().report(cut)->findings));
        hand.choose("field_blades_keep", "The back");
        hand.press_button("Accept");
        const double left = hand.volume("Block");
        QVERIFY(near(left, 80 * 60 * 8) || near(left, 80 * 60 * 12));
        undo_all_and_redo(hand);
    }

    void faces_are_copied_extended_and_made_thick() {
        Hand hand;
        bring_in_block(hand);
        hand.press_model(5, 5, 20); // the upper face
        hand.find_verb("Copy faces");
        QCOMPARE(last_step<model::CopiedFaces>(hand).faces.size(), 1u);
        hand.press_model(40, 0, 10); // and the right one, by the next click
        QCOMPARE(last_step<model::CopiedFaces>(hand).faces.size(), 2u);
        hand.press_button("Accept");
        QCOMPARE(contents_of(hand, "Copied faces"), QString("open, 1 border"));
        hand.find_verb("Extend surface");
        const int extend = hand.session().card();
        QCOMPARE(hand.session().report(extend)->findings.front().code, std::string("step.unanswered"));
        hand.key(Qt::Key_Escape);
        add_from_list(hand, "field_borders", "Copied faces, straight edge, 60, upper face");
        QCOMPARE(last_step<model::Extend>(hand).borders.size(), 1u);
        hand.fill("field_amount", "reach = 10 mm");
        hand.settle();
        QVERIFY(!has_error(hand.session().report(extend)->findings));
        QVERIFY(near(area_of_last_body(hand), 90 * 60 + 20 * 60, 1e-6));
        hand.press_button("Accept");
        hand.model().hand().select({});
        hand.find_verb("Thicken");
        const int thicken = hand.session().card();
        hand.press(hand.find<QCheckBox>("tick_20"), QPoint(8, 8));
        hand.settle();
        QVERIFY(near(hand.output(thicken).added, 60 * ((90 + 20) * 2 + 2 * 2))); // outwards, round the corner
        hand.choose("field_side", "Behind");
        QVERIFY(near(hand.output(thicken).added, 60 * ((90 + 20) * 2 - 2 * 2)));
        hand.press_button("Accept");
        QVERIFY(near(hand.volume("Copied faces"), 60 * ((90 + 20) * 2 - 2 * 2)));
        undo_all_and_redo(hand);
    }

    void a_circle_is_projected_and_trims_the_near_side() {
        Hand hand;
        model::Stock ball;
        ball.shape.value = "sphere";
        ball.diameter.text = "60 mm";
        ball.z.text = "-30 mm";
        bring_in(hand, ball, "Ball");
        hand.press_model(17.32, -17.32, 17.32);
        hand.find_verb("Copy faces");
        hand.press_button("Accept");
        model::SketchStep drawn;
        drawn.offset.text = "50 mm";
        drawn.drawing.add_circle(drawn.drawing.add_point(0, 0), 18);
        bring_in(hand, drawn, "Circle");
        hand.model().hand().select({});
        hand.find_verb("Project curves");
        const int project = hand.session().card();
        QCOMPARE(hand.session().report(project)->findings.front().code, std::string("step.unanswered"));
        hand.key(Qt::Key_Escape);
        hand.press(hand.find<QCheckBox>("tick_20"), QPoint(8, 8));
        hand.settle();
        QCOMPARE(last_step<model::ProjectedCurves>(hand).onto.size(), 1u);
        QVERIFY(hand.session().report(project)->findings.empty());
        QCOMPARE(hand.output(project).facts.at("hits"), std::string("2"));
        hand.choose("field_hits", "All of them");
        const auto& both = hand.session().picture()->after.back().second->elements->edges;
        QCOMPARE(both.size(), 2u);
        hand.choose("field_hits", "The nearest");
        hand.press_button("Accept");
        hand.find_verb("Trim surfaces");
        const int trim = hand.session().card();
        hand.press(hand.find<QCheckBox>("tick_20"), QPoint(8, 8));
        add_from_list(hand, "field_cutters", "Projected curves");
        hand.settle();
        QVERIFY(hand.session().report(trim)->findings.empty());
        QCOMPARE(hand.output(trim).pieces.size(), 2u);
        hand.choose("field_stays", "What is behind the cutters");
        hand.press_button("Accept");
        QCOMPARE(contents_of(hand, "Copied faces"), QString("open, 1 border"));
        undo_all_and_redo(hand);
    }

    void the_view_gives_the_way_of_a_projection() {
        Hand hand;
        bring_in_block(hand);
        model::SketchStep drawn;
        drawn.offset.text = "50 mm";
        drawn.drawing.add_circle(drawn.drawing.add_point(0, 0), 5);
        bring_in(hand, drawn, "Circle");
        hand.press_button("Top");
        hand.settle();
        hand.model().hand().select({});
        hand.find_verb("Project from the view");
        hand.key(Qt::Key_Escape);
        const auto& step = last_step<model::ProjectedCurves>(hand);
        QCOMPARE(step.direction.value, std::string("numbers"));
        QCOMPARE(std::stod(step.along_z.text), -1.0);
        hand.press(hand.find<QCheckBox>("tick_10"), QPoint(8, 8));
        hand.settle();
        QVERIFY(hand.session().report(hand.session().card())->findings.empty());
        const auto& curves = hand.session().picture()->after.back().second->elements->edges;
        QCOMPARE(curves.size(), 1u);
        QVERIFY(near(curves.front().center.z, 20));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_wedge_is_built_from_points_by_keyboard() {
        Hand hand;
        hand.find_verb("Build up");
        const int step = hand.session().card();
        const auto type_fields = [&](const QStringList& texts) {
            for (const QString& text : texts) {
                hand.type(text);
                hand.key(Qt::Key_Tab);
            }
        };
        // Five numbers in each row of points: name, x, y, z, from; the name is there already.
        for (const QStringList& at : {QStringList{"0", "0", "0"}, {"w = 30 mm", "0", "0"}, {"0", "40", "0"}}) {
            hand.press_button("+ Point");
            type_fields(at);
        }
        QCOMPARE(last_step<model::BuiltUp>(hand).rows.size(), 3u);
        QCOMPARE(last_step<model::BuiltUp>(hand).rows[1].at[0].text, std::string("w"));
        QCOMPARE(hand.document().parameters.front().name, std::string("w"));
        for (const QString from : {"p1", "p2", "p3"}) { // the upper ones are measured from the lower ones
            hand.press_button("+ Point");
            type_fields({"0", "0", "50", from});
        }
        QCOMPARE(last_step<model::BuiltUp>(hand).rows[5].of, std::vector<std::string>{"p3"});
        for (const QString of : {"p1 p2 p3 p1", "p4 p5 p6 p4", "p1 p4", "p2 p5", "p3 p6"}) {
            hand.press_button("+ Straight edges");
            type_fields({of});
        }
        hand.settle();
        QCOMPARE(hand.output(step).facts.at("edges"), std::string("9"));
        for (const QString what : {"+ Flat faces", "+ Shell", "+ Solid"}) {
            hand.press_button(what);
            hand.key(Qt::Key_Tab); // of all that there is
        }
        hand.settle();
        QVERIFY(hand.session().report(step)->findings.empty());
        QVERIFY(near(hand.output(step).added, 30000));
        // Up with the solid, and it has no shell yet.
        const auto rows = last_step<model::BuiltUp>(hand).rows;
        auto* last = hand.find<QLineEdit>(QString("row_%1_of").arg(rows.size() - 1));
        hand.reveal(last);
        hand.press(last);
        hand.key(Qt::Key_Up, Qt::ControlModifier);
        QCOMPARE(last_step<model::BuiltUp>(hand).rows[rows.size() - 2].makes, std::string("solid"));
        QCOMPARE(hand.session().report(step)->findings.front().code, std::string("build.incomplete"));
        hand.key(Qt::Key_Down, Qt::ControlModifier);
        QVERIFY(last_step<model::BuiltUp>(hand).rows == rows);
        // A name that others use goes on in their rows.
        hand.fill("row_0_name", "corner");
        QCOMPARE(last_step<model::BuiltUp>(hand).rows[6].of.front(), std::string("corner"));
        hand.press_button("Accept");
        QVERIFY(near(hand.volume("Built-up body"), 30000));
        undo_all_and_redo(hand);
    }

    void points_are_clicked_pulled_and_named_in_the_model() {
        Hand hand;
        bring_in_block(hand);
        hand.press_button("Top");
        hand.settle();
        hand.model().hand().select({});
        hand.find_verb("Build up");
        hand.press_button("+ Point");
        hand.press_model(40, 30, 20); // a corner of the block, exactly
        hand.press_model(-40, 30, 20);
        hand.press_model(44, -40, 0); // beside it, on the ground
        hand.key(Qt::Key_Escape);
        auto rows = last_step<model::BuiltUp>(hand).rows;
        QCOMPARE(rows.size(), 3u);
        QCOMPARE(rows[0].at[0].text, std::string("40 mm"));
        QCOMPARE(rows[0].at[2].text, std::string("20 mm"));
        QCOMPARE(rows[1].at[0].text, std::string("-40 mm"));
        QCOMPARE(rows[2].at[2].text, std::string("0 mm"));
        QVERIFY(std::abs(std::stod(rows[2].at[0].text) - 44) < 1);
        // Edges by the names of points, a face by an edge.
        hand.press_button("+ Straight edges");
        hand.press_model(40, 30, 20);
        hand.press_model(-40, 30, 20);
        const double x = std::stod(rows[2].at[0].text);
        const double y = std::stod(rows[2].at[1].text);
        hand.press_model(x, y, 0);
        hand.press_model(40, 30, 20);
        QCOMPARE(last_step<model::BuiltUp>(hand).rows.back().of, (std::vector<std::string>{"p1", "p2", "p3", "p1"}));
        hand.press_button("+ Flat faces");
        hand.press_model(0, 30, 20); // the middle of the first edge
        hand.settle();
        QCOMPARE(last_step<model::BuiltUp>(hand).rows.back().of, std::vector<std::string>{"e1"});
        const auto area = [](double py, double pz) { // of the triangle
            return 80 * std::hypot(py - 30, pz - 20) / 2;
        };
        QVERIFY(near(area_of_last_body(hand), area(y, 0), 1e-6));
        hand.key(Qt::Key_Escape);
        // A point is pulled; seen from above it stays at its height.
        const QPointF from = hand.model().place_of({x, y, 0});
        hand.drag(from, hand.model().place_of({x, y - 5, 0}));
        rows = last_step<model::BuiltUp>(hand).rows;
        const double pulled = std::stod(rows[2].at[1].text);
        QVERIFY(std::abs(pulled - (y - 5)) < 1);
        QCOMPARE(rows[2].at[2].text, std::string("0 mm"));
        QVERIFY(near(area_of_last_body(hand), area(pulled, 0), 1e-6));
        hand.press_button("Accept");
        QCOMPARE(contents_of(hand, "Built-up body"), QString("open, 1 border"));
        undo_all_and_redo(hand);
    }

    void control_points_are_pulled_framed_and_moved_by_number() {
        Hand hand;
        hand.find_verb("Free-form surface"); // 100 x 60, 7 x 7 control points
        const int step = hand.session().card();
        hand.settle();
        QCOMPARE(hand.output(step).facts.at("patches"), std::string("4 \u00d7 4"));
        hand.press_button("Front");
        hand.settle();
        const auto rows = [&] { return last_step<model::FreeFormSurface>(hand).rows; };
        const auto point = [&](int row, int column) { return Point3(hand.output(step).net->at(row, column)); };
        const auto seen = [&](int row, int column) { return hand.model().place_of(point(row, column)); };
        // From the side all points of a row lie behind each other; the one that is pulled moves, up.
        hand.drag(seen(3, 0), seen(3, 0) - QPointF(0, 60));
        hand.settle();
        QCOMPARE(rows().size(), 1u);
        QCOMPARE(rows()[0].makes, std::string("move"));
        QCOMPARE(rows()[0].of.size(), 1u);
        QVERIFY(QString::fromStdString(rows()[0].of[0]).startsWith("p4_"));
        const double up = std::stod(rows()[0].at[2].text);
        QVERIFY(std::abs(up - 60 / hand.model().pixels_per_mm()) < 0.5);
        QCOMPARE(rows()[0].at[0].text, std::string("0"));
        // Again: the same row goes on, and it is one step to undo.
        const int column = QString::fromStdString(rows()[0].of[0]).mid(3).toInt() - 1;
        QVERIFY(near(point(3, column).z, up));
        hand.drag(seen(3, column), seen(3, column) + QPointF(0, 30));
        hand.settle();
        QCOMPARE(rows().size(), 1u);
        QVERIFY(std::abs(point(3, column).z - up / 2) < 0.5);
        // A frame takes a whole row; its numbers are typed.
        hand.press_button("Top");
        hand.settle();
        const QPointF corner(8, 8);
        hand.drag(seen(1, 0) - corner - QPointF(0, seen(1, 0).y() - seen(1, 6).y()), seen(1, 0) + corner,
                  Qt::LeftButton, Qt::ControlModifier);
        hand.press_button("+ Move softly");
        QCOMPARE(rows().back().of.size(), 7u);
        for (const QString number : {"0", "0", "12 mm"}) {
            hand.type(number);
            hand.key(Qt::Key_Tab);
        }
        hand.fill("field_reach", "5 mm");
        hand.settle();
        QVERIFY(hand.session().report(step)->findings.empty());
        for (int k = 0; k < 7; ++k) {
            QVERIFY(near(point(1, k).z, 12));
        }
        QVERIFY(near(point(2, 3).z, 0)); // out of reach
        // More rows leave the shape as it is: here in the patch in which the points weigh most. A click chooses one.
        const double area = area_of_last_body(hand);
        hand.press_button("+ More rows");
        hand.key(Qt::Key_Tab);
        hand.settle();
        hand.key(Qt::Key_Escape);
        QCOMPARE(hand.output(step).net->rows, 8);
        QVERIFY(near(area_of_last_body(hand), area, 1e-2));
        hand.press_model(point(6, 1).x, point(6, 1).y, point(6, 1).z);
        QCOMPARE(hand.model().tool<NetTool>().chosen(), std::set<std::string>{"p7_2"});
        hand.press_button("Accept");
        QCOMPARE(contents_of(hand, "Free-form surface"), QString("open, 1 border"));
        undo_all_and_redo(hand);
    }

    void curves_that_cross_become_a_surface() {
        Hand hand;
        const auto line = [&](const std::array<const char*, 3>& from, const std::array<const char*, 3>& to) {
            model::SpaceCurve curve;
            curve.degree.text = "1";
            const auto point = [](const std::string& name, const std::array<const char*, 3>& at) {
                return model::Row{name, "point", {}, {{{at[0]}, {at[1]}, {at[2]}}}};
            };
            curve.rows = {point("p1", from), point("p2", to)};
            bring_in(hand, curve, "Line");
        };
        line({"0", "0", "0"}, {"60 mm", "0", "0"});
        line({"0", "40 mm", "30 mm"}, {"60 mm", "40 mm", "30 mm"});
        line({"0", "0", "0"}, {"0", "40 mm", "30 mm"});
        line({"60 mm", "0", "0"}, {"60 mm", "40 mm", "30 mm"});
        hand.model().hand().select({});
        hand.find_verb("Surface through a net");
        const int step = hand.session().card();
        for (const Point3& at : {Point3(25, 0, 0), Point3(0, 20, 15), Point3(60, 20, 15)}) {
            hand.press_model(at.x, at.y, at.z);
        }
        QCOMPARE(hand.session().report(step)->findings.front().code, std::string("net.few"));
        hand.press_model(25, 40, 30);
        QVERIFY(hand.session().report(step)->findings.empty());
        QCOMPARE(hand.output(step).facts.at("curves"), std::string("2 \u00d7 2"));
        QVERIFY(near(area_of_last_body(hand), 60 * 50));
        hand.press_button("Accept");
        QCOMPARE(contents_of(hand, "Surface through a net"), QString("open, 1 border"));
        undo_all_and_redo(hand);
    }

    void a_face_becomes_free_form() {
        Hand hand;
        bring_in_block(hand);
        hand.find_verb("Free-form like a face");
        hand.press_model(10, 10, 20);
        hand.settle();
        const auto& step = last_step<model::FreeFormSurface>(hand);
        QCOMPARE(step.face.size(), 1u);
        QVERIFY(hand.session().report(hand.session().card())->findings.empty());
        QVERIFY(near(area_of_last_body(hand), 80 * 60));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_table_of_points_becomes_a_curve() {
        Hand hand;
        hand.find_verb("Curve in space");
        hand.press_button("+ Point");
        QGuiApplication::clipboard()->setText("0 0 0\n10 mm; 20 mm; 0\n20\t0\t0\n");
        hand.key(Qt::Key_V, Qt::ControlModifier);
        hand.settle();
        const auto& rows = last_step<model::SpaceCurve>(hand).rows;
        QCOMPARE(rows.size(), 3u);
        QCOMPARE(rows[1].at[1].text, std::string("20 mm"));
        hand.choose("field_made", "By control points");
        hand.fill("field_degree", "2");
        hand.settle();
        QVERIFY(hand.session().report(hand.session().card())->findings.empty());
        // A parabola 20 wide and 10 high.
        const double wanted = std::sqrt(400 + 1600) / 2 + 400 / 80.0 * std::asinh(2);
        QVERIFY(near(std::stod(hand.output(hand.session().card()).facts.at("length")), wanted, 1e-4));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_tube_is_filled_at_both_ends_and_sewn_to_a_solid() {
        Hand hand;
        model::Stock post;
        post.shape.value = "cylinder";
        post.diameter.text = "40 mm";
        post.height.text = "30 mm";
        bring_in(hand, post, "Post");
        hand.press_model(14.1, -14.1, 15); // its side
        hand.find_verb("Copy faces");
        hand.press_button("Accept");
        hand.model().hand().select({});
        for (const double z : {30.0, 0.0}) {
            hand.find_verb("Fill");
            const int step = hand.session().card();
            QCOMPARE(hand.session().report(step)->findings.front().code, std::string("step.unanswered"));
            hand.key(Qt::Key_Escape);
            choose_border(hand, "field_border", "Copied faces", z);
            QVERIFY(hand.session().report(step)->findings.empty()); // a round lid, tangent to the tube
            hand.fill("step_name", z == 0 ? "Lower lid" : "Upper lid");
            hand.choose("field_meets", "It only touches");
            hand.choose("field_result", "A surface of its own");
            QVERIFY(hand.session().report(step)->findings.empty());
            QVERIFY(near(area_of_last_body(hand), pi * 400, 1e-2)); // by triangles
            hand.press_button("Accept");
        }
        hand.find_verb("Sew");
        const int sew = hand.session().card();
        hand.key(Qt::Key_Escape);
        add_from_list(hand, "field_surfaces", "Copied faces");
        add_from_list(hand, "field_surfaces", "Upper lid");
        QCOMPARE(hand.session().report(sew)->findings.front().code, std::string("sew.open"));
        add_from_list(hand, "field_surfaces", "Lower lid");
        QVERIFY(hand.session().report(sew)->findings.empty());
        QVERIFY(near(hand.output(sew).added, pi * 400 * 30, 1e-5));
        hand.choose("field_becomes", "Still a surface");
        QCOMPARE(contents_of(hand, "Copied faces"), QString("closed surface"));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_region_becomes_a_flat_surface_which_is_offset() {
        Hand hand;
        model::SketchStep drawn;
        drawn.drawing.add_circle(drawn.drawing.add_point(0, 0), 18);
        bring_in(hand, drawn, "Circle");
        hand.find_verb("Flat surface");
        const int flat = hand.session().card();
        hand.press_sketch(0, 0);
        QCOMPARE(last_step<model::FlatSurface>(hand).regions.size(), 1u);
        QVERIFY(hand.session().report(flat)->findings.empty());
        QVERIFY(near(area_of_last_body(hand), pi * 18 * 18, 1e-2));
        hand.press_button("Accept");
        hand.model().hand().select({});
        hand.find_verb("Offset surface");
        hand.key(Qt::Key_Escape);
        hand.press(hand.find<QCheckBox>("tick_20"), QPoint(8, 8));
        hand.fill("field_thickness", "away = 7 mm");
        hand.settle();
        QVERIFY(hand.session().report(hand.session().card())->findings.empty());
        const auto& faces = hand.session().picture()->after.back().second->elements->faces;
        QVERIFY(near(std::abs(faces.front().center.z), 7));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_face_is_split_and_one_half_shifted() {
        Hand hand;
        bring_in_block(hand); // 80 x 60 x 20
        hand.press_model(5, 5, 20);
        hand.find_verb("Split faces");
        const int split = hand.session().card();
        QCOMPARE(last_step<model::SplitFaces>(hand).faces.size(), 1u);
        hand.key(Qt::Key_Escape);
        // From the middle of one long edge to that of the other, picked in the model.
        hand.press(hand.named("Pick for From"));
        hand.press_model(10, -30, 20);
        hand.press_model(10, 30, 20); // the next click is for "To"
        hand.settle();
        QVERIFY(hand.session().report(split)->findings.empty());
        QCOMPARE(hand.session().picture()->after.back().second->elements->faces.size(), 7u);
        hand.press_button("Accept");
        hand.model().hand().select({});
        hand.press_model(20, 5, 20); // the right half
        hand.find_verb("Shift faces");
        hand.fill("field_distance", "10 mm");
        hand.settle();
        QVERIFY(!has_error(hand.session().report(hand.session().card())->findings));
        hand.press_button("Accept");
        QVERIFY(near(hand.volume("Block"), 80 * 60 * 20 + 40 * 60 * 10));
        undo_all_and_redo(hand);
    }

    void two_tubes_are_blended_by_keyboard() {
        Hand hand;
        for (const double z : {0.0, 70.0}) {
            model::SketchStep drawn;
            drawn.offset.text = std::to_string(z);
            drawn.drawing.add_circle(drawn.drawing.add_point(0, 0), 20);
            bring_in(hand, drawn, "Circle");
            model::Extrude tube;
            tube.result.value = "surface";
            tube.sketch.step = hand.document().steps.back()->id;
            tube.regions = {model::ChosenRegion({}, {0, 0})};
            tube.extent.distance.text = "40 mm";
            bring_in(hand, tube, z == 0 ? "Lower" : "Upper");
        }
        hand.find_verb("Blend");
        const int blend = hand.session().card();
        QCOMPARE(hand.session().report(blend)->findings.front().code, std::string("step.unanswered"));
        hand.key(Qt::Key_Escape);
        choose_border(hand, "field_first", "Lower", 40);
        choose_border(hand, "field_second", "Upper", 70);
        QVERIFY(hand.session().report(blend)->findings.empty());
        QCOMPARE(contents_of(hand, "Lower"), QString("open, 2 borders"));
        QVERIFY(near(area_of_last_body(hand), 2 * pi * 20 * 110, 1e-3)); // by triangles
        hand.fill("field_first_firmly", "9");
        hand.fill("field_second_firmly", "9");
        hand.settle();
        QCOMPARE(hand.session().report(blend)->findings.front().code, std::string("span.folds"));
        hand.fill("field_first_firmly", "1.5");
        hand.fill("field_second_firmly", "1.5");
        hand.settle();
        QVERIFY(hand.session().report(blend)->findings.empty());
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

private:
    // From the list, the round edge of a body that lies at a height.
    static void choose_border(Hand& hand, const QString& field, const QString& body, double height) {
        auto* box = hand.find<QComboBox>(field);
        for (int i = 0; i < box->count(); ++i) {
            const QString text = box->itemText(i);
            if (!text.startsWith(body)) {
                continue;
            }
            hand.reveal(box);
            box->setFocus(Qt::TabFocusReason);
            hand.key(Qt::Key_Down);
            auto* view = box->view();
            QVERIFY(QTest::qWaitFor([&] { return view->isVisible(); }));
            QTest::keyClick(view, Qt::Key_Home);
            for (int k = 0; k < i; ++k) {
                QTest::keyClick(view, Qt::Key_Down);
            }
            QTest::keyClick(view, Qt::Key_Return);
            hand.settle();
            model::References chosen;
            for (const auto& each : model::fields_of(hand.document().steps.back()->definition, true)) {
                if ("field_" + each.info.key == field.toStdString()) {
                    chosen = std::get<model::References>(each.value);
                }
            }
            QCOMPARE(chosen.size(), 1u);
            if (std::abs((*chosen.front().near)[2] - height) < 1e-6) {
                return;
            }
            hand.key(Qt::Key_Z, Qt::ControlModifier); // the other one
            box = hand.find<QComboBox>(field);
        }
        QFAIL("there is no such border");
    }
};

int main(int argc, char** argv) {
    return run<SurfacingTest>(argc, argv);
}
#include "surfacing_test.moc"
