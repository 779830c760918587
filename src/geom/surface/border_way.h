// Borders of surfaces as ways that are gone by length, end to end.
#pragma once

#include "base/finding.h"
#include "geom/surface/border_side.h"

namespace kervo::geom {

class BorderWay {
public:
    /// The border that an edge is of, or (where `whole` is not wanted) these edges alone. Findings: border.broken (they
    /// do not join end to end, with the place), border.none (an edge is no free border, with the place).
    static Result<BorderWay> through(const TopoDS_Shape& surface, const std::vector<TopoDS_Edge>& edges, bool whole);

    /// Edges that run one after the other, back to the first.
    static BorderWay around(const std::vector<BorderSide>& sides);

    [[nodiscard]] bool closed() const { return closed_; }
    [[nodiscard]] double length() const { return starts_.back(); }
    /// At a share of the length from 0 to 1 (of a closed way any number): the place, the way on, and the way off the
    /// face. `ahead`: beyond a vertex, not before it. Nothing where the face has no normal.
    [[nodiscard]] std::optional<BorderSide::Place> at(double share, bool ahead = true) const;
    /// Shares at which two edges meet; the ends of an open way are none.
    [[nodiscard]] std::vector<double> vertices() const;

private:
    struct Part {
        BorderSide side;
        bool forward; // as its curve runs
    };
    BorderWay() = default;

    std::vector<Part> parts_;
    std::vector<double> starts_; ///< mm, of each part, and the end of the last
    bool closed_ = false;
};

} // namespace kervo::geom
