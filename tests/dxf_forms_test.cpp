// DXF drawings written by hand from the reference of the format, each a form that a file may take: what it draws has
// the area that its numbers say, or it is told what is missing.
#include "io_fixture.h"

#include "io/formats/dxf/dxf.h"
#include "sketch/arrangement.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>
#include <sstream>

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

constexpr double pi_ = std::numbers::pi;

// "LINE 10=0 20=0 11=5 21=0 | CIRCLE 10=0 20=0 40=3" as the lines of a file; on layer 0 where none is said.
std::string lines_of(const std::string& short_form) {
    std::istringstream words(short_form);
    std::string text;
    std::string word;
    bool begins = true;
    while (words >> word) {
        const size_t equals = word.find('=');
        if (word == "|") {
            begins = true;
        } else if (begins) {
            text += "0\n" + word + "\n";
            text += word == "BLOCK" || short_form.find(" 8=", 0) != std::string::npos ? "" : "8\n0\n";
            begins = false;
        } else {
            text += word.substr(0, equals) + "\n" + word.substr(equals + 1) + "\n";
        }
    }
    return text;
}

std::string section(const std::string& name, const std::string& content) {
    return "0\nSECTION\n2\n" + name + "\n" + content + "0\nENDSEC\n";
}

const std::string millimetres = section("HEADER", "9\n$ACADVER\n1\nAC1021\n9\n$INSUNITS\n70\n4\n");

struct Form {
    const char* name;
    std::string entities;
    double area = 0;       ///< mm^2
    std::string told = {}; ///< a part of what is said; empty: nothing is missing
    std::string blocks = {};
    std::string tables = {};
};

std::string file_of(const Form& form) {
    return millimetres + (form.tables.empty() ? "" : section("TABLES", form.tables)) +
           (form.blocks.empty() ? "" : section("BLOCKS", lines_of(form.blocks))) +
           section("ENTITIES", lines_of(form.entities)) + "0\nEOF\n";
}

std::string layer(const std::string& name, int flags, int color) {
    return "0\nTABLE\n2\nLAYER\n70\n1\n0\nLAYER\n2\n" + name + "\n70\n" + std::to_string(flags) + "\n62\n" +
           std::to_string(color) + "\n6\nCONTINUOUS\n0\nENDTAB\n";
}

// The curve y = height * (x / 11)^degree from 0 to 11, with lines down and back; what lies below has the area
// 11 * height / (degree + 1).
std::string power(int degree, double height, const std::string& more = {}) {
    std::string text = "SPLINE 70=8 71=" + std::to_string(degree) + " 72=" + std::to_string(2 * degree + 2) +
                       " 73=" + std::to_string(degree + 1) + " 74=0";
    for (int i = 0; i < 2 * degree + 2; ++i) {
        text += i <= degree ? " 40=0" : " 40=1";
    }
    for (int i = 0; i <= degree; ++i) {
        std::ostringstream pole;
        pole.precision(17);
        pole << " 10=" << 11.0 * i / degree << " 20=" << (i == degree ? height : 0) << " 30=0";
        text += pole.str();
    }
    std::ostringstream lines;
    lines << " | LINE 10=0 20=0 11=11 21=0 | LINE 10=11 20=0 11=11 21=" << height;
    return text + more + lines.str();
}

// An ellipse as a rational spline of four pieces, whose outer control points weigh `outer`, and the corners by `share`
// of what makes it one.
std::string rational_ellipse(double a, double b, double outer, double share, const std::string& more = {}) {
    std::ostringstream text;
    text.precision(17);
    text << "SPLINE 70=4 71=2 72=12 73=9 74=0 40=0 40=0 40=0 40=1 40=1 40=2 40=2 40=3 40=3 40=4 40=4 40=4";
    constexpr int x[] = {1, 1, 0, -1, -1, -1, 0, 1, 1};
    constexpr int y[] = {0, 1, 1, 1, 0, -1, -1, -1, 0};
    for (int i = 0; i < 9; ++i) {
        text << " 41=" << (i % 2 == 0 ? outer : outer * share * std::sqrt(0.5));
    }
    for (int i = 0; i < 9; ++i) {
        text << " 10=" << a * x[i] << " 20=" << b * y[i] << " 30=0";
    }
    return text.str() + more;
}

