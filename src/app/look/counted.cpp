#include "app/look/counted.h"

#include <cmath>

namespace kervo::app {

namespace {

// After the point, of lengths.
int digits_in(const std::string& document_unit) {
    return document_unit == "mm" ? 3 : 4;
}

} // namespace

QString length_number(double mm, const std::string& document_unit) {
    return QString::fromStdString(format_quantity(mm, document_unit, digits_in(document_unit)));
}

QString length_text(double mm, const std::string& document_unit) {
    return length_number(mm, document_unit) + " " + QString::fromStdString(document_unit);
}

QString place_text(const std::vector<double>& mm, const std::string& document_unit) {
    QString text;
    for (size_t i = 0; i < mm.size(); ++i) {
        text += (i == 0 ? "" : "  ") + QString(QChar('x' + static_cast<int>(i))) + " " +
                QString::fromStdString(format_fixed(mm[i], document_unit, digits_in(document_unit)));
    }
    return text + " " + QString::fromStdString(document_unit);
}

QString quantity_text(const Quantity& value, const std::string& document_unit) {
    const bool metres = document_unit == "m";
    if (value.dimension == angle_dimension) {
        return QString::fromStdString(format_quantity(value.value, "deg", 3)) + QString::fromUtf8("\u00b0");
    }
    if (value.dimension == length_dimension) {
        return length_text(value.value, document_unit);
    }
    if (value.dimension == Dimension{2, 0}) {
        return metres ? QString::number(value.value / 1e6, 'f', 3) + QString::fromUtf8(" m\u00b2")
                      : QString::number(value.value / 100, 'f', 2) + QString::fromUtf8(" cm\u00b2");
    }
    if (value.dimension == Dimension{3, 0}) {
        return metres ? volume_number(value.value, document_unit) + " " + volume_unit(document_unit)
                      : QString::number(value.value / 1000, 'f', 2) + QString::fromUtf8(" cm\u00b3");
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

QString mass_text(double volume, double density) {
    const double grams = volume / 1000 * density;
    return grams < 1000 ? QString::number(grams, 'f', 1) + " g" : QString::number(grams / 1000, 'f', 2) + " kg";
}

} // namespace kervo::app
