// Letters as outlines: any outline font that ships with Kervo or is installed. HarfBuzz shapes the words (kerning,
// ligatures, scripts) and hands the outlines over, Fontconfig finds the fonts.
//
//   const auto words = shape_text("N 30", "", 5);             // capitals 5 mm high, in the technical lettering
#pragma once

#include "base/finding.h"
#include "sketch/stretch.h"

namespace kervo::sketch {

/// A letter (a glyph) on a base line along x, from the origin of its word.
struct Letter {
    std::vector<std::vector<Stretch>> loops; ///< closed; filled where they wind around (non-zero)
    double start = 0;                        ///< mm along the base line
    double advance = 0;                      ///< mm to where the next one starts
    double down = 0;                         ///< mm below the first line's base line
};

/// The letters of a text; line ends start a new line below. `height`: of capitals, mm. `spacing`: added between
/// letters, mm. An empty family is the technical lettering (ISO 3098). Findings: sketch.font (no such font, or not one
/// with outlines).
Result<std::vector<Letter>> shape_text(const std::string& text, const std::string& family, double height,
                                       double spacing = 0);

/// The families that can be used, those that ship with Kervo first, the others in order.
std::vector<std::string> font_families();

} // namespace kervo::sketch