const std::string square_block = "BLOCK 2=S 70=0 10=0 20=0 | LWPOLYLINE 90=4 70=1 10=0 20=0 10=4 20=0 10=4 20=4 10=0 "
                                 "20=4 | ENDBLK";
const std::string round_block = "BLOCK 2=R 70=0 10=1 20=1 | CIRCLE 10=1 20=1 40=2 | ENDBLK";
const std::string triangle = "LWPOLYLINE 90=3 70=1 10=20 20=0 10=24 20=0 10=20 20=3"; // 6 mm^2

std::vector<Form> curves() {
    return {
        {"four lines",
         "LINE 10=0 20=0 11=9 21=0 | LINE 10=9 20=0 11=9 21=5 | LINE 10=9 20=5 11=0 21=5 | LINE 10=0 20=5 "
         "11=0 21=0",
         45},
        {"lines in any order, against each other",
         "LINE 10=9 20=5 11=0 21=5 | LINE 10=0 20=0 11=9 21=0 | LINE 10=0 20=0 11=0 21=5 | LINE 10=9 20=5 11=9 21=0",
         45},
        {"lines with ends that stand out",
         "LINE 10=-3 20=0 11=12 21=0 | LINE 10=9 20=-2 11=9 21=7 | LINE 10=12 20=5 "
         "11=-3 21=5 | LINE 10=0 20=7 11=0 21=-2",
         45},
        {"a line on another height", "LINE 10=0 20=0 30=7 11=9 21=0 31=7 | " + triangle, 6},
        {"a line that climbs", "LINE 10=0 20=0 30=0 11=9 21=0 31=7 | " + triangle, 6, "does not lie level"},
        {"a closed polyline", "LWPOLYLINE 90=4 70=1 10=0 20=0 10=9 20=0 10=9 20=5 10=0 20=5", 45},
        {"an open polyline and a line",
         "LWPOLYLINE 90=4 70=0 10=0 20=0 10=9 20=0 10=9 20=5 10=0 20=5 | LINE 10=0 20=5 "
         "11=0 21=0",
         45},
        {"a polyline that ends where it began",
         "LWPOLYLINE 90=5 70=0 10=0 20=0 10=9 20=0 10=9 20=5 10=0 20=5 10=0 20=0", 45},
        {"two bulges make a circle", "LWPOLYLINE 90=2 70=1 10=0 20=0 42=1 10=8 20=0 42=1", 16 * pi_},
        {"a bulge to the other side", "LWPOLYLINE 90=4 70=1 10=0 20=0 10=8 20=0 42=-1 10=8 20=6 10=0 20=6",
         48 - 4.5 * pi_},
        {"a bulge of a quarter turn", "LWPOLYLINE 90=3 70=1 10=5 20=0 42=0.41421356237309503 10=0 20=5 10=0 20=0",
         25 * pi_ / 4},
        {"a bulge of three quarters", "LWPOLYLINE 90=2 70=1 10=5 20=0 42=2.414213562373095 10=0 20=-5",
         25 * (3 * pi_ / 4) + 12.5},
        {"a polyline with a height", "LWPOLYLINE 90=3 38=6 70=1 10=0 20=0 10=6 20=0 10=0 20=6", 18},
        {"a polyline seen from below", "LWPOLYLINE 90=3 70=1 210=0 220=0 230=-1 10=0 20=0 10=6 20=0 10=0 20=6", 18},
        {"a polyline that stands", "LWPOLYLINE 90=3 70=1 210=0 220=1 230=0 10=0 20=0 10=6 20=0 10=0 20=6 | " + triangle,
         6, "not level"},
        {"a polyline with its type of line running on", "LWPOLYLINE 90=3 70=129 10=0 20=0 10=6 20=0 10=0 20=6", 18},
        {"a wide polyline", "LWPOLYLINE 90=3 43=0.5 70=1 10=0 20=0 10=6 20=0 10=0 20=6", 18, "width"},
        {"an old polyline",
         "POLYLINE 66=1 70=1 | VERTEX 10=0 20=0 | VERTEX 10=6 20=0 42=1 | VERTEX 10=6 20=4 | VERTEX "
         "10=0 20=4 | SEQEND",
         24 + 2 * pi_},
        {"a polyline in space that lies level",
         "POLYLINE 66=1 70=9 | VERTEX 10=0 20=0 30=2 70=32 | VERTEX 10=6 20=0 "
         "30=2 70=32 | VERTEX 10=0 20=6 30=2 70=32 | SEQEND",
         18},
        {"a polyline in space that does not",
         "POLYLINE 66=1 70=9 | VERTEX 10=0 20=0 30=0 70=32 | VERTEX 10=6 20=0 30=2 "
         "70=32 | VERTEX 10=0 20=6 30=2 70=32 | SEQEND | " +
             triangle,
         6, "does not lie level"},
        {"a mesh of polygons",
         "POLYLINE 66=1 70=16 71=2 72=2 | VERTEX 10=0 20=0 | VERTEX 10=1 20=0 | VERTEX 10=0 20=1 | "
         "VERTEX 10=1 20=1 | SEQEND | " +
             triangle,
         6, "mesh of polygons"},
        {"a polyline smoothed",
         "POLYLINE 66=1 70=5 75=5 | VERTEX 10=0 20=0 70=16 | VERTEX 10=6 20=0 70=16 | VERTEX 10=0 "
         "20=6 70=16 | SEQEND | " +
             triangle,
         6, "smoothed to a spline"},
        {"a circle", "CIRCLE 10=3 20=4 40=5", 25 * pi_},
        {"a circle seen from below", "CIRCLE 10=3 20=4 40=5 210=0 220=0 230=-1", 25 * pi_},
        {"a circle without a size", "CIRCLE 10=3 20=4 40=0 | " + triangle, 6, "without a radius"},
        {"a circle that stands high", "CIRCLE 10=3 20=4 39=12 40=5", 25 * pi_, "how high"},
        {"two half arcs", "ARC 10=0 20=0 40=3 50=0 51=180 | ARC 10=0 20=0 40=3 50=180 51=360", 9 * pi_},
        {"an arc over nought", "ARC 10=0 20=0 40=3 50=270 51=90 | LINE 10=0 20=-3 11=0 21=3", 4.5 * pi_},
        {"an arc by negative angles", "ARC 10=0 20=0 40=3 50=-90 51=90 | LINE 10=0 20=-3 11=0 21=3", 4.5 * pi_},
        {"an arc by angles beyond a turn", "ARC 10=0 20=0 40=3 50=630 51=810 | LINE 10=0 20=-3 11=0 21=3", 4.5 * pi_},
        {"an arc all round", "ARC 10=0 20=0 40=3 50=45 51=405", 9 * pi_},
        {"an arc seen from below",
         "ARC 10=0 20=0 40=3 50=0 51=90 210=0 220=0 230=-1 | LINE 10=-3 20=0 11=0 21=0 | LINE "
         "10=0 20=0 11=0 21=3",
         2.25 * pi_},
        {"an ellipse", "ELLIPSE 10=0 20=0 11=6 21=0 40=0.5 41=0 42=6.283185307179586", 18 * pi_},
        {"an ellipse that leans", "ELLIPSE 10=1 20=2 11=3 21=4 40=0.2 41=0 42=6.283185307179586", 5 * pi_},
        {"an ellipse that is a circle", "ELLIPSE 10=0 20=0 11=0 21=4 40=1 41=0 42=6.283185307179586", 16 * pi_},
        {"half an ellipse", "ELLIPSE 10=0 20=0 11=6 21=0 40=0.5 41=0 42=3.141592653589793 | LINE 10=-6 20=0 11=6 21=0",
         9 * pi_},
        {"half an ellipse seen from below",
         "ELLIPSE 10=0 20=0 11=6 21=0 40=0.5 41=0 42=3.141592653589793 210=0 220=0 "
         "230=-1 | LINE 10=-6 20=0 11=6 21=0",
         9 * pi_},
        {"an ellipse without a width", "ELLIPSE 10=0 20=0 11=6 21=0 40=0 41=0 42=6.283185307179586 | " + triangle, 6,
         "without a width"},
        {"a solid", "SOLID 10=0 20=0 11=6 21=0 12=0 22=4 13=6 23=4", 24},
        {"a solid with three corners", "SOLID 10=0 20=0 11=6 21=0 12=0 22=4 13=0 23=4", 12},
        {"a trace", "TRACE 10=0 20=0 11=6 21=0 12=1 22=4 13=5 23=4", 20},
        {"a spline of the first degree", power(1, 6), 33},
        {"a spline of the second degree", power(2, 6), 22},
        {"a spline of the third degree", power(3, 6), 16.5},
        {"a spline of the sixth degree", power(6, 6), 66.0 / 7},
        {"a spline of the ninth degree", power(9, 6), 6.6},
        {"a spline of the tenth degree", power(10, 6), 6},
        {"a spline of the eleventh degree", power(11, 6, " | " + triangle), 6, "of degree 11"},
        {"a circle as a rational spline", rational_ellipse(5, 5, 1, 1), 25 * pi_},
        {"an ellipse as a rational spline of other weights", rational_ellipse(6, 2, 3, 1), 12 * pi_},
        {"rational arcs that are no quarters", rational_ellipse(4, 4, 1, 0.5),
         // Of each the area beyond the chord, by the half angle that its weight is the cosine of.
         32 + 4 *
                  [] {
                      const double half = std::acos(0.5 * std::sqrt(0.5));
                      // An arc of an ellipse over the chord 4 sqrt 2: as that of a circle of half the chord /
                      // sin(half), with the other way as long as its height is to the circle's.
                      const double r = 2 * std::sqrt(2.0) / std::sin(half);
                      const double height = r * (1 / std::cos(half) - std::cos(half));
                      return (half - std::sin(half) * std::cos(half)) * r * r * (2 * std::sqrt(2.0) / height);
                  }()},
        {"rational arcs that are hyperbolas", rational_ellipse(5, 5, 1, 3, " | " + triangle), 6, "with weights"},
        {"a spline that lacks knots",
         "SPLINE 70=8 71=3 72=7 73=4 40=0 40=0 40=0 40=0 40=1 40=1 40=1 10=0 20=0 10=1 20=2 "
         "10=2 20=2 10=3 20=0 | " +
             triangle,
         6, "does not hold together"},
        {"a spline whose knots fall",
         "SPLINE 70=8 71=2 72=6 73=3 40=0 40=1 40=0 40=1 40=1 40=1 10=0 20=0 10=1 20=2 10=2 "
         "20=0 | " +
             triangle,
         6, "does not hold together"},
    };
}

