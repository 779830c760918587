// The small languages within SVG's attributes: numbers, lengths, transforms, paths.
#pragma once

#include "io/formats/outline_pen.h"

#include <optional>
#include <string>
#include <vector>

namespace kervo::io::svg {

/// Reads numbers and letters one after the other from a text such as that of a path; commas and blanks part them.
class Scanner {
public:
    explicit Scanner(const char* text);

    [[nodiscard]] bool done();
    std::optional<double> number(); ///< nothing too for numbers with which nothing can be worked out
    std::optional<double> flag();   ///< of arcs: 0 or 1, what follows may stand right behind it
    char letter();                  ///< zero where none is next
    std::string word();
    bool take(char c);

private:
    void skip();

    const char* at_;
    const char* end_;
};

/// A length in user units (pixels of CSS); percentages of `whole`.
double length_of(const char* text, double whole, double otherwise);
std::vector<double> numbers_of(const char* text);
/// The transforms up to the first that is mistaken.
Affine transform_of(const char* text);
/// Draws a path's text up to the first mistake, as the recommendation wants it; whether there was none.
bool draw_path(Pen& pen, const char* text);

/// With the short forms that a drawing declares for itself (XML 1.0, 4.2) written out, as far as it does not grow much:
/// those within others multiply.
std::string with_entities_written_out(const std::string& text);

} // namespace kervo::io::svg
