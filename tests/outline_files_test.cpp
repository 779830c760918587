// Outlines in and out: files of every kind that the open specifications allow, awkward and damaged ones too. The areas
// that are expected are worked out by hand from the numbers in the files.
#include "io_fixture.h"

#include "io/document/sketch_json.h"
#include "io/formats/dxf/dxf.h"
#include "io/formats/hand_over.h"
#include "io/formats/svg/svg.h"
#include "model/steps/extrude/extrude.h"
#include "sketch/arrangement.h"
#include "sketch/solve.h"

#include <cmath>
#include <numbers>
#include <random>

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

Progress quiet;

std::string outline_path(const std::string& name) {
    return std::string(KERVO_SOURCE) + "/tests/outlines/" + name;
}

Result<sketch::Artwork> read_bytes(const std::string& name, const std::string& bytes) {
    auto read = name.ends_with(".svg") ? read_svg(bytes) : read_dxf(bytes, quiet);
    if (!read) {
        return read;
    }
    sketch::Artwork named = *read;
    named.name = name;
    return named;
}
Result<sketch::Artwork> read_outline(const std::string& name) {
    return read_bytes(name, read_file(outline_path(name)));
}

// A sketch that holds the artwork as large as its file has it.
sketch::Sketch sketch_with(const sketch::Artwork& artwork) {
    sketch::Sketch s;
    sketch::add_artwork(s, std::make_shared<const sketch::Artwork>(artwork));
    return s;
}

struct Sample {
    const char* file;
    double area;
    double tolerance = 1e-9;            ///< relative
    std::vector<const char*> skipped{}; ///< words of what must be listed
};

const double tip = 10 * std::cos(0.4 * pi) / std::cos(0.2 * pi); // inner radius of the five-pointed star

const std::vector<Sample> samples{
    {"plain-rect.svg", 200},
    {"units.svg", 25.4 * 12.7 + 32 * 25.4 / 96 * 0.25},
    {"pixels.svg", pi * 12.7 * 12.7},
    {"rounded-rect.svg", 400 - (4 - pi) * 9 - (4 - pi) * 10},
    {"turned-ellipse.svg", 40 * pi},
    {"skewed-circle.svg", 41 * pi},
    {"mirrored.svg", 4 * (99 + 9 * pi / 4)},
    {"even-odd.svg", 300},
    {"winding-along.svg", 400},
    {"winding-against.svg", 300},
    {"squeezed-path.svg", 225},
    {"squeezed-arcs.svg", 44.5 * pi},
    {"smooth-path.svg", 400},
    {"symbols.svg", 50 * pi + 120},
    {"old-links.svg", 8 * pi, 1e-9, {"a use of what is not in the file"}},
    {"styles.svg", 100},
    {"words-and-pictures.svg", 100, 1e-9, {"words", "a picture"}},
    {"inner-picture.svg", 400},
    {"prefixed.svg", 56},
    {"broken-path.svg", 50, 1e-9, {"a path that breaks off"}},
    {"entities.svg", 25},
    {"pentagram.svg", 50 * tip* std::sin(0.2 * pi) - 2.5 * tip* tip* std::sin(0.4 * pi)},
    {"shares.svg", 1000},
    {"stretched.svg", 160 * pi},
    {"kept-shape.svg", 64 * pi},
    {"too-deep.svg", 16, 1e-9, {"more than can be read"}},
    {"endless-use.svg", 16, 1e-9, {"more than can be read"}},
    {"star-chart.svg", 414.4 * pi + 4.062915, 1e-6},
    {"square-lines.dxf", 400, 1e-12, {"its unit of length"}},
    {"flange.dxf", 3600 * pi, 1e-12},
    {"inches.dxf", 25.4 * 25.4 * pi, 1e-12},
    {"bulges.dxf", 300 + 25 * pi, 1e-12},
    {"old-polyline.dxf", 900 - 25 * pi + 25 * pi, 1e-12, {"its unit of length"}},
    {"ellipses.dxf", 58 * pi},
    {"spline.dxf", 157.5},
    {"periodic-spline.dxf", 252.93333333333333},
    {"fitted-spline.dxf", 255, 0.04}, // the specification leaves open how the curve runs between its points
    {"weighted-spline.dxf", 9 * pi, 1e-12},
    {"blocks.dxf", 31.5 * pi, 1e-12, {"a block that is not in the file"}},
    {"block-array.dxf", 48 * pi, 1e-12},
    {"layers.dxf", 25 * pi, 1e-12, {"\u201cOFF\u201d", "\u201cFROZEN\u201d"}},
    {"from-below.dxf", 12.5 * pi + 50, 1e-12},
    {"words-and-dimensions.dxf", 40, 1e-12, {"words", "a point", "a face in space"}},
    {"line-ends.dxf", 49 * pi, 1e-12},
    {"sheet.dxf", 16 * pi, 1e-12, {"on the sheet"}},
    {"in-space.dxf", 16 * pi, 1e-12, {"does not lie level", "not level"}},
    {"metres.dxf", 600, 1e-12},
};

