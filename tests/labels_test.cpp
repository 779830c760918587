// Where numbers stand on the drawing.
#include "app/view/labels.h"

#include <gtest/gtest.h>

using namespace kervo::app;

namespace {

const QSizeF size(40, 20);

QRectF box_at(const QPointF& middle) {
    return {middle - QPointF(size.width(), size.height()) / 2, size};
}

TEST(Labels, StandAtTheFirstPlaceThatIsFree) {
    Labels labels;
    EXPECT_EQ(labels.free_place(size, {{100, 100}, {200, 100}}), 0u);
    labels.avoid(box_at({100, 100}));
    EXPECT_EQ(labels.free_place(size, {{100, 100}, {200, 100}}), 1u);
    EXPECT_EQ(labels.free_place(size, {{100, 121}, {200, 100}}), 0u); // below it
    labels.clear();
    EXPECT_EQ(labels.free_place(size, {{100, 100}, {200, 100}}), 0u);
}

TEST(Labels, KeepOffLinesAlsoLevelAndPlumbOnes) {
    for (const QPolygonF& line :
         {QPolygonF({{0, 100}, {300, 100}}), QPolygonF({{100, 0}, {100, 300}}), QPolygonF({{0, 0}, {200, 200}})}) {
        Labels labels;
        labels.avoid(line);
        EXPECT_EQ(labels.free_place(size, {{100, 100}, {240, 40}}), 1u);
    }
    Labels around; // a line that goes round it touches nothing
    around.avoid(QPolygonF({{0, 0}, {300, 0}, {300, 300}, {0, 300}, {0, 0}}));
    EXPECT_EQ(around.free_place(size, {{150, 150}, {400, 400}}), 0u);
}

TEST(Labels, CoverLeastWhereNothingIsFree) {
    Labels labels;
    for (const double x : {100.0, 200.0}) {
        labels.avoid(box_at({x, 100}));
    }
    // 40 x 20 square pixels, 10 x 20, 20 x 20.
    EXPECT_EQ(labels.free_place(size, {{100, 100}, {130, 100}, {180, 100}}), 1u);
    labels.avoid(QPolygonF({{145, 0}, {145, 300}})); // which counts as 150 of them
    EXPECT_EQ(labels.free_place(size, {{100, 100}, {130, 100}, {180, 100}}), 1u);
    EXPECT_EQ(labels.free_place(size, {{100, 100}, {130, 100}, {175, 100}}), 2u);
}

// As many as there is room for, one after the other, like the dimensions of a drawing.
TEST(Labels, NeverLieOnEachOtherWhileThereIsRoom) {
    Labels labels;
    std::vector<QRectF> standing;
    for (int i = 0; i < 30; ++i) {
        std::vector<QPointF> places;
        for (int row = 0; row < 6; ++row) {
            for (int column = 0; column < 6; ++column) {
                places.emplace_back(50 + 45 * ((column + i) % 6), 50 + 24 * ((row + 2 * i) % 6));
            }
        }
        const QRectF box = box_at(places[labels.free_place(size, places)]);
        for (const QRectF& other : standing) {
            EXPECT_FALSE(box.intersects(other)) << i;
        }
        standing.push_back(box);
        labels.avoid(box);
    }
}

} // namespace
