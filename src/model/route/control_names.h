// What the control points of a free-form surface are called, in rows and on the drawing.
#pragma once

#include <string>

namespace kervo::model {

/// By row and column, from 0: "p2_3" is (1, 2).
inline std::string control_point_name(int row, int column) {
    return "p" + std::to_string(row + 1) + "_" + std::to_string(column + 1);
}

} // namespace kervo::model