class Outlines : public testing::TestWithParam<Sample> {};

} // namespace

TEST_P(Outlines, AreReadWithTheAreaOfTheirNumbers) {
    const Sample& sample = GetParam();
    const auto file = read_outline(sample.file);
    ASSERT_TRUE(file) << file.finding().cause;
    EXPECT_NEAR(area_of(sketch_with(*file)), sample.area, sample.tolerance * sample.area);
    EXPECT_EQ(file->skipped.size(), sample.skipped.size()) << ::testing::PrintToString(file->skipped);
    for (const char* words : sample.skipped) {
        EXPECT_TRUE(std::any_of(file->skipped.begin(), file->skipped.end(), [&](const std::string& line) {
            return line.find(words) != std::string::npos;
        })) << words;
    }
}
INSTANTIATE_TEST_SUITE_P(Files, Outlines, testing::ValuesIn(samples), [](const auto& sample) {
    std::string name = sample.param.file;
    std::replace_if(
        name.begin(), name.end(), [](char c) { return std::isalnum(static_cast<unsigned char>(c)) == 0; }, '_');
    return name;
});

TEST(OutlineFiles, SayWhyTheyCannotBeRead) {
    const std::pair<const char*, const char*> refused[] = {
        {"empty.svg", "no outlines"}, {"no-drawing.svg", "no SVG"},   {"cut-off.svg", "cannot be read"},
        {"binary.dxf", "binary"},     {"nothing.dxf", "no outlines"}, {"no-drawing.dxf", "no"},
    };
    for (const auto& [name, why] : refused) {
        const auto file = read_outline(name);
        ASSERT_FALSE(file) << name;
        EXPECT_EQ(file.finding().code, "import.unreadable");
        EXPECT_NE(file.finding().cause.find(why), std::string::npos) << file.finding().cause;
        EXPECT_FALSE(file.finding().mend.empty());
    }
    EXPECT_TRUE(read_outline("cut-off.dxf")); // what stands before the cut is there
    const auto endless = read_outline("endless-blocks.dxf");
    ASSERT_TRUE(endless);
    EXPECT_TRUE(std::any_of(endless->skipped.begin(), endless->skipped.end(), [](const std::string& each) {
        return each.find("more than can be read") != std::string::npos;
    }));
}

TEST(OutlineFiles, KeepCurvesAsWhatTheyAre) {
    const auto kinds = [](const Result<sketch::Artwork>& file) {
        std::set<sketch::StretchKind> seen;
        for (const auto& shape : file->shapes) {
            for (const auto& chain : shape.chains) {
                for (const auto& stretch : chain) {
                    seen.insert(stretch.kind);
                }
            }
        }
        return seen;
    };
    using K = sketch::StretchKind;
    EXPECT_EQ(kinds(read_outline("pixels.svg")), std::set{K::arc});
    EXPECT_EQ(kinds(read_outline("skewed-circle.svg")), std::set{K::ellipse});
    EXPECT_EQ(kinds(read_outline("smooth-path.svg")), (std::set{K::line, K::spline}));
    EXPECT_EQ(kinds(read_outline("bulges.dxf")), (std::set{K::line, K::arc}));
    EXPECT_EQ(kinds(read_outline("blocks.dxf")), (std::set{K::arc, K::ellipse}));
    EXPECT_EQ(read_outline("flange.dxf")->shapes.at(0).layer, "HOLES");
}

