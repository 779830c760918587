// Drawings written by hand from the specifications, each a form that a file may take: what it draws has the area that
// its numbers say, or it is told what is missing.
#include "io_fixture.h"

#include "io/formats/dxf/dxf.h"
#include "io/formats/dxf/dxf_scan.h"
#include "io/formats/svg/svg.h"
#include "sketch/arrangement.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

Progress quiet;

bool is_told(const sketch::Artwork& artwork, const std::string& what) {
    return std::any_of(artwork.skipped.begin(), artwork.skipped.end(),
                       [&](const std::string& each) { return each.find(what) != std::string::npos; });
}

struct Form {
    const char* name;
    const char* drawn;
    double area;           ///< mm^2
    const char* told = ""; ///< a part of what is said; empty: nothing is missing
};

// A drawing of 100 mm by 100 mm, whose units are mm.
std::string svg_of(const std::string& drawn) {
    return R"(<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="100mm" )"
           R"(height="100mm" viewBox="0 0 100 100">)" +
           drawn + "</svg>";
}

constexpr double pi_ = std::numbers::pi;

std::vector<Form> svg_forms() {
    return {
        {"a class is not shown", R"~(<style>.a{display:none}</style><rect class="a" width="10" height="10"/>
            <rect x="20" width="5" height="5"/>)~",
         25},
        {"a class among several", R"~(<style>.b{display:none}</style><rect class="a b" width="10" height="10"/>
            <rect x="20" width="5" height="5"/>)~",
         25},
        {"an id", R"~(<style>#one { display : none }</style><rect id="one" width="10" height="10"/>
            <rect x="20" width="5" height="5"/>)~",
         25},
        {"a type", R"~(<style>circle{display:none}</style><circle r="10" cx="50" cy="50"/>
            <rect x="20" width="5" height="5"/>)~",
         25},
        {"a comment in a sheet",
         R"~(<style>/* .a{} */ .a/**/{display:none}</style><rect class="a" width="10" height="10"/>
            <rect x="20" width="5" height="5"/>)~",
         25},
        {"several selectors", R"~(<style>.x, .a , #q{display:none}</style><rect class="a" width="10" height="10"/>
            <rect x="20" width="5" height="5"/>)~",
         25},
        {"within something",
         R"~(<style>.g rect{display:none}</style><g class="g"><g><rect width="10" height="10"/></g></g>
            <rect x="20" width="5" height="5"/>)~",
         25},
        {"a child, which it is not", R"~(<style>.g > rect{display:none}</style><g class="g"><g><rect width="10"
            height="10"/></g></g><rect x="20" width="5" height="5"/>)~",
         125},
        {"a child", R"~(<style>.g > rect{display:none}</style><g class="g"><rect width="10" height="10"/></g>
            <rect x="20" width="5" height="5"/>)~",
         25},
        {"an id counts more than a class", R"~(<style>#one{display:inline} .a{display:none}</style><rect id="one"
            class="a" width="10" height="10"/>)~",
         100},
        {"the later one of two", R"~(<style>.a{display:none}.b{display:inline}</style><rect class="a b" width="10"
            height="10"/>)~",
         100},
        {"important", R"~(<style>.a{display:none!important}#one{display:inline}</style><rect id="one" class="a"
            width="10" height="10"/><rect x="20" width="5" height="5"/>)~",
         25},
        {"style over sheet", R"~(<style>.a{display:none}</style><rect class="a" style="display:inline" width="10"
            height="10"/>)~",
         100},
        {"sheet over attribute",
         R"~(<style>rect{display:inline}</style><rect display="none" width="10" height="10"/>)~", 100},
        {"even-odd by class", R"~(<style>.e{fill-rule:evenodd}</style><path class="e"
            d="M0 20h40v40h-40zM10 30h20v20h-20z"/>)~",
         1200},
        {"in a section that is no text", R"~(<style><![CDATA[.a{display:none}]]></style><rect class="a" width="10"
            height="10"/><rect x="20" width="5" height="5"/>)~",
         25},
        {"media", R"~(<style>@media print{.a{display:none}}</style><rect class="a" width="10" height="10"/>)~", 100,
         "media"},
        {"a selector that is not understood", R"~(<style>rect:first-child{display:none}</style><rect width="10"
            height="10"/>)~",
         100, "first-child"},
        {"one that says nothing of outlines",
         R"~(<style>rect:hover{stroke:red}</style><rect width="10" height="10"/>)~", 100},
        {"geometry in a sheet", R"~(<style>circle{r:10px;cx:50px;cy:50px}</style><circle/>)~", 100 * pi_},
        {"sides in a sheet", R"~(<style>rect{width:20px;height:30px}</style><rect/>)~", 600},
        {"a path in a sheet", R"~(<style>path{d:path("M0 0h10v10h-10z")}</style><path/>)~", 100},
        {"a transform in style", R"~(<rect style="transform:scale(2)" width="10" height="10"/>)~", 400},
        {"degrees and pixels", R"~(<rect style="transform:translate(50px,10px) rotate(0.25turn) scale(2,3)" width="10"
            height="10"/>)~",
         600},
        {"a transform in a sheet", R"~(<style>.a{transform:scale(3)}</style><rect class="a" width="10" height="10"/>)~",
         900},
        {"a turn about something", R"~(<rect style="transform:rotate(45deg);transform-origin:5px 5px" width="10"
            height="10"/>)~",
         100, "transform-origin"},
        {"a share of something", R"~(<rect style="transform:translate(50%)" width="10" height="10"/>)~", 100,
         "transform"},
        {"a clip path", R"~(<clipPath id="c"><rect width="50" height="100"/></clipPath><circle cx="50" cy="50" r="40"
            clip-path="url(#c)"/>)~",
         1600 * pi_, "clip path"},
        {"a clip path by style", R"~(<clipPath id="c"><rect width="50" height="100"/></clipPath><circle cx="50" cy="50"
            r="40" style="clip-path:url(#c)"/>)~",
         1600 * pi_, "clip path"},
        {"no clip path", R"~(<circle cx="50" cy="50" r="40" clip-path="none"/>)~", 1600 * pi_},
        {"a mask", R"~(<mask id="c"><rect width="50" height="100" fill="#fff"/></mask><circle cx="50" cy="50" r="40"
            mask="url(#c)"/>)~",
         1600 * pi_, "mask"},
        {"a mask for all in a group", R"~(<g mask="url(#c)"><circle cx="50" cy="50" r="40"/></g>)~", 1600 * pi_,
         "mask"},
        {"cut at its frame", R"~(<svg x="10" y="10" width="20" height="20"><circle cx="20" cy="20" r="15"/></svg>)~",
         225 * pi_, "frame"},
        {"within its frame", R"~(<svg x="10" y="10" width="40" height="40"><circle cx="20" cy="20" r="15"/></svg>)~",
         225 * pi_},
        {"seen beyond its frame", R"~(<svg x="10" y="10" width="20" height="20" overflow="visible"><circle cx="20"
            cy="20" r="15"/></svg>)~",
         225 * pi_},
        {"a drawing within, with a box", R"~(<svg x="10" y="10" width="20" height="20" viewBox="0 0 10 10"><rect
            width="10" height="10"/></svg>)~",
         400},
        {"stretched", R"~(<svg width="20" height="40" viewBox="0 0 10 10" preserveAspectRatio="none"><rect width="10"
            height="10"/></svg>)~",
         800},
        {"at its least corner", R"~(<svg width="20" height="40" viewBox="0 0 10 10" preserveAspectRatio="xMinYMin"><rect
            width="10" height="10"/></svg>)~",
         400},
        {"filling its frame", R"~(<svg width="20" height="40" viewBox="0 0 10 10"
            preserveAspectRatio="xMidYMid slice"><rect x="4" y="4" width="1" height="1"/></svg>)~",
         16, "slice"},
        {"a choice of languages", R"~(<switch><rect systemLanguage="de" width="10" height="10"/><rect width="20"
            height="20"/></switch>)~",
         400},
        {"the first that holds", R"~(<switch><rect systemLanguage="de, en-GB" width="10" height="10"/><rect width="20"
            height="20"/></switch>)~",
         100},
        {"an extension that nobody has", R"~(<switch><g requiredExtensions="http://example.org/x"><rect width="10"
            height="10"/></g><rect width="20" height="20"/></switch>)~",
         400},
        {"a language outside of a choice", R"~(<rect systemLanguage="fr" width="10" height="10"/><rect x="20" width="5"
            height="5"/>)~",
         25},
        {"shares of the drawing", R"~(<rect width="50%" height="20%"/>)~", 1000},
        {"a radius in shares", R"~(<circle cx="50" cy="50" r="10%"/>)~", 100 * pi_},
        {"shares within", R"~(<svg width="50" height="50" viewBox="0 0 10 10"><rect width="50%" height="50%"/></svg>)~",
         625},
        {"lengths in inches", R"~(<rect width="1in" height="96"/>)~", 96 * 96},
        {"hidden, and shown again within",
         R"~(<g visibility="hidden"><rect width="10" height="10"/><rect x="20" width="5"
            height="5" visibility="visible"/></g>)~",
         25},
        {"a symbol, used", R"~(<symbol id="s" viewBox="0 0 10 10"><rect width="10" height="10"/></symbol><use
            href="#s" width="20" height="20"/>)~",
         400},
        {"a symbol, not used", R"~(<symbol id="s"><rect width="10" height="10"/></symbol><rect x="20" width="5"
            height="5"/>)~",
         25},
        {"used twice, from afar", R"~(<defs><rect id="r" width="10" height="10"/></defs><use xlink:href="#r"/><use
            href="#r" x="20" transform="scale(2)"/>)~",
         500},
        {"an unfilled ring", R"~(<path fill="none" d="M0 0h10v10h-10z"/>)~", 100},
        {"an ellipse by one radius", R"~(<ellipse cx="50" cy="50" rx="20" ry="10"/>)~", 200 * pi_},
        {"round corners", R"~(<rect width="20" height="10" rx="2"/>)~", 200 - (4 - pi_) * 4},
        {"corners as round as may be", R"~(<rect width="20" height="10" rx="50" ry="50"/>)~", 50 * pi_},
        {"a polygon", R"~(<polygon points="0,0 10,0 10,10"/>)~", 50},
        {"skewed", R"~(<rect width="10" height="10" transform="skewX(30)"/>)~", 100},
        {"by a matrix", R"~(<rect width="10" height="10" transform="matrix(2 0 0 3 5 5)"/>)~", 600},
        {"smooth halves", R"~(<path d="M10 10A5 5 0 0 1 20 10A5 5 0 0 1 10 10Z"/>)~", 25 * pi_},
        {"words", R"~(<text x="5" y="5">Pier</text><rect width="10" height="10"/>)~", 100, "words"},
        {"guides of ours", R"~(<g id="guides"><path d="M0 0h10v10h-10z"/></g><rect x="20" width="5" height="5"/>)~", 25,
         "guides"},
    };
}

