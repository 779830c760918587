#include "io/formats/dxf/dxf_scan.h"

#include "base/text.h"

#include <algorithm>
#include <array>
#include <cstdlib>
#include <map>

namespace kervo::io {

namespace {

// Kinds of entities that draw something which does not come in; all others are read, or told where they are read.
const std::map<std::string, std::string>& kinds_left_out() {
    static const std::map<std::string, std::string> all{{"MLINE", "a multiline"},
                                                        {"HELIX", "a helix"},
                                                        {"MESH", "a mesh"},
                                                        {"REGION", "a region of its own"},
                                                        {"WIPEOUT", "a cover that wipes out what is below"},
                                                        {"SHAPE", "a shape from a font of shapes"},
                                                        {"3DSOLID", "a solid"},
                                                        {"BODY", "a body"},
                                                        {"SURFACE", "a surface"},
                                                        {"EXTRUDEDSURFACE", "a surface"},
                                                        {"LOFTEDSURFACE", "a surface"},
                                                        {"REVOLVEDSURFACE", "a surface"},
                                                        {"SWEPTSURFACE", "a surface"},
                                                        {"PLANESURFACE", "a surface"},
                                                        {"TOLERANCE", "a tolerance"},
                                                        {"ACAD_TABLE", "a table"},
                                                        {"MULTILEADER", "a leader"},
                                                        {"OLEFRAME", "something from another program"},
                                                        {"OLE2FRAME", "something from another program"},
                                                        {"DGNUNDERLAY", "a drawing laid under"},
                                                        {"DWFUNDERLAY", "a drawing laid under"},
                                                        {"PDFUNDERLAY", "a drawing laid under"}};
    return all;
}

bool is_utf8(const std::string& bytes) {
    for (size_t at = 0; at < bytes.size();) {
        const size_t length = character_length(bytes, at);
        if (length == 0) {
            return false;
        }
        at += length;
    }
    return true;
}

// Where code page 1252 differs from the numbers of Unicode: 0x80 to 0x9f.
constexpr std::array<unsigned, 32> page_1252{0x20ac, 0x81,   0x201a, 0x192,  0x201e, 0x2026, 0x2020, 0x2021,
                                             0x2c6,  0x2030, 0x160,  0x2039, 0x152,  0x8d,   0x17d,  0x8f,
                                             0x90,   0x2018, 0x2019, 0x201c, 0x201d, 0x2022, 0x2013, 0x2014,
                                             0x2dc,  0x2122, 0x161,  0x203a, 0x153,  0x9d,   0x17e,  0x178};

// The pairs of a file, one by one.
class Pairs {
public:
    explicit Pairs(const std::string& bytes) : bytes_(bytes) {}

    /// False at the end, and where there is no code.
    bool next() {
        begin = at_;
        std::string line;
        if (!take(line)) {
            return false;
        }
        char* end = nullptr;
        code = static_cast<int>(std::strtol(line.c_str(), &end, 10));
        return end != line.c_str() && take(value);
    }

    size_t begin = 0; ///< of this pair
    int code = 0;
    std::string value;

private:
    bool take(std::string& line) {
        if (at_ >= bytes_.size()) {
            return false;
        }
        const size_t end = std::min(bytes_.find('\n', at_), bytes_.size());
        line = bytes_.substr(at_, end - at_);
        at_ = end + 1;
        const size_t first = line.find_first_not_of(" \t\r");
        line =
            first == std::string::npos ? std::string() : line.substr(first, line.find_last_not_of(" \t\r") - first + 1);
        return true;
    }

