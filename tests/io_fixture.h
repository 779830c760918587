// Folders and documents that the tests of files share.
#pragma once

#include "base/text.h"
#include "io/document/document_file.h"
#include "io/document/safe_file.h"
#include "io/reader/import_child.h"
#include "model_fixture.h"
#include "sketch/arrangement.h"
#include "sketch/lettering.h"

#include <filesystem>
#include <fstream>
#include <numeric>

namespace kervo::io::test {

using namespace kervo::model;
using namespace kervo::model::test;

inline std::string demo_path() {
    return std::string(KERVO_SOURCE) + "/demo/azimuth-table/document.json";
}

/// What the demo's degree scale takes away, mm^3: 72 marks, 12 that reach further inwards, four letters.
inline double engraved_volume() {
    double area = 0.6 * (72 * 4 + 12 * 0.7 * 4);
    for (const char* letter : {"N", "E", "S", "W"}) {
        double own = 0; // by Green's theorem, holes turning the other way round
        const auto shaped = sketch::shape_text(letter, "", 8);
        for (const auto& loop : shaped->front().loops) {
            for (const auto& stretch : loop) {
                own += stretch.area_term();
            }
        }
        area += std::fabs(own);
    }
    return 0.8 * area;
}

/// Limits for imports whose reader is the one that was built.
inline ImportLimits limits(double seconds = 60) {
    ImportLimits with;
    with.seconds = seconds;
    with.reader = std::string(KERVO_BIN) + "/kervo-reader";
    return with;
}

inline void write_file(const std::string& path, const std::string& bytes) {
    std::ofstream(path, std::ios::binary) << bytes;
}
inline std::string read_file(const std::string& path) {
    const auto bytes = read_whole(path);
    return bytes ? *bytes : std::string();
}

/// What the regions of a drawing, or of an artwork as large as its file has it, come to, mm^2.
inline double area_of(const sketch::Sketch& drawing) {
    const auto regions = sketch::find_regions(drawing);
    return std::accumulate(regions.begin(), regions.end(), 0.0,
                           [](double sum, const auto& region) { return sum + region.area; });
}
inline double area_of(const sketch::Artwork& artwork) {
    sketch::Sketch drawing;
    sketch::add_artwork(drawing, std::make_shared<const sketch::Artwork>(artwork));
    return area_of(drawing);
}

/// `told`: a part of what is said of a file; empty: nothing is.
inline void expect_told(const std::vector<std::string>& said, const std::string& told, const std::string& name) {
    const std::string all = listed(said);
    EXPECT_EQ(told.empty(), said.empty()) << name << ": " << all;
    EXPECT_NE(all.find(told), std::string::npos) << name << ": " << all;
}

/// A plate with a hole whose diameter is the parameter `d`.
inline Builder plate_with_hole() {
    Builder b;
    b.set("d", "8 mm");
    const int plate = b.box("60", "40", "10");
    sketch::Sketch s;
    circle(s, 5, 5, 4, "d");
    b.cut(b.sketch(s), {{5, 5}}, {std::to_string(plate)});
    b.document.appearance[std::to_string(plate)] = {"Plate", "#88aa66", "metal", false};
    b.document.cutaways.push_back({});
    b.evaluate();
    return b;
}

} // namespace kervo::io::test