std::string pairs(std::initializer_list<std::pair<int, std::string>> all) {
    std::string text;
    for (const auto& [code, value] : all) {
        text += std::to_string(code) + "\n" + value + "\n";
    }
    return text;
}

std::string circle(double radius, const std::string& more = {}, double x = 0) {
    return pairs({{0, "CIRCLE"}, {8, "0"}}) + more +
           pairs({{10, std::to_string(x)}, {20, "0"}, {30, "0"}, {40, std::to_string(radius)}});
}

std::string dxf_of(const std::string& entities, int unit = 4) {
    return pairs({{0, "SECTION"}, {2, "HEADER"}, {9, "$ACADVER"}, {1, "AC1015"}, {9, "$INSUNITS"}}) +
           pairs({{70, std::to_string(unit)}, {0, "ENDSEC"}, {0, "SECTION"}, {2, "ENTITIES"}}) + entities +
           pairs({{0, "ENDSEC"}, {0, "EOF"}});
}

} // namespace

TEST(SvgForms, AreRightOrTold) {
    const auto forms = svg_forms();
    EXPECT_GE(forms.size(), 60u);
    for (const Form& form : forms) {
        const auto read = read_svg(svg_of(form.drawn));
        ASSERT_TRUE(read) << form.name << ": " << read.finding().cause;
        EXPECT_NEAR(area_of(*read), form.area, 1e-9 * form.area) << form.name;
        expect_told(read->skipped, form.told, form.name);
    }
}

