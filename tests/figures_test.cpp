// What figures draw: text, artwork, rings, rows; judged by areas of polygons, by rigid motion, by counts.
#include "sketch/arrangement.h"
#include "sketch/figures.h"
#include "sketch/lettering.h"
#include "sketch/solve.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

namespace kervo::sketch {

namespace {

constexpr double pi = std::numbers::pi;

double total_area(const Sketch& sketch) {
    double total = 0;
    for (const Region& region : find_regions(sketch)) {
        total += region.area;
    }
    return total;
}

// The area of what winds around, by thin horizontal strips: nothing of the arrangement is used.
double area_by_strips(const std::vector<Stretch>& loops) {
    std::vector<std::array<Point2, 2>> edges;
    double low = 1e300;
    double high = -1e300;
    for (const Stretch& stretch : loops) {
        const auto chain = flattened(stretch, 1e-4);
        for (size_t i = 0; i + 1 < chain.size(); ++i) {
            edges.push_back({chain[i], chain[i + 1]});
            low = std::min(low, chain[i][1]);
            high = std::max(high, chain[i][1]);
        }
    }
    constexpr int strips = 4000;
    double area = 0;
    for (int i = 0; i < strips; ++i) {
        const double y = low + (high - low) * (i + 0.5) / strips;
        std::vector<std::pair<double, int>> crossings;
        for (const auto& [a, b] : edges) {
            if ((a[1] <= y) != (b[1] <= y)) {
                crossings.emplace_back(a[0] + (b[0] - a[0]) * (y - a[1]) / (b[1] - a[1]), a[1] <= y ? 1 : -1);
            }
        }
        std::sort(crossings.begin(), crossings.end());
        int winds = 0;
        for (size_t k = 0; k + 1 < crossings.size(); ++k) {
            winds += crossings[k].second;
            area += winds != 0 ? (crossings[k + 1].first - crossings[k].first) * (high - low) / strips : 0;
        }
    }
    return area;
}

int add_text(Sketch& s, const std::string& text, const std::string& height, Point2 from, Point2 to) {
    Figure figure;
    figure.kind = FigureKind::text;
    figure.text = text;
    figure.size.formula.text = height;
    figure.points = {s.add_point(from[0], from[1]), s.add_point(to[0], to[1])};
    return s.add_figure(figure);
}

Sketch solved(const Sketch& s, const ParameterValues& parameters = {}) {
    const Solution solution = solve(s, parameters);
    EXPECT_TRUE(solution.findings.empty()) << (solution.findings.empty() ? "" : solution.findings[0].cause);
    return solution.sketch;
}

std::vector<Stretch> all_of(const std::vector<FilledOutline>& outlines) {
    std::vector<Stretch> all;
    for (const FilledOutline& outline : outlines) {
        all.insert(all.end(), outline.stretches.begin(), outline.stretches.end());
    }
    return all;
}

} // namespace

TEST(Stretches, ASimilarityMovesEveryKindAsItMovesPoints) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> number(-3, 3);
    for (int round = 0; round < 40; ++round) {
        const Similarity put{number(random), number(random), {number(random), number(random)}, round % 2 == 1};
        const auto spline = std::make_shared<const Spline>(
            spline_by_poles({{0, 0}, {number(random), 2}, {3, number(random)}, {5, 1}, {7, 0}}, 3, false));
        for (const Stretch& s :
             {line_between({1, 2}, {4, number(random)}), arc_about({1, 1}, 2, number(random), number(random)),
              ellipse_about({number(random), 0}, {3, 1}, 1.5, number(random), number(random)), stretch_over(spline)}) {
            const Stretch moved = s.placed(put);
            for (const double t : {0.0, 0.3, 0.8, 1.0}) {
                EXPECT_NEAR(distance(moved.at(t), put(s.at(t))), 0, 1e-9);
            }
            EXPECT_NEAR(moved.length(), s.length() * put.scale(), 1e-6 * (1 + moved.length()));
            const double way = s.length() * 0.37;
            EXPECT_NEAR(s.part(0, s.at_length(way)).length(), way, 1e-6);
        }
    }
}

TEST(Text, IsAsLargeAsItsLettersAreByAnotherMethod) {
    for (const std::string font : {"", "IBM Plex Sans"}) {
        for (const std::string words : {"Tarn Edge", "0123456789", "B\u00d8\u00c4 & %"}) {
            Sketch s;
            const int id = add_text(s, words, "8", {3, 2}, {20, 9});
            s.figure(id)->font = font;
            s = solved(s);
            const auto outline = all_of(figure_outlines(s));
            ASSERT_GT(outline.size(), 20u);
            const double strips = area_by_strips(outline);
            EXPECT_NEAR(total_area(s), strips, 2e-3 * strips) << words << " in " << font;
        }
    }
}

