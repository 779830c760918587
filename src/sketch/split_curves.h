// Curves split where they meet: the edges of an arrangement, between numbered vertices.
#pragma once

#include "sketch/arrangement.h"

namespace kervo::sketch {

/// Why there are no regions; thrown within the arrangement alone, which hands it out as a finding.
struct Refusal {
    Finding why;
};

/// Counts the many things that there are to do, and looks now and then whether they are still wanted.
class Spending {
public:
    explicit Spending(Progress& progress) : progress_(progress) {}
    /// Throws a `Refusal` where the work was stopped.
    void spend();

private:
    Progress& progress_;
    size_t spent_ = 0;
};

struct SplitCurves {
    struct Edge {
        Stretch stretch;
        int from, to; ///< vertices
        bool alive = true;
    };
    std::vector<Point2> places; ///< of the vertices, mm
    std::vector<Edge> edges;
};

/// Places nearer to each other than `joining_tolerance` are one vertex; what is drawn on top of something else is left
/// out. Throws a `Refusal` where too much meets, or curves run along each other and `folds` refuses that.
SplitCurves split_where_they_meet(const std::vector<Stretch>& stretches, Folds folds, Spending& spending);

} // namespace kervo::sketch