TEST(SvgForms, WhatIsNoNumberEndsAllTheSame) {
    for (const char* odd : {"-.", "scale(.)", "+-.-", "scale(1e)", "translate(-)", "1e-.", "rotate(0x)"}) {
        const std::string drawn = std::string("<rect width=\"10\" height=\"10\" transform=\"") + odd + "\"/>";
        const auto read = read_svg(svg_of(drawn));
        EXPECT_TRUE(!read || !read->shapes.empty()) << odd;
        EXPECT_TRUE(
            read_svg(svg_of("<rect width=\"10\" height=\"10\" style=\"transform:" + std::string(odd) + "\"/>")).ok())
            << odd;
    }
}

TEST(SvgForms, TheWholeDrawingLiesAsItSays) {
    const auto box_of = [](const std::string& how) {
        const auto read = read_svg(R"(<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="50mm" )"
                                   R"(viewBox="0 0 100 100" preserveAspectRatio=")" +
                                   how + R"("><circle cx="50" cy="50" r="40"/></svg>)");
        EXPECT_TRUE(read);
        return read->box();
    };
    // A hundred units are 50 mm high; the circle is 40 mm wide, and lies at the left, in the middle, at the
    // right.
    EXPECT_NEAR(box_of("xMinYMin meet")[0], 5, 1e-9);
    EXPECT_NEAR(box_of("xMidYMid meet")[0], 30, 1e-9);
    EXPECT_NEAR(box_of("xMaxYMax")[2], 95, 1e-9);
    EXPECT_NEAR(box_of("xMidYMid slice")[2] - box_of("xMidYMid slice")[0], 80, 1e-9);
    EXPECT_NEAR(box_of("none")[2] - box_of("none")[0], 80, 1e-9);
    EXPECT_NEAR(box_of("none")[3] - box_of("none")[1], 40, 1e-9);
}

