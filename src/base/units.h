// Units and quantities. Inside Kervo every length is in millimetres and every angle in radians; units exist only at
// the edges, where a person reads or writes a number.
//
//   Quantity q{25.4, Dimension{1, 0}};            // a length of 25.4 mm
//   format_quantity(q.value, "in")  == "1"
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>

namespace kervo {

/// Exponents of length and angle: {1,0} is a length, {2,0} an area, {0,1} an angle, {0,0} a plain number.
struct Dimension {
    int length = 0;
    int angle = 0;
    friend bool operator==(const Dimension&, const Dimension&) = default;
};

inline constexpr Dimension plain_number{0, 0};
inline constexpr Dimension length_dimension{1, 0};
inline constexpr Dimension angle_dimension{0, 1};

/// A value in mm^length * rad^angle. `any_dimension` is set for an exact zero, which is a zero of every dimension.
struct Quantity {
    double value = 0;
    Dimension dimension;
    bool any_dimension = false;
};

/// One unit that may stand behind a number in a formula.
struct Unit {
    std::string_view name;
    double factor; ///< value of one unit in mm or rad
    Dimension dimension;
};

/// mm, cm, m, in, ft, deg, rad.
std::span<const Unit> all_units();
std::optional<Unit> find_unit(std::string_view name);

/// "a length", "an angle", "an area", "a plain number" ...
std::string describe(const Dimension& dimension);

/// Shortest decimal text of `value` (mm or rad) in `unit`, at most `digits` after the point, without trailing zeros.
/// An unknown or empty unit leaves the value as it is.
std::string format_quantity(double value, std::string_view unit, int digits = 6);
/// The same with all `digits` after the point, for measured values: "4.000".
std::string format_fixed(double value, std::string_view unit, int digits = 3);

} // namespace kervo