TEST(OutlineFiles, ComeThroughTheReaderAndTheDocumentUnchanged) {
    for (const char* name : {"star-chart.svg", "flange.dxf", "ellipses.dxf", "periodic-spline.dxf"}) {
        Progress progress;
        const auto there =
            outlines_in_child({AssetName::like(name), read_file(outline_path(name)), false}, limits(), progress);
        ASSERT_TRUE(there) << there.finding().cause;
        const auto here = read_outline(name);
        EXPECT_EQ(*there, *here) << name;
        const auto drawing = sketch_with(*here);
        EXPECT_EQ(sketch_from_json(sketch_to_json(drawing)), drawing) << name;
    }
    Progress progress;
    const auto refused = outlines_in_child(
        {AssetName::like("nothing.dxf"), read_file(outline_path("nothing.dxf")), false}, limits(), progress);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.finding().code, "import.unreadable");
    EXPECT_EQ(outlines_in_child({AssetName::like("sky.png"), "PNG", false}, limits(), progress).finding().code,
              "import.format");
}

TEST(OutlineFiles, LinesWithoutEndAreRefused) {
    for (const size_t length : {1001UL, 1023UL, 1025UL, 100000UL}) {
        const auto read = read_dxf("0\nSECTION\n2\nENTITIES\n" + std::string(length, 'x'), quiet);
        ASSERT_FALSE(read) << length;
        EXPECT_EQ(read.finding().code, "import.unreadable");
    }
}

TEST(OutlineFiles, AreWrittenAndReadBackAlike) {
    const TemporaryFolder folder;
    for (const char* name : {"bulges.dxf", "ellipses.dxf", "periodic-spline.dxf", "smooth-path.svg", "star-chart.svg",
                             "even-odd.svg", "turned-ellipse.svg", "squeezed-arcs.svg"}) {
        const auto file = read_outline(name);
        sketch::Sketch drawing = sketch_with(*file);
        const double area = area_of(drawing);
        const int guide = drawing.add_circle(drawing.add_point(500, 0), 5);
        drawing.curve(guide)->construction = true;
        ASSERT_FALSE(export_outlines(drawing, folder.file("out.dxf")));
        ASSERT_FALSE(export_outlines(drawing, folder.file("out.svg")));
        const auto dxf = read_dxf(read_file(folder.file("out.dxf")), quiet);
        ASSERT_TRUE(dxf) << dxf.finding().cause;
        EXPECT_EQ(dxf->skipped, (std::vector<std::string>{"its guides, which bound nothing"}));
        ASSERT_EQ(dxf->shapes.size(), 1U); // layers: outlines
        const auto& solid = *dxf;
        if (std::string(name).ends_with(".dxf")) { // without fill rules: all that is enclosed counts
            EXPECT_NEAR(area_of(sketch_with(solid)), area, 1e-9 * area) << name;
        }
        const auto svg = read_svg(read_file(folder.file("out.svg")));
        ASSERT_TRUE(svg) << svg.finding().cause;
        EXPECT_EQ(svg->skipped, dxf->skipped);
        EXPECT_NEAR(area_of(sketch_with(*svg)), area, 1e-9 * area) << name;
    }
    EXPECT_EQ(export_outlines({}, "/no/such/folder/out.dxf")->code, "file.write");
    EXPECT_EQ(export_outlines({}, "/no/such/folder/out.svg")->code, "file.write");
}

TEST(OutlineFiles, SplinesOfHighDegreeBecomeCubicPiecesInSvg) {
    const TemporaryFolder folder;
    sketch::Sketch s;
    std::vector<int> points;
    for (const auto& [x, y] : {std::pair(0, 0), {10, 30}, {30, 35}, {45, 5}, {60, 20}, {70, -20}, {30, -30}}) {
        points.push_back(s.add_point(x, y));
    }
    s.add_spline(points, 5, true, true);
    ASSERT_FALSE(export_outlines(s, folder.file("out.svg")));
    const auto back = read_svg(read_file(folder.file("out.svg")));
    ASSERT_TRUE(back);
    const double area = area_of(s);
    EXPECT_NEAR(area_of(sketch_with(*back)), area, 1e-6 * area);
}

