#include "base/units.h"

#include <array>
#include <cstdio>
#include <numbers>

namespace kervo {

namespace {
constexpr std::array<Unit, 7> units{{{"mm", 1.0, length_dimension},
                                     {"cm", 10.0, length_dimension},
                                     {"m", 1000.0, length_dimension},
                                     {"in", 25.4, length_dimension},
                                     {"ft", 304.8, length_dimension},
                                     {"deg", std::numbers::pi / 180.0, angle_dimension},
                                     {"rad", 1.0, angle_dimension}}};
}

std::span<const Unit> all_units() {
    return units;
}

std::optional<Unit> find_unit(std::string_view name) {
    for (const Unit& unit : units) {
        if (unit.name == name) {
            return unit;
        }
    }
    return std::nullopt;
}

std::string describe(const Dimension& dimension) {
    if (dimension == plain_number) {
        return "a plain number";
    }
    if (dimension == length_dimension) {
        return "a length";
    }
    if (dimension == angle_dimension) {
        return "an angle";
    }
    if (dimension == Dimension{2, 0}) {
        return "an area";
    }
    if (dimension == Dimension{3, 0}) {
        return "a volume";
    }
    return "mm^" + std::to_string(dimension.length) + " rad^" + std::to_string(dimension.angle);
}

std::string format_fixed(double value, std::string_view unit, int digits) {
    if (const auto known = find_unit(unit)) {
        value /= known->factor;
    }
    std::array<char, 64> buffer{};
    const int length = std::snprintf(buffer.data(), buffer.size(), "%.*f", digits, value);
    return {buffer.data(), static_cast<size_t>(length)};
}

std::string format_quantity(double value, std::string_view unit, int digits) {
    std::string text = format_fixed(value, unit, digits);
    if (text.find('.') != std::string::npos) {
        text.erase(text.find_last_not_of('0') + 1);
        if (text.back() == '.') {
            text.pop_back();
        }
    }
    return text == "-0" ? "0" : text;
}

} // namespace kervo
