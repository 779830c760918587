// When something cannot be made by a size: the size that can.
#pragma once

#include "base/finding.h"
#include "base/units.h"

#include <cmath>

namespace kervo::geom {

/// The largest share of a size, between 0 and 1, by which it `works`, by halving `steps` times at most, or until it is
/// known to half a percent; 0 where none was found.
template <class Works> double largest_share(int steps, Works&& works) {
    double fits = 0;
    double fails = 1;
    for (int i = 0; i < steps && fails - fits > 0.005 * fails; ++i) {
        const double middle = (fits + fails) / 2;
        (works(middle) ? fits : fails) = middle;
    }
    return fits;
}

/// "3.25 mm": a size (mm) that fits, rounded down.
inline std::string fitting(double size) {
    return format_quantity(std::floor(size * 100) / 100, "mm", 2) + " mm";
}

/// Offers a size (mm) for the finding's own field.
inline Offer offer_of_size(double size) {
    return {"Take " + fitting(size), {{"", fitting(size)}}};
}

} // namespace kervo::geom