namespace {

// The volume of what a step of extrusion makes of all that a figure covers, 4 mm high.
double volume_over(Builder& b, int sketch, int figure) {
    Extrude up;
    up.sketch.step = sketch;
    up.regions = {{{}, {}, figure}};
    up.extent.to.value = "distance";
    up.extent.distance.text = "4 mm";
    const int step = b.step(up);
    const auto evaluation = b.evaluate();
    double volume = 0;
    for (const auto& [id, body] : evaluation.bodies_as_of()) {
        volume += geom::volume_of(body->shape);
    }
    for (const auto& finding : evaluation.report(step)->findings) {
        ADD_FAILURE() << finding.cause;
    }
    EXPECT_FALSE(evaluation.failed());
    return volume;
}

sketch::Sketch words_on_an_arc(const std::string& text, double radius) {
    sketch::Sketch s;
    sketch::Figure words;
    words.kind = sketch::FigureKind::text;
    words.text = text;
    words.size.formula.text = "6 mm";
    words.align = sketch::TextAlign::middle;
    words.reversed = true;
    words.points = {s.add_point(0, radius), s.add_point(1, radius)};
    if (radius > 0) {
        words.along = s.add_circle(s.add_point(0, 0), radius);
        s.curve(words.along)->construction = true;
        s.add_constraint(sketch::ConstraintKind::fixed, {words.along});
    }
    for (const int point : words.points) {
        s.add_constraint(sketch::ConstraintKind::fixed, {point});
    }
    s.add_figure(words);
    return s;
}

} // namespace

// Areas that are known from elsewhere, times the height.
TEST(OutlineSolids, ArtworksAndWordsBecomeBodiesOfTheirArea) {
    const auto artwork = [](const char* name) { return std::make_shared<const sketch::Artwork>(*read_outline(name)); };
    {
        Builder b;
        sketch::Sketch s;
        const int chart = sketch::add_artwork(s, artwork("star-chart.svg"));
        const double area = 414.4 * pi + 4.062915;
        EXPECT_NEAR(volume_over(b, b.sketch(s), chart), 4 * area, 1e-6 * 4 * area);
    }
    {
        Builder b; // twice as wide, turned and mirrored: four times the area
        sketch::Sketch s;
        const int flange = sketch::add_artwork(s, artwork("flange.dxf"), "240 mm", sketch::Point2{100, 20}, 0.7);
        s.figure(flange)->reversed = true;
        const double area = 4 * (3600 - 400 - 6 * 4.5 * 4.5) * pi;
        EXPECT_NEAR(volume_over(b, b.sketch(s), flange), 4 * area, 1e-12 * 4 * area);
    }
    {
        // Words cover as much on an arc as on a line; on a line they cover what their outlines say, summed up by
        // Green's theorem, holes turning the other way round.
        const auto straight = words_on_an_arc("E 30\u00b0", 0);
        double area = 0;
        for (const auto& outline : sketch::figure_outlines(sketch::solve(straight, {}).sketch)) {
            for (const auto& stretch : outline.stretches) {
                area += stretch.area_term();
            }
        }
        Builder b;
        const auto curved = words_on_an_arc("E 30\u00b0", 45);
        EXPECT_NEAR(volume_over(b, b.sketch(curved), curved.figures[0].id), 4 * std::fabs(area),
                    1e-6 * 4 * std::fabs(area));
    }
}

TEST(OutlineSolids, RingShapedOutlinesWithNestedIslands) {
    Builder b;
    sketch::Sketch s;
    for (const double r : {30.0, 22.0, 15.0, 8.0}) { // ring, gap, ring, gap
        circle(s, 0, 0, r);
    }
    std::vector<int> square;
    for (const auto& [x, y] : {std::pair(-3, -3), {3, -3}, {3, 3}, {-3, 3}}) {
        square.push_back(s.add_point(x, y));
        s.add_constraint(sketch::ConstraintKind::fixed, {square.back()});
    }
    for (size_t i = 0; i < 4; ++i) {
        s.add_line(square[i], square[(i + 1) % 4]);
    }
    const int sketch = b.sketch(s);
    Extrude up;
    up.sketch.step = sketch;
    up.regions = {{{}, {26, 0}}, {{}, {11, 0}}, {{}, {0, 0}}};
    up.extent.to.value = "distance";
    up.extent.distance.text = "5 mm";
    b.step(up);
    const auto evaluation = b.evaluate();
    double volume = 0;
    for (const auto& [id, body] : evaluation.bodies_as_of()) {
        volume += geom::volume_of(body->shape);
    }
    const double area = (900 - 484 + 225 - 64) * pi + 36;
    EXPECT_NEAR(volume, 5 * area, 1e-12 * 5 * area);
}