TEST(Text, IsAsHighAsItIsTold) {
    for (const std::string font : {"", "IBM Plex Sans"}) {
        const auto letters = shape_text("H", font, 7);
        ASSERT_TRUE(letters);
        double low = 1e300;
        double high = -1e300;
        for (const Stretch& s : (*letters)[0].loops[0]) {
            low = std::min(low, s.box()[1]);
            high = std::max(high, s.box()[3]);
        }
        EXPECT_NEAR(high - low, 7, 0.15) << font; // the lettering's strokes have round ends
    }
}

TEST(Text, TheInsideOfAnOIsNoRegion) {
    Sketch s;
    add_text(s, "O", "10", {0, 0}, {10, 0});
    s = solved(s);
    const auto regions = find_regions(s);
    ASSERT_EQ(regions.size(), 1u);
    EXPECT_EQ(regions[0].loops.size(), 2u);
    // What is drawn into it is one.
    Sketch with_dot = s;
    const auto box = regions[0].loops[1].front().box();
    with_dot.add_circle(with_dot.add_point(box[0] + 2, (box[1] + box[3]) / 2), 0.2);
    EXPECT_EQ(find_regions(with_dot).size(), 2u);
}

TEST(Text, LettersOnACurveKeepTheirShapeAndTheirDistance) {
    Sketch s;
    const int straight = add_text(s, "E100", "6", {0, 0}, {1, 0});
    Sketch round = s;
    s = solved(s);
    round.figure(straight)->along = round.add_circle(round.add_point(0, -40), 40);
    round.curve(round.figure(straight)->along)->construction = true;
    round.figure(straight)->reversed = true; // outside, clockwise
    round = solved(round);
    EXPECT_NEAR(total_area(round), total_area(s), 1e-9 * total_area(s));
    for (const Stretch& stretch : all_of(figure_outlines(round))) {
        EXPECT_GT(distance(stretch.start, {0, -40}), 39.0); // all feet stand on it
        EXPECT_LT(distance(stretch.start, {0, -40}), 47.0);
    }
    // Aligned in the middle, the word spreads to both sides of where it starts.
    round.figure(straight)->align = TextAlign::middle;
    double left = 0;
    double right = 0;
    for (const Stretch& stretch : all_of(figure_outlines(round))) {
        left = std::min(left, stretch.start[0]);
        right = std::max(right, stretch.start[0]);
    }
    EXPECT_NEAR(left, -right, 2.0); // letters have unlike borders
    // A spline serves as well; beyond its end the words go on straight.
    Sketch wave;
    const int words = add_text(wave, "dome shutter", "5", {0, 0}, {1, 0});
    wave.figure(words)->along = wave.add_spline(
        {wave.add_point(0, 0), wave.add_point(20, 2), wave.add_point(40, -1), wave.add_point(60, 0)}, 3, false, true);
    wave.curve(wave.figure(words)->along)->construction = true;
    Sketch plain = wave;
    plain.figure(words)->along = 0;
    EXPECT_NEAR(total_area(solved(wave)), total_area(solved(plain)), 1e-9 * total_area(solved(plain)));
}

TEST(Text, FollowsItsFormulasAndSaysWhatIsWrong) {
    Sketch s;
    const int id = add_text(s, "30", "h", {0, 0}, {1, 0});
    const auto area = [&](double h) { return total_area(solved(s, {{"h", Quantity{h, length_dimension, false}}})); };
    EXPECT_NEAR(area(6), 4 * area(3), 1e-9 * area(6));
    EXPECT_TRUE(has_error(solve(s, {}).findings)); // no h
    s.figure(id)->size.formula.text = "0 mm";
    EXPECT_EQ(solve(s, {}).findings.at(0).code, "sketch.figure");
    s.figure(id)->size.formula.text = "3 mm";
    s.figure(id)->font = "No Such Font";
    EXPECT_EQ(solve(s, {}).findings.at(0).code, "sketch.font");
    const auto wide = shape_text("AA", "", 5, 3);
    const auto narrow = shape_text("AA", "", 5, 0);
    EXPECT_NEAR((*wide)[1].start - (*narrow)[1].start, 3, 1e-9);
    const auto lines = shape_text("A\nB", "", 5);
    EXPECT_NEAR((*lines)[1].down, 8, 1e-9);
    const auto families = font_families();
    ASSERT_GE(families.size(), 2u);
    EXPECT_TRUE(shape_text("a", families.back(), 5));
}