TEST(SvgForms, ShortFormsAreWrittenOut) {
    const auto read = read_svg(R"(<!DOCTYPE svg [<!ENTITY w "20"><!ENTITY box "width='&w;' height='10'">]>)" +
                               svg_of("<rect width=\"&w;\" height=\"&w;\"/>"));
    ASSERT_TRUE(read) << read.finding().cause;
    EXPECT_NEAR(area_of(*read), 400, 1e-9);
    // Those that multiply come to an end.
    std::string bomb = "<!DOCTYPE svg [<!ENTITY a \"10\">";
    for (char c = 'b'; c < 'z'; ++c) {
        std::string ten;
        for (int i = 0; i < 10; ++i) {
            ten += std::string("&") + static_cast<char>(c - 1) + ";";
        }
        bomb += std::string("<!ENTITY ") + c + " \"" + ten + "\">";
    }
    read_svg(bomb + "]>" + svg_of("<rect width=\"&y;\" height=\"10\"/>"));
}

TEST(DxfForms, EveryUnitIsWhatItIs) {
    // mm for each code of $INSUNITS, as far as a drawing of that size is one.
    const std::map<int, double> units{{0, 1},
                                      {1, 25.4},
                                      {2, 304.8},
                                      {4, 1},
                                      {5, 10},
                                      {6, 1000},
                                      {8, 25.4e-6},
                                      {9, 0.0254},
                                      {10, 914.4},
                                      {13, 1e-3},
                                      {14, 100},
                                      {15, 1e4},
                                      {16, 1e5},
                                      {21, 1200000.0 / 3937},
                                      {22, 100000.0 / 3937},
                                      {23, 3600000.0 / 3937}};
    for (const auto& [code, mm] : units) {
        const auto read = read_dxf(dxf_of(circle(5), code), quiet);
        ASSERT_TRUE(read) << code;
        EXPECT_NEAR(read->box()[2], 5 * mm, 1e-9 * mm) << code;
    }
    for (int code = 17; code <= 20; ++code) { // as large as the sky
        const auto read = read_dxf(dxf_of(circle(5), code), quiet);
        EXPECT_FALSE(read) << code;
    }
    EXPECT_NEAR(mm_per_dxf_unit(24), 5280 * 1200000.0 / 3937, 1e-6);
}

