// Folders and documents that the tests of files share.
#pragma once

#include "io/document/document_file.h"
#include "io/document/safe_file.h"
#include "io/reader/import_child.h"
#include "model_fixture.h"
#include "sketch/lettering.h"

#include <filesystem>
#include <fstream>

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
