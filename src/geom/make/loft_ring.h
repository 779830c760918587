// The sections of a loft as closed ways round, and where each of them begins and is divided.
#pragma once

#include "geom/make/loft.h"

#include <Geom_BSplineCurve.hxx>
#include <Geom_Curve.hxx>

namespace kervo::geom {

/// A section as one closed way round: places by the share of its length (0 to 1), from its start.
class Ring {
public:
    Ring(const LoftSection& section, bool backward);

    [[nodiscard]] size_t size() const { return pieces_.size(); }
    /// Whether it may begin anywhere: it has no corner, not even where its curve begins.
    [[nodiscard]] bool round() const { return pieces_.size() == 1 && pieces_.front().curve->IsPeriodic(); }
    /// Shares at which its pieces begin; the first is 0 where it begins at one.
    [[nodiscard]] std::vector<double> breaks() const;
    /// Lets it begin at this share of the way from where it begins now.
    void begin_at(double share);
    [[nodiscard]] gp_Pnt at(double share) const;
    [[nodiscard]] gp_Pnt center() const;
    /// The part between two shares, within one piece, over 0 to 1 without weights, and the name of its curve.
    [[nodiscard]] std::pair<Handle(Geom_BSplineCurve), std::string> part(double low, double high) const;

private:
    // A curve that is passed as the section runs.
    struct Piece {
        Handle(Geom_Curve) curve;
        double from = 0, to = 0; ///< parameters, from > to where it runs backward
        double length = 0;       ///< mm
        std::string label;

        /// Of round ones also beyond the ends.
        [[nodiscard]] double at_length(double way) const;
        [[nodiscard]] double inner(double way) const;
    };
    [[nodiscard]] std::pair<const Piece*, double> place(double share) const;

    std::vector<Piece> pieces_;
    double length_ = 0; ///< mm
    double start_ = 0;  ///< share of the length
};

/// Lets a ring begin where it is twisted least against another.
void align(Ring& ring, const Ring& other);
/// Shares at which all rings are divided, for each ring its own; as many for each.
std::vector<std::vector<double>> divisions_of(const std::vector<Ring>& rings);

} // namespace kervo::geom