TEST(Rings, CountByAFormulaAndAreHeldByTheirCentre) {
    Sketch s;
    const auto mark = s.add_rectangle({50, -0.5}, {56, 0.5});
    const int centre = s.add_point(0, 0);
    s.add_constraint(ConstraintKind::fixed, {centre});
    Figure ring;
    ring.kind = FigureKind::ring;
    ring.of.assign(mark.begin(), mark.end());
    ring.points = {centre};
    ring.size.formula.text = "360 / step";
    const int id = s.add_figure(ring);
    for (const double step : {5.0, 10.0, 30.0}) {
        const Sketch drawn = solved(s, {{"step", Quantity{step, plain_number, false}}});
        const auto regions = find_regions(drawn);
        ASSERT_EQ(regions.size(), static_cast<size_t>(std::lround(360 / step)));
        for (const Region& region : regions) {
            EXPECT_NEAR(region.area, 6, 1e-9);
            const double angle = std::atan2(region.inside[1], region.inside[0]) / pi * 180 / step;
            EXPECT_NEAR(angle, std::round(angle), 0.05);
        }
    }
    EXPECT_EQ(solve(s, {{"step", Quantity{7, plain_number, false}}}).findings.at(0).code, "sketch.figure"); // 51.43
    // An angle of its own: a fan, not a whole ring.
    s.figure(id)->size.formula.text = "4";
    s.figure(id)->spacing.formula.text = "15 deg";
    for (const Region& region : find_regions(solved(s))) {
        EXPECT_LT(std::atan2(region.inside[1], region.inside[0]), 46.0 / 180 * pi);
    }
    // Regions keep their names when the count changes: each copy is told by its number.
    const auto four = find_regions(solved(s));
    s.figure(id)->size.formula.text = "6";
    const auto six = find_regions(solved(s));
    for (const Region& region : four) {
        EXPECT_EQ(std::count_if(six.begin(), six.end(), [&](const Region& r) { return r.bounds == region.bounds; }), 1);
    }
}

TEST(Rings, RepeatTextsAndRowsToo) {
    Sketch s;
    const int hole = s.add_circle(s.add_point(20, 0), 1);
    Figure row;
    row.kind = FigureKind::row;
    row.of = {hole};
    row.points = {s.add_point(20, 0), s.add_point(25, 0)};
    row.size.formula.text = "3";
    const int row_id = s.add_figure(row);
    const int words = add_text(s, "N", "3", {40, 0}, {41, 0});
    Figure ring;
    ring.kind = FigureKind::ring;
    ring.of = {hole, row_id, words};
    ring.points = {s.add_point(0, 0)};
    ring.size.formula.text = "8";
    s.add_figure(ring);
    s = solved(s);
    Sketch letter;
    add_text(letter, "N", "3", {0, 0}, {1, 0});
    const double n = total_area(solved(letter));
    EXPECT_NEAR(total_area(s), 8 * (3 * pi + n), 1e-9);
    // Broken up, they are curves that draw the same.
    Sketch broken = s;
    break_up(broken, row_id);
    EXPECT_EQ(broken.figures.size(), 1u); // the words; the ring could not do without the row
    EXPECT_NEAR(total_area(broken), total_area(s), 1e-9);
    EXPECT_FALSE(has_error(check_structure(broken)));
    EXPECT_NEAR(total_area(solved(broken)), total_area(s), 1e-9);
}

// Rows of rows: ten times as many at each level, told before a single one is drawn.
TEST(Figures, DrawNoMoreThanThereMayBe) {
    Sketch s;
    const int first = s.add_point(0, 0);
    const int second = s.add_point(10, 0);
    int last = s.add_circle(first, 4);
    for (int level = 0; level < 9; ++level) {
        Figure row;
        row.kind = FigureKind::row;
        row.points = {first, second};
        row.of = {last};
        row.size.formula.text = "10";
        last = s.add_figure(row);
    }
    const auto solution = solve(s, {});
    ASSERT_FALSE(solution.findings.empty());
    for (const Finding& finding : solution.findings) {
        EXPECT_EQ(finding.code, "sketch.too_much");
    }
    size_t pieces = 0;
    for (const auto& outline : figure_outlines(solution.sketch)) {
        pieces += outline.stretches.size();
    }
    EXPECT_EQ(pieces, 9u + 81 + 729 + 6561 + 59049); // the next level would be over the limit, and so are all on it
    Sketch words;
    const int text = add_text(words, std::string(1000000, 'M'), "5 mm", {0, 0}, {100, 0});
    const auto refused = solve(words, {});
    ASSERT_FALSE(refused.findings.empty());
    EXPECT_EQ(refused.findings.front().code, "sketch.figure");
    EXPECT_EQ(refused.sketch.figure(text)->size.value, 0);
}