    const std::string& bytes_;
    size_t at_ = 0;
};

} // namespace

bool has_overlong_line(const std::string& bytes) {
    constexpr size_t longest = 1000;
    for (size_t at = 0; at < bytes.size();) {
        const size_t end = std::min(bytes.find('\n', at), bytes.size());
        if (end - at > longest) {
            return true;
        }
        at = end + 1;
    }
    return false;
}

double mm_per_dxf_unit(int code) {
    constexpr double survey_foot = 1200000.0 / 3937; // of the United States, mm
    static const std::map<int, double> units{{1, 25.4},
                                             {2, 304.8},
                                             {3, 1609344},
                                             {4, 1},
                                             {5, 10},
                                             {6, 1000},
                                             {7, 1e6},
                                             {8, 25.4e-6},
                                             {9, 0.0254},
                                             {10, 914.4},
                                             {11, 1e-7},
                                             {12, 1e-6},
                                             {13, 1e-3},
                                             {14, 100},
                                             {15, 1e4},
                                             {16, 1e5},
                                             {17, 1e12},
                                             {18, 1.495978707e14},        // the way from the earth to the sun
                                             {19, 9.4607304725808e18},    // a light year
                                             {20, 3.0856775814913673e19}, // a parsec
                                             {21, survey_foot},
                                             {22, survey_foot / 12},
                                             {23, survey_foot * 3},
                                             {24, survey_foot * 5280}};
    const auto unit = units.find(code);
    return unit == units.end() ? 1 : unit->second;
}

std::string dxf_text(const std::string& bytes) {
    const bool old = !is_utf8(bytes);
    std::string text;
    for (size_t at = 0; at < bytes.size(); ++at) {
        const auto byte = static_cast<unsigned char>(bytes[at]);
        if (bytes.compare(at, 3, "\\U+") == 0 && at + 7 <= bytes.size()) {
            char* end = nullptr;
            const std::string digits = bytes.substr(at + 3, 4);
            const auto code = static_cast<unsigned>(std::strtoul(digits.c_str(), &end, 16));
            if (*end == '\0' && code >= 0x20) {
                put_character(text, code);
                at += 6;
                continue;
            }
        }
        if (old && byte >= 0x80) {
            put_character(text, byte < 0xa0 ? page_1252[byte - 0x80U] : byte);
        } else {
            text += bytes[at];
        }
    }
    return text;
}

ScannedDxf scan_dxf(const std::string& bytes) {
    ScannedDxf scanned;
    const std::string all = dxf_text(bytes);
    Pairs pairs(all);
    size_t entity = 0; // where it begins
    std::string kind;
    bool drawn = false; // within the sections that hold entities
    bool unseen = false;
    bool parts_unseen = false; // of a polyline, or an insert, that is not to be seen
    const auto finish = [&](size_t end) {
        const bool part = kind == "VERTEX" || kind == "SEQEND" || kind == "ATTRIB";
        const bool out = drawn && (unseen || (part && parts_unseen));
        if (out) {
            scanned.told.insert("what is not to be seen there");
        } else {
            scanned.text.append(all, entity, end - entity);
        }
        if (!part) {
            parts_unseen = out && (kind == "POLYLINE" || kind == "INSERT");
        }
    };
    while (pairs.next()) {
        if (pairs.code == 0) {
            finish(pairs.begin);
            entity = pairs.begin;
            kind = pairs.value;
            unseen = false;
            if (kind == "ENDSEC" || kind == "SECTION") {
                drawn = false;
            }
            if (const auto known = kinds_left_out().find(kind); drawn && known != kinds_left_out().end()) {
                scanned.told.insert(known->second);
            }
        } else if (kind == "SECTION" && pairs.code == 2) {
            drawn = pairs.value == "ENTITIES" || pairs.value == "BLOCKS";
        } else if (pairs.code == 60 && kind != "BLOCK" && kind != "ENDBLK") {
            unseen = unseen || std::atoi(pairs.value.c_str()) == 1;
        } else if (drawn && (kind == "LWPOLYLINE" || kind == "POLYLINE" || kind == "VERTEX") &&
                   (pairs.code == 40 || pairs.code == 41 || pairs.code == 43) && std::atof(pairs.value.c_str()) != 0) {
            scanned.told.insert("the width of a polyline");
        } else if (drawn && pairs.code == 39 && std::atof(pairs.value.c_str()) != 0) {
            scanned.told.insert("how high a curve stands");
        } else if (drawn && kind == "SPLINE" && (pairs.code == 12 || pairs.code == 13)) {
            scanned.told.insert("in which direction a spline begins or ends");
        }
    }
    finish(all.size());
    return scanned;
}

} // namespace kervo::io