// A ring of slots, cut as a whole: one number more, and the cut has one more.
TEST(OutlineSolids, RingsAreCutAsAWholeHoweverManyTheyAre) {
    Builder b;
    b.set("marks", "12");
    b.document.parameters.back().unit = "";
    const int plate = b.box("100", "100", "6");
    sketch::Sketch s;
    const auto sides = s.add_rectangle({30, -1}, {40, 1});
    const int center = s.add_point(0, 0);
    const int corner = s.curve(sides[0])->points[0];
    for (const int held : {center, corner, s.curve(sides[1])->points[1]}) {
        s.add_constraint(sketch::ConstraintKind::fixed, {held});
    }
    sketch::Figure ring;
    ring.kind = sketch::FigureKind::ring;
    ring.points = {center};
    ring.of = {sides[0], sides[1], sides[2], sides[3]};
    ring.size.formula.text = "marks";
    const int figure = s.add_figure(ring);
    const int sketch = b.sketch(s);
    const int cut = b.cut(sketch, {}, {std::to_string(plate)});
    b.change<Extrude>(cut, [&](Extrude& c) { c.regions = {{{}, {}, figure}}; });
    EXPECT_NEAR(volume_of(b.evaluate(), std::to_string(plate)), 60000 - 12 * 120, 1e-6);
    b.set("marks", "17");
    EXPECT_NEAR(volume_of(b.evaluate(), std::to_string(plate)), 60000 - 17 * 120, 1e-6);
    b.change<Extrude>(cut, [&](Extrude& c) { c.regions = {{{}, {}, 999}}; });
    EXPECT_TRUE(has_code(b.evaluate(), cut, "profile.region_lost"));
    const auto text = to_json(b.document).dump();
    EXPECT_TRUE(same_content(*document_from_json(Json::parse(text)), b.document));
}

// Damaged files: whatever comes of them, it comes, and soon.
TEST(OutlineFiles, TwoThousandDamagedOnesNeitherCrashNorHang) {
    std::vector<std::pair<std::string, std::string>> sources;
    for (const Sample& sample : samples) {
        sources.emplace_back(sample.file, read_file(outline_path(sample.file)));
    }
    std::mt19937 random(20);
    const auto below = [&](size_t end) { return std::uniform_int_distribution<size_t>(0, end - 1)(random); };
    size_t read = 0;
    for (int i = 0; i < 2000; ++i) {
        auto [name, bytes] = sources[below(sources.size())];
        const size_t changes = 1 + below(3);
        for (size_t change = 0; change < changes && !bytes.empty(); ++change) {
            const size_t at = below(bytes.size());
            const size_t many = std::min(bytes.size() - at, 1 + below(40));
            switch (below(5)) {
            case 0:
                bytes[at] = static_cast<char>(below(256));
                break;
            case 1:
                bytes.erase(at, many);
                break;
            case 2:
                bytes.insert(at, bytes.substr(below(bytes.size()), many));
                break;
            case 3:
                bytes.insert(
                    at, std::vector<std::string>{"1e308", "-", "nan", "0", "99999999999", "\n", "<g>", "A"}[below(8)]);
                break;
            default:
                bytes.resize(at);
            }
        }
        const auto file = read_bytes(name, bytes);
        if (file) {
            ++read;
            for (const auto& shape : file->shapes) {
                for (const auto& chain : shape.chains) {
                    for (const auto& stretch : chain) {
                        ASSERT_TRUE(std::isfinite(stretch.length())) << name;
                    }
                }
            }
        } else {
            ASSERT_FALSE(file.finding().cause.empty());
        }
    }
    EXPECT_GT(read, 500U);
    EXPECT_LT(read, 2000U);
}
