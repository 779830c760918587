// Regions: the areas that the curves of a sketch bound, holes and crossings included.
//
// The curves are split where they meet; dangling ends and bridges are dropped; what is left is a planar subdivision
// whose bounded faces are the regions (the classic arrangement of curves: split, sort around vertices, trace, nest).
//
// A region is told by the sides of the curves that bound it from outside ("5+" has the region on the left of curve 5
// as drawn), so it keeps its identity when dimensions change or islands come and go inside it. Regions with the same
// bounds carry a mark as well ("?"): they are told by place alone, and never taken for one that has its bounds alone.
#pragma once

#include "base/progress.h"
#include "geom/outline/profile.h"
#include "sketch/stretch.h"

#include <unordered_map>

namespace kervo::sketch {

inline constexpr const char* twin_mark = "?";

struct Region {
    std::vector<std::string> bounds;         ///< sorted, the mark of twins last; its identity
    std::vector<std::vector<Stretch>> loops; ///< outer counterclockwise, then holes clockwise
    std::vector<std::vector<int>> vertices;  ///< start vertex of each stretch of each loop
    double area = 0;                         ///< mm^2, holes taken off
    Point2 inside{};                         ///< a point well inside

    [[nodiscard]] bool contains(const Point2& p) const;
};

/// How a step refers to a region. By hand, `near` alone is enough. Where `figure` is set, all that the figure covers is
/// meant, whatever that is at the time.
struct RegionReference {
    std::vector<std::string> bounds;
    Point2 near{};
    int figure = 0;
    friend bool operator==(const RegionReference&, const RegionReference&) = default;
};

/// Distance in mm within which ends of curves count as joined.
inline constexpr double joining_tolerance = 1e-6;

struct Arrangement {
    std::vector<Region> regions; ///< none where there are findings
    Findings findings;
};

/// All regions of the sketch's curves that are not construction, by ascending position of their bounds. The work grows
/// with the pairs of curves whose boxes meet, and with their crossings; there is a bound on both. Findings:
/// sketch.too_much, sketch.folded (a curve that runs back on itself, or free curves that run along each other),
/// sketch.cancelled.
Arrangement arrange(const Sketch& sketch, Progress& progress);

/// The same for stretches from anywhere. `Folds::are_cut`: curves that run back on themselves, as projections do, count
/// as what they cover.
enum class Folds { are_refused, are_cut };
Arrangement arrange(const std::vector<Stretch>& stretches, Progress& progress, Folds folds = Folds::are_refused);

/// The regions alone.
std::vector<Region> find_regions(const Sketch& sketch);

Stretch stretch_of(const Sketch& sketch, const Curve& curve);
/// The curves of the sketch as stretches; `with_construction` adds helpers.
std::vector<Stretch> stretches_of(const Sketch& sketch, bool with_construction = false);

struct FoundRegion {
    int index = -1; ///< into the regions; -1: lost
    bool exact = false;
};

/// Finds a region again: by its bounds; where several have them, by nearness; where none has, by the region that shares
/// the most bounds and contains the old place (not exact: the caller must say so); by hand, by the place alone.
FoundRegion find_again(const RegionReference& reference, const std::vector<Region>& regions);

/// The same, for many references to the same regions.
class RegionFinder {
public:
    explicit RegionFinder(const std::vector<Region>& regions);
    [[nodiscard]] FoundRegion find_again(const RegionReference& reference) const;

private:
    const std::vector<Region>& regions_;
    std::unordered_map<std::string, std::vector<int>> with_bounds_;
};

/// The region's outline for the kernel.
std::vector<geom::OutlineLoop> outline_of(const Region& region);
/// The same for curves that bound nothing; ends that meet share their vertex.
std::vector<geom::OutlinePiece> pieces_of(const std::vector<Stretch>& stretches);

} // namespace kervo::sketch
