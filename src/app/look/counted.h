// Numbers in plain words: "1 step", "3 steps", "120.5 mm".
#pragma once

#include "base/units.h"

#include <QString>

#include <vector>

namespace kervo::app {

inline QString counted(qsizetype count, const QString& one, const QString& many) {
    return QString::number(count) + ' ' + (count == 1 ? one : many);
}

/// A length in mm as the document counts, everywhere with the same digits: "120.5" in mm, "0.1205" in m.
QString length_number(double mm, const std::string& document_unit);
/// With its unit.
QString length_text(double mm, const std::string& document_unit);
/// Coordinates of a place, of which there are two or three: "x 120.5  y 0  z 3.25 mm".
QString place_text(const std::vector<double>& mm, const std::string& document_unit);

/// A value with the unit that people would write for it: "120.5 mm", "36\u00b0", "884.97 cm\u00b3".
QString quantity_text(const Quantity& value, const std::string& document_unit);

/// Volumes as the document counts: "0.63" and "m3" where it counts in metres, else "884.97" and "cm3". For mm^3.
QString volume_number(double volume, const std::string& document_unit);
QString volume_unit(const std::string& document_unit);

/// Of so many mm^3 at so many g/cm^3: "884.97 g", "12.5 kg".
QString mass_text(double volume, double density);

} // namespace kervo::app