TEST(DxfForms, WhatIsNotSeenStaysOut) {
    const auto read =
        read_dxf(dxf_of(circle(5) + circle(3, pairs({{60, "1"}})) + circle(2, pairs({{60, "0"}}), 20)), quiet);
    ASSERT_TRUE(read);
    EXPECT_NEAR(area_of(*read), 29 * pi_, 1e-9);
    EXPECT_TRUE(is_told(*read, "not to be seen"));
    // A polyline goes with its corners.
    const std::string corners = pairs({{0, "VERTEX"},
                                       {8, "0"},
                                       {10, "0"},
                                       {20, "0"},
                                       {0, "VERTEX"},
                                       {8, "0"},
                                       {10, "9"},
                                       {20, "0"},
                                       {0, "VERTEX"},
                                       {8, "0"},
                                       {10, "9"},
                                       {20, "9"},
                                       {0, "SEQEND"},
                                       {8, "0"}});
    const std::string line = pairs({{0, "POLYLINE"}, {8, "0"}, {66, "1"}, {70, "1"}});
    EXPECT_NEAR(area_of(*read_dxf(dxf_of(line + corners + circle(1, {}, 50)), quiet)), 40.5 + pi_, 1e-9);
    EXPECT_NEAR(area_of(*read_dxf(dxf_of(line + pairs({{60, "1"}}) + corners + circle(1, {}, 50)), quiet)), pi_, 1e-9);
}

TEST(DxfForms, WhatIsDrawnTwiceCountsOnce) {
    const std::string square = pairs({{0, "LWPOLYLINE"},
                                      {8, "0"},
                                      {90, "4"},
                                      {70, "1"},
                                      {10, "0"},
                                      {20, "0"},
                                      {10, "10"},
                                      {20, "0"},
                                      {10, "10"},
                                      {20, "10"},
                                      {10, "0"},
                                      {20, "10"}});
    const std::string again = // from another corner, the other way round, on another layer
        pairs({{0, "LWPOLYLINE"},
               {8, "other"},
               {90, "4"},
               {70, "1"},
               {10, "10"},
               {20, "10"},
               {10, "10"},
               {20, "0"},
               {10, "0"},
               {20, "0"},
               {10, "0"},
               {20, "10"}});
    for (const std::string& drawn : {square + square, square + again, again + square}) {
        const auto read = read_dxf(dxf_of(drawn), quiet);
        ASSERT_TRUE(read);
        EXPECT_NEAR(area_of(*read), 100, 1e-9);
        EXPECT_TRUE(is_told(*read, "twice"));
    }
    const auto circles = read_dxf(dxf_of(circle(5) + circle(5) + circle(4)), quiet);
    EXPECT_TRUE(is_told(*circles, "twice"));
    EXPECT_NEAR(circles->box()[2], 5, 1e-9);
    // Alike, but elsewhere or the other way about: an L and its mirror image have one box, length and area.
    const auto ell = [](bool mirrored) {
        std::string text = pairs({{0, "LWPOLYLINE"}, {8, "0"}, {90, "6"}, {70, "1"}});
        for (const auto& [x, y] : {std::pair(0, 0), {9, 0}, {9, 3}, {3, 3}, {3, 9}, {0, 9}}) {
            text += pairs({{10, std::to_string(mirrored ? 9 - x : x)}, {20, std::to_string(y)}});
        }
        return text;
    };
    EXPECT_FALSE(is_told(*read_dxf(dxf_of(ell(false) + ell(true)), quiet), "twice"));
}

TEST(DxfForms, EndsThatMissEachOtherAreJoined) {
    for (const double miss : {4e-7, 1e-6, 9e-6}) {
        char end[32];
        std::snprintf(end, sizeof end, "%.9f", 10 + miss);
        const auto line = [](const char* x0, const char* y0, const char* x1, const char* y1) {
            return pairs({{0, "LINE"}, {8, "0"}, {10, x0}, {20, y0}, {11, x1}, {21, y1}});
        };
        const auto read = read_dxf(
            dxf_of(line("0", "0", "10", "0") + line("10", "0", "10", "10") + line("10", end, "0", "0")), quiet);
        ASSERT_TRUE(read);
        EXPECT_TRUE(is_told(*read, "joined")) << miss;
        EXPECT_NEAR(area_of(*read), 50, 1e-12);
    }
}

