// Numbers in plain words: "1 step", "3 steps", "120.5 mm".
#pragma once

#include "base/units.h"

#include <QString>

namespace kervo::app {

inline QString counted(qsizetype count, const QString& one, const QString& many) {
    return QString::number(count) + ' ' + (count == 1 ? one : many);
}

/// A value with the unit that people would write for it: "120.5 mm", "36 deg", "884.97 cm3".
QString quantity_text(const Quantity& value);

/// Volumes as the document counts: "0.63" and "m3" where it counts in metres, else "884.97" and "cm3". For mm^3.
QString volume_number(double volume, const std::string& document_unit);
QString volume_unit(const std::string& document_unit);

} // namespace kervo::app