std::vector<Form> blocks_and_others() {
    const std::string frozen = layer("F", 1, 7);
    return {
        {"a block", "INSERT 2=S 10=5 20=5", 16, {}, square_block},
        {"a block, larger", "INSERT 2=S 10=5 20=5 41=2 42=2", 64, {}, square_block},
        {"a block, stretched", "INSERT 2=R 10=5 20=5 41=3 42=1", 12 * pi_, {}, round_block},
        {"a block, mirrored", "INSERT 2=S 10=5 20=5 41=-1 42=1", 16, {}, square_block},
        {"a block, turned and stretched", "INSERT 2=S 10=5 20=5 41=2 42=3 50=30", 96, {}, square_block},
        {"a block seen from below", "INSERT 2=S 10=5 20=5 210=0 220=0 230=-1", 16, {}, square_block},
        {"a block in rows", "INSERT 2=S 10=0 20=0 70=3 71=2 44=10 45=10", 96, {}, square_block},
        {"a block in rows, turned", "INSERT 2=S 10=0 20=0 50=45 70=3 71=2 44=10 45=10", 96, {}, square_block},
        {"a block in a block",
         "INSERT 2=T 10=0 20=0 41=2 42=2",
         4 * (16 + 4 * pi_),
         {},
         square_block + " | " + round_block +
             " | BLOCK 2=T 70=0 10=0 20=0 | INSERT 2=S 10=0 20=0 | INSERT 2=R 10=20 "
             "20=0 | ENDBLK"},
        {"a block in itself", "INSERT 2=T 10=0 20=0 | " + triangle, 6, "nested too deep",
         "BLOCK 2=T 70=0 10=0 20=0 | INSERT 2=T 10=1 20=0 | ENDBLK"},
        {"a block that is not there", "INSERT 2=X 10=0 20=0 | " + triangle, 6, "not in the file", square_block},
        {"a frozen layer",
         "CIRCLE 8=F 10=0 20=0 40=5 | LWPOLYLINE 8=0 90=3 70=1 10=20 20=0 10=24 20=0 10=20 20=3",
         6,
         "hidden layer",
         {},
         frozen},
        {"a layer that is off",
         "CIRCLE 8=F 10=0 20=0 40=5 | LWPOLYLINE 8=0 90=3 70=1 10=20 20=0 10=24 20=0 10=20 20=3",
         6,
         "hidden layer",
         {},
         layer("F", 0, -7)},
        {"a layer that is locked", "CIRCLE 8=F 10=0 20=0 40=5", 25 * pi_, {}, {}, layer("F", 4, 7)},
        {"on the sheet", "CIRCLE 67=1 10=0 20=0 40=5 | " + triangle, 6, "on the sheet"},
        {"not to be seen", "CIRCLE 60=1 10=0 20=0 40=5 | " + triangle, 6, "not to be seen"},
        {"words", "TEXT 10=0 20=0 40=2 1=Dome | " + triangle, 6, "words"},
        {"words over several lines", "MTEXT 10=0 20=0 40=2 41=30 1=Dome | " + triangle, 6, "words"},
        {"a point", "POINT 10=0 20=0 | " + triangle, 6, "a point"},
        {"a ray", "RAY 10=0 20=0 11=1 21=0 | " + triangle, 6, "a ray"},
        {"a line without ends", "XLINE 10=0 20=0 11=1 21=0 | " + triangle, 6, "without ends"},
        {"a face in space", "3DFACE 10=0 20=0 30=0 11=1 21=0 31=0 12=1 22=1 32=1 13=0 23=1 33=1 | " + triangle, 6,
         "a face in space"},
        {"a surface", "LOFTEDSURFACE 70=1 | " + triangle, 6, "a surface"},
        {"a table", "ACAD_TABLE 10=0 20=0 | " + triangle, 6, "a table"},
    };
}

void expect_right_or_told(const std::vector<Form>& forms) {
    for (const Form& form : forms) {
        Progress quiet;
        const auto read = read_dxf(file_of(form), quiet);
        ASSERT_TRUE(read) << form.name << ": " << read.finding().cause;
        EXPECT_NEAR(area_of(*read), form.area, 1e-9 * form.area) << form.name;
        expect_told(read->skipped, form.told, form.name);
    }
}

} // namespace

TEST(DxfForms, OfCurvesAreRightOrTold) {
    const auto forms = curves();
    EXPECT_GE(forms.size(), 50u);
    expect_right_or_told(forms);
}

TEST(DxfForms, OfBlocksLayersAndOthersAreRightOrTold) {
    expect_right_or_told(blocks_and_others());
}