TEST(DxfForms, WhatIsOnlyHalfReadIsTold) {
    const auto told = [](const std::string& entity, const std::string& what) {
        const auto read = read_dxf(dxf_of(circle(5) + entity), quiet);
        ASSERT_TRUE(read);
        EXPECT_TRUE(is_told(*read, what)) << what;
    };
    for (const auto& [kind, what] :
         std::initializer_list<std::pair<const char*, const char*>>{{"MLINE", "multiline"},
                                                                    {"HELIX", "helix"},
                                                                    {"MESH", "mesh"},
                                                                    {"REGION", "region"},
                                                                    {"WIPEOUT", "cover"},
                                                                    {"SHAPE", "shape"},
                                                                    {"3DSOLID", "solid"},
                                                                    {"TOLERANCE", "tolerance"}}) {
        told(pairs({{0, kind}, {8, "0"}}), what);
    }
    told(pairs({{0, "LWPOLYLINE"},
                {8, "0"},
                {90, "2"},
                {70, "0"},
                {43, "0.5"},
                {10, "20"},
                {20, "0"},
                {10, "30"},
                {20, "0"}}),
         "width");
    const auto german = read_dxf(dxf_of(pairs({{0, "CIRCLE"},
                                               {8, "Au\xdf"
                                                   "en"},
                                               {10, "0"},
                                               {20, "0"},
                                               {40, "5"}})),
                                 quiet);
    ASSERT_TRUE(german);
    EXPECT_EQ(german->shapes.at(0).layer, "Au\u00dfen");
    EXPECT_EQ(dxf_text("\\U+00E4x"), "\u00e4x");
    EXPECT_EQ(dxf_text("sch\u00f6n"), "sch\u00f6n");
    EXPECT_EQ(dxf_text("\x80"), "\u20ac");
}

namespace {

// A plate outline of lines and arcs, a hole, and a guide across; all of it away from the origin.
sketch::Sketch plate() {
    sketch::Sketch s;
    std::vector<int> corners;
    for (const auto& [x, y] : {std::pair(30.0, 50.0), {50.0, 50.0}, {50.0, 60.0}, {30.0, 60.0}}) {
        corners.push_back(s.add_point(x, y));
    }
    const int middle = s.add_point(50, 55);
    s.add_line(corners[0], corners[1]);
    s.add_arc(middle, corners[1], corners[2]);
    s.add_line(corners[2], corners[3]);
    s.add_line(corners[3], corners[0]);
    const int center = s.add_point(40, 55);
    s.add_circle(center, 2);
    const int from = s.add_point(20, 55);
    const int to = s.add_point(70, 55);
    const int guide = s.add_line(from, to);
    s.curve(guide)->construction = true;
    return s;
}

} // namespace

TEST(OutlinesOut, AreOneEntityEachAndComeBackWhereTheyWere) {
    const TemporaryFolder folder;
    const double area = 200 + 12.5 * pi_ - 4 * pi_;
    ASSERT_TRUE(write_dxf(plate(), folder.file("a.dxf")));
    const std::string dxf = read_file(folder.file("a.dxf"));
    const auto count = [](const std::string& text, const std::string& word) {
        int found = 0;
        for (size_t at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) {
            ++found;
        }
        return found;
    };
    EXPECT_EQ(count(dxf, "\nLWPOLYLINE"), 1);
    EXPECT_EQ(count(dxf, "\nCIRCLE"), 1);
    EXPECT_EQ(count(dxf, "\nLINE\n") + count(dxf, "\nLINE\r"), 1); // the guide
    const std::string svg = svg_text(plate());
    EXPECT_EQ(count(svg, "<path"), 3);
    for (const auto& read : {read_dxf(dxf, quiet), read_svg(svg)}) {
        ASSERT_TRUE(read) << read.finding().cause;
        EXPECT_TRUE(is_told(*read, "guides"));
        EXPECT_NEAR(read->box()[0], 30, 1e-9);
        EXPECT_NEAR(read->box()[1], 50, 1e-9);
        EXPECT_NEAR(read->box()[2], 55, 1e-9);
        EXPECT_NEAR(read->box()[3], 60, 1e-9);
        sketch::Sketch s;
        sketch::add_artwork(s, std::make_shared<const sketch::Artwork>(*read));
        double sum = 0;
        for (const auto& region : sketch::find_regions(s)) {
            sum += region.inside[0] > 42.5 || region.area > 20 ? region.area : 0; // the plate, not its hole
        }
        EXPECT_NEAR(sum, area, 1e-6);
    }
    // The page is as large as what is drawn, with the guide.
    EXPECT_NE(svg.find("width=\"50mm\" height=\"10mm\" viewBox=\"20 -60 50 10\""), std::string::npos) << svg;
}