TEST(Figures, GoWithWhatTheyHangOn) {
    Sketch s;
    const int hole = s.add_circle(s.add_point(20, 0), 1);
    Figure ring;
    ring.kind = FigureKind::ring;
    ring.of = {hole};
    ring.points = {s.add_point(0, 0)};
    ring.size.formula.text = "8";
    const int id = s.add_figure(ring);
    Sketch without = s;
    without.remove(hole);
    EXPECT_TRUE(without.figures.empty());
    EXPECT_TRUE(without.points.empty());
    without = s;
    without.remove(ring.points[0]);
    EXPECT_TRUE(without.figures.empty());
    EXPECT_EQ(without.curves.size(), 1u);
    without = s;
    without.remove(id);
    EXPECT_EQ(without.points.size(), 1u); // the centre of the ring went with it
    s.figure(id)->of = {id};
    EXPECT_TRUE(has_error(check_structure(s))); // nothing repeats itself
}

TEST(Artwork, HasTheSizeItIsToldAndItsFillRule) {
    auto art = std::make_shared<Artwork>();
    ArtShape shape;
    shape.fill = FillRule::even_odd;
    const auto square = [](double low, double high) {
        return std::vector<Stretch>{line_between({low, low}, {high, low}), line_between({high, low}, {high, high}),
                                    line_between({high, high}, {low, high}), line_between({low, high}, {low, low})};
    };
    shape.chains = {square(0, 10), square(2, 8), square(4, 6)};
    art->shapes.push_back(shape);
    Sketch s;
    Figure figure;
    figure.kind = FigureKind::artwork;
    figure.artwork = art;
    figure.size.formula.text = "20 mm";
    figure.points = {s.add_point(5, 5), s.add_point(5, 8)};
    const int id = s.add_figure(figure);
    s = solved(s);
    EXPECT_NEAR(total_area(s), 4 * (100 - 36 + 4), 1e-9);
    s.figure(id)->fill = FillRule::nonzero; // all run the same way round
    EXPECT_NEAR(total_area(s), 400, 1e-9);
    s.figure(id)->fill = FillRule::none;
    EXPECT_EQ(find_regions(s).size(), 3u);
    // Turned by a quarter about its corner; mirrored, to the other side of its base line's foot.
    for (const bool mirrored : {false, true}) {
        s.figure(id)->reversed = mirrored;
        for (const Stretch& stretch : all_of(figure_outlines(s))) {
            EXPECT_LE(stretch.start[0], 5 + 1e-9);
            EXPECT_GE(stretch.start[0], -15 - 1e-9);
            EXPECT_GE(stretch.start[1], 5 - 1e-9);
            EXPECT_LE(stretch.start[1], 25 + 1e-9);
        }
    }
    break_up(s, id);
    EXPECT_EQ(s.curves.size(), 12u);
    EXPECT_EQ(find_regions(s).size(), 3u);
}

TEST(Taken, CurvesFromTheModelAreHeldWhereTheyLie) {
    Sketch s;
    const int edge = s.add_line(s.add_point(0, 0), s.add_point(40, 3));
    s.curve(edge)->source = {"edge", "10", {"10:top", "10:left"}, {}, 0};
    const int hole = s.add_circle(s.add_point(11, 22), 4);
    s.add_constraint(ConstraintKind::distance, {s.curve(hole)->points[0], edge}, "15 mm");
    s.add_constraint(ConstraintKind::diameter, {hole}, "9 mm");
    const Solution solution = solve(s, {});
    EXPECT_TRUE(solution.findings.empty());
    EXPECT_EQ(solution.degrees_of_freedom, 1);
    EXPECT_EQ(solution.sketch.point(s.curve(edge)->points[1])->y, 3);
    const Sketch pulled = drag(solution.sketch, {}, {{s.curve(edge)->points[1], {70, 70}}});
    EXPECT_EQ(pulled.point(s.curve(edge)->points[1])->x, 40);
    s.add_constraint(ConstraintKind::horizontal, {edge});
    EXPECT_TRUE(has_error(solve(s, {}).findings));
}

} // namespace kervo::sketch
