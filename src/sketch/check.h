// Checking a sketch: what keeps outlines from closing or makes slivers, where it is, and how it is mended.
#pragma once

#include "sketch/arrangement.h"

namespace kervo::sketch {

enum class FlawKind {
    gap,      ///< two loose ends near each other
    crossing, ///< two curves cross away from their ends: fine for regions, but seldom meant where outlines meet
    twin,     ///< two curves lie on each other
    tiny,     ///< a curve so short that it is hardly meant
    self      ///< a curve that crosses itself
};
std::string to_string(FlawKind kind);

struct Flaw {
    FlawKind kind = FlawKind::gap;
    Point2 at{};
    double size = 0;      ///< mm: of the gap, of the tiny curve; of twins the length that lies on each other
    std::vector<int> ids; ///< curves; of a gap the two points
    std::string told;
    bool mendable = false;
};

struct CheckLimits {
    double gap = 0.5;   ///< mm; ends farther apart are no gap but two ends
    double tiny = 0.05; ///< mm
};

/// Flaws in the order: gaps, twins, tiny curves, self-crossings, crossings.
std::vector<Flaw> check(const Sketch& sketch, const CheckLimits& limits = {});

/// The sketch with the flaw mended: gaps are joined, one of two twins and tiny curves go. Others are left as they are.
Sketch mend(const Sketch& sketch, const Flaw& flaw);

} // namespace kervo::sketch
