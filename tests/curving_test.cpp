// Curves in space from the window: trimmed piece by piece, shortest on a face, beside others, joined; and bodies that
// end at a neighbour. By mouse and by keyboard.
#include "shaping_fixture.h"

#include "app/view/tools/piece_tool.h"
#include "model/steps/curves/curves.h"
#include "model/steps/neighbour/neighbour.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/space_curve/space_curve.h"
#include "model/steps/trim/trim.h"

#include <QCheckBox>
#include <QLabel>

#include <cmath>
#include <numbers>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;

namespace {

// Straight lines in a level plane, as a body of curves.
void bring_in_lines(Hand& hand, double z, const std::vector<std::array<sketch::Point2, 2>>& lines) {
    model::SketchStep drawn;
    drawn.offset.text = std::to_string(z);
    for (const auto& [from, to] : lines) {
        drawn.drawing.add_line(drawn.drawing.add_point(from[0], from[1]), drawn.drawing.add_point(to[0], to[1]));
    }
    bring_in(hand, drawn, "Lines");
    model::Curves curves;
    curves.sketch.step = hand.document().steps.back()->id;
    bring_in(hand, curves, "Wires");
}

double length_made(Hand& hand) {
    return std::stod(hand.output(hand.session().card()).facts.at("length"));
}

} // namespace

class CurvingTest : public QObject {
    Q_OBJECT

private slots:
    void initTestCase() { start_clean(); }

    void a_wire_loses_the_piece_that_is_clicked() {
        Hand hand;
        bring_in_block(hand); // 80 x 60 x 20
        bring_in_lines(hand, 10, {{{{-75, 0}, {75, 0}}}});
        const model::BodyId wires = std::to_string(hand.document().steps.back()->id);
        hand.find_verb("Trim surfaces");
        const int step = hand.session().card();
        hand.press(hand.find<QCheckBox>("tick_" + QString::fromStdString(wires)), QPoint(8, 8));
        add_from_list(hand, "field_cutters", "Block");
        QVERIFY(hand.session().report(step)->findings.empty());
        QCOMPARE(hand.output(step).pieces.size(), 3u);
        // The card says how long each piece is.
        const auto lengths = hand.window().findChildren<QLabel*>();
        QCOMPARE(std::count_if(lengths.begin(), lengths.end(),
                               [](const QLabel* label) { return label->toolTip().startsWith("Length in mm"); }),
                 3);
        hand.model().setFocus();
        hand.key(Qt::Key_W); // what is cut
        hand.press_model(65, 0, 10);
        hand.settle();
        QCOMPARE(last_step<model::Trim>(hand).verdicts.size(), 1u);
        QVERIFY(hand.session().report(step)->findings.empty());
        hand.press_button("Accept");
        const auto& edges = hand.session().picture()->after.back().second->mesh->edges;
        double left = 0;
        for (const auto& line : edges) {
            for (size_t i = 1; i < line.size(); ++i) {
                left += (line[i] - line[i - 1]).length();
            }
        }
        QVERIFY(near(left, 115));
        undo_all_and_redo(hand);
    }

    void shortest_and_beside_by_mouse() {
        Hand hand;
        bring_in_block(hand);
        hand.find_verb("Curve in space");
        hand.choose("field_made", "Shortest on a face");
        hand.press(hand.named("Pick for Face"));
        hand.press_model(20, 10, 20);
        hand.press_button("+ Point");
        hand.press_model(-40, -30, 20); // a vertex
        hand.press_button("+ Point");
        hand.press_model(40, 30, 20);
        hand.settle();
        QCOMPARE(last_step<model::SpaceCurve>(hand).rows.size(), 2u);
        QVERIFY(hand.session().report(hand.session().card())->findings.empty());
        QVERIFY(near(length_made(hand), 100, 1e-3));
        hand.press_button("Accept");
        hand.model().hand().select({});
        hand.find_verb("Curve in space");
        hand.choose("field_made", "Beside curves on a face");
        hand.press(hand.named("Pick for Face"));
        hand.press_model(20, 10, 20);
        hand.press(hand.named("Pick for Curves"));
        hand.press_model(0, -30, 20); // the long edge in front
        hand.fill("field_away", "12 mm");
        hand.settle();
        QVERIFY(hand.session().report(hand.session().card())->findings.empty());
        QVERIFY(near(length_made(hand), 80, 1e-3));
        QVERIFY(near(hand.session().picture()->after.back().second->elements->edges.front().center.y, -18));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void curves_are_joined_rounded_and_closed() {
        Hand hand;
        bring_in_lines(hand, 0, {{{{0, 0}, {40, 0}}}, {{{40, 0}, {40, 30}}}, {{{40, 30}, {0, 30}}}});
        hand.find_verb("Curve in space");
        const int step = hand.session().card();
        hand.choose("field_made", "Curves joined");
        hand.press(hand.named("Pick for Curves"));
        for (size_t i = 0; i < 3; ++i) {
            const auto& edges = hand.session().picture()->before.back().second->elements->edges;
            hand.press_model(edges[i].center.x, edges[i].center.y, edges[i].center.z);
        }
        hand.settle();
        QCOMPARE(last_step<model::SpaceCurve>(hand).curves.size(), 3u);
        QVERIFY(near(length_made(hand), 110, 1e-3));
        hand.choose("field_corners", "Rounded");
        hand.fill("field_reach", "8 mm");
        hand.choose("field_closing", "By a straight line");
        hand.settle();
        QVERIFY(hand.session().report(step)->findings.empty());
        QVERIFY(near(length_made(hand), 140 + 4 * 8 * (std::numbers::pi / 2 - 2), 1e-3));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }

    void a_body_ends_at_its_neighbour_with_a_gap() {
        Hand hand;
        bring_in_block(hand); // z from 0 to 20
        model::Stock post;
        post.width.text = post.depth.text = "30";
        post.height.text = "40";
        post.z.text = "15";
        bring_in(hand, post, "Post");
        hand.press_model(30, -15, 20); // the top of the block
        hand.find_verb("Trim by a neighbour");
        const int step = hand.session().card();
        QCOMPARE(last_step<model::TrimByNeighbour>(hand).faces.size(), 1u);
        hand.key(Qt::Key_Escape);
        hand.press(hand.find<QCheckBox>("tick_20"), QPoint(8, 8));
        hand.settle();
        QVERIFY(hand.session().report(step)->findings.empty());
        QVERIFY(near(hand.volume("Post"), 30 * 30 * 35));
        hand.fill("field_gap", "play = 2 mm");
        hand.settle();
        QVERIFY(hand.session().report(step)->findings.empty());
        QVERIFY(near(hand.volume("Post"), 30 * 30 * 33));
        hand.choose("field_stays", "What is on its inside");
        hand.settle();
        QVERIFY(near(hand.volume("Post"), 30 * 30 * 3));
        hand.press_button("Accept");
        undo_all_and_redo(hand);
    }
};

int main(int argc, char** argv) {
    return run<CurvingTest>(argc, argv);
}
#include "curving_test.moc"
