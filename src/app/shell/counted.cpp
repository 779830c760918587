#include "app/shell/counted.h"

#include <cmath>

namespace kervo::app {

QString quantity_text(const Quantity& value) {
    if (value.dimension == angle_dimension) {
        return QString::fromStdString(format_quantity(value.value, "deg", 3)) + QString::fromUtf8("\u00b0");
    }
    if (value.dimension == length_dimension) {
        return QString::fromStdString(format_quantity(value.value, "mm", 3)) + " mm";
    }
    if (value.dimension == Dimension{2, 0}) {
        return QString::number(value.value / 100, 'f', 2) + QString::fromUtf8(" cm\u00b2");
    }
    if (value.dimension == Dimension{3, 0}) {
        return QString::number(value.value / 1000, 'f', 2) + QString::fromUtf8(" cm\u00b3");
    }
    return QString::number(value.value, 'f', 3);
}

QString volume_number(double volume, const std::string& document_unit) {
    if (document_unit == "m") {
        return QString::number(volume / 1e9, 'f', 3);
    }
    const double cm3 = volume / 1000;
    return QString::number(cm3, 'f', std::abs(cm3) < 10 ? 2 : 1);
}

QString volume_unit(const std::string& document_unit) {
    return QString::fromUtf8(document_unit == "m" ? "m\u00b3" : "cm\u00b3");
}

} // namespace kervo::app
